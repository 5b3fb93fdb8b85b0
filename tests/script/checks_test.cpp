// Checks that scripts bring: asked as the editor's own are, shut in, and without harm when they fail.
#include "script/rules.h"
#include "support/test_main.h"

#include <QtTest>
#include <thread>

#include "check/checker.h"
#include "check/gather.h"
#include "check/verbs.h"
#include "model/data.h"
#include "ops/objects.h"
#include "ops/properties.h"
#include "support/blocks.h"

namespace checks_test {

using base::ObjectId;
using base::Vec3;
using check::Finding;
using model::Slot;

struct Checked : test::Blocks {
    QTemporaryDir dir;
    script::Shelf shelf;
    std::unique_ptr<check::Checker> live;
    std::vector<Slot> touched;
    ObjectId first = put("cube", {0, 0, 0}), second = put("cube", {5, 0, 0}), far = put("cube", {50, 0, 0});

    Checked() {
        model::ValueMap next = {{"name", {std::string("next")}}, {"type", {std::string("object")}}};
        model::ValueMap kind = {{"name", {std::string("Lamp")}}, {"properties", {model::ValueList{{next}}}}};
        edit::Draft draft(session(), "first", "Kind");
        const std::string key;
        const std::optional<model::ValueMap> entry = kind;
        if (!draft.setEntries(model::data::kindDocument("Lamp"), {&key, 1}, {&entry, 1}) || !draft.commit())
            qFatal("no kind");
        const base::Name label = name("Lamp");
        step([&](edit::Draft& d) {
            return d.setLabels(model::LabelField::Kind, std::vector<ObjectId>{first, second},
                               std::vector<base::Name>(2, label));
        });
        session().sceneChanged.listen([this](const edit::SceneDelta& delta) {
            for (const auto* slots : {&delta.created, &delta.removed, &delta.moved, &delta.relabelled, &delta.detailed})
                touched.insert(touched.end(), slots->begin(), slots->end());
        });
    }
    void step(const std::function<base::Status(edit::Draft&)>& verb) {
        edit::Draft draft(session(), "first", "Step");
        if (base::Status done = verb(draft); !done) qFatal("%s", done.error().message.c_str());
        if (!draft.commit()) qFatal("no step");
    }
    void move(ObjectId id, const Vec3& at) {
        step([&](edit::Draft& d) {
            base::Transform t = scene().local(slot(id));
            t.position = at;
            return d.setTransforms({&id, 1}, {&t, 1});
        });
    }
    void use(const std::string& text, const char* file = "checks.lua") {
        test::writeBytes(std::filesystem::path(dir.path().toStdString()) / file, text);
        shelf.setFolder(script::Owner::Project, dir.path().toStdString(), "Test");
        shelf.refresh();
    }
    std::shared_ptr<const check::Facts> facts() {
        return check::gatherFacts(session(), check::withRules(script::rulesOf(shelf)), lookup(), {}, false);
    }
    /// What the scripts' checks find, of all; from then on `again` goes on from it.
    std::vector<Finding> anew(std::size_t threads = 1) {
        live = std::make_unique<check::Checker>(facts(), threads);
        live->checkAll(scene());
        touched.clear();
        return ours(live->findings(scene()));
    }
    std::vector<Finding> again() {
        live->update(scene(), touched);
        touched.clear();
        return ours(live->findings(scene()));
    }
    static std::vector<Finding> ours(std::vector<Finding> all) {
        std::erase_if(all, [](const Finding& f) { return check::ruleOf(check::builtInRules(), f.rule) != nullptr; });
        return all;
    }
};

const char* const kHigh =
    "check { id = 'too-high', label = 'Too high', why = 'Nobody reaches it.', severity = 'error', kind = 'Lamp',\n"
    "  parameters = { most = number{3, min = 0, max = 100, unit = 'm'} },\n"
    "  find = function(o, p) if o:at().y > p.most then\n"
    "    found(o:name() .. ' hangs at ' .. o:at().y, {part = 'height'})\n"
    "    arrow(o:at(), vec(o:at().x, p.most, o:at().z)) end end,\n"
    "  fixLabel = 'Lower it',\n"
    "  fix = function(o, f, p) local at = o:at() o:at(vec(at.x, p.most, at.z)) end }";

class ChecksTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void aCheckIsARuleLikeTheOthers() {
        Checked p;
        p.use(kHigh);
        const auto rules = script::rulesOf(p.shelf);
        QCOMPARE(rules.size(), std::size_t{1});
        QCOMPARE(rules[0].label, std::string("Too high"));
        QCOMPARE(rules[0].severity, check::Severity::Error);
        QCOMPARE(rules[0].fixLabel, std::string("Lower it"));
        QVERIFY(p.anew().empty());
        p.move(p.first, {0, 3, 0});
        QVERIFY(p.again().empty());  // just not
        p.move(p.first, {0, 3.5, 0});
        const auto found = p.again();
        QCOMPARE(found.size(), std::size_t{1});
        QCOMPARE(found[0].object, p.first);
        QCOMPARE(found[0].part, std::string("height"));
        QVERIFY(found[0].message.find("hangs at 3.5") != std::string::npos);
        QCOMPARE(found[0].marks.size(), std::size_t{1});
        QVERIFY(found[0].mendable);
        QCOMPARE(p.anew(3), found);
        p.move(p.far, {50, 9, 0});  // of another kind
        QCOMPARE(p.again(), found);
    }
    void itsFixIsAStepThatIsTakenBack() {
        Checked p;
        p.use(kHigh);
        p.move(p.first, {0, 7, 0});
        const auto found = p.anew();
        const std::string before = p.bytes();
        p.step([&](edit::Draft& d) -> base::Status {
            auto done = check::mend(d, *p.facts()->rules, found, p.index());
            return done ? base::Status{} : base::Status(tl::unexpected(done.error()));
        });
        QCOMPARE(p.scene().local(p.slot(p.first)).position.y, 3.0);
        QVERIFY(p.again().empty());
        const std::string after = p.bytes();
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
        QCOMPARE(p.again(), found);
        QVERIFY(p.session().redo());
        QCOMPARE(p.bytes(), after);
    }
    void aValueThatDoesNotFitIsNamedAndIsAsIfNotSaid() {
        Checked p;
        p.use(kHigh);
        p.step([&](edit::Draft& d) {
            const std::string document(model::data::kChecks), key = "too-high";
            const std::optional<model::ValueMap> value = model::ValueMap{{"most", {400.0}}};
            return d.setEntries(document, {&key, 1}, {&value, 1});
        });
        QCOMPARE(p.facts()->problems.size(), std::size_t{1});
        QVERIFY(p.facts()->problems[0].find("too-high") != std::string::npos);
        p.move(p.first, {0, 3.5, 0});
        QCOMPARE(p.anew().size(), std::size_t{1});  // the usual 3 m
    }
    void oneThatNeverEndsSaysWhere() {
        Checked p;
        p.use("check { id = 'long', looks = 'scene',\n find = function()\n while true do end end }");
        const auto found = p.anew();
        QCOMPARE(found.size(), std::size_t{1});
        QVERIFY2(found[0].message.find("checks.lua:3: the run takes too long") != std::string::npos,
                 found[0].message.c_str());
    }
    void aFixThatFailsRefusesAndLeavesAllAsItWas() {
        Checked p;
        p.use(
            "check { id = 'x', find = function(o) return 'no' end, fixLabel = 'Fix', fix = function(o) "
            "o:at(vec(9,9,9)) "
            "error('not today') end }");
        const auto found = p.anew();
        QVERIFY(!found.empty());
        const std::string before = p.bytes();
        {
            edit::Draft draft(p.session(), "first", "Fix");
            const auto done = check::mend(draft, *p.facts()->rules, {&found[0], 1}, p.index());
            QVERIFY(!done);
            QVERIFY(done.error().message.find("checks.lua:1") != std::string::npos);
            QVERIFY(done.error().message.find("not today") != std::string::npos);
        }
        QCOMPARE(p.bytes(), before);
    }
    void theProjectSetsItAndSwitchesItOff() {
        Checked p;
        p.use(kHigh);
        p.move(p.first, {0, 7, 0});
        const check::Rule rule = script::rulesOf(p.shelf)[0];
        p.step([&](edit::Draft& d) { return check::setParameter(d, rule, "most", {10.0}); });
        QVERIFY(p.anew().empty());
        p.step([&](edit::Draft& d) { return check::setParameter(d, rule, "most", {6.0}); });
        p.step([&](edit::Draft& d) { return check::setSeverity(d, rule, check::Severity::Hint); });
        const auto found = p.anew();
        QCOMPARE(found.size(), std::size_t{1});
        QCOMPARE(found[0].severity, check::Severity::Hint);
        p.step([&](edit::Draft& d) { return check::accept(d, found, "A high lamp."); });
        QVERIFY(p.anew().empty());
        p.move(p.first, {0, 8, 0});
        QCOMPARE(p.again().size(), std::size_t{1});
        p.step([&](edit::Draft& d) { return check::setRuleOff(d, rule.id, p.first, true); });
        QVERIFY(p.anew().empty());
    }
    /// What it asked along a link is noticed when it changes, goes and comes back.
    void itIsAskedAgainWhenWhatItLookedAtChanges() {
        Checked p;
        p.use(
            "check { id = 'next-far', kind = 'Lamp', find = function(o) local n = o:get('next') "
            "if n and n:at():to(o:at()) > 10 then found('far', {other = n}) end end }");
        p.step([&](edit::Draft& d) { return ops::setProperty(d, {&p.first, 1}, "next", model::objectLink(p.far)); });
        const auto found = p.anew();
        QCOMPARE(found.size(), std::size_t{1});
        QCOMPARE(found[0].other, p.far);
        p.move(p.far, {4, 0, 9});
        QVERIFY(p.again().empty());
        p.move(p.far, {40, 0, 9});
        QCOMPARE(p.again().size(), std::size_t{1});
        QVERIFY(p.session().undo());
        QVERIFY(p.again().empty());
    }
    void aroundItMeansWithinItsReach() {
        Checked p;
        p.use(
            "check { id = 'alone', kind = 'Lamp', looks = 'around', reach = 3, find = function(o) "
            "local n = 0 for _, other in ipairs(overlapping(o:at() - vec(3,3,3), o:at() + vec(3,3,3))) do "
            "if other ~= o then n = n + 1 end end if n == 0 then return 'alone' end end }");
        QCOMPARE(p.anew().size(), std::size_t{2});
        p.move(p.far, {0, 0, 2.5});
        auto now = p.again();
        QCOMPARE(now.size(), std::size_t{1});
        QCOMPARE(now[0].object, p.second);
        p.move(p.far, {0, 0, 60});
        QCOMPARE(p.again().size(), std::size_t{2});
        QCOMPARE(p.anew(2), p.again());
    }
    void ofTheSceneAsAWhole() {
        Checked p;
        p.use(
            "check { id = 'lamps', looks = 'scene', severity = 'hint', find = function(o, p) "
            "local all = find('kind:Lamp') if #all ~= 1 then found(#all .. ' lamps', {object = all[2]}) end end }");
        const auto found = p.anew();
        QCOMPARE(found.size(), std::size_t{1});
        QCOMPARE(found[0].message, std::string("2 lamps"));
        p.step([&](edit::Draft& d) { return ops::remove(d, {&p.second, 1}); });
        QVERIFY(p.again().empty());
    }
    /// One that fails says where and why, finds nothing else, and is asked again when something changes.
    void oneThatFailsIsAFindingItself() {
        Checked p;
        p.use(
            "check { id = 'bad', label = 'Bad', kind = 'Lamp', find = function(o)\n  if o:at().x > 3 then\n"
            "    o:get('nothing')\n  end\n  return 'seen'\nend }");
        const auto found = p.anew();
        QCOMPARE(found.size(), std::size_t{1});
        QCOMPARE(found[0].part, std::string(check::kFailed));
        QCOMPARE(found[0].object, p.second);
        QCOMPARE(found[0].severity, check::Severity::Error);
        QVERIFY(!found[0].mendable);
        QVERIFY2(found[0].message.find("checks.lua:3") != std::string::npos, found[0].message.c_str());
        QVERIFY(found[0].message.find('\n') == std::string::npos);
        QCOMPARE(p.anew(2), found);
        p.move(p.second, {1.5, 0, 0});
        const auto now = p.again();
        QCOMPARE(now.size(), std::size_t{2});
        QCOMPARE(now[0].message, std::string("seen"));
        p.move(p.first, {9, 0, 0});
        QCOMPARE(p.again().size(), std::size_t{1});
        QVERIFY(p.session().undo());
        QCOMPARE(p.again(), now);
    }
    void noneOfThemCanHangChangeOrReachOut() {
        const char* const bodies[] = {"while true do end",
                                      "o:at(vec(1,2,3))",
                                      "copy(o)",
                                      "remove(o)",
                                      "choose({o})",
                                      "return selected()[1]:name()",
                                      "local t = {} while true do t[#t+1] = ('x'):rep(1000) end",
                                      "os.execute('ls')",
                                      "for i = 1, 2000 do found('much') end",
                                      "found(('x'):rep(501))",
                                      "found('x', {other = 3})",
                                      "found('x', {colour = 3})",
                                      "while true do pcall(function() while true do end end) end"};
        for (const char* body : bodies) {
            Checked p;
            p.use(std::string("check { id = 'bad', find = function(o) ") + body + " end }");
            const std::string before = p.bytes();
            const auto found = p.anew();
            QVERIFY2(found.size() == 1 && found[0].part == check::kFailed, body);
            QCOMPARE(p.bytes(), before);
        }
    }
    /// Whoever writes one runs the file, and reads what it finds.
    void runningTheFileTriesIt() {
        Checked p;
        p.move(p.first, {0, 7, 0});
        script::Source source;
        source.name = "checks.lua";
        source.text = kHigh;
        script::Settings settings;
        settings.shapes = p.lookup();
        edit::Draft draft(p.session(), "first", "Try");
        script::Outcome outcome = script::run(draft, source, settings);
        QVERIFY2(outcome.done(), outcome.message.c_str());
        QCOMPARE(outcome.said.size(), std::size_t{1});
        QVERIFY(outcome.said[0].text.find("hangs at 7.0 [too-high]") != std::string::npos);
        QCOMPARE(outcome.marks.size(), std::size_t{1});
        QVERIFY(draft.changes().empty());
        source.text = "check { id = 'none', find = function() end }";
        QCOMPARE(script::run(draft, source, settings).said[0].text, std::string("Nothing was found."));
        source.text = "check { id = 'bad', find = function(o) o:nothing() end }";
        outcome = script::run(draft, source, settings);
        QVERIFY(!outcome.done());
        QVERIFY(outcome.message.find("checks.lua:1") != std::string::npos);
    }
    void whatIsDeclaredWronglyIsNamed() {
        const std::pair<const char*, const char*> wrong[] = {
            {"check { find = function() end }", "id"},
            {"check { id = 'a' }", "find"},
            {"check { id = 'Ab', find = function() end }", "small letters"},
            {"check { id = 'a', severity = 'grave', find = function() end }", "severity"},
            {"check { id = 'a', looks = 'far', find = function() end }", "around"},
            {"check { id = 'a', reach = 3, find = function() end }", "reach"},
            {"check { id = 'a', looks = 'around', reach = 1e9, find = function() end }", "1,000 m"},
            {"check { id = 'a', looks = 'scene', kind = 'Lamp', find = function() end }", "no kinds"},
            {"check { id = 'a', fix = function() end, find = function() end }", "fixLabel"},
            {"check { id = 'a', colour = 1, find = function() end }", "colour"},
            {"check { id = 'a', parameters = {3}, find = function() end }", "such field"},
            {"check { id = 'a', find = function() end } check { id = 'a', find = function() end }", "two checks"}};
        for (const auto& [text, word] : wrong) {
            Checked p;
            p.use(text);
            QVERIFY2(p.shelf.scripts()[0].problem.find(word) != std::string::npos,
                     (std::string(text) + " -> " + p.shelf.scripts()[0].problem).c_str());
            QVERIFY(script::rulesOf(p.shelf).empty());
        }
    }
    void anIdIsOnesOwn() {
        Checked p;
        p.use("check { id = 'floating', find = function() end }");
        p.use("check { id = 'mine', find = function() end }", "one.lua");
        p.use("check { id = 'mine', find = function() return 'two' end }", "two.lua");
        QCOMPARE(script::rulesOf(p.shelf).size(), std::size_t{1});
        QCOMPARE(p.shelf.conflicts().size(), std::size_t{2});
        QVERIFY(p.shelf.conflicts()[0].find("the editor itself") != std::string::npos);
        QVERIFY(p.shelf.conflicts()[1].find("two.lua") != std::string::npos);
        QVERIFY(p.anew().empty());
    }
    void itIsCalledOffWithTheCheck() {
        Checked p;
        p.use("check { id = 'long', looks = 'scene', find = function() while true do end end }");
        check::Checker checker(p.facts());
        base::Progress progress;
        std::thread whoever([&] {
            while (progress.done() < 0.99) std::this_thread::yield();  // the objects are done: the scene is asked
            progress.cancel();
        });
        checker.checkAll(p.scene(), &progress);
        whoever.join();
        QVERIFY(Checked::ours(checker.findings(p.scene())).empty());
    }
};

MELLOW_TEST(ChecksTest)
}  // namespace checks_test
#include "checks_test.moc"
