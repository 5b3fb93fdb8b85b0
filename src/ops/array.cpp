#include "ops/array.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "edit/follow_arrays.h"
#include "model/facets/array.h"
#include "ops/copies.h"
#include "ops/group.h"
#include "ops/move.h"
#include "ops/names.h"
#include "query/route.h"

namespace ops {

using model::Array;

std::array<Array, 4> usualArrays() {
    std::array<Array, 4> all;
    constexpr std::array<int, 3> kCounts[] = {{6, 1, 1}, {3, 1, 3}, {6, 1, 1}, {6, 1, 1}};
    for (std::size_t i = 0; i < all.size(); ++i) {
        all[i].shape = static_cast<Array::Shape>(i);
        all[i].counts = kCounts[i];
    }
    return all;
}

Status usableArray(const Array& a) {
    auto within = [](double v, double low, double high) { return v >= low && v <= high; };
    double total = 1;
    for (int n : a.counts) {
        if (n < 1) return fail(ErrorCode::BadInput, "An array has at least one object each way.");
        total *= n;
    }
    if (total > kMostCopies)
        return fail(ErrorCode::BadInput,
                    fmt::format("An array has at most {} objects, not {:.0f}.", kMostCopies, total));
    bool fine = within(a.sweepDegrees, -360, 360) && within(a.radiusMetres, 0, 1e5) &&
                within(a.turnDegrees, -360, 360) && within(a.size, 0.1, 10) && within(a.jitterMetres, 0, 1e4) &&
                within(a.fromMetres, 0, 1e5) && within(a.everyMetres, 0, 1e5) && within(a.jitterDegrees, 0, 180) &&
                within(a.jitterSize, 0, 0.9);
    for (int k = 0; k < 3; ++k) fine = fine && within(a.spacing[k], -1e5, 1e5);
    if (!fine) return fail(ErrorCode::BadInput, "A number of the array is out of its range.");
    const double last = std::pow(a.size, model::countOf(a) - 1);
    if (!within(last, 1e-3, 1e3))
        return fail(ErrorCode::BadInput,
                    fmt::format("The last one would be {:.3g} times as large as the first.", last));
    return {};
}

namespace {

/// The cell of a grid that a place is; of others, the place itself and no more.
std::array<int, 3> cellOf(const Array& a, int index) {
    if (a.shape != Array::Shape::Grid) return {index, 0, 0};
    return {index % a.counts[0], index / a.counts[0] % a.counts[1], index / a.counts[0] / a.counts[1]};
}

/// Where a cell comes in an array; -1: it has no such cell.
int indexOf(const Array& a, const std::array<int, 3>& cell) {
    if (a.shape != Array::Shape::Grid) return cell[1] + cell[2] == 0 && cell[0] < a.counts[0] ? cell[0] : -1;
    for (std::size_t k = 0; k < 3; ++k)
        if (cell[k] >= a.counts[k]) return -1;
    return cell[0] + a.counts[0] * (cell[1] + a.counts[1] * cell[2]);
}

/// What stands for each place of an array; zero: nothing yet.
struct Standing {
    Ids all;                    ///< by place
    std::vector<bool> astray;   ///< stays where it was put by hand
    std::vector<bool> emptied;  ///< somebody deleted what stood there
    Ids extra;                  ///< there is no place for these
};

Standing standing(const model::Scene& scene, Slot slot, const Array& before, const Array& now) {
    const auto wanted = static_cast<std::size_t>(model::countOf(now));
    Standing standing{Ids(wanted), std::vector<bool>(wanted, false), std::vector<bool>(wanted, false), {}};
    if (before.shape == now.shape)
        for (int i = 0; i < model::countOf(before); ++i)
            if (const int to = indexOf(now, cellOf(before, i)); to >= 0) standing.emptied[std::size_t(to)] = true;
    for (const model::ArrayMember& member : model::membersOf(scene, slot)) {
        const bool kept = before.shape == now.shape && member.index < model::countOf(before);
        const int to = kept                         ? indexOf(now, cellOf(before, member.index))
                       : member.index < int(wanted) ? member.index
                                                    : -1;
        if (to < 0 || standing.all[std::size_t(to)]) {
            standing.extra.push_back(scene.id(member.slot));
            continue;
        }
        standing.all[std::size_t(to)] = scene.id(member.slot);
        standing.astray[std::size_t(to)] = member.astray;
        standing.emptied[std::size_t(to)] = false;
    }
    return standing;
}

/// "Post ×1.44": what a copy of a row in steps of size is called.
std::string nameBySize(std::string_view first, const Array& array, std::size_t index) {
    return fmt::format("{} ×{:.2f}", base::trimmed(base::splitNumber(first).stem),
                       model::sizeInArray(array, static_cast<int>(index)));
}

/// Copies in steps of size say by how much; names that were given by hand stay.
Status nameBySizes(edit::Draft& draft, const Standing& standing, const Array& array) {
    const model::Scene& scene = draft.scene();
    const std::string first(scene.nameText(scene.find(standing.all.front())));
    const auto stem = base::splitNumber(first).stem;
    Ids copies;
    std::vector<base::Name> names;
    for (std::size_t i = 1; i < standing.all.size(); ++i) {
        if (!standing.all[i]) continue;
        const std::string_view now = scene.nameText(scene.find(standing.all[i]));
        const auto times = now.find(" ×");
        const std::string own =
            times != std::string_view::npos ? std::string(now.substr(0, times)) : base::splitNumber(now).stem;
        if (base::trimmed(own) != base::trimmed(stem)) continue;
        copies.push_back(standing.all[i]);
        names.push_back(draft.session().intern(nameBySize(first, array, i)));
    }
    return copies.empty() ? Status{} : draft.setLabels(model::LabelField::Name, copies, names);
}

/// Copies for the places where nothing stands and nothing was deleted.
Status fill(edit::Draft& draft, Standing& standing) {
    std::vector<std::size_t> empty;
    for (std::size_t i = 1; i < standing.all.size(); ++i)
        if (!standing.all[i] && !standing.emptied[i]) empty.push_back(i);
    if (empty.empty()) return {};
    auto made = copyMany(draft, standing.all.front(), empty.size());
    if (!made) return tl::unexpected(made.error());
    for (std::size_t i = 0; i < empty.size(); ++i) standing.all[empty[i]] = (*made)[i];
    return {};
}

/// Which one is it an array of, and may it be changed?
base::Result<Slot> arrayAt(const model::Scene& scene, ObjectId id) {
    const Slot slot = scene.find(id);
    if (slot == kNoSlot || !scene.facet<model::Array>(slot)) return fail(ErrorCode::NotFound, "This is no array.");
    Ids children;
    for (Slot s = scene.firstChild(slot); s != kNoSlot; s = scene.nextSibling(s)) children.push_back(scene.id(s));
    if (children.empty())
        return fail(ErrorCode::NotFound, fmt::format("“{}” has nothing to repeat.", scene.nameText(slot)));
    if (Status allowed = refuseMoving(scene, children, "moved or removed by its array"); !allowed)
        return tl::unexpected(allowed.error());
    return slot;
}

/// The places of one along the route that it lies below, and how many there are.
Status layAlong(const model::Scene& scene, Slot slot, Array& array) {
    const Slot parent = scene.parent(slot);
    const auto* route = parent != kNoSlot && scene.detail(parent) ? scene.facet<model::Route>(parent) : nullptr;
    if (route == nullptr)
        return fail(ErrorCode::BadInput, fmt::format("“{}” lies below no route to be along.", scene.nameText(slot)));
    const shape::Curve curve = query::curveOf(*route, base::Affine{});
    if (curve.empty()) return fail(ErrorCode::BadInput, "The route has no length yet.");
    // A route that has become shorter has fewer, and none beyond its end.
    const double from = std::min(array.fromMetres, curve.length());
    const double rest = curve.isClosed() ? curve.length() : curve.length() - from;
    double count = array.counts[0];
    if (array.everyMetres > 0) count = std::floor(rest / array.everyMetres + 1e-9) + (curve.isClosed() ? 0 : 1);
    count = std::clamp(count, 1.0, static_cast<double>(kMostCopies));
    const double parts = curve.isClosed() ? count : count - 1;
    const double step = array.everyMetres > 0 ? array.everyMetres : parts > 0 ? rest / parts : 0;
    array.counts = {static_cast<int>(count), 1, 1};
    array.places.clear();
    for (double i = 0; i < count; ++i) {
        const base::Transform on = query::poseOn(curve, from + i * step);
        const Vec3 ahead = on.rotation * Vec3(0, 0, 1);
        model::ArrayPlace& place = array.places.emplace_back();
        place.at = on.position;
        if (array.turned) place.turnDegrees = base::degrees(std::atan2(ahead.x, ahead.z));
    }
    return {};
}

/// Puts what stands for each place there.
Status place(edit::Draft& draft, const Standing& standing, const Array& before, const Array& array) {
    const model::Scene& scene = draft.scene();
    const base::Transform first = scene.local(scene.find(standing.all.front()));
    const base::Transform source = model::sourceOf(before, first);
    Ids ids;
    std::vector<base::Transform> poses;
    for (std::size_t i = 0; i < standing.all.size(); ++i) {
        if (!standing.all[i] || standing.astray[i]) continue;
        if (Status on = draft.goOn(); !on) return on;
        const base::Transform pose = model::placeInArray(array, static_cast<int>(i), source);
        // The first one stays as it is, to the last digit, unless the numbers put it elsewhere.
        if (i == 0 && pose == model::placeInArray(before, 0, source)) continue;
        ids.push_back(standing.all[i]);
        poses.push_back(pose);
    }
    return ids.empty() ? Status{} : draft.setTransforms(ids, poses);
}

}  // namespace

Status setArray(edit::Draft& draft, ObjectId id, const Array& wanted) {
    if (!draft.state()) return draft.state();
    const model::Scene& scene = draft.scene();
    const auto slot = arrayAt(scene, id);
    if (!slot) return tl::unexpected(slot.error());
    Array array = wanted;
    if (array.shape != Array::Shape::Route)
        array.places.clear();
    else if (Status along = layAlong(scene, *slot, array); !along)
        return along;
    if (Status fine = usableArray(array); !fine) return fine;
    const Array before = *scene.facet<model::Array>(*slot);
    Standing all = standing(scene, *slot, before, array);
    if (!all.extra.empty())
        if (Status gone = draft.remove(all.extra); !gone) return gone;
    if (Status filled = fill(draft, all); !filled) return filled;
    if (Status placed = place(draft, all, before, array); !placed) return placed;
    if (array.size != 1 || before.size != 1)
        if (Status named = nameBySizes(draft, all, array); !named) return named;
    auto detail = std::make_shared<model::Detail>(*scene.detail(scene.find(id)));
    detail->put(array);
    const model::DetailPtr value = std::move(detail);
    return draft.setDetails({&id, 1}, {&value, 1});
}

ArrayOddities arrayOddities(const model::Scene& scene, Slot slot) {
    ArrayOddities odd;
    const auto members = model::membersOf(scene, slot);
    if (members.empty()) return odd;
    odd.missing = std::max(0, model::countOf(*scene.facet<model::Array>(slot)) - static_cast<int>(members.size()));
    for (std::size_t i = 1; i < members.size(); ++i)
        if (members[i].astray || !edit::isAlike(scene, members[0].slot, members[i].slot))
            odd.changed.push_back(scene.id(members[i].slot));
    return odd;
}

bool isOddCopy(const model::Scene& scene, Slot slot) {
    const Slot array = scene.parent(slot);
    if (array == kNoSlot || !scene.facet<model::Array>(array)) return false;
    const auto members = model::membersOf(scene, array);
    const auto self = std::find_if(members.begin() + 1, members.end(),
                                   [&](const model::ArrayMember& member) { return member.slot == slot; });
    return self != members.end() && (self->astray || !edit::isAlike(scene, members[0].slot, slot));
}

Status alikeArray(edit::Draft& draft, std::span<const ObjectId> ids) {
    if (!draft.state()) return draft.state();
    const model::Scene& scene = draft.scene();
    bool any = false;
    for (ObjectId id : ids) {
        const auto slot = arrayAt(scene, id);
        if (!slot && slot.error().code == ErrorCode::NotFound) continue;
        if (!slot) return tl::unexpected(slot.error());
        any = true;
        const Array array = *scene.facet<model::Array>(*slot);
        Standing all = standing(scene, *slot, array, array);
        for (ObjectId copy : arrayOddities(scene, *slot).changed)
            if (Status like = edit::makeAlike(draft, all.all.front(), copy); !like) return like;
        all.emptied.assign(all.all.size(), false);
        all.astray.assign(all.all.size(), false);
        if (Status filled = fill(draft, all); !filled) return filled;
        if (Status placed = place(draft, all, array, array); !placed) return placed;
        if (array.size != 1)
            if (Status named = nameBySizes(draft, all, array); !named) return named;
    }
    return any ? Status{} : fail(ErrorCode::NotFound, "No array is selected.");
}

std::vector<ArrayGrip> arrayGrips(const model::Scene& scene, Slot slot) {
    using Pulls = ArrayGrip::Pulls;
    if (slot == kNoSlot || !scene.facet<model::Array>(slot)) return {};
    if (scene.firstChild(slot) == kNoSlot) return {};
    if (scene.facet<model::Array>(slot)->shape == Array::Shape::Route) return {};  // pulled by the route's
    const Array& a = *scene.facet<model::Array>(slot);
    const base::Affine& own = scene.world(slot);
    const Vec3 first = scene.local(scene.firstChild(slot)).position, through = own.point(first);
    std::vector<ArrayGrip> grips;
    if (a.shape == Array::Shape::Ring) {
        grips.push_back({Pulls::Radius, 0, through, own.translation, {}});
        const base::Transform source = model::sourceOf(a, scene.local(scene.firstChild(slot)));
        Array plain = a;  // where the next one stands, not where chance puts it
        plain.jitterMetres = 0;
        plain.counts[0] = std::max(2, a.counts[0]);
        grips.push_back(
            {Pulls::Count, 0, own.point(model::placeInArray(plain, 1, source).position), own.translation, {}});
        return grips;
    }
    const bool grid = a.shape == Array::Shape::Grid;
    for (int k = 0; k < (grid ? 3 : 1); ++k) {
        Vec3 step = a.spacing;
        if (grid) step = step * base::Mat3(1.0)[k];
        const Vec3 along = own.linear * step;
        if (glm::length(along) < 1e-9) continue;
        const int count = a.counts[static_cast<std::size_t>(k)];
        grips.push_back({Pulls::Count, k, through + along * double(count), through, glm::normalize(along)});
        if (count > 1)
            grips.push_back({Pulls::Spacing, k, through + along, through, grid ? glm::normalize(along) : Vec3(0.0)});
    }
    return grips;
}

Array pulledArray(const model::Scene& scene, Slot slot, const ArrayGrip& grip, const Vec3& to, double stepMetres) {
    Array a = *scene.facet<model::Array>(slot);
    const auto into = base::inverse(scene.world(slot));
    if (!into) return a;
    const auto axis = static_cast<std::size_t>(grip.axis);
    const Vec3 way = into->point(to) - into->point(grip.through);
    const bool grid = a.shape == Array::Shape::Grid;
    auto count = [&](double wanted) {
        int others = 1;
        for (std::size_t k = 0; grid && k < 3; ++k)
            if (k != axis) others *= a.counts[k];
        int most = kMostCopies / others;
        // A size that grows or shrinks from one to the next ends where setArray() would refuse.
        if (a.size != 1) most = std::min(most, int(std::log(1e3) / std::abs(std::log(a.size))));
        a.counts[axis] = static_cast<int>(std::clamp(std::round(wanted), 1.0, double(std::max(most, 1))));
    };
    if (grip.pulls == ArrayGrip::Pulls::Radius) {
        a.radiusMetres = std::clamp(snapped(std::hypot(way.x, way.z), stepMetres), 0.0, 1e5);
    } else if (a.shape == Array::Shape::Ring) {
        const Vec3 first = scene.local(scene.firstChild(slot)).position;
        const double angle = std::abs(std::atan2(way.x, way.z) - std::atan2(first.x, first.z));
        const double between = std::clamp(base::degrees(std::min(angle, 2 * base::kPi - angle)), 0.05, 180.0);
        const double sweep = std::abs(a.sweepDegrees);
        count(sweep / between + (sweep >= 360 ? 0 : 1));
    } else if (grip.pulls == ArrayGrip::Pulls::Count) {
        const Vec3 step = grid ? a.spacing * base::Mat3(1.0)[grip.axis] : a.spacing;
        count(glm::dot(way, step) / glm::dot(step, step));
    } else if (grid) {
        const double length = snapped(std::abs(way[grip.axis]), stepMetres);
        a.spacing[grip.axis] = std::copysign(std::clamp(length, std::max(stepMetres, 0.01), 1e5), way[grip.axis]);
    } else if (const double length = glm::length(way); length > 1e-9) {
        a.spacing = way / length * std::clamp(snapped(length, stepMetres), std::max(stepMetres, 0.01), 1e5);
    }
    return a;
}

namespace {

/// Puts an array's group into the middle of a ring through the object in it, which stays where it is.
Status goRound(edit::Draft& draft, ObjectId group, ObjectId unit, const Vec3& middle, Array& array) {
    const model::Scene& scene = draft.scene();
    const base::Affine stands = scene.world(scene.find(unit));
    const Slot slot = scene.find(group), parent = scene.parent(slot);
    const auto into = parent == kNoSlot ? std::optional(base::Affine{}) : base::inverse(scene.world(parent));
    if (!into) return fail(ErrorCode::BadInput, "Its group has no size.");
    const Vec3 out = into->point(stands.translation) - into->point(middle);
    array.radiusMetres = std::hypot(out.x, out.z);
    if (array.radiusMetres < 1e-6)
        return fail(ErrorCode::BadInput, "The middle of the ring is where the object stands: pick another point.");
    base::Transform pose;
    pose.position = into->point(middle);
    pose.position.y = scene.local(slot).position.y;
    pose.rotation = glm::angleAxis(std::atan2(out.x, out.z), Vec3(0, 1, 0));
    if (Status set = draft.setTransforms({&group, 1}, {&pose, 1}); !set) return set;
    const auto back = base::inverse(scene.world(scene.find(group)));
    const base::Affine own = *back * stands;
    if (base::hasShear(own)) return fail(ErrorCode::BadInput, "It would have to be sheared to stay as it is.");
    const base::Transform local = base::toTransform(own);
    return draft.setTransforms({&unit, 1}, {&local, 1});
}

}  // namespace

Result<ObjectId> makeArray(edit::Draft& draft, std::span<const ObjectId> ids, const Array& array,
                           const std::optional<Vec3>& about) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    if (Status fine = usableArray(array); !fine) return tl::unexpected(fine.error());
    const Ids tops = topmost(draft.scene(), ids);
    ObjectId unit = tops.empty() ? ObjectId{} : tops.front();
    if (tops.size() > 1) {
        auto grouped = group(draft, tops, groupName(draft.scene(), tops));
        if (!grouped) return grouped;
        unit = *grouped;
    }
    const auto word = array.shape == Array::Shape::Ring ? "Ring" : array.shape == Array::Shape::Grid ? "Grid" : "Row";
    std::string name = "Array";
    if (const Slot s = draft.scene().find(unit); s != kNoSlot)
        name = fmt::format("{} of {}", word, draft.scene().nameText(s));
    auto made = group(draft, {&unit, 1}, name);
    if (!made) return made;
    Array numbers = array;
    if (about)
        if (Status turned = goRound(draft, *made, unit, *about, numbers); !turned)
            return tl::unexpected(turned.error());
    auto detail = std::make_shared<model::Detail>();
    detail->put(about ? numbers : Array{});
    detail->edit<model::Array>().counts = {1, 1, 1};  // as it is: one
    const model::DetailPtr value = std::move(detail);
    if (Status set = draft.setDetails({&*made, 1}, {&value, 1}); !set) return tl::unexpected(set.error());
    if (Status set = setArray(draft, *made, numbers); !set) return tl::unexpected(set.error());
    return made;
}

