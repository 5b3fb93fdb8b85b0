#include "script/bindings.h"

#include "ops/objects.h"

namespace script {

using base::ObjectId;
using model::Slot;

Context::~Context() {
    if (token_ != 0) place_->session.sceneChanged.forget(token_);
}

const model::Scene& Context::scene() {
    if (place_ != nullptr && access_ == Access::UnlessDeclared && declared.plain()) access_ = Access::Open;
    if (place_ == nullptr || access_ != Access::Open) {
        asked_ = true;
        trouble("the scene is there only while a command runs");
    }
    if (place_->draft != nullptr) return place_->draft->scene();
    if (scene_ == nullptr) scene_ = taken(place_->session.scene(place_->document));
    return *scene_;
}

edit::Session& Context::session() {
    (void)scene();
    return place_->session;
}

edit::Draft& Context::writing() {
    (void)scene();
    if (place_->draft == nullptr) trouble("nothing can be changed here: this part of a script only looks");
    return *place_->draft;
}

edit::Draft& Context::change(std::span<const ObjectId> ids) {
    edit::Draft& draft = writing();
    if (place_->mayTouch)
        for (ObjectId id : ids)
            if (!place_->mayTouch(id)) {
                const Slot slot = scene().find(id);
                trouble("a behaviour may change its own object and what it `touches`; not “" +
                        (slot == model::kNoSlot ? base::toText(id) : std::string(scene().nameText(slot))) + "”");
            }
    return draft;
}

edit::Draft& Context::create() {
    edit::Draft& draft = writing();
    if (place_->mayTouch) trouble("a behaviour cannot make or remove objects");
    return draft;
}

const query::SceneIndex& Context::index() {
    if (!settings.meshes) trouble("there are no meshes to ask");
    if (const query::SceneIndex* kept = settings.index ? settings.index() : nullptr) return *kept;
    if (index_ == nullptr) {
        index_ = std::make_unique<query::SceneIndex>(scene(), settings.meshes);
        token_ = session().sceneChanged.listen([this](const edit::SceneDelta& delta) {
            if (delta.scene != scene().name()) return;
            for (const auto* slots : {&delta.created, &delta.removed, &delta.moved, &delta.relabelled})
                index_->touch(*slots);
        });
    }
    return *index_;
}

void Context::pose(Slot slot, const base::Transform& local) {
    const ObjectId id = scene().id(slot);
    (void)change({&id, 1});
    if (scene().protectedInTree(slot)) check(ops::refuseProtected(scene(), {&id, 1}, "moved"));
    if (isPending(slot)) {
        waitingPoses_[waitingAt_[slot] - 1] = local;
        return;
    }
    if (slot >= waitingAt_.size()) waitingAt_.resize(scene().slotEnd());
    waiting_.push_back(id);
    waitingSlots_.push_back(slot);
    waitingPoses_.push_back(local);
    waitingAt_[slot] = static_cast<std::uint32_t>(waiting_.size());
}

const base::Transform& Context::local(Slot slot) {
    return isPending(slot) ? waitingPoses_[waitingAt_[slot] - 1] : scene().local(slot);
}

bool Context::isPendingInTree(Slot slot) {
    if (waiting_.empty()) return false;
    for (Slot s = slot; s != model::kNoSlot; s = scene().parent(s))
        if (isPending(s)) return true;
    return false;
}

void Context::flush() {
    if (waiting_.empty()) return;
    const auto ids = std::exchange(waiting_, {});
    const auto poses = std::exchange(waitingPoses_, {});
    for (Slot slot : std::exchange(waitingSlots_, {})) waitingAt_[slot] = 0;
    check(writing().setTransforms(ids, poses));
}

const Bindings& bindings() {
    static const Bindings all = [] {
        Bindings list;
        for (Bindings part : {sceneBindings(), verbBindings(), queryBindings(), runBindings(), markBindings(),
                              poseBindings(), valueBindings()})
            list.insert(list.end(), part.begin(), part.end());
        return list;
    }();
    return all;
}

const std::vector<Function>& functions() {
    static const std::vector<Function> all = [] {
        std::vector<Function> list = preludeFunctions();
        for (const Binding& b : bindings()) {
            list.push_back(b.about);
            if (b.onObject) list.back().name = "object:" + b.about.name;
        }
        return list;
    }();
    return all;
}

}  // namespace script
