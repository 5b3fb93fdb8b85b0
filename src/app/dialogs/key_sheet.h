#pragma once
// All commands with their shortcuts, and what the mouse does; a shortcut is changed in place.
#include <QDialog>
#include <QGridLayout>
#include <QKeySequenceEdit>
#include <QLabel>
#include <QPushButton>
#include <functional>
#include <vector>

#include "app/commands/commands.h"

namespace app {

class KeySheet : public QDialog {
    Q_OBJECT
  public:
    /// `now`: what mouse and keys do at this moment, as the status line says it.
    KeySheet(CommandSet& commands, const QString& now, QWidget* parent);

  private:
    void heading(const QString& text);
    void line(const QString& what, QWidget* how);
    void line(const QString& what, const QString& how);
    void listMouse();
    void listCommands();
    void typed(const QString& id, QKeySequenceEdit* field);
    void filter(const QString& text);

    struct Row {
        QWidget *what, *how;  ///< one beside the other; a heading has no second one
        QString text;
    };
    CommandSet& commands_;
    QGridLayout* grid_;
    std::vector<Row> rows_;
    QWidget* question_;
    QLabel* asked_;
    QPushButton* take_;
    std::function<void()> taking_, leaving_;
};

}  // namespace app
