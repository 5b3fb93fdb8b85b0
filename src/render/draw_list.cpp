#include "render/draw_list.h"

#include "model/facets/tint.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace render {

using model::Scene;
using model::Slot;

namespace {

constexpr int kMostCells = 64;

double radiusOf(const base::Aabb& box) {
    return glm::length(box.size()) / 2;
}

}  // namespace

Instance instanceOf(const base::Affine& world, const Vec3& eye, std::uint32_t tint, std::uint32_t shade) {
    Instance instance;
    for (int row = 0; row < 3; ++row) {
        for (int column = 0; column < 3; ++column)
            instance.rows[row * 4 + column] = static_cast<float>(world.linear[column][row]);
        instance.rows[row * 4 + 3] = static_cast<float>(world.translation[row] - eye[row]);
    }
    std::memcpy(instance.tint, &tint, 4);
    std::memcpy(instance.shade, &shade, 4);
    return instance;
}

std::uint32_t shadeOf(const Vec3& tint) {
    std::uint32_t shade = 0xFF000000;
    for (int k = 0; k < 3; ++k) shade |= static_cast<std::uint32_t>(std::lround(std::sqrt(tint[k]) * 255)) << (8 * k);
    return shade;
}

void showCollision(DrawList& list, const model::Library& library, const std::function<base::Name(base::Name)>& bodyOf) {
    constexpr std::uint32_t kSlate = 0xFFB4A090u;
    std::vector<std::pair<base::Name, std::vector<Instance>>> bodies;
    for (auto& [name, instances] : list.meshes) {
        using model::CollisionShape;
        const model::Item* item = library.item(name);
        if (item == nullptr)  // a body of its own
            for (Instance& one : instances) std::memcpy(one.tint, &kSlate, 4);
        if (item == nullptr || item->collision == CollisionShape::Mesh || instances.empty()) continue;
        if (item->collision != CollisionShape::Box && item->collision != CollisionShape::None) {
            for (Instance& one : instances) std::memcpy(one.tint, &kSlate, 4);
            bodies.emplace_back(bodyOf(name), std::move(instances));
        }
        if (item->collision == model::CollisionShape::Box)
            for (Instance box : instances) {
                // The world's map after the one from the unit cube to the item's bounds.
                for (std::size_t row = 0; row < 3; ++row) {
                    float* r = box.rows + row * 4;
                    for (int k = 0; k < 3; ++k) r[3] += r[k] * static_cast<float>(item->bounds.low[k]);
                    for (int k = 0; k < 3; ++k) r[k] *= static_cast<float>(item->bounds.size()[k]);
                }
                std::memcpy(box.tint, &kSlate, 4);
                list.boxes.push_back(box);
            }
        instances.clear();
    }
    for (auto& [name, instances] : bodies) {
        auto& all = list.meshes[name];
        all.insert(all.end(), instances.begin(), instances.end());
    }
}

double latticeSpacing(double metresPerPixel) {
    double spacing = 0.01;
    for (bool by5 = true; spacing < metresPerPixel * 12; by5 = !by5) spacing *= by5 ? 5 : 2;
    return spacing;
}

std::size_t DrawCells::cellAt(const base::Vec3& p) const {
    const base::Vec3 size = glm::max(whole_.size(), base::Vec3(1e-6));
    const int x = std::clamp(static_cast<int>((p.x - whole_.low.x) / size.x * side_), 0, side_ - 1);
    const int z = std::clamp(static_cast<int>((p.z - whole_.low.z) / size.z * side_), 0, side_ - 1);
    return static_cast<std::size_t>(z) * static_cast<std::size_t>(side_) + static_cast<std::size_t>(x);
}

void DrawCells::put(const Scene& scene, Slot slot) {
    const base::Aabb& box = scene.bounds(slot);
    if (box.empty()) return;
    const std::size_t index = cellAt(box.centre());
    Cell& cell = cells_[index];
    cellOf_[slot] = static_cast<std::uint32_t>(index) + 1;
    placeIn_[slot] = static_cast<std::uint32_t>(cell.slots.size());
    cell.slots.push_back(slot);
    cell.bounds.add(box);
    cell.largest = std::max(cell.largest, radiusOf(box));
}

