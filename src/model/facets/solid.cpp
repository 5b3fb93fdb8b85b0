#include "model/facets/solid.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/hash.h"
#include "model/data.h"
#include "model/facet_builder.h"
#include "model/field_values.h"
#include "model/names.h"
#include "model/value_json.h"

namespace model {
namespace {

using base::Vec2;
using base::Vec3;
using Shape = Solid::Shape;

const std::vector<std::string>& names() {
    static const std::vector<std::string> all = {"box",    "wedge", "cylinder", "cone",        "sphere",  "plane",
                                                 "stairs", "wall",  "arch",     "curved wall", "frustum", "ramp",
                                                 "torus",  "pipe",  "prism",    "room",        "plain"};
    return all;
}

/// A list of so many numbers each.
template <class V, class T>
Member& placesMember(FieldsOf<T>& f, const char* key, const char* label, std::vector<V> T::*m) {
    Member& made = f.add(key, label, PropertyType::List);
    made.inField = false;
    made.expected = fmt::format("a list of places, each {} numbers within 100 km, was", V::length());
    made.schema = [] {
        const ValueMap number = {{"type", {std::string("number")}}};
        const ValueMap place = {{"type", {std::string("array")}},
                                {"items", {number}},
                                {"minItems", {std::int64_t{V::length()}}},
                                {"maxItems", {std::int64_t{V::length()}}}};
        return ValueMap{{"type", {std::string("array")}}, {"items", {place}}};
    };
    made.get = [m](const void* t) {
        ValueList list;
        for (const V& place : FieldsOf<T>::self(t).*m) list.push_back(vectorValue(place));
        return std::optional(Value{std::move(list)});
    };
    made.set = [m](void* t, const Value& v) {
        const auto* list = std::get_if<ValueList>(&v.data);
        std::vector<V> read;
        for (const Value& one : list != nullptr ? *list : ValueList{}) {
            const auto place = vectorIn<V>(one);
            if (!place || !(glm::length(*place) <= kLargestMetres)) return false;
            read.push_back(*place);
        }
        if (list != nullptr) FieldsOf<T>::self(t).*m = std::move(read);
        return list != nullptr;
    };
    return made;
}

/// Each face is [tag, corner, corner, corner …].
std::optional<SolidPiece::Face> faceIn(const Value& value) {
    const auto* list = std::get_if<ValueList>(&value.data);
    if (list == nullptr || list->size() < 4) return std::nullopt;
    SolidPiece::Face face;
    for (std::size_t i = 0; i < list->size(); ++i) {
        const auto* n = std::get_if<std::int64_t>(&(*list)[i].data);
        if (n == nullptr || *n < 0 || *n > 1'000'000) return std::nullopt;
        if (i == 0)
            face.tag = static_cast<int>(*n);
        else
            face.loop.push_back(static_cast<std::uint32_t>(*n));
    }
    return face;
}

const Fields& pieceFields() {
    static const Fields fields = [] {
        FieldsOf<SolidPiece> f;
        placesMember(f, "corners", "Corners", &SolidPiece::corners).always = true;
        Member& faces = f.add("faces", "Faces", PropertyType::List);
        faces.always = true;
        faces.inField = false;
        faces.expected = "a list of faces, each a tag and three or more corners, was";
        faces.schema = [] {
            const ValueMap number = {{"type", {std::string("integer")}}, {"minimum", {std::int64_t{0}}}};
            const ValueMap face = {
                {"type", {std::string("array")}}, {"items", {number}}, {"minItems", {std::int64_t{4}}}};
            return ValueMap{{"type", {std::string("array")}}, {"items", {face}}};
        };
        faces.get = [](const void* t) {
            ValueList list;
            for (const SolidPiece::Face& face : FieldsOf<SolidPiece>::self(t).faces) {
                ValueList one = {{static_cast<std::int64_t>(face.tag)}};
                for (std::uint32_t corner : face.loop) one.push_back({static_cast<std::int64_t>(corner)});
                list.push_back({std::move(one)});
            }
            return std::optional(Value{std::move(list)});
        };
        faces.set = [](void* t, const Value& v) {
            const auto* list = std::get_if<ValueList>(&v.data);
            std::vector<SolidPiece::Face> read;
            for (const Value& one : list != nullptr ? *list : ValueList{}) {
                auto face = faceIn(one);
                if (!face) return false;
                read.push_back(std::move(*face));
            }
            if (list != nullptr) FieldsOf<SolidPiece>::self(t).faces = std::move(read);
            return list != nullptr;
        };
        return f.done();
    }();
    return fields;
}

const Fields& openingFields() {
    static const Fields fields = [] {
        using Opening = SolidOpening;
        FieldsOf<Opening> f;
        f.text("name", "Name", &Opening::name);
        Member& outline = f.word("outline", "Outline", &Opening::outline, {"rectangle", "arch", "drawn"});
        const char* labels[] = {"Rectangle", "Arch", "Drawn"};
        for (std::size_t i = 0; i < std::size(labels); ++i) outline.property.choices[i].label = labels[i];
        f.real("width", "Width", &Opening::width, "m", kAboveNothing, 10'000).property.step = 0.25;
        f.real("height", "Height", &Opening::height, "m", kAboveNothing, 10'000).property.step = 0.25;
        f.derived(
             "sill", "Sill", "m", -10'000, 10'000, [](const Opening& o) { return o.at.y; },
             [](Opening& o, double metres) {
                 const double top = o.at.y + o.height;
                 o.at.y = metres;
                 if (top - metres > 0.001) o.height = top - metres;
             })
            .property.help = "Its lower edge, above the base of the solid; the upper one stays";
        f.derived(
             "head", "Head", "m", -10'000, 10'000, [](const Opening& o) { return o.at.y + o.height; },
             [](Opening& o, double metres) { o.height = std::max(metres - o.at.y, 0.001); })
            .property.help = "Its upper edge, above the base of the solid; the lower one stays";
        f.real("rise", "Rise of the arch", &Opening::rise, "m", 0, 10'000).shown =
            f.when([](const Opening& o) { return o.outline == Opening::Outline::Arch; });
        f.last().help = "From where it springs to its top; 0: half its width";
        f.real("depth", "Depth", &Opening::depth, "m", 0, 10'000).property.help =
            "How far in it goes; 0: through what it lies on";
        f.vector("at", "Place", &Opening::at, "m", -kLargestMetres, kLargestMetres).always = true;
        f.last().help = "The middle of its sill, in the axes of the solid";
        Member& facing = f.vector("facing", "Facing", &Opening::facing, "", -1, 1);
        facing.inField = false;
        placesMember(f, "corners", "Corners", &Opening::corners);
        return f.done();
    }();
    return fields;
}

const Fields& faceFields() {
    static const Fields fields = [] {
        FieldsOf<SolidFace> f;
        f.text("slot", "Slot", &SolidFace::slot).always = true;
        Member& tag = f.whole("tag", "Face", &SolidFace::tag, 0, 1'000'000);
        tag.always = true;
        tag.property.step = 1;
        Member& lies = f.word("lies", "Image lies", &SolidFace::lies, {"sides", "runs", "fits"});
        const char* labels[] = {"From its side", "Runs on over neighbours", "Once over the face"};
        for (std::size_t i = 0; i < std::size(labels); ++i) lies.property.choices[i].label = labels[i];
        f.real("metres", "Tile", &SolidFace::metres, "m", 0, 1'000).property.help =
            "How wide one tile is; 0: as the surface says";
        f.angle("turn", "Turn", &SolidFace::turnDegrees, -360, 360).property.step = 15;
        f.real("across", "Shift across", &SolidFace::across, "m", -kLargestMetres, kLargestMetres);
        f.real("down", "Shift down", &SolidFace::down, "m", -kLargestMetres, kLargestMetres);
        return f.done();
    }();
    return fields;
}

bool isRing(const Solid& s) {
    return s.shape == Shape::Arch || s.shape == Shape::CurvedWall || s.shape == Shape::Torus;
}
bool hasParts(const Solid& s) {
    switch (s.shape) {
        case Shape::Cylinder:
        case Shape::Cone:
        case Shape::Sphere:
        case Shape::Stairs:
        case Shape::Frustum:
        case Shape::Pipe: return true;
        default: return isRing(s);
    }
}
bool hasThickness(const Solid& s) {
    return isRing(s) || s.shape == Shape::Ramp || s.shape == Shape::Pipe || s.shape == Shape::Room;
}

/// A plain one has no numbers to be made from: its corners go along.
void resize(Solid& s, const Vec3& size) {
    const Vec3 share = size / glm::max(s.size, Vec3(1e-9));
    s.size = size;
    if (s.shape != Shape::Plain) return;
    for (SolidPiece& piece : s.pieces)
        for (Vec3& corner : piece.corners) corner *= share;
}

void describeSize(FieldsOf<Solid>& f) {
    Member& size = f.vector("size", "Size", &Solid::size, "m", kAboveNothing, kLargestMetres);
    size.always = true;
    size.inField = false;
    size.set = [](void* t, const Value& v) {
        const auto read = vectorIn<Vec3>(v);
        if (read) resize(FieldsOf<Solid>::self(t), *read);
        return read.has_value();
    };
    const char *keys[] = {"width", "height", "depth"}, *labels[] = {"Width", "Height", "Depth"};
    for (int k = 0; k < 3; ++k) {
        Member& one = f.derived(
            keys[k], labels[k], "m", 0.001, 10'000, [k](const Solid& s) { return s.size[k]; },
            [k](Solid& s, double metres) {
                Vec3 to = s.size;
                to[k] = metres;
                resize(s, to);
            });
        one.property.step = 0.25;
        if (k == 1) one.shown = f.when([](const Solid& s) { return s.shape != Shape::Plane; });
    }
}

void describeNumbers(FieldsOf<Solid>& f) {
    Member& parts = f.whole("parts", "Sides or steps", &Solid::parts, 0, 1000);
    parts.property.step = 0.5;  // no slider: nought is another thing than few
    parts.property.help = "Sides of what is round, pieces of an arch, steps of stairs; 0: as many as suits";
    parts.shown = f.when(hasParts);
    Member& thickness = f.real("thickness", "Thickness", &Solid::thickness, "m", kAboveNothing, 10'000);
    thickness.property.step = 0.05;
    thickness.shown = f.when(hasThickness);
    Member& start = f.angle("start", "Starts at", &Solid::startDegrees, -360, 360);
    start.property.step = 15;
    start.property.help = "The angle it begins at; 0: at the right";
    start.shown = f.when(isRing);
    Member& sweep = f.angle("sweep", "Sweep", &Solid::sweepDegrees, 1, 360);
    sweep.property.step = 15;
    sweep.shown = f.when(isRing);
    Member& rise = f.real("rise", "Rise each", &Solid::rise, "m", 0, 100);
    rise.property.step = 0.02;
    rise.property.help = "From piece to piece: 0 is an arch, more are winding stairs";
    rise.shown = f.when([](const Solid& s) { return s.shape == Shape::Arch; });
    Member& filled = f.flag("filled", "Filled", &Solid::filled);
    filled.property.help = "An arch out to its box, winding stairs down to the ground";
    filled.shown = rise.shown;
    Member& top = f.real("top", "Top ×", &Solid::top, "", 0, 100);
    top.property.step = 0.05;
    top.property.help = "How large its top is, times its base";
    top.shown = f.when([](const Solid& s) { return s.shape == Shape::Frustum; });
    placesMember(f, "footprint", "Footprint", &Solid::footprint);
}

void describeLists(FieldsOf<Solid>& f) {
    Member& pieces = f.parts("pieces", "Pieces", &Solid::pieces, pieceFields());
    pieces.always = false;
    pieces.property.unit = "piece";
    Member& openings = f.parts("openings", "Openings", &Solid::openings, openingFields());
    openings.always = false;
    openings.property.unit = "opening";
    Member& faces = f.parts("faces", "Dressed faces", &Solid::faces, faceFields());
    faces.always = false;
    faces.property.unit = "face";
}

bool isSound(const SolidPiece& piece) {
    for (const SolidPiece::Face& face : piece.faces)
        for (std::uint32_t corner : face.loop)
            if (corner >= piece.corners.size()) return false;
    return piece.corners.size() >= 4 && piece.faces.size() >= 4;
}

/// What names corners that are not there is left out.
std::string mendPieces(void* facet) {
    Solid& solid = FieldsOf<Solid>::self(facet);
    if (std::erase_if(solid.pieces, [](const SolidPiece& p) { return !isSound(p); }) > 0)
        return "pieces: A piece names corners that it does not have, and was left out.";
    return {};
}

base::Status arePiecesUsable(const void* facet) {
    const Solid& solid = FieldsOf<Solid>::self(facet);
    std::size_t faces = 0;
    for (const SolidPiece& piece : solid.pieces) {
        faces += piece.faces.size();
        if (!isSound(piece)) return fail(ErrorCode::BadInput, "A piece of a solid names corners it does not have.");
    }
    if (solid.pieces.size() > Solid::kMostPieces || faces > Solid::kMostFaces)
        return fail(ErrorCode::BadInput,
                    fmt::format("A solid can have up to {} faces in {} pieces, not {} in {}.", Solid::kMostFaces,
                                Solid::kMostPieces, faces, solid.pieces.size()));
    return {};
}

}  // namespace

const std::string& solidName(Shape shape) {
    return names()[static_cast<std::size_t>(shape)];
}

std::optional<Shape> solidShape(std::string_view name) {
    const auto place = std::find(names().begin(), names().end(), name);
    return place == names().end() ? std::nullopt : std::optional(static_cast<Shape>(place - names().begin()));
}

Solid usualSolid(Shape shape, const Vec3& size, int parts) {
    Solid made;
    made.shape = shape;
    made.size = size;
    made.parts = parts;
    if (shape == Shape::CurvedWall) made.sweepDegrees = 90;
    if (shape == Shape::Torus) {
        made.sweepDegrees = 360;
        made.thickness = 0.5;
    }
    return made;
}

ValueMap solidFacts(const Solid& solid) {
    ValueMap all;
    putValues(Solid::type().fields, &solid, all);
    eraseValue(all, "pieces");
    if (!solid.pieces.empty()) setValue(all, "pieces", {static_cast<std::int64_t>(solid.pieces.size())});
    return all;
}

std::string solidKey(const Solid& solid) {
    Solid shown = solid;
    for (SolidOpening& opening : shown.openings) opening.name.clear();
    if (shown.shape != Shape::Plain) shown.pieces.clear();
    std::string text = fmt::format("={} {} {} {} {}", static_cast<int>(shown.shape), shown.size.x, shown.size.y,
                                   shown.size.z, shown.parts);
    Solid plain;
    plain.shape = shown.shape;
    plain.size = shown.size;
    plain.parts = shown.parts;
    plain.unknown = shown.unknown;
    if (shown == plain) return text;
    std::string rest;
    std::function<void(const Fields&, const void*)> say = [&](const Fields& fields, const void* of) {
        for (const Member& m : fields.members) {
            if (!m.stored) continue;
            rest += ';';
            if (m.parts.fields == nullptr)
                appendJson(rest, m.get(of).value_or(Value{}));
            else
                for (std::size_t i = 0; i < m.parts.size(of); ++i) say(*m.parts.fields, m.parts.at(of, i));
        }
    };
    say(Solid::type().fields, &shown);
    // Corners of pieces would make long names: their sum stands for them.
    return fmt::format("{} {:016x}{:016x}", text, base::hashBytes(rest), base::hashBytes(rest + '.'));
}

const FacetType& Solid::type() {
    static const FacetType type = [] {
        FieldsOf<Solid> f;
        f.word("shape", "Shape", &Solid::shape, names()).always = true;
        describeSize(f);
        describeNumbers(f);
        describeLists(f);
        FacetType made = facetTypeOf<Solid>("solid", "Solid", "A plain body made here, from its numbers", f.done());
        made.byHand = false;
        made.mend = mendPieces;
        made.check = arePiecesUsable;
        return made;
    }();
    return type;
}

}  // namespace model
