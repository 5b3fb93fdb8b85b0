// The lower basin on market day.
#include <cmath>
#include <map>
#include <tuple>

#include "io/scene_file.h"
#include "model/facets/act.h"
#include "model/facets/body.h"
#include "model/facets/camera.h"
#include "model/facets/cues.h"
#include "model/facets/goal.h"
#include "model/facets/light.h"
#include "model/facets/note.h"
#include "model/facets/points.h"
#include "model/facets/route.h"
#include "model/facets/solid.h"
#include "model/facets/sound.h"
#include "model/facets/surfaces.h"
#include "model/facets/use.h"
#include "model/facets/zone.h"
#include "model/prefab.h"
#include "model/property.h"
#include "scenes.h"
#include "valley.h"

namespace demo {
namespace {

/// What an object may have beside its place.
struct Extra {
    Vec3 turn{0.0};
    Vec3 size{1.0};
    std::uint8_t flags = 0;
    model::DetailPtr detail;
};

/// Writes objects in tree order; children are added right after their parent.
class Basin {
  public:
    std::string text =
        "{\"format\":\"mellow-scene\",\"version\":1,\"sun\":{\"direction\":[-0.52,-0.62,-0.46],\"colour\":[1,0.93,0.8],"
        "\"strength\":1},"
        "\"view\":{\"from\":[-63.5,13.5,39],\"to\":[-27,0.5,2]}}\n";

    base::ObjectId add(base::ObjectId parent, const std::string& name, const char* kind, const char* item,
                       const Vec3& at, const Extra& extra = {}) {
        model::ObjectRecord r;
        r.id = random.nextId();
        r.parent = parent;
        r.name = names.intern(name);
        r.kind = names.intern(kind);
        r.item = names.intern(item);
        auto tidy = [](double v) { return std::round(v * 1000) / 1000; };
        r.local.position = {tidy(at.x), tidy(at.y), tidy(at.z)};
        r.local.rotation = base::fromDegrees(extra.turn);
        r.local.scale = extra.size;
        r.flags = extra.flags;
        r.detail = extra.detail;
        ids.try_emplace(name, r.id);
        io::appendObjectLine(text, r, names);
        text += '\n';
        return r.id;
    }
    base::ObjectId group(base::ObjectId parent, const std::string& name, const Vec3& at = Vec3(0.0), double turn = 0) {
        return add(parent, name, "", "", at, {{0, turn, 0}, Vec3(1.0), 0, nullptr});
    }
    /// A group that a click takes as one.
    base::ObjectId whole(base::ObjectId parent, const std::string& name, const Vec3& at, double turn = 0) {
        return add(parent, name, "", "", at, {{0, turn, 0}, Vec3(1.0), model::flags::kWhole, nullptr});
    }
    static std::string numbered(const std::string& stem, int n) { return stem + " " + std::to_string(n); }
    static Vec3 on(double x, double z, double up = 0) { return {x, groundHeight(x, z) + up, z}; }

    /// A finding of checks that people live with, in the header.
    void accept(const std::string& rule, const std::string& object, const std::string& other,
                const std::string& message, const std::string& reason) {
        auto idOf = [this](const std::string& name) {
            const std::size_t at = text.find("\"name\":\"" + name + "\"");
            return text.substr(text.rfind("{\"id\":\"", at) + 7, 16);
        };
        std::string one = "{\"rule\":\"" + rule + "\",\"object\":\"" + idOf(object) + "\"";
        if (!other.empty()) one += ",\"other\":\"" + idOf(other) + "\"";
        one += ",\"message\":\"" + message + "\",\"reason\":\"" + reason + "\"}";
        const std::size_t list = text.find(",\"accepted\":["), end = text.find("}\n");
        if (list < end)
            text.insert(end - 1, "," + one);
        else
            text.insert(end, ",\"accepted\":[" + one + "]");
    }

