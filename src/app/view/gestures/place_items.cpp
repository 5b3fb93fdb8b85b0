// Placing: the item that was chosen follows the pointer as a ghost, and each click places it.
#include "app/view/gestures/all.h"
#include "edit/session.h"
#include "model/library.h"

namespace app {
namespace {

class PlaceItems : public ViewTool {
  public:
    explicit PlaceItems(ViewContext& view) : ViewTool(view) {
        QObject::connect(&editor_, &Editor::placingChanged, &ears_, [this] {
            if (editor_.placing().empty())
                view_.setGhost(std::nullopt);
            else if (const auto& ghost = view_.ghost())
                view_.setGhost(Ghost{editor_.placing(), ghost->position, ghost->turn});
        });
    }
    bool claims() const override { return !editor_.placing().empty(); }
    bool point(const QPointF& pixel) override {
        const auto place = view_.landingUnder(pixel);
        view_.setGhost(place ? std::optional(view_.ghostAt(editor_.placing(), *place)) : std::nullopt);
        return place.has_value();
    }
    void withdraw() override { view_.setGhost(std::nullopt); }
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers) override {
        if (const auto place = view_.landingUnder(view_.pointer)) editor_.placeAt(editor_.placing(), *place);
        return nullptr;
    }
    bool putAway() override {
        const bool shown = view_.ghost().has_value();
        view_.setGhost(std::nullopt);
        return shown;
    }
    QString hint() const override {
        const model::Item* item = editor_.session().library().item(editor_.session().intern(editor_.placing()));
        return tr("Click: place %1, again and again · . and , : siblings · Esc: done")
            .arg(item != nullptr ? QString::fromStdString(item->label) : QString());
    }

  private:
    QObject ears_;
};

}  // namespace

GesturePtr placeItems(ViewContext& view) {
    return std::make_unique<PlaceItems>(view);
}

}  // namespace app
