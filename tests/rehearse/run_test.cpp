#include <QtTest>

#include "io/scene_file.h"
#include "support/test_main.h"
#include "support/yard.h"

namespace run_test {

using base::Vec3;
using rehearse::Input;
using rehearse::What;

/// A yard that chance furnished: steps, ramps, things that fall, wait and are moved, water, zones.
void furnish(test::Yard& y, base::Random& random, int things) {
    y.put("slab", {0, 0, 0});
    const auto place = [&](double up) { return Vec3(random.between(-9, 9), up, random.between(-9, 9)); };
    const auto turn = [&] { return Vec3(random.between(-180, 180), random.between(-40, 40), random.between(-40, 40)); };
    for (int i = 0; i < things; ++i) {
        model::Body body;
        const double size = random.between(0.3, 1.6);
        switch (random.next() % 7) {
            case 0: y.put("cube", place(0), {random.between(0, 90), 0, 0}, {2, random.between(0.1, 1.5), 2}); break;
            case 1: y.put("ramp", place(0), {random.between(0, 360), 0, 0}, Vec3(0.3)); break;
            case 2: y.guided("cube", place(0.2), {}, {2, 0.3, 2}); break;
            case 3:
                body.wakes = model::Body::Wakes::WhenBumped;
                y.loose("cube", place(0), {}, Vec3(size), body);
                break;
            case 4:
                body.shape = model::Body::Shape::Sphere;
                body.bounce = random.unit();
                y.loose("cube", place(random.between(1, 5)), turn(), Vec3(size), body);
                break;
            case 5: y.loose("beam", place(random.between(0.2, 4)), turn(), Vec3(random.between(0.2, 0.5))); break;
            default: y.loose("cube", place(random.between(0.1, 4)), turn(), Vec3(size)); break;
        }
    }
    model::Use use;
    use.slide = {random.between(-2, 2), random.between(0, 2), 0};
    use.turnDegrees = random.between(-90, 90);
    use.seconds = 0.5;
    y.give(y.guided("cube", {0, 1, -1}, {}, Vec3(0.4)), use);
    model::Zone zone;
    zone.water = random.next() % 2 == 0;
    zone.size = {8, 1.5, 8};
    y.give(y.put("", place(0)), zone);
}

rehearse::Inputs chanceInputs(base::Random& random, int steps) {
    rehearse::Inputs inputs;
    inputs.start.feet = {0, 0.5, 0};
    Input now;
    for (int i = 0; i < steps; ++i) {
        if (random.next() % 20 == 0) {
            now.ahead = static_cast<std::int16_t>(random.next() % 201 - 100);
            now.side = static_cast<std::int16_t>(random.next() % 201 - 100);
            now.keys = static_cast<std::uint8_t>(random.next() % 64);
            now.yaw = static_cast<std::int32_t>(random.next() % 36000) - 18000;
            now.pitch = static_cast<std::int32_t>(random.next() % 12000) - 6000;
        }
        inputs.steps.push_back(now);
    }
    return inputs;
}

/// Of the scene as it is after it was saved and read.
rehearse::Trace replayAsRead(test::Yard& y, const rehearse::Inputs& inputs) {
    auto read = io::parseScene("first", y.bytes(), "first", y.session().project().names, y.session().library());
    if (!read || !read->damage.empty()) return {};
    return rehearse::replay(std::make_shared<const rehearse::Level>(
                                rehearse::levelOf(std::make_shared<const model::Scene>(std::move(read->scene)),
                                                  {y.session().library(), y.shapes(), y.walker, y.craft, false})),
                            inputs);
}

class RunTest : public QObject {
    Q_OBJECT

