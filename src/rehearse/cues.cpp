#include "rehearse/cues.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "base/units.h"
#include "rehearse/names.h"

namespace rehearse {
namespace {

using Does = model::CueThen::Does;
using When = model::CueWhen::What;

constexpr int kMostRounds = 64;  // in one step: what goes on is a round without an end

bool isPlace(When what) {
    return what == When::Inside || what == When::Nearer || what == When::Farther || what == When::Unseen;
}
std::size_t at(std::int32_t index) {
    return static_cast<std::size_t>(index);
}
std::uint64_t bit(std::size_t test) {
    return std::uint64_t{1} << test;
}

}  // namespace

Cues::Cues(const CueSet& set, CueStage& stage) : set_(set), stage_(stage) {
    for (const CueAt& cue : set.cues) {
        states_.push_back({});
        states_.back().armed = cue.armed;
    }
    acts_ = set.actsAtStart();
    for (const GoalAt& goal : set.goals) goals_.push_back(goal.held ? GoalState::Held : GoalState::Set);
    for (const PropertyAt& property : set.properties) values_.push_back(property.value);
    for (const ActMember& member : set.members)
        for (std::size_t v = 0; v < member.values.size(); ++v)
            values_[at(member.values[v].first)] = member.valueIn(acts_, v);
    listen();
}

void Cues::listen() {
    byProperty_.resize(set_.properties.size());
    byGoal_.resize(set_.goals.size());
    byCue_.resize(set_.cues.size());
    placeOf_.resize(set_.cues.size());
    for (std::int32_t c = 0; c < static_cast<std::int32_t>(set_.cues.size()); ++c) {
        const CueAt& cue = set_.cues[at(c)];
        placeOf_[at(c)].assign(cue.tests.size(), -1);
        for (std::int32_t t = 0; t < static_cast<std::int32_t>(cue.tests.size()); ++t) {
            const CueTest& test = cue.tests[at(t)];
            if (test.property >= 0) byProperty_[at(test.property)].emplace_back(c, t);
            if (test.what == When::Met && test.goal >= 0) byGoal_[at(test.goal)].emplace_back(c, t);
            for (const std::int32_t other : test.cues) byCue_[at(other)].emplace_back(c, t);
            if (isPlace(test.what)) {
                placeOf_[at(c)][at(t)] = static_cast<std::int32_t>(places_.size());
                places_.emplace_back(c, t);
            } else if (test.what >= When::Enters && test.what <= When::Passed) {
                byObject_.emplace(test.object, std::pair(c, t));
            }
            if (test.what == When::After) due_.insert({test.step, order_++, c, -1 - t, -1});
        }
        stirred_.insert(c);  // what is so from the start
    }
    placeHeld_.assign(places_.size(), false);
}

bool Cues::isSpent(std::int32_t c) const {
    return set_.cues[at(c)].times > 0 && states_[at(c)].count >= set_.cues[at(c)].times;
}

bool Cues::mayGoOff(std::int32_t c) const {
    const State& state = states_[at(c)];
    return state.armed && !isSpent(c) && (state.last < 0 || step_ - state.last >= set_.cues[at(c)].rest);
}

void Cues::happen(std::int32_t cue, std::int32_t test, std::int32_t cause) {
    news_.push_back({cue, test, cause});
    stirred_.insert(cue);
}

/// Of an entry of the trace: who waits for that.
void Cues::heed(const Entry& e) {
    const auto wanted = [&]() -> std::optional<When> {
        switch (e.what) {
            case What::Used: return When::Used;
            case What::Taken: return When::Taken;
            case What::PutDown:
            case What::Thrown: return When::PutDown;
            case What::Bumped: return When::Bumped;
            case What::Entered: return When::Enters;
            case What::Left: return When::Leaves;
            case What::Passed:
            case What::Lapped: return When::Passed;
            default: return std::nullopt;
        }
    }();
    if (!wanted) return;
    const bool zone = *wanted == When::Enters || *wanted == When::Leaves;
    std::int32_t who = -1;
    if (zone && e.other) who = stage_.thingOf(e.other);
    const auto [first, last] = byObject_.equal_range(e.object);
    for (auto ear = first; ear != last; ++ear) {
        const auto [cue, test] = ear->second;
        const CueTest& is = set_.cues[at(cue)].tests[at(test)];
        if (is.what == *wanted && (!zone || is.party.has(who))) happen(cue, test, who);
    }
}

/// Places, distances, sight: they are asked for, a few times a second.
void Cues::lookAround() {
    for (std::size_t i = 0; i < places_.size(); ++i) {
        const auto [cue, test] = places_[i];
        if (isSpent(cue)) continue;
        const CueTest& is = set_.cues[at(cue)].tests[at(test)];
        bool now = false;
        if (is.what == When::Inside) now = is.zone >= 0 && stage_.isIn(is.zone, is.party);
        if (is.what == When::Unseen) now = is.slot != model::kNoSlot && !stage_.isInSight(is.slot);
        if (is.what == When::Nearer || is.what == When::Farther) {
            const auto metres = stage_.metresTo(is);
            now = metres && (is.what == When::Nearer ? *metres < is.metres : *metres > is.metres);
        }
        if (now == placeHeld_[i]) continue;
        placeHeld_[i] = now;
        stirred_.insert(cue);
    }
}

bool Cues::holds(std::int32_t cue, std::size_t t) const {
    const CueTest& test = set_.cues[at(cue)].tests[t];
    if (isPlace(test.what)) return placeHeld_[at(placeOf_[at(cue)][t])];
    if (test.what == When::Met) return test.goal >= 0 && goals_[at(test.goal)] == GoalState::Met;
    if (test.property < 0) return false;
    const model::Value& is = values_[at(test.property)];
    if (test.what == When::Is) return is == test.value;
    double a = 0, b = 0;
    const double *have = model::asNumber(is, a), *limit = model::asNumber(test.value, b);
    if (have == nullptr || limit == nullptr) return false;
    return test.what == When::Above ? *have > *limit : *have < *limit;
}

/// Does a cue go off by what happened and what is so now?
void Cues::judge(std::int32_t c) {
    const CueAt& cue = set_.cues[at(c)];
    State& state = states_[at(c)];
    std::uint64_t now = 0, held = 0, happenings = 0;
    std::int32_t cause = -1;
    bool isSetOff = false;  // by another, whatever its conditions
    const auto [first, last] = std::ranges::equal_range(happened_, c, {}, &Happened::cue);
    for (auto h = first; h != last; ++h) {
        if (h->test < 0)
            isSetOff = true;
        else
            now |= bit(at(h->test));
        cause = h->cause;
    }
    if (!state.armed) return;
    bool allHeld = true;
    for (std::size_t t = 0; t < cue.tests.size(); ++t) {
        if (cue.tests[t].what < When::Inside) {
            happenings |= bit(t);
        } else if (holds(c, t)) {
            held |= bit(t);
        } else {
            allHeld = false;
        }
    }
    const std::uint64_t risen = held & ~state.held;
    const std::uint64_t all = cue.tests.size() < 64 ? bit(cue.tests.size()) - 1 : ~std::uint64_t{0};
    const bool wasAll = state.held == all;  // of a cue that only waits for states
    state.held = held;
    const bool may = mayGoOff(c);
    if (may && isSetOff) return going_.push_back({c, cause, "set off"});
    if (!may) now = 0;
    std::uint64_t why = 0;
    if (cue.any) {
        why = now | risen;
    } else if (happenings == 0) {
        why = allHeld && !wasAll ? held : 0;
    } else if (allHeld) {
        state.latched |= now;
        if (state.latched == happenings) why = happenings | held;
    }
    if (why == 0 || !may) return;
    std::string text;
    for (std::size_t t = 0; t < cue.tests.size(); ++t)
        if ((why & bit(t)) != 0) text += (text.empty() ? "" : "; ") + cue.tests[t].text;
    going_.push_back({c, cause, std::move(text)});
}

void Cues::goOff(std::int32_t c, std::int32_t cause, const std::string& why) {
    const CueAt& cue = set_.cues[at(c)];
    State& state = states_[at(c)];
    ++state.count;
    state.last = step_;
    state.latched = 0;
    stage_.tell(What::WentOff, cue.object, {}, (cue.name.empty() ? "" : cue.name + ": ") + why);
    for (const auto& [other, test] : byCue_[at(c)]) happen(other, test, cause);
    for (std::int32_t d = 0; d < static_cast<std::int32_t>(cue.deeds.size()); ++d) {
        if (end_) return;
        const CueDeed& deed = cue.deeds[at(d)];
        if (deed.delay > 0)
            due_.insert({step_ + deed.delay, order_++, c, d, cause});
        else
            doDeed(deed, cause);
    }
}

void Cues::setValue(std::int32_t p, model::Value value) {
    if (values_[at(p)] == value) return;
    const PropertyAt& property = set_.properties[at(p)];
    values_[at(p)] = std::move(value);
    stage_.became(property, values_[at(p)]);
    stage_.tell(What::Became, property.object, {},
                property.property.name + " = " + model::valueText(property.property, values_[at(p)]));
    for (const auto& [cue, test] : byProperty_[at(p)]) stirred_.insert(cue);
}

void Cues::letBecome(std::int32_t p, const model::Value& value) {
    if (auto fits = model::fitted(set_.properties[at(p)].property, value)) setValue(p, std::move(*fits));
}

void Cues::setGoal(std::int32_t g, GoalState state) {
    GoalState& is = goals_[at(g)];
    if (is == state || is == GoalState::Met || is == GoalState::Missed) return;
    is = state;
    const GoalAt& goal = set_.goals[at(g)];
    stage_.tell(state == GoalState::Set   ? What::GoalSet
                : state == GoalState::Met ? What::GoalMet
                                          : What::GoalMissed,
                goal.object, {}, goal.words);
    for (const auto& [cue, test] : byGoal_[at(g)]) stirred_.insert(cue);
}

/// What acts say is set when they begin or end; what was set meanwhile and is said by none of these stays.
void Cues::setActs(const CueDeed& deed) {
    const bool on = deed.then.does == Does::ActBegins;
    std::vector<bool> now = acts_;
    for (const std::int32_t act : deed.acts) {
        if (now[at(act)] == on) continue;
        now[at(act)] = on;
        stage_.tell(on ? What::ActBegan : What::ActEnded, set_.acts[at(act)].object, {}, {});
    }
    if (now == acts_) return;
    const std::vector<bool> before = std::exchange(acts_, std::move(now));
    for (const ActMember& member : set_.members)
        for (std::size_t v = 0; v < member.values.size(); ++v)
            if (const model::Value& is = member.valueIn(acts_, v); is != member.valueIn(before, v))
                setValue(member.values[v].first, is);
    stage_.obey(acts_, deed.then.seconds);
}

void Cues::arm(std::int32_t c, bool armed) {
    State& state = states_[at(c)];
    if (state.armed == armed) return;
    state.armed = armed;
    state.latched = state.held = 0;
    stage_.tell(armed ? What::Armed : What::Disarmed, set_.cues[at(c)].object, {}, set_.cues[at(c)].name);
    stirred_.insert(c);
}

model::Value Cues::formula(const CueDeed& deed, std::size_t target) const {
    const model::Slot slot = deed.targets[target];
    const PropertyAt& property = set_.properties[at(deed.properties[target])];
    const base::NumberCalled called = [&](std::string_view name) -> std::optional<double> {
        const auto place = set_.propertyOf.find({slot, std::string(name)});
        if (place == set_.propertyOf.end()) return std::nullopt;
        double room = 0;
        const double* number = model::asNumber(values_[at(place->second)], room);
        return number != nullptr ? std::optional(*number) : std::nullopt;
    };
    const auto number =
        base::evaluateQuantity(std::string_view(deed.then.value).substr(1), base::Quantity::Factor, 0, called);
    if (!number) return values_[at(deed.properties[target])];
    auto value = model::fitted(property.property, property.property.type == model::PropertyType::Integer
                                                      ? model::Value{static_cast<std::int64_t>(std::llround(*number))}
                                                      : model::Value{*number});
    return value ? *value : values_[at(deed.properties[target])];
}

void Cues::doDeed(const CueDeed& deed, std::int32_t cause) {
    switch (deed.then.does) {
        case Does::Set:
            for (std::size_t i = 0; i < deed.targets.size(); ++i)
                if (deed.properties[i] >= 0)
                    setValue(deed.properties[i], deed.then.value.starts_with("=") ? formula(deed, i) : deed.values[i]);
            return;
        case Does::Outfit:
            for (const auto& [property, value] : deed.worn) setValue(property, value);
            return stage_.doThis(deed, cause);
        case Does::GoalSet:
        case Does::GoalMet:
        case Does::GoalMissed:
            for (const std::int32_t goal : deed.goals)
                setGoal(goal, deed.then.does == Does::GoalSet   ? GoalState::Set
                              : deed.then.does == Does::GoalMet ? GoalState::Met
                                                                : GoalState::Missed);
            return;
        case Does::ActBegins:
        case Does::ActEnds: return setActs(deed);
        case Does::Arm:
        case Does::Disarm:
            for (const std::int32_t cue : deed.cues) arm(cue, deed.then.does == Does::Arm);
            return;
        case Does::SetOff:
            for (const std::int32_t cue : deed.cues) happen(cue, -1, cause);
            return;
        case Does::Won:
        case Does::Lost:
            end_ = deed;
            due_.clear();
            stage_.tell(deed.then.does == Does::Won ? What::Won : What::Lost, {}, {}, deed.then.next);
            return;
        default: stage_.doThis(deed, cause); return;
    }
}

/// What stirs is judged as all stood when the round began; then what goes off does what it does, in order.
void Cues::rounds() {
    for (int round = 0; !stirred_.empty() && !end_; ++round) {
        if (round == kMostRounds) return stopEndless();
        const std::set<std::int32_t> now = std::move(stirred_);
        stirred_.clear();
        happened_ = std::move(news_);
        news_.clear();
        std::ranges::stable_sort(happened_, {}, &Happened::cue);
        going_.clear();
        for (const std::int32_t cue : now) judge(cue);
        for (const Going& one : going_)
            if (!end_) goOff(one.cue, one.cause, one.why);
    }
}

/// Those that went off last are no longer armed.
void Cues::stopEndless() {
    if (!going_.empty()) {
        const CueAt& first = set_.cues[at(going_.front().cue)];
        stage_.tell(What::Endless, first.object, {}, first.name);
    }
    for (const Going& one : going_) states_[at(one.cue)].armed = false;
    stirred_.clear();
    news_.clear();
}

void Cues::step(int step, const std::vector<Entry>& told, std::size_t from, bool look) {
    step_ = step;
    if (end_) return;
    const std::size_t until = told.size();  // what this step tells of itself is no news
    if (!begun_) {
        begun_ = true;
        look = true;
        for (std::int32_t c = 0; c < static_cast<std::int32_t>(set_.cues.size()); ++c)
            for (std::int32_t t = 0; t < static_cast<std::int32_t>(set_.cues[at(c)].tests.size()); ++t)
                if (set_.cues[at(c)].tests[at(t)].what == When::Start) happen(c, t, -1);
    }
    while (!due_.empty() && due_.begin()->step <= step && !end_) {
        const Due due = *due_.begin();
        due_.erase(due_.begin());
        if (due.deed < 0)
            happen(due.cue, -1 - due.deed, due.cause);
        else
            doDeed(set_.cues[at(due.cue)].deeds[at(due.deed)], due.cause);
    }
    if (end_) return;
    for (std::size_t i = from; i < until; ++i) heed(told[i]);
    if (look) lookAround();
    rounds();
}

void Cues::setOff(std::size_t cue) {
    happen(static_cast<std::int32_t>(cue), -1, -1);
}

}  // namespace rehearse
