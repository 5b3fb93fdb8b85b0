#include "valley.h"

#include <cmath>

namespace demo {
namespace {

double smooth(double low, double high, double x) {
    const double t = glm::clamp((x - low) / (high - low), 0.0, 1.0);
    return t * t * (3 - 2 * t);
}

double wave(double x, double z) {
    return std::sin(x * 0.031 + 1.3) * std::cos(z * 0.043 - 0.4) + 0.5 * std::sin(x * 0.083 + z * 0.061) +
           0.25 * std::sin(x * 0.19 - z * 0.17);
}

/// Half the width of the water at x.
double halfWidth(double x) {
    const double basin = smooth(kBasinWest - 8, kBasinWest, x) * (1 - smooth(kBasinEast, kBasinEast + 8, x));
    return kCanalHalf + (kBasinHalf - kCanalHalf) * basin;
}

}  // namespace

double bankLevel(double x) {
    return 3.0 * smooth(2, 30, x) + 3.0 * smooth(72, 100, x) + 3.0 * smooth(132, 160, x);
}

double waterLevel(double x) {
    const double steps = (x > 17 ? 3.0 : 0.0) + (x > 86 ? 3.0 : 0.0) + (x > 146 ? 3.0 : 0.0);
    return steps - 0.75;
}

double groundHeight(double x, double z) {
    const double bank = bankLevel(x);
    const double away = std::abs(z) - halfWidth(x);  // metres from the water's edge
    if (away < 1.2) {
        const double bed = (x > 2 && x < 32 ? 0.0 : waterLevel(x) + 0.75) - 3.0;
        return glm::mix(bed, bank, smooth(-0.6, 1.2, away));
    }
    double height = bank + wave(x, z) * 0.8 * smooth(7, 26, away);
    height += 15.0 * smooth(34, 100, away) * (z < 0 ? 1.0 : 0.45);                         // the valley's sides
    height += 16.0 * std::exp(-((x - 70) * (x - 70) / 2600 + (z + 85) * (z + 85) / 900));  // the hill
    height += wave(x * 0.5 + 9, z * 0.7) * 2.2 * smooth(30, 80, away);
    return height;
}

DemoItem valleyGround() {
    constexpr int kAcross = 112, kDeep = 84;
    constexpr double kWidth = 400, kDepth = 240;
    shape::Mesh mesh;
    auto place = [&](int i, int k) {
        // Rows lie closer together near the canal, where the ground bends most.
        const double t = 2.0 * k / kDeep - 1.0;
        const double z = (0.35 * t + 0.65 * t * t * t) * kDepth / 2;
        return Vec2(kWidth * i / kAcross - kWidth / 2, z);
    };
    auto tidy = [](double v) { return static_cast<float>(std::round(v * 1e4) / 1e4); };
    for (int k = 0; k <= kDeep; ++k)
        for (int i = 0; i <= kAcross; ++i) {
            const Vec2 p = place(i, k);
            const double e = 0.4;
            const Vec3 n = glm::normalize(Vec3(groundHeight(p.x - e, p.y) - groundHeight(p.x + e, p.y), 2 * e,
                                               groundHeight(p.x, p.y - e) - groundHeight(p.x, p.y + e)));
            mesh.positions.push_back({tidy(p.x), tidy(groundHeight(p.x, p.y)), tidy(p.y)});
            mesh.normals.push_back({static_cast<float>(n.x), static_cast<float>(n.y), static_cast<float>(n.z)});
        }
    const Paint paints[] = {paint::kGrass, paint::kGrassDark, paint::kMeadow, paint::kPath, paint::kMud};
    std::vector<std::uint32_t> byPaint[5];
    auto paintAt = [&](const Vec3& p) -> std::size_t {
        const double away = std::abs(p.z) - halfWidth(p.x);
        if (away < 0.9) return 4;
        const bool square = p.x > -64 && p.x < -14 && p.z > kBasinHalf && p.z < kBasinHalf + 17;  // the market place
        if (square || (p.z > 0 && away > 1.0 && away < 4.4)) return 3;
        const double patch = wave(p.x * 1.7 + 3, p.z * 1.9);
        return patch > 0.55 ? 2 : patch < -0.5 || p.y > 22 ? 1 : 0;
    };
    for (int k = 0; k < kDeep; ++k)
        for (int i = 0; i < kAcross; ++i) {
            const auto a = static_cast<std::uint32_t>(k * (kAcross + 1) + i), b = a + 1, c = b + kAcross + 1, d = c - 1;
            for (auto tri : {std::array{a, d, c}, std::array{a, c, b}}) {
                Vec3 middle(0.0);
                for (std::uint32_t v : tri)
                    middle += Vec3(mesh.positions[v][0], mesh.positions[v][1], mesh.positions[v][2]) / 3.0;
                auto& list = byPaint[paintAt(middle)];
                list.insert(list.end(), tri.begin(), tri.end());
            }
        }
    for (std::size_t i = 0; i < 5; ++i) {
        shape::Material material;
        material.name = paints[i].name;
        material.baseColour = linearColour(paints[i].hex);
        mesh.materials.push_back(material);
        mesh.submeshes.push_back({static_cast<std::uint32_t>(mesh.indices.size()),
                                  static_cast<std::uint32_t>(byPaint[i].size()), static_cast<std::uint32_t>(i)});
        mesh.indices.insert(mesh.indices.end(), byPaint[i].begin(), byPaint[i].end());
    }
    mesh.bounds = shape::boundsOf(mesh);
    return {"valley-ground", "Valley ground", "Building", "Structure", std::move(mesh)};
}

}  // namespace demo
