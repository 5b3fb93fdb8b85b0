#pragma once
// The field over the view in which an exact amount is typed.
#include <QObject>
#include <QPointF>
#include <QString>

class QLineEdit;
class QWidget;

namespace app {

class AmountField : public QObject {
    Q_OBJECT
  public:
    explicit AmountField(QWidget& over);

    /// `what` is asked for, at a pixel or as near to it as there is room.
    void open(const QString& what, const QPointF& at);
    void close();
    bool isOpen() const;

  Q_SIGNALS:
    void opened(const QString& what);
    void accepted(const QString& text);
    void refused();

  protected:
    /// Enter and Esc in the field are for what is typed, and not for the view below it.
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    QWidget& over_;
    QLineEdit* field_ = nullptr;
};

}  // namespace app