Status followRoutes(edit::Draft& draft, std::span<const ObjectId> routes) {
    const model::Scene& scene = draft.scene();
    for (const ObjectId id : routes) {
        const Slot way = scene.find(id);
        if (way == kNoSlot || !scene.detail(way) || scene.facet<model::Route>(way) == nullptr) continue;
        Ids arrays;
        for (Slot s = scene.firstChild(way); s != kNoSlot; s = scene.nextSibling(s)) {
            const auto* array = scene.detail(s) ? scene.facet<Array>(s) : nullptr;
            if (array != nullptr && array->shape == Array::Shape::Route && scene.firstChild(s) != kNoSlot)
                arrays.push_back(scene.id(s));
        }
        for (const ObjectId array : arrays)
            if (Status laid = setArray(draft, array, Array(*scene.facet<Array>(scene.find(array)))); !laid) return laid;
    }
    return {};
}

Status bakeArray(edit::Draft& draft, std::span<const ObjectId> ids) {
    if (!draft.state()) return draft.state();
    Ids arrays;
    std::vector<model::DetailPtr> details;
    for (ObjectId id : ids) {
        const Slot s = draft.scene().find(id);
        if (s == kNoSlot || !draft.scene().facet<model::Array>(s)) continue;
        model::Detail detail = *draft.scene().detail(s);
        detail.drop<model::Array>();
        arrays.push_back(id);
        details.push_back(detail.empty() ? nullptr : std::make_shared<const model::Detail>(std::move(detail)));
    }
    if (arrays.empty()) return fail(ErrorCode::NotFound, "No array is selected.");
    return draft.setDetails(arrays, details);
}

}  // namespace ops