    base::Random random{20260101};
    base::NameTable names;
    std::map<std::string, base::ObjectId> ids;    ///< by name; of several the first
    std::map<std::string, base::ObjectId> known;  ///< all of them, once the scene was written: for what links ahead
};

model::DetailPtr glow(double reach, double candela) {
    auto d = std::make_shared<model::Detail>();
    d->put(model::Light{});
    d->edit<model::Light>().colour = {1.0, 0.78, 0.42};
    d->edit<model::Light>().reachMetres = reach;
    d->edit<model::Light>().intensity = candela;
    return d;
}

model::DetailPtr set(model::ValueMap properties) {
    auto d = std::make_shared<model::Detail>();
    d->properties = std::move(properties);
    return d;
}

/// A record of kinds.cpp, by its id's last digits.
model::Value record(std::uint64_t last) {
    return model::recordLink(base::ObjectId{0x5a0c4be19d0f0000 + last});
}

/// What an object is in an act; there: and not without it.
model::ActPart inAct(Basin& b, const char* act, bool there = true) {
    model::ActPart part;
    part.act = b.known[act];
    part.is = there ? model::ActPart::Is::There : model::ActPart::Is::AsItIs;
    return part;
}

/// rises: the chamber fills in the act High water.
void ground(Basin& b, bool rises = true) {
    const auto g = b.group({}, "Ground and water");
    b.add(g, "Valley", "Structure", "valley-ground", Vec3(0.0),
          {Vec3(0.0), Vec3(1.0), model::flags::kProtected, nullptr});
    auto water = [&](const char* name, double west, double east, double half, double high = 0) {
        const double x = (west + east) / 2;
        auto filled = std::make_shared<model::Detail>();
        if (high > 0 && rises) {
            model::ActPart part = inAct(b, "High water", false);
            part.posed = true;
            part.at = {x, waterLevel(x) + high, 0};
            filled->edit<model::InActs>().all = {part};
        }
        b.add(g, name, "Structure", "water-sheet", {x, waterLevel(x), 0},
              {Vec3(0.0),
               {(east - west) / 10, 1, half / 5},
               model::flags::kProtected,
               filled->empty() ? nullptr : model::DetailPtr(filled)});
    };
    water("Tail water", -200, -72, 5.4);
    water("Basin water", -72, 4, 13.6);
    water("Chamber water", 4, 30, 5.4, 1.4);
    water("Middle pound", 32, 86, 5.6);
    water("Upper pound", 88, 146, 5.6);
    water("Summit water", 148, 200, 5.6);
}

/// What is moved on purpose; with its hollows.
model::DetailPtr guided(model::DetailPtr like = nullptr) {
    auto d = std::make_shared<model::Detail>(like ? *like : model::Detail{});
    model::Body& body = d->edit<model::Body>();
    body.role = model::Body::Role::Guided;
    body.shape = model::Body::Shape::Mesh;
    return d;
}

/// What can be pushed and carried off.
model::DetailPtr loose(double kilograms) {
    auto d = std::make_shared<model::Detail>();
    model::Body& body = d->edit<model::Body>();
    body.role = model::Body::Role::Loose;
    body.massKilograms = kilograms;
    return d;
}

model::CueWhen when(model::CueWhen::What what) {
    model::CueWhen w;
    w.what = what;
    return w;
}

model::CueThen then(Basin& b, model::CueThen::Does does, double after, std::initializer_list<const char*> to = {}) {
    model::CueThen t;
    t.does = does;
    t.after = after;
    for (const char* name : to) t.targets.push_back({b.known[name], {}});
    return t;
}

model::CueThen moves(Basin& b, double after, std::initializer_list<const char*> to, const Vec3& slide, double turn,
                     double seconds) {
    model::CueThen t = then(b, model::CueThen::Does::Move, after, to);
    t.slide = slide;
    t.turnDegrees = turn;
    t.seconds = seconds;
    return t;
}

model::CueThen says(Basin& b, double after, const char* words) {
    model::CueThen t = then(b, model::CueThen::Does::Message, after);
    t.words = words;
    return t;
}

/// The other leaf follows, and the barge that waits comes in.
model::Cue letsTheBargeIn(Basin& b, double turn) {
    model::Cue cue;
    cue.name = "Lets the barge in";
    cue.when = {when(model::CueWhen::What::Used)};
    cue.then = {says(b, 0, "The lower leaves swing open."), then(b, model::CueThen::Does::Sound, 0, {"Ratchet"}),
                moves(b, 4, {"Gate leaf, left", "Balance beam, left"}, {}, turn, 6),
                moves(b, 10, {"Barge 3"}, {46, 0, 0}, 0, 18)};
    return cue;
}

/// Water and barge rise once it lies in the chamber.
model::Cue raisesIt(Basin& b) {
    model::Cue cue;
    cue.name = "Raises it";
    cue.when = {when(model::CueWhen::What::Enters)};
    cue.when[0].object = b.known["Deep water 2"];
    cue.when[0].who = model::CueWhen::Who::Object;
    cue.when[0].by = b.known["Barge 3"];
    model::CueThen fills = then(b, model::CueThen::Does::ActBegins, 12, {"High water"});
    fills.seconds = 8;
    cue.then = {fills, then(b, model::CueThen::Does::ActEnds, 12, {"Low water"}),
                moves(b, 12, {"Barge 3"}, {0, 1.4, 0}, 0, 8), then(b, model::CueThen::Does::GoalMet, 21, {"Barge 3"}),
                then(b, model::CueThen::Does::Sound, 21, {"Bell"})};
    return cue;
}

model::Cue ends(Basin& b, const char* name, model::CueWhen asks, bool won) {
    model::Cue cue;
    cue.name = name;
    cue.when = {std::move(asks)};
    if (!won) cue.then.push_back(then(b, model::CueThen::Does::GoalMissed, 0, {"Barge 3"}));
    cue.then.push_back(says(b, 0, won ? "Barge 3 is up. Well done." : "Nobody swims in the chamber."));
    cue.then.push_back(then(b, won ? model::CueThen::Does::Won : model::CueThen::Does::Lost, 2));
    if (won) cue.then.back().next = "three-chambers";
    return cue;
}

void leafPair(Basin& b, base::ObjectId parent, const std::string& name, double x, double level, double open) {
    const auto pair = b.whole(parent, name, {x, level, 0});
    for (double s : {1.0, -1.0}) {
        const std::string side = s > 0 ? ", right" : ", left";
        // Leaves hang at the walls and meet in the middle, pointing upstream.
        const auto leaf = b.add(pair, "Gate leaf" + side, "Water control", "gate-leaf", {0, -4.1, s * kCanalHalf},
                                {{0, s * (90 - open), 0},
                                 Vec3(1.0),
                                 0,
                                 guided(set({{"state", {std::string(open > 20 ? "open" : "shut")}}}))});
        const auto beam = b.add(pair, "Balance beam" + side, "Structure", "balance-beam", {0, 0.42, s * kCanalHalf},
                                {{0, s * (90 - open) + 180, 0}, Vec3(1.0), 0, guided()});
        // Turned, it swings its leaf and beam to the wall after four seconds; turned again, back.
        auto works = std::make_shared<model::Detail>(*set({{"serves", {model::ValueList{model::objectLink(leaf)}}}}));
        model::Use& use = works->edit<model::Use>();
        use.words = "Turn the windlass";
        use.turnDegrees = -s * (90 - open - 6);
        use.afterSeconds = 4;
        use.seconds = 6;
        use.targets = {{leaf, {}}, {beam, {}}};
        if (s > 0 && name == "Lower leaf pair") works->edit<model::Cues>().all = {letsTheBargeIn(b, 90 - open - 6)};
        b.add(pair, "Windlass" + side, "Water control", "windlass", {1.6, 0.25, s * (kCanalHalf + 1.5)},
              {{0, s * 90, 0}, Vec3(1.0), 0, works});
    }
    b.add(pair, "Sluice paddle", "Water control", "sluice-paddle", {2.6, -1.2, kCanalHalf - 0.4},
          {{0, 90, 0}, Vec3(1.0), 0, nullptr});
}

void waterworks(Basin& b) {
    const auto w = b.group({}, "Waterworks");
    leafPair(b, w, "Lower leaf pair", kLockWest + 2, bankLevel(kLockWest + 2), 18);
    leafPair(b, w, "Upper leaf pair", kLockEast, bankLevel(kLockEast), 22);
    const auto walls = b.group(w, "Chamber walls");
    int n = 1;
    for (double x = kLockWest + 1; x < kLockEast + 4; x += 6)
        for (double s : {1.0, -1.0}) {
            const double px = x + 2;
            b.add(walls, Basin::numbered("Lock wall", n++), "Structure", "lock-wall",
                  {px, bankLevel(px) + 0.05, s * (kCanalHalf + 0.55)});
        }
    const auto quay = b.group(w, "Basin quay");
    n = 1;
    for (double x = kBasinWest + 3; x < kBasinEast; x += 4)
        for (double s : {1.0, -1.0})
            b.add(quay, Basin::numbered("Coping stone", n++), "Structure", "coping", {x, 0.02, s * (kBasinHalf + 0.5)},
                  {{0, s > 0 ? 180.0 : 0.0, 0}, Vec3(1.0), 0, nullptr});
    const auto moorings = b.group(w, "Moorings");
    n = 1;
    for (double x = -60; x < -12; x += 8) {
        b.add(moorings, Basin::numbered("Bollard", n), "Structure", "bollard", {x, 0.27, kBasinHalf + 0.75});
        b.add(moorings, Basin::numbered("Mooring ring", n), "Structure", "mooring-ring",
              {x + 4, -0.5, kBasinHalf + 0.06}, {{0, 180, 0}, Vec3(1.0), 0, nullptr});
        ++n;
    }
    b.add(w, "Footbridge", "Structure", "footbridge", {-3, 0.35, 0}, {{0, 90, 0}, {1.0, 1.0, 1.0}, 0, nullptr});
    b.add(w, "Weir sill", "Structure", "weir-sill", {44, 2.0, -2});
}

void barge(Basin& b, base::ObjectId parent, int n, double x, double z, double turn, bool loaded, bool isWon) {
    auto plays = std::make_shared<model::Detail>();
    if (n == 3) {
        plays->edit<model::Goal>().words = "Raise the barge";
        model::CueWhen met = when(model::CueWhen::What::Met);
        plays->edit<model::Cues>().all = {raisesIt(b)};
        if (isWon) plays->edit<model::Cues>().all.push_back(ends(b, "It is up", std::move(met), true));
    }
    const auto boat =
        b.add(parent, Basin::numbered("Barge", n), "", "", {x, waterLevel(x) - 0.35, z},
              {{0, turn, 0}, Vec3(1.0), model::flags::kWhole, n == 3 ? model::DetailPtr(plays) : nullptr});
    model::ValueList cargo;
    if (loaded) cargo.push_back(record(n % 2 == 0 ? 0x3b02 : 0x3b01));
    b.add(boat, "Hull", "Barge", "barge-hull", Vec3(0.0),
          {Vec3(0.0), Vec3(1.0), 0,
           set({{"crew", record(n % 2 == 0 ? 0x3a02 : 0x3a01)},
                {"cargo", {std::move(cargo)}},
                {"draught", {loaded ? 0.9 : 0.6}}})});
    b.add(boat, "Tiller", "Structure", "barge-tiller", {-6.9, 0.6, 0});
    if (loaded) b.add(boat, "Cargo", "Loose goods", "barge-cargo", {0.8, 1.1, 0});
    b.add(boat, "Stern lamp", "Lamp", "", {-6.6, 2.9, 0}, {Vec3(0.0), Vec3(1.0), 0, glow(6, 12)});
}

void stall(Basin& b, base::ObjectId parent, int n, double x, double z, double turn, const char* awning) {
    auto held = std::make_shared<model::Detail>();
    held->edit<model::InActs>().all = {inAct(b, "Market day")};
    const auto s = b.add(parent, Basin::numbered("Stall", n), "", "", Basin::on(x, z),
                         {{0, turn, 0}, Vec3(1.0), model::flags::kWhole, held});
    b.add(s, "Frame", "Structure", "stall-frame", Vec3(0.0));
    b.add(s, "Awning", "Structure", awning, {0, 0, 0});
    for (int i = 0; i < 3; ++i)
        b.add(s, Basin::numbered("Crate of pears", i + 1), "Loose goods", "pear-crate", {-0.95 + i * 0.95, 0.93, 0.45},
              {{0, (i - 1) * 5.0, 0}, Vec3(1.0), 0, nullptr});
    b.add(s, "Crate below", "Loose goods", "pear-crate", {-0.5 + 0.3 * n, 0, -0.45},
          {{0, 12.0 * n, 0}, Vec3(1.0), 0, nullptr});
}

void market(Basin& b) {
    const auto m = b.group({}, "Market");
    static const char* kAwnings[] = {"awning-ember", "awning-moss", "awning-tide"};
    int n = 1;
    for (int i = 0; i < 6; ++i)
        stall(b, m, n++, -54 + i * 6.2, 25.5 + (i % 2) * 0.7, 180 + (i % 3 - 1) * 4, kAwnings[i % 3]);
    for (int i = 0; i < 3; ++i) stall(b, m, n++, -49 + i * 9.0, 19.2, (i - 1) * 6, kAwnings[(i + 1) % 3]);
    const auto goods = b.group(m, "Goods on the quay");
    const double spots[][3] = {{-58, 17, 10},   {-57, 17.2, 35},   {-57, 17.2, 20},
                               {-22, 16.6, 70}, {-20.9, 16.9, 40}, {-40, 16.4, 15}};
    n = 1;
    for (const auto& s : spots) {
        const double up = n == 3 ? 0.438 : 0.0;
        b.add(goods, Basin::numbered("Crate of pears", n++), "Loose goods", "pear-crate", Basin::on(s[0], s[1], up),
              {{0, s[2], 0}, Vec3(1.0), 0, loose(14)});
    }
    for (int i = 0; i < 5; ++i)
        b.add(goods, Basin::numbered("Plank", i + 1), "Loose goods", "plank", Basin::on(-30.0, 17.4, 0.07 * i),
              {{0, 80 + i * 3.0, 0}, Vec3(1.0), 0, nullptr});
    b.add(m, "Market notice", "Notice", "notice-board", Basin::on(-60, 21.5),
          {{0, 125, 0},
           Vec3(1.0),
           0,
           set({{"text", {std::string("Market day. Barges for pears wait above the bridge.")}}})});
}

void towpath(Basin& b) {
    const auto t = b.group({}, "Towpath");
    const auto lanterns = b.group(t, "Towpath lanterns");
    int n = 1;
    auto lantern = [&](double x, double z) {
        const auto post =
            b.add(lanterns, Basin::numbered("Lantern post", n), "Lantern", "lantern-post", Basin::on(x, z),
                  {Vec3(0.0), Vec3(1.0), 0,
                   n % 5 == 0 ? set({{"lit", {false}}})
                              : set({{"oil", {n % 4 == 0 ? 0.4 : 1.5 + n % 3}}, {"lantern", record(0x3c01)}})});
        ++n;
        b.add(post, "Glow", "Lamp", "", {0, 2.28, 0}, {Vec3(0.0), Vec3(1.0), 0, glow(9, 30)});
    };
    for (double x = -62; x <= -14; x += 12) lantern(x, kBasinHalf + 2.3);
    for (double x = -2; x <= 34; x += 12) lantern(x, kCanalHalf + 3.4);
    for (double x : {-56.0, -36.0, -16.0}) lantern(x, -kBasinHalf - 2.4);
    n = 1;
    for (double x : {-52.0, -34.0, -18.0})
        b.add(t, Basin::numbered("Bench", n++), "Structure", "bench", Basin::on(x, kBasinHalf + 3.6),
              {{0, 180, 0}, Vec3(1.0), 0, nullptr});
    n = 1;
    for (double x : {-70.0, 0.0, 60.0})
        b.add(t, Basin::numbered("Milestone", n++), "Structure", "milestone",
              Basin::on(x, (x < -60 || x > -10 ? kCanalHalf : kBasinHalf) + 4.6), {{0, 90, 0}, Vec3(1.0), 0, nullptr});
}

void keepersPlace(Basin& b) {
    const auto k = b.group({}, "Keeper's place", Basin::on(14, 19.5), 170);
    b.add(k, "Keeper's cottage", "Structure", "cottage", {0, 0.5, 0});
    b.add(k, "Cottage door", "Structure", "cottage-door", {0.3, 0.75, 2.66}, {{0, -28, 0}, Vec3(1.0), 0, nullptr});
    b.add(k, "Bench", "Structure", "bench", {-2.6, 0.1, 3.4});
    b.add(k, "Crate of pears", "Loose goods", "pear-crate", {2.6, 0.05, 3.5}, {{0, 20, 0}, Vec3(1.0), 0, nullptr});
    for (int i = 0; i < 4; ++i)
        b.add(k, Basin::numbered("Hedge", i + 1), "Plant", "hedge", {-5.6, -0.1, -2.5 + i * 2.4},
              {{0, 90, 0}, Vec3(1.0), 0, nullptr});
    const auto yard = b.group({}, "Building yard");
    for (int i = 0; i < 6; ++i) {
        const int row = i / 3;
        b.add(yard, Basin::numbered("Stone block", i + 1), "Structure", "stone-block",
              Basin::on(36.5 + (i % 3) * 1.4, 12.0, row * 0.5), {{0, (i * 37) % 9 - 4.0, 0}, Vec3(1.0), 0, nullptr});
    }
    b.add(yard, "Gravel heap", "Structure", "gravel-heap", Basin::on(42, 14.5));
}

void plants(Basin& b) {
    const auto p = b.group({}, "Plants");
    auto leafy = [&](const std::string& name, const char* item, double x, double z, double sink) {
        const double size = std::round(b.random.between(0.85, 1.25) * 100) / 100;
        b.add(p, name, "Plant", item, Basin::on(x, z, -sink),
              {{0, std::round(b.random.between(0, 360)), 0}, Vec3(size), 0, nullptr});
    };
    const double willows[][2] = {{-70, -18}, {-58, -22}, {-40, -20}, {-22, -23}, {-6, -15},
                                 {20, -14},  {46, -13},  {-74, 20},  {4, 27},    {30, 26}};
    int n = 1;
    for (const auto& w : willows) leafy(Basin::numbered("Willow", n++), "willow", w[0], w[1], 0.1);
    for (int i = 0; i < 26; ++i) {
        const double x = b.random.between(-95, 70), z = (i % 3 == 0 ? 1 : -1) * b.random.between(34, 62);
        leafy(Basin::numbered("Alder", i + 1), "alder", x, z, 0.1);
    }
    static const char* kReeds[] = {"reed-clump-1", "reed-clump-2", "reed-clump-3", "reed-clump-4"};
    for (int i = 0; i < 24; ++i) {
        const bool tail = i % 2 == 0;
        const double x = tail ? b.random.between(-100, -72) : b.random.between(36, 70);
        const double z = (i % 4 < 2 ? 1 : -1) * b.random.between(4.5, 5.4);
        const double size = std::round(b.random.between(0.8, 1.2) * 100) / 100;
        b.add(p, Basin::numbered("Reed clump", i + 1), "Plant", kReeds[i % 4],
              {x, std::max(groundHeight(x, z), waterLevel(x) - 0.2), z},
              {{0, std::round(b.random.between(0, 360)), 0}, Vec3(size), 0, nullptr});
    }
    const auto herons = b.group({}, "Herons");
    b.add(herons, "Heron on the quay", "Animal", "heron-standing", {-26, 0.27, -kBasinHalf - 0.6},
          {{0, -60, 0}, Vec3(1.0), 0, nullptr});
    b.add(herons, "Heron at the reeds", "Animal", "heron-fishing", {-71.5, -0.95, 4.9},
          {{0, 35, 0}, Vec3(1.0), 0, nullptr});
    b.add(herons, "Heron over the basin", "Animal", "heron-flying", {-44, 6.5, -2},
          {{0, 20, 6}, Vec3(1.0), 0, nullptr});
}

void startAndCameras(Basin& b) {
    const auto s = b.group({}, "Start, finish and cameras");
    b.add(s, "Walker start", "Walker start", "", Basin::on(-66, 17.5));
    b.add(s, "Finish", "Finish", "", Basin::on(36, 8.5));
    auto camera = std::make_shared<model::Detail>();
    camera->put(model::Camera{});
    b.add(s, "Basin camera", "Camera", "", {-66, 9, 24}, {{-14, -62, 0}, Vec3(1.0), 0, camera});
    b.add(s, "Lock camera", "Camera", "", {40, 9, 13}, {{-18, 64, 0}, Vec3(1.0), 0, camera});
    auto note = std::make_shared<model::Detail>();
    note->put(model::Note{"Market day: keep the way from the bridge to the stalls two metres wide."});
    b.add(s, "Note on the market", "Note", "", Basin::on(-34, 22, 1.5), {Vec3(0.0), Vec3(1.0), 0, note});
}

/// Where things happen: the heron's stops along the water, and the ground on which the market stands.
void places(Basin& b) {
    auto stops = std::make_shared<model::Detail>();
    model::PointSet& set = stops->edit<model::PointSet>();
    const Vec3 middle(-30, 0.03, 14);
    for (const auto& [name, x, z, turn] : {std::tuple{"Stop 1", -44.0, 13.6, 90.0},
                                           {"Stop 2", -36.0, 13.4, 90.0},
                                           {"Stop 3", -27.0, 13.6, 180.0},
                                           {"Stop 4", -18.0, 14.4, -90.0}}) {
        model::PlacePoint point;
        point.name = name;
        const Vec3 at = Vec3(x, 0.03, z) - middle;  // on the quay
        auto tidy = [](double v) { return std::round(v * 1000) / 1000; };
        point.at = {tidy(at.x), tidy(at.y), tidy(at.z)};
        point.turnDegrees = turn;
        point.radiusMetres = 0.8;
        set.points.push_back(point);
    }
    b.add({}, "Heron’s stops", "", "", middle, {Vec3(0.0), Vec3(1.0), 0, stops});
    auto market = std::make_shared<model::Detail>();
    model::Zone& zone = market->edit<model::Zone>();
    zone.shape = model::Zone::Shape::Polygon;
    zone.corners = {{-13, -5}, {12, -5}, {14, 3}, {6, 6}, {-12, 5}};
    zone.size = {27, 3.5, 11};
    b.add({}, "Market ground", "", "", Basin::on(-30, 21), {Vec3(0.0), Vec3(1.0), 0, market});
}

model::DetailPtr solid(const model::Solid& made, const char* surface = nullptr, const char* slot = "plaster") {
    auto detail = std::make_shared<model::Detail>();
    detail->put(made);
    if (surface != nullptr) detail->edit<model::Surfaces>().slots = {{slot, surface, {}, "", {}, {}}};
    return detail;
}

model::SolidOpening opening(const char* name, const Vec3& at, const Vec3& facing, double width, double height,
                            bool arched = false) {
    model::SolidOpening made;
    made.name = name;
    made.outline = arched ? model::SolidOpening::Outline::Arch : model::SolidOpening::Outline::Rectangle;
    made.at = at;
    made.facing = facing;
    made.width = width;
    made.height = height;
    return made;
}

/// Beside the basin, all of solids: walls with openings, a roof, a gate, stairs to the loft.
void boathouse(Basin& b) {
    using model::Solid;
    using Shape = Solid::Shape;
    const auto house = b.group({}, "Boathouse", Basin::on(-48, -19.5, 0.02));
    auto add = [&](const char* name, const Vec3& at, const Solid& made, const char* surface) {
        b.add(house, name, "Structure", "", at, {Vec3(0.0), Vec3(1.0), 0, solid(made, surface)});
    };
    add("Boathouse floor", {0, -0.12, 0}, model::usualSolid(Shape::Box, {8, 0.4, 6}), "moss-stone");
    Solid walls = model::usualSolid(Shape::Room, {6.4, 3, 4.6});
    walls.openings = {opening("Boat gate", {-1, 0, 2.3}, {0, 0, 1}, 2.4, 2.4, true),
                      opening("Door", {2.1, 0, 2.3}, {0, 0, 1}, 1, 2.1),
                      opening("Window, east", {3.2, 1, 0}, {1, 0, 0}, 1.2, 1.1),
                      opening("Window, west", {-3.2, 1, 0}, {-1, 0, 0}, 1.2, 1.1),
                      opening("Window, north", {0.8, 1, -2.3}, {0, 0, -1}, 1.2, 1.1)};
    add("Boathouse walls", {0, 0.28, 0}, walls, nullptr);
    Solid roof = model::usualSolid(Shape::Frustum, {7.2, 1.6, 5.4});
    roof.top = 0.3;
    add("Boathouse roof", {0, 3.28, 0}, roof, "wet-oak");
    Solid stairs = model::usualSolid(Shape::Arch, {2.4, 1.8, 2.4});
    stairs.rise = 0.18;
    stairs.sweepDegrees = 200;
    stairs.thickness = 0.9;
    stairs.filled = true;
    add("Winding stairs", {5.4, -0.05, 0.4}, stairs, "moss-stone");
}

/// What a walk needs: a step up to the footbridge on each side, and water one swims in.
void playedWith(Basin& b) {
    const auto g = b.group({}, "Played with");
    for (const double s : {1.0, -1.0})
        b.add(g, Basin::numbered("Bridge step", s > 0 ? 1 : 2), "Structure", "stone-block", {-3, 0, s * 6.6},
              {{0, 0, 0}, {1.5, 0.74, 1.5}, 0, nullptr});
    int n = 1;
    for (const auto& [west, east, half] : {std::tuple{-72.0, 4.0, 13.6}, {4.0, 30.0, 5.4}}) {
        const double x = (west + east) / 2;
        constexpr double kDeep = 5;
        auto water = std::make_shared<model::Detail>();
        model::Zone& zone = water->edit<model::Zone>();
        zone.size = {east - west, kDeep, 2 * half};
        zone.colour = {0.35, 0.66, 0.77};
        zone.water = true;
        if (n == 2) {
            model::CueWhen fallsIn = when(model::CueWhen::What::Enters);
            water->edit<model::Cues>().all = {ends(b, "Somebody fell in", fallsIn, false)};
        }
        b.add(g, Basin::numbered("Deep water", n++), "", "", {x, waterLevel(x) - kDeep, 0},
              {Vec3(0.0), Vec3(1.0), 0, water});
    }
}

/// What is heard: the weir always, the others when a cue says so.
void sounds(Basin& b) {
    const auto g = b.group({}, "Sounds");
    const auto put = [&](const char* name, const char* file, const Vec3& at, double outer, bool always) {
        auto is = std::make_shared<model::Detail>();
        model::Sound& sound = is->edit<model::Sound>();
        sound.file = file;
        sound.innerMetres = 3;
        sound.outerMetres = outer;
        sound.loop = sound.begins = always;
        b.add(g, name, "", "", at, {Vec3(0.0), Vec3(1.0), 0, is});
    };
    put("Water over the sill", "weir.wav", {44, 2.6, -2}, 30, true);
    put("Ratchet", "windlass.wav", {kLockWest + 3.6, bankLevel(kLockWest) + 1, kCanalHalf + 1.5}, 25, false);
    put("Bell", "bell.wav", {kLockEast, bankLevel(kLockEast) + 3, kCanalHalf + 4}, 80, false);
}

/// What there is when: the chamber empty or full, and the day on which the market is held.
void acts(Basin& b) {
    const auto g = b.group({}, "Acts");
    for (const auto& [name, begins] : {std::pair("Low water", true), {"High water", false}, {"Market day", true}}) {
        auto act = std::make_shared<model::Detail>();
        act->edit<model::Act>().begins = begins;
        b.add(g, name, "", "", Vec3(0.0), {Vec3(0.0), Vec3(1.0), 0, act});
    }
}

}  // namespace

namespace {

/// `ends`: some cue wins the level.
std::string write(Basin& b, bool ends) {
    ground(b);
    waterworks(b);
    const auto boats = b.group({}, "Barges");
    barge(b, boats, 1, -50, 10.4, 0, true, ends);
    barge(b, boats, 2, -28, -10.2, 180, false, ends);
    barge(b, boats, 3, -34, 2.0, 4, true, ends);
    market(b);
    towpath(b);
    keepersPlace(b);
    plants(b);
    startAndCameras(b);
    auto row = std::make_shared<model::PrefabLink>();
    row->of = stallRow();
    auto detail = std::make_shared<model::Detail>();
    detail->prefab.link = row;
    detail->edit<model::InActs>().all = {inAct(b, "Market day")};
    b.add({}, "Upper market", "", "", Basin::on(-13.77, 27), {{0, 184, 0}, Vec3(1.0), 0, detail});
    places(b);
    boathouse(b);
    playedWith(b);
    acts(b);
    sounds(b);
    b.accept("floating", "Crate of pears", {}, "“Crate of pears” floats 0.47 m above what is below it.",
             "It hangs from the keeper's hoist.");
    b.accept("overlapping", "Stall 6", "Upper market", "“Stall 6” and “Upper market” lie 0.070 m in one another.",
             "Their crates touch on purpose: pears are passed from stall to stall.");
    return b.text;
}

}  // namespace

namespace {

/// Where nothing stands yet within so many metres of a place.
class Room {
  public:
    bool take(const Vec3& at, double metres) {
        for (const auto& [there, theirs] : taken_)
            if (glm::length(Vec2(at.x - there.x, at.z - there.z)) < metres + theirs) return false;
        taken_.emplace_back(at, metres);
        return true;
    }

