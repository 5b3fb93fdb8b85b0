#include "cli/laying_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <ostream>

#include "cli/fields.h"
#include "cli/names.h"
#include "cli/verbs.h"
#include "io/json_text.h"
#include "ops/assortments.h"
#include "ops/lay.h"
#include "ops/live_index.h"
#include "ops/move.h"
#include "ops/push.h"
#include "ops/relations.h"
#include "query/object_filter.h"
#include "script/shapes.h"

namespace cli {
namespace {

using What = model::Relation::What;

struct Arguments {
    std::string path, where, name, item, set, what, to;
    std::vector<double> from, until, direction;
    std::vector<std::string> values;
    double cell = 0, height = 0;
    int quarters = 0, number = 0;
    bool mirrored = false, clears = false, asJson = false, goes = false;
};

/// Runs a verb as one step on the scene that the path names, with what knows where things are.
int change(const Arguments& a, const Verbs& v, const std::string& step,
           const std::function<Status(edit::Draft&, const query::SceneIndex&)>& verb) {
    return runStep(a.path, v, {}, step, [&](const Opened& opened, edit::Draft& draft) -> Status {
        const ops::LiveIndex index(opened.session(), draft.scene(), script::shapesIn(*opened.workspace));
        return verb(draft, index.get());
    });
}

Result<ops::LayPlan> planOf(const Arguments& a, edit::Draft& draft, const query::SceneIndex& index) {
    const auto& sets = draft.session().library().sets();
    const auto set = sets.find(a.set);
    if (!a.set.empty() && set == sets.end())
        return base::fail(ErrorCode::NotFound, fmt::format("There is no set of pieces “{}”.", a.set));
    const model::Item* item = draft.session().library().item(draft.session().intern(a.item));
    if (!a.item.empty() && item == nullptr)
        return base::fail(ErrorCode::NotFound, fmt::format("There is no item “{}”.", a.item));
    ops::Lattice lattice;
    lattice.heightMetres = a.height;
    lattice.cellMetres = a.cell != 0         ? a.cell
                         : set != sets.end() ? set->second.cellMetres
                         : item != nullptr   ? ops::cellOf(*item).value_or(1)
                                             : 1;
    const base::Vec3 from(a.from[0], 0, a.from[1]);
    const base::Vec3 until = a.until.empty() ? from : base::Vec3(a.until[0], 0, a.until[1]);
    const auto cells = ops::rectangle(ops::cellAt(lattice, from), ops::cellAt(lattice, until));
    const model::PieceSet* pieces = set != sets.end() ? &set->second : nullptr;
    if (a.clears) return ops::planClear(draft.scene(), index, draft.session(), lattice, pieces, cells);
    if (pieces != nullptr) return ops::planSet(draft.scene(), index, draft.session(), lattice, *pieces, cells);
    return ops::planPiece(draft.scene(), index, draft.session(), lattice, {a.item, a.quarters, a.mirrored}, cells);
}

int lay(const Arguments& a, const Verbs& v) {
    if (a.item.empty() && a.set.empty() && !a.clears)
        return v.io.fail({ErrorCode::BadInput, "What is to be laid is said by --item or --set."});
    std::size_t placed = 0, gone = 0, unfit = 0;
    const int code = change(a, v, a.clears ? "Take away pieces" : "Lay " + (a.set.empty() ? a.item : a.set),
                            [&](edit::Draft& draft, const query::SceneIndex& index) -> Status {
                                auto plan = planOf(a, draft, index);
                                if (!plan) return tl::unexpected(plan.error());
                                auto made = ops::lay(draft, *plan);
                                if (!made) return tl::unexpected(made.error());
                                placed = made->size(), gone = plan->replaced.size(), unfit = plan->unfit;
                                return {};
                            });
    if (code != exitCode::kFine) return code;
    v.io.out << fmt::format("{} laid, {} gave way\n", placed, gone);
    if (unfit > 0) v.io.err << fmt::format("mellow: for {} cells the set has no piece that fits\n", unfit);
    return code;
}

int push(const Arguments& a, const Verbs& v) {
    std::string told;
    const int code = change(a, v, "Push", [&](edit::Draft& draft, const query::SceneIndex& index) -> Status {
        auto ids = chosen(draft.scene(), a.where);
        if (!ids) return tl::unexpected(ids.error());
        const base::Vec3 way(a.direction[0], a.direction[1], a.direction[2]);
        if (a.goes) {
            auto came = ops::moveInContact(draft, index, *ids, way);
            if (!came) return tl::unexpected(came.error());
            told = fmt::format("came {:.4f} {:.4f} {:.4f}\n", came->x, came->y, came->z);
            return {};
        }
        auto pushed = ops::push(draft, index, *ids, way);
        if (!pushed) return tl::unexpected(pushed.error());
        told = fmt::format("{:.4f} m, to {}\n", pushed->metres, draft.scene().nameText(draft.scene().find(pushed->on)));
        return {};
    });
    if (code == exitCode::kFine) v.io.out << told;
    return code;
}

int quarter(const Arguments& a, const Verbs& v) {
    return change(a, v, "Quarter turns", [&](edit::Draft& draft, const query::SceneIndex&) -> Status {
        auto ids = chosen(draft.scene(), a.where);
        if (!ids) return tl::unexpected(ids.error());
        auto mover = ops::Mover::begin(draft.scene(), *ids);
        if (!mover) return tl::unexpected(mover.error());
        return mover->turnBy(draft, {0, 1, 0}, a.quarters * base::kPi / 2, ops::PivotMode::Each);
    });
}

int relate(const Arguments& a, const Verbs& v) {
    return change(a, v, "Relate", [&](edit::Draft& draft, const query::SceneIndex& index) -> Status {
        auto ids = chosen(draft.scene(), a.where);
        if (!ids) return tl::unexpected(ids.error());
        if (a.number > 0) {
            for (base::ObjectId id : *ids)
                if (Status done = ops::unrelate(draft, id, static_cast<std::size_t>(a.number - 1)); !done) return done;
            return {};
        }
        static const std::map<std::string, What> words = {
            {"seated", What::Seated}, {"flush", What::Flush}, {"distance", What::Distance}, {"facing", What::Facing}};
        const auto what = words.find(a.what);
        if (what == words.end())
            return base::fail(ErrorCode::BadInput, "A relation is seated, flush, distance or facing.");
        base::ObjectId to;
        if (what->second != What::Seated) {
            auto other = objectOf(draft.scene(), a.to);
            if (!other) return tl::unexpected(other.error());
            to = *other;
        }
        for (base::ObjectId id : *ids)
            if (Status done = ops::relate(draft, index, id, what->second, to); !done) return done;
        return {};
    });
}

int listMixes(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    for (const auto& [name, mix] : opened->session().library().mixes()) {
        if (a.asJson) {
            io::Json line = {{"name", name}};
            for (const auto& [key, value] : model::toValues(mix)) line[key] = io::toJson(value);
            v.io.out << io::toText(line) << "\n";
            continue;
        }
        v.io.out << name;
        for (const auto& [item, share] : mix.shares) v.io.out << fmt::format("  {}={}", item, share);
        v.io.out << "\n";
    }
    return exitCode::kFine;
}

int setMix(const Arguments& a, const Verbs& v) {
    return change(a, v, "Mix " + a.name, [&](edit::Draft& draft, const query::SceneIndex&) -> Status {
        auto mix = ops::parseMix(a.name, a.values);
        return mix ? ops::putMix(draft, *mix) : tl::unexpected(mix.error());
    });
}

int deleteMix(const Arguments& a, const Verbs& v) {
    return change(a, v, "Delete the mix " + a.name,
                  [&](edit::Draft& draft, const query::SceneIndex&) { return ops::removeMix(draft, a.name); });
}

int useMix(const Arguments& a, const Verbs& v) {
    return change(a, v, "Make of the mix " + a.name, [&](edit::Draft& draft, const query::SceneIndex&) -> Status {
        auto ids = chosen(draft.scene(), a.where);
        if (!ids) return tl::unexpected(ids.error());
        auto done = ops::remake(draft, *ids, a.name, v.chance.seed);
        return done ? Status{} : tl::unexpected(done.error());
    });
}

int setPieces(const Arguments& a, const Verbs& v) {
    return change(a, v, "Set of pieces " + a.name, [&](edit::Draft& draft, const query::SceneIndex&) -> Status {
        if (a.clears) return ops::removeSet(draft, a.name);
        model::ValueMap pieces;
        for (const std::string& text : a.values) {
            const auto at = text.rfind('=');
            if (at == std::string::npos)
                return base::fail(ErrorCode::BadInput, fmt::format("“{}”: an item, =, and letters of nesw.", text));
            pieces.emplace_back(text.substr(0, at), model::Value{text.substr(at + 1)});
        }
        std::vector<std::string> problems;
        const model::ValueMap map = {{"cell", model::Value{a.cell != 0 ? a.cell : 1.0}},
                                     {"pieces", model::Value{pieces}}};
        const model::PieceSet set = model::pieceSetFrom(a.name, map, problems);
        if (!problems.empty()) return base::fail(ErrorCode::BadInput, problems.front());
        return ops::putSet(draft, set);
    });
}

}  // namespace

void addLayingCommands(CLI::App& app, const Verbs& verbs) {
    auto a = std::make_shared<Arguments>();  // shared by the callbacks, which run while parsing
    const auto add = [&](CLI::App& to, const char* name, const char* help, const char* path,
                         int (*run)(const Arguments&, const Verbs&)) {
        return addVerb(to, name, help, path, a, verbs, run);
    };
    const auto where = [&](CLI::App* command) {
        command->add_option("--where", a->where, "Which objects, as the Roster takes filters")->required();
        return command;
    };
    auto* laid = add(app, "lay", "Lays pieces cell by cell; what was laid there gives way", "SCENE", lay);
    laid->add_option("--item", a->item, "One piece");
    laid->add_option("--set", a->set, "A set of pieces: each is the one that fits its neighbours");
    laid->add_option("--from", a->from, "X Z of a place in the first cell")->expected(2)->required();
    laid->add_option("--to", a->until, "X Z of a place in the last one")->expected(2);
    laid->add_option("--cell", a->cell, "How wide a cell is, metres; else as the piece or the set says");
    laid->add_option("--height", a->height, "Of what is laid, metres");
    laid->add_option("--quarters", a->quarters, "Quarter turns to the left");
    laid->add_flag("--mirrored", a->mirrored, "Left and right changed about");
    laid->add_flag("--clear", a->clears, "Takes away what was laid there instead");
    auto* pushed = where(add(app, "push", "Moves objects as one along a direction until they touch", "SCENE", push));
    pushed->add_option("--direction", a->direction, "X Y Z")->expected(3)->required();
    pushed->add_flag("--by", a->goes, "Only so far, and along what stops them");
    where(add(app, "quarter", "Turns objects by quarters, each about its own up", "SCENE", quarter))
        ->add_option("--turns", a->quarters, "To the left, seen from above")
        ->default_val(1);
    auto* related = where(add(app, "relate", "What objects keep when others move", "SCENE", relate));
    related->add_option("WHAT", a->what, "seated, flush, distance, facing");
    related->add_option("--to", a->to, "What they go by: a name or an id");
    related->add_option("--break", a->number, "Ends one of their relations, counted from 1");
    CLI::App& mix = addGroup(app, "mix", "Several items with shares: list, set, use, delete");
    add(mix, "list", "The project’s", "PROJECT", listMixes)->add_flag("--json", a->asJson, "A JSON object a line");
    auto* set = add(mix, "set", "Makes one, or another of it", "PROJECT", setMix);
    set->add_option("NAME", a->name)->required();
    set->add_option("ITEM=SHARE", a->values)->required();
    where(add(mix, "use", "Objects become items of it, by chance", "SCENE", useMix))
        ->add_option("NAME", a->name)
        ->required();
    add(mix, "delete", "What was placed of it stays", "PROJECT", deleteMix)->add_option("NAME", a->name)->required();
    auto* pieces =
        add(app, "pieces", "Makes a set of pieces that close themselves when they are laid", "PROJECT", setPieces);
    pieces->add_option("NAME", a->name)->required();
    pieces->add_option("ITEM=SIDES", a->values, "The sides where it goes on: letters of nesw, -z is north");
    pieces->add_option("--cell", a->cell, "How wide a cell is, metres");
    pieces->add_flag("--delete", a->clears, "Deletes it; what was laid of it stays");
}

}  // namespace cli
