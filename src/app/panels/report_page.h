#pragma once
// What a hand-over came to, in rows: files, what was left out and why, what cannot be said, limits, what programs said.
// A row that tells of an object selects it.
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>
#include <QWidget>

#include "app/shell/editor.h"

namespace app {

class ReportPage : public QWidget {
    Q_OBJECT
  public:
    explicit ReportPage(Editor& editor, QWidget* parent = nullptr);
    void begin(const QString& title);
    /// A heading, under which rows follow.
    void heading(const QString& text);
    void row(const QString& what, const QString& detail = {}, base::ObjectId object = {});
    /// What a program said; an object that is named in it is linked.
    void said(const QString& line);
    void setTitle(const QString& title) { title_->setText(title); }
    /// While something runs it can be stopped.
    void setRunning(bool running);

  Q_SIGNALS:
    void finished();
    void stopAsked();

  private:
    base::ObjectId objectIn(const QString& line);

    Editor& editor_;
    QLabel* title_;
    QTreeWidget* rows_;
    QPushButton* stop_;
    QTreeWidgetItem* under_ = nullptr;
    std::map<QString, base::ObjectId> named_;  // of the scene, when it began
};

}  // namespace app
