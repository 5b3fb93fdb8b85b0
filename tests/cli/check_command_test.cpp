// `mellow check`: what it finds, in every format, its exit codes, and what it mends.
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QXmlStreamReader>
#include <QtTest>
#include <nlohmann/json.hpp>
#include <sstream>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>

#include "command_line.h"
#include "support/test_main.h"

namespace check_command_test {

namespace fs = std::filesystem;

class CheckCommandTest : public CommandLine {
    Q_OBJECT
    test::DemoCopy demo_;

    /// One bench half a metre up, a lantern with too much oil, one kind of finding of each weight.
    std::string faulty() {
        const fs::path file = demo_.folder() / "scenes" / "faulty.scene.jsonl";
        std::string text = test::fileBytes(demo_.scenePath());
        text +=
            "{\"id\":\"00000000000000b1\",\"name\":\"Bench & <bench>\",\"kind\":\"Structure\",\"item\":\"bench\","
            "\"position\":[-30,0.5,30]}\n"
            "{\"id\":\"00000000000000b2\",\"name\":\"Lantern\",\"kind\":\"Lantern\",\"properties\":{\"oil\":9}}\n"
            "{\"id\":\"00000000000000b3\",\"name\":\"Nothing\"}\n";
        test::writeBytes(file, text);
        return file.string();
    }

