#include "query/settle.h"

#include "query/columns.h"
#include "query/names.h"

namespace query {
namespace {

using base::Vec2;
using base::Vec3;

constexpr double kFree = 1e-6;        // metres: less than this is contact
constexpr double kSlack = 1e-6;       // of a triangle: seams between triangles hold
constexpr double kMostBeside = 0.01;  // metres that a side may overlap another
constexpr double kAround = 0.01;      // metres: what just ends there is seen, too
constexpr int kRounds = 64;

double besideOf(const FallingBody& body) {
    const Vec3 size = body.bounds.size();
    return std::clamp(std::min(size.x, size.z) / 100, 1e-4, kMostBeside);
}

bool sharesColumn(const base::Aabb& a, const base::Aabb& b) {
    return a.low.x <= b.high.x && a.high.x >= b.low.x && a.low.z <= b.high.z && a.high.z >= b.low.z;
}

/// Something that a body may lie in.
struct Obstacle {
    std::vector<Flat> flats;
    double highest = -kNever;
    bool hasUpper = false;  // some of it faces up: else all of it counts as such
};

Obstacle obstacleOf(const std::vector<Triangle>& triangles, const base::Aabb& footprint) {
    Obstacle o;
    for (const Triangle& t : triangles) {
        const Flat f = flatOf(t);
        if (f.faces == 0 || f.high.x < footprint.low.x || f.low.x > footprint.high.x || f.high.y < footprint.low.z ||
            f.low.y > footprint.high.z)
            continue;
        o.highest = std::max(o.highest, f.highest);
        o.hasUpper = o.hasUpper || f.faces > 0;
        o.flats.push_back(f);
    }
    std::sort(o.flats.begin(), o.flats.end(), [](const Flat& a, const Flat& b) { return a.highest > b.highest; });
    return o;
}

/// The surfaces over and under a place, with their heights.
template <class Each>
void eachOver(const std::vector<Flat>& flats, const Columns& columns, const Vec2& at, const Each& each) {
    Flat point;
    point.low = point.high = at;
    columns.each(point, [&](std::span<const std::uint32_t> column) {
        for (const std::uint32_t i : column)
            if (const auto y = heightAt(flats[i], at, kSlack)) each(flats[i], *y);
    });
}

std::vector<Flat> lowestFirst(std::vector<Flat> flats) {
    std::sort(flats.begin(), flats.end(), [](const Flat& a, const Flat& b) { return a.lowest < b.lowest; });
    return flats;
}

/// A body that is lifted bit by bit until it is free.
class Lifted {
  public:
    Lifted(const FallingBody& body, double beside)
        : bounds_(body.bounds), flats_(lowestFirst(flatsOf(body, beside))), columns_(flats_, body.bounds, kManyParts) {
        for (const Flat& f : flats_) hasLower_ = hasLower_ || f.faces < 0;
        sample();
    }
    double rise() const { return rise_; }
    void lift(double metres) { rise_ += metres; }
    base::Aabb bounds() const {
        base::Aabb at = bounds_;
        at.low.y += rise_, at.high.y += rise_;
        return at;
    }
    /// How much higher it must be at least. `open`: nothing at all is below, so that ground above means: buried.
    double needs(const Obstacle& o, bool open) const {
        if (o.highest <= bounds_.low.y + rise_ + kFree) return 0;
        const Columns columns(o.flats, bounds_, kManyParts);
        return std::max(fromSpan(o, columns), fromInside(o, columns, open));
    }

  private:
    static constexpr std::size_t kManyParts = 1u << 20;
    struct Sample {
        Vec2 at;
        double low, high;
    };

