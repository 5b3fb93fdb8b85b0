#include "model/array.h"

#include <algorithm>
#include <cmath>

#include "base/id.h"
#include "model/facets/array.h"

namespace model {

using base::Vec3;

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
    if (a.shape == Array::Shape::Route && static_cast<std::size_t>(index) < a.places.size()) {
        step.degrees += a.places[static_cast<std::size_t>(index)].turnDegrees;
        step.offset = a.places[static_cast<std::size_t>(index)].at;
    }
    if (index == 0) return step;
    base::Random random(base::mixBits(a.seed) ^ static_cast<std::uint64_t>(index));
    step.offset += Vec3(random.between(-1, 1), 0, random.between(-1, 1)) * a.jitterMetres;
    step.degrees += random.between(-1, 1) * a.jitterDegrees;
    step.size *= 1 + random.between(-1, 1) * a.jitterSize;
    return step;
}

/// The same but for what reckoning makes of numbers.
bool samePose(const base::Transform& a, const base::Transform& b) {
    constexpr double kNear = 1e-6;
    const double far = 1 + glm::length(a.position), large = glm::length(a.scale);
    return glm::length(a.position - b.position) < kNear * far && glm::length(a.scale - b.scale) < kNear * large &&
           std::abs(glm::dot(a.rotation, b.rotation)) > 1 - kNear;
}

/// The places of an array, found by where they are.
class Places {
  public:
    Places(const Array& array, const base::Transform& first) {
        const base::Transform source = sourceOf(array, first);
        for (int i = 0; i < countOf(array); ++i) poses_.push_back(i == 0 ? first : placeInArray(array, i, source));
        for (std::size_t i = 1; i < poses_.size(); ++i) order_.emplace_back(key(poses_[i]), static_cast<int>(i));
        std::sort(order_.begin(), order_.end());
        taken_.assign(poses_.size(), false);
    }
    /// A free place with that pose; 0: none.
    int take(const base::Transform& pose) {
        const double at = key(pose), near = 1e-5 * (1 + std::abs(at));
        for (auto it = std::lower_bound(order_.begin(), order_.end(), std::pair(at - near, 0)); it != order_.end();
             ++it) {
            if (it->first > at + near) return 0;
            if (taken_[static_cast<std::size_t>(it->second)] ||
                !samePose(poses_[static_cast<std::size_t>(it->second)], pose))
                continue;
            taken_[static_cast<std::size_t>(it->second)] = true;
            return it->second;
        }
        return 0;
    }
    /// The next free one after another; past the last when there is none.
    int takeAfter(int before) {
        const auto from = taken_.begin() + std::min<std::ptrdiff_t>(before + 1, std::ssize(taken_));
        auto free = std::find(from, taken_.end(), false);
        if (free == taken_.end() && taken_.size() > 1) free = std::find(taken_.begin() + 1, taken_.end(), false);
        if (free == taken_.end()) return static_cast<int>(taken_.size());
        *free = true;
        return static_cast<int>(free - taken_.begin());
    }

  private:
    /// One number that differs where places differ.
    static double key(const base::Transform& pose) { return glm::dot(pose.position, Vec3(0.6180, 0.3247, 0.7159)); }
    std::vector<base::Transform> poses_;
    std::vector<std::pair<double, int>> order_;
    std::vector<bool> taken_;
};

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

double sizeInArray(const Array& array, int index) {
    return stepOf(array, index).size;
}

base::Transform sourceOf(const Array& a, const base::Transform& first) {
    const Step step = stepOf(a, 0);
    base::Transform source = first;
    source.position = glm::inverse(turnOf(step)) * (first.position - step.offset);
    source.rotation = glm::normalize(glm::inverse(turnOf(step)) * first.rotation);
    return source;
}

std::vector<ArrayMember> membersOf(const Scene& scene, Slot slot) {
    std::vector<ArrayMember> members;
    if (slot == kNoSlot || !scene.facet<model::Array>(slot)) return members;
    for (Slot s = scene.firstChild(slot); s != kNoSlot; s = scene.nextSibling(s)) members.push_back({s});
    if (members.empty()) return members;
    Places places(*scene.facet<model::Array>(slot), scene.local(members.front().slot));
    for (std::size_t i = 1; i < members.size(); ++i) members[i].index = places.take(scene.local(members[i].slot));
    for (std::size_t i = 1; i < members.size(); ++i)
        if (members[i].index == 0) {
            members[i].index = places.takeAfter(members[i - 1].index);
            members[i].astray = true;
        }
    return members;
}

}  // namespace model
