// What is said of a project and set for a scene: read, written, and its numbers.
#include <QtTest>
#include <numbers>

#include "base/id.h"
#include "model/project_facts.h"
#include "model/scene_fields.h"
#include "model/value_json.h"
#include "support/test_main.h"

namespace setup_model_test {

using model::ProjectFacts;
using model::SceneEntry;
using model::SunPlace;
using model::Value;
using model::ValueList;
using model::ValueMap;

class SetupModelTest : public QObject {
    Q_OBJECT
    static std::string text(const ValueMap& map) {
        std::string out;
        model::appendJson(out, map);
        return out;
    }
    static ProjectFacts read(const ValueMap& map, std::size_t problems = 0) {
        std::vector<std::string> said;
        const ProjectFacts facts = model::factsFrom(map, said);
        if (said.size() != problems)
            qFatal("%zu problems, the first: %s", said.size(), said.empty() ? "" : said[0].c_str());
        return facts;
    }

  private Q_SLOTS:
    void factsComeBackAndWhatIsNotOursStays() {
        ValueMap head = {{"later", {ValueList{{1.5}, {std::string("x")}}}}, {"name", {std::string("Before")}}};
        ProjectFacts facts;
        facts.name = "Heron Lock";
        facts.firstScene = "lower-basin";
        facts.walker.eyeHeight = 1.25;
        facts.entry("lower-basin").unknown = {{"weather", {std::string("rain")}}};  // of a newer version
        facts.entry("trial").made = facts.entry("trial").scratch = true;
        facts.entry("old").gone = facts.entry("old").isTemplate = true;
        model::putFacts(head, facts);
        QCOMPARE(head.front().first, std::string("later"));  // in its place
        QVERIFY(read(head) == facts);
        const std::string once = text(head);
        model::putFacts(head, facts);
        QCOMPARE(text(head), once);
        // Nothing of scenes is said any more: nothing is left of it.
        facts.scenes.clear();
        facts.walker = {};
        model::putFacts(head, facts);
        QVERIFY(model::valueOf(head, "scenes") == nullptr);
        QVERIFY(read(head) == facts);
    }
    void aWalkerAsUsualIsNotWritten() {
        ValueMap head;
        ProjectFacts facts;
        facts.name = "p";
        model::putFacts(head, facts);
        QVERIFY(model::valueOf(head, "walker") == nullptr);
        QVERIFY(model::valueOf(head, "scenes") == nullptr);
    }
    void whatIsWrongIsNamedAndTheRestIsRead() {
        const ValueMap walker = {{"eyeHeight", {-2.0}}, {"slope", {30.0}}, {"speed", {std::string("fast")}}};
        const ValueMap head = {{"name", {7.0}},
                               {"firstScene", {std::string("a")}},
                               {"walker", {walker}},
                               {"scenes",
                                {ValueList{{std::string("a")},
                                           {ValueMap{{"name", {std::string("b")}}, {"scratch", {1.0}}}},
                                           {ValueMap{{"name", {std::string("b")}}, {"gone", {true}}}},
                                           {ValueMap{{"scratch", {true}}}}}}}};
        const ProjectFacts facts = read(head, 5);
        QCOMPARE(facts.firstScene, std::string("a"));
        QCOMPARE(facts.walker.slopeDegrees, 30.0);
        QCOMPARE(facts.walker.eyeHeight, model::Walker{}.eyeHeight);
        QCOMPARE(facts.scenes.size(), std::size_t{1});  // twice is once, without a name none
        QVERIFY(!facts.scenes[0].gone && !facts.scenes[0].scratch);
        QVERIFY(read({{"scenes", {true}}}, 1).scenes.empty());
        QVERIFY(read({{"walker", {true}}}, 1).walker == model::Walker{});
    }
    void anEntryIsFoundOrMade() {
        ProjectFacts facts;
        QVERIFY(facts.scene("a") == nullptr);
        facts.entry("a").scratch = true;
        QCOMPARE(facts.scenes.size(), std::size_t{1});
        QVERIFY(facts.entry("a").scratch && facts.scene("a")->scratch);
    }
    void theFieldsOfAProjectReachTheWalker() {
        ProjectFacts facts;
        for (const auto& [key, value] :
             {std::pair{"eyeHeight", 1.1}, {"stepHeight", 0.2}, {"slope", 33.0}, {"radius", 0.5}, {"speed", 4.0}}) {
            const model::Member* member = model::projectFields().find(key);
            QVERIFY2(member != nullptr, key);
            QVERIFY(model::setMember(model::projectFields(), &facts, *member, {value}));
            QVERIFY(*member->get(&facts) == Value{value});
            QVERIFY(!model::setMember(model::projectFields(), &facts, *member, {-5.0}));
            QVERIFY(*member->get(&facts) == Value{value});
        }
        const model::Walker wanted{1.1, 0.2, 33, 0.5, 4};
        QVERIFY(facts.walker == wanted);
    }
    void theSunStandsWhereItsLightComesFrom() {
        // Straight above; in the east; low in the north.
        QVERIFY(std::abs(model::sunPlace({0, -1, 0}).heightDegrees - 90) < 1e-9);
        const SunPlace east = model::sunPlace({-1, 0, 0}), north = model::sunPlace({0, -1, 1});
        QVERIFY(std::abs(east.bearingDegrees - 90) < 1e-9 && std::abs(east.heightDegrees) < 1e-9);
        QVERIFY(std::abs(north.bearingDegrees) < 1e-9 && std::abs(north.heightDegrees - 45) < 1e-9);
        QVERIFY(std::abs(model::sunPlace({0, 0, 0}).heightDegrees - 90) < 1e-9);  // no way at all
        base::Random random(5);
        for (int i = 0; i < 500; ++i) {
            const SunPlace place{random.between(-89, 89), random.between(0, 360)};
            const base::Vec3 way = model::sunDirection(place);
            QVERIFY(std::abs(glm::length(way) - 1) < 1e-12);
            const SunPlace back = model::sunPlace(way * random.between(0.01, 50));
            QVERIFY(std::abs(back.heightDegrees - place.heightDegrees) < 1e-9);
            QVERIFY(std::abs(std::remainder(back.bearingDegrees - place.bearingDegrees, 360)) < 1e-9);
        }
    }
    void oneAngleOfTheSunLeavesTheOther() {
        model::SceneSettings settings;
        const auto set = [&](const char* key, double value) {
            return model::setMember(model::sceneFields(), &settings, *model::sceneFields().find(key), {value})
                .has_value();
        };
        QVERIFY(set("sunBearing", 200) && set("sunHeight", 10) && set("sunHeight", 35));
        const SunPlace place = model::sunPlace(settings.sunDirection);
        QVERIFY(std::abs(place.bearingDegrees - 200) < 1e-9 && std::abs(place.heightDegrees - 35) < 1e-9);
        QVERIFY(!set("sunHeight", 91) && !set("haze", -1) && !set("sunStrength", 1e6));
        QVERIFY(set("haze", 250));
        QCOMPARE(settings.hazeMetres, 250.0);
    }
    void everyFieldHasAWordAndKeepsItsDefault() {
        const model::SceneSettings fresh;
        for (const model::Member& member : model::sceneFields().members) {
            QVERIFY(!member.property.label.empty());
            model::SceneSettings settings;
            const auto now = member.get(&settings);
            QVERIFY2(now.has_value() || member.optional, member.property.name.c_str());
            if (!now) continue;
            QVERIFY2(model::setMember(model::sceneFields(), &settings, member, *now), member.property.name.c_str());
        }
    }
};

MELLOW_TEST(SetupModelTest)
}  // namespace setup_model_test
#include "setup_model_test.moc"
