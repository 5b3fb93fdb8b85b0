// A rehearsal among 100,000 things that stand: beginning it, and steps with some that fall. The floor is bare Bullet
// with as many boxes, put together the same way.
#include <benchmark/benchmark.h>
#include <btBulletDynamicsCommon.h>

#include <map>

#include "large_scene.h"
#include "query/collision.h"
#include "rehearse/cues.h"
#include "rehearse/world.h"

namespace {

constexpr std::size_t kStanding = 100'000;
constexpr double kChunk = 32;  // metres

const bench::Indexed& indexed() {
    static bench::Indexed made(kStanding);
    return made;
}

/// The valley with so many of its objects falling from a little above, all in one place.
std::shared_ptr<const rehearse::Level> level(std::size_t loose) {
    auto& valley = const_cast<bench::Indexed&>(indexed());
    const model::Project& project = valley.workspace->session->project();
    // Boxes, as of what is made to be moved; but for the ground.
    query::ItemCollisions boxes;
    valley.workspace->session->library().eachItem([&](base::Name key, const model::Item& item) {
        if (glm::length(item.bounds.size()) < 50) boxes[key].shape = model::CollisionShape::Box;
    });
    rehearse::LevelSources sources{valley.workspace->session->library(),
                                   query::shapesOf(valley.lookup(), std::move(boxes)), project.walker, project.craft};
    if (loose == 0)  // all of them stand
        return std::make_shared<const rehearse::Level>(
            rehearse::levelOf(std::make_shared<const model::Scene>(valley.scene), sources));
    sources.falling.emplace();
    for (const model::Slot s : valley.scene.subtree(model::kNoSlot)) {
        if (sources.falling->size() >= loose) break;
        const base::Aabb box = valley.scene.bounds(s);
        if (!box.empty() && glm::length(box.size()) < 3) sources.falling->push_back(valley.scene.id(s));
    }
    std::sort(sources.falling->begin(), sources.falling->end());
    return std::make_shared<const rehearse::Level>(
        rehearse::levelOf(std::make_shared<const model::Scene>(valley.scene), sources));
}

/// Boxes where the level's things are.
struct Bare {
    btDefaultCollisionConfiguration configuration;
    btCollisionDispatcher dispatcher{&configuration};
    btDbvtBroadphase broadphase;
    btSequentialImpulseConstraintSolver solver;
    btDiscreteDynamicsWorld world{&dispatcher, &broadphase, &solver, &configuration};
    std::vector<std::unique_ptr<btCollisionShape>> shapes;
    std::vector<std::unique_ptr<btRigidBody>> bodies;

