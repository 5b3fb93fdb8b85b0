#include "check/checker.h"

#include <algorithm>
#include <atomic>
#include <mutex>
#include <thread>

#include "check/names.h"
#include "check/units.h"

namespace check {

using base::Aabb;

namespace {

/// How far beside a change a unit may notice it, metres; above and below it notices it at any distance.
double marginOf(const Facts& facts) {
    double margin = 2.5;
    if (const Rule* rule = ruleOf(*facts.rules, "out-of-reach"))
        margin = std::max(margin, Parameters(rule->id, rule->parameters, facts.settings).number("reach") + 2);
    return margin;
}

}  // namespace

bool isAccepted(const model::Scene& scene, const Finding& f) {
    return std::any_of(scene.settings().accepted.begin(), scene.settings().accepted.end(),
                       [&](const model::AcceptedFinding& a) {
                           return a.rule == f.rule && a.object == f.object && a.other == f.other && a.part == f.part &&
                                  a.message == f.message;
                       });
}

Checker::Checker(std::shared_ptr<const Facts> facts, std::size_t threads)
    : facts_(std::move(facts)), threads_(std::max<std::size_t>(1, threads)) {}
Checker::~Checker() = default;

void Checker::take(std::shared_ptr<const Facts> facts) {
    facts_ = std::move(facts);
}

/// It asks for meshes as the facts have them by then.
std::unique_ptr<query::SceneIndex> Checker::newIndex(const model::Scene& scene) const {
    return std::make_unique<query::SceneIndex>(
        scene, query::Shapes([this](base::Name item) { return facts_->shapes.seen(item); },
                             [this](const model::Scene& of, Slot slot) { return facts_->shapes.bumpedOf(of, slot); },
                             [this](base::Name item) { return facts_->shapes.bumpedOfItem(item); }));
}

bool Checker::isAsked(std::size_t rule) const {
    const Rule& one = (*facts_->rules)[rule];
    return only_.empty() || std::find(only_.begin(), only_.end(), one.id) != only_.end();
}

Checker::Asker Checker::makeAsker(const std::function<bool(std::size_t)>& isWanted) const {
    Asker asker;
    asker.finds.resize(facts_->rules->size());
    for (std::size_t i = 0; i < asker.finds.size(); ++i) {
        const Rule& rule = (*facts_->rules)[i];
        asker.parameters.emplace_back(rule.id, rule.parameters, facts_->settings);
        asker.severities.push_back(severityOf(rule, facts_->settings));
        if (isAsked(i) && isWanted(i)) asker.finds[i] = rule.makeFind ? rule.makeFind() : rule.find;
    }
    return asker;
}

/// Asked of it by the rules that look around: units, and what has a reach.
bool Checker::looksAround(const model::Scene& scene, Slot slot) const {
    return isUnit(scene, slot) || watchers_.contains(slot);
}

void Checker::remember(const model::Scene& scene, Slot slot) {
    if (slot >= bounds_.size()) {
        bounds_.resize(scene.slotEnd());
        ids_.resize(scene.slotEnd());
        units_.resize(scene.slotEnd());
        parents_.resize(scene.slotEnd());
    }
    bounds_[slot] = scene.bounds(slot);
    bounds_[slot].add(index_->solid().boundsOf(scene, slot));
    if (bounds_[slot].empty()) bounds_[slot].add(scene.world(slot).translation);
    lowest_ = std::min(lowest_, bounds_[slot].low.y);
    highest_ = std::max(highest_, bounds_[slot].high.y);
    ids_[slot] = scene.id(slot);
    units_[slot] = scene.id(unitOf(scene, slot));
    parents_[slot] = scene.parent(slot) == kNoSlot ? ObjectId{} : scene.id(scene.parent(slot));
    watchers_.erase(slot);
    for (const Rule& rule : *facts_->rules)
        if (rule.looks == Rule::Looks::Watch)
            if (const auto reach = rule.reach(scene, *facts_, slot)) {
                double& farthest = watchers_[slot];
                farthest = std::max(farthest, *reach);
            }
}

void Checker::forget(Slot slot) {
    if (slot >= ids_.size() || !ids_[slot]) return;
    held_.own.erase(ids_[slot]);
    held_.around.erase(ids_[slot]);
    watchers_.erase(slot);
    ids_[slot] = {};
    bounds_[slot] = {};
}

void Checker::ask(const Asker& asker, const Subject& subject, Slot slot, Part part, Answers& answers) const {
    using Looks = Rule::Looks;
    const model::Scene& scene = subject.scene;
    const bool stands = part == Part::Around && isUnit(scene, slot);
    const ObjectId id = slot == kNoSlot ? ObjectId{} : scene.id(slot);
    std::vector<Finding> found;
    for (std::size_t i = 0; i < asker.finds.size(); ++i) {
        const Rule& rule = (*facts_->rules)[i];
        if (!asker.finds[i] || answers.failed.contains(i)) continue;
        const bool isMeant = part == Part::Own     ? rule.looks == Looks::Own
                             : part == Part::Scene ? rule.looks == Looks::Scene
                             : rule.looks == Looks::Unit
                                 ? stands
                                 : rule.looks == Looks::Watch && rule.reach(scene, *facts_, slot).has_value();
        if (!isMeant || isOff(rule, *facts_, scene, slot)) continue;
        const std::size_t before = found.size();
        Report report(rule, asker.parameters[i], asker.severities[i], found);
        asker.finds[i](subject, slot, report);
        if (report.failed()) answers.failed[i] = {slot, std::exchange(found.back(), {})};
        if (report.failed()) found.resize(before);
        for (const ObjectId other : report.lookedAt()) answers.looks.emplace_back(other, id);
        if (part != Part::Scene) continue;
        std::erase_if(found, [&, n = std::size_t{0}](const Finding& f) mutable {
            const Slot at = n++ < before || !f.object ? kNoSlot : scene.find(f.object);
            return at != kNoSlot && isOff(rule, *facts_, scene, at);
        });
    }
    if (part == Part::Scene)
        answers.scene = std::move(found);
    else if (!found.empty())
        (part == Part::Own ? answers.own : answers.around)[id] = std::move(found);
}

/// Of rules that failed nothing else is kept.
void Checker::add(Answers&& answers) {
    auto addFound = [](std::vector<Finding>& to, std::vector<Finding>& more) {
        to.insert(to.end(), std::make_move_iterator(more.begin()), std::make_move_iterator(more.end()));
    };
    for (auto& [id, found] : answers.own) addFound(held_.own[id], found);
    for (auto& [id, found] : answers.around) addFound(held_.around[id], found);
    addFound(held_.scene, answers.scene);
    for (const auto& [at, by] : answers.looks) lookers_[at].insert(by);
    for (auto& [rule, failure] : answers.failed) {
        const auto [held, isNew] = held_.failed.try_emplace(rule, failure);
        if (!isNew && failure.first < held->second.first) held->second = std::move(failure);
        auto isOf = [&id = (*facts_->rules)[rule].id](const Finding& f) { return f.rule == id; };
        for (FoundBy* part : {&held_.own, &held_.around})
            for (auto& [id, found] : *part) std::erase_if(found, isOf);
        std::erase_if(held_.scene, isOf);
    }
}

/// Asks rules about everything. Threads take a piece of the scene each, until there is none left.
void Checker::askAll(const model::Scene& scene, base::Progress* progress,
                     const std::function<bool(std::size_t)>& isWanted) {
    constexpr Slot kPiece = 128;
    std::atomic<Slot> next = 0;
    std::mutex lock;
    std::size_t looked = 0;
    std::vector<Answers> all;
    auto work = [&](const Asker& asker) {
        const Subject subject(scene, *facts_, *index_, progress, pass_);
        Answers answers;
        std::size_t around = 0;
        for (Slot from = next.fetch_add(kPiece); from < scene.slotEnd(); from = next.fetch_add(kPiece)) {
            if (subject.cancelled()) break;
            const Slot end = std::min<Slot>(from + kPiece, scene.slotEnd());
            for (Slot s = from; s < end; ++s) {
                if (!scene.alive(s)) continue;
                ask(asker, subject, s, Part::Own, answers);
                if (!looksAround(scene, s)) continue;
                ask(asker, subject, s, Part::Around, answers);
                ++around;
            }
            if (progress != nullptr) progress->add(double(end - from) / double(scene.slotEnd()));
        }
        const std::lock_guard held(lock);
        looked += around;
        all.push_back(std::move(answers));
    };
    const std::size_t others = std::min<std::size_t>(threads_ - 1, scene.slotEnd() / kPiece);
    std::vector<std::thread> workers;
    for (std::size_t i = 0; i < others; ++i) workers.emplace_back([&] { work(makeAsker(isWanted)); });
    const Asker own = makeAsker(isWanted);
    work(own);
    for (std::thread& worker : workers) worker.join();
    Answers whole;
    const Subject subject(scene, *facts_, *index_, progress, pass_);
    if (!subject.cancelled()) ask(own, subject, kNoSlot, Part::Scene, whole);
    all.push_back(std::move(whole));
    for (Answers& answers : all) add(std::move(answers));
    looked_ += looked;
}

void Checker::checkAll(const model::Scene& scene, base::Progress* progress, std::span<const std::string> only) {
    ++pass_;
    only_.assign(only.begin(), only.end());
    held_ = {};
    lookers_.clear();
    watchers_.clear();
    looked_ = 0;
    lowest_ = highest_ = 0;
    bounds_.assign(scene.slotEnd(), {});
    ids_.assign(scene.slotEnd(), {});
    units_.assign(scene.slotEnd(), {});
    parents_.assign(scene.slotEnd(), {});
    index_ = newIndex(scene);
    asker_ = makeAsker([](std::size_t) { return true; });
    for (Slot s = 0; s < scene.slotEnd(); ++s)
        if (scene.alive(s)) remember(scene, s);
    askAll(scene, progress, [](std::size_t) { return true; });
}

void Checker::update(const model::Scene& scene, std::span<const Slot> slots, base::Progress* progress) {
    constexpr std::size_t kRebuild = 20'000;
    if (index_ == nullptr) return checkAll(scene, progress);
    ++pass_;
    const double margin = marginOf(*facts_);
    looked_ = 0;
    // What lies below a changed object, and what it is part of, is something else too.
    std::unordered_set<Slot> changed, lookedAgain;
    auto tellLookers = [&](ObjectId id) {
        const auto who = lookers_.find(id);
        if (who == lookers_.end()) return;
        for (const ObjectId by : who->second)
            if (const Slot s = scene.find(by); s != kNoSlot) lookedAgain.insert(s);
        lookers_.erase(who);  // they say so again
    };
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
        if (slot < ids_.size() && ids_[slot]) tellLookers(ids_[slot]);
        if (!same) forget(slot);
        if (!scene.alive(slot)) continue;
        tellLookers(scene.id(slot));
        remember(scene, slot);
        if (!bounds_[slot].empty()) places.push_back(bounds_[slot]);
    }
    index_->touch(std::vector<Slot>(changed.begin(), changed.end()));
    if (index_->touchedCount() > kRebuild) index_ = newIndex(scene);
    const Subject subject(scene, *facts_, *index_, progress, pass_);
    Answers answers;
    const auto failed = std::exchange(held_.failed, {});
    answers.failed = failed;  // those are asked about everything, below
    auto askAgain = [&](Slot slot, Part part) {
        (part == Part::Own ? held_.own : held_.around).erase(scene.id(slot));
        ask(asker_, subject, slot, part, answers);
    };
    std::unordered_set<Slot> around;
    for (Slot slot : changed)
        if (scene.alive(slot)) {
            lookedAgain.insert(slot);
            around.insert(slot);
            around.insert(unitOf(scene, slot));
        }
    for (Slot slot : lookedAgain) askAgain(slot, Part::Own);
    for (Aabb box : places) {
        if (subject.cancelled()) return;
        for (const auto& [watcher, reach] : watchers_) {
            Aabb seen = bounds_[watcher];
            seen.add(scene.world(watcher).translation);
            seen.add(seen.low - Vec3(reach));
            seen.add(seen.high + Vec3(reach));
            if (seen.overlaps(box)) around.insert(watcher);
        }
        for (const int axis : {0, 2}) {
            box.low[axis] -= margin;
            box.high[axis] += margin;
        }
        box.low.y = lowest_;
        box.high.y = highest_;
        index_->overlapping(scene, box, [&](Slot other) {
            around.insert(other);  // what has a reach and a mesh is asked by itself
            around.insert(unitOf(scene, other));
        });
    }
    for (Slot slot : around) {
        if (subject.cancelled()) return;
        if (looksAround(scene, slot)) {
            ++looked_;
            askAgain(slot, Part::Around);
        } else {
            held_.around.erase(scene.id(slot));
        }
    }
    held_.scene.clear();
    ask(asker_, subject, kNoSlot, Part::Scene, answers);
    for (const auto& [rule, failure] : failed) answers.failed.erase(rule);
    add(std::move(answers));
    if (!failed.empty()) askAll(scene, nullptr, [&](std::size_t rule) { return failed.contains(rule); });
}

std::vector<Finding> Checker::sorted(const model::Scene& scene, bool accepted) const {
    std::vector<Finding> all;
    if (!accepted)
        for (const auto& [rule, failure] : held_.failed) all.push_back(failure.second);
    for (const auto* part : {&held_.own, &held_.around})
        for (const auto& [id, found] : *part)
            for (const Finding& f : found)
                if (isAccepted(scene, f) == accepted) all.push_back(f);
    for (const Finding& f : held_.scene)
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
