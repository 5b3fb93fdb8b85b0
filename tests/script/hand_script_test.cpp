#include <QtTest>

#include "scripts.h"
#include "support/test_main.h"

namespace hand_script_test {

class HandScriptTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void filesInsideTheProjectAreRead() {
        test::Scripts s;
        test::writeBytes(s.folder() / "list.csv", "name,x\nOne,1\n\"Two, too\",2\n");
        const auto outcome = s.run(
            "local rows, head = readTable('list.csv') say(#rows, head[2], rows[2].name, rows[1].x) "
            "say(#readText('list.csv'))");
        QVERIFY2(outcome.done(), outcome.message.c_str());
        QCOMPARE(outcome.said.at(0).text, std::string("2 x Two, too 1"));
        for (const char* path :
             {"../elsewhere.txt", "/etc/hostname", ".mellow/ledger.db", "list/../../x", "no-such.txt", ""}) {
            const auto refused = s.run(std::string("readText('") + path + "')");
            QVERIFY2(!refused.done(), path);
        }
        test::writeBytes(s.folder() / "odd.csv", "a,b\n1\n");
        QVERIFY(s.run("readTable('odd.csv')").message.find("odd.csv:2") != std::string::npos);
        test::writeBytes(s.folder() / "bytes.txt", "\xFF\xFE\x01");
        QVERIFY(!s.run("readText('bytes.txt')").done());
    }
    void aListIsWrittenOnceTheStepIsKept() {
        test::Scripts s;
        QVERIFY(!s.run("writeHandover('none')").done());
        {
            edit::Draft draft(s.session(), "first", "Add the recipe");
            const std::string key;
            const std::optional<model::ValueMap> values = model::ValueMap{
                {"form", {"csv"}},
                {"fields", {model::ValueList{{model::ValueMap{{"name", {"name"}}, {"is", {"name"}}}}}}}};
            QVERIFY(draft.setEntries(model::data::documentIn(model::data::kRecipes, "names"), {&key, 1}, {&values, 1}));
            QVERIFY(draft.commit().has_value());
        }
        const auto outcome = s.run("local files, n = writeHandover('names', 'nightly') say(files[1], n)");
        QVERIFY2(outcome.done(), outcome.message.c_str());
        QCOMPARE(outcome.files.size(), std::size_t{1});
        QCOMPARE(outcome.files[0].name, std::string("handover/nightly/first.csv"));
        QVERIFY(!std::filesystem::exists(s.folder() / "handover"));  // whoever keeps the step writes it
        QVERIFY(script::keepFiles(s.folder(), outcome.files).has_value());
        QVERIFY(test::fileBytes(s.folder() / "handover" / "nightly" / "first.csv").starts_with("name\n"));
        QVERIFY(!s.run("writeHandover('names', '../out')").done());
        const script::FileOut out[] = {{"../out.txt", "x"}};
        QVERIFY(!script::keepFiles(s.folder(), out).has_value());
    }
};

MELLOW_TEST(HandScriptTest)
}  // namespace hand_script_test
#include "hand_script_test.moc"
