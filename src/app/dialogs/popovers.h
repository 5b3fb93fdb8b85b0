#pragma once
// Small fields that open in place: a name for a new scene or a copy; a list to read.
#include <QComboBox>
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QStringList>
#include <functional>

namespace app {

/// A name, an optional choice of templates, and one button. Escape or a click elsewhere closes it.
class NamePopover : public QFrame {
    Q_OBJECT
  public:
    /// `templates` may be empty. `accept` gets name and template; what it returns is shown, and empty closes.
    NamePopover(QWidget* parent, const QString& title, const QString& button, const QString& name,
                const QStringList& templates, std::function<QString(const QString&, const QString&)> accept);

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void tryAccept();
    QLineEdit* name_;
    QComboBox* template_;
    QLabel* problem_;
    std::function<QString(const QString&, const QString&)> accept_;
};

/// Lines to read and to copy.
class ListPopover : public QFrame {
    Q_OBJECT
  public:
    /// `name` is the list's object name.
    ListPopover(QWidget* parent, const QString& title, const char* name, const QStringList& lines);

  protected:
    void keyPressEvent(QKeyEvent* event) override;
};

}  // namespace app
