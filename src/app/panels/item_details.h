#pragma once
// What one item of the Stock looks like and is: a preview that is turned by dragging, and its facts.
#include <QGridLayout>
#include <QLabel>
#include <QWidget>
#include <optional>

#include "app/shell/editor.h"

namespace app {

class GlRenderer;

class ItemDetails : public QWidget {
    Q_OBJECT
  public:
    ItemDetails(Editor& editor, GlRenderer& renderer, QWidget* parent = nullptr);
    /// By its key; empty, or one that is not there: nothing is shown.
    void show(const QString& item);
    QString item() const { return item_; }
    /// As it would look tinted by chance; once more: as it is.
    void throwTint();

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void showPreview(const model::Item& item);
    void fact(const QString& what, const QString& value);
    void showFacts(const model::Item& item);
    void showKind(const model::Item& item, const model::Kind& kind);
    const model::Item* known() const;

    Editor& editor_;
    GlRenderer& renderer_;
    QString item_;
    QLabel* preview_;
    QWidget* facts_;
    QGridLayout* grid_ = nullptr;
    base::Quat turn_{1, 0, 0, 0};
    std::optional<base::Vec3> tint_;
    QPoint from_;
};

}  // namespace app