    /// Upper faces of the obstacle between the body's lower and upper ones.
    double fromSpan(const Obstacle& o, const Columns& columns) const {
        double more = 0;
        for (const Flat& part : flats_) {
            if (part.lowest + rise_ + std::max(more, kFree) >= o.highest) break;  // all others are higher
            if (part.faces == 0 || (hasLower_ && part.faces > 0)) continue;
            columns.each(part, [&](std::span<const std::uint32_t> column) {
                for (const std::uint32_t i : column) {
                    const Flat& upper = o.flats[i];
                    if (upper.highest - part.lowest - rise_ <= std::max(more, kFree)) return;  // so are all others
                    if ((o.hasUpper && upper.faces < 0) || upper.lowest >= bounds_.high.y + rise_) continue;
                    if (upper.low.x > part.high.x || upper.high.x < part.low.x || upper.low.y > part.high.y ||
                        upper.high.y < part.low.y)
                        continue;
                    eachMeeting(part, upper, [&](const Vec2& at, double own, double surface) {
                        const double over = surface - own - rise_;
                        if (over > std::max(more, kFree) && surface < bounds_.high.y + rise_ &&
                            surface < topAt(at, own) + rise_)
                            more = over;
                    });
                }
            });
        }
        return more;
    }
    /// Places where the body lies inside of it.
    double fromInside(const Obstacle& o, const Columns& columns, bool open) const {
        double more = 0;
        for (const Sample& s : samples_) look(s, o, columns, open, more);
        // What is narrow lies between those: there the middle of what its upper faces share with the body.
        constexpr int kMost = 64;
        int looked = 0;
        for (const Flat& f : o.flats) {
            if ((o.hasUpper && f.faces < 0) || f.highest <= bounds_.high.y + rise_ || ++looked > kMost) continue;
            const Vec2 low = glm::max(f.low, Vec2(bounds_.low.x, bounds_.low.z)),
                       high = glm::min(f.high, Vec2(bounds_.high.x, bounds_.high.z));
            if (low.x < high.x && low.y < high.y)
                if (const auto s = sampleOf((low + high) / 2.0)) look(*s, o, columns, open, more);
        }
        return more;
    }
    void look(const Sample& s, const Obstacle& o, const Columns& columns, bool open, double& more) const {
        const double low = s.low + rise_, high = s.high + rise_;
        if (o.highest <= high - kFree || o.highest - low <= more) return;
        double above = kNever, below = -kNever;
        bool up = false, down = false;
        eachOver(o.flats, columns, s.at, [&](const Flat& f, double y) {
            if (y > high - kFree) {
                if (y < above) above = y, up = f.faces > 0;
            } else if (y > below) {
                below = y, down = f.faces < 0;
            }
        });
        const bool inside = above < kNever && up && (down || (open && below == -kNever));
        if (inside && above - low > std::max(more, kFree)) more = above - low;
    }
    /// The body's own surface above a place of it.
    double topAt(const Vec2& at, double own) const {
        double top = kNever;
        eachOver(flats_, columns_, at, [&](const Flat&, double y) {
            if (y > own + kFree) top = std::min(top, y);
        });
        if (top < kNever) return top;
        return hasLower_ ? bounds_.high.y : own;
    }
    void sample() {
        constexpr int kAcross = 7;
        constexpr std::size_t kCorners = 24;
        const Vec3 size = bounds_.size();
        for (int x = 0; x < kAcross; ++x)
            for (int z = 0; z < kAcross; ++z)
                keep({bounds_.low.x + (x + 0.5) / kAcross * size.x, bounds_.low.z + (z + 0.5) / kAcross * size.z});
        const std::size_t step = std::max<std::size_t>(1, flats_.size() / kCorners);
        for (std::size_t i = 0; i < flats_.size(); i += step)
            for (const Vec2& corner : flats_[i].at) keep(corner);
    }
    void keep(const Vec2& at) {
        if (const auto s = sampleOf(at)) samples_.push_back(*s);
    }
    std::optional<Sample> sampleOf(const Vec2& at) const {
        Sample s{at, kNever, -kNever};
        eachOver(flats_, columns_, at,
                 [&](const Flat&, double y) { s.low = std::min(s.low, y), s.high = std::max(s.high, y); });
        return s.low < kNever ? std::optional(s) : std::nullopt;
    }

    base::Aabb bounds_;
    std::vector<Flat> flats_;
    Columns columns_;
    std::vector<Sample> samples_;
    bool hasLower_ = false;
    double rise_ = 0;
};

/// Everything that a body may lie in, gathered when it comes near.
class Surroundings {
  public:
    Surroundings(const model::Scene& scene, const SceneIndex& index, const SlotFilter& filter, const Settled& settled,
                 bool mirror)
        : scene_(scene), index_(index), filter_(filter), settled_(settled), mirror_(mirror) {}

