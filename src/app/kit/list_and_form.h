#pragma once
// A list with a field to find in it, beside a form of what is chosen there: what the windows of kinds and records
// share. They stand beside the view; Esc asks whoever holds one to close it.
#include <QWidget>

class QLabel;
class QLineEdit;
class QTreeWidget;
class QVBoxLayout;

namespace app {

class Editor;
class FoldingBar;
class PropertyRows;

class ListAndForm : public QWidget {
    Q_OBJECT
  Q_SIGNALS:
    /// Esc, or the project is gone: whoever holds it closes it.
    void closeAsked();

  protected:
    /// What it is called: the title, "kind" in front of its widgets' names, and what is listed.
    struct Words {
        QString title;
        const char* one;
        QString find, listed, nameOfOne;
    };
    ListAndForm(QWidget* parent, Editor& editor, const Words& words, int leastWidth);
    /// The field for the name, the form itself and the line about its file come into a column, as they are asked for.
    void addForm(QVBoxLayout* column);
    void keyPressEvent(QKeyEvent* event) override;

    Editor& editor_;
    QLineEdit *search_, *name_;
    QTreeWidget* list_;
    FoldingBar* below_;  ///< the list: what can be done with it
    QWidget* side_;      ///< beside the list
    QVBoxLayout* column_;
    PropertyRows* rows_;
    QLabel* file_;
};

}  // namespace app
