// What makes the lock work: gates, sluices, quays, barges.
#include "modelling.h"

namespace demo {
namespace {

using namespace paint;

shape::Mesh gateLeaf() {
    Model m;  // hinge at x = 0, 4.6 m wide, 4.4 m high
    m.box(kOakDark, {-0.12, 0, -0.16}, {0.16, 4.4, 0.16});
    m.box(kOakDark, {4.3, 0, -0.14}, {4.6, 4.4, 0.14});
    for (double y : {0.0, 1.3, 2.6, 3.9}) m.box(kOakDark, {0.16, y, -0.12}, {4.3, y + 0.26, 0.12});
    for (int i = 0; i < 7; ++i)
        m.box(i % 2 == 0 ? kOak : kOakPale, {0.18 + i * 0.588, 0.1, -0.06}, {0.74 + i * 0.588, 4.1, 0.05});
    m.box(kIron, {0.0, 1.36, 0.12}, {1.4, 1.5, 0.17});
    m.box(kIron, {0.0, 2.66, 0.12}, {1.4, 2.8, 0.17});
    m.box(kOakPale, {0.2, 4.4, -0.3}, {4.6, 4.48, 0.3});
    return m.finish();
}

shape::Mesh balanceBeam() {
    Model m;
    m.tapered(kOakDark, {-0.3, 0.0, -0.22}, {5.6, 0.46, 0.22}, {0.0, 0.05});
    m.tapered(kLime, {4.7, -0.01, -0.23}, {5.62, 0.47, 0.23}, {0.0, 0.05});
    return m.finish();
}

shape::Mesh sluicePaddle() {
    Model m;
    m.box(kOakDark, {-0.55, 0, -0.08}, {-0.4, 2.4, 0.08});
    m.box(kOakDark, {0.4, 0, -0.08}, {0.55, 2.4, 0.08});
    m.box(kOakDark, {-0.6, 2.2, -0.1}, {0.6, 2.4, 0.1});
    m.box(kRust, {-0.4, 0.1, -0.04}, {0.4, 1.2, 0.04});
    m.box(kIron, {-0.05, 1.2, -0.05}, {0.05, 2.8, 0.05});
    return m.finish();
}

shape::Mesh windlass() {
    Model m;
    m.tapered(kStone, {-0.4, 0, -0.4}, {0.4, 0.3, 0.4}, {0.06, 0.06});
    m.box(kIron, {-0.28, 0.3, -0.1}, {-0.18, 1.15, 0.1});
    m.box(kIron, {0.18, 0.3, -0.1}, {0.28, 1.15, 0.1});
    m.at({0, 0.9, 0}, [&] {
        m.turned({0, 0, 90}, [&] {
            m.column(kOak, 0.13, 0.13, -0.18, 0.18, 8);
            m.column(kIron, 0.05, 0.05, -0.5, 0.4, 6);
        });
    });
    m.box(kIron, {0.44, 0.86, -0.05}, {0.5, 1.36, 0.05});
    m.box(kOakPale, {0.42, 1.28, -0.06}, {0.72, 1.4, 0.06});
    return m.finish();
}

shape::Mesh bollard() {
    Model m;
    m.column(kStoneDark, 0.26, 0.24, 0, 0.1, 8);
    m.column(kIron, 0.16, 0.13, 0.1, 0.62, 8);
    m.column(kIron, 0.2, 0.2, 0.62, 0.76, 8);
    return m.finish();
}

shape::Mesh mooringRing() {
    Model m;
    m.box(kStoneDark, {-0.18, 0, -0.06}, {0.18, 0.36, 0.0});
    for (int i = 0; i < 8; ++i)
        m.at({0, 0.16, 0.04}, [&] {
            m.turned({0, 0, i * 45.0}, [&] { m.box(kIron, {-0.055, 0.1, -0.025}, {0.055, 0.15, 0.025}); });
        });
    return m.finish();
}

shape::Mesh coping() {
    Model m;  // 4 m of quay edge, top at y = 0.25; the face drops into the water at z = 0.5
    m.box(kStone, {-2, -2.6, -0.3}, {2, 0.0, 0.42});
    m.tapered(kStonePale, {-1.99, 0.0, -0.5}, {1.99, 0.25, 0.5}, {0.02, 0.04});
    return m.finish();
}

shape::Mesh lockWall() {
    Model m;  // 6 m of chamber wall
    m.box(kStone, {-3, -4.6, -0.5}, {3, 0.0, 0.5});
    m.box(kStoneDark, {-3, -3.2, -0.52}, {3, -3.0, 0.54});
    m.tapered(kStonePale, {-2.99, 0.0, -0.62}, {2.99, 0.28, 0.62}, {0.02, 0.05});
    return m.finish();
}

shape::Mesh weirSill() {
    Model m;
    m.prism(kStone, {{-0.9, 0}, {0.9, 0}, {0.35, 0.9}, {-0.35, 0.9}}, -5, 5);
    m.box(kStonePale, {-0.38, 0.9, -5}, {0.38, 1.0, 5});
    return m.finish();
}

shape::Mesh footbridge() {
    Model m;  // spans 12 m along x, a gentle arch
    constexpr int kParts = 12;
    auto height = [](double x) { return 1.1 - x * x / 36.0 * 1.1; };
    for (int i = 0; i < kParts; ++i) {
        const double x0 = -6 + i, x1 = x0 + 1, y0 = height(x0), y1 = height(x1);
        m.quad(i % 2 == 0 ? kOak : kOakPale, {x0, y0 + 0.16, 0.9}, {x1, y1 + 0.16, 0.9}, {x1, y1 + 0.16, -0.9},
               {x0, y0 + 0.16, -0.9});
        m.quad(kOakDark, {x0, y0, -0.9}, {x1, y1, -0.9}, {x1, y1, 0.9}, {x0, y0, 0.9});
        for (double z : {0.9, -0.9}) {
            const double s = z > 0 ? 1 : -1;
            const Vec3 a(x0, y0, z), b(x1, y1, z), c(x1, y1 + 0.16, z), d(x0, y0 + 0.16, z);
            if (s > 0)
                m.quad(kOakDark, a, b, c, d);
            else
                m.quad(kOakDark, b, a, d, c);
        }
    }
    for (double z : {0.84, -0.84})
        for (int i = 0; i <= 6; ++i) {
            const double x = -6 + i * 2;
            m.box(kOakDark, {x - 0.06, height(x), z - 0.06}, {x + 0.06, height(x) + 1.2, z + 0.06});
            if (i == 6) continue;
            const double y0 = height(x) + 1.02, y1 = height(x + 2) + 1.02;
            const double s = 0.05;
            m.quad(kOakPale, {x, y0 + 0.1, z + s}, {x + 2, y1 + 0.1, z + s}, {x + 2, y1 + 0.1, z - s},
                   {x, y0 + 0.1, z - s});
            m.quad(kOakPale, {x, y0, z + s}, {x + 2, y1, z + s}, {x + 2, y1 + 0.1, z + s}, {x, y0 + 0.1, z + s});
            m.quad(kOakPale, {x + 2, y1, z - s}, {x, y0, z - s}, {x, y0 + 0.1, z - s}, {x + 2, y1 + 0.1, z - s});
        }
    return m.finish();
}

shape::Mesh bargeHull() {
    Model m;  // 14 m along x, bow at +x
    auto side = [&](double s) {
        const Vec3 stern(-7, 0.0, s * 1.3), mid(4.2, 0.0, s * 1.5), bow(7, 0.5, 0);
        const Vec3 sternT(-7, 1.1, s * 1.6), midT(4.2, 1.1, s * 1.8), bowT(7.5, 1.5, 0);
        auto face = [&](Paint p, const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
            if (s > 0)
                m.quad(p, a, b, c, d);
            else
                m.quad(p, b, a, d, c);
        };
        const Vec3 up(0, 0.22, 0);
        face(kHull, stern, mid, midT, sternT);
        face(kHull, mid, bow, bowT, midT);
        face(kHullTrim, sternT, midT, midT + up, sternT + up);
        face(kHullTrim, midT, bowT, bowT + up, midT + up);
    };
    side(1);
    side(-1);
    m.quad(kHull, {-7, 0, -1.3}, {-7, 0, 1.3}, {-7, 1.32, 1.6}, {-7, 1.32, -1.6});
    m.quad(kHull, {-7, 0, 1.3}, {-7, 0, -1.3}, {4.2, 0, -1.5}, {4.2, 0, 1.5});
    m.quad(kOakPale, {-7, 1.1, 1.6}, {4.2, 1.1, 1.8}, {4.2, 1.1, -1.8}, {-7, 1.1, -1.6});
    m.triangle(kOakPale, {4.2, 1.1, 1.8}, {7.5, 1.5, 0}, {4.2, 1.1, -1.8});
    m.tapered(kLime, {-6.2, 1.1, -1.1}, {-3.0, 2.5, 1.1}, {0.1, 0.15});
    m.box(kHullTrim, {-6.3, 2.5, -1.05}, {-2.9, 2.62, 1.05});
    for (double x : {-5.6, -4.2}) m.box(kGlass, {x, 1.7, 0.9}, {x + 0.7, 2.2, 1.08});
    for (double x : {-5.6, -4.2}) m.box(kGlass, {x, 1.7, -1.08}, {x + 0.7, 2.2, -0.9});
    return m.finish();
}

shape::Mesh bargeTiller() {
    Model m;
    m.turned({0, 0, -8}, [&] { m.box(kOakPale, {-0.1, 1.5, -0.06}, {2.0, 1.62, 0.06}); });
    m.box(kIron, {-0.12, 0, -0.08}, {0.08, 1.7, 0.08});
    m.box(kOakDark, {-1.0, -0.4, -0.05}, {-0.1, 0.7, 0.05});
    return m.finish();
}

shape::Mesh bargeCargo() {
    Model m;
    m.prism(kCanvas, {{-3, 0}, {3, 0}, {2.6, 0.7}, {0, 1.15}, {-2.6, 0.7}}, -1.2, 1.2);
    for (double x : {-1.8, 0.0, 1.8}) m.box(kOakDark, {x - 0.05, 0, -1.25}, {x + 0.05, 0.95, -1.2});
    for (double x : {-1.8, 0.0, 1.8}) m.box(kOakDark, {x - 0.05, 0, 1.2}, {x + 0.05, 0.95, 1.25});
    return m.finish();
}

shape::Mesh waterSheet() {
    Model m;  // 10 m x 10 m
    m.quad(kWater, {-5, 0, 5}, {5, 0, 5}, {5, 0, -5}, {-5, 0, -5});
    return m.finish();
}

}  // namespace

void addWaterworks(std::vector<DemoItem>& items) {
    const std::string c = "Waterworks";
    items.push_back({"gate-leaf", "Gate leaf", c, "Water control", gateLeaf()});
    items.push_back({"balance-beam", "Balance beam", c, "Structure", balanceBeam()});
    items.push_back({"sluice-paddle", "Sluice paddle", c, "Water control", sluicePaddle()});
    items.push_back({"windlass", "Windlass", c, "Water control", windlass()});
    items.push_back({"bollard", "Bollard", c, "Structure", bollard()});
    items.push_back({"mooring-ring", "Mooring ring", c, "Structure", mooringRing()});
    items.push_back({"coping", "Coping stone", c, "Structure", coping()});
    items.push_back({"lock-wall", "Lock wall", c, "Structure", lockWall()});
    items.push_back({"weir-sill", "Weir sill", c, "Structure", weirSill()});
    items.push_back({"footbridge", "Footbridge", c, "Structure", footbridge()});
    items.push_back({"water-sheet", "Water", c, "Structure", waterSheet()});
    items.push_back({"barge-hull", "Barge hull", "Barges", "Barge", bargeHull()});
    items.push_back({"barge-tiller", "Barge tiller", "Barges", "Structure", bargeTiller()});
    items.push_back({"barge-cargo", "Barge cargo", "Barges", "Loose goods", bargeCargo()});
}

}  // namespace demo
