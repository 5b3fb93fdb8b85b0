#pragma once
// Small fields that open in place: a name for a new scene or a copy; the list of damage.
#include <QComboBox>
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <functional>
#include <vector>

#include "io/damage.h"

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

/// All that was found wrong in the project's files, to read and to copy.
class DamagePopover : public QFrame {
    Q_OBJECT
  public:
    DamagePopover(QWidget* parent, const std::vector<io::Damage>& damage);

  protected:
    void keyPressEvent(QKeyEvent* event) override;
};

}  // namespace app
