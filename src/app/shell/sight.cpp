#include "app/shell/sight.h"

#include "app/names.h"
#include "query/collision.h"
#include "shape/mesh.h"

namespace app {

Sight::~Sight() {
    if (worker_.joinable()) worker_.join();
}

void Sight::open(io::Workspace& workspace) {
    workspace_ = &workspace;
    collide_ = query::itemCollisions(workspace.session->library(), workspace.parts);
    for (const auto& [item, mesh] : workspace.meshes) meshes_[item] = std::make_unique<query::MeshIndex>(mesh);
    shapes_ = query::shapesOf([this](base::Name item) { return meshIndex(item); }, collide_);
}

void Sight::close() {
    if (worker_.joinable()) worker_.join();
    index_.reset();
    built_.reset();
    collide_.clear();
    retired_.clear();
    meshes_.clear();
    berths_.reset();
    scene_ = nullptr;
    workspace_ = nullptr;
}

void Sight::show(const model::Scene& scene) {
    constexpr std::size_t kAtOnce = 20'000;  // objects
    if (worker_.joinable()) worker_.join();
    scene_ = &scene;
    berths_.reset();
    index_.reset();
    built_.reset();
    touched_.clear();
    if (scene.objectCount() < kAtOnce) {
        index_ = std::make_unique<query::SceneIndex>(scene, shapes_);
        return;
    }
    snapshot_ = std::make_unique<model::Scene>(scene);
    worker_ = std::thread([this, lookup = shapes()] {
        built_ = std::make_unique<query::SceneIndex>(*snapshot_, lookup);
        QMetaObject::invokeMethod(
            this, [this] { takeIndex(); }, Qt::QueuedConnection);
    });
}

void Sight::takeIndex() {
    if (worker_.joinable()) worker_.join();
    if (!built_ || scene_ == nullptr || snapshot_->name() != scene_->name()) return;
    index_ = std::move(built_);
    index_->use(shapes_);
    index_->touch(touched_);
    touched_.clear();
    snapshot_.reset();
}

void Sight::touch(const edit::SceneDelta& delta) {
    berths_.reset();
    const auto touch = [this](std::span<const Slot> slots) {
        if (index_)
            index_->touch(slots);
        else
            touched_.insert(touched_.end(), slots.begin(), slots.end());
    };
    for (const auto* slots : {&delta.created, &delta.removed, &delta.moved}) touch(*slots);
    for (const auto* slots : {&delta.detailed, &delta.relabelled}) touch(query::withBody(*scene_, *slots));
}

bool Sight::takeLibrary() {
    berths_.reset();
    query::ItemCollisions collide = query::itemCollisions(workspace_->session->library(), workspace_->parts);
    bool other = false;
    for (auto& [item, held] : meshes_) {
        const auto now = workspace_->meshes.find(item);
        if (now == workspace_->meshes.end() || &held->mesh() == now->second.get()) continue;
        retired_.push_back(std::exchange(held, std::make_unique<query::MeshIndex>(now->second)));
        other = true;
    }
    if (other || collide != collide_) {  // else what one bumps into is what it was
        collide_ = std::move(collide);
        shapes_ = query::shapesOf([this](base::Name item) { return meshIndex(item); }, collide_);
        if (scene_ != nullptr) show(*scene_);
    }
    return other;
}

bool Sight::takeMeshes(const edit::SceneDelta& delta) {
    const auto& all = workspace_->meshes;
    if (all.size() == meshes_.size()) return false;
    auto take = [&](base::Name item, const std::shared_ptr<const shape::Mesh>& mesh) {
        if (!meshes_.contains(item)) meshes_[item] = std::make_unique<query::MeshIndex>(mesh);
    };
    for (const auto* slots : {&delta.created, &delta.relabelled})
        for (Slot s : *slots)
            if (const auto mesh = scene_->alive(s) ? all.find(scene_->item(s)) : all.end(); mesh != all.end())
                take(mesh->first, mesh->second);
    if (all.size() != meshes_.size())
        for (const auto& [item, mesh] : all) take(item, mesh);
    return true;
}

query::MeshLookup Sight::meshes() const {
    std::unordered_map<base::Name, const query::MeshIndex*> all;
    for (const auto& [item, mesh] : meshes_) all[item] = mesh.get();
    return [all = std::move(all)](base::Name item) -> const query::MeshIndex* {
        const auto place = all.find(item);
        return place == all.end() ? nullptr : place->second;
    };
}

query::Shapes Sight::shapes() const {
    return query::shapesOf(meshes(), collide_);
}

const query::MeshIndex* Sight::meshIndex(base::Name item) const {
    const auto place = meshes_.find(item);
    return place == meshes_.end() ? nullptr : place->second.get();
}

const std::vector<ops::Berth>& Sight::berths() {
    if (!berths_)
        berths_ =
            scene_ != nullptr ? ops::freeBerths(workspace_->session->library(), *scene_) : std::vector<ops::Berth>{};
    return *berths_;
}

}  // namespace app
