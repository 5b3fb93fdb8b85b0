#include "render/draw_list.h"

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

Instance instanceOf(const base::Affine& world, const Vec3& eye, std::uint32_t tint) {
    Instance instance;
    for (int row = 0; row < 3; ++row) {
        for (int column = 0; column < 3; ++column)
            instance.rows[row * 4 + column] = static_cast<float>(world.linear[column][row]);
        instance.rows[row * 4 + 3] = static_cast<float>(world.translation[row] - eye[row]);
    }
    std::memcpy(instance.tint, &tint, 4);
    return instance;
}

std::size_t DrawCells::cellAt(const base::Vec3& p) const {
    const base::Vec3 size = glm::max(whole_.size(), base::Vec3(1e-6));
    const int x = std::clamp(static_cast<int>((p.x - whole_.low.x) / size.x * side_), 0, side_ - 1);
    const int z = std::clamp(static_cast<int>((p.z - whole_.low.z) / size.z * side_), 0, side_ - 1);
    return static_cast<std::size_t>(z * side_ + x);
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
    cells_.assign(static_cast<std::size_t>(side_ * side_), {});
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

void DrawCells::collect(const Scene& scene, const Camera& camera, const Viewport& viewport, const Detail& detail,
                        const ColourOf& colourOf, const std::function<std::uint32_t(Slot)>& tintOf,
                        const std::function<bool(Slot)>& hidden, DrawList& out) const {
    for (auto& [item, list] : out.meshes) list.clear();
    out.boxes.clear();
    out.points.clear();
    out.drawn = 0;
    const query::Frustum frustum = camera.frustum(viewport);
    const double pixelsAtOne =
        viewport.height / std::tan(base::radians(camera.verticalDegrees) / 2);  // of a radius of 1 m at 1 m
    const double mesh = detail.mesh * detail.bias, box = detail.box * detail.bias, point = detail.point * detail.bias;
    for (const Cell& cell : cells_) {
        if (cell.slots.empty()) continue;
        const query::Side side = query::sideOf(frustum, cell.bounds);
        if (side == query::Side::Outside) continue;
        const Vec3 nearest = glm::clamp(camera.eye, cell.bounds.low, cell.bounds.high);
        const double cellDistance = std::max(glm::length(nearest - camera.eye), 0.1);
        if (cell.largest * pixelsAtOne / cellDistance < point) continue;
        for (Slot s : cell.slots) {
            const base::Aabb& bounds = scene.bounds(s);
            const Vec3 centre = bounds.centre();
            const double radius = radiusOf(bounds);
            const double pixels = radius * pixelsAtOne / std::max(glm::length(centre - camera.eye) - radius, 0.1);
            if (pixels < point) continue;
            if (side == query::Side::Crossing && query::sideOf(frustum, bounds) == query::Side::Outside) continue;
            if (hidden(s)) continue;
            ++out.drawn;
            const base::Name item = scene.item(s);
            if (pixels >= mesh) {
                out.meshes[item].push_back(instanceOf(scene.world(s), camera.eye, tintOf(s)));
            } else if (pixels >= box) {
                base::Affine cube;
                for (int i = 0; i < 3; ++i) cube.linear[i][i] = bounds.size()[i];
                cube.translation = bounds.low;
                out.boxes.push_back(instanceOf(cube, camera.eye, colourOf(item)));
            } else {
                FarPoint p{static_cast<float>(centre.x - camera.eye.x),
                           static_cast<float>(centre.y - camera.eye.y),
                           static_cast<float>(centre.z - camera.eye.z),
                           static_cast<float>(radius * 0.6),
                           {}};
                const std::uint32_t colour = colourOf(item);
                std::memcpy(p.colour, &colour, 4);
                out.points.push_back(p);
            }
        }
    }
}

}  // namespace render
