#include <QTemporaryDir>
#include <QtTest>

#include "base/files.h"
#include "hand/hand_over.h"
#include "hand/take_in.h"
#include "io/json_text.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace hand_over_test {

namespace fs = std::filesystem;
using io::Json;

class HandOverTest : public QObject {
    Q_OBJECT
    std::unique_ptr<test::DemoCopy> demo_;
    std::unique_ptr<io::Workspace> workspace_;

    edit::Session& session() { return *workspace_->session; }
    const model::Scene& basin() { return **session().scene("lower-basin"); }
    fs::path file(const std::string& name) { return demo_->folder() / name; }
    /// A receiver, as a step.
    void put(const std::string& name, const std::string& json) {
        edit::Draft draft(session(), "lower-basin", "Change the receiver");
        const std::string key;
        const std::optional<model::ValueMap> values = io::toValues(Json::parse(json));
        if (!draft.setEntries(model::data::documentIn(model::data::kReceivers, name), {&key, 1}, {&values, 1}) ||
            !draft.commit())
            qFatal("no receiver");
    }
    base::Result<hand::HandOverPlan> plan(const std::string& receiver) {
        return hand::planHandOver(*workspace_, basin(), receiver);
    }
    base::Status handOver(const std::string& receiver) {
        auto made = plan(receiver);
        if (!made) return tl::unexpected(made.error());
        return hand::deliver(*workspace_, *made, false);
    }

  private Q_SLOTS:
    void init() {
        demo_ = std::make_unique<test::DemoCopy>();
        workspace_ = *io::openWorkspace(demo_->folder(), io::OpenMode::Edit, test::chance());
    }
    void cleanup() { workspace_.reset(); }

