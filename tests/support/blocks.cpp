#include "support/blocks.h"
#include "query/collision.h"

namespace test {

using base::Vec2;
using base::Vec3;

shape::Mesh prismMesh(const std::vector<Vec2>& profile, double depth) {
    shape::Mesh mesh;
    auto triangle = [&](const Vec3& a, const Vec3& b, const Vec3& c) {
        const Vec3 n = glm::normalize(glm::cross(b - a, c - a));
        for (const Vec3& p : {a, b, c}) {
            mesh.indices.push_back(static_cast<std::uint32_t>(mesh.positions.size()));
            mesh.positions.push_back({static_cast<float>(p.x), static_cast<float>(p.y), static_cast<float>(p.z)});
            mesh.normals.push_back({static_cast<float>(n.x), static_cast<float>(n.y), static_cast<float>(n.z)});
        }
    };
    const double half = depth / 2;
    auto at = [&](std::size_t i, double z) {
        return Vec3(profile[i % profile.size()].x, profile[i % profile.size()].y, z);
    };
    for (std::size_t i = 0; i < profile.size(); ++i) {
        triangle(at(i, half), at(i, -half), at(i + 1, -half));
        triangle(at(i, half), at(i + 1, -half), at(i + 1, half));
        if (i > 0 && i + 1 < profile.size()) {
            triangle(at(0, half), at(i, half), at(i + 1, half));
            triangle(at(0, -half), at(i + 1, -half), at(i, -half));
        }
    }
    mesh.materials.emplace_back();
    mesh.submeshes.push_back({0, static_cast<std::uint32_t>(mesh.indices.size()), 0});
    mesh.bounds = shape::boundsOf(mesh);
    return mesh;
}

/// The upper face of a prism alone.
shape::Mesh sheetMesh() {
    shape::Mesh mesh = prismMesh({{-20, -0.4}, {20, 0.4}, {-20, 9}}, 40);
    mesh.indices.resize(6);  // of the first edge: below, so it is turned over
    std::swap(mesh.indices[1], mesh.indices[2]);
    std::swap(mesh.indices[4], mesh.indices[5]);
    mesh.submeshes[0].indexCount = 6;
    mesh.positions.resize(6);
    mesh.normals.resize(6);
    mesh.bounds = shape::boundsOf(mesh);
    return mesh;
}

void Blocks::addItem(const std::string& called, shape::Mesh made) {
    const auto mesh = std::make_shared<const shape::Mesh>(std::move(made));
    model::Item item;
    item.name = item.label = called;
    io::measure(item, *mesh);
    session().putItem(item);
    workspace().meshes[name(called)] = mesh;
    meshes_[name(called)] = std::make_unique<query::MeshIndex>(mesh);
}

Blocks::Blocks() {
    auto addMesh = [&](const char* name, shape::Mesh made) { addItem(name, std::move(made)); };
    auto add = [&](const char* name, const std::vector<Vec2>& profile, double depth) {
        addMesh(name, prismMesh(profile, depth));
    };
    addMesh("sheet", sheetMesh());
    add("cube", {{-0.5, 0}, {0.5, 0}, {0.5, 1}, {-0.5, 1}}, 1);
    add("slab", {{-20, -0.5}, {20, -0.5}, {20, 0}, {-20, 0}}, 40);
    add("ramp", {{0, 0}, {10, 0}, {10, 5}}, 10);
    add("beam", {{-0.1, 0}, {0.1, 0}, {0.1, 0.2}, {-0.1, 0.2}}, 6);
}

base::ObjectId Blocks::put(const std::string& item, const Vec3& at, const Vec3& turn, const Vec3& size,
                           base::ObjectId parent) {
    return add(item, parent, {at, base::fromDegrees(turn), size}, item);
}

query::MeshLookup Blocks::lookup() {
    return [this](base::Name item) -> const query::MeshIndex* {
        return meshes_.contains(item) ? meshes_[item].get() : nullptr;
    };
}

query::Shapes Blocks::shapes() {
    return query::shapesOf(lookup(), query::itemCollisions(session().library(), workspace().parts));
}

query::SceneIndex& Blocks::index() {
    if (!index_) {
        index_ = std::make_unique<query::SceneIndex>(scene(), shapes());
        session().sceneChanged.listen([this](const edit::SceneDelta& d) {
            for (const auto* slots : {&d.created, &d.removed, &d.moved}) index_->touch(*slots);
            index_->touch(query::withBody(scene(), d.detailed));
        });
    }
    return *index_;
}

}  // namespace test
