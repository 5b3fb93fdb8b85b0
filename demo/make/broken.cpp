// The lower basin with one deliberate fault for each rule of checks, on a stage of its own beside the valley.
#include <cmath>

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
#include "model/facets/shot.h"
#include "model/facets/solid.h"
#include "model/facets/sound.h"
#include "model/facets/surfaces.h"
#include "model/facets/zone.h"
#include "model/prefab.h"
#include "model/property.h"
#include "query/solids.h"
#include "scenes.h"
#include "valley.h"

namespace demo {
namespace {

constexpr double kEast = 300;  // metres: where the stage is

/// Writes objects after those of the basin. Ids count up, so that a fault keeps its own.
class Faults {
  public:
    explicit Faults(std::string basin) : text(std::move(basin)) {}

    base::ObjectId add(const std::string& name, const char* kind, const char* item, const Vec3& at,
                       const std::function<void(model::ObjectRecord&, model::Detail&)>& more = {}) {
        model::ObjectRecord r;
        r.id = base::ObjectId{0xfa0170000000000 + ++count_};
        r.parent = parent;
        r.name = names.intern(name);
        r.kind = names.intern(kind);
        r.item = names.intern(item);
        r.local.position = at + (parent ? Vec3(0.0) : Vec3(kEast, 0, 0));
        auto detail = std::make_shared<model::Detail>();
        if (more) more(r, *detail);
        if (!detail->empty()) r.detail = detail;
        io::appendObjectLine(text, r, names);
        text += '\n';
        return r.id;
    }

    /// The one that comes after so many more.
    base::ObjectId next(std::uint64_t more = 0) const { return base::ObjectId{0xfa0170000000000 + count_ + 1 + more}; }

    std::string text;
    base::ObjectId parent;
    base::NameTable names;