    void theDemoGoesToItsStandIn() {
        const std::string settings = test::fileBytes(file("game/levels.json"));
        const auto made = plan("stand-in");
        QVERIFY2(made.has_value(), made ? "" : made.error().message.c_str());
        QCOMPARE(made->files.size(), std::size_t{3});
        QVERIFY(made->outside.empty());
        QVERIFY(!fs::exists(file("game/levels/lower-basin.json")));  // looked at only
        QVERIFY(hand::deliver(*workspace_, *made, false).has_value());
        QVERIFY(fs::exists(file("game/levels/lower-basin.json")) && fs::exists(file("game/levels/lower-basin.csv")));
        QCOMPARE(test::fileBytes(file("game/levels.json")),
                 QString::fromStdString(settings).replace("[]", "[\"lower-basin.json\"]").toStdString());
        // A second time nothing is written, and what was kept is kept.
        const auto again = plan("stand-in");
        for (const hand::Delivery& one : again->files) QVERIFY(one.state == hand::Delivery::State::Same);
        QVERIFY(hand::deliver(*workspace_, *again, false).has_value());
        const auto left = hand::putBack(*workspace_, "stand-in");
        QVERIFY(left.has_value() && left->empty());
        QCOMPARE(test::fileBytes(file("game/levels.json")), settings);
        QVERIFY(!fs::exists(file("game/levels/lower-basin.json")));
        QVERIFY(!hand::putBack(*workspace_, "stand-in").has_value());
    }
    void whatOthersWroteSinceStays() {
        QVERIFY(handOver("stand-in").has_value());
        test::writeBytes(file("game/levels.json"), "mine");
        const auto left = hand::putBack(*workspace_, "stand-in");
        QVERIFY(left.has_value());
        QCOMPARE(left->size(), std::size_t{1});
        QCOMPARE(test::fileBytes(file("game/levels.json")), std::string("mine"));
    }
    void theProjectsOwnFilesAreRefused() {
        for (const char* folder : {"scenes", ".", "items", ".mellow", "recipes", "kinds/../scenes"}) {
            put("bad", std::string("{\"folder\": \"") + folder +
                           "\", \"gives\": [{\"recipe\": \"json-list\", \"file\": \"x.jsonl\"}]}");
            const auto made = plan("bad");
            QVERIFY2(!made.has_value(), folder);
            QVERIFY2(made.error().message.find("belongs to the project") != std::string::npos,
                     made.error().message.c_str());
        }
        put("bad", "{\"folder\": \"out\", \"gives\": [{\"recipe\": \"json-list\", \"file\": \"../project.json\"}]}");
        QVERIFY(!plan("bad").has_value());
    }
    void outsideHasToBeAllowed() {
        QTemporaryDir elsewhere;
        put("far",
            "{\"folder\": \"" + elsewhere.path().toStdString() + "\", \"gives\": [{\"recipe\": \"json-list\"}]}");
        const auto made = plan("far");
        QVERIFY(made.has_value());
        QCOMPARE(made->outside.size(), std::size_t{1});
        QVERIFY(!hand::deliver(*workspace_, *made, false).has_value());
        QVERIFY(QDir(elsewhere.path()).isEmpty());
        QVERIFY(hand::deliver(*workspace_, *made, true).has_value());
        QVERIFY(QFile::exists(elsewhere.filePath("lower-basin.json")));
    }
    void whatSomebodyElseKeptDoesNotLeadOut() {
        QTemporaryDir elsewhere;
        const std::string target = elsewhere.filePath("mine.txt").toStdString();
        put("far", "{\"folder\": \"" + elsewhere.path().toStdString() +
                       "\", \"gives\": [{\"recipe\": \"json-list\", \"file\": \"mine.txt\"}]}");
        test::writeBytes(target, "mine");
        QVERIFY(hand::deliver(*workspace_, *plan("far"), true).has_value());
        const std::string written = test::fileBytes(target);
        QVERIFY(!hand::keptMark(*workspace_, "far").empty());
        // As if all of it had come with the project: what lies outside stays, and is named.
        const auto left = hand::putBack(*workspace_, "far");
        QVERIFY(left.has_value());
        QCOMPARE(left->size(), std::size_t{1});
        QCOMPARE(test::fileBytes(target), written);
        QVERIFY(hand::putBack(*workspace_, "far", true)->empty());
        QCOMPARE(test::fileBytes(target), std::string("mine"));
    }
    void aLinkThatLeadsOutIsNotFollowed() {
        QTemporaryDir elsewhere;
        fs::create_directory_symlink(elsewhere.path().toStdString(), file("away"));
        put("link", "{\"folder\": \"away\", \"gives\": [{\"recipe\": \"json-list\"}]}");
        QVERIFY(!plan("link").has_value());
    }
    void copiesAndGltfGoWhereTheyShould() {
        put("many",
            "{\"folder\": \"out\", \"gives\": [{\"gltf\": {\"imagesBeside\": true}, \"file\": \"{scene}.gltf\"}, "
            "{\"recipe\": \"csv-table\", \"file\": \"lists/{scene}.csv\"}], \"copy\": [\"copies/a\", \"copies/b\"]}");
        QVERIFY(handOver("many").has_value());
        for (const char* name : {"out/lower-basin.gltf", "out/lower-basin.bin", "out/lists/lower-basin.csv",
                                 "copies/a/lists/lower-basin.csv", "copies/b/lower-basin.bin"})
            QVERIFY2(fs::exists(file(name)), name);
    }
    void whenOneFileCannotBeWrittenNothingIs() {
        put("half",
            "{\"folder\": \"out\", \"gives\": [{\"recipe\": \"json-list\"}, {\"recipe\": \"csv-table\", \"file\": "
            "\"sub/x.csv\"}]}");
        const auto made = plan("half");
        QVERIFY(made.has_value());
        fs::create_directory(file("out"));
        test::writeBytes(file("out/sub"), "a file where a folder would be");
        QVERIFY(!hand::deliver(*workspace_, *made, false).has_value());
        QVERIFY(!fs::exists(file("out/lower-basin.json")));
        QCOMPARE(test::fileBytes(file("out/sub")), std::string("a file where a folder would be"));
    }
    void whatIsWrongInAReceiverIsNamed() {
        const std::pair<const char*, const char*> wrong[] = {
            {"{\"gives\": []}", "gives"},
            {"{\"gives\": [{\"recipe\": \"none\"}]}", "none"},
            {"{\"gives\": [{}]}", "neither"},
            {"{\"gives\": [{\"recipe\": \"json-list\"}], \"limits\": {\"cannot\": [\"no-facet\"]}}", "no-facet"},
            {"{\"gives\": [{\"recipe\": \"json-list\"}], \"run\": [\"no-command\"]}", "no-command"},
            {"{\"gives\": [{\"recipe\": \"json-list\"}], \"enter\": [{\"file\": \"none.json\"}]}", "none.json"},
            {"{\"gives\": [{\"recipe\": \"json-list\"}, {\"recipe\": \"json-list\"}]}", "twice"},
            {"{\"gives\": [{\"recipe\": \"json-list\"}], \"speling\": 1}", "speling"}};
        for (const auto& [json, says] : wrong) {
            put("bad", json);
            const auto made = plan("bad");
            QVERIFY2(!made.has_value(), json);
            QVERIFY2(made.error().message.find(says) != std::string::npos, made.error().message.c_str());
        }
        QVERIFY(!plan("nobody").has_value());
    }
    void limitsAreRulesLikeAllOthers() {
        put("small",
            "{\"gives\": [{\"recipe\": \"json-list\"}], \"limits\": {\"objects\": 3, \"size\": [0.9, 1.1], "
            "\"nameLength\": 5, \"nameLetters\": \"a-zA-Z\", \"items\": [\"bench\"], \"cannot\": [\"solid\"], "
            "\"uprightOnly\": true, \"uniformSize\": true, \"uniqueNames\": true}}");
        std::vector<std::string> problems;
        const auto receiver = hand::receiverNamed(session().library(), "small", problems);
        QVERIFY(receiver && problems.empty());
        QCOMPARE(hand::limitRules(session().library(), *receiver).size(), std::size_t{6});
        std::map<std::string, int> found;
        for (const check::Finding& f : hand::beyondLimits(basin(), session().library(), *receiver)) ++found[f.rule];
        for (const char* rule : {"receiver-size", "receiver-name", "receiver-item", "receiver-count"})
            QVERIFY2(found[rule] > 0, rule);
        put("wide",
            "{\"gives\": [{\"recipe\": \"json-list\"}], \"limits\": {\"objects\": 5000, \"size\": [0.001, 1000]}}");
        const auto wide = hand::receiverNamed(session().library(), "wide", problems);
        QVERIFY(hand::beyondLimits(basin(), session().library(), *wide).empty());
    }
    void aCommandSaysWhatItSaysAndHowItEnded() {
        hand::Command command;
        command.label = "Speaks";
        command.program = "sh";
        command.arguments = {"-c", "echo one; echo $WORD {scene} >&2; exit 3"};
        command.environment = {{"WORD", "two"}};
        std::vector<std::string> lines;
        const base::Progress progress;
        const auto end = hand::run(
            command, demo_->folder(), {{"scene", "lower-basin"}},
            [&](const std::string& line) { lines.push_back(line); }, progress);
        QVERIFY(end.has_value());
        QCOMPARE(end->code, 3);
        QCOMPARE(lines, (std::vector<std::string>{"one", "two lower-basin"}));
        command.program = "no-such-program-anywhere";
        QVERIFY(!hand::run(command, demo_->folder(), {}, {}, progress).has_value());
        command.program = "sh";
        command.folder = "no-such-folder";
        QVERIFY(!hand::run(command, demo_->folder(), {}, {}, progress).has_value());
    }
    void aCommandIsStoppedWithAllThatItBegan() {
        hand::Command command;
        command.label = "Sleeps";
        command.program = "sh";
        command.arguments = {"-c", "echo begun; sleep 60 & sleep 60"};
        base::Progress progress;
        QElapsedTimer clock;
        clock.start();
        const auto end = hand::run(
            command, demo_->folder(), {}, [&](const std::string&) { progress.cancel(); }, progress);
        QVERIFY(end.has_value() && end->stopped);
        QVERIFY(end->code != 0);
        QVERIFY(clock.elapsed() < 20000);
    }
};

MELLOW_TEST(HandOverTest)
}  // namespace hand_over_test
#include "hand_over_test.moc"
