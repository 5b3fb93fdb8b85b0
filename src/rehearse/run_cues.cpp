// What cues ask of a run, and do in it.
#include <algorithm>
#include <utility>

#include "rehearse/names.h"
#include "rehearse/run.h"

namespace rehearse {
namespace {

constexpr double kSightDegrees = 50;  // to each side of the way one looks

/// The same after a motion of the world; nothing that moves is sized.
Pose brought(const Pose& pose, const base::Affine& motion) {
    const base::Transform to = base::toTransform(motion * toAffine(pose));
    return {to.position, to.rotation};
}

}  // namespace

class Run::Stage : public CueStage {
    using Does = model::CueThen::Does;

  public:
    explicit Stage(Run& run) : run_(run) {
        for (std::size_t i = 0; i < level().things.size(); ++i)
            things_[level().things[i].id] = static_cast<std::int32_t>(i);
    }

    bool isIn(std::int32_t zone, const Party& party) const override {
        const auto& in = run_.inZone_[static_cast<std::size_t>(zone)];
        return std::any_of(in.begin(), in.end(), [&](std::int32_t who) { return party.has(who); });
    }
    std::optional<double> metresTo(const CueTest& test) const override {
        if (test.slot == model::kNoSlot) return std::nullopt;
        const base::Aabb box = boxOf(test.slot);
        std::optional<double> least;
        const auto near = [&](const Vec3& at) {
            const double metres = glm::length(at - glm::clamp(at, box.low, box.high));
            if (!least || metres < *least) least = metres;
        };
        if (test.party.walker) near(run_.player_.footing.feet + Vec3(0, run_.player_.capsule.height / 2, 0));
        if (test.party.anything) {
            for (std::size_t i = 0; i < level().things.size(); ++i)
                if (level().thingOf[test.slot] != static_cast<std::int32_t>(i) && run_.states_[i].there)
                    near(run_.world_->pose(i).at);
        } else {
            for (const std::int32_t thing : test.party.things)
                if (run_.states_[static_cast<std::size_t>(thing)].there)
                    near(run_.world_->pose(static_cast<std::size_t>(thing)).at);
        }
        return least;
    }
    bool isInSight(model::Slot slot) const override {
        const Vec3 eye = run_.player_.eye, to = boxOf(slot).centre(), way = to - eye;
        const double metres = glm::length(way);
        if (metres < 1e-6) return true;
        const Vec3 look = directionOf(run_.player_.yawDegrees, run_.player_.pitchDegrees);
        if (glm::dot(way / metres, look) < std::cos(base::radians(kSightDegrees))) return false;
        const auto met = run_.world_->ray(eye, to);
        if (!met) return true;
        const std::int32_t thing = level().thingOf[slot];
        return met->thing >= 0 ? met->thing == thing : run_.world_->slotOf(*met) == slot;
    }
    std::int32_t thingOf(base::ObjectId object) const override {
        const auto place = things_.find(object);
        return place == things_.end() ? -1 : place->second;
    }
    void tell(What what, base::ObjectId object, base::ObjectId other, const std::string& note) override {
        run_.add(what, object, other).note = note;
    }
    void became(const PropertyAt& property, const model::Value& value) override {
        run_.trace_.changes.push_back(
            {run_.steps(), property.object, Change::Of::Property, property.property.name, value});
    }
    void doThis(const CueDeed& deed, std::int32_t cause) override {
        if (deed.then.does == Does::Camera) return show(deed);
        if (deed.then.does == Does::Sound) {
            for (const model::Slot target : deed.targets) run_.letSound(level().scene->id(target), deed.then.on);
            return;
        }
        if (deed.then.isOfLooks()) return dress(deed, cause);
        if (deed.then.does == Does::Message) return tell(What::Said, {}, {}, deed.then.words);
        if (deed.then.to == model::CueThen::To::Cause && cause >= 0) doTo(static_cast<std::size_t>(cause), deed);
        for (const std::size_t thing : deed.things) doTo(thing, deed);
    }

    void obey(const std::vector<bool>& acts, double seconds) override {
        const CueSet& set = *level().cues;
        for (std::size_t m = 0; m < set.members.size(); ++m) {
            const ActMember& member = set.members[m];
            const bool there = member.isThere(acts);
            if (there != isThere_[m]) {
                isThere_[m] = there;
                for (const std::size_t thing : member.things) run_.states_[thing].missing += there ? -1 : 1;
                for (const std::size_t thing : member.things)
                    run_.letBe(thing, run_.states_[thing].exists, run_.states_[thing].solid);
            }
            const base::Affine* motion = &member.motionIn(acts);
            if (motion == motions_[m]) continue;
            motions_[m] = motion;
            if (member.thing >= 0) run_.letCome(static_cast<std::size_t>(member.thing), *motion, seconds);
        }
    }
    /// Before anything has happened: what goes on from the start, and what is not there.
    void begin() {
        const CueSet& set = *level().cues;
        const std::vector<bool> acts = set.actsAtStart();
        for (std::size_t i = 0; i < level().things.size(); ++i) run_.states_[i].exists = !level().things[i].absent;
        for (const ActMember& member : set.members) {
            isThere_.push_back(member.isThere(acts));
            motions_.push_back(&member.motionIn(acts));
            for (const std::size_t thing : member.things) {
                run_.states_[thing].missing += isThere_.back() ? 0 : 1;
                put(thing, *motions_.back());
            }
        }
        for (std::size_t i = 0; i < run_.states_.size(); ++i) {
            ThingState& state = run_.states_[i];
            state.there = state.exists && state.missing == 0;
            if (!state.there) run_.world_->takeOut(i);
        }
    }