    std::vector<Obstacle> around(base::Aabb box, double beside) const {
        const base::Aabb footprint = box;
        for (const int axis : {0, 2}) box.low[axis] += beside, box.high[axis] -= beside;
        std::vector<Obstacle> all;
        auto add = [&](std::vector<Triangle> triangles) {
            if (mirror_)
                for (Triangle& t : triangles) {
                    for (Vec3& p : t) p.y = -p.y;
                    std::swap(t[1], t[2]);
                }
            all.push_back(obstacleOf(triangles, footprint));
        };
        base::Aabb looked = box;
        if (mirror_) looked.low.y = -box.high.y, looked.high.y = -box.low.y;
        index_.overlapping(scene_, looked, [&](Slot s) {
            const base::Aabb own = index_.boundsOf(scene_, s);
            const double top = mirror_ ? -own.low.y : own.high.y;
            if (top <= box.low.y + kFree || (filter_ && !filter_(s))) return;
            base::Aabb column = looked;
            column.low.y = std::min(column.low.y, own.low.y) - kAround;
            column.high.y = std::max(column.high.y, own.high.y) + kAround;
            std::vector<Triangle> triangles;
            appendTriangles(scene_, index_, s, column, triangles);
            add(std::move(triangles));
        });
        for (const FallingBody* other : settled_.near(looked))
            if (other->bounds.overlaps(looked)) add(other->triangles);
        return all;
    }
    /// Is there anything straight below (above, when mirrored) its middle?
    bool anyBelow(const base::Aabb& box) const { return from(box, -1).has_value(); }
    /// What is straight above it, if that is the upper side of something: how high.
    std::optional<double> groundAbove(const base::Aabb& box) const {
        const auto hit = from(box, 1);
        if (!hit) return std::nullopt;
        base::Aabb thin = box;
        thin.low.y = thin.high.y = (mirror_ ? -1 : 1) * hit->point.y;
        for (const Obstacle& o : around(thin, 0))
            for (const Flat& f : o.flats)
                if (const auto y = heightAt(f, {box.centre().x, box.centre().z}, kSlack))
                    if (std::abs(*y - thin.low.y) < 1e-3 && (f.faces > 0 || !o.hasUpper)) return *y;
        return std::nullopt;
    }