void DrawCells::drop(Slot slot) {
    if (slot >= cellOf_.size() || cellOf_[slot] == 0) return;
    Cell& cell = cells_[cellOf_[slot] - 1];
    const Slot last = cell.slots.back();
    cell.slots[placeIn_[slot]] = last;
    placeIn_[last] = placeIn_[slot];
    cell.slots.pop_back();
    cellOf_[slot] = 0;
}

void DrawCells::build(const Scene& scene) {
    whole_ = {};
    std::size_t count = 0;
    for (Slot s = 0; s < scene.slotEnd(); ++s) {
        if (!scene.alive(s) || scene.bounds(s).empty()) continue;
        whole_.add(scene.bounds(s).centre());
        ++count;
    }
    side_ = std::clamp(static_cast<int>(std::sqrt(static_cast<double>(count) / 48.0)), 1, kMostCells);
    cells_.assign(static_cast<std::size_t>(side_) * static_cast<std::size_t>(side_), {});
    cellOf_.assign(scene.slotEnd(), 0);
    placeIn_.assign(scene.slotEnd(), 0);
    for (Slot s = 0; s < scene.slotEnd(); ++s)
        if (scene.alive(s)) put(scene, s);
}

void DrawCells::touch(const Scene& scene, std::span<const Slot> slots) {
    if (cells_.empty()) return build(scene);
    if (cellOf_.size() < scene.slotEnd()) {
        cellOf_.resize(scene.slotEnd() + 256, 0);
        placeIn_.resize(scene.slotEnd() + 256, 0);
    }
    for (Slot s : slots) {
        drop(s);
        if (scene.alive(s)) put(scene, s);
    }
}

void DrawList::clear() {
    for (auto& [item, list] : meshes) list.clear();
    boxes.clear();
    points.clear();
    drawn = 0;
}

namespace {

constexpr std::uint32_t kNoShade = 0xFFFFFFFF;

/// An object's own tint, as instances take it.
std::uint32_t shadeOf(const Scene& scene, Slot s, const OtherLook* look) {
    const auto& detail = scene.detail(s);
    const bool own = detail && detail->get<model::Tint>(), other = look != nullptr && look->tint;
    if (!own && !other) return kNoShade;
    return render::shadeOf((own ? detail->get<model::Tint>()->colour : Vec3(1.0)) * (other ? *look->tint : Vec3(1.0)));
}

/// A colour, each part times another's; both are roots of linear ones.
std::uint32_t shaded(std::uint32_t colour, std::uint32_t shade) {
    if (shade == kNoShade) return colour;
    std::uint32_t result = colour & 0xFF000000;
    for (int at = 0; at < 24; at += 8) result |= ((colour >> at & 0xFF) * (shade >> at & 0xFF) / 255) << at;
    return result;
}

/// Adds one object as mesh, box or point, by its size in the picture.
struct Collector {
    const Scene& scene;
    Vec3 eye;
    query::Frustum frustum;
    bool flat;
    double pixelsAtOne, mesh, box, point;
    const DrawCells::ColourOf& colourOf;
    const std::function<std::uint32_t(Slot)>& tintOf;
    const OtherLooks& looks;
    DrawList& out;

    Collector(const Scene& s, const Camera& camera, const Viewport& viewport, const Detail& detail,
              const DrawCells::ColourOf& colours, const std::function<std::uint32_t(Slot)>& tints,
              const OtherLooks& otherLooks, DrawList& list)
        : scene(s),
          eye(camera.eye),
          frustum(camera.frustum(viewport)),
          flat(camera.isFlat()),
          pixelsAtOne(flat ? 2 * viewport.height / camera.heightMetres  // of a radius of a metre, at a metre
                           : viewport.height / std::tan(base::radians(camera.verticalDegrees) / 2)),
          mesh(detail.mesh * detail.bias),
          box(detail.box * detail.bias),
          point(detail.point * detail.bias),
          colourOf(colours),
          tintOf(tints),
          looks(otherLooks),
          out(list) {}