  private:
    std::uint64_t count_ = 0;
};

void loose(model::Detail& d) {
    d.put(model::Body{});
    d.edit<model::Body>().role = model::Body::Role::Loose;
    d.edit<model::Body>().shape = model::Body::Shape::Box;
}
auto solid(const Vec3& size) {
    return [size](model::ObjectRecord&, model::Detail& d) {
        d.put(model::Solid{});
        d.edit<model::Solid>().size = size;
    };
}
auto turned(const Vec3& degrees) {
    return [degrees](model::ObjectRecord& r, model::Detail&) { r.local.rotation = base::fromDegrees(degrees); };
}
auto sized(const Vec3& size) {
    return [size](model::ObjectRecord& r, model::Detail&) { r.local.scale = size; };
}
auto flagged(std::uint8_t flag) {
    return [flag](model::ObjectRecord& r, model::Detail&) { r.flags = flag; };
}
auto says(model::ValueMap properties) {
    return [properties](model::ObjectRecord&, model::Detail& d) { d.properties = properties; };
}
auto light(double candela) {
    return [candela](model::ObjectRecord&, model::Detail& d) {
        d.put(model::Light{});
        d.edit<model::Light>().intensity = candela;
    };
}

void standing(Faults& f) {
    f.add("Trial ground", "Structure", "", {0, -1, 0}, solid({60, 1, 60}));
    f.add("Floating bench", "Structure", "bench", {-24, 1, -24});
    f.add("Bench over nothing", "Structure", "bench", {100, 0, 0});
    f.add("Sunk reeds", "Plant", "reed-clump-1", {-18, -1.2, -24});
    f.add("Block in a block", "Structure", "stone-block", {-12, 0, -24});
    f.add("Block in the block", "Structure", "stone-block", {-11, 0, -24});
    f.add("Bollard", "Structure", "bollard", {-6, 0, -24});
    f.add("Bollard again", "Structure", "bollard", {-6, 0, -24});
    f.add("Bench beyond the level", "Structure", "bench", {29.4, 0, -24});
    f.add("Buried bench", "Structure", "bench", {-350, -6, 60});
}

void poses(Faults& f) {
    f.add("Leaning block", "Structure", "stone-block", {0, 0.2834, -24}, turned({40, 0, 0}));
    f.add("Giant lantern", "Lantern", "lantern-post", {6, 0, -24}, sized(Vec3(1.5)));
    f.add("Mirrored notice", "Notice", "notice-board", {12, 0, -24}, sized({-1, 1, 1}));
    const auto group = f.add("Stretched", "", "", {18, 0, -24}, sized({1, 1, 2}));
    f.parent = group;
    f.add("Skewed bench", "Structure", "bench", Vec3(0.0), turned({0, 30, 0}));
    f.parent = {};
}

void meaning(Faults& f) {
    f.add("Barrel", "Structure", "gone-barrel", {-24, 0, -16});
    f.add("Of no kind", "Gone", "", {-18, 0, -16});
    f.add("Of no prefab", "", "", {-12, 0, -16}, [](model::ObjectRecord&, model::Detail& d) {
        auto link = std::make_shared<model::PrefabLink>();
        link->of = base::ObjectId{0xdeadbeef};
        d.prefab.link = link;
    });
    f.add("Checkered bench", "Structure", "bench", {-6, 0, -16}, [](model::ObjectRecord&, model::Detail& d) {
        d.put(model::Surfaces{{{"Wood", "", {}, "gone.png", {}, {}}}});
    });
    f.add("Large picture", "Structure", "bench", {0, 0, -16}, [](model::ObjectRecord&, model::Detail& d) {
        d.put(model::Surfaces{{{"Wood", "", {}, "wide-strip.png", {}, {}}}});
    });
    f.add("Crew unknown", "Barge", "", {6, 0, -16}, says({{"crew", model::recordLink(base::ObjectId{0xabc})}}));
    f.add("No crew", "Barge", "", {9, 0, -16});
    f.add("Serves nothing", "Water control", "", {12, 0, -16},
          says({{"serves", {model::ValueList{model::objectLink(base::ObjectId{0xabcd})}}}}));
    const auto reeds = f.add("Reeds", "Plant", "reed-clump-2", {18, 0, -16});
    f.add("Belongs to reeds", "Loose goods", "", {15, 0, -16}, says({{"belongsTo", model::objectLink(reeds)}}));
    f.add("Too much oil", "Lantern", "", {21, 0, -16}, says({{"oil", {9.0}}}));
    f.add("Empty group", "", "", {24, 0, -16});
    f.add("Stall of old", "", "", {-24, 0, -4}, [](model::ObjectRecord&, model::Detail& d) {
        auto link = std::make_shared<model::PrefabLink>();
        link->of = stallRow();
        model::Difference gone;
        gone.value.id = base::ObjectId{0x123};
        gone.value.flags = model::flags::kHidden;
        gone.parts = model::part::kFlags;
        link->changed.push_back(gone);
        d.prefab.link = link;
    });
    f.add("Board 7", "Notice", "notice-board", {-6, 0, 10});
    f.add("Market notice", "Notice", "notice-board", {0, 0, 10});
    f.add("Marker", "Lamp", "lamp", {6, 1, 10}, light(20));
}

/// A block in a hundred slices, a door next to the end of a wall, and all that in one place.
void solids(Faults& f) {
    f.add("Sliced block", "Structure", "", {12, 0, 4}, [](model::ObjectRecord&, model::Detail& d) {
        constexpr int kSlices = 120;
        shape::Pieces rest = {shape::boxOf({{-3, 0, -0.5}, {3, 1, 0.5}})}, all;
        for (int i = 1; i < kSlices; ++i) {
            auto halves = shape::cut(rest, shape::planeThrough({-3 + 6.0 * i / kSlices, 0, 0}, {1, 0, 0}), 6);
            all.push_back(halves.behind[0]);
            rest = halves.before;
        }
        all.push_back(rest[0]);
        d.put(query::plainOf(all, {}).solid);
    });
    f.add("Wall with a sliver", "Structure", "", {20, 0, 4}, [](model::ObjectRecord&, model::Detail& d) {
        model::Solid wall = model::usualSolid(model::Solid::Shape::Wall, {4, 3, 0.2});
        wall.openings = {model::SolidOpening{}};
        wall.openings[0].at = {1.498, 0, 0.1};
        d.put(wall);
    });
    f.add("Arch of many pieces", "Structure", "", {24, 0, 4}, [](model::ObjectRecord&, model::Detail& d) {
        d.put(model::usualSolid(model::Solid::Shape::Arch, {3, 2, 1}, 40));
    });
}

auto cue(model::Cue made) {
    return [made](model::ObjectRecord&, model::Detail& d) { d.edit<model::Cues>().all = {made}; };
}

/// Each cue has one thing wrong.
void cues(Faults& f) {
    using Does = model::CueThen::Does;
    const auto when = [](model::CueWhen::What what) {
        model::CueWhen w;
        w.what = what;
        return w;
    };
    const auto then = [](Does does) {
        model::CueThen t;
        t.does = does;
        t.words = "So be it.";
        return t;
    };
    model::Cue gone{"Opens what is gone"};
    gone.when = {when(model::CueWhen::What::Used)};
    gone.then = {then(Does::Exists)};
    gone.then[0].targets = {{base::ObjectId{0xabce}, {}}};
    f.add("Lever to nowhere", "", "", {-24, 0, 20}, cue(gone));
    model::Cue idle{"Does nothing"};
    idle.when = {when(model::CueWhen::What::Used)};
    f.add("Lever without effect", "", "", {-22, 0, 20}, cue(idle));
    model::Cue early{"Goes off early"};
    early.when = {when(model::CueWhen::What::Above)};
    early.when[0].property = "oil";
    early.when[0].value = "1";
    early.then = {then(Does::Message)};
    f.add("Lantern with a cue", "Lantern", "lantern-post", {-20, 0, 20}, cue(early));
    f.add("Goal for nobody", "", "", {-18, 0, 20},
          [](model::ObjectRecord&, model::Detail& d) { d.edit<model::Goal>().words = "Find the heron"; });
    model::Cue ends{"Ends twice"};
    ends.when = {when(model::CueWhen::What::Used)};
    ends.then = {then(Does::Lost), then(Does::Lost)};
    f.add("Lever of two minds", "", "", {-16, 0, 20}, cue(ends));
    model::Cue round{"Goes round"};
    round.times = 0;
    round.when = {when(model::CueWhen::What::Used)};
    round.then = {then(Does::SetOff)};
    round.then[0].to = model::CueThen::To::Myself;
    f.add("Lever without end", "", "", {-14, 0, 20}, cue(round));
}

void play(Faults& f) {
    f.add("Pillar", "Structure", "", {-24, 0, 16}, solid({0.4, 6, 0.4}));
    f.add("Windlass out of reach", "Water control", "windlass", {-24, 6, 16});
    f.add("Dead lamp", "Lamp", "", {-18, 2, 16}, light(0.001));
    f.add("Block with a camera", "Structure", "stone-block", {-12, 0, 16});
    f.add("Blind camera", "Camera", "", {-12, 0.25, 16},
          [](model::ObjectRecord&, model::Detail& d) { d.put(model::Camera{}); });
    f.add("Plank below", "Loose goods", "plank", {-6, 0, 16});
    f.add("Bollard on a plank", "Structure", "bollard", {-6, 0.06, 16});
    f.add("Crate to stay", "Loose goods", "pear-crate", {0, 0, 16}, [](model::ObjectRecord& r, model::Detail& d) {
        r.flags = model::flags::kProtected;
        loose(d);
    });
    f.add("Block for the crate", "Structure", "stone-block", {6, 0, 16});
    f.add("Crate in the block", "Loose goods", "pear-crate", {6.9, 0, 16},
          [](model::ObjectRecord&, model::Detail& d) { loose(d); });
    f.add("Block for the plank", "Structure", "stone-block", {12, 0, 16});
    f.add("Tipping plank", "Loose goods", "plank", {13, 0.501, 16},
          [](model::ObjectRecord&, model::Detail& d) { loose(d); });
    f.add("Hidden bench", "Structure", "bench", {18, 0, 16}, flagged(model::flags::kHidden));
    f.add("Protected reeds", "Plant", "reed-clump-3", {24, 0, 16}, flagged(model::flags::kProtected));
    // Too many lights for one place.
    for (int i = 0; i < 12; ++i) f.add("Light " + std::to_string(i + 1), "Lamp", "", {-12.0 + i, 2, 24}, light(20));
}

/// What nobody comes to, and acts that are not as they should be.
void unreached(Faults& f) {
    model::Cue waits{"Waits in the air"};
    waits.when = {{}};
    waits.when[0].what = model::CueWhen::What::Enters;
    waits.then = {{}};
    waits.then[0].words = "Nobody reads this.";
    f.add("Zone in the air", "", "", {-12, 8, 20}, [&](model::ObjectRecord& r, model::Detail& d) {
        d.edit<model::Zone>().size = {1, 1, 1};
        cue(waits)(r, d);
    });
    const auto act = [](bool begins, bool worked) {
        return [=](model::ObjectRecord&, model::Detail& d) { d.put(model::Act{begins, worked, {}}); };
    };
    f.add("Flood", "", "", {-10, 0, 20}, act(false, false));
    f.add("Dry day", "", "", {-8, 0, 20}, act(true, true));
}

/// Each sound has one thing wrong.
void sounds(Faults& f) {
    const auto sound = [&](const char* name, const Vec3& at, const char* file, bool begins, double gain,
                           const std::vector<model::Cue>& cues = {}) {
        f.add(name, "", "", at, [&](model::ObjectRecord&, model::Detail& d) {
            model::Sound& is = d.edit<model::Sound>();
            is.file = file;
            is.begins = begins;
            is.gain = gain;
            if (!cues.empty()) d.edit<model::Cues>().all = cues;
        });
    };
    sound("Sound of nothing", {-24, 1, 24}, "gone.wav", true, 1);
    sound("Bell that nobody rings", {-22, 1, 24}, "bell.wav", false, 1);
    sound("Bell too loud", {-20, 1, 24}, "bell.wav", true, 3);
    model::Cue cut{"Ends too soon"};
    cut.when = {{}};
    cut.then.resize(2);
    cut.then[0].does = model::CueThen::Does::Sound;
    cut.then[0].to = model::CueThen::To::Myself;
    cut.then[1].does = model::CueThen::Does::Lost;
    cut.then[1].after = 0.5;
    sound("Bell that is cut off", {-18, 1, 24}, "bell.wav", false, 1, {cut});
}

/// Each camera has one thing wrong.
void cameras(Faults& f) {
    const auto zone = [&](const char* name, const Vec3& at) {
        return f.add(name, "", "", at, [](model::ObjectRecord&, model::Detail& d) {
            d.edit<model::Zone>().size = {2, 3, 2};
        });
    };
    const auto camera = [&](const char* name, const Vec3& at, base::ObjectId zoneIs,
                            const std::function<void(model::Shot&)>& more) {
        f.add(name, "", "", at, [&](model::ObjectRecord&, model::Detail& d) {
            d.put(model::Camera{});
            model::Shot& shot = d.edit<model::Shot>();
            shot.zones = {{zoneIs, {}}};
            more(shot);
        });
    };
    camera("Camera of no zone", {-24, 3, 28}, base::ObjectId{0xabcf}, [](model::Shot&) {});
    camera("Camera that looks away", {-18, 2, 25}, zone("Behind a camera", {-18, 0, 28}),
           [](model::Shot& shot) { shot.does = model::Shot::Does::Stays; });
    f.add("Wall before a camera", "Structure", "", {-8, 0, 26.4}, solid({6, 3, 0.3}));
    camera("Camera behind a wall", {-8, 1.5, 25}, zone("Behind a wall", {-8, 0, 28}), [](model::Shot&) {});
    const auto rail = f.add("Rail", "", "", {0, 0, 26}, [](model::ObjectRecord&, model::Detail& d) {
        model::PlacePoint from, to;
        from.at = {0, 1.5, 0};
        to.at = {6, 1.5, 0};
        d.edit<model::PointSet>().points = {from, to};
    });
    f.add("Wall across the rail", "Structure", "", {4, 0, 26}, solid({0.3, 3, 1}));
    camera("Camera on a rail", {0, 1.5, 26}, zone("Beside the rail", {1, 0, 28.5}), [&](model::Shot& shot) {
        shot.does = model::Shot::Does::Rides;
        shot.path = rail;
    });
    camera("Camera that takes its time", {14, 2, 25}, zone("Waiting for a view", {14, 0, 28}),
           [](model::Shot& shot) { shot.glideSeconds = 5; });
}

/// Each route has one thing wrong.
void routes(Faults& f) {
    const auto route = [&](const char* name, const Vec3& at, const std::vector<Vec3>& places,
                           const std::vector<base::ObjectId>& stops = {}) {
        f.add(name, "", "", at, [&](model::ObjectRecord&, model::Detail& d) {
            model::Route& is = d.edit<model::Route>();
            for (const Vec3& place : places) {
                is.points.emplace_back().at = place;
                is.points.back().bend = model::RoutePoint::Bend::Corner;
            }
            for (const base::ObjectId stop : stops) is.stops.emplace_back().object = stop;
        });
    };
    route("Route to nowhere", {-24, 1, 32}, {{0, 0, 0}});
    route("Route past a stop that is gone", {-24, 1, 34}, {{0, 0, 0}, {4, 0, 0}}, {base::ObjectId{0xabd0}});
    route("Route up a wall", {-18, 1, 32}, {{0, 0, 0}, {1, 3, 0}});
    route("Route over itself", {-12, 1, 32}, {{0, 0, 0}, {8, 0, 0}, {8, 0, 8}, {4, 0, 8}, {4, 0, -4}});
    const base::ObjectId behind =
        f.add("Bollard seen from behind", "Structure", "bollard", {26, 0, 20}, turned({0, 180, 0}));
    route("Route along a bollard", {26, 0, 16}, {{0, 0, 0}, {0, 0, 8}}, {behind});
    const auto mark = [&](const char* name, const Vec3& at) {
        return f.add(name, "", "", at,
                     [](model::ObjectRecord&, model::Detail& d) { d.edit<model::Note>().text = "Here"; });
    };
    const base::ObjectId one = mark("First of two marks", {2, 1, 36}),
                         other = mark("Second of two marks", {2.4, 1, 36});
    route("Route past two marks at once", {0, 1, 36}, {{0, 0, 0}, {6, 0, 0}}, {one, other});
    const auto like = [&](const char* name, const Vec3& at, const std::vector<Vec3>& places,
                          const std::function<void(model::Route&)>& more) {
        return f.add(name, "", "", at, [&](model::ObjectRecord&, model::Detail& d) {
            model::Route& is = d.edit<model::Route>();
            for (const Vec3& place : places) {
                is.points.emplace_back().at = place;
                is.points.back().bend = model::RoutePoint::Bend::Corner;
            }
            more(is);
        });
    };
    like("Route round a post", {10, 1, 36}, {{0, 0, 0}, {4, 0, 0}, {4, 0, 4}}, [](model::Route& is) {
        is.points[1].bend = model::RoutePoint::Bend::Round;
        is.points[1].radius = 0.4;
    });
    f.add("Wall across a route", "Structure", "", {26, 0, 8}, solid({4, 2, 0.5}));
    route("Route through a wall", {26, 0, 5}, {{0, 0, 0}, {0, 0, 6}});
    f.add("Wall beside a route", "Structure", "", {27, 0, -4}, solid({0.5, 2, 4}));
    route("Route along a wall", {26, 0, -7}, {{0, 0, 0}, {0, 0, 6}});
    const auto leads = [](std::int64_t point, base::ObjectId to) {
        return [point, to](model::Route& is) {
            is.forks.emplace_back().point = point;
            is.forks.back().to = to;
        };
    };
    like("Route with a fork to nowhere", {18, 1, 36}, {{0, 0, 0}, {4, 0, 0}}, leads(1, base::ObjectId{0xabd1}));
    const base::ObjectId back = f.next(1);
    const base::ObjectId there = like("Route there", {0, 1, 42}, {{0, 0, 0}, {6, 0, 0}}, leads(2, back));
    like("Route back", {6, 1, 44}, {{0, 0, 0}, {-6, 0, 0}}, leads(2, there));
}

}  // namespace

std::string brokenLock() {
    std::string text = lowerBasin(false);
    // It has no finish.
    const std::size_t at = text.find("\"name\":\"Finish\"");
    const std::size_t from = text.rfind('\n', at) + 1;
    text.erase(from, text.find('\n', at) + 1 - from);
    Faults f(std::move(text));
    standing(f);
    poses(f);
    cues(f);
    meaning(f);
    solids(f);
    play(f);
    unreached(f);
    cameras(f);
    sounds(f);
    routes(f);
    return f.text;
}

}  // namespace demo
