// Where objects are, how they are turned and sized.
#include <fmt/format.h>

#include "base/math.h"
#include "model/kind.h"
#include "script/names.h"
#include "script/reader.h"

namespace script {

namespace {

using Needs = Binding::Needs;

/// The world map of what it lies in, of now.
base::Affine around(Context& c, Slot s) {
    const Slot up = c.scene().parent(s);
    if (up == kNoSlot) return {};
    if (c.isPendingInTree(up)) c.flush();
    return c.scene().world(up);
}
base::Affine worldOf(Context& c, Slot s) {
    return around(c, s) * base::toAffine(c.local(s));
}
base::Affine inverseOf(const base::Affine& map) {
    const auto back = base::inverse(map);
    if (!back) throw Trouble{"what it lies in has no usable size", true};
    return *back;
}

Data at(Context& c, const Data& a) {
    const Slot s = self(c, a);
    Reader r(c, a);
    const base::Affine outer = around(c, s);
    if (!r.more()) return {outer.point(c.local(s).position)};
    base::Transform local = c.local(s);
    local.position = inverseOf(outer).point(r.point());
    c.pose(s, local);
    return {};
}
Data move(Context& c, const Data& a) {
    const Slot s = self(c, a);
    Reader r(c, a);
    const base::Affine outer = around(c, s);
    base::Transform local = c.local(s);
    const Vec3 to = outer.point(local.position) + r.point();
    if (glm::length(to) > 1e7) trouble("that is beyond 10,000 km");
    local.position = inverseOf(outer).point(to);
    c.pose(s, local);
    return {};
}
Data ownAt(Context& c, const Data& a) {
    const Slot s = self(c, a);
    Reader r(c, a);
    if (!r.more()) return {c.local(s).position};
    base::Transform local = c.local(s);
    local.position = r.point();
    c.pose(s, local);
    return {};
}
base::Quat turnFrom(Reader& r) {
    const Datum& given = r.next();
    base::Quat turn;
    if (const auto* q = std::get_if<base::Quat>(&given))
        turn = *q;
    else if (const auto* v = std::get_if<Vec3>(&given))
        turn = base::fromDegrees(*v);
    else if (const auto* x = std::get_if<double>(&given)) {
        const double y = r.number();
        turn = base::fromDegrees({*x, y, r.number()});
    } else {
        r.wrong("a turn, or degrees,");
    }
    if (!base::isFinite(turn) || glm::length(turn) < 1e-9) r.wrong("a usable turn");
    return glm::normalize(turn);
}
Data turn(Context& c, const Data& a) {
    const Slot s = self(c, a);
    Reader r(c, a);
    if (!r.more()) return {c.local(s).rotation};
    base::Transform local = c.local(s);
    local.rotation = turnFrom(r);
    c.pose(s, local);
    return {};
}
Data worldTurn(Context& c, const Data& a) {
    const Slot s = self(c, a);
    Reader r(c, a);
    const base::Quat outer = base::toTransform(around(c, s)).rotation;
    base::Transform local = c.local(s);
    if (!r.more()) return {glm::normalize(outer * local.rotation)};
    local.rotation = glm::normalize(glm::inverse(outer) * turnFrom(r));
    c.pose(s, local);
    return {};
}
Data size(Context& c, const Data& a) {
    const Slot s = self(c, a);
    Reader r(c, a);
    base::Transform local = c.local(s);
    if (!r.more()) return {local.scale};
    const Vec3 wanted = std::holds_alternative<double>(a[1]) && (a.size() < 3 || std::holds_alternative<Nothing>(a[2]))
                            ? Vec3(r.number())
                            : r.vector();
    const auto sizes = ops::sizesOf(c.library(), c.scene(), s);
    for (int k = 0; k < 3; ++k) {
        if (!(std::abs(wanted[k]) >= 1e-4 && std::abs(wanted[k]) <= 1e5)) trouble("a size is from 0.0001 to 100,000");
        if (sizes && !sizes->allows(wanted[k])) throw Trouble{ops::sizesText(c.library(), c.scene(), s), true};
    }
    local.scale = wanted;
    c.pose(s, local);
    return {};
}
Data toWorld(Context& c, const Data& a) {
    const Slot s = self(c, a);
    return {worldOf(c, s).point(Reader(c, a).point())};
}
Data toOwn(Context& c, const Data& a) {
    const Slot s = self(c, a);
    return {inverseOf(worldOf(c, s)).point(Reader(c, a).point())};
}
Data box(Context& c, const Data& a) {
    c.flush();
    const base::Aabb bounds = c.scene().subtreeBounds(self(c, a));
    if (bounds.empty()) return {};
    return {bounds.low, bounds.high};
}

}  // namespace

Bindings poseBindings() {
    return {
        {{"at", "[point]", "Its place in the world, metres, as a vector; with one: puts it there."},
         Needs::Poses,
         true,
         at},
        {{"move", "by", "Moves it by a vector, in the world."}, Needs::Poses, true, move},
        {{"ownAt", "[point]", "Its place in what it lies in; with one: puts it there."}, Needs::Poses, true, ownAt},
        {{"turn", "[turn]", "How it is turned in what it lies in, as a turn; with one, or three degrees: turns it so."},
         Needs::Poses,
         true,
         turn},
        {{"worldTurn", "[turn]", "The same in the world."}, Needs::Poses, true, worldTurn},
        {{"size", "[factors]", "Its size, times its own, as a vector; with one number or three: sizes it."},
         Needs::Poses,
         true,
         size},
        {{"toWorld", "point", "Where a point of its own axes is in the world."}, Needs::Poses, true, toWorld},
        {{"toOwn", "point", "Where a point of the world is in its own axes."}, Needs::Poses, true, toOwn},
        {{"box", "", "The box round it and all below it: its low and its high corner; nothing without a mesh."},
         Needs::Scene,
         true,
         box},
    };
}

}  // namespace script
