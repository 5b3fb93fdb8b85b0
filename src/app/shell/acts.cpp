#include "app/shell/acts.h"

#include <algorithm>

#include "app/names.h"
#include "edit/delta.h"
#include "ops/acts.h"

namespace app {

Acts::Acts(Editor& editor) : editor_(editor) {
    connect(&editor_, &Editor::sceneShown, this, [this] {
        wanted_.clear();
        forget();
    });
    connect(&editor_, &Editor::sceneEdited, this, [this](const edit::SceneDelta& delta) {
        if (known_ && mayMatter(delta)) forget();
    });
}

/// Most scenes have no act, and most steps are about none.
bool Acts::mayMatter(const edit::SceneDelta& delta) const {
    if (delta.everything) return true;
    const model::Scene& scene = editor_.scene();
    const auto isOfActs = [&](Slot s) {
        return scene.alive(s) && scene.detail(s) && (scene.facet<model::Act>(s) || scene.facet<model::InActs>(s));
    };
    if (all_.empty())
        return std::ranges::any_of(delta.created, isOfActs) || std::ranges::any_of(delta.detailed, isOfActs);
    return !editor_.showsLive() && (delta.treeChanged || !delta.detailed.empty() || !delta.created.empty() ||
                                    !delta.removed.empty() || !delta.relabelled.empty());
}

void Acts::forget() {
    known_ = false;
    Q_EMIT changed();
}

void Acts::close() {
    wanted_.clear();
    all_.clear();
    there_.clear();
    worked_ = {};
    known_ = true;
}

void Acts::look() const {
    if (known_ || !editor_.isOpen()) return;
    known_ = true;
    const model::Scene& scene = editor_.scene();
    all_ = ops::actsOf(scene);
    worked_ = ops::workedAct(scene, {all_.begin(), all_.end()});
    const std::set<base::ObjectId> now = shown();
    there_ = now.empty() ? std::vector<bool>{} : ops::thereIn(scene, now);
}

const std::vector<base::ObjectId>& Acts::all() const {
    look();
    return all_;
}

base::ObjectId Acts::worked() const {
    look();
    return worked_;
}

std::set<base::ObjectId> Acts::shown() const {
    look();
    std::set<base::ObjectId> now;
    for (const base::ObjectId act : all_)
        if (wanted_.contains(act) || act == worked_) now.insert(act);
    return now;
}

base::ObjectId Acts::only() const {
    const std::set<base::ObjectId> now = shown();
    return now.size() == 1 ? *now.begin() : base::ObjectId{};
}

void Acts::show(std::set<base::ObjectId> acts) {
    wanted_ = std::move(acts);
    forget();
    Q_EMIT editor_.shownChanged();
}

void Acts::work(base::ObjectId act) {
    const std::string name = act ? "Work in " + std::string(editor_.scene().nameText(editor_.scene().find(act)))
                                 : std::string("Out of the act");
    if (editor_.run(name, [&](edit::Draft& draft) { return ops::workIn(draft, act); }) && act) show({act});
}

void Acts::put(base::ObjectId act, model::ActPart::Is is) {
    using Is = model::ActPart::Is;
    const std::vector<base::ObjectId> ids = editor_.selection();
    const char* step = is == Is::There ? "Put in the act" : is == Is::Away ? "Away in the act" : "Not bound to the act";
    editor_.run(step, [&](edit::Draft& draft) { return ops::setInAct(draft, ids, act, is); });
}

void Acts::putBack(base::ObjectId act) {
    const std::vector<base::ObjectId> ids = editor_.selection();
    editor_.run("As without the act", [&](edit::Draft& draft) { return ops::dropFromAct(draft, ids, act); });
}

void Acts::selectMembers(base::ObjectId act) {
    const model::Scene& scene = editor_.scene();
    std::vector<base::ObjectId> ids;
    for (const Slot s : scene.subtree(kNoSlot)) {
        const auto* in = scene.detail(s) ? scene.facet<model::InActs>(s) : nullptr;
        if (in != nullptr && in->of(act) != nullptr) ids.push_back(scene.id(s));
    }
    if (ids.empty()) return editor_.say(tr("Nothing says anything of this act yet."));
    editor_.select(std::move(ids));
}

void Acts::add() {
    base::ObjectId made;
    const bool done = editor_.run("New act", [&](edit::Draft& draft) -> base::Status {
        auto id = ops::addAct(draft, "Act");
        if (!id) return tl::unexpected(id.error());
        made = *id;
        return {};
    });
    if (!done) return;
    show({made});
    editor_.select({made});
}

bool Acts::isAway(model::Slot slot) const {
    look();
    return !there_.empty() && !editor_.showsLive() && (slot >= there_.size() || !there_[slot]);
}

}  // namespace app
