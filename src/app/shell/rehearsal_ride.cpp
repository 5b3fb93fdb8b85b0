// Carriers on their way along points or routes, and how a route's stops look meanwhile.
#include <algorithm>

#include "app/names.h"
#include "app/shell/editor.h"
#include "app/shell/rehearsal.h"
#include "edit/session.h"
#include "model/facets/points.h"
#include "model/facets/route.h"
#include "query/route.h"

namespace app {

void Rehearsal::ride() {
    if (!editor_.isOpen() || isOn()) return;
    const model::Scene& scene = editor_.scene();
    std::vector<Slot> carriers = scene.find(editor_.selection());
    std::erase(carriers, kNoSlot);
    const auto hasPoints = [&](Slot s) {
        return scene.detail(s) &&
               (scene.facet<model::PointSet>(s) != nullptr || scene.facet<model::Route>(s) != nullptr);
    };
    Slot path = kNoSlot;
    for (const Slot s : carriers)
        if (hasPoints(s)) path = s;
    const bool alone = carriers.size() == 1 && path != kNoSlot && scene.facet<model::Route>(path) != nullptr;
    if (carriers.size() > 1 || alone) std::erase(carriers, path);
    passed_ = stopsToShow(path);
    std::vector<std::pair<Slot, rehearse::Ride>> rides;
    for (const Slot s : carriers)
        if (rehearse::Ride way(scene, s, path); way.hasWay()) rides.emplace_back(s, std::move(way));
    if (rides.empty() && passed_.stops.empty())
        return editor_.say(alone ? tr("This route has no stops that it tells how they are: “Tells its stops” names a "
                                      "property of theirs.")
                                 : tr("Select a carrier that has points, or one and an object with points."));
    rehearse::LevelSources from = sources();
    from.falling.emplace();
    begin(Mode::Riding, std::make_shared<const rehearse::Level>(
                            rehearse::levelOf(std::make_shared<const model::Scene>(scene), from)));
    rides_ = std::move(rides);
    ridden_ = 0;
    Q_EMIT changed();
}

/// Of a route that tells its stops how they are: those whose kind has a property that can be that.
Rehearsal::PassedStops Rehearsal::stopsToShow(Slot path) const {
    PassedStops shown;
    const model::Scene& scene = editor_.scene();
    const auto* route = path != kNoSlot && scene.detail(path) ? scene.facet<model::Route>(path) : nullptr;
    if (route == nullptr || route->tells.empty()) return shown;
    const shape::Curve curve = query::curveOf(scene, path);
    shown.tells = route->tells;
    shown.length = curve.length();
    for (const query::StopAt& stop : query::stopsOf(scene, path, curve)) {
        const model::Kind* kind =
            stop.slot != kNoSlot ? editor_.session().library().kind(scene.kind(stop.slot)) : nullptr;
        const model::Property* property = kind != nullptr ? kind->property(route->tells) : nullptr;
        if (property != nullptr && model::fitted(*property, {std::string("next")}))
            shown.stops.push_back({stop.slot, stop.metres, {}});
    }
    return shown;
}

/// As they look when one has come so far.
void Rehearsal::showPassed(double metres) {
    bool isNext = true;
    for (PassedStops::Stop& stop : passed_.stops) {
        const char* word = stop.metres <= metres ? "passed" : isNext ? "next" : "waiting";
        isNext = isNext && stop.metres <= metres;
        if (stop.word == word) continue;
        copy_->setProperty(stop.slot, passed_.tells, {stop.word = word});
    }
}

/// All at one speed; who has arrived waits for the others, then all begin again.
void Rehearsal::rideOn(double seconds) {
    constexpr double kMetresPerSecond = 2, kStays = 1;
    ridden_ += seconds;
    double longest = passed_.length / kMetresPerSecond;
    for (const auto& [carrier, way] : rides_) longest = std::max(longest, way.metres() / kMetresPerSecond);
    if (ridden_ > longest + kStays) ridden_ = 0;
    for (const auto& [carrier, way] : rides_) {
        const base::Affine motion = way.motionAt(ridden_ * kMetresPerSecond);
        for (const Slot s : level_->scene->subtree(carrier)) copy_->put(s, motion * level_->scene->world(s));
    }
    showPassed(ridden_ * kMetresPerSecond);
    editor_.liveMoved(copy_->take());
    Q_EMIT advanced();
}

}  // namespace app