  private:
    void dress(const CueDeed& deed, std::int32_t cause) {
        if (deed.then.does == Does::Guise) return dress({}, deed.then);
        if (deed.then.to == model::CueThen::To::Cause && cause >= 0)
            dress(level().things[static_cast<std::size_t>(cause)].id, deed.then);
        for (const model::Slot target : deed.targets) dress(level().scene->id(target), deed.then);
    }
    void dress(base::ObjectId object, const model::CueThen& then) {
        const Change::Of of = then.does == Does::Guise     ? Change::Of::Guise
                              : then.does == Does::Surface ? Change::Of::Surface
                                                           : Change::Of::Outfit;
        static constexpr const char* kWords[] = {"", "outfit", "surface", "guise"};
        run_.trace_.changes.push_back({run_.steps(), object, of, then.slot, {then.look}});
        tell(What::Dressed, object, {},
             std::string(kWords[static_cast<std::size_t>(of)]) + " " +
                 (then.look.empty() ? "as at the start" : then.look) + (then.slot.empty() ? "" : ", " + then.slot));
    }
    void show(const CueDeed& deed) {
        std::int32_t shot = -1;
        const std::vector<ShotAt>& all = *level().shots;
        for (std::size_t i = 0; i < all.size() && deed.then.on; ++i)
            for (const model::Slot target : deed.targets)
                if (shot < 0 && level().scene->id(target) == all[i].camera) shot = static_cast<std::int32_t>(i);
        run_.shots_->force(shot);
    }
    void put(std::size_t thing, const base::Affine& motion) {
        if (motion == base::Affine{} || !run_.world_->isMoved(thing)) return;
        const Pose to = brought(run_.world_->pose(thing), motion);
        run_.world_->takeOut(thing);
        run_.world_->putBack(thing, to, Vec3(0.0));
        run_.states_[thing].quiet = to;
    }
    const Level& level() const { return *run_.level_; }
    base::Aabb boxOf(Slot slot) const {
        const std::int32_t thing = level().thingOf[slot];
        if (thing >= 0 && run_.world_->isMoved(static_cast<std::size_t>(thing)))
            return run_.world_->boundsOf(static_cast<std::size_t>(thing));
        return placeOf(*level().scene, slot);
    }
    void doTo(std::size_t thing, const CueDeed& deed) {
        const base::ObjectId id = level().things[thing].id;
        ThingState& state = run_.states_[thing];
        World& world = *run_.world_;
        switch (deed.then.does) {
            case Does::Exists: return run_.letBe(thing, deed.then.on, state.solid);
            case Does::Solid: return run_.letBe(thing, state.exists, deed.then.on);
            case Does::Seen:
                if (std::exchange(state.seen, deed.then.on) != deed.then.on)
                    tell(deed.then.on ? What::Appeared : What::Vanished, id, {}, "seen");
                return;
            case Does::Move:
            case Does::GoTo: return run_.letMove(thing, deed.then, deed.place);
            case Does::Follow: return run_.letFollow(thing, deed.way);
            case Does::Wake: world.wake(thing); return tell(What::Woke, id, {}, {});
            case Does::Sleep: world.sleep(thing); return tell(What::FellAsleep, id, {}, {});
            case Does::Push:
                world.wake(thing);
                world.push(thing, world.pose(thing).turn * deed.then.slide, world.pose(thing).at);
                return tell(What::Pushed, id, {}, {});
            default: return;
        }
    }

