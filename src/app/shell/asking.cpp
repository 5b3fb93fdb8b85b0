#include "app/shell/asking.h"

#include <utility>

namespace app {

void Asking::askPoint(std::function<void(const base::Vec3&)> take) {
    takePoint_ = std::move(take);
    Q_EMIT changed();
}

void Asking::askObject(std::function<bool(model::Slot)> fits, std::function<void(base::ObjectId)> take) {
    fitsObject_ = std::move(fits);
    takeObject_ = std::move(take);
    Q_EMIT changed();
}

void Asking::giveObject(const model::Scene& scene, model::Slot slot) {
    if (!objectFits(slot)) return;
    const auto take = std::exchange(takeObject_, nullptr);
    fitsObject_ = nullptr;
    take(scene.id(slot));
    Q_EMIT changed();
}

void Asking::stop() {
    takePoint_ = nullptr;
    askObject({}, {});
}

}  // namespace app
