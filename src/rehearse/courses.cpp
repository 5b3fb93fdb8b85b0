#include "rehearse/courses.h"

#include <cmath>

#include "query/route.h"
#include "rehearse/names.h"

namespace rehearse {

namespace {

enum class Through : std::uint8_t { No, Forwards, Backwards };

/// Through the middle of the volume, from one side to the other.
Through through(const GateAt& gate, const Vec3& from, const Vec3& to) {
    const Vec3 a = gate.into.point(from), b = gate.into.point(to);
    if ((a.z < 0) == (b.z < 0)) return Through::No;
    const Vec3 at = glm::mix(a, b, a.z / (a.z - b.z));
    if (std::abs(at.x) > gate.size.x / 2 || at.y < 0 || at.y > gate.size.y) return Through::No;
    return a.z < 0 ? Through::Forwards : Through::Backwards;
}

bool allows(model::RouteStop::Passed passed, Through way) {
    using Passed = model::RouteStop::Passed;
    return passed == Passed::EitherWay || (passed == Passed::Forwards) == (way == Through::Forwards);
}

}  // namespace

std::vector<CourseAt> coursesOf(const Level& level) {
    std::vector<CourseAt> all;
    const model::Scene& scene = *level.scene;
    for (const Slot s : scene.subtree(model::kNoSlot)) {
        const auto* route = scene.detail(s) ? scene.facet<model::Route>(s) : nullptr;
        if (route == nullptr || route->stops.empty() || level.thingOf[s] == Level::kAbsent) continue;
        const shape::Curve curve = query::curveOf(scene, s);
        if (curve.empty()) continue;
        CourseAt course{scene.id(s), std::string(scene.nameText(s)), {}, route->closed ? route->laps : 1, route->closed,
                        route->tells};
        const auto stops = query::stopsOf(scene, s, curve);
        for (std::size_t i = 0; i < stops.size(); ++i) {
            if (stops[i].slot == model::kNoSlot || level.thingOf[stops[i].slot] == Level::kAbsent) continue;
            const auto into = base::inverse(base::toAffine(query::poseOn(curve, stops[i].metres)));
            if (into)
                course.gates.push_back({route->stops[i].object, std::string(scene.nameText(stops[i].slot)), *into,
                                        route->stops[i].size, route->stops[i].passed});
        }
        if (!course.gates.empty()) all.push_back(std::move(course));
    }
    return all;
}

std::string_view Courses::wordOf(std::size_t course, std::size_t gate) const {
    const State& state = states_[course];
    if (state.isDone || gate < state.next) return "passed";
    return gate == state.next ? "next" : "waiting";
}

void Courses::pass(std::size_t c, std::size_t g, int step, std::vector<Told>& told) {
    const CourseAt& course = all_[c];
    State& state = states_[c];
    if (!state.began) {
        if (g != 0) return;
        state.began = step;
        state.lapBegan = step;
    }
    // Of a closed one the first stop is also where a lap ends, when there is no other.
    if (g < state.next) return;
    const double seconds = (step - *state.began) * kStep;
    for (; state.next < g; ++state.next) {
        told.push_back({Told::Is::Missed, c, state.next, seconds, state.lap});
        ++state.missed;
    }
    told.push_back({Told::Is::Passed, c, g, seconds, state.lap});
    ++state.passed;
    if (++state.next < course.gates.size()) return;
    told.push_back({Told::Is::Lap, c, g, (step - state.lapBegan) * kStep, state.lap});
    state.isDone = state.lap >= course.laps;
    ++state.lap;
    state.next = 0;
    state.lapBegan = step;
}

std::vector<Courses::Told> Courses::step(const Vec3& from, const Vec3& to, int step) {
    std::vector<Told> told;
    for (std::size_t c = 0; c < all_.size(); ++c)
        for (std::size_t g = 0; g < all_[c].gates.size() && !states_[c].isDone; ++g) {
            const Through way = through(all_[c].gates[g], from, to);
            if (way == Through::No) continue;
            if (allows(all_[c].gates[g].passed, way))
                pass(c, g, step, told);
            else if (states_[c].began)
                told.push_back({Told::Is::WrongWay, c, g, (step - *states_[c].began) * kStep, states_[c].lap});
        }
    return told;
}

}  // namespace rehearse