    Run& run_;
    std::unordered_map<base::ObjectId, std::int32_t> things_;
    std::vector<bool> isThere_;                 // by member of acts
    std::vector<const base::Affine*> motions_;  // the same: which one it has
};

void Run::makeCues() {
    auto stage = std::make_unique<Stage>(*this);
    stage->begin();
    stage_ = std::move(stage);
    cues_ = std::make_unique<Cues>(*level_->cues, *stage_);
    for (std::size_t p = 0; p < level_->cues->properties.size(); ++p)  // acts that go on at first
        if (const PropertyAt& at = level_->cues->properties[p]; cues_->value(p) != at.value)
            stage_->became(at, cues_->value(p));
}

void Run::stepCues() {
    if (level_->cues->empty()) return;
    // What cues tell is no news to them: a thing that they move is told as moved, but it was they.
    const std::size_t heard = std::exchange(heard_, trace_.entries.size());
    cues_->step(trace_.steps, trace_.entries, heard, trace_.steps % (kStepsPerSecond / 10) == 0);
    toldByCues_ += trace_.entries.size() - std::exchange(heard_, trace_.entries.size());
}

void Run::letMove(std::size_t thing, const model::CueThen& then, const Pose& place) {
    ThingState& state = states_[thing];
    if (!level_->things[thing].isGuided() || !world_->isMoved(thing)) {
        add(What::Moved, level_->things[thing].id).note = "it stays: it is not guided, or has no shape";
        return;
    }
    stopFollowing(thing);
    const Pose to = then.does == model::CueThen::Does::GoTo ? place : moved(thing, then.slide, then.turnDegrees);
    world_->guide(thing, to, then.seconds, then.ease == model::CueThen::Ease::Steady);
    state.moving = true;
    add(What::Moved, level_->things[thing].id).at = world_->pose(thing).at;
}

void Run::stopFollowing(std::size_t thing) {
    std::erase_if(following_, [thing](const auto& one) { return one.first == thing; });
}

/// From where it is; begun again, from the beginning of the route.
void Run::letFollow(std::size_t thing, const std::shared_ptr<const Network>& way) {
    const bool can = level_->things[thing].isGuided() && world_->isMoved(thing);
    Entry& entry = add(What::Moved, level_->things[thing].id);
    entry.at = world_->pose(thing).at;
    if (!can || way == nullptr || way->front().curve.empty()) {
        entry.note = can ? "it stays: there is no route to follow" : "it stays: it is not guided, or has no shape";
        return;
    }
    entry.note = "along a route";
    stopFollowing(thing);
    following_.emplace_back(thing, Following(way, world_->pose(thing), thing));
}

/// Each step a little farther on; what is not there waits.
void Run::stepFollowing() {
    const auto isMet = [this](base::ObjectId goal) {
        const auto& goals = level_->cues->goals;
        const auto at = std::ranges::find(goals, goal, &GoalAt::object);
        return at != goals.end() && cues_->goal(static_cast<std::size_t>(at - goals.begin())) == GoalState::Met;
    };
    for (auto& [thing, following] : following_) {
        if (!states_[thing].there || states_[thing].gone) continue;
        world_->guide(thing, following.step(isMet), kStep, true);
        states_[thing].moving = true;
    }
    std::erase_if(following_, [](const auto& one) { return one.second.isOver(); });
}

/// Begun again while it is heard: from its beginning.
void Run::letSound(base::ObjectId object, bool on) {
    for (std::size_t i = 0; i < soundSince_.size(); ++i) {
        const SoundAt& at = level_->sounds[i];
        if (at.id != object || (!on && soundSince_[i] < 0)) continue;
        soundSince_[i] = on ? trace_.steps : -1;
        add(on ? What::SoundBegan : What::SoundEnded, object).at = soundAt(i);
        if (on && at.sound.is == model::Sound::Is::Spoken && !at.sound.words.empty())
            add(What::Said).note = at.sound.words;
    }
}

base::Vec3 Run::soundAt(std::size_t sound) const {
    const SoundAt& at = level_->sounds[sound];
    const auto thing = static_cast<std::size_t>(at.thing);
    return at.thing >= 0 && world_->isMoved(thing) ? world_->motion(thing).point(at.at) : at.at;
}

/// Where an act has it; from where it stood at the beginning. What falls is there at once.
void Run::letCome(std::size_t thing, const base::Affine& motion, double seconds) {
    if (!world_->isMoved(thing) || states_[thing].gone) return;
    stopFollowing(thing);
    const Pose to = brought(world_->firstPose(thing), motion);
    ThingState& state = states_[thing];
    add(What::Moved, level_->things[thing].id).at = world_->pose(thing).at;
    if (level_->things[thing].isGuided() && state.there) {
        world_->guide(thing, to, std::max(seconds, kStep));
        state.moving = true;
        return;
    }
    if (player_.holds == static_cast<std::int32_t>(thing)) return;
    world_->takeOut(thing);
    world_->putBack(thing, to, Vec3(0.0));
    if (!state.there || !state.solid) world_->takeOut(thing);
}

/// What does not exist is met by nothing and seen by nobody; what is not solid is only met by nothing.
void Run::letBe(std::size_t thing, bool exists, bool solid) {
    ThingState& state = states_[thing];
    state.exists = exists;
    const bool there = exists && state.missing == 0;
    if (state.there == there && state.solid == solid) return;
    const base::ObjectId id = level_->things[thing].id;
    if (state.there != there) add(there ? What::Appeared : What::Vanished, id).at = world_->pose(thing).at;
    for (std::size_t z = 0; !there && z < inZone_.size(); ++z)
        if (std::erase(inZone_[z], static_cast<std::int32_t>(thing)) > 0) add(What::Left, level_->zones[z].id, id);
    if (player_.holds == static_cast<std::int32_t>(thing) && !there) player_.holds = -1;
    const bool was = state.there && state.solid, is = there && solid;
    state.there = there;
    state.solid = solid;
    if (player_.holds == static_cast<std::int32_t>(thing) || state.gone) return;
    if (was && !is) world_->takeOut(thing);
    if (!was && is) world_->putBack(thing, world_->pose(thing), Vec3(0.0));
}

}  // namespace rehearse
