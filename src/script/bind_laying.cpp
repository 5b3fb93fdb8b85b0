// Contact, laying, mixes and lasting relations for scripts.
#include "model/facets/relations.h"
#include "ops/acts.h"
#include "ops/assortments.h"
#include "ops/lay.h"
#include "ops/move.h"
#include "ops/push.h"
#include "ops/relations.h"
#include "ops/standing.h"
#include "query/collision.h"
#include "script/names.h"
#include "script/reader.h"

namespace script {

namespace {

using Needs = Binding::Needs;
using What = model::Relation::What;

Data push(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const Vec3 direction = r.vector();
    const ops::Pushed pushed = taken(ops::push(c.change(ids), c.index(), ids, direction));
    return {pushed.metres, pushed.on};
}
Data moveInContact(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const Vec3 by = r.point();
    return {taken(ops::moveInContact(c.change(ids), c.index(), ids, by))};
}
Data quarter(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const double turns = r.number(1);
    if (turns != std::round(turns) || std::abs(turns) > 1000) trouble("quarter turns are a whole number");
    edit::Draft& draft = c.change(ids);
    const auto mover = taken(ops::Mover::begin(draft.scene(), ids));
    check(mover.turnBy(draft, {0, 1, 0}, turns * base::kPi / 2, ops::PivotMode::Base));
    return {};
}
Data standing(Context& c, const Data& a) {
    return {ops::standingOn(c.scene(), c.index(), Reader(c, a).objects())};
}
Data support(Context& c, const Data& a) {
    const ObjectId on = ops::supportOf(c.scene(), c.index(), self(c, a));
    return {on ? Datum(on) : Datum(Nothing{})};
}
Data collision(Context& c, const Data& a) {
    const query::CollisionSource from = query::collisionSource(c.library(), c.scene(), self(c, a));
    return {from.shape, from.ofBody};
}

/// Cells from one place of the world to another.
std::vector<ops::Cell> cellsOf(const ops::Lattice& lattice, const Vec3& from, const Vec3& to) {
    return ops::rectangle(ops::cellAt(lattice, from), ops::cellAt(lattice, to));
}
double cellWidth(Reader& r) {
    const double cell = r.number();
    if (!(cell >= 0.01 && cell <= 1000)) trouble("a cell is from 0.01 to 1,000 m wide");
    return cell;
}
const model::PieceSet& setNamed(Context& c, const std::string& name) {
    const auto found = c.library().sets().find(name);
    if (found == c.library().sets().end()) trouble("there is no set of pieces “" + name + "”");
    return found->second;
}
Data lay(Context& c, const Data& a) {
    Reader r(c, a);
    ops::LaidPiece piece;
    piece.item = r.text();
    ops::Lattice lattice;
    lattice.cellMetres = cellWidth(r);
    const Vec3 from = r.point(), to = r.point();
    lattice.heightMetres = r.number(0);
    piece.quarters = static_cast<int>(std::remainder(r.number(0), 4));
    piece.mirrored = r.truth(false);
    edit::Draft& draft = c.create();
    const auto plan =
        taken(ops::planPiece(c.scene(), c.index(), c.session(), lattice, piece, cellsOf(lattice, from, to)));
    return {taken(ops::lay(draft, plan))};
}
Data laySet(Context& c, const Data& a) {
    Reader r(c, a);
    const model::PieceSet set = setNamed(c, r.text());
    ops::Lattice lattice;
    lattice.cellMetres = set.cellMetres;
    const Vec3 from = r.point(), to = r.point();
    lattice.heightMetres = r.number(0);
    edit::Draft& draft = c.create();
    const auto plan = taken(ops::planSet(c.scene(), c.index(), c.session(), lattice, set, cellsOf(lattice, from, to)));
    return {taken(ops::lay(draft, plan)), static_cast<double>(plan.unfit)};
}
Data clearCells(Context& c, const Data& a) {
    Reader r(c, a);
    ops::Lattice lattice;
    lattice.cellMetres = cellWidth(r);
    const Vec3 from = r.point(), to = r.point();
    lattice.heightMetres = r.number(0);
    const std::string name = r.text("");
    const std::optional<model::PieceSet> set =
        name.empty() ? std::nullopt : std::optional<model::PieceSet>(setNamed(c, name));
    edit::Draft& draft = c.create();
    const auto plan = taken(
        ops::planClear(c.scene(), c.index(), c.session(), lattice, set ? &*set : nullptr, cellsOf(lattice, from, to)));
    (void)taken(ops::lay(draft, plan));
    return {static_cast<double>(plan.replaced.size())};
}

Data mixes(Context& c, const Data&) {
    std::vector<std::string> names;
    for (const auto& [name, mix] : c.library().mixes()) names.push_back(name);
    return {std::move(names)};
}
Data setMix(Context& c, const Data& a) {
    Reader r(c, a);
    const std::string name = r.text(), item = r.text();
    const double share = r.number(1);
    const auto known = c.library().mixes().find(name);
    model::Mix mix = known != c.library().mixes().end() ? known->second : model::Mix{name, {}, {}};
    if (share == 0)
        mix.shares.erase(item);
    else
        mix.shares[item] = share;
    check(mix.shares.empty() ? ops::removeMix(c.create(), name) : ops::putMix(c.create(), mix));
    return {};
}
Data remake(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const std::string mix = r.text();
    return {static_cast<double>(taken(ops::remake(c.change(ids), ids, mix, c.settings.seed)))};
}

Data relate(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const What what = r.word<What>(
        {{"seated", What::Seated}, {"flush", What::Flush}, {"distance", What::Distance}, {"facing", What::Facing}});
    const ObjectId to = r.more() ? r.object() : ObjectId{};
    edit::Draft& draft = c.change(ids);
    for (ObjectId id : ids) check(ops::relate(draft, c.index(), id, what, to));
    return {};
}
Data relationsOf(Context& c, const Data& a) {
    std::vector<std::string> all;
    const model::Slot slot = self(c, a);
    if (const auto& relations = c.scene().facet<model::Relations>(slot))
        for (const model::Relation& relation : relations->all) all.push_back(ops::relationText(c.scene(), relation));
    return {std::move(all)};
}
Data unrelate(Context& c, const Data& a) {
    Reader r(c, a);
    const ObjectId id = c.scene().id(self(c, a));
    const double number = r.number();
    if (!(number >= 1 && number <= 1000)) trouble("relations are counted from 1");
    check(ops::unrelate(c.change({&id, 1}), id, static_cast<std::size_t>(number) - 1));
    return {};
}

Data acts(Context& c, const Data&) {
    return {ops::actsOf(c.scene())};
}
Data setInAct(Context& c, const Data& a) {
    using Is = model::ActPart::Is;
    Reader r(c, a);
    const Objects ids = r.objects();
    const ObjectId act = r.object();
    const Is is = r.word<Is>({{"there", Is::There}, {"away", Is::Away}, {"as it is", Is::AsItIs}});
    check(ops::setInAct(c.change(ids), ids, act, is));
    return {};
}
Data poseInAct(Context& c, const Data& a) {
    Reader r(c, a);
    const ObjectId id = r.object(), act = r.object();
    const Vec3 at = r.point();
    base::Quat turn(1, 0, 0, 0);
    if (r.more()) {
        const auto* given = std::get_if<base::Quat>(&r.next());
        if (given == nullptr) r.wrong("a turn");
        turn = *given;
    }
    check(ops::poseInAct(c.change({&id, 1}), id, act, at, turn));
    return {};
}

}  // namespace

Bindings layingBindings() {
    return {
        {{"push", "objects, direction",
          "Moves objects, as one, along a direction until they touch something by what others bump into; gives how "
          "far, "
          "and what they touch."},
         Needs::Scene,
         false,
         push},
        {{"moveInContact", "objects, by",
          "Moves objects, as one, as far as they can go without entering anything, and along what stops them; gives "
          "how "
          "far they came."},
         Needs::Scene,
         false,
         moveInContact},
        {{"quarter", "objects [, turns]", "Turns objects by quarters to the left about up, seen from above."},
         Needs::Scene,
         false,
         quarter},
        {{"standingOn", "objects", "What stands on objects, and on that in turn."}, Needs::Scene, false, standing},
        {{"lay", "item, cell, from, to [, height [, quarters [, mirrored]]]",
          "Lays a piece over the cells from one place to another, so many metres wide; what was laid there gives way. "
          "Gives what was placed."},
         Needs::Scene,
         false,
         lay},
        {{"laySet", "set, from, to [, height]",
          "Lays pieces of a set over cells: each is the one that fits its neighbours. Gives what was placed, and for "
          "how "
          "many cells no piece fits."},
         Needs::Scene,
         false,
         laySet},
        {{"clearCells", "cell, from, to [, height [, set]]",
          "Takes away what was laid in cells; with a set, its neighbours close. Gives how many pieces went."},
         Needs::Scene,
         false,
         clearCells},
        {{"mixes", "", "The names of the project's mixes."}, Needs::Scene, false, mixes},
        {{"setMix", "name, item [, share]",
          "Gives an item a share of a mix of the project, which is made when it is not there; 0 takes it out."},
         Needs::Scene,
         false,
         setMix},
        {{"remake", "objects, mix", "Makes each object of an item of a mix, by chance; gives how many became another."},
         Needs::Scene,
         false,
         remake},
        {{"relate", "objects, what [, to]",
          "Objects stay \"seated\" on what they stand on, or \"flush\" with another, at their \"distance\" from it or "
          "\"facing\" it, when that moves."},
         Needs::Scene,
         false,
         relate},
        {{"acts", "", "The acts of the scene, in its order."}, Needs::Scene, false, acts},
        {{"setInAct", "objects, act, word",
          "In an act objects are \"there\" (and not without an act that has them), \"away\", or \"as it is\"."},
         Needs::Scene,
         false,
         setInAct},
        {{"poseInAct", "object, act, position [, turn]",
          "Where an object stands in an act, in the world, and how it is turned there."},
         Needs::Scene,
         false,
         poseInAct},
        {{"support", "", "What the object stands on; nil: nothing."}, Needs::Scene, true, support},
        {{"collision", "",
          "How others bump into the object: mesh, box, hull, sphere, capsule, part or none; and whether a body says "
          "so."},
         Needs::Scene,
         true,
         collision},
        {{"relations", "", "What the object keeps to others, in words."}, Needs::Scene, true, relationsOf},
        {{"unrelate", "number", "Breaks one of the object's relations, counted from 1."}, Needs::Scene, true, unrelate},
    };
}

}  // namespace script
