// Checks as a whole: again after edits as from scratch, mended, accepted, switched off, and undone.
#include <rapidcheck.h>

#include <QtTest>

#include "check/level.h"
#include "io/check_report.h"
#include "model/facets/body.h"
#include "model/facets/light.h"
#include "query/collision.h"
#include "support/test_main.h"

namespace checker_test {

using base::ObjectId;
using base::Status;
using base::Vec3;
using check::Finding;
using model::Slot;
using test::Level;
using test::Map;

class CheckerTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void fixesMendAndAreUndoneExactly() {
        Level p;
        p.put("cube", {0, 0.4, 0});
        p.put("cube", {4, 0, 0});
        p.put("cube", {4, 0, 0});
        p.put("cube", {8, 0, 0}, {40, 20, 0});
        p.add("Empty");
        const ObjectId hidden = p.put("cube", {12, 0, 0}), wrong = p.put("cube", {15, 0, 0});
        p.ofKind(wrong, "Thing");
        p.detail(wrong, [](model::Detail& d) { d.properties = {{"oil", {9.0}}}; });
        p.step([&](edit::Draft& d) { return ops::setFlag(d, {&hidden, 1}, model::flags::kHidden, true); });
        for (int round = 0; round < 3; ++round) {
            for (const Finding& f : p.all()) {
                if (!f.mendable) continue;
                const std::string before = p.bytes();
                const std::size_t had = p.count(f.rule, f.object);
                edit::Draft draft(p.session(), "first", "Mend");
                auto done = check::mend(draft, check::builtInRules(), {&f, 1}, p.index());
                QVERIFY2(done, done ? "" : done.error().message.c_str());
                QVERIFY(draft.commit());
                QVERIFY2(p.count(f.rule, f.object) < had, f.message.c_str());
                const std::string after = p.bytes();
                QVERIFY(p.session().undo());
                QCOMPARE(p.bytes(), before);
                QVERIFY(p.session().redo());
                QCOMPARE(p.bytes(), after);
                break;
            }
        }
        edit::Draft draft(p.session(), "first", "Mend");
        QVERIFY(!check::mend(draft, check::builtInRules(), {}, p.index()));
    }
    void acceptedComesBackWhenTheThingChanges() {
        Level p;
        const ObjectId a = p.put("cube", {0, 0.4, 0});
        check::Checker checker(p.facts());
        checker.checkAll(p.scene());
        const auto found = checker.findings(p.scene());
        QCOMPARE(found.size(), std::size_t{1});
        {
            edit::Draft draft(p.session(), "first", "Accept");
            QVERIFY(!check::accept(draft, found, "  "));
        }
        p.step([&](edit::Draft& d) { return check::accept(d, found, "It hangs on a rope."); });
        QCOMPARE(checker.findings(p.scene()).size(), std::size_t{0});
        QCOMPARE(checker.accepted(p.scene()).size(), std::size_t{1});
        p.pose(a, {0, 0.9, 0});
        QCOMPARE(p.count("floating", a), std::size_t{1});
        QVERIFY(p.session().undo());
        QCOMPARE(p.count("floating", a), std::size_t{0});
        // It is in the file, and there again after opening it.
        QVERIFY(p.bytes().find("It hangs on a rope.") != std::string::npos);
        QVERIFY(io::saveScene(p.workspace(), "first"));
        const std::string saved = p.bytes();
        QVERIFY(p.reopen());
        QCOMPARE(p.bytes(), saved);
        QCOMPARE(p.scene().settings().accepted.size(), std::size_t{1});
        p.step([&](edit::Draft& d) { return check::acceptNoMore(d, found); });
        QVERIFY(p.scene().settings().accepted.empty());
    }
    void rulesAreSwitchedOffForOneAKindOrAll() {
        Level p;
        const ObjectId a = p.put("cube", {0, 0.4, 0}), b = p.put("cube", {4, 0.4, 0});
        p.ofKind(b, "Other");
        QCOMPARE(p.count("floating"), std::size_t{2});
        p.step([&](edit::Draft& d) { return check::setRuleOff(d, "floating", a, true); });
        QCOMPARE(p.count("floating"), std::size_t{1});
        p.step([&](edit::Draft& d) { return check::setRuleOffForKind(d, "floating", "Other", true); });
        QCOMPARE(p.count("floating"), std::size_t{0});
        p.step([&](edit::Draft& d) { return check::setRuleOff(d, "floating", a, false); });
        QCOMPARE(p.count("floating"), std::size_t{1});
        p.step([&](edit::Draft& d) { return check::setSeverity(d, Level::rule("floating"), check::Severity::Error); });
        QVERIFY(p.all().front().severity == check::Severity::Error);
        p.step([&](edit::Draft& d) { return check::setOff(d, "floating", true); });
        QCOMPARE(p.count("floating"), std::size_t{0});
        edit::Draft draft(p.session(), "first", "No");
        QVERIFY(!check::setParameter(draft, Level::rule("floating"), "most", {-1.0}));
        QVERIFY(!check::setParameter(draft, Level::rule("floating"), "nothing", {1.0}));
        draft.rollback();
        QVERIFY(io::saveScene(p.workspace(), std::string(model::data::kChecks)));
        QVERIFY(p.reopen());
        QVERIFY(p.facts()->settings.at("floating").off);
    }
    void wrongSettingsOfAFileAreNamed() {
        Level p;
        test::writeBytes(p.folder() / "checks.jsonl",
                         "{\"format\":\"mellow-checks\",\"version\":1}\n{\"rule\":\"floating\",\"most\":-4}\n"
                         "{\"rule\":\"sunk\",\"severity\":\"grave\"}\n{\"rule\":\"of-tomorrow\",\"x\":1}\n");
        QVERIFY(p.reopen());
        QCOMPARE(p.workspace().damage.size(), std::size_t{2});
    }
    void everyRuleExplainsItself() {
        std::set<std::string> ids;
        for (const check::Rule& rule : check::builtInRules()) {
            QVERIFY2(ids.insert(rule.id).second, rule.id.c_str());
            QVERIFY(!rule.label.empty() && !rule.why.empty() && rule.find);
            QCOMPARE(rule.fixLabel.empty(), !rule.fix);
            for (const model::Property& parameter : rule.parameters) QVERIFY(!parameter.label.empty());
        }
        QVERIFY(ids.size() >= 35);
    }
    /// After any edits, and after taking them back, the findings are those of looking at all of it.
    void checkedAgainIsCheckedFromScratch() {
        qputenv("RC_PARAMS", "max_success=120");
        const bool held = rc::check("incremental", [] {
            Level p;
            p.set("out-of-reach", {{"where", {std::string("item:beam")}}});
            std::vector<ObjectId> ids;
            for (int i = 0; i < 8; ++i)
                ids.push_back(p.put(i % 3 == 0 ? "beam" : "cube", {i * 0.9 - 4, (i % 2) * 0.5, (i % 3) * 0.8}));
            const ObjectId lamp = p.add("Lamp", {}, {{0, 9, 0}, {1, 0, 0, 0}, Vec3(1.0)});
            p.detail(lamp, [](model::Detail& d) { d.put(model::Light{}); });
            ids.push_back(lamp);
            p.ofKind(ids[1], "Cargo");
            p.ofKind(ids[2], "Thing");
            check::Checker live(p.facts());
            live.checkAll(p.scene());
            std::vector<Slot> touched;
            auto token = p.session().sceneChanged.listen([&](const edit::SceneDelta& delta) {
                for (const auto* slots :
                     {&delta.created, &delta.removed, &delta.moved, &delta.relabelled, &delta.detailed})
                    touched.insert(touched.end(), slots->begin(), slots->end());
            });
            for (int edits = *rc::gen::inRange(1, 7); edits > 0; --edits) {
                touched.clear();
                std::vector<ObjectId> there;
                for (ObjectId id : ids)
                    if (p.slot(id) != model::kNoSlot) there.push_back(id);
                if (there.empty()) break;
                const ObjectId one = *rc::gen::elementOf(there), other = *rc::gen::elementOf(there);
                const double x = *rc::gen::inRange(-40, 40) / 10.0, y = *rc::gen::inRange(-8, 20) / 10.0;
                switch (*rc::gen::inRange(0, 9)) {
                    case 0: p.pose(one, {x, y, x / 2}); break;
                    case 1: p.pose(one, {x, 0, y}, {0, x * 9, 0}, {1, 1.5, 1}); break;
                    case 2: p.step([&](edit::Draft& d) { return ops::remove(d, {&one, 1}); }); break;
                    case 3: ids.push_back(p.put("cube", {x, y, 0})); break;
                    case 4: p.ofKind(one, x > 0 ? "Cargo" : "Thing"); break;
                    case 5:
                        p.detail(one, [&](model::Detail& d) {
                            d.put(model::Body{});
                            d.edit<model::Body>().role = x > 0 ? model::Body::Role::Loose : model::Body::Role::Fixed;
                        });
                        break;
                    case 6:
                        p.detail(one, [&](model::Detail& d) { d.properties = {{"next", model::objectLink(other)}}; });
                        break;
                    case 7:
                        if (one != other) {
                            edit::Draft d(p.session(), "first", "Group");
                            if (auto made = ops::group(d, std::vector<ObjectId>{one, other}, "Both")) {
                                (void)d.commit();
                                ids.push_back(*made);
                            }
                        }
                        break;
                    default: (void)p.session().undo(); break;
                }
                live.update(p.scene(), touched);
                check::Checker fresh(p.facts(), 3);
                fresh.checkAll(p.scene());
                const auto again = live.findings(p.scene()), anew = fresh.findings(p.scene());
                if (again != anew) {
                    for (const Finding& f : again) RC_LOG() << "again " << f.rule << " " << f.message << "\n";
                    for (const Finding& f : anew) RC_LOG() << "anew " << f.rule << " " << f.message << "\n";
                }
                RC_ASSERT(again == anew);
            }
            p.session().sceneChanged.forget(token);
        });
        QVERIFY(held);
    }
    /// Of every rule that has a fix: its fault in the broken scene goes, and comes back byte by byte with undo.
    void everyFixMendsAndIsUndoneExactly() {
        test::DemoCopy demo;
        auto opened = io::openWorkspace(demo.folder(), io::OpenMode::Edit, test::chance());
        QVERIFY(opened);
        edit::Session& session = *(*opened)->session;
        const model::Scene& scene = **session.scene("broken-lock");
        std::unordered_map<base::Name, std::unique_ptr<query::MeshIndex>> meshes;
        for (const auto& [item, mesh] : (*opened)->meshes) meshes[item] = std::make_unique<query::MeshIndex>(mesh);
        const query::Shapes lookup = query::shapesOf(
            [&](base::Name item) -> const query::MeshIndex* {
                const auto place = meshes.find(item);
                return place == meshes.end() ? nullptr : place->second.get();
            },
            query::itemCollisions(session.library(), (*opened)->parts));
        const auto rules = check::withRules();
        auto found = [&] {
            check::Checker checker(check::gatherFacts(session, rules, lookup, io::mediaFacts(session), false));
            checker.checkAll(scene);
            return checker.findings(scene);
        };
        auto has = [&](const Finding& f) {
            const auto now = found();
            return std::any_of(now.begin(), now.end(), [&](const Finding& one) {
                return one.rule == f.rule && one.object == f.object && one.part == f.part;
            });
        };
        std::set<std::string> mended, fixes;
        for (const check::Rule& rule : *rules)
            if (rule.fix) fixes.insert(rule.id);
        const std::string before = io::formatScene(scene);
        for (const Finding& f : found()) {
            if (!f.mendable) continue;
            const query::SceneIndex index(scene, lookup);
            {
                edit::Draft draft(session, "broken-lock", "Mend");
                auto done = check::mend(draft, *rules, {&f, 1}, index);
                QVERIFY2(done, done ? "" : (f.rule + ": " + done.error().message).c_str());
                QVERIFY2(draft.commit(), f.rule.c_str());
            }
            const std::string after = io::formatScene(scene);
            QVERIFY2(after != before && !has(f), f.rule.c_str());
            QVERIFY(session.undo());
            QVERIFY2(io::formatScene(scene) == before, f.rule.c_str());
            QVERIFY(session.redo());
            QVERIFY2(io::formatScene(scene) == after, f.rule.c_str());
            QVERIFY(session.undo());
            mended.insert(f.rule);
        }
        QVERIFY2(mended == fixes, std::to_string(mended.size()).c_str());
    }
    void theDemoHasNoFaultAndItsBrokenSceneOneOfEach() {
        test::DemoCopy demo;
        auto opened = io::openWorkspace(demo.folder(), io::OpenMode::ReadOnly, test::chance());
        QVERIFY(opened);
        std::unordered_map<base::Name, std::unique_ptr<query::MeshIndex>> meshes;
        for (const auto& [item, mesh] : (*opened)->meshes) meshes[item] = std::make_unique<query::MeshIndex>(mesh);
        auto& session = *(*opened)->session;
        const model::Scene& broken = **session.scene("broken-lock");
        for (const auto& [item, mesh] : (*opened)->meshes)  // its solids came with it
            if (!meshes.contains(item)) meshes[item] = std::make_unique<query::MeshIndex>(mesh);
        const auto facts = check::gatherFacts(session, check::withRules(),
                                              query::shapesOf(
                                                  [&](base::Name item) -> const query::MeshIndex* {
                                                      const auto place = meshes.find(item);
                                                      return place == meshes.end() ? nullptr : place->second.get();
                                                  },
                                                  query::itemCollisions(session.library(), (*opened)->parts)),
                                              io::mediaFacts(session), true);
        check::Checker checker(facts);
        const model::Scene& scene = **session.scene("lower-basin");
        checker.checkAll(scene);
        const auto found = checker.findings(scene);
        QVERIFY2(found.empty(), found.empty() ? "" : found[0].message.c_str());
        QCOMPARE(checker.accepted(scene).size(), std::size_t{2});
        checker.checkAll(broken);
        std::map<std::string, int> counts;
        for (const Finding& f : checker.findings(broken)) ++counts[f.rule];
        for (const check::Rule& rule : check::builtInRules()) {
            if (rule.id == "unused-prefab") continue;  // of a project, not of a scene
            QVERIFY2(counts[rule.id] == 1, (rule.id + ": " + std::to_string(counts[rule.id])).c_str());
        }
        QCOMPARE(counts.size(), check::builtInRules().size() - 1);
    }
};

MELLOW_TEST(CheckerTest)
}  // namespace checker_test
#include "checker_test.moc"
