#pragma once
// All commands with their shortcuts, and what the mouse does; a shortcut is changed in place.
#include <QDialog>
#include <QGridLayout>
#include <QKeySequenceEdit>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <functional>
#include <vector>

#include "app/commands/commands.h"

namespace app {

class KeyList : public QWidget {
    Q_OBJECT
  public:
    /// `now`: what mouse and keys do at this moment, as the status line says it; empty: that is not told.
    KeyList(CommandSet& commands, const QString& now, QWidget* parent = nullptr);
    /// The shortcuts are others now.
    void refresh();

  private:
    QWidget* makeSearch();
    QWidget* makeQuestion();
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
    QLineEdit* search_;
};

/// The same in a window of its own.
class KeySheet : public QDialog {
    Q_OBJECT
  public:
    KeySheet(CommandSet& commands, const QString& now, QWidget* parent);
};

}  // namespace app