    explicit Bare(const rehearse::Level& level) {
        world.setForceUpdateAllAabbs(false);
        std::map<std::pair<int, int>, btCompoundShape*> cells;
        for (const model::Slot s : level.fixed) {
            const base::Aabb box = level.scene->bounds(s);
            const base::Vec3 c = box.centre();
            btCompoundShape*& cell = cells[{int(std::floor(c.x / kChunk)), int(std::floor(c.z / kChunk))}];
            if (cell == nullptr) {
                shapes.push_back(std::make_unique<btCompoundShape>(true));
                cell = static_cast<btCompoundShape*>(shapes.back().get());
            }
            cell->addChildShape(btTransform(btQuaternion::getIdentity(), {c.x, c.y, c.z}), boxOf(box));
        }
        for (auto& [at, cell] : cells) add(cell, 0, {});
        for (const rehearse::Thing& thing : level.things) {
            const base::Aabb box = level.scene->bounds(thing.slot);
            add(boxOf(box), 20, box.centre());
        }
    }
    ~Bare() {
        for (auto& body : bodies) world.removeRigidBody(body.get());
    }
    btCollisionShape* boxOf(const base::Aabb& box) {
        const base::Vec3 half = glm::max(box.size() / 2.0, base::Vec3(0.01));
        shapes.push_back(std::make_unique<btBoxShape>(btVector3(half.x, half.y, half.z)));
        return shapes.back().get();
    }
    void add(btCollisionShape* shape, double mass, const base::Vec3& at) {
        btVector3 inertia(0, 0, 0);
        if (mass > 0) shape->calculateLocalInertia(mass, inertia);
        btRigidBody::btRigidBodyConstructionInfo info(mass, nullptr, shape, inertia);
        info.m_startWorldTransform.setOrigin({at.x, at.y, at.z});
        bodies.push_back(std::make_unique<btRigidBody>(info));
        world.addRigidBody(bodies.back().get());
    }
};

void beginFloor(benchmark::State& state) {
    const auto is = level(0);
    for (auto _ : state) benchmark::DoNotOptimize(std::make_unique<Bare>(*is));
}
void begin(benchmark::State& state) {
    (void)level(0);  // meshes are ready
    for (auto _ : state) {
        const auto is = level(0);
        benchmark::DoNotOptimize(std::make_unique<rehearse::World>(*is));
    }
}
BENCHMARK(beginFloor)->Name("begin a rehearsal/floor (bare Bullet)")->Unit(benchmark::kMillisecond);
BENCHMARK(begin)->Name("begin a rehearsal/snapshot and world")->Unit(benchmark::kMillisecond);

constexpr int kSteps = 120;

void stepFloor(benchmark::State& state) {
    const auto is = level(static_cast<std::size_t>(state.range(0)));
    for (auto _ : state) {
        state.PauseTiming();
        Bare bare(*is);
        state.ResumeTiming();
        for (int i = 0; i < kSteps; ++i) bare.world.stepSimulation(1 / 120.0, 0);
    }
}
void step(benchmark::State& state) {
    const auto is = level(static_cast<std::size_t>(state.range(0)));
    for (auto _ : state) {
        state.PauseTiming();
        rehearse::World world(*is);
        state.ResumeTiming();
        for (int i = 0; i < kSteps; ++i) world.step();
    }
}
BENCHMARK(stepFloor)->Name("a second of nothing loose/floor (bare Bullet)")->Arg(0)->Unit(benchmark::kMillisecond);
BENCHMARK(step)->Name("a second of nothing loose/steps")->Arg(0)->Unit(benchmark::kMillisecond);
BENCHMARK(stepFloor)->Name("a second of 100 loose/floor (bare Bullet)")->Arg(100)->Unit(benchmark::kMillisecond);
BENCHMARK(step)->Name("a second of 100 loose/steps")->Arg(100)->Unit(benchmark::kMillisecond);
BENCHMARK(stepFloor)->Name("a second of 1,000 loose/floor (bare Bullet)")->Arg(1000)->Unit(benchmark::kMillisecond);
BENCHMARK(step)->Name("a second of 1,000 loose/steps")->Arg(1000)->Unit(benchmark::kMillisecond);

// Ten thousand cues that wait: for use, for who comes near, for a property, for others. Nobody moves. The floor asks
// for as many distances, ten times a second.
constexpr std::size_t kCues = 10'000;

struct Places : rehearse::CueStage {
    std::vector<base::Vec3> at;
    base::Vec3 walker{1e3, 0, 0};
    Places() {
        base::Random random(7);
        for (std::size_t i = 0; i < kCues; ++i)
            at.emplace_back(random.between(-100, 100), 0, random.between(-100, 100));
    }
    bool isIn(std::int32_t, const rehearse::Party&) const override { return false; }
    std::optional<double> metresTo(const rehearse::CueTest& test) const override {
        return glm::length(at[test.slot] - walker);
    }
    bool isInSight(model::Slot) const override { return true; }
    std::int32_t thingOf(base::ObjectId) const override { return -1; }
    void tell(rehearse::What, base::ObjectId, base::ObjectId, const std::string&) override {}
    void doThis(const rehearse::CueDeed&, std::int32_t) override {}
    void obey(const std::vector<bool>&, double) override {}
};

void cuesFloor(benchmark::State& state) {
    const Places places;
    rehearse::CueTest test;
    int step = 0;
    for (auto _ : state)
        if (++step % 12 == 0)
            for (std::size_t i = 0; i < kCues; i += 2) {
                test.slot = static_cast<model::Slot>(i);
                benchmark::DoNotOptimize(places.metresTo(test));
            }
}
void cuesWait(benchmark::State& state) {
    using What = model::CueWhen::What;
    constexpr What kWhat[] = {What::Used, What::Nearer, What::Is, What::Nearer};
    rehearse::CueSet set;
    model::Property oil;
    oil.name = "oil";
    oil.type = model::PropertyType::Integer;
    set.properties.push_back({base::ObjectId{1}, 0, oil, model::Value{std::int64_t{0}}});
    for (std::size_t i = 0; i < kCues; ++i) {
        rehearse::CueAt cue;
        cue.object = base::ObjectId{i + 1};
        rehearse::CueTest& test = cue.tests.emplace_back();
        test.what = kWhat[i % 4];
        test.object = cue.object;
        test.slot = static_cast<model::Slot>(i);
        test.metres = 3;
        test.property = test.what == What::Is ? 0 : -1;
        test.value = model::Value{std::int64_t{5}};
        set.cues.push_back(std::move(cue));
    }
    Places places;
    rehearse::Cues cues(set, places);
    const std::vector<rehearse::Entry> nothing;
    int step = 0;
    for (auto _ : state) {
        ++step;
        cues.step(step, nothing, 0, step % 12 == 0);
    }
}
BENCHMARK(cuesFloor)->Name("a step of 10,000 cues that wait/floor (distances)")->Unit(benchmark::kMicrosecond);
BENCHMARK(cuesWait)->Name("a step of 10,000 cues that wait/cues")->Unit(benchmark::kMicrosecond);

}  // namespace
