// The JSON Schemas in docs/formats against what we write, and against what we refuse.
#include <QtTest>
#include <fstream>
#include <nlohmann/json.hpp>
#include <sstream>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validator.hpp>

#include "io/facet_schema.h"
#include "io/project_file.h"
#include "model/value_json.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace schema_test {

namespace fs = std::filesystem;
using nlohmann::json;

class SchemaTest : public QObject {
    Q_OBJECT

    /// Does `text` fit the schema in docs/formats?
    static bool fits(const char* schemaFile, const std::string& text) {
        const json document = json::parse(test::fileBytes(test::formatsFolder() / schemaFile));
        valijson::Schema schema;
        valijson::SchemaParser().populateSchema(valijson::adapters::NlohmannJsonAdapter(document), schema);
        const json value = json::parse(text);
        return valijson::Validator().validate(schema, valijson::adapters::NlohmannJsonAdapter(value), nullptr);
    }

    /// Where a document lists facets.
    static nlohmann::ordered_json& facetsIn(nlohmann::ordered_json& document, const char* schemaFile) {
        return schemaFile == std::string_view("kind.schema.json") ? document["properties"]["facets"]["properties"]
                                                                  : document["$defs"]["object"]["properties"];
    }

  private Q_SLOTS:
    /// With MELLOW_WRITE_SCHEMAS set, the documents are written instead.
    void facetsArePublishedAsTheyAreDescribed() {
        for (const char* schemaFile : {"scene.schema.json", "kind.schema.json"}) {
            const auto path = test::formatsFolder() / schemaFile;
            auto document = nlohmann::ordered_json::parse(test::fileBytes(path));
            const auto before = document;
            for (const model::FacetType* type : model::facetTypes()) {
                std::string text;
                model::appendJson(text, io::facetSchema(*type));
                facetsIn(document, schemaFile)[type->key] = nlohmann::ordered_json::parse(text);
            }
            if (qEnvironmentVariableIsSet("MELLOW_WRITE_SCHEMAS"))
                test::writeBytes(path, document.dump(2) + "\n");
            else
                QVERIFY2(json(before) == json(document), schemaFile);
        }
    }
    void everyLineOfTheDemoFits() {
        const json document = json::parse(test::fileBytes(test::formatsFolder() / "scene.schema.json"));
        valijson::Schema schema;
        valijson::SchemaParser().populateSchema(valijson::adapters::NlohmannJsonAdapter(document), schema);
        std::istringstream lines(test::fileBytes(test::demoFolder() / "scenes" / "lower-basin.scene.jsonl"));
        int count = 0;
        for (std::string line; std::getline(lines, line); ++count) {
            const json value = json::parse(line);
            const valijson::adapters::NlohmannJsonAdapter adapter(value);
            QVERIFY2(valijson::Validator().validate(schema, adapter, nullptr), line.c_str());
        }
        QVERIFY(count > 280);
        for (const auto& file : fs::directory_iterator(test::demoFolder() / "prefabs")) {
            std::istringstream prefab(test::fileBytes(file.path()));
            for (std::string line; std::getline(prefab, line);) QVERIFY2(fits("scene.schema.json", line), line.c_str());
        }
    }
    void theDemosProjectAndKindsFit() {
        QVERIFY(fits("project.schema.json", test::fileBytes(test::demoFolder() / "project.json")));
        int kinds = 0;
        for (const auto& file : fs::directory_iterator(test::demoFolder() / "kinds")) {
            QVERIFY2(fits("kind.schema.json", test::fileBytes(file.path())), file.path().c_str());
            ++kinds;
        }
        QVERIFY(kinds > 10);
        for (const auto& file : fs::directory_iterator(test::demoFolder() / "records")) {
            std::ifstream records(file.path());
            for (std::string line; std::getline(records, line);)
                QVERIFY2(fits("records.schema.json", line), line.c_str());
        }
    }
    void theDemosChecksFit() {
        std::istringstream lines(test::fileBytes(test::demoFolder() / "checks.jsonl"));
        for (std::string line; std::getline(lines, line);) QVERIFY2(fits("checks.schema.json", line), line.c_str());
        QVERIFY(!fits("checks.schema.json", R"({"rule":"floating","severity":"grave"})"));
    }
    void whatTheReaderListsAsDamageDoesNotFit_data() {
        QTest::addColumn<QString>("line");
        for (const char* line :
             {R"({"name":"no id"})", R"({"id":"0000000000000000"})", R"({"id":"bench"})",
              R"({"id":"00000000000000aa","position":[1,2]})", R"({"id":"00000000000000aa","hidden":1})",
              R"({"id":"00000000000000aa","light":{"shape":"tube"}})",
              R"({"id":"00000000000000aa","camera":{"fieldOfView":500}})", R"({"format":"mellow-scene","version":2})",
              R"({"format":"mellow-prefab","version":1})", R"({"id":"00000000000000aa","prefab":{}})",
              R"({"id":"00000000000000aa","solid":{"shape":"blob","size":[1,1,1]}})", R"([1,2])"})
            QTest::newRow(line) << line;
    }
    void whatTheReaderListsAsDamageDoesNotFit() {
        QFETCH(QString, line);
        QVERIFY(!fits("scene.schema.json", line.toStdString()));
    }
    void wrongProjectsAndKindsDoNotFit() {
        QVERIFY(!fits("project.schema.json", R"({"format":"mellow-project","version":1,"items":[]})"));
        QVERIFY(!fits("project.schema.json", R"({"format":"other","version":1})"));
        QVERIFY(!fits("kind.schema.json", R"({"format":"mellow-kind","version":1,"name":""})"));
        QVERIFY(!fits("kind.schema.json", R"({"format":"mellow-kind","version":1,"name":"A","cost":-1})"));
    }
};

MELLOW_TEST(SchemaTest)
}  // namespace schema_test
#include "schema_test.moc"
