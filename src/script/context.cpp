#include "script/bindings.h"

#include "ops/objects.h"
#include "script/names.h"

namespace script {

const model::Scene& Context::scene() {
    if (place_ != nullptr && access_ == Access::UnlessDeclared && declared.plain()) access_ = Access::Open;
    if (place_ == nullptr || access_ != Access::Open) {
        asked_ = true;
        trouble("the scene is there only while a command runs");
    }
    if (place_->draft != nullptr) return place_->draft->scene();
    if (place_->session == nullptr) return *place_->snapshot->scene;
    if (scene_ == nullptr) scene_ = taken(place_->session->scene(place_->document));
    return *scene_;
}

const model::Library& Context::library() {
    (void)scene();
    return place_->session == nullptr ? place_->snapshot->facts->library : place_->session->library();
}

const model::ProjectFacts& Context::project() {
    if (place_->session == nullptr) return place_->snapshot->facts->project;
    return place_->session->project();
}

std::string Context::prefabName(ObjectId prefab) {
    (void)scene();
    if (place_->session != nullptr) return place_->session->prefabName(prefab);
    const auto& names = place_->snapshot->facts->prefabNames;
    const auto named = names.find(prefab);
    return named == names.end() ? std::string() : named->second;
}

ObjectId Context::prefabNamed(const std::string& name) {
    (void)scene();
    if (place_->session != nullptr) return place_->session->prefabNamed(name);
    for (const auto& [id, called] : place_->snapshot->facts->prefabNames)
        if (called == name) return id;
    return {};
}

edit::Session& Context::session() {
    (void)scene();
    if (place_->session == nullptr) trouble("a check looks only: that is not there");
    return *place_->session;
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
    if (const query::SceneIndex* kept = settings.index ? settings.index() : nullptr) return *kept;
    if (!settings.shapes) trouble("there are no meshes to ask");
    if (index_ == nullptr) index_ = std::make_unique<ops::LiveIndex>(session(), scene(), settings.shapes);
    return index_->get();
}

void Context::pose(Slot slot, const base::Transform& local) {
    const ObjectId id = scene().id(slot);
    (void)change({&id, 1});
    check(ops::refuseMoving(scene(), {&id, 1}, "moved"));
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
        for (Bindings part : {sceneBindings(), verbBindings(), layingBindings(), routeBindings(), handBindings(),
                              solidBindings(), rehearseBindings(), queryBindings(), runBindings(), markBindings(),
                              poseBindings(), valueBindings(), setupBindings()})
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
