#include "app/view/stage.h"

#include <fmt/format.h>

#include <algorithm>

#include "app/names.h"
#include "app/shell/scripts.h"
#include "app/shell/sight.h"
#include "edit/session.h"
#include "io/workspace.h"
#include "model/facets/body.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/note.h"
#include "model/facets/points.h"
#include "model/facets/route.h"
#include "model/facets/sound.h"
#include "model/facets/zone.h"
#include "query/mesh_index.h"
#include "render/occlusion.h"

namespace app {

namespace {

constexpr int kShadingRays = 20;
constexpr std::size_t kSortedAtOnce = 20'000;  // objects; larger levels are sorted on a worker

}  // namespace

Stage::Stage(Editor& editor, QObject* parent) : QObject(parent), editor_(editor) {
    connect(&clockTimer_, &QTimer::timeout, this, &Stage::tickClock);
    pause_.setSingleShot(true);
    pause_.setInterval(160);
    connect(&pause_, &QTimer::timeout, this, [this] {
        if (lively_.empty()) return;
        paused_ = true;
        Q_EMIT restaged(true);
    });
    connect(&editor_, &Editor::projectChanged, this, [this] {
        renderer_.clearMeshes();
        uploaded_.clear();
        bodies_.clear();
        dresses_.clear();
        dressMeshes_.clear();
        uploadMeshes();
        startShading();
    });
    connect(&editor_, &Editor::libraryChanged, this, [this] {
        const std::size_t known = shaded_;
        if (uploadMeshes() || known != editor_.workspace().meshes.size()) startShading();
        forgetBodies();
        dresses_.clear();  // a surface may be another one now
        rescanStates();
        Q_EMIT restaged(true);
    });
    connect(&editor_, &Editor::meshesGrown, this, [this] { uploadMeshes(); });
    connect(&editor_, &Editor::sceneShown, this, &Stage::showScene);
    connect(&editor_, &Editor::sceneEdited, this, &Stage::sceneEdited);
    connect(&editor_, &Editor::selectionChanged, this, [this] {
        const bool many = tinted_.size() > kMostOver;
        refreshTinted();
        if (many || tinted_.size() > kMostOver)
            Q_EMIT restaged(false);
        else
            Q_EMIT overChanged(false);
    });
    connect(&editor_, &Editor::shownChanged, this, [this] {
        rescanStates();
        Q_EMIT restaged(true);
    });
    connect(&editor_.scripts(), &Scripts::behavioursChanged, this, [this] {
        if (!editor_.isOpen()) return;
        rescanStates();
        Q_EMIT restaged(true);
    });
    connect(&editor_, &Editor::themeChanged, this, [this] { Q_EMIT restaged(false); });
}

Stage::~Stage() {
    stopShading_ = true;
    if (shadingWorker_.joinable()) shadingWorker_.join();
    if (flushWorker_.joinable()) flushWorker_.join();
}

bool Stage::uploadMeshes() {
    bool other = false;
    for (const auto& [item, mesh] : editor_.workspace().meshes) {
        auto& held = uploaded_[item];
        if (renderer_.hasMesh(item) && held == mesh) continue;
        other = other || held != nullptr;
        renderer_.setMesh(item, *mesh, {});
        held = mesh;
    }
    return other;
}

base::Name Stage::bodyOf(base::Name name) {
    const model::Item* item = editor_.session().library().item(name);
    const base::Name body = editor_.session().intern(fmt::format("=body {}", editor_.session().names().text(name)));
    if (item != nullptr) showBody(body, editor_.sight().shapesHere().bumpedOfItem(name));
    return body;
}

void Stage::showBody(base::Name name, const query::MeshIndex* body) {
    if (bodies_.insert(name).second && body != nullptr) renderer_.setMesh(name, body->mesh(), {});
}

const render::OtherLooks& Stage::bodyLooks() {
    if (bodyLooks_) return *bodyLooks_;
    bodyLooks_.emplace();
    const model::Scene& scene = editor_.scene();
    for (Slot s = 0; s < scene.slotEnd(); ++s) {
        if (!scene.alive(s)) continue;
        const bool solid = (scene.flagsOf(s) & model::flags::kUntouched) == 0;
        if (solid && !scene.facet<model::Body>(s)) continue;
        render::OtherLook& look = (*bodyLooks_)[s];
        const query::MeshIndex* body = editor_.sight().shapesHere().bumpedOf(scene, s);
        look.hidden = body == nullptr;
        if (body == nullptr) continue;
        look.item = editor_.session().intern(fmt::format("=body of {}", base::toText(scene.id(s))));
        showBody(look.item, body);
    }
    return *bodyLooks_;
}

void Stage::forgetBodies() {
    for (const base::Name body : bodies_) renderer_.removeMesh(body);
    bodies_.clear();
    bodyLooks_.reset();
}

// Soft shading is baked on a worker and put in when it is ready: the first picture does not wait for it.
void Stage::startShading() {
    stopShading_ = true;
    if (shadingWorker_.joinable()) shadingWorker_.join();
    stopShading_ = false;
    isShaded_ = false;
    shaded_ = editor_.workspace().meshes.size();
    std::vector<std::pair<base::Name, std::shared_ptr<const shape::Mesh>>> meshes(editor_.workspace().meshes.begin(),
                                                                                  editor_.workspace().meshes.end());
    shadingWorker_ = std::thread([this, meshes = std::move(meshes)] {
        std::unordered_map<base::Name, std::vector<std::uint8_t>> baked;
        for (const auto& [item, mesh] : meshes) {
            if (stopShading_) return;
            if (mesh->positions.size() > 60'000) continue;
            baked[item] = render::bakeOcclusion(query::MeshIndex(mesh), kShadingRays);
        }
        QMetaObject::invokeMethod(
            this,
            [this, baked = std::move(baked)]() mutable {
                shading_ = std::move(baked);
                takeShading();
            },
            Qt::QueuedConnection);
    });
}

void Stage::takeShading() {
    if (!editor_.isOpen()) return;
    for (const auto& [item, values] : shading_)
        if (const shape::Mesh* mesh = editor_.workspace().mesh(item);
            mesh != nullptr && mesh->positions.size() == values.size())
            renderer_.setMesh(item, *mesh, values);
    shading_.clear();
    isShaded_ = true;
    Q_EMIT restaged(false);
}

void Stage::showScene() {
    flushStale_ = true;
    flush_.reset();
    lively_.clear();
    dresses_.clear();
    cells_.build(editor_.scene());
    rescanMarked();
    rescanStates();
    refreshTinted();
    Q_EMIT restaged(true);
}

void Stage::sceneEdited(const edit::SceneDelta& delta) {
    for (const auto* slots : {&delta.removed, &delta.created, &delta.moved}) cells_.touch(editor_.scene(), *slots);
    if (!delta.created.empty() || !delta.removed.empty() || !delta.detailed.empty() || !delta.relabelled.empty()) {
        rescanMarked();
        for (const auto* slots : {&delta.removed, &delta.created, &delta.detailed, &delta.relabelled})
            rescanStates(*slots);
    }
    if (!dresses_.empty() || editor_.scripts().behaviours().giveLooks())
        rescanStates(delta.moved);  // tiles are as large as their object makes them
    if (!delta.created.empty() || !delta.removed.empty() || delta.treeChanged) refreshTinted();
    const bool onlyLively =
        !lively_.empty() && delta.created.empty() && delta.removed.empty() && delta.relabelled.empty() &&
        std::all_of(delta.moved.begin(), delta.moved.end(), [this](Slot s) { return lively_.contains(s); });
    if (!onlyLively) {
        flushStale_ = true;
        // While it is played, shadows are drawn anew only every now and then.
        constexpr qint64 kShadowsMs = 300;
        const bool shadows = !editor_.showsLive() || !shadowClock_.isValid() || shadowClock_.hasExpired(kShadowsMs);
        if (shadows) shadowClock_.start();
        Q_EMIT restaged(shadows);
        return;
    }
    const bool wasPaused = paused_;
    paused_ = false;
    pause_.start();
    if (wasPaused)
        Q_EMIT restaged(true);
    else
        Q_EMIT overChanged(true);
}

void Stage::rescanMarked() {
    marked_.clear();
    const model::Scene& scene = editor_.scene();
    for (Slot s = 0; s < scene.slotEnd(); ++s) {
        if (!scene.alive(s)) continue;
        const bool pointLike = !scene.item(s) && scene.firstChild(s) == kNoSlot && scene.kind(s);
        const model::DetailPtr& detail = scene.detail(s);
        const bool lit =
            detail && (detail->get<model::Light>() || detail->get<model::Camera>() || detail->get<model::Note>() ||
                       detail->get<model::Zone>() || detail->get<model::PointSet>() || detail->get<model::Route>() ||
                       detail->get<model::Sound>());
        const bool missing = scene.isInstance(s) && scene.firstChild(s) == kNoSlot;  // of a prefab that is not there
        if (pointLike || lit || missing) marked_.push_back(s);
    }
}

void Stage::refreshTinted() {
    tinted_.clear();
    if (!editor_.isOpen()) return;
    for (base::ObjectId id : editor_.selection())
        if (const Slot top = editor_.scene().find(id); top != kNoSlot)
            for (Slot s : editor_.scene().subtree(top)) tinted_.insert(s);
}

void Stage::startLively() {
    if (tinted_.size() > kMostOver) return;
    lively_ = tinted_;
    Q_EMIT restaged(false);
}

void Stage::endLively() {
    flushStale_ = true;
    if (lively_.empty()) return;
    lively_.clear();
    paused_ = false;
    pause_.stop();
    Q_EMIT restaged(true);
}

const query::FlushIndex* Stage::flush(const base::Mat3& frame) {
    flushStale_ = flushStale_ || frame != flushFrame_;
    auto current = [&] { return flush_ && flush_->frame() == frame ? flush_.get() : nullptr; };
    if (!flushStale_ || flushWorker_.joinable()) return current();
    flushStale_ = false;
    flushFrame_ = frame;
    if (editor_.scene().objectCount() < kSortedAtOnce) {
        flush_ = std::make_shared<const query::FlushIndex>(editor_.scene(), editor_.sight().meshes(), frame);
        return flush_.get();
    }
    flushWorker_ =
        std::thread([this, snapshot = model::Scene(editor_.scene()), meshes = editor_.sight().meshes(), frame] {
            auto made = std::make_shared<const query::FlushIndex>(snapshot, meshes, frame);
            QMetaObject::invokeMethod(
                this,
                [this, made] {
                    flushWorker_.join();
                    flush_ = made;
                },
                Qt::QueuedConnection);
        });
    return current();
}

}  // namespace app
