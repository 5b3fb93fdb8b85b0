#pragma once
// What an item of the Stock looks like and is: a preview that is turned by dragging, and its facts; beside it another,
// to compare with.
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
    /// By their keys; empty, or one that is not there: nothing is shown.
    void show(const QString& item, const QString& other = {});
    /// As it would look tinted by chance; once more: as it is.
    void throwTint();

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    using Facts = std::vector<std::pair<QString, QString>>;
    QLabel* makePreview(const QString& name);
    void showPreview(QLabel* preview, const model::Item* item);
    Facts factsOf(const model::Item& item) const;
    void addKind(Facts& facts, const model::Item& item, const model::Kind& kind) const;
    void showFacts(const Facts& facts, const Facts& others);
    const model::Item* known(const QString& item) const;

    Editor& editor_;
    GlRenderer& renderer_;
    QString item_, other_;
    QLabel *preview_, *otherPreview_;
    QWidget* facts_;
    base::Quat turn_{1, 0, 0, 0};
    std::optional<base::Vec3> tint_;  // of the item
    QPoint from_;
};

}  // namespace app
