// Plants and herons.
#include <cmath>

#include "modelling.h"

namespace demo {
namespace {

using namespace paint;

shape::Mesh willow() {
    Model m;
    m.column(kBark, 0.5, 0.28, 0, 2.6, 7);
    m.turned({0, 0, 14}, [&] { m.column(kBark, 0.24, 0.14, 2.2, 4.2, 6); });
    m.turned({8, 0, -18}, [&] { m.column(kBark, 0.22, 0.12, 2.2, 4.0, 6); });
    m.blob(kLeaf, {0, 5.0, 0}, {2.3, 1.5, 2.2}, 0.14, 3);
    m.blob(kLeafPale, {1.5, 4.5, 0.6}, {1.5, 1.3, 1.4}, 0.16, 4);
    m.blob(kLeafDark, {-1.5, 4.4, -0.5}, {1.5, 1.3, 1.5}, 0.16, 5);
    base::Random random(11);
    for (int i = 0; i < 14; ++i) {  // hanging branches
        const double angle = i * 2 * base::kPi / 14, r = 1.9 + random.between(0, 0.5), drop = random.between(1.7, 3.0);
        const Vec3 top(r * std::cos(angle), 4.8, r * std::sin(angle));
        m.at(top, [&] {
            m.turned({0, -base::degrees(angle), 0}, [&] {
                m.tapered(i % 2 == 0 ? kLeaf : kLeafPale, {-0.12, -drop, -0.3}, {0.26, 0.0, 0.3}, {-0.16, -0.1});
            });
        });
    }
    return m.finish();
}

shape::Mesh alder() {
    Model m;
    m.column(kBark, 0.22, 0.14, 0, 1.9, 6);
    m.blob(kLeafDark, {0, 2.9, 0}, {1.25, 1.5, 1.25}, 0.12, 8);
    m.blob(kLeaf, {0.2, 4.3, 0.1}, {0.85, 1.2, 0.85}, 0.12, 9);
    return m.finish();
}

shape::Mesh hedge() {
    Model m;
    for (int i = 0; i < 4; ++i)
        m.blob(i % 2 == 0 ? kLeafDark : kLeaf, {-1.5 + i, 0.55, 0}, {0.75, 0.75, 0.6}, 0.14,
               40 + static_cast<std::uint64_t>(i));
    return m.finish();
}

shape::Mesh reeds(std::uint64_t seed, int blades, double spread) {
    Model m;
    base::Random random(seed);
    for (int i = 0; i < blades; ++i) {
        const Vec3 at(random.between(-spread, spread), 0, random.between(-spread, spread));
        const double height = random.between(0.9, 1.8);
        m.at(at, [&] {
            m.turned({random.between(-12, 12), random.between(0, 360), random.between(-12, 12)}, [&] {
                m.column(i % 3 == 0 ? kLeafPale : kReed, 0.05, 0.012, -0.1, height, 4);
                if (i % 3 == 1) m.column(kReedTop, 0.05, 0.05, height - 0.3, height, 5);
            });
        });
    }
    return m.finish();
}

void heronLegs(Model& m) {
    for (double z : {-0.07, 0.07}) m.box(kBeak, {-0.02, 0, z - 0.015}, {0.02, 0.52, z + 0.015});
}

shape::Mesh heronStanding() {
    Model m;
    heronLegs(m);
    m.blob(kFeather, {-0.05, 0.66, 0}, {0.32, 0.18, 0.16}, 0.04, 2);
    m.blob(kFeatherDark, {-0.22, 0.66, 0}, {0.26, 0.1, 0.17}, 0.04, 6);
    m.at({0.2, 0.72, 0}, [&] { m.turned({0, 0, -14}, [&] { m.column(kFeather, 0.06, 0.04, 0, 0.5, 6); }); });
    m.blob(kFeather, {0.34, 1.24, 0}, {0.1, 0.065, 0.06}, 0.0, 3);
    m.tapered(kFeatherDark, {0.16, 1.27, -0.02}, {0.36, 1.31, 0.02}, {0.06, 0.01});
    m.at({0.42, 1.23, 0}, [&] { m.turned({0, 0, -90}, [&] { m.column(kBeak, 0.025, 0.0, 0, 0.26, 5); }); });
    return m.finish();
}

shape::Mesh heronFishing() {
    Model m;
    heronLegs(m);
    m.turned({0, 0, -18}, [&] {
        m.blob(kFeather, {-0.2, 0.62, 0}, {0.34, 0.17, 0.16}, 0.04, 2);
        m.blob(kFeatherDark, {-0.36, 0.64, 0}, {0.26, 0.1, 0.17}, 0.04, 6);
    });
    m.at({0.22, 0.56, 0}, [&] { m.turned({0, 0, -105}, [&] { m.column(kFeather, 0.06, 0.04, 0, 0.5, 6); }); });
    m.blob(kFeather, {0.74, 0.42, 0}, {0.1, 0.065, 0.06}, 0.0, 3);
    m.at({0.8, 0.4, 0}, [&] { m.turned({0, 0, -130}, [&] { m.column(kBeak, 0.025, 0.0, 0, 0.28, 5); }); });
    return m.finish();
}

shape::Mesh heronFlying() {
    Model m;
    m.blob(kFeather, {0, 0.3, 0}, {0.4, 0.14, 0.14}, 0.03, 2);
    for (double s : {1.0, -1.0}) {
        const Vec3 root(0.15, 0.34, s * 0.1), back(-0.2, 0.34, s * 0.1), mid(0.05, 0.62, s * 0.7),
            tip(-0.3, 0.5, s * 1.25);
        auto wing = [&](Paint p, const Vec3& a, const Vec3& b, const Vec3& c) {
            m.triangle(p, a, b, c);
            m.triangle(p, a, c, b);
        };
        wing(kFeather, root, back, mid);
        wing(kFeatherDark, back, tip, mid);
    }
    m.blob(kFeather, {0.5, 0.36, 0}, {0.1, 0.065, 0.06}, 0.0, 3);
    m.at({0.58, 0.36, 0}, [&] { m.turned({0, 0, -90}, [&] { m.column(kBeak, 0.025, 0.0, 0, 0.26, 5); }); });
    m.box(kBeak, {-0.8, 0.26, -0.04}, {-0.35, 0.29, 0.04});
    return m.finish();
}

}  // namespace

void addNature(std::vector<DemoItem>& items) {
    items.push_back({"willow", "Willow", "Plants", "Plant", willow()});
    items.push_back({"alder", "Alder", "Plants", "Plant", alder()});
    items.push_back({"hedge", "Hedge", "Plants", "Plant", hedge()});
    items.push_back({"reed-clump-1", "Reed clump, thick", "Plants", "Plant", reeds(31, 16, 0.5)});
    items.push_back({"reed-clump-2", "Reed clump, wide", "Plants", "Plant", reeds(32, 18, 0.9)});
    items.push_back({"reed-clump-3", "Reed clump, thin", "Plants", "Plant", reeds(33, 8, 0.35)});
    items.push_back({"reed-clump-4", "Reed clump, bank", "Plants", "Plant", reeds(34, 13, 0.7)});
    items.push_back({"heron-standing", "Heron, standing", "Plants", "Animal", heronStanding()});
    items.push_back({"heron-fishing", "Heron, fishing", "Plants", "Animal", heronFishing()});
    items.push_back({"heron-flying", "Heron, flying", "Plants", "Animal", heronFlying()});
}

}  // namespace demo