  private Q_SLOTS:
    void theDemoIsFine() {
        QCOMPARE(run({"check", demo_.scenePath().string()}), cli::exitCode::kFine);
        QVERIFY2(out_.find("0 errors, 0 cautions, 0 hints in 1 scenes") != std::string::npos, out_.c_str());
        QVERIFY(out_.find("2 accepted") != std::string::npos);
    }
    void faultsAreToldWithFileAndLine() {
        const std::string scene = faulty();
        QCOMPARE(run({"check", scene}), cli::exitCode::kCheckErrors);
        std::istringstream lines(test::fileBytes(scene));
        int at = 0, line = 0;
        for (std::string one; std::getline(lines, one);)
            if (++line; one.find("00000000000000b1") != std::string::npos) at = line;
        const std::string where = "scenes/faulty.scene.jsonl:" + std::to_string(at) + ": caution: ";
        QVERIFY2(out_.find(where) != std::string::npos, out_.c_str());
        QCOMPARE(run({"check", scene, "--rule", "floating"}), cli::exitCode::kCheckCautions);
        QCOMPARE(run({"check", scene, "--rule", "empty-group"}), cli::exitCode::kFine);  // a hint
        QCOMPARE(run({"check", scene, "--rule", "floating", "--min-severity", "error"}), cli::exitCode::kFine);
        QCOMPARE(run({"check", scene, "--rule", "no-such"}), cli::exitCode::kUsage);
        QCOMPARE(run({"check", scene, "--min-severity", "bad"}), cli::exitCode::kUsage);
        QCOMPARE(run({"check", "/no/such/project"}), cli::exitCode::kFailed);
        QCOMPARE(run({"check"}), cli::exitCode::kUsage);
    }
    void sarifFitsItsPublishedSchemaAndIsStable() {
        using nlohmann::json;
        const std::string scene = faulty();
        QCOMPARE(run({"check", scene, demo_.scenePath().string(), "--format", "sarif"}), cli::exitCode::kCheckErrors);
        const json document = json::parse(
            test::fileBytes(test::formatsFolder().parent_path().parent_path() / "tests" / "data" / "sarif-2.1.0.json"));
        valijson::Schema schema;
        valijson::SchemaParser().populateSchema(valijson::adapters::NlohmannJsonAdapter(document), schema);
        const json sarif = json::parse(out_);
        valijson::ValidationResults problems;
        const bool fits =
            valijson::Validator().validate(schema, valijson::adapters::NlohmannJsonAdapter(sarif), &problems);
        valijson::ValidationResults::Error error;
        QVERIFY2(fits, problems.popError(error) ? error.description.c_str() : "");
        auto broken = sarif;
        broken["runs"][0]["results"][0].erase("message");
        QVERIFY(!valijson::Validator().validate(schema, valijson::adapters::NlohmannJsonAdapter(broken), nullptr));
        std::set<std::string> prints;
        std::size_t suppressed = 0;
        for (const auto& result : sarif["runs"][0]["results"]) {
            prints.insert(result["partialFingerprints"]["mellowFinding/v1"].get<std::string>());
            suppressed += result.contains("suppressions") ? 1 : 0;
        }
        QCOMPARE(prints.size(), sarif["runs"][0]["results"].size());
        QCOMPARE(suppressed, std::size_t{4});
        // Another place in the file is the same finding.
        std::string text = test::fileBytes(scene);
        const std::size_t from = text.find("{\"id\":\"00000000000000b3\"");
        const std::string last = text.substr(from);
        text.erase(from);
        text.insert(text.find("{\"id\":\"00000000000000b1\""), last);
        test::writeBytes(scene, text);
        QCOMPARE(run({"check", scene, demo_.scenePath().string(), "--format", "sarif"}), cli::exitCode::kCheckErrors);
        std::set<std::string> again;
        const json moved = json::parse(out_);
        for (const auto& result : moved["runs"][0]["results"])
            again.insert(result["partialFingerprints"]["mellowFinding/v1"].get<std::string>());
        QVERIFY(again == prints);
    }
    void junitFitsTheSchemaOfBuildServersAndCounts() {
        const std::string scene = faulty();
        QCOMPARE(run({"check", scene, "--format", "junit"}), cli::exitCode::kCheckErrors);
        const fs::path schema = test::formatsFolder().parent_path().parent_path() / "tests" / "data" / "junit-4.xsd";
        auto fits = [&](const std::string& text) {
            const fs::path file = demo_.folder() / "report.xml";
            test::writeBytes(file, text);
            QProcess xmllint;
            xmllint.start("xmllint", {"--noout", "--nonet", "--schema", QString::fromStdString(schema.string()),
                                      QString::fromStdString(file.string())});
            if (!xmllint.waitForFinished()) qFatal("xmllint is not there");
            return xmllint.exitCode() == 0;
        };
        QVERIFY(fits(out_));
        std::string broken = out_;
        broken.replace(broken.find("<testcase name="), 15, "<testcase nome=");
        QVERIFY(!fits(broken));
        QXmlStreamReader xml(QByteArray::fromStdString(out_));
        int suites = 0, cases = 0, failures = 0, tests = 0, failed = 0;
        while (!xml.atEnd()) {
            if (xml.readNext() != QXmlStreamReader::StartElement) continue;
            if (xml.name() == QLatin1String("testsuite")) {
                ++suites;
                tests = xml.attributes().value("tests").toInt();
                failed = xml.attributes().value("failures").toInt();
            }
            if (xml.name() == QLatin1String("testcase")) {
                ++cases;
                QVERIFY(!xml.attributes().value("name").isEmpty() && !xml.attributes().value("classname").isEmpty());
            }
            if (xml.name() == QLatin1String("failure")) ++failures;
        }
        QVERIFY2(!xml.hasError(), qPrintable(xml.errorString()));
        QCOMPARE(suites, 1);
        QCOMPARE(cases, tests);
        QCOMPARE(failures, failed);
        QVERIFY(failures >= 2);
    }
    void jsonHasAllOfIt() {
        const std::string scene = faulty();
        QCOMPARE(run({"check", scene, "--format", "json"}), cli::exitCode::kCheckErrors);
        const QJsonObject all = QJsonDocument::fromJson(QByteArray::fromStdString(out_)).object();
        QVERIFY(all["errors"].toInt() >= 1 && all["cautions"].toInt() >= 1 && all["hints"].toInt() >= 1);
        const QJsonObject first = all["scenes"].toArray()[0].toObject()["findings"].toArray()[0].toObject();
        for (const char* key : {"rule", "severity", "message", "line", "fingerprint"})
            QVERIFY2(first.contains(key), key);
    }
    /// The project's scripts bring rules, which are asked, listed, set and mended like the editor's.
    void checksOfScriptsAreAskedToo() {
        const std::string broken = (demo_.folder() / "scenes" / "broken-lock.scene.jsonl").string();
        QCOMPARE(run({"check", broken, "--rule", "windlass-apart"}), cli::exitCode::kCheckCautions);
        QVERIFY2(out_.find("[windlass-apart]") != std::string::npos, out_.c_str());
        QCOMPARE(run({"check", broken, "--rule", "windlass-apart", "--format", "sarif"}),
                 cli::exitCode::kCheckCautions);
        const auto sarif = nlohmann::json::parse(out_);
        const auto& result = sarif["runs"][0]["results"][0];
        const std::size_t at = result["ruleIndex"].get<std::size_t>();
        QCOMPARE(sarif["runs"][0]["tool"]["driver"]["rules"][at]["id"].get<std::string>(),
                 std::string("windlass-apart"));
        QCOMPARE(run({"check", demo_.folder().string(), "--list-rules"}), cli::exitCode::kFine);
        QVERIFY(out_.find("lantern-off-grid") != std::string::npos);
        QCOMPARE(run({"check", "--list-rules"}), cli::exitCode::kFine);
        QVERIFY(out_.find("lantern-off-grid") == std::string::npos);

        const fs::path scripts = demo_.folder() / "scripts";
        test::writeBytes(scripts / "own.lua",
                         "check { id = 'own', severity = 'error', find = function(o) if o:name() == 'Nothing' then "
                         "return 'named so' end end, fixLabel = 'Rename', fix = function(o) o:name('Something') end }");
        const std::string scene = faulty();
        QCOMPARE(run({"check", scene, "--rule", "own"}), cli::exitCode::kCheckErrors);
        QCOMPARE(run({"check", scene, "--rule", "own", "--fix"}), cli::exitCode::kFine);
        QVERIFY(test::fileBytes(scene).find("\"name\":\"Something\"") != std::string::npos);
        test::writeBytes(scripts / "own.lua", "check { id = 'own', find = function(o) o:none() end }");
        QCOMPARE(run({"check", scene, "--rule", "own"}), cli::exitCode::kCheckErrors);
        QVERIFY2(out_.find("own.lua:1") != std::string::npos, out_.c_str());
        fs::remove(scripts / "own.lua");
    }
    void whatCanBeMendedIsMendedAsOneStep() {
        const std::string scene = faulty();
        const std::string before = test::fileBytes(scene);
        QCOMPARE(run({"check", scene, "--fix"}), cli::exitCode::kFine);
        QVERIFY2(err_.find("fixed") != std::string::npos, err_.c_str());
        QVERIFY(test::fileBytes(scene) != before);
        QCOMPARE(run({"check", scene}), cli::exitCode::kFine);
        QCOMPARE(run({"undo", demo_.folder().string()}), cli::exitCode::kFine);
        QCOMPARE(run({"check", scene}), cli::exitCode::kCheckErrors);
    }
    void rulesAreListed() {
        QCOMPARE(run({"check", "--list-rules"}), cli::exitCode::kFine);
        QVERIFY(out_.find("floating") != std::string::npos);
        const std::string manual = test::fileBytes(test::formatsFolder().parent_path() / "checks.md");
        QCOMPARE(run({"check", "--list-rules", "--format", "json"}), cli::exitCode::kFine);
        const auto listed = nlohmann::json::parse(out_);
        for (const auto& rule : listed) {
            const std::string row = "| `" + rule["id"].get<std::string>() + "` | " +
                                    rule["severity"].get<std::string>() + " | " + rule["label"].get<std::string>() +
                                    " | " + rule["why"].get<std::string>();
            QVERIFY2(manual.find(row) != std::string::npos, row.c_str());
            for (const auto& p : rule["parameters"]) {
                const std::string said = "`" + p["name"].get<std::string>() + "`";
                QVERIFY2(manual.find(said) != std::string::npos, said.c_str());
            }
            QVERIFY(manual.find("rules/" + rule["id"].get<std::string>() + ".svg") != std::string::npos);
        }
    }
};

MELLOW_TEST(CheckCommandTest)
}  // namespace check_command_test
#include "check_command_test.moc"
