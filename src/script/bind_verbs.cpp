// The designer's verbs on several objects: seat, align, spread, match, mirror, arrays, prefabs.
#include <fmt/format.h>

#include "model/facets/array.h"
#include "ops/aim.h"
#include "ops/align.h"
#include "ops/array.h"
#include "ops/broom.h"
#include "ops/copies.h"
#include "ops/prefab.h"
#include "ops/seat.h"
#include "script/names.h"
#include "script/reader.h"

namespace script {

namespace {

using Needs = Binding::Needs;

int axisOf(Reader& r) {
    return r.word<int>({{"x", 0}, {"y", 1}, {"z", 2}});
}

Data seat(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    ops::SeatOptions options;
    options.tilt = r.truth(false);
    options.sinkMetres = r.number(0);
    edit::Draft& draft = c.change(ids);
    double first = 0;
    for (const ops::SeatDrop& drop : taken(ops::seat(draft, c.index(), ids, options)))
        if (drop.supported) first = drop.metres;
    return {first};
}
Data align(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const int axis = axisOf(r);
    const auto side = r.word<query::BoxSide>(
        {{"low", query::BoxSide::Low}, {"centre", query::BoxSide::Centre}, {"high", query::BoxSide::High}});
    const ops::Leader leader{r.more() ? r.object() : ObjectId{}};
    check(ops::align(c.change(ids), ids, axis, side, leader));
    return {};
}
Data spread(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const int axis = axisOf(r);
    const auto spacing = r.more()
                             ? r.word<ops::Spacing>({{"gaps", ops::Spacing::Gaps}, {"centres", ops::Spacing::Centres}})
                             : ops::Spacing::Gaps;
    check(ops::distribute(c.change(ids), ids, axis, spacing));
    return {};
}
Data match(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const auto part = r.word<ops::PosePart>({{"position", ops::PosePart::Position},
                                             {"turn", ops::PosePart::Turn},
                                             {"size", ops::PosePart::Size},
                                             {"height", ops::PosePart::Height}});
    check(ops::match(c.change(ids), ids, part, r.object()));
    return {};
}
Data snap(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const double step = r.number(1);
    if (step <= 0) trouble("a step is more than nothing");
    check(ops::snapToLattice(c.change(ids), ids, step));
    return {};
}
Data aim(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    check(ops::aim(c.change(ids), ids, r.point()));
    return {};
}
Data mirror(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const int axis = axisOf(r);
    check(ops::mirror(c.change(ids), ids, axis, r.point()));
    return {};
}
double count(Reader& r, double most) {
    const double n = r.number();
    if (n < 1 || n > most || n != std::floor(n)) trouble(fmt::format("a whole number from 1 to {} was expected", most));
    return n;
}
Data row(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    model::Array array;
    array.counts[0] = static_cast<int>(count(r, ops::kMostCopies));
    array.spacing = r.vector();
    return {taken(ops::makeArray(c.create(), ids, array))};
}
Data grid(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    model::Array array;
    array.shape = model::Array::Shape::Grid;
    for (int k = 0; k < 3; ++k)
        array.counts[static_cast<std::size_t>(k)] = static_cast<int>(count(r, ops::kMostCopies));
    array.spacing = r.vector();
    return {taken(ops::makeArray(c.create(), ids, array))};
}
Data ring(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    model::Array array;
    array.shape = model::Array::Shape::Ring;
    array.counts[0] = static_cast<int>(count(r, ops::kMostCopies));
    array.radiusMetres = r.number();
    array.sweepDegrees = r.number(360);
    const auto about = r.more() ? std::optional(r.point()) : std::nullopt;
    return {taken(ops::makeArray(c.create(), ids, array, about))};
}
Data alike(Context& c, const Data& a) {
    const Objects ids = Reader(c, a).objects();
    check(ops::alikeArray(c.change(ids), ids));
    return {};
}
Data bake(Context& c, const Data& a) {
    const Objects ids = Reader(c, a).objects();
    check(ops::bakeArray(c.change(ids), ids));
    return {};
}
ObjectId prefabNamed(Context& c, const std::string& name) {
    const ObjectId prefab = c.prefabNamed(name);
    if (!prefab) trouble(fmt::format("there is no prefab “{}”", name));
    return prefab;
}
Data prefab(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    ops::MakePrefab how;
    how.name = r.text();
    how.folder = r.text("");
    how.basePoint = ops::basePointOf(ops::solidBounds(c.scene(), ids), {});
    return {taken(ops::makePrefab(c.create(), ids, how)).instance};
}
Data copyLinked(Context& c, const Data& a) {
    const Objects ids = Reader(c, a).objects();
    return {taken(ops::linkedCopies(c.create(), ids))};
}
Data edition(Context& c, const Data& a) {
    Reader r(c, a);
    const ObjectId of = prefabNamed(c, r.text());
    const std::string called = r.text();
    const ObjectId instance = r.more() ? r.object() : ObjectId{};
    (void)taken(ops::makeEdition(c.create(), of, called, instance));
    return {called};
}
/// All that differs in an instance, given to its definition or taken back.
template <base::Status (*Verb)(edit::Draft&, ObjectId, std::span<const ops::DifferenceEntry>)>
Data differing(Context& c, const Data& a) {
    const ObjectId id = Reader(c, a).object();
    const model::Slot s = c.scene().find(id);
    if (!c.scene().isInstance(s)) trouble("this is no instance of a prefab");
    std::vector<ops::DifferenceEntry> entries = ops::differences(c.session(), *c.scene().detail(s)->prefab);
    std::erase_if(entries, [](const ops::DifferenceEntry& e) { return e.gone && Verb == ops::giveToDefinition; });
    if (!entries.empty()) check(Verb(c.create(), id, entries));
    return {static_cast<double>(entries.size())};
}
/// One round sweep of the broom.
Data broom(Context& c, const Data& a) {
    using V = ops::BroomVerb;
    Reader r(c, a);
    ops::BroomSettings settings;
    settings.verb = r.word<V>({{"scatter", V::Scatter},
                               {"remove", V::Remove},
                               {"vary", V::Vary},
                               {"seat", V::Seat},
                               {"hide", V::Hide},
                               {"protect", V::Protect},
                               {"release", V::Release},
                               {"select", V::Select},
                               {"replace", V::Replace},
                               {"align", V::Align}});
    const Vec3 centre = r.point();
    settings.radiusMetres = r.number();
    if (!(settings.radiusMetres >= 0.1 && settings.radiusMetres <= 200)) trouble("a radius is from 0.1 to 200 m");
    const std::string what = r.text("");
    (settings.verb == V::Scatter ? settings.item : settings.filter) = what;
    settings.density = r.number(settings.density);
    if (!(settings.density >= 0.001 && settings.density <= 50))
        trouble("a density is from 0.001 to 50 on a square metre");
    settings.seed = c.settings.seed;
    edit::Draft& draft = c.create();
    ops::Broom sweeping(draft, c.index(), settings);
    check(sweeping.sweep(centre));
    Objects met;
    for (ObjectId id : sweeping.met())
        if (c.scene().find(id) != model::kNoSlot) met.push_back(id);
    return {std::move(met)};
}
Data straighten(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const auto part = r.word<ops::PosePart>({{"turn", ops::PosePart::Turn}, {"size", ops::PosePart::Size}});
    check(ops::reset(c.change(ids), ids, part));
    return {};
}
Data prefabOf(Context& c, const Data& a) {
    const model::Slot s = self(c, a);
    if (!c.scene().isInstance(s)) return {Nothing{}};
    return {c.prefabName(c.scene().detail(s)->prefab->of)};
}
Data takeApart(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    return {taken(ops::takeApart(c.create(), ids, r.truth(false)))};
}
Data swap(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const ObjectId other = prefabNamed(c, r.text());
    return {static_cast<double>(taken(ops::swapPrefab(c.create(), ids, other)))};
}

}  // namespace

Bindings verbBindings() {
    return {
        {{"seat", "objects [, lean [, sink]]",
          "Puts objects down on what is below them, leaning with the slope, sunk in by metres; gives how far the last "
          "one went down."},
         Needs::Scene,
         false,
         seat},
        {{"align", "objects, axis, side [, leader]",
          "Brings a side (low, centre, high) along x, y or z in line with the leader's; without one with zero."},
         Needs::Scene,
         false,
         align},
        {{"spread", "objects, axis [, by]",
          "Spreads objects evenly between the outermost two: equal gaps, or by centres."},
         Needs::Scene,
         false,
         spread},
        {{"match", "objects, part, leader", "Gives objects the position, turn, size or height of another."},
         Needs::Scene,
         false,
         match},
        {{"snap", "objects [, step]", "Puts objects on the nearest places of the lattice, 1 m by itself."},
         Needs::Scene,
         false,
         snap},
        {{"aim", "objects, point", "Turns the fronts of objects to a point."}, Needs::Scene, false, aim},
        {{"mirror", "objects, axis, point", "Mirrors objects across x, y or z, about a point."},
         Needs::Scene,
         false,
         mirror},
        {{"broom", "verb, point, radius [, what [, density]]",
          "One sweep of the broom: scatter an item over the ground (so many on a square metre), or remove, vary, seat, "
          "hide, protect, release or select what fits; gives the objects."},
         Needs::Scene,
         false,
         broom},
        {{"straighten", "objects, part", "Takes the turn or the size of objects back to none, or to 1."},
         Needs::Scene,
         false,
         straighten},
        {{"copyLinked", "objects", "Copies that go on being the same as their originals; gives the copies."},
         Needs::Scene,
         false,
         copyLinked},
        {{"row", "objects, count, step", "Repeats objects, each a vector further; gives the array."},
         Needs::Scene,
         false,
         row},
        {{"grid", "objects, across, up, along, step", "Repeats objects in three directions; gives the array."},
         Needs::Scene,
         false,
         grid},
        {{"ring", "objects, count, radius [, degrees [, middle]]",
          "Repeats objects round a centre; gives the array. With a middle the first one stays where it is."},
         Needs::Scene,
         false,
         ring},
        {{"alike", "arrays", "Makes all copies of arrays like the first one again, each at its place."},
         Needs::Scene,
         false,
         alike},
        {{"bake", "arrays", "Makes plain groups of arrays."}, Needs::Scene, false, bake},
        {{"prefab", "objects, name [, folder]", "Makes a prefab of objects; gives its first instance."},
         Needs::Scene,
         false,
         prefab},
        {{"takeApart", "instances [, all]", "Makes plain objects of instances, of those inside too; gives them."},
         Needs::Scene,
         false,
         takeApart},
        {{"edition", "prefab, name [, instance]",
          "Makes a prefab that is another one, and what differs in an instance of it; gives its name."},
         Needs::Scene,
         false,
         edition},
        {{"give", "instance", "Gives all that differs in an instance to its definition; gives how much."},
         Needs::Scene,
         false,
         differing<ops::giveToDefinition>},
        {{"takeBack", "instance", "Makes an instance as its definition is; gives how much differed."},
         Needs::Scene,
         false,
         differing<ops::takeBack>},
        {{"swap", "instances, prefab",
          "Makes instances of another prefab of them; gives how many differences were lost."},
         Needs::Scene,
         false,
         swap},
        {{"prefab", "", "The name of the prefab that it is an instance of; nil: of none."},
         Needs::Scene,
         true,
         prefabOf},
    };
}

}  // namespace script
