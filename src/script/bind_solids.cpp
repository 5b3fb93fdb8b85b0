// Solids for scripts: made, clipped, opened, pulled, joined.
#include <fmt/format.h>

#include "ops/solid.h"
#include "ops/solid_edit.h"
#include "script/names.h"
#include "script/reader.h"

namespace script {

namespace {

using base::Status;
using Needs = Binding::Needs;

Data solid(Context& c, const Data& a) {
    Reader r(c, a);
    const std::string name = r.text();
    const auto shape = model::solidShape(name);
    if (!shape || *shape == model::Solid::Shape::Plain) trouble(fmt::format("there is no shape “{}”", name));
    const model::Solid made = model::usualSolid(*shape, r.vector());
    base::Transform frame;
    frame.position = r.point();
    frame.rotation = glm::angleAxis(base::radians(r.number(0)), Vec3(0, 1, 0));
    const ObjectId parent = r.more() ? r.object() : ObjectId{};
    return {taken(ops::addSolid(c.create(), made, frame, parent))};
}
Data prism(Context& c, const Data& a) {
    Reader r(c, a);
    const std::vector<Vec3> corners = r.points();
    const double height = r.number();
    const ops::DrawnSolid drawn = taken(ops::drawnPrism(corners, height));
    const ObjectId parent = r.more() ? r.object() : ObjectId{};
    return {taken(ops::addSolid(c.create(), drawn.solid, drawn.frame, parent))};
}
Vec3 direction(Reader& r) {
    const Vec3 way = r.vector();
    if (glm::length(way) < 1e-9) trouble("a direction has a length");
    return glm::normalize(way);
}
Data clip(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const Vec3 point = r.point();
    const shape::Plane plane = shape::planeThrough(point, direction(r));
    const auto keeps = r.more()
                           ? r.word<ops::ClipKeeps>({{"both", {}}, {"front", {true, false}}, {"behind", {false, true}}})
                           : ops::ClipKeeps{};
    return {taken(ops::clip(c.create(), ids, plane, keeps))};
}
Data split(Context& c, const Data& a) {
    Reader r(c, a);
    const ObjectId id = r.object();
    const Vec3 point = r.point();
    const shape::Plane plane = shape::planeThrough(point, direction(r));
    check(ops::split(c.create(), id, plane));
    return {};
}
Data open(Context& c, const Data& a) {
    Reader r(c, a);
    const ObjectId id = r.object();
    const Vec3 place = r.point(), facing = direction(r);
    model::SolidOpening opening = ops::openingAt(c.scene(), id, place, facing);
    opening.width = r.number();
    opening.height = r.number();
    using Outline = model::SolidOpening::Outline;
    if (r.more()) opening.outline = r.word<Outline>({{"rectangle", Outline::Rectangle}, {"arch", Outline::Arch}});
    return {static_cast<double>(taken(ops::addOpening(c.create(), id, opening)) + 1)};
}
std::size_t number(Context& c, Reader& r, ObjectId id) {
    const auto* solid = c.scene().facet<model::Solid>(c.scene().find(id));
    const double n = r.number();
    if (solid == nullptr || n < 1 || n != std::floor(n) || n > static_cast<double>(solid->openings.size()))
        trouble("it has no opening of that number");
    return static_cast<std::size_t>(n) - 1;
}
Data close(Context& c, const Data& a) {
    Reader r(c, a);
    const ObjectId id = r.object();
    const std::size_t which = number(c, r, id);
    check(ops::removeOpening(c.create(), id, which));
    return {};
}
Data repeatOpening(Context& c, const Data& a) {
    Reader r(c, a);
    const ObjectId id = r.object();
    const std::size_t which = number(c, r, id);
    const double count = r.number();
    const Vec3 apart = r.vector();
    if (count != std::floor(count) || count < 1 || count > 200) trouble("a whole number from 1 to 200 was expected");
    check(ops::repeatOpening(c.create(), id, which, static_cast<int>(count), apart));
    return {};
}
Data subtract(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects(), tools = r.objects();
    check(ops::subtract(c.create(), ids, tools));
    return {};
}
Data join(Context& c, const Data& a) {
    const Objects ids = Reader(c, a).objects();
    return {taken(ops::join(c.create(), ids))};
}
Data intersect(Context& c, const Data& a) {
    const Objects ids = Reader(c, a).objects();
    return {taken(ops::intersect(c.create(), ids))};
}
Data hollow(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    check(ops::hollow(c.create(), ids, r.number()));
    return {};
}
Data plain(Context& c, const Data& a) {
    const Objects ids = Reader(c, a).objects();
    check(ops::keepAsPlain(c.create(), ids));
    return {};
}
Data pieces(Context& c, const Data& a) {
    const Objects ids = Reader(c, a).objects();
    return {taken(ops::takePiecesApart(c.create(), ids))};
}
/// The face of an object that looks in a direction of the world.
ops::SolidPart face(Context& c, ObjectId id, const Vec3& way) {
    return taken(ops::faceTowards(taken(ops::piecesOf(c.scene(), id)), ops::directionIn(c.scene(), id, way)));
}
Status byNormal(edit::Draft& draft, ObjectId id, const ops::SolidPart& part, double metres) {
    const auto moved = ops::moveParts(draft, id, {&part, 1}, part.plane.normal * metres);
    return moved ? Status{} : tl::unexpected(moved.error());
}
Status pulledOut(edit::Draft& draft, ObjectId id, const ops::SolidPart& part, double metres) {
    const auto made = ops::extrude(draft, id, part, metres);
    return made ? Status{} : tl::unexpected(made.error());
}
/// A verb on the face that looks in a direction, with how far.
template <Status (*Verb)(edit::Draft&, ObjectId, const ops::SolidPart&, double)>
Data pullFace(Context& c, const Data& a) {
    Reader r(c, a);
    const ObjectId id = r.object();
    const Vec3 way = direction(r);
    const double metres = r.number();
    edit::Draft& draft = c.create();
    check(Verb(draft, id, face(c, id, way), metres));
    return {};
}
Data dressFace(Context& c, const Data& a) {
    Reader r(c, a);
    const ObjectId id = r.object();
    const Vec3 way = direction(r);
    const std::string surface = r.text();
    edit::Draft& draft = c.create();
    check(ops::setFaceSurface(draft, id, face(c, id, way).tag, surface));
    return {};
}
Data volume(Context& c, const Data& a) {
    const ObjectId id = Reader(c, a).object();
    return {shape::volumeOf(taken(ops::piecesOf(c.scene(), id)))};
}

}  // namespace

Bindings solidBindings() {
    return {
        {{"solid", "shape, size, point [, degrees [, parent]]",
          "Adds a solid with its base on a point: box, wedge, cylinder, cone, sphere, plane, stairs, wall, arch, "
          "curved "
          "wall, frustum, ramp, torus, pipe, prism, room; gives it. Its other numbers are set as solid.thickness, "
          "solid.sweep and so on."},
         Needs::Scene,
         false,
         solid},
        {{"prism", "corners, height [, parent]",
          "Adds a prism on a footprint through places of the world, in order, standing on the lowest; gives it."},
         Needs::Scene,
         false,
         prism},
        {{"clip", "objects, point, normal [, keep]",
          "Cuts solids by a plane: both halves are kept, or \"front\", where the normal looks to, or \"behind\"; gives "
          "what is left."},
         Needs::Scene,
         false,
         clip},
        {{"split", "object, point, normal", "Cuts the pieces of a solid by a plane; it stays one object."},
         Needs::Scene,
         false,
         split},
        {{"open", "object, point, facing, width, height [, outline]",
          "Cuts an opening, rectangle or arch, into a solid: the middle of its sill lies on a point of a face that "
          "looks that way. Gives its number."},
         Needs::Scene,
         false,
         open},
        {{"close", "object, number", "Takes an opening away: the solid closes."}, Needs::Scene, false, close},
        {{"repeatOpening", "object, number, count, apart",
          "So many more of an opening, each so far from the one before, in the axes of the solid."},
         Needs::Scene,
         false,
         repeatOpening},
        {{"subtract", "objects, tools", "Takes what lies in the tools out of solids; the tools stay."},
         Needs::Scene,
         false,
         subtract},
        {{"join", "objects", "Makes several solids one, the first of them; gives it."}, Needs::Scene, false, join},
        {{"intersect", "objects", "What several solids have in common, in the first of them; gives it."},
         Needs::Scene,
         false,
         intersect},
        {{"hollow", "objects, thickness", "Makes shells of solids, measured straight in from each face."},
         Needs::Scene,
         false,
         hollow},
        {{"plain", "objects", "Solids are kept as plain faces, without the numbers they were made from."},
         Needs::Scene,
         false,
         plain},
        {{"pieces", "objects", "Takes solids apart into one of each convex piece; gives them."},
         Needs::Scene,
         false,
         pieces},
        {{"moveFace", "object, facing, metres",
          "Moves the outermost face of a solid that looks in a direction; what lies beside it goes along."},
         Needs::Scene,
         false,
         pullFace<byNormal>},
        {{"extrude", "object, facing, metres",
          "Pulls the outermost face that looks in a direction out as a new piece, or below 0 pushes it in."},
         Needs::Scene,
         false,
         pullFace<pulledOut>},
        {{"dressFace", "object, facing, surface",
          "Puts a surface of the project on the face that looks in a direction; an empty name takes it off."},
         Needs::Scene,
         false,
         dressFace},
        {{"volume", "object", "Cubic metres inside a solid."}, Needs::Scene, false, volume},
    };
}

}  // namespace script