  private:
    std::optional<SceneHit> from(const base::Aabb& box, int way) const {
        const Vec3 centre = box.centre();
        const double y = way < 0 ? box.low.y : box.high.y, sign = mirror_ ? -1 : 1;
        return index_.pick(scene_, {{centre.x, sign * y, centre.z}, {0, sign * way, 0}}, filter_);
    }
    const model::Scene& scene_;
    const SceneIndex& index_;
    const SlotFilter& filter_;
    const Settled& settled_;
    bool mirror_;
};

FallingBody mirrored(FallingBody body) {
    for (Triangle& t : body.triangles) {
        for (Vec3& p : t) p.y = -p.y;
        std::swap(t[1], t[2]);
    }
    std::swap(body.bounds.low.y, body.bounds.high.y);
    body.bounds.low.y *= -1, body.bounds.high.y *= -1;
    return body;
}

FallingBody raisedBy(FallingBody body, double metres) {
    for (Triangle& t : body.triangles)
        for (Vec3& p : t) p.y += metres;
    body.bounds.low.y += metres, body.bounds.high.y += metres;
    return body;
}

/// How far up it has to go until it is free.
double liftOut(const FallingBody& body, const Surroundings& around, double beside) {
    std::optional<Lifted> lifted;  // made when something is near
    for (int round = 0; round < kRounds; ++round) {
        const auto near = around.around(lifted ? lifted->bounds() : body.bounds, beside);
        double more = 0;
        std::optional<bool> open;
        for (const Obstacle& o : near) {
            if (o.highest <= body.bounds.low.y + (lifted ? lifted->rise() : 0) + kFree) continue;
            if (!lifted) lifted.emplace(body, beside);
            if (!open) open = !around.anyBelow(lifted->bounds());
            more = std::max(more, lifted->needs(o, *open));
        }
        if (more <= kFree) break;
        lifted->lift(more);
    }
    return lifted ? lifted->rise() : 0;
}

constexpr double kCellMetres = 8;
constexpr double kMostCells = 64;

struct CellRange {
    std::int32_t lowX, highX, lowZ, highZ;
};
/// Nothing: it lies over too many.
std::optional<CellRange> cellsOf(const base::Aabb& box) {
    const Vec3 low = glm::floor(box.low / kCellMetres), high = glm::floor(box.high / kCellMetres);
    if (!((high.x - low.x + 1) * (high.z - low.z + 1) <= kMostCells)) return std::nullopt;
    auto whole = [](double n) { return static_cast<std::int32_t>(std::clamp(n, -2e9, 2e9)); };
    return CellRange{whole(low.x), whole(high.x), whole(low.z), whole(high.z)};
}
template <class Each>
void eachCell(const CellRange& cells, const Each& each) {
    for (std::int32_t x = cells.lowX; x <= cells.highX; ++x)
        for (std::int32_t z = cells.lowZ; z <= cells.highZ; ++z)
            each(static_cast<std::uint64_t>(static_cast<std::uint32_t>(x)) << 32 | static_cast<std::uint32_t>(z));
}

}  // namespace

void Settled::add(const FallingBody& body) {
    const auto index = static_cast<std::uint32_t>(bodies_.size());
    bodies_.push_back(&body);
    if (const auto cells = cellsOf(body.bounds))
        eachCell(*cells, [&](std::uint64_t cell) { cells_[cell].push_back(index); });
    else
        wide_.push_back(index);
}

std::vector<const FallingBody*> Settled::near(const base::Aabb& box) const {
    const auto cells = cellsOf(box);
    if (!cells) return bodies_;
    std::vector<std::uint32_t> found = wide_;
    eachCell(*cells, [&](std::uint64_t cell) {
        if (const auto place = cells_.find(cell); place != cells_.end())
            found.insert(found.end(), place->second.begin(), place->second.end());
    });
    std::sort(found.begin(), found.end());
    found.erase(std::unique(found.begin(), found.end()), found.end());
    std::vector<const FallingBody*> bodies;
    for (const std::uint32_t i : found) bodies.push_back(bodies_[i]);
    return bodies;
}

std::optional<double> settle(const FallingBody& body, const model::Scene& scene, const SceneIndex& index,
                             const SlotFilter& filter, Way way, const Settled& settled) {
    if (body.triangles.empty()) return std::nullopt;
    const double beside = besideOf(body);
    const bool down = way == Way::Down;
    const Surroundings around(scene, index, filter, settled, down);
    double up = liftOut(down ? mirrored(body) : body, around, beside);
    if (down && up > 0) up = -up - 10 * kFree;  // clear of it
    std::optional<FallingBody> raised;
    if (up != 0) raised = raisedBy(body, up);
    auto fallen = [&]() -> std::optional<double> {
        const FallingBody& free = raised ? *raised : body;
        auto fall = fallOntoScene(free, scene, index, filter, kFarthestFall, -kFarthestFall, beside);
        for (const FallingBody* other : settled.near(free.bounds))
            if (sharesColumn(free.bounds, other->bounds))
                if (const auto less = fallOnto(free, other->triangles, fall.value_or(kFarthestFall), beside))
                    fall = less;
        return fall;
    };
    auto fall = fallen();
    if (!fall && up == 0) {
        // Nothing below: it may lie under the ground.
        const Surroundings upright(scene, index, filter, settled, false);
        const auto ground = upright.groundAbove(body.bounds);
        if (!ground) return std::nullopt;
        up = *ground - body.bounds.low.y;
        up += liftOut(raisedBy(body, up), upright, beside);
        raised = raisedBy(body, up);
        fall = fallen();
    }
    if (!fall) return std::nullopt;
    return *fall - up;
}

}  // namespace query