  private Q_SLOTS:
    void theSameInputsGiveTheSameRunBitForBit() {
        // Twice, and after the scene was saved and read, in another order of slots. MELLOW_SCENES: how many; the sum
        // that is told at the end must not depend on how it was built.
        const int asked = qEnvironmentVariableIntValue("MELLOW_SCENES"), scenes = asked > 0 ? asked : 60;
        std::uint64_t sum = 0;
        for (int seed = 1; seed <= scenes; ++seed) {
            base::Random random(static_cast<std::uint64_t>(seed));
            test::Yard y;
            furnish(y, random, 14);
            y.remove(y.put("cube", {30, 0, 30}));  // leaves a hole in the slots
            y.put("cube", {5, 0, 5});
            const auto before = y.bytes();
            const rehearse::Inputs inputs = chanceInputs(random, 150);
            const rehearse::Trace first = rehearse::replay(y.level(), inputs),
                                  again = rehearse::replay(y.level(), inputs), read = replayAsRead(y, inputs);
            QCOMPARE(first.sums.size(), std::size_t{150});
            QCOMPARE(again.sums, first.sums);
            QCOMPARE(again.entries, first.entries);
            QCOMPARE(read.sums, first.sums);
            QCOMPARE(y.bytes(), before);
            sum = sum * 31 + first.sums.back();
        }
        if (asked > 0) qInfo("%d scenes, sum %016llx", scenes, static_cast<unsigned long long>(sum));
    }
    void whatWasWrittenOfInputsReadsAsTheSame() {
        for (std::uint64_t seed = 1; seed <= 100; ++seed) {
            base::Random random(seed);
            rehearse::Inputs inputs = chanceInputs(random, static_cast<int>(random.next() % 500));
            inputs.scene = "lower-basin";
            inputs.name = "Over the bridge";
            inputs.start.yawDegrees = random.between(-180, 180);
            if (!inputs.steps.empty()) inputs.steps[random.next() % inputs.steps.size()].place = Vec3(1.25, -3, 1e-3);
            const auto read = rehearse::inputsFrom(rehearse::toText(inputs));
            QVERIFY2(read.has_value(), read ? "" : read.error().message.c_str());
            QVERIFY(*read == inputs);
        }
    }
    void brokenInputsAreNamedByLine() {
        const auto says = [](const std::string& text) {
            const auto read = rehearse::inputsFrom(text);
            return read ? std::string() : read.error().message;
        };
        QVERIFY(says("hello").find("Line 1") != std::string::npos);
        QVERIFY(says("").find("expected") != std::string::npos);
        const std::string head = "mellow-inputs 1\nscene a\nstart 0 0 0 0\n";
        QVERIFY(says(head).empty());
        QVERIFY(says(head + "0.5 sideways 1").find("Line 4") != std::string::npos);
        QVERIFY(says(head + "9999 ahead 1").find("Line 4") != std::string::npos);
        QVERIFY(says(head + "1 ahead 1\n0.5 ahead 0").find("go up") != std::string::npos);
        QVERIFY(says(head + "1 ahead nan").find("Line 4") != std::string::npos);
        QVERIFY(says(head + "1 at 1e400 0 0").find("Line 4") != std::string::npos);
        QVERIFY(says(head + "seconds 1e9").find("Line 4") != std::string::npos);
    }
    void afterAnEditTheRunSaysWhereItParts() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const auto bridge = y.put("cube", {6, 0, 0}, {}, {4, 0.3, 2});
        y.loose("cube", {0, 0, -6});
        rehearse::Inputs inputs;
        for (int i = 0; i < 500; ++i) inputs.steps.push_back(test::ahead(90));
        inputs.start.yawDegrees = 90;
        const rehearse::Trace first = rehearse::replay(y.level(), inputs);
        QVERIFY(rehearse::compare(first, rehearse::replay(y.level(), inputs)).alike());
        {
            edit::Draft draft(y.session(), "first", "Move");
            base::Transform local = y.scene().local(y.slot(bridge));
            local.position.y += 0.6;
            QVERIFY(draft.setTransforms({&bridge, 1}, {&local, 1}) && draft.commit());
        }
        const rehearse::Trace second = rehearse::replay(y.level(), inputs);
        const rehearse::Parting parting = rehearse::compare(first, second);
        QVERIFY(!parting.alike());
        // Until it came to where the bridge was it went the same way: 4 m at 2.4 m/s.
        QVERIFY2(std::abs(parting.step * rehearse::kStep - (4 - 0.3) / 2.4) < 0.3,
                 qPrintable(QString::number(parting.step)));
        QVERIFY(parting.farthestMetres > 3);
    }
    void aTrackGivesBackWhereThingsWere() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const auto id = y.loose("cube", {0, 10, 0});
        const auto run = y.run({5, 0, 5});
        std::vector<Vec3> was;
        const auto index = test::thingIndex(*run, id);
        for (int i = 0; i < 600; ++i) {
            run->step({});
            was.push_back(run->world().pose(index).at);
        }
        for (int i = 0; i < 600; i += 7)
            QVERIFY2(glm::length(run->trace().tracks[index].at(i + 1).at - was[static_cast<std::size_t>(i)]) < 0.12,
                     qPrintable(QString::number(i)));
        QVERIFY(glm::length(run->trace().tracks[index].at(600).at - was.back()) < 1e-3);
    }
    void nothingOfARehearsalReachesTheSceneOrTheLedger() {
        test::Yard y;
        base::Random random(5);
        furnish(y, random, 10);
        QVERIFY(io::saveScene(y.workspace(), "first"));
        const auto bytes = y.bytes();
        const auto steps = y.session().history().present();
        for (int k = 0; k < 200; ++k) {
            auto run = y.run({0, 0.5, 0});
            for (const Input& input : chanceInputs(random, 60).steps) run->step(input);
            if (k % 3 == 0) run->end();  // others are dropped in the middle
        }
        QCOMPARE(y.bytes(), bytes);
        QCOMPARE(y.session().history().present(), steps);
    }
    void standingLongIsTold() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const auto run = y.run({0, 0, 0});
        test::press(*run, {}, 7);
        test::press(*run, test::ahead(0), 1);
        QCOMPARE(run->trace().count(What::Stood), std::size_t(1));
    }
    void whatIsFarFromTheWalkerWaits() {
        test::Yard y;
        y.put("slab", {0, 0, 0}, {}, {20, 1, 20});
        const auto far = y.loose("cube", {250, 5, 0}), near = y.loose("cube", {5, 5, 0});
        const auto run = y.run({0, 0, 0});
        test::press(*run, {}, 3);
        const auto height = [&](base::ObjectId id) { return run->world().pose(test::thingIndex(*run, id)).at.y; };
        QVERIFY(height(near) < 1);
        QVERIFY(height(far) > 4);
        Input there;
        there.place = Vec3(245, 0, 0);
        run->step(there);
        test::press(*run, {}, 3);
        QVERIFY(height(far) < 1);
    }
};

MELLOW_TEST(RunTest)
}  // namespace run_test
#include "run_test.moc"
