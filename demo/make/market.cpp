// The market, the keeper's place and the towpath's furniture.
#include "modelling.h"
#include "picture.h"

namespace demo {
namespace {

using namespace paint;

shape::Mesh lanternPost() {
    Model m;
    m.tapered(kStoneDark, {-0.2, 0, -0.2}, {0.2, 0.22, 0.2}, {0.04, 0.04});
    m.column(kIron, 0.06, 0.05, 0.22, 2.05, 6);
    m.box(kIron, {-0.14, 2.05, -0.14}, {0.14, 2.12, 0.14});
    m.tapered(kGlow, {-0.12, 2.12, -0.12}, {0.12, 2.44, 0.12}, {-0.03, -0.03});
    m.tapered(kIron, {-0.2, 2.44, -0.2}, {0.2, 2.62, 0.2}, {0.16, 0.16});
    return m.finish();
}

shape::Mesh plank() {
    Model m;
    m.box(kOakPale, {-1.2, 0, -0.14}, {1.2, 0.06, 0.14});
    return m.finish();
}

shape::Mesh pearCrate() {
    Model m;
    for (double y : {0.02, 0.2}) {
        m.box(kOak, {-0.4, y, 0.25}, {0.4, y + 0.14, 0.29});
        m.box(kOak, {-0.4, y, -0.29}, {0.4, y + 0.14, -0.25});
        m.box(kOak, {-0.4, y, -0.25}, {-0.36, y + 0.14, 0.25});
        m.box(kOak, {0.36, y, -0.25}, {0.4, y + 0.14, 0.25});
    }
    m.box(kOakDark, {-0.38, 0, -0.27}, {0.38, 0.05, 0.27});
    base::Random random(7);
    for (int i = 0; i < 4; ++i)
        for (int k = 0; k < 3; ++k)
            m.blob(kPear, {-0.26 + i * 0.175, 0.3 + random.between(-0.02, 0.03), -0.16 + k * 0.16},
                   Vec3(0.095, 0.11, 0.095), 0.0, random.next(), 2, 5);
    return m.finish();
}

shape::Mesh stallFrame() {
    Model m;
    for (double x : {-1.4, 1.3})
        for (double z : {-0.9, 0.8}) m.box(kOakDark, {x, 0, z}, {x + 0.1, z < 0 ? 2.5 : 2.15, z + 0.1});
    m.box(kOakPale, {-1.5, 0.85, -0.2}, {1.5, 0.93, 1.0});
    m.box(kOak, {-1.42, 0.2, 0.82}, {1.42, 0.85, 0.88});
    m.box(kOakDark, {-1.5, 2.5, -0.95}, {1.5, 2.58, -0.8});
    m.box(kOakDark, {-1.5, 2.15, 0.78}, {1.5, 2.23, 0.92});
    return m.finish();
}

shape::Mesh awning(Paint stripe) {
    Model m;  // stretches over a stall's frame; base point at the ground below
    constexpr int kStripes = 6;
    for (int i = 0; i < kStripes; ++i) {
        const double x0 = -1.65 + i * 0.55, x1 = x0 + 0.55;
        const Paint p = i % 2 == 0 ? stripe : kClothPale;
        m.quad(p, {x0, 2.14, 1.25}, {x1, 2.14, 1.25}, {x1, 2.66, -1.1}, {x0, 2.66, -1.1});
        m.quad(p, {x1, 2.1, 1.25}, {x0, 2.1, 1.25}, {x0, 2.62, -1.1}, {x1, 2.62, -1.1});
        m.quad(p, {x0, 1.9, 1.26}, {x1, 1.9, 1.26}, {x1, 2.14, 1.25}, {x0, 2.14, 1.25});
        m.quad(p, {x1, 1.9, 1.24}, {x0, 1.9, 1.24}, {x0, 2.14, 1.23}, {x1, 2.14, 1.23});
    }
    return m.finish();
}

shape::Mesh cottage() {
    Model m;  // door opening at +z, 1.0 m wide about x = 0.8
    m.box(kStone, {-4, -0.6, -2.8}, {4, 0.25, 2.8});
    m.box(kLime, {-3.8, 0.25, -2.6}, {3.8, 3.1, 2.6});
    m.roof(kTile, kLime, {-4.2, 3.1, -3.2}, {4.2, 5.6, 3.2});
    m.box(kStoneDark, {-2.9, 4.0, -1.0}, {-2.1, 6.5, -0.2});
    m.box(kTileDark, {-2.75, 6.5, -0.85}, {-2.25, 6.75, -0.35});
    for (double x : {-2.6, 2.4}) {
        m.box(kOakDark, {x - 0.55, 1.15, 2.58}, {x + 0.55, 2.35, 2.68});
        m.box(kGlass, {x - 0.45, 1.25, 2.6}, {x + 0.45, 2.25, 2.71});
        m.box(kOakPale, {x - 0.6, 1.05, 2.58}, {x + 0.6, 1.15, 2.8});
    }
    for (double z : {-1.2, 1.0}) m.box(kGlass, {3.78, 1.3, z - 0.4}, {3.86, 2.2, z + 0.4});
    m.box(kOakDark, {0.2, 0.25, 2.56}, {1.4, 2.45, 2.64});
    m.box(kStonePale, {0.1, 0.0, 2.8}, {1.5, 0.22, 3.5});
    return m.finish();
}

shape::Mesh cottageDoor() {
    Model m;  // hinge at x = 0
    m.box(kClothBlue, {0, 0, -0.04}, {1.0, 2.05, 0.04});
    for (double y : {0.25, 1.6}) m.box(kIron, {0.0, y, 0.04}, {0.7, y + 0.1, 0.06});
    m.blob(kIron, {0.88, 1.0, 0.07}, Vec3(0.05), 0.0, 1);
    return m.finish();
}

shape::Mesh milestone() {
    Model m;
    m.prism(kStonePale, {{-0.25, 0}, {0.25, 0}, {0.25, 0.6}, {0.12, 0.78}, {-0.12, 0.78}, {-0.25, 0.6}}, -0.1, 0.1);
    m.box(kStoneDark, {-0.15, 0.35, 0.1}, {0.15, 0.42, 0.11});
    return m.finish();
}

shape::Mesh noticeBoard() {
    Model m;
    for (double x : {-0.9, 0.78}) m.box(kOakDark, {x, 0, -0.06}, {x + 0.12, 2.0, 0.06});
    m.box(kOakPale, {-0.85, 0.9, -0.03}, {0.85, 1.8, 0.03});
    m.roof(kTileDark, kOakDark, {-1.05, 1.95, -0.28}, {1.05, 2.2, 0.28});
    m.box(kLime, {0.4, 1.14, 0.03}, {0.76, 1.59, 0.04});
    shape::Mesh mesh = m.finish();
    addPicture(mesh, {-0.76, 1.02, 0.03}, {0.26, 1.7, 0.04}, heronPoster());
    return mesh;
}

shape::Mesh bench() {
    Model m;
    for (double x : {-0.7, 0.6}) m.box(kStone, {x, 0, -0.2}, {x + 0.1, 0.42, 0.2});
    for (double z : {-0.2, 0.02}) m.box(kOak, {-0.85, 0.42, z}, {0.85, 0.47, z + 0.18});
    m.turned({-10, 0, 0}, [&] { m.box(kOak, {-0.85, 0.62, -0.17}, {0.85, 0.86, -0.12}); });
    return m.finish();
}

shape::Mesh stoneBlock() {
    Model m;
    m.tapered(kStone, {-0.6, 0, -0.4}, {0.6, 0.5, 0.4}, {0.03, 0.03});
    return m.finish();
}

shape::Mesh gravelHeap() {
    Model m;
    m.blob(kGravel, {0, 0.05, 0}, {1.3, 0.75, 1.1}, 0.12, 21);
    return m.finish();
}

}  // namespace

void addMarket(std::vector<DemoItem>& items) {
    items.push_back({"stall-frame", "Stall frame", "Market", "Structure", stallFrame()});
    items.push_back({"awning-ember", "Awning, ember", "Market", "Structure", awning(kCloth)});
    items.push_back({"awning-tide", "Awning, tide", "Market", "Structure", awning(kClothBlue)});
    items.push_back({"awning-moss", "Awning, moss", "Market", "Structure", awning(kClothMoss)});
    items.push_back({"pear-crate", "Crate of pears", "Market", "Loose goods", pearCrate()});
    items.push_back({"plank", "Plank", "Market", "Loose goods", plank()});
    items.push_back({"stone-block", "Stone block", "Building", "Structure", stoneBlock()});
    items.push_back({"gravel-heap", "Gravel heap", "Building", "Structure", gravelHeap()});
    items.push_back({"cottage", "Keeper's cottage", "Building", "Structure", cottage()});
    items.push_back({"cottage-door", "Cottage door", "Building", "Structure", cottageDoor()});
    items.push_back({"lantern-post", "Lantern post", "Towpath", "Lantern", lanternPost()});
    items.push_back({"milestone", "Milestone", "Towpath", "Structure", milestone()});
    items.push_back({"notice-board", "Notice board", "Towpath", "Notice", noticeBoard()});
    items.push_back({"bench", "Bench", "Towpath", "Structure", bench()});
}

}  // namespace demo