    double pixelsOf(const Vec3& centre, double radius) const {
        return flat ? radius * pixelsAtOne : radius * pixelsAtOne / std::max(glm::length(centre - eye) - radius, 0.1);
    }
    base::Affine poseOf(Slot s, const OtherLook* look) const {
        base::Affine pose = scene.world(s);
        if (look != nullptr && look->turnDegrees != 0)
            pose.linear = pose.linear * glm::mat3_cast(glm::angleAxis(base::radians(look->turnDegrees), Vec3(0, 1, 0)));
        return pose;
    }
    void add(Slot s, double pixels) const {
        const base::Aabb& bounds = scene.bounds(s);
        const auto other = looks.empty() ? looks.end() : looks.find(s);
        const OtherLook* look = other != looks.end() ? &other->second : nullptr;
        if (look != nullptr && look->hidden) return;
        ++out.drawn;
        const base::Name item = look != nullptr && look->item ? look->item : scene.item(s);
        if (pixels >= mesh) {
            out.meshes[item].push_back(instanceOf(poseOf(s, look), eye, tintOf(s), shadeOf(scene, s, look)));
        } else if (pixels >= box) {
            base::Affine cube;
            for (int i = 0; i < 3; ++i) cube.linear[i][i] = bounds.size()[i];
            cube.translation = bounds.low;
            out.boxes.push_back(instanceOf(cube, eye, shaded(colourOf(item), shadeOf(scene, s, look))));
        } else {
            const Vec3 at = bounds.centre() - eye;
            FarPoint p{static_cast<float>(at.x),
                       static_cast<float>(at.y),
                       static_cast<float>(at.z),
                       static_cast<float>(radiusOf(bounds) * 0.6),
                       {}};
            const std::uint32_t colour = shaded(colourOf(item), shadeOf(scene, s, look));
            std::memcpy(p.colour, &colour, 4);
            out.points.push_back(p);
        }
    }
};

}  // namespace

void DrawCells::collect(const Scene& scene, const Camera& camera, const Viewport& viewport, const Detail& detail,
                        const ColourOf& colourOf, const std::function<std::uint32_t(Slot)>& tintOf,
                        const std::function<bool(Slot)>& hidden, const OtherLooks& looks, DrawList& out) const {
    out.clear();
    const Collector collector(scene, camera, viewport, detail, colourOf, tintOf, looks, out);
    struct Seen {
        double distance;
        const Cell* cell;
        query::Side side;
    };
    std::vector<Seen> seen;
    for (const Cell& cell : cells_) {
        if (cell.slots.empty()) continue;
        const query::Side side = query::sideOf(collector.frustum, cell.bounds);
        if (side == query::Side::Outside) continue;
        const Vec3 nearest = glm::clamp(camera.eye, cell.bounds.low, cell.bounds.high);
        const double distance = std::max(glm::length(nearest - camera.eye), 0.1);
        const double largest = cell.largest * collector.pixelsAtOne / (collector.flat ? 1.0 : distance);
        if (largest >= collector.point) seen.push_back({distance, &cell, side});
    }
    // Near ones first: what lies behind them is not shaded.
    std::sort(seen.begin(), seen.end(), [](const Seen& a, const Seen& b) { return a.distance < b.distance; });
    for (const auto& [distance, cell, side] : seen) {
        for (Slot s : cell->slots) {
            const base::Aabb& bounds = scene.bounds(s);
            const double pixels = collector.pixelsOf(bounds.centre(), radiusOf(bounds));
            if (pixels < collector.point) continue;
            if (side == query::Side::Crossing && query::sideOf(collector.frustum, bounds) == query::Side::Outside)
                continue;
            if (!hidden(s)) collector.add(s, pixels);
        }
    }
}

void DrawCells::collectOnly(const Scene& scene, std::span<const Slot> slots, const Camera& camera,
                            const Viewport& viewport, const Detail& detail, const ColourOf& colourOf,
                            const std::function<std::uint32_t(Slot)>& tintOf, const OtherLooks& looks, DrawList& out) {
    const Collector collector(scene, camera, viewport, detail, colourOf, tintOf, looks, out);
    for (Slot s : slots) {
        if (!scene.alive(s) || scene.bounds(s).empty()) continue;
        const base::Aabb& bounds = scene.bounds(s);
        if (query::sideOf(collector.frustum, bounds) == query::Side::Outside) continue;
        const double pixels = collector.pixelsOf(bounds.centre(), radiusOf(bounds));
        if (pixels >= collector.point) collector.add(s, pixels);
    }
}

}  // namespace render
