#include "ops/array.h"

#include <fmt/format.h>

#include <cmath>

#include "base/text.h"
#include "ops/copies.h"
#include "ops/group.h"
#include "ops/move.h"

namespace ops {

using base::ErrorCode;
using base::fail;
using base::ObjectId;
using base::Result;
using base::Status;
using base::Vec3;
using model::Array;
using model::kNoSlot;
using model::Slot;

namespace {

/// A turn about up, a size and a place: what the array does to the first object.
struct Step {
    Vec3 offset{0.0};
    double degrees = 0, size = 1;
};

base::Quat turnOf(const Step& step) {
    return glm::angleAxis(base::radians(step.degrees), Vec3(0, 1, 0));
}

Step stepOf(const Array& a, int index) {
    Step step;
    step.degrees = a.turnDegrees * index;
    step.size = std::pow(a.size, index);
    if (a.shape == Array::Shape::Row) step.offset = a.spacing * static_cast<double>(index);
    if (a.shape == Array::Shape::Grid) {
        const int x = index % a.counts[0], y = index / a.counts[0] % a.counts[1], z = index / a.counts[0] / a.counts[1];
        step.offset = a.spacing * Vec3(x, y, z);
    }
    if (a.shape == Array::Shape::Ring) {
        const int parts = std::abs(a.sweepDegrees) >= 360 ? a.counts[0] : std::max(a.counts[0] - 1, 1);
        const double angle = a.sweepDegrees * index / parts;
        step.degrees += angle;
        step.offset = glm::angleAxis(base::radians(angle), Vec3(0, 1, 0)) * Vec3(0, 0, a.radiusMetres);
    }
    if (index == 0) return step;
    base::Random random(base::mixBits(a.seed) ^ static_cast<std::uint64_t>(index));
    step.offset += Vec3(random.between(-1, 1), 0, random.between(-1, 1)) * a.jitterMetres;
    step.degrees += random.between(-1, 1) * a.jitterDegrees;
    step.size *= 1 + random.between(-1, 1) * a.jitterSize;
    return step;
}

/// Where the first object stood before the array put it where it is.
base::Transform sourceOf(const Array& a, const base::Transform& first) {
    const Step step = stepOf(a, 0);
    base::Transform source = first;
    source.position = glm::inverse(turnOf(step)) * (first.position - step.offset);
    source.rotation = glm::normalize(glm::inverse(turnOf(step)) * first.rotation);
    return source;
}

Status checked(const Array& a) {
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
                within(a.jitterDegrees, 0, 180) && within(a.jitterSize, 0, 0.9);
    for (int k = 0; k < 3; ++k) fine = fine && within(a.spacing[k], -1e5, 1e5);
    if (!fine) return fail(ErrorCode::BadInput, "A number of the array is out of its range.");
    const double last = std::pow(a.size, countOf(a) - 1);
    if (!within(last, 1e-3, 1e3))
        return fail(ErrorCode::BadInput,
                    fmt::format("The last one would be {:.3g} times as large as the first.", last));
    return {};
}

Ids childrenOf(const model::Scene& scene, Slot slot) {
    Ids children;
    for (Slot s = scene.firstChild(slot); s != kNoSlot; s = scene.nextSibling(s)) children.push_back(scene.id(s));
    return children;
}

/// Copies of a row in steps of size say by how much.
Status nameBySize(edit::Draft& draft, const Ids& children, const Array& array) {
    const auto stem = base::splitNumber(draft.scene().nameText(draft.scene().find(children.front()))).stem;
    Ids copies;
    std::vector<base::Name> names;
    for (std::size_t i = 1; i < children.size(); ++i) {
        copies.push_back(children[i]);
        const std::string text = fmt::format("{} ×{:.2f}", stem.substr(0, stem.find_last_not_of(' ') + 1),
                                             std::pow(array.size, static_cast<double>(i)));
        names.push_back(draft.session().intern(text));
    }
    return copies.empty() ? Status{} : draft.setLabels(model::LabelField::Name, copies, names);
}

}  // namespace

int countOf(const Array& array) {
    return array.shape == Array::Shape::Grid ? array.counts[0] * array.counts[1] * array.counts[2] : array.counts[0];
}

base::Transform placeInArray(const Array& array, int index, const base::Transform& source) {
    const Step step = stepOf(array, index);
    base::Transform pose = source;
    pose.position = step.offset + turnOf(step) * (source.position * step.size);
    pose.rotation = glm::normalize(turnOf(step) * source.rotation);
    pose.scale = source.scale * step.size;
    return pose;
}

Status setArray(edit::Draft& draft, ObjectId id, const Array& array) {
    if (!draft.state()) return draft.state();
    if (Status fine = checked(array); !fine) return fine;
    const model::Scene& scene = draft.scene();
    const Slot slot = scene.find(id);
    if (slot == kNoSlot || !scene.detail(slot) || !scene.detail(slot)->array)
        return fail(ErrorCode::NotFound, "This is no array.");
    Ids children = childrenOf(scene, slot);
    if (children.empty())
        return fail(ErrorCode::NotFound, fmt::format("“{}” has nothing to repeat.", scene.nameText(slot)));
    if (Status allowed = refuseMoving(scene, children, "moved or removed by its array"); !allowed) return allowed;
    const Array before = *scene.detail(slot)->array;
    const base::Transform first = scene.local(scene.find(children.front()));
    const base::Transform source = sourceOf(before, first);
    const auto wanted = static_cast<std::size_t>(countOf(array));
    if (children.size() > wanted) {
        const Ids extra(children.begin() + static_cast<std::ptrdiff_t>(wanted), children.end());
        if (Status gone = draft.remove(extra); !gone) return gone;
        children.resize(wanted);
    }
    if (children.size() < wanted) {
        auto made = copyMany(draft, children.front(), wanted - children.size());
        if (!made) return tl::unexpected(made.error());
        children.insert(children.end(), made->begin(), made->end());
    }
    std::vector<base::Transform> poses{first};
    const Step stays = stepOf(before, 0), goes = stepOf(array, 0);
    if (stays.offset != goes.offset || stays.degrees != goes.degrees) poses[0] = placeInArray(array, 0, source);
    for (std::size_t i = 1; i < wanted; ++i) {
        if (Status on = draft.goOn(); !on) return on;
        poses.push_back(placeInArray(array, static_cast<int>(i), source));
    }
    if (Status posed = draft.setTransforms(children, poses); !posed) return posed;
    if (array.size != 1 || before.size != 1)
        if (Status named = nameBySize(draft, children, array); !named) return named;
    auto detail = std::make_shared<model::Detail>(*scene.detail(scene.find(id)));
    detail->array = array;
    const model::DetailPtr value = std::move(detail);
    return draft.setDetails({&id, 1}, {&value, 1});
}

std::vector<ArrayGrip> arrayGrips(const model::Scene& scene, Slot slot) {
    using Pulls = ArrayGrip::Pulls;
    if (slot == kNoSlot || !scene.detail(slot) || !scene.detail(slot)->array) return {};
    if (scene.firstChild(slot) == kNoSlot) return {};
    const Array& a = *scene.detail(slot)->array;
    const base::Affine& own = scene.world(slot);
    const Vec3 first = scene.local(scene.firstChild(slot)).position, through = own.point(first);
    std::vector<ArrayGrip> grips;
    if (a.shape == Array::Shape::Ring) {
        grips.push_back({Pulls::Radius, 0, through, own.translation, {}});
        const base::Transform source = sourceOf(a, scene.local(scene.firstChild(slot)));
        Array plain = a;  // where the next one stands, not where chance puts it
        plain.jitterMetres = 0;
        plain.counts[0] = std::max(2, a.counts[0]);
        grips.push_back({Pulls::Count, 0, own.point(placeInArray(plain, 1, source).position), own.translation, {}});
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
    Array a = *scene.detail(slot)->array;
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

Result<ObjectId> makeArray(edit::Draft& draft, std::span<const ObjectId> ids, const Array& array) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    if (Status fine = checked(array); !fine) return tl::unexpected(fine.error());
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
    auto detail = std::make_shared<model::Detail>();
    detail->array.emplace().counts = {1, 1, 1};  // as it is: one
    const model::DetailPtr value = std::move(detail);
    if (Status set = draft.setDetails({&*made, 1}, {&value, 1}); !set) return tl::unexpected(set.error());
    if (Status set = setArray(draft, *made, array); !set) return tl::unexpected(set.error());
    return made;
}

Status bakeArray(edit::Draft& draft, std::span<const ObjectId> ids) {
    if (!draft.state()) return draft.state();
    Ids arrays;
    std::vector<model::DetailPtr> details;
    for (ObjectId id : ids) {
        const Slot s = draft.scene().find(id);
        if (s == kNoSlot || !draft.scene().detail(s) || !draft.scene().detail(s)->array) continue;
        model::Detail detail = *draft.scene().detail(s);
        detail.array.reset();
        arrays.push_back(id);
        details.push_back(detail.empty() ? nullptr : std::make_shared<const model::Detail>(std::move(detail)));
    }
    if (arrays.empty()) return fail(ErrorCode::NotFound, "No array is selected.");
    return draft.setDetails(arrays, details);
}

}  // namespace ops
