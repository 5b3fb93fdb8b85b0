// Paving of the towpath: pieces of one cell of 2 m that a set lays side by side, with kerbs where the path ends.
#include "modelling.h"

namespace demo {
namespace {

using namespace paint;

constexpr double kHalf = 1.0, kKerb = 0.16, kTop = 0.08, kKerbTop = 0.16;

/// `joins`: letters of the sides where the path goes on: n (-z), e, s, w.
shape::Mesh paving(std::string_view joins) {
    Model m;
    const auto goesOn = [&](char side) { return joins.find(side) != std::string_view::npos; };
    m.box(kPath, {-kHalf, 0, -kHalf}, {kHalf, kTop, kHalf});
    m.box(kStonePale, {-0.75, kTop, -0.75}, {-0.05, kTop + 0.015, -0.05});
    m.box(kStonePale, {0.05, kTop, 0.05}, {0.75, kTop + 0.015, 0.75});
    if (!goesOn('n')) m.box(kStone, {-kHalf, kTop, -kHalf}, {kHalf, kKerbTop, -kHalf + kKerb});
    if (!goesOn('s')) m.box(kStone, {-kHalf, kTop, kHalf - kKerb}, {kHalf, kKerbTop, kHalf});
    if (!goesOn('w')) m.box(kStone, {-kHalf, kTop, -kHalf}, {-kHalf + kKerb, kKerbTop, kHalf});
    if (!goesOn('e')) m.box(kStone, {kHalf - kKerb, kTop, -kHalf}, {kHalf, kKerbTop, kHalf});
    // Where two open sides meet the corner post of the outer kerb stands.
    for (const auto& [one, other, x, z] :
         {std::tuple{'n', 'e', 1.0, -1.0}, {'e', 's', 1.0, 1.0}, {'s', 'w', -1.0, 1.0}, {'w', 'n', -1.0, -1.0}})
        if (goesOn(one) && goesOn(other)) {
            const double lowX = x > 0 ? kHalf - kKerb : -kHalf, lowZ = z > 0 ? kHalf - kKerb : -kHalf;
            m.box(kStone, {lowX, kTop, lowZ}, {lowX + kKerb, kKerbTop, lowZ + kKerb});
        }
    return m.finish();
}

}  // namespace

void addPaving(std::vector<DemoItem>& items) {
    for (const auto& [name, label, joins] : {std::tuple{"path-straight", "Path, straight", "ns"},
                                             {"path-corner", "Path, corner", "ne"},
                                             {"path-tee", "Path, tee", "nes"},
                                             {"path-cross", "Path, crossing", "nesw"},
                                             {"path-end", "Path, end", "n"},
                                             {"path-alone", "Path, alone", ""}})
        items.push_back({name, label, "Paving", "Structure", paving(joins)});
}

}  // namespace demo
