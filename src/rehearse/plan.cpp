#include "rehearse/plan.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

#include "base/text.h"
#include "rehearse/names.h"

namespace rehearse {
namespace {

using base::ErrorCode;

constexpr std::string_view kPlanHead = "mellow-walk 1";
constexpr std::array<std::string_view, 9> kOrders = {"go",    "run",  "use",  "take", "put",
                                                     "throw", "wait", "look", "jump"};
constexpr double kNear = 0.35;  // metres: so near one is there
constexpr double kTurn = 420;   // degrees a second that it turns
constexpr int kGivesUp = 60 * kStepsPerSecond;
constexpr std::size_t kMostOrders = 100'000;

std::vector<double> numbersIn(std::string_view text) {
    std::vector<double> all;
    for (const std::string_view word : base::split(text, ' ')) {
        if (word.empty()) continue;
        double value = 0;
        const auto [end, error] = std::from_chars(word.data(), word.data() + word.size(), value);
        if (error != std::errc() || end != word.data() + word.size() || !(std::abs(value) <= 1e7)) return {};
        all.push_back(value);
    }
    return all;
}

/// The object that is called so, letters in either case: the first that can be used or taken, else the first in order.
Slot named(const Level& level, std::string_view name) {
    Slot first = model::kNoSlot;
    for (const Slot s : level.scene->subtree(model::kNoSlot)) {
        if (!base::sameFolded(level.scene->nameText(s), name)) continue;
        const std::int32_t index = level.thingOf[s];
        if (index >= 0) {
            const Thing& thing = level.things[static_cast<std::size_t>(index)];
            if (thing.slot == s && (thing.use || thing.isLoose())) return s;
        }
        if (first == model::kNoSlot) first = s;
    }
    return first;
}

/// Where an object is by now, and the middle of it.
struct Target {
    base::ObjectId id;
    Vec3 foot{0.0}, middle{0.0};
    std::int32_t thing = -1;
};
std::optional<Target> targetOf(const Run& run, const Order& order) {
    Target target;
    if (order.place) {
        target.foot = target.middle = *order.place;
        return target;
    }
    const Level& level = run.level();
    const Slot slot = named(level, order.name);
    if (slot == model::kNoSlot) return std::nullopt;
    target.id = level.scene->id(slot);
    const base::Aabb box = placeOf(*level.scene, slot);
    target.thing = level.thingOf[slot];
    const base::Affine motion =
        target.thing >= 0 ? run.world().motion(static_cast<std::size_t>(target.thing)) : base::Affine{};
    target.foot = motion.point(box.baseCentre());
    target.middle = motion.point(box.centre());
    if (const model::Zone* zone = level.scene->facet<model::Zone>(slot);
        zone != nullptr && level.scene->bounds(slot).empty())
        target.middle = target.foot + Vec3(0, std::min(zone->size.y / 2, 1.0), 0);
    return target;
}

}  // namespace

std::string textOf(const Order& order) {
    std::string text(kOrders[static_cast<std::size_t>(order.does)]);
    if (!order.name.empty()) text += " " + order.name;
    if (order.place)
        text += fmt::format(" {} {} {}", base::shortest(order.place->x), base::shortest(order.place->y),
                            base::shortest(order.place->z));
    if (order.does == Order::Does::Wait) text += " " + base::shortest(order.seconds);
    return text;
}

base::Result<Plan> planFrom(std::string_view text) {
    Plan plan;
    bool begun = false;
    int number = 0;
    const auto wrong = [&](const std::string& why) {
        return base::fail(ErrorCode::BadInput, fmt::format("Line {} of the walk: {}", number, why));
    };
    for (const std::string& line : base::linesOf(text)) {
        ++number;
        const std::string_view trimmed = base::trimmed(line);
        if (trimmed.empty() || trimmed.front() == '#') continue;
        if (!begun) {
            if (trimmed != kPlanHead) return wrong(fmt::format("“{}” was expected.", kPlanHead));
            begun = true;
            continue;
        }
        const std::size_t space = trimmed.find(' ');
        const std::string_view word = trimmed.substr(0, space);
        const std::string rest(space == std::string_view::npos ? std::string_view()
                                                               : base::trimmed(trimmed.substr(space)));
        const std::vector<double> numbers = numbersIn(rest);
        if (word == "scene") {
            plan.scene = rest;
            continue;
        }
        if (word == "name") {
            plan.name = rest;
            continue;
        }
        if (word == "start") {
            if (numbers.size() != 4) return wrong("start wants a place and the way one faces: four numbers.");
            plan.start = Start{{}, {numbers[0], numbers[1], numbers[2]}, numbers[3]};
            continue;
        }
        const auto place = std::find(kOrders.begin(), kOrders.end(), word);
        if (place == kOrders.end())
            return wrong(fmt::format("“{}” is no order; go, run, use, take, put, throw, wait, look and jump are.",
                                     base::forTerminal(word.substr(0, 40))));
        Order order;
        order.does = static_cast<Order::Does>(place - kOrders.begin());
        order.line = number;
        const bool alone =
            order.does == Order::Does::Put || order.does == Order::Does::Throw || order.does == Order::Does::Jump;
        if (alone != rest.empty())
            return wrong(fmt::format("“{}” {}.", word, alone ? "stands alone" : "wants a name or a place"));
        if (order.does == Order::Does::Wait) {
            if (numbers.size() != 1 || numbers[0] < 0 || numbers[0] > 3600)
                return wrong("wait wants seconds, up to an hour.");
            order.seconds = numbers[0];
        } else if (numbers.size() == 3) {
            order.place = Vec3(numbers[0], numbers[1], numbers[2]);
        } else {
            order.name = rest;
        }
        if (order.place && (order.does == Order::Does::Use || order.does == Order::Does::Take))
            return wrong(fmt::format("“{}” wants the name of an object.", word));
        if (plan.orders.size() >= kMostOrders) return wrong("There are over 100,000 orders.");
        plan.orders.push_back(std::move(order));
    }
    if (!begun) return wrong(fmt::format("“{}” was expected.", kPlanHead));
    return plan;
}

void Pilot::fail(Run& run, const std::string& why) {
    failed_ = true;
    const Order& order = plan_.orders[at_];
    run.note(What::Failed, {}, fmt::format("line {}, “{}”: {}", order.line, textOf(order), why));
    at_ = plan_.orders.size();
}

void Pilot::done(Run& run, base::ObjectId object, const std::string& what) {
    if (!what.empty()) run.note(What::Reached, object, what);
    ++at_;
    begun_ = false;
}

/// True: one looks there.
bool Pilot::turnTo(const Run& run, const Vec3& place, Input& input) {
    const Vec3 way = place - run.player().eye;
    const double flat = std::hypot(way.x, way.z);
    const double yaw = flat > 1e-6 ? base::degrees(std::atan2(way.x, -way.z)) : degrees(yaw_);
    const double pitch = std::clamp(base::degrees(std::atan2(way.y, flat)), -89.0, 89.0);
    const auto most = static_cast<std::int32_t>(kTurn * kStep * 100);
    const std::int32_t left = hundredths(yaw - degrees(yaw_)),
                       up = static_cast<std::int32_t>(std::lround(pitch * 100)) - pitch_;
    yaw_ = hundredths(degrees(yaw_ + std::clamp(left, -most, most)));
    pitch_ += std::clamp(up, -most, most);
    input.yaw = yaw_;
    input.pitch = pitch_;
    return std::abs(left) <= most && std::abs(up) <= most;
}

/// True: one is there.
bool Pilot::goTo(Run& run, const Vec3& place, double near, Input& input) {
    const Vec3 feet = run.player().footing.feet;
    const auto away = [&](const Vec3& p) { return std::hypot(p.x - feet.x, p.z - feet.z); };
    if (away(place) <= near && std::abs(place.y - feet.y) < 2.5) return true;
    const bool moved = glm::length(place - wanted_) > 1.0;
    if (way_.empty() || moved) {
        const auto way = ground_->way(feet, place);
        if (!way) {
            fail(run, "there is no way over the ground from where one is.");
            return false;
        }
        way_ = *way;
        corner_ = 1;
        wanted_ = place;
        stuckAt_ = feet;
        stuck_ = 0;
    }
    while (corner_ + 1 < way_.size() && away(way_[corner_]) < kNear) ++corner_;
    const Vec3 next = way_[std::min(corner_, way_.size() - 1)];
    if (corner_ + 1 >= way_.size() && away(next) < std::max(near, 0.15)) return true;
    (void)turnTo(run, next + Vec3(0, run.player().eye.y - feet.y, 0), input);
    // Towards the corner, wherever one looks by now.
    const double yaw = base::radians(degrees(input.yaw)), wish = std::atan2(next.x - feet.x, -(next.z - feet.z));
    input.ahead = static_cast<std::int16_t>(std::lround(100 * std::cos(wish - yaw)));
    input.side = static_cast<std::int16_t>(std::lround(100 * std::sin(wish - yaw)));
    if (++stuck_ >= kStepsPerSecond) {
        stuck_ = 0;
        if (glm::length(feet - stuckAt_) < 0.15) {
            if (++tries_ > 4) {
                fail(run, fmt::format("something is in the way at {:.1f}, {:.1f}, {:.1f}.", feet.x, feet.y, feet.z));
                return false;
            }
            input.keys |= Input::Jump;
            way_.clear();
        } else {
            tries_ = 0;
        }
        stuckAt_ = feet;
    }
    return false;
}

/// What is done with a thing, once one is near and looks at it. True: it was.
bool Pilot::act(Run& run, const Order& order, Input& input) {
    const auto target = targetOf(run, order);
    if (!target || target->thing < 0) {
        fail(run, target ? "it can be neither used nor taken." : "there is no such object.");
        return false;
    }
    const bool uses = order.does == Order::Does::Use;
    const double reach = run.level().walker.reach;
    const auto focused = [&] {
        const Focus focus = run.focus();
        return focus.thing == target->thing && (uses ? focus.canUse : focus.canTake);
    };
    if (focused() && since_ > 0) {
        input.yaw = yaw_;
        input.pitch = pitch_;
        input.keys = uses ? Input::Use : Input::Take;
        return true;
    }
    if (glm::length(target->middle - run.player().eye) > reach * 1.1 || since_ > 2 * kStepsPerSecond) {
        const auto ground = ground_->nearest(target->foot, reach, 3);
        if (!ground) {
            fail(run, "there is no ground to stand on near it.");
            return false;
        }
        if (!goTo(run, *ground, since_ > 2 * kStepsPerSecond ? 0.2 : reach * 0.6, input)) return false;
    }
    if (turnTo(run, target->middle, input) && since_ > 4 * kStepsPerSecond) {
        const Focus focus = run.focus();
        fail(run, focus.thing >= 0 ? fmt::format("“{}” is in front of it.", focus.name)
                                   : std::string("it is out of reach."));
    }
    return false;
}

Input Pilot::next(Run& run) {
    Input input;
    if (at_ == 0 && !begun_) yaw_ = hundredths(run.player().yawDegrees);
    input.yaw = yaw_;
    input.pitch = pitch_;
    if (isDone()) return input;
    const Order& order = plan_.orders[at_];
    if (!begun_) {
        begun_ = true;
        since_ = 0;
        tries_ = 0;
        way_.clear();
    }
    ++since_;
    if (since_ > kGivesUp && order.does != Order::Does::Wait) {
        fail(run, "it took over a minute.");
        return input;
    }
    const bool goes = order.does == Order::Does::Go || order.does == Order::Does::Run ||
                      order.does == Order::Does::Use || order.does == Order::Does::Take;
    if (goes && ground_ == nullptr) {
        fail(run, "the ground is not known.");
        return input;
    }
    switch (order.does) {
        case Order::Does::Wait:
            if (since_ >= order.seconds * kStepsPerSecond) done(run, {}, "");
            break;
        case Order::Does::Jump:
            if (since_ == 1) input.keys = Input::Jump;
            if (since_ > 12 && (run.player().footing.onGround || since_ > 2 * kStepsPerSecond)) done(run, {}, "");
            break;
        case Order::Does::Put:
        case Order::Does::Throw:
            if (run.player().holds < 0 && since_ == 1) {
                fail(run, "nothing is in the hand.");
                break;
            }
            if (since_ == 2) input.keys = order.does == Order::Does::Put ? Input::Take : Input::Throw;
            if (since_ > 3) done(run, {}, "");
            break;
        case Order::Does::Go:
        case Order::Does::Run:
        case Order::Does::Look: {
            const auto target = targetOf(run, order);
            if (!target) {
                fail(run, "there is no such object.");
                break;
            }
            if (order.does == Order::Does::Look) {
                if (turnTo(run, target->middle, input)) done(run, {}, "");
                break;
            }
            const auto ground = ground_->nearest(target->foot, 2.5, 3);
            if (!ground) {
                fail(run, "there is no ground to stand on near it.");
                break;
            }
            if (goTo(run, *ground, kNear, input)) done(run, target->id, textOf(order));
            if (order.does == Order::Does::Run) input.keys |= Input::Run;
            break;
        }
        case Order::Does::Use:
        case Order::Does::Take:
            if (act(run, order, input)) done(run, {}, "");
            break;
    }
    return input;
}

base::Result<Walked> follow(std::shared_ptr<const Level> level, const Plan& plan, const Ground* ground,
                            double mostSeconds, base::Progress* progress) {
    Start start;
    if (plan.start)
        start = *plan.start;
    else if (!level->starts.empty())
        start = level->starts.front();
    else
        return base::fail(ErrorCode::BadInput, "There is no start: place one, or let the walk say where it begins.");
    Run run(std::move(level), start);
    Pilot pilot(plan, ground);
    const int most = static_cast<int>(mostSeconds * kStepsPerSecond);
    Input still;  // until one stands
    still.yaw = hundredths(start.yawDegrees);
    for (int i = 0; i < kStepsPerSecond / 4; ++i) run.step(still);
    while (!pilot.isDone() && run.steps() < most) {
        if (progress != nullptr && progress->cancelled()) return base::fail(ErrorCode::Cancelled, "Cancelled.");
        run.step(pilot.next(run));
        if (progress != nullptr) progress->add(1.0 / most);
    }
    const bool finished = pilot.isDone() && !pilot.failed();
    run.end(finished ? "" : pilot.failed() ? "the walk could not go on" : "the time was up");
    Walked walked{run.trace(), run.inputs(), finished};
    walked.inputs.name = plan.name;
    return walked;
}

}  // namespace rehearse
