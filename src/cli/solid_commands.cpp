#include "cli/solid_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <ostream>

#include "cli/names.h"
#include "cli/verbs.h"
#include "ops/solid.h"
#include "ops/solid_edit.h"

namespace cli {
namespace {

using base::Vec3;

struct Arguments {
    std::string path, where, shape, keep = "both", outline = "rectangle", tools, surface;
    std::vector<double> size, at, normal, facing, apart;
    double degrees = 0, metres = 0, thickness = 0;
    int number = 1, count = 0;
};

Vec3 vec(const std::vector<double>& numbers) {
    return numbers.size() == 3 ? Vec3(numbers[0], numbers[1], numbers[2]) : Vec3(0.0);
}

/// A step on the objects that --where names; what it tells is printed once it is written.
int change(const Arguments& a, const Verbs& v, const std::string& step,
           const std::function<Result<std::string>(edit::Draft&, std::span<const base::ObjectId>)>& verb) {
    std::string told;
    const int code = runStep(a.path, v, {}, step, [&](const Opened&, edit::Draft& draft) -> Status {
        std::vector<base::ObjectId> ids;
        if (!a.where.empty()) {
            auto found = chosen(draft.scene(), a.where);
            if (!found) return tl::unexpected(found.error());
            ids = std::move(*found);
        }
        auto done = verb(draft, ids);
        if (!done) return tl::unexpected(done.error());
        told = std::move(*done);
        return {};
    });
    if (code == exitCode::kFine) v.io.out << told;
    return code;
}

std::string names(const edit::Draft& draft, std::span<const base::ObjectId> ids) {
    std::string all;
    for (base::ObjectId id : ids)
        all += fmt::format("{}  {}\n", base::toText(id), draft.scene().nameText(draft.scene().find(id)));
    return all;
}

int add(const Arguments& a, const Verbs& v) {
    const auto shape = model::solidShape(a.shape);
    if (!shape || *shape == model::Solid::Shape::Plain)
        return v.io.fail({ErrorCode::BadInput, a.shape + ": is no shape of a solid."});
    return change(a, v, "Draw " + a.shape, [&](edit::Draft& draft, auto) -> Result<std::string> {
        base::Transform frame;
        frame.position = vec(a.at);
        frame.rotation = base::fromDegrees({0, a.degrees, 0});
        auto made = ops::addSolid(draft, model::usualSolid(*shape, vec(a.size)), frame, {});
        if (!made) return tl::unexpected(made.error());
        return names(draft, {&*made, 1});
    });
}

int clip(const Arguments& a, const Verbs& v) {
    if (a.keep != "both" && a.keep != "front" && a.keep != "behind")
        return v.io.fail({ErrorCode::BadInput, "--keep is both, front or behind."});
    if (glm::length(vec(a.normal)) < 1e-9) return v.io.fail({ErrorCode::BadInput, "--normal has a length."});
    return change(a, v, "Clip", [&](edit::Draft& draft, auto ids) -> Result<std::string> {
        auto left = ops::clip(draft, ids, shape::planeThrough(vec(a.at), vec(a.normal)),
                              {a.keep != "behind", a.keep != "front"});
        if (!left) return tl::unexpected(left.error());
        return names(draft, *left);
    });
}

int split(const Arguments& a, const Verbs& v) {
    if (glm::length(vec(a.normal)) < 1e-9) return v.io.fail({ErrorCode::BadInput, "--normal has a length."});
    return change(a, v, "Split", [&](edit::Draft& draft, auto ids) -> Result<std::string> {
        for (base::ObjectId id : ids)
            if (Status done = ops::split(draft, id, shape::planeThrough(vec(a.at), vec(a.normal))); !done)
                return tl::unexpected(done.error());
        return std::string();
    });
}

int openIt(const Arguments& a, const Verbs& v) {
    using Outline = model::SolidOpening::Outline;
    if (a.outline != "rectangle" && a.outline != "arch")
        return v.io.fail({ErrorCode::BadInput, "--outline is rectangle or arch."});
    return change(a, v, "Opening", [&](edit::Draft& draft, auto ids) -> Result<std::string> {
        std::string told;
        for (base::ObjectId id : ids) {
            model::SolidOpening opening = ops::openingAt(draft.scene(), id, vec(a.at), vec(a.facing));
            opening.width = a.size[0];
            opening.height = a.size[1];
            opening.outline = a.outline == "arch" ? Outline::Arch : Outline::Rectangle;
            auto number = ops::addOpening(draft, id, opening);
            if (!number) return tl::unexpected(number.error());
            if (a.count > 0)
                if (Status more = ops::repeatOpening(draft, id, *number, a.count, vec(a.apart)); !more)
                    return tl::unexpected(more.error());
            told += fmt::format("{}: opening {}\n", draft.scene().nameText(draft.scene().find(id)), *number + 1);
        }
        return told;
    });
}

int close(const Arguments& a, const Verbs& v) {
    return change(a, v, "Close", [&](edit::Draft& draft, auto ids) -> Result<std::string> {
        for (base::ObjectId id : ids)
            if (Status done = ops::removeOpening(draft, id, static_cast<std::size_t>(std::max(a.number, 1) - 1)); !done)
                return tl::unexpected(done.error());
        return std::string();
    });
}

int subtract(const Arguments& a, const Verbs& v) {
    return change(a, v, "Subtract", [&](edit::Draft& draft, auto ids) -> Result<std::string> {
        auto tools = chosen(draft.scene(), a.tools);
        if (!tools) return tl::unexpected(tools.error());
        if (Status done = ops::subtract(draft, ids, *tools); !done) return tl::unexpected(done.error());
        return std::string();
    });
}

/// A verb that makes several one.
template <Result<base::ObjectId> (*Verb)(edit::Draft&, std::span<const base::ObjectId>)>
int asOne(const Arguments& a, const Verbs& v) {
    return change(a, v, "Join", [&](edit::Draft& draft, auto ids) -> Result<std::string> {
        auto made = Verb(draft, ids);
        if (!made) return tl::unexpected(made.error());
        return names(draft, {&*made, 1});
    });
}

int plain(const Arguments& a, const Verbs& v) {
    return change(a, v, "Keep as plain faces", [&](edit::Draft& draft, auto ids) -> Result<std::string> {
        if (Status done = ops::keepAsPlain(draft, ids); !done) return tl::unexpected(done.error());
        return std::string();
    });
}

int hollow(const Arguments& a, const Verbs& v) {
    return change(a, v, "Hollow", [&](edit::Draft& draft, auto ids) -> Result<std::string> {
        if (Status done = ops::hollow(draft, ids, a.thickness); !done) return tl::unexpected(done.error());
        return std::string();
    });
}

int apart(const Arguments& a, const Verbs& v) {
    return change(a, v, "Take apart", [&](edit::Draft& draft, auto ids) -> Result<std::string> {
        auto made = ops::takePiecesApart(draft, ids);
        if (!made) return tl::unexpected(made.error());
        return names(draft, *made);
    });
}

/// A verb on the face of each that looks in a direction.
int onFace(const Arguments& a, const Verbs& v, const std::string& step,
           const std::function<Status(edit::Draft&, base::ObjectId, const ops::SolidPart&)>& verb) {
    if (glm::length(vec(a.facing)) < 1e-9) return v.io.fail({ErrorCode::BadInput, "--facing has a length."});
    return change(a, v, step, [&](edit::Draft& draft, auto ids) -> Result<std::string> {
        for (base::ObjectId id : ids) {
            auto pieces = ops::piecesOf(draft.scene(), id);
            if (!pieces) return tl::unexpected(pieces.error());
            auto face = ops::faceTowards(*pieces, ops::directionIn(draft.scene(), id, vec(a.facing)));
            if (!face) return tl::unexpected(face.error());
            if (Status done = verb(draft, id, *face); !done) return tl::unexpected(done.error());
        }
        return std::string();
    });
}

int moveFace(const Arguments& a, const Verbs& v) {
    return onFace(a, v, "Move a face",
                  [&](edit::Draft& draft, base::ObjectId id, const ops::SolidPart& face) -> Status {
                      auto moved = ops::moveParts(draft, id, {&face, 1}, face.plane.normal * a.metres);
                      return moved ? Status{} : tl::unexpected(moved.error());
                  });
}

int extrude(const Arguments& a, const Verbs& v) {
    return onFace(a, v, "Extrude", [&](edit::Draft& draft, base::ObjectId id, const ops::SolidPart& face) -> Status {
        auto made = ops::extrude(draft, id, face, a.metres);
        return made ? Status{} : tl::unexpected(made.error());
    });
}

int dress(const Arguments& a, const Verbs& v) {
    return onFace(a, v, "Dress a face", [&](edit::Draft& draft, base::ObjectId id, const ops::SolidPart& face) {
        return ops::setFaceSurface(draft, id, face.tag, a.surface);
    });
}

}  // namespace

void addSolidCommands(CLI::App& app, const Verbs& verbs) {
    auto a = std::make_shared<Arguments>();  // shared by the callbacks, which run while parsing
    CLI::App& solids = addGroup(app, "solid",
                                "Solids: add, clip, split, open, close, plain, subtract, join, intersect, hollow, "
                                "apart, move-face, extrude, dress");
    const auto verb = [&](const char* name, const char* help, int (*run)(const Arguments&, const Verbs&)) {
        return addVerb(solids, name, help, "SCENE", a, verbs, run);
    };
    const auto some = [&](const char* name, const char* help, int (*run)(const Arguments&, const Verbs&)) {
        auto* command = verb(name, help, run);
        command->add_option("--where", a->where, "Which objects, as the Roster takes filters")->required();
        return command;
    };
    const auto place = [&](CLI::App* command, const char* name, std::vector<double>& into, const char* help) {
        command->add_option(name, into, help)->expected(3)->required();
    };
    auto* added = verb("add", "Adds one with its base on a point", add);
    added->add_option("SHAPE", a->shape, "box, wall, arch, room …")->required();
    place(added, "--size", a->size, "X Y Z, metres");
    place(added, "--at", a->at, "X Y Z, world");
    added->add_option("--degrees", a->degrees, "About up");
    auto* clipped = some("clip", "Cuts solids by a plane", clip);
    place(clipped, "--at", a->at, "X Y Z of a point of the plane, world");
    place(clipped, "--normal", a->normal, "X Y Z: the side that is the front");
    clipped->add_option("--keep", a->keep, "both, front or behind");
    auto* parted = some("split", "Cuts pieces by a plane; each solid stays one", split);
    place(parted, "--at", a->at, "X Y Z of a point of the plane, world");
    place(parted, "--normal", a->normal, "X Y Z");
    auto* opened = some("open", "Cuts openings that stay parts of the solids", openIt);
    place(opened, "--at", a->at, "X Y Z of the middle of the sill, on a face, world");
    place(opened, "--facing", a->facing, "X Y Z: where that face looks, world");
    opened->add_option("--size", a->size, "Width and height, metres")->expected(2)->required();
    opened->add_option("--outline", a->outline, "rectangle or arch");
    opened->add_option("--more", a->count, "So many more of it");
    opened->add_option("--apart", a->apart, "X Y Z from one to the next, in the axes of the solid")->expected(3);
    some("close", "Takes an opening away", close)->add_option("--number", a->number, "Which, counted from 1");
    some("plain", "Keeps solids as plain faces, without their numbers", plain);
    some("subtract", "Takes what lies in others out of solids", subtract)
        ->add_option("--tools", a->tools, "Which others; they stay")
        ->required();
    some("join", "Makes several one, the first of them", asOne<ops::join>);
    some("intersect", "What several have in common, in the first of them", asOne<ops::intersect>);
    some("hollow", "Makes shells", hollow)->add_option("--thickness", a->thickness, "Metres")->required();
    some("apart", "One of each convex piece", apart);
    for (auto* command : {some("move-face", "Moves the outermost face that looks in a direction", moveFace),
                          some("extrude", "Pulls it out as a new piece; below 0 pushes it in", extrude)}) {
        place(command, "--facing", a->facing, "X Y Z, world");
        command->add_option("--by", a->metres, "Metres")->required();
    }
    auto* dressed = some("dress", "A surface of the project on the face that looks in a direction", dress);
    place(dressed, "--facing", a->facing, "X Y Z, world");
    dressed->add_option("SURFACE", a->surface, "Its name; none takes it off");
}

}  // namespace cli
