#pragma once
// The program without a window, called as a shell would, and what it said.
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QtTest>
#include <sstream>

#include "cli/commands.h"
#include "support/test_project.h"

class CommandLine : public QObject {
  protected:
    std::string out_, err_;

    int run(const std::vector<std::string>& arguments) {
        std::ostringstream out, err;
        const int code = cli::run(arguments, test::chance(), out, err);
        out_ = out.str();
        err_ = err.str();
        return code;
    }
    QJsonObject json() const { return QJsonDocument::fromJson(QByteArray::fromStdString(out_)).object(); }
};
