#include "check/checker.h"

#include <algorithm>

#include "check/units.h"

namespace check {

using base::Aabb;
using base::ObjectId;
using base::Vec3;
using model::kNoSlot;
using model::Slot;

namespace {

/// How far beside a change a unit may notice it, metres; above and below it notices it at any distance.
double marginOf(const Facts& facts) {
    double margin = 2.5;
    std::vector<Finding> none;
    for (const Rule& rule : rules())
        if (rule.id == "out-of-reach") margin = std::max(margin, Report(rule, facts, none).number("reach") + 1);
    return margin;
}

/// How far something without a mesh looks for others; nothing: it does not.
std::optional<double> watchOf(const model::Scene& scene, Slot slot) {
    const auto& detail = scene.detail(slot);
    if (!detail || (!detail->light && !detail->camera)) return std::nullopt;
    return detail->light ? std::max(0.1, detail->light->reachMetres) : 0.1;
}

}  // namespace

bool isAccepted(const model::Scene& scene, const Finding& f) {
    return std::any_of(scene.settings().accepted.begin(), scene.settings().accepted.end(),
                       [&](const model::AcceptedFinding& a) {
                           return a.rule == f.rule && a.object == f.object && a.other == f.other && a.part == f.part &&
                                  a.message == f.message;
                       });
}

Checker::Checker(std::shared_ptr<const Facts> facts) : facts_(std::move(facts)) {}
Checker::~Checker() = default;

bool Checker::isAsked(const Rule& rule) const {
    return only_.empty() || std::find(only_.begin(), only_.end(), rule.id) != only_.end();
}

void Checker::remember(const model::Scene& scene, Slot slot) {
    if (slot >= bounds_.size()) {
        bounds_.resize(scene.slotEnd());
        ids_.resize(scene.slotEnd());
        units_.resize(scene.slotEnd());
        parents_.resize(scene.slotEnd());
    }
    bounds_[slot] = scene.bounds(slot);
    if (bounds_[slot].empty()) bounds_[slot].add(scene.world(slot).translation);
    lowest_ = std::min(lowest_, bounds_[slot].low.y);
    highest_ = std::max(highest_, bounds_[slot].high.y);
    ids_[slot] = scene.id(slot);
    units_[slot] = scene.id(unitOf(scene, slot));
    parents_[slot] = scene.parent(slot) == kNoSlot ? ObjectId{} : scene.id(scene.parent(slot));
    if (watchOf(scene, slot)) watchers_.insert(slot);
}

void Checker::forget(Slot slot) {
    if (slot >= ids_.size() || !ids_[slot]) return;
    own_.erase(ids_[slot]);
    around_.erase(ids_[slot]);
    watchers_.erase(slot);
    ids_[slot] = {};
    bounds_[slot] = {};
}

void Checker::ask(const Subject& subject, Slot slot, const std::function<bool(Rule::Looks)>& isMeant, FoundBy& by) {
    std::vector<Finding> found;
    for (const Rule& rule : rules()) {
        if (!isMeant(rule.looks) || !isAsked(rule) || isOff(rule, *facts_, subject.scene, slot)) continue;
        Report report(rule, *facts_, found);
        rule.find(subject, slot, report);
    }
    const ObjectId id = subject.scene.id(slot);
    if (found.empty())
        by.erase(id);
    else
        by[id] = std::move(found);
}

void Checker::checkOwn(const Subject& subject, Slot slot) {
    ask(
        subject, slot, [](Rule::Looks looks) { return looks == Rule::Looks::Own; }, own_);
}

void Checker::checkAround(const Subject& subject, Slot unit) {
    ++looked_;
    const bool stands = isUnit(subject.scene, unit), watches = watchOf(subject.scene, unit).has_value();
    ask(
        subject, unit,
        [&](Rule::Looks looks) {
            return (looks == Rule::Looks::Unit && stands) || (looks == Rule::Looks::Watch && watches);
        },
        around_);
}

void Checker::checkScene(const Subject& subject) {
    scene_.clear();
    for (const Rule& rule : rules()) {
        if (rule.looks != Rule::Looks::Scene || !isAsked(rule) || isOff(rule, *facts_, subject.scene, kNoSlot))
            continue;
        const std::size_t before = scene_.size();
        Report report(rule, *facts_, scene_);
        rule.find(subject, kNoSlot, report);
        std::erase_if(scene_, [&, i = std::size_t{0}](const Finding& f) mutable {
            const Slot slot = i++ < before || !f.object ? kNoSlot : subject.scene.find(f.object);
            return slot != kNoSlot && isOff(rule, *facts_, subject.scene, slot);
        });
    }
}

namespace {

/// Asked of it by the rules that look around: units, lights and cameras.
bool looksAround(const model::Scene& scene, Slot slot) {
    return isUnit(scene, slot) || watchOf(scene, slot);
}

}  // namespace

void Checker::checkAll(const model::Scene& scene, base::Progress* progress, std::span<const std::string> only) {
    only_.assign(only.begin(), only.end());
    own_.clear();
    around_.clear();
    watchers_.clear();
    looked_ = 0;
    lowest_ = highest_ = 0;
    bounds_.assign(scene.slotEnd(), {});
    ids_.assign(scene.slotEnd(), {});
    units_.assign(scene.slotEnd(), {});
    parents_.assign(scene.slotEnd(), {});
    index_ = std::make_unique<query::SceneIndex>(scene, facts_->meshes);
    const Subject subject(scene, *facts_, *index_);
    const double share = 1.0 / std::max<double>(1, static_cast<double>(scene.objectCount()));
    for (Slot s = 0; s < scene.slotEnd(); ++s) {
        if (!scene.alive(s)) continue;
        if (progress != nullptr) {
            progress->add(share);
            if (progress->cancelled()) return;
        }
        remember(scene, s);
        checkOwn(subject, s);
        if (looksAround(scene, s)) checkAround(subject, s);
    }
    checkScene(subject);
}

void Checker::update(const model::Scene& scene, std::span<const Slot> slots, base::Progress* progress) {
    constexpr std::size_t kRebuild = 20'000;
    const auto cancelled = [progress] { return progress != nullptr && progress->cancelled(); };
    if (index_ == nullptr) return checkAll(scene, progress);
    const double margin = marginOf(*facts_);
    looked_ = 0;
    // What lies below a changed object, and what it is part of, is something else too.
    std::unordered_set<Slot> changed;
    for (Slot slot : slots) {
        // What it was part of until now stands otherwise without it.
        if (slot < ids_.size() && ids_[slot])
            for (const ObjectId id : {units_[slot], parents_[slot]})
                if (const Slot had = scene.find(id); had != kNoSlot) changed.insert(had);
        if (!scene.alive(slot)) {
            changed.insert(slot);
            continue;
        }
        for (Slot s : scene.subtree(slot)) changed.insert(s);
        for (Slot s = scene.parent(slot); s != kNoSlot; s = scene.parent(s)) changed.insert(s);
    }
    std::vector<Aabb> places;
    for (Slot slot : changed) {
        if (slot < bounds_.size() && ids_[slot] && !bounds_[slot].empty()) places.push_back(bounds_[slot]);
        const bool same = scene.alive(slot) && slot < ids_.size() && ids_[slot] == scene.id(slot);
        if (!same) forget(slot);
        if (!scene.alive(slot)) continue;
        watchers_.erase(slot);
        remember(scene, slot);
        if (!bounds_[slot].empty()) places.push_back(bounds_[slot]);
    }
    index_->touch(std::vector<Slot>(changed.begin(), changed.end()));
    if (index_->touchedCount() > kRebuild) index_ = std::make_unique<query::SceneIndex>(scene, facts_->meshes);
    const Subject subject(scene, *facts_, *index_);
    std::unordered_set<Slot> around;
    for (Slot slot : changed)
        if (scene.alive(slot)) {
            checkOwn(subject, slot);
            around.insert(slot);
            around.insert(unitOf(scene, slot));
        }
    for (Aabb box : places) {
        if (cancelled()) return;
        for (const int axis : {0, 2}) {
            box.low[axis] -= margin;
            box.high[axis] += margin;
        }
        for (const Slot watcher : watchers_) {
            const Vec3 at = scene.world(watcher).translation, reach(watchOf(scene, watcher).value_or(0));
            Aabb seen;
            seen.add(at - reach);
            seen.add(at + reach);
            if (seen.overlaps(box)) around.insert(watcher);
        }
        box.low.y = lowest_;
        box.high.y = highest_;
        index_->overlapping(scene, box, [&](Slot other) {
            around.insert(other);  // a camera or a light with a mesh is asked by itself
            around.insert(unitOf(scene, other));
        });
    }
    for (Slot slot : around) {
        if (cancelled()) return;
        if (looksAround(scene, slot))
            checkAround(subject, slot);
        else
            around_.erase(scene.id(slot));
    }
    checkScene(subject);
}

std::vector<Finding> Checker::sorted(const model::Scene& scene, bool accepted) const {
    std::vector<Finding> all;
    for (const auto* part : {&own_, &around_})
        for (const auto& [id, found] : *part)
            for (const Finding& f : found)
                if (isAccepted(scene, f) == accepted) all.push_back(f);
    for (const Finding& f : scene_)
        if (isAccepted(scene, f) == accepted) all.push_back(f);
    std::sort(all.begin(), all.end(), [](const Finding& a, const Finding& b) {
        if (a.severity != b.severity) return a.severity > b.severity;
        return std::tie(a.rule, a.object, a.other, a.part) < std::tie(b.rule, b.object, b.other, b.part);
    });
    return all;
}

std::vector<Finding> Checker::findings(const model::Scene& scene) const {
    return sorted(scene, false);
}
std::vector<Finding> Checker::accepted(const model::Scene& scene) const {
    return sorted(scene, true);
}

}  // namespace check
