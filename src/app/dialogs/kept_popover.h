#pragma once
// A list of what is kept under names: go there, rename in place, remove.
#include <QFrame>
#include <QListWidget>
#include <functional>

namespace app {

class KeptPopover : public QFrame {
    Q_OBJECT
  public:
    struct Acts {
        QString goText;  ///< what the main button says
        std::function<QStringList()> names;
        std::function<void(const QString& name)> go;
        std::function<bool(const QString& name, const QString& to)> rename;
        std::function<void(const QString& name)> remove;
    };
    KeptPopover(QWidget* parent, const QString& heading, const QString& whenEmpty, Acts acts);

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void refill(const QString& current);
    void go();
    void removeCurrent();

    Acts acts_;
    QListWidget* list_;
    bool filling_ = false;
};

}  // namespace app
