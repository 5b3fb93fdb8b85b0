#include "modelling.h"

#include <cmath>
#include <cstdlib>
#include <cstring>

namespace demo {

std::array<float, 4> linearColour(const char* hex) {
    std::array<float, 4> colour{0, 0, 0, 1};
    const long value = std::strtol(hex + 1, nullptr, 16);
    for (int i = 0; i < 3; ++i) {
        const double c = static_cast<double>((value >> (16 - 8 * i)) & 255) / 255.0;
        const double linear = c <= 0.04045 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4);
        colour[static_cast<std::size_t>(i)] = static_cast<float>(std::round(linear * 1e4) / 1e4);
    }
    return colour;
}

void Model::at(const Vec3& offset, const Work& work) {
    const base::Affine before = place_;
    place_ = place_ * base::toAffine({offset});
    work();
    place_ = before;
}

void Model::turned(const Vec3& degrees, const Work& work) {
    const base::Affine before = place_;
    base::Transform t;
    t.rotation = base::fromDegrees(degrees);
    place_ = place_ * base::toAffine(t);
    work();
    place_ = before;
}

std::size_t Model::paintIndex(Paint paint) {
    for (std::size_t i = 0; i < paints_.size(); ++i)
        if (std::strcmp(paints_[i].name, paint.name) == 0) return i;
    paints_.push_back(paint);
    return paints_.size() - 1;
}

void Model::triangle(Paint paint, const Vec3& a, const Vec3& b, const Vec3& c) {
    if (glm::length(glm::cross(b - a, c - a)) < 1e-9) return;
    faces_.push_back({paintIndex(paint), place_.point(a), place_.point(b), place_.point(c)});
}

void Model::quad(Paint paint, const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
    triangle(paint, a, b, c);
    triangle(paint, a, c, d);
}

void Model::box(Paint paint, const Vec3& low, const Vec3& high) {
    tapered(paint, low, high, {0, 0});
}

void Model::tapered(Paint paint, const Vec3& l, const Vec3& h, const Vec2& i) {
    const Vec3 a(l.x, l.y, l.z), b(h.x, l.y, l.z), c(h.x, l.y, h.z), d(l.x, l.y, h.z);
    const Vec3 e(l.x + i.x, h.y, l.z + i.y), f(h.x - i.x, h.y, l.z + i.y), g(h.x - i.x, h.y, h.z - i.y),
        k(l.x + i.x, h.y, h.z - i.y);
    quad(paint, a, b, c, d);
    quad(paint, e, k, g, f);
    quad(paint, d, c, g, k);
    quad(paint, b, a, e, f);
    quad(paint, c, b, f, g);
    quad(paint, a, d, k, e);
}

void Model::column(Paint paint, double r0, double r1, double low, double high, int sides) {
    auto ring = [&](double r, double y, int i) {
        const double angle = 2 * base::kPi * i / sides;
        return Vec3(r * std::cos(angle), y, -r * std::sin(angle));
    };
    for (int i = 0; i < sides; ++i) {
        quad(paint, ring(r0, low, i), ring(r0, low, i + 1), ring(r1, high, i + 1), ring(r1, high, i));
        triangle(paint, Vec3(0, high, 0), ring(r1, high, i), ring(r1, high, i + 1));
        triangle(paint, Vec3(0, low, 0), ring(r0, low, i + 1), ring(r0, low, i));
    }
}

void Model::roof(Paint slope, Paint gable, const Vec3& l, const Vec3& h) {
    const double z = (l.z + h.z) / 2;
    const Vec3 a(l.x, l.y, h.z), b(h.x, l.y, h.z), c(h.x, h.y, z), d(l.x, h.y, z), e(l.x, l.y, l.z), f(h.x, l.y, l.z);
    quad(slope, a, b, c, d);
    quad(slope, f, e, d, c);
    triangle(gable, b, f, c);
    triangle(gable, e, a, d);
    quad(gable, e, f, b, a);
}

void Model::blob(Paint paint, const Vec3& centre, const Vec3& radius, double rough, std::uint64_t seed, int rings,
                 int sides) {
    base::Random random(seed);
    std::vector<std::vector<Vec3>> points(static_cast<std::size_t>(rings) + 1,
                                          std::vector<Vec3>(static_cast<std::size_t>(sides)));
    for (int i = 0; i <= rings; ++i)
        for (int k = 0; k < sides; ++k) {
            const double up = base::kPi * (i / static_cast<double>(rings) - 0.5);
            const double round = 2 * base::kPi * (k + 0.5 * (i % 2)) / sides;
            const double jitter = i == 0 || i == rings ? 1.0 : 1.0 + random.between(-rough, rough);
            points[static_cast<std::size_t>(i)][static_cast<std::size_t>(k)] =
                centre +
                radius * jitter * Vec3(std::cos(up) * std::cos(round), std::sin(up), -std::cos(up) * std::sin(round));
        }
    for (int i = 0; i < rings; ++i)
        for (int k = 0; k < sides; ++k) {
            const auto here = static_cast<std::size_t>(i), up = here + 1, k0 = static_cast<std::size_t>(k);
            const auto k1 = static_cast<std::size_t>((k + 1) % sides);
            quad(paint, points[here][k0], points[here][k1], points[up][k1], points[up][k0]);
        }
}

void Model::prism(Paint paint, const std::vector<Vec2>& p, double low, double high) {
    for (std::size_t i = 0; i < p.size(); ++i) {
        const Vec2& a = p[i];
        const Vec2& b = p[(i + 1) % p.size()];
        quad(paint, {a.x, a.y, high}, {a.x, a.y, low}, {b.x, b.y, low}, {b.x, b.y, high});
        if (i == 0 || i + 1 == p.size()) continue;
        triangle(paint, {p[0].x, p[0].y, high}, {a.x, a.y, high}, {b.x, b.y, high});
        triangle(paint, {p[0].x, p[0].y, low}, {b.x, b.y, low}, {a.x, a.y, low});
    }
}

shape::Mesh Model::finish() const {
    shape::Mesh mesh;
    for (std::size_t paint = 0; paint < paints_.size(); ++paint) {
        shape::Material material;
        material.name = paints_[paint].name;
        material.baseColour = linearColour(paints_[paint].hex);
        if (std::strcmp(paints_[paint].name, paint::kGlow.name) == 0) material.emission = 1.0F;
        mesh.materials.push_back(material);
        shape::Submesh part{static_cast<std::uint32_t>(mesh.indices.size()), 0, static_cast<std::uint32_t>(paint)};
        for (const Face& face : faces_) {
            if (face.paint != paint) continue;
            const Vec3 n = glm::normalize(glm::cross(face.b - face.a, face.c - face.a));
            for (const Vec3* p : {&face.a, &face.b, &face.c}) {
                mesh.indices.push_back(static_cast<std::uint32_t>(mesh.positions.size()));
                auto tidy = [](double v) { return static_cast<float>(std::round(v * 1e5) / 1e5); };
                mesh.positions.push_back({tidy(p->x), tidy(p->y), tidy(p->z)});
                mesh.normals.push_back({static_cast<float>(n.x), static_cast<float>(n.y), static_cast<float>(n.z)});
            }
        }
        part.indexCount = static_cast<std::uint32_t>(mesh.indices.size()) - part.firstIndex;
        mesh.submeshes.push_back(part);
    }
    mesh.bounds = shape::boundsOf(mesh);
    return mesh;
}

}  // namespace demo