  private:
    std::vector<std::pair<Vec3, double>> taken_;
};

bool isLevel(double x, double z) {
    const double e = 1.5;
    return std::abs(groundHeight(x + e, z) - groundHeight(x - e, z)) < 0.9 &&
           std::abs(groundHeight(x, z + e) - groundHeight(x, z - e)) < 0.9;
}

/// Fields of what grows on both sides of the canal, a few dozen to each.
void fields(Basin& b, Room& room) {
    constexpr int kPlants = 140, kInField = 28;
    struct Sort {
        const char *name, *item;
        double metres;
    };
    static constexpr Sort kSorts[] = {
        {"Alder", "alder", 2.6}, {"Alder", "alder", 2.6}, {"Willow", "willow", 3.4}, {"Hedge", "hedge", 1.6}};
    base::ObjectId field;
    int n = 0;
    for (int tries = 0; n < kPlants && tries < 6000; ++tries) {
        const double x = b.random.between(-188, 188), z = (tries % 2 == 0 ? 1 : -1) * b.random.between(24, 112);
        const Sort& sort = kSorts[b.random.next() % std::size(kSorts)];
        if (!isLevel(x, z) || !room.take({x, 0, z}, sort.metres)) continue;
        if (n % kInField == 0) field = b.group({}, Basin::numbered("Field", n / kInField + 1));
        const double size = std::round(b.random.between(0.8, 1.2) * 100) / 100;
        b.add(field, Basin::numbered(sort.name, ++n), "Plant", sort.item, Basin::on(x, z, -0.12),
              {{0, std::round(b.random.between(0, 360)), 0}, Vec3(size), 0, nullptr});
    }
}

/// One lock: two pairs of leaves, walls between them, bollards beside them.
void chamber(Basin& b, base::ObjectId parent, int n, double west, double east) {
    const auto lock = b.group(parent, Basin::numbered("Chamber", n));
    leafPair(b, lock, Basin::numbered("Leaf pair", 2 * n - 1), west + 2, bankLevel(west + 2), 18);
    leafPair(b, lock, Basin::numbered("Leaf pair", 2 * n), east, bankLevel(east), 22);
    int k = 1;
    for (double x = west + 3; x < east + 6; x += 6)
        for (double s : {1.0, -1.0})
            b.add(lock, Basin::numbered("Lock wall", k++), "Structure", "lock-wall",
                  {x, bankLevel(x) + 0.05, s * (kCanalHalf + 0.55)});
}

/// Lanterns, benches and milestones along the whole canal.
void longTowpath(Basin& b) {
    const auto path = b.group({}, "Towpath");
    int n = 1;
    for (double x = -186; x <= 186; x += 12) {
        const bool wide = x > kBasinWest - 10 && x < kBasinEast + 10;
        const double z = (wide ? kBasinHalf : kCanalHalf) + 3.4;
        const auto post = b.add(path, Basin::numbered("Lantern post", n), "Lantern", "lantern-post", Basin::on(x, z),
                                {Vec3(0.0), Vec3(1.0), 0, set({{"oil", {1.5}}, {"lantern", record(0x3c01)}})});
        b.add(post, "Glow", "Lamp", "", {0, 2.28, 0}, {Vec3(0.0), Vec3(1.0), 0, glow(9, 30)});
        if (n % 3 == 0)
            b.add(path, Basin::numbered("Bench", n / 3), "Structure", "bench", Basin::on(x + 5, z + 1.2),
                  {{0, 180, 0}, Vec3(1.0), 0, nullptr});
        ++n;
    }
}

/// Wins: whoever reaches the summit has walked past all three chambers.
void summit(Basin& b) {
    auto top = std::make_shared<model::Detail>();
    top->edit<model::Zone>().size = {14, 4, 10};
    top->edit<model::Goal>().words = "Walk up to the summit";
    model::CueThen met = then(b, model::CueThen::Does::GoalMet, 0, {"Summit"});
    model::Cue reached;
    reached.name = "Reached";
    reached.when = {when(model::CueWhen::What::Enters)};
    reached.then = {met, says(b, 0, "The summit. From here the water falls both ways."),
                    then(b, model::CueThen::Does::Won, 2)};
    top->edit<model::Cues>().all = {reached};
    b.add({}, "Summit", "", "", Basin::on(168, 10), {Vec3(0.0), Vec3(1.0), 0, top});
    b.add({}, "Walker start", "Walker start", "", Basin::on(-20, 17.5), {{0, -90, 0}, Vec3(1.0), 0, nullptr});
    b.add({}, "Finish", "Finish", "", Basin::on(176, 10));
}

/// The barge's course through all chambers with five stops, and the way along the towpath.
void courses(Basin& b) {
    const auto tidy = [](const Vec3& v) {
        const auto one = [](double x) { return std::round(x * 1000) / 1000; };
        return Vec3(one(v.x), one(v.y), one(v.z));
    };
    const auto route = [&](const char* name, const std::vector<Vec3>& places, const model::Route& like) {
        auto is = std::make_shared<model::Detail>();
        model::Route made = like;
        for (const Vec3& place : places) made.points.emplace_back().at = tidy(place - places.front());
        is->put(made);
        b.add({}, name, "", "", tidy(places.front()), {Vec3(0.0), Vec3(1.0), 0, is});
    };
    std::vector<Vec3> water, path;
    for (const double x : {-60.0, -40.0, -16.0, 0.0, 17.0, 34.0, 60.0, 86.0, 104.0, 124.0, 146.0, 166.0})
        water.push_back({x, waterLevel(x - 8) + 0.3, x < -20 ? 3.0 * std::sin(x * 0.07) : 0.0});
    model::Route barge;
    barge.width = 5;
    barge.height = 4;
    barge.speed = 1.2;
    barge.gains = 0.1;
    for (const int pair : {1, 2, 3, 4, 5}) {
        model::RouteStop stop;
        stop.object = b.known[Basin::numbered("Leaf pair", pair)];
        stop.size = {9, 6, 2};
        barge.stops.push_back(stop);
    }
    route("Barge course", water, barge);
    for (double x = -180; x <= 180; x += 20) {
        const bool wide = x > kBasinWest - 14 && x < kBasinEast + 14;
        path.push_back(Basin::on(x, (wide ? kBasinHalf : kCanalHalf) + 5.2));
    }
    model::Route walk;
    walk.colour = {0.45, 0.62, 0.3};
    route("Towpath way", path, walk);
}

std::string writeChambers(Basin& b) {
    b.text =
        "{\"format\":\"mellow-scene\",\"version\":1,\"sun\":{\"direction\":[-0.52,-0.62,-0.46],\"colour\":[1,0.93,0.8],"
        "\"strength\":1},\"view\":{\"from\":[-26,24,52],\"to\":[44,2,0]}}\n";
    ground(b, false);
    const auto locks = b.group({}, "Locks");
    chamber(b, locks, 1, kLockWest, kLockEast);
    chamber(b, locks, 2, 72, 100);
    chamber(b, locks, 3, 132, 160);
    const auto boats = b.group({}, "Barges");
    for (const auto& [n, x, z] : {std::tuple{1, -50.0, 10.4}, {2, -28.0, -10.2}, {4, 56.0, 0.0}, {5, 118.0, 0.0}})
        barge(b, boats, n, x, z, 0, n % 2 == 1, false);
    longTowpath(b);
    Room room;
    (void)room.take(Basin::on(168, 10), 12);
    fields(b, room);
    summit(b);
    courses(b);
    return b.text;
}

}  // namespace

std::string threeChambers() {
    Basin ahead;
    (void)writeChambers(ahead);
    Basin b;
    b.known = ahead.ids;
    return writeChambers(b);
}

std::string lowerBasin(bool ends) {
    Basin ahead;
    (void)write(ahead, ends);  // who links to what comes later asks it for ids
    Basin b;
    b.known = ahead.ids;
    return write(b, ends);
}

}  // namespace demo
