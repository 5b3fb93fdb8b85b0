#include "rehearse/trace.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <map>
#include <unordered_map>

namespace rehearse {
namespace {

constexpr std::array<std::string_view, 45> kWords = {
    "began",     "moved",    "came to rest", "bumped", "pushed",   "taken",     "put down", "thrown",  "used",
    "entered",   "left",     "jumped",       "fell",   "hit",      "stood",     "ducked",   "reached", "failed",
    "stopped",   "ended",    "went off",     "became", "appeared", "vanished",  "woke",     "slept",   "said",
    "goal set",  "goal met", "goal missed",  "armed",  "disarmed", "won",       "lost",     "endless", "act began",
    "act ended", "sounds",   "silent",       "passed", "missed",   "wrong way", "lap",      "looks",   "shown by"};

constexpr int kApart = kStepsPerSecond / 10;  // the same entry may come so much earlier or later
constexpr double kElsewhere = 1e-3;           // metres

bool sameEvent(const Entry& a, const Entry& b) {
    return a.what == b.what && a.object == b.object && a.other == b.other && std::abs(a.step - b.step) <= kApart;
}

/// Those of `all` that have no like in `others`.
std::vector<Entry> without(const std::vector<Entry>& all, const std::vector<Entry>& others) {
    std::vector<Entry> left;
    std::vector<bool> used(others.size(), false);
    std::size_t from = 0;
    for (const Entry& entry : all) {
        while (from < others.size() && others[from].step < entry.step - kApart) ++from;
        bool found = false;
        for (std::size_t i = from; i < others.size() && others[i].step <= entry.step + kApart && !found; ++i)
            if (!used[i] && sameEvent(entry, others[i])) used[i] = found = true;
        if (!found) left.push_back(entry);
    }
    return left;
}

/// The first step at which a thing is elsewhere in one of two; -1: never.
int partingOf(const Track& a, const Track& b, int until) {
    std::vector<int> steps;
    for (const Key& key : a.keys) steps.push_back(key.step);
    for (const Key& key : b.keys) steps.push_back(key.step);
    std::sort(steps.begin(), steps.end());
    for (const int step : steps) {
        if (step > until) break;
        if (glm::length(a.at(step).at - b.at(step).at) > kElsewhere) return step;
    }
    return -1;
}

void earlier(int& first, int step) {
    if (step >= 0 && (first < 0 || step < first)) first = step;
}

}  // namespace

std::string_view wordOf(What what) {
    return kWords[static_cast<std::size_t>(what)];
}

std::optional<What> whatOf(std::string_view word) {
    const auto place = std::find(kWords.begin(), kWords.end(), word);
    if (place == kWords.end()) return std::nullopt;
    return static_cast<What>(place - kWords.begin());
}

Pose Track::at(int step) const {
    const auto next = std::upper_bound(keys.begin(), keys.end(), step, [](int s, const Key& k) { return s < k.step; });
    if (next == keys.begin()) return first;
    const Key& before = *std::prev(next);
    if (next == keys.end() || before.step == step) return before.pose;
    const double t = static_cast<double>(step - before.step) / (next->step - before.step);
    return {glm::mix(before.pose.at, next->pose.at, t), glm::slerp(before.pose.turn, next->pose.turn, t)};
}

PathPoint Trace::walkerAt(int step) const {
    const auto next =
        std::upper_bound(path.begin(), path.end(), step, [](int s, const PathPoint& p) { return s < p.step; });
    if (next == path.begin()) return path.empty() ? PathPoint{} : path.front();
    const PathPoint& before = *std::prev(next);
    if (next == path.end()) return before;
    const double t = static_cast<double>(step - before.step) / (next->step - before.step);
    double turn = next->yawDegrees - before.yawDegrees;
    if (turn > 180) turn -= 360;
    if (turn < -180) turn += 360;
    return {step, glm::mix(before.feet, next->feet, t), before.yawDegrees + turn * t,
            glm::mix(before.pitchDegrees, next->pitchDegrees, t)};
}

std::size_t Trace::count(What what) const {
    return static_cast<std::size_t>(
        std::count_if(entries.begin(), entries.end(), [&](const Entry& e) { return e.what == what; }));
}

std::vector<bool> thereAt(const Trace& trace, const Level& level, int step) {
    std::vector<bool> exists, seen(level.things.size(), true);
    std::unordered_map<base::ObjectId, std::size_t> which;
    for (const Thing& thing : level.things) {
        which[thing.id] = exists.size();
        exists.push_back(!thing.absent);
    }
    for (const Entry& e : trace.entries) {
        if (e.step > step) break;
        const auto place = which.find(e.object);
        if (place != which.end() && (e.what == What::Appeared || e.what == What::Vanished))
            (e.note.empty() ? exists : seen)[place->second] = e.what == What::Appeared;
    }
    for (std::size_t i = 0; i < exists.size(); ++i) exists[i] = exists[i] && seen[i];
    return exists;
}

std::string textOf(const Entry& e, const Level& level) {
    const auto name = [&](base::ObjectId id) {
        const std::string is = id ? level.nameOf(id) : std::string();
        return is.empty() ? std::string(id ? "what is gone" : "the walker") : is;
    };
    const std::string object = name(e.object), other = name(e.other);
    const std::string more = e.note.empty() ? std::string() : ": " + e.note;
    switch (e.what) {
        case What::Began: return "Began" + more;
        case What::Moved: return object + " moved" + more;
        case What::Rested: return fmt::format("{} came to rest, {:.2f} m on{}", object, e.amount, more);
        case What::Bumped: return fmt::format("{} bumped into {} at {:.1f} m/s", object, other, e.amount);
        case What::Pushed: return object + " was pushed";
        case What::Taken: return object + " was taken";
        case What::PutDown: return object + " was put down";
        case What::Thrown: return fmt::format("{} was thrown at {:.1f} m/s", object, e.amount);
        case What::Used: return object + " was used" + more;
        case What::Entered: return e.other ? other + " came into " + object : "Entered " + object;
        case What::Left: return e.other ? other + " left " + object : "Left " + object;
        case What::Jumped: return "Jumped";
        case What::Fell: return fmt::format("Fell {:.2f} m", e.amount);
        case What::Hit: return fmt::format("Hit {} at {:.1f} m/s{}", object, e.amount, more);
        case What::Stood: return fmt::format("Stood for {:.0f} s", e.amount);
        case What::Ducked: return "Ducked";
        case What::Reached: return "Reached " + (e.object ? object : e.note);
        case What::Failed: return "Could not go on" + more;
        case What::Stopped: return (e.object ? object : std::string("The walker")) + " was stopped" + more;
        case What::Ended: return "Ended" + more;
        case What::WentOff: return "Cue of " + object + " went off" + more;
        case What::Became: return object + more;
        case What::Appeared: return object + " appeared" + more;
        case What::Vanished: return object + " vanished" + more;
        case What::Woke: return object + " woke";
        case What::FellAsleep: return object + " fell asleep";
        case What::Said: return "“" + e.note + "”";
        case What::GoalSet: return "Goal set: " + (e.note.empty() ? object : e.note);
        case What::GoalMet: return "Goal met: " + (e.note.empty() ? object : e.note);
        case What::GoalMissed: return "Goal missed: " + (e.note.empty() ? object : e.note);
        case What::Armed: return "Cue of " + object + " is armed" + more;
        case What::Disarmed: return "Cue of " + object + " is disarmed" + more;
        case What::Won: return "Won" + (e.note.empty() ? std::string() : "; next " + e.note);
        case What::Lost: return "Lost" + (e.note.empty() ? std::string() : "; next " + e.note);
        case What::ActBegan: return "The act " + object + " began" + more;
        case What::ActEnded: return "The act " + object + " ended" + more;
        case What::SoundBegan: return object + " sounds";
        case What::SoundEnded: return object + " is silent";
        case What::Passed: return fmt::format("{} was passed after {:.2f} s{}", object, e.amount, more);
        case What::Missed: return object + " was missed" + more;
        case What::WrongWay: return object + " was passed the wrong way" + more;
        case What::Lapped: return fmt::format("{} was gone in {:.2f} s{}", object, e.amount, more);
        case What::Dressed: return (e.object ? object : std::string("The scene")) + " looks otherwise" + more;
        case What::Shown: return e.object ? "Shown by " + object : "Seen with one's own eyes";
        case What::Endless: return "Cues set off one another without an end, stopped at " + object + more;
    }
    return {};
}

namespace {

/// Along the routes that were gone in either.
std::vector<StopTimes> stopTimes(const Trace& first, const Trace& second) {
    std::vector<StopTimes> all;
    const auto add = [&](const Trace& trace, std::optional<double> StopTimes::*seconds) {
        std::map<std::pair<base::ObjectId, base::ObjectId>, int> times;
        for (const Entry& e : trace.entries) {
            if (e.what != What::Passed) continue;
            const int time = ++times[{e.object, e.other}];
            auto known = std::ranges::find_if(
                all, [&](const StopTimes& s) { return s.stop == e.object && s.route == e.other && s.time == time; });
            if (known == all.end()) known = all.insert(all.end(), {e.object, e.other, time, {}, {}, e.step});
            (*known).*seconds = e.amount;
        }
    };
    add(second, &StopTimes::second);
    add(first, &StopTimes::first);
    return all;
}

}  // namespace

Parting compare(const Trace& first, const Trace& second) {
    Parting parting;
    const int until = std::min(first.steps, second.steps);
    const auto within = [&](const std::vector<Entry>& all) {
        std::vector<Entry> some;
        for (const Entry& e : all)
            if (e.step <= until && e.what != What::Ended) some.push_back(e);
        return some;
    };
    const std::vector<Entry> a = within(first.entries), b = within(second.entries);
    parting.onlyFirst = without(a, b);
    parting.onlySecond = without(b, a);
    for (const PathPoint& p : first.path) {
        if (p.step > until) break;
        const double apart = glm::length(p.feet - second.walkerAt(p.step).feet);
        if (apart > kElsewhere) earlier(parting.step, p.step);
        if (apart > parting.farthestMetres) {
            parting.farthestMetres = apart;
            parting.farthestStep = p.step;
        }
    }
    std::unordered_map<base::ObjectId, const Track*> others;
    for (const Track& track : second.tracks) others[track.object] = &track;
    for (const Track& track : first.tracks)
        if (const auto place = others.find(track.object); place != others.end())
            earlier(parting.step, partingOf(track, *place->second, until));
    parting.stops = stopTimes(first, second);
    return parting;
}

}  // namespace rehearse
