#include <QtTest>

#include "base/id.h"
#include "io/scene_file.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace scene_file_test {

using model::kNoSlot;

class SceneFileTest : public QObject {
    Q_OBJECT
    static constexpr const char* kHeader = "{\"format\":\"mellow-scene\",\"version\":1}\n";

    static base::Result<io::ParsedScene> parse(const std::string& text) {
        return io::parseScene("s", text, "scenes/s.scene.jsonl", std::make_shared<base::NameTable>(), {});
    }

  private Q_SLOTS:
    void theDemoSavesToTheSameBytes() {
        const std::string bytes = test::fileBytes(test::demoFolder() / "scenes" / "lower-basin.scene.jsonl");
        const auto scene = parse(bytes);
        QVERIFY(scene.has_value());
        QVERIFY(scene->damage.empty());
        QVERIFY(io::formatScene(scene->scene) == bytes);
    }
    void linesInAnyFormMeanTheSame() {
        const auto a = parse(std::string(kHeader) +
                             " { \"scale\" : [ 2 , 2.0 , 2e0 ] , \"name\":\"L\\u00e4mpchen\", "
                             "\"position\":[1.50,0,-0.25],\"id\":\"00000000000000aa\" } \r\n\n");
        const auto b =
            parse(std::string(kHeader) +
                  "{\"id\":\"00000000000000aa\",\"name\":\"Lämpchen\",\"position\":[1.5,0,-0.25],\"scale\":[2,2,2]}\n");
        QVERIFY(a.has_value() && b.has_value());
        QVERIFY(a->damage.empty() && b->damage.empty());
        QCOMPARE(io::formatScene(a->scene), io::formatScene(b->scene));
    }
    void everythingAnObjectHasIsKept() {
        const std::string text =
            std::string(kHeader) +
            "{\"id\":\"00000000000000aa\",\"name\":\"A\",\"kind\":\"Lantern\",\"item\":\"lantern-post\",\"position\":["
            "1,2,3],\"rotation\":[0,0.6,0,0.8],\"scale\":[1,2,1],\"hidden\":true,"
            "\"protected\":true,\"light\":{\"shape\":\"spot\",\"colour\":[1,0.5,0.25],\"intensity\":12,\"reach\":4,"
            "\"inner\":10,\"outer\":30},\"camera\":{\"fieldOfView\":70,\"near\":0.2,\"far\":90},"
            "\"note\":\"oil "
            "\\\"daily\\\"\",\"properties\":{\"oil\":1.5,\"n\":3,\"on\":true,\"list\":[1,[2,\"x\"]],\"deep\":{\"a\":{}}"
            "}}\n"
            "{\"id\":\"00000000000000ab\",\"parent\":\"00000000000000aa\"}\n";
        const auto scene = parse(text);
        QVERIFY(scene.has_value());
        QVERIFY2(scene->damage.empty(), scene->damage.empty() ? "" : io::toText(scene->damage[0]).c_str());
        QCOMPARE(io::formatScene(scene->scene), text);
    }
    void readingTellsHowFarItIsAndStopsWhenCalledOff() {
        std::string text = "{\"format\":\"mellow-scene\",\"version\":1}\n";
        for (int i = 1; i < 20'000; ++i)
            text += "{\"id\":\"" + base::toText(base::ObjectId{std::uint64_t(i)}) + "\"}\n";
        const auto names = std::make_shared<base::NameTable>();
        base::Progress progress;
        QVERIFY(io::parseScene("s", text, "s", names, {}, progress).has_value());
        QVERIFY2(progress.done() > 0.8 && progress.done() < 1.01, qPrintable(QString::number(progress.done())));
        base::Progress stopped;
        stopped.cancel();
        const auto nothing = io::parseScene("s", text, "s", names, {}, stopped);
        QVERIFY(!nothing);
        QCOMPARE(nothing.error().code, base::ErrorCode::Cancelled);
    }
    void unknownKeysSurvive() {
        const std::string text =
            "{\"format\":\"mellow-scene\",\"version\":1,\"sun\":{\"direction\":[-0.45,-0.8,-0.4],"
            "\"colour\":[1,0.95,0.86],\"strength\":1,\"halo\":true},\"view\":{\"from\":[14,9,18],\"to\":[0,1,0],"
            "\"roll\":3},\"views\":[{\"name\":\"Gate\",\"from\":[1,2,3],\"to\":[0,0,0],\"lens\":1},{\"name\":\"Plan\","
            "\"from\":[1,9,3],\"to\":[1,8,3],\"height\":40}],\"selections\":[{\"name\":\"Lamps\",\"ids\":["
            "\"00000000000000aa\",\"00000000000000ff\"],\"hue\":2}],\"weather\":{\"wind\":[1,2]}}\n"
            "{\"id\":\"00000000000000aa\",\"name\":\"A\",\"mood\":\"calm\",\"tags\":[\"x\",{\"y\":1}]}\n"
            "{\"id\":\"00000000000000ab\",\"light\":{\"flicker\":0.5,\"ring\":[1]},\"camera\":{\"near\":0.2,\"blur\":{}"
            "}}\n"
            "{\"id\":\"00000000000000ac\",\"array\":{\"shape\":\"ring\",\"counts\":[3,1,1],\"seed\":7,\"wave\":2}}\n";
        const auto scene = parse(text);
        QVERIFY(scene.has_value());
        QVERIFY(scene->damage.empty());
        QCOMPARE(io::formatScene(scene->scene), text);
    }
    void aBrokenLineIsToldAndTheRestIsRead_data() {
        QTest::addColumn<QByteArray>("line");
        QTest::addColumn<QString>("key");
        QTest::addColumn<QString>("says");
        QTest::addColumn<bool>("kept");  // the object itself, with the bad value at its usual one
        auto row = [](const char* name, const QByteArray& line, const char* key, const char* says, bool kept) {
            QTest::newRow(name) << line << key << says << kept;
        };
        const QByteArray id = "{\"id\":\"00000000000000bb\"";
        row("no JSON", "{\"id\":\"00000000000000bb\"", "", "not valid JSON", false);
        row("a list", "[1,2]", "", "is a list; an object was expected", false);
        row("no id", "{\"name\":\"x\"}", "id", "missing", false);
        row("id of another form", "{\"id\":\"bench\"}", "id", "sixteen hexadecimal", false);
        row("id of another type", "{\"id\":5}", "id", "Is a number", false);
        row("the same key twice", id + ",\"name\":\"a\",\"name\":\"b\"}", "name", "twice", false);
        row("the same key twice, deeper", id + ",\"properties\":{\"a\":[{\"oil\":1,\"oil\":2}]}}", "oil", "twice",
            false);
        row("the same id twice", "{\"id\":\"00000000000000aa\"}", "id", "stands at line 2 already", false);
        row("unknown parent", id + ",\"parent\":\"00000000000000ff\"}", "parent", "not in this file", true);
        row("its own parent", id + ",\"parent\":\"00000000000000bb\"}", "parent", "circle", true);
        row("a solid without a size", id + ",\"solid\":{\"shape\":\"box\",\"size\":[0,1,1]}}", "solid.size", "above 0",
            true);
        row("a prefab that is none", id + ",\"prefab\":7}", "prefab", "an object", true);
        row("an instance of nothing", id + ",\"prefab\":{}}", "prefab.of", "missing", true);
        row("a difference of nothing", id + ",\"prefab\":{\"of\":\"00000000000000cc\",\"changed\":[{\"name\":\"x\"}]}}",
            "prefab.changed.id", "missing", true);
        row("a difference in what cannot differ",
            id + ",\"prefab\":{\"of\":\"00000000000000cc\",\"changed\":[{\"id\":\"00000000000000dd\",\"mood\":1}]}}",
            "prefab.changed", "no part of an object", true);
        row("removed that is no list", id + ",\"prefab\":{\"of\":\"00000000000000cc\",\"removed\":5}}",
            "prefab.removed", "a list", true);
        row("NaN", id + ",\"position\":[NaN,0,0]}", "", "NaN is no number", false);
        row("infinity", id + ",\"position\":[0,-Infinity,0]}", "", "Infinity is no number", false);
        row("too large a number", id + ",\"position\":[0,1e999,0]}", "", "too large", false);
        row("absurdly far", id + ",\"position\":[0,1e12,0]}", "position", "10,000 km", true);
        row("two numbers", id + ",\"position\":[0,1]}", "position", "has 2 entries", true);
        row("a word for a number", id + ",\"position\":[0,\"1\",2]}", "position", "text", true);
        row("no list", id + ",\"position\":5}", "position", "list of 3 numbers", true);
        row("quaternion of no length", id + ",\"rotation\":[0,0,0,0]}", "rotation", "no length", true);
        row("scale of zero", id + ",\"scale\":[1,0,1]}", "scale", "nearly 0", true);
        row("wrong type of name", id + ",\"name\":[]}", "name", "text was expected", true);
        row("wrong type of flag", id + ",\"hidden\":1}", "hidden", "true or false", true);
        row("light out of range", id + ",\"light\":{\"intensity\":-4}}", "light.intensity", "from 0", true);
        row("camera no object", id + ",\"camera\":7}", "camera", "object was expected", true);
        row("tint too bright", id + ",\"tint\":[0.5,1.5,0]}", "tint", "from 0 to 1", true);
        row("tint of two parts", id + ",\"tint\":[1,1]}", "tint", "red, green and blue", true);
        row("taken whole by a word", id + ",\"whole\":\"yes\"}", "whole", "true or false", true);
        row("array no object", id + ",\"array\":3}", "array", "object was expected", true);
        row("array of half a thing", id + ",\"array\":{\"counts\":[2.5,1,1]}}", "array.counts", "whole number", true);
        row("array of very many", id + ",\"array\":{\"counts\":[1e6,1,1]}}", "array.counts", "from 1 to 10000", true);
        row("array of two counts", id + ",\"array\":{\"counts\":[2,1]}}", "array.counts", "three whole numbers", true);
        row("array out of range", id + ",\"array\":{\"jitterSize\":2}}", "array.jitterSize", "from 0", true);
        row("array with a bad seed", id + ",\"array\":{\"seed\":-1}}", "array.seed", "from 0", true);
        row("properties no object", id + ",\"properties\":[1]}", "properties", "object was expected", true);
        row("not UTF-8", id + ",\"name\":\"\xff\xfe\"}", "", "UTF-8", false);
        row("absurd nesting", id + ",\"x\":" + QByteArray(3000, '[') + QByteArray(3000, ']') + "}", "", "nested",
            false);
        row("deep nesting", id + ",\"x\":" + QByteArray(80, '[') + QByteArray(80, ']') + "}", "", "nested", false);
    }
    void aBrokenLineIsToldAndTheRestIsRead() {
        QFETCH(QByteArray, line);
        QFETCH(QString, key);
        QFETCH(QString, says);
        QFETCH(bool, kept);
        const std::string text = std::string(kHeader) + "{\"id\":\"00000000000000aa\",\"name\":\"Before\"}\n" +
                                 line.toStdString() + "\n{\"id\":\"00000000000000cc\",\"name\":\"After\"}\n";
        const auto scene = parse(text);
        QVERIFY(scene.has_value());
        QCOMPARE(scene->damage.size(), std::size_t{1});
        const io::Damage& d = scene->damage[0];
        QCOMPARE(d.line, 3);
        QCOMPARE(QString::fromStdString(d.file), QString("scenes/s.scene.jsonl"));
        QCOMPARE(QString::fromStdString(d.key), key);
        QVERIFY2(QString::fromStdString(d.message).contains(says, Qt::CaseInsensitive), d.message.c_str());
        QCOMPARE(scene->scene.objectCount(), std::size_t{kept ? 3u : 2u});
        QVERIFY(scene->scene.find({0xcc}) != kNoSlot);
    }
    void aWordOfANewerVersionIsToldAndStays_data() {
        QTest::addColumn<QByteArray>("facet");
        QTest::addColumn<QString>("key");
        QTest::newRow("solid") << QByteArray(R"("solid":{"shape":"blob","size":[1,1,1]})") << "solid.shape";
        QTest::newRow("light") << QByteArray(R"("light":{"shape":"tube"})") << "light.shape";
        QTest::newRow("array") << QByteArray(R"("array":{"shape":"knot","counts":[2,1,1]})") << "array.shape";
        QTest::newRow("body") << QByteArray(R"("body":{"role":"floating","shape":"cone","mass":2.0})") << "body.role";
        QTest::newRow("slot") << QByteArray(R"("surfaces":{"oak":{"fit":"mirrored"}})") << "surfaces.oak.fit";
    }
    void aWordOfANewerVersionIsToldAndStays() {
        QFETCH(QByteArray, facet);
        QFETCH(QString, key);
        const std::string text = std::string(kHeader) + "{\"id\":\"00000000000000bb\"," + facet.toStdString() + "}\n";
        const auto scene = parse(text);
        QVERIFY(scene.has_value());
        QVERIFY(scene->damage.empty());
        QVERIFY(!scene->unknown.empty());
        QCOMPARE(QString::fromStdString(scene->unknown[0].key), key);
        QCOMPARE(io::formatScene(scene->scene), text);
    }
    void aTruncatedFileIsToldAsSuch() {
        const auto scene =
            parse(std::string(kHeader) + "{\"id\":\"00000000000000aa\"}\n{\"id\":\"00000000000000bb\",\"na");
        QVERIFY(scene.has_value());
        QCOMPARE(scene->damage.size(), std::size_t{1});
        QVERIFY(scene->damage[0].message.find("cut short") != std::string::npos);
        QCOMPARE(scene->scene.objectCount(), std::size_t{1});
    }
    void everyCutOfAFileIsReadWithoutACrash() {
        const std::string text = std::string(kHeader) +
                                 "{\"id\":\"00000000000000aa\",\"name\":\"ä\",\"position\":[1,2,3],\"light\":{"
                                 "\"reach\":3}}\n{\"id\":\"00000000000000bb\",\"x\":[1,{\"y\":2}]}\n";
        for (std::size_t n = 0; n <= text.size(); ++n) (void)parse(text.substr(0, n));
    }
    void changedBytesNeverCrash() {
        const std::string text =
            test::fileBytes(test::demoFolder() / "scenes" / "lower-basin.scene.jsonl").substr(0, 4000);
        base::Random random(8);
        for (int i = 0; i < 400; ++i) {
            std::string broken = text;
            for (int k = 0; k < 6; ++k) broken[random.next() % broken.size()] = static_cast<char>(random.next());
            (void)parse(broken);
        }
    }
    void headersThatAreNotOursAreRefused_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<bool>("newer");
        QTest::newRow("empty") << "" << false;
        QTest::newRow("another format") << "{\"format\":\"other\",\"version\":1}\n" << false;
        QTest::newRow("no object") << "[]\n" << false;
        QTest::newRow("newer") << "{\"format\":\"mellow-scene\",\"version\":2}\n" << true;
    }
    void headersThatAreNotOursAreRefused() {
        QFETCH(QString, text);
        QFETCH(bool, newer);
        const auto scene = parse(text.toStdString());
        QVERIFY(!scene);
        QCOMPARE(scene.error().code == base::ErrorCode::Unsupported, newer);
        QVERIFY(scene.error().message.find("s.scene.jsonl") != std::string::npos);
    }
    void aBrokenHeaderKeepsTheObjects() {
        for (const char* header : {"{\"format\":\"mellow-sc\n", "{\"format\":\"mellow-scene\"}\n",
                                   "{\"format\":\"mellow-scene\",\"version\":1,\"sky\":4}\n",
                                   "{\"format\":\"mellow-scene\",\"version\":1,\"views\":7}\n",
                                   "{\"format\":\"mellow-scene\",\"version\":1,\"views\":[7]}\n",
                                   "{\"format\":\"mellow-scene\",\"version\":1,\"views\":[{\"from\":[1,2]}]}\n",
                                   "{\"format\":\"mellow-scene\",\"version\":1,\"selections\":[{\"ids\":[\"x\"]}]}\n",
                                   "{\"format\":\"mellow-scene\",\"version\":1,\"sky\":[0,0,0],\"sky\":[1,1,1]}\n"}) {
            const auto scene = parse(std::string(header) + "{\"id\":\"00000000000000aa\"}\n");
            QVERIFY(scene.has_value());
            QCOMPARE(scene->damage.size(), std::size_t{1});
            QCOMPARE(scene->damage[0].line, 1);
            QCOMPARE(scene->scene.objectCount(), std::size_t{1});
        }
    }
    void childrenBeforeTheirParentsFindThem() {
        const auto scene =
            parse(std::string(kHeader) +
                  "{\"id\":\"00000000000000cc\",\"parent\":\"00000000000000bb\"}\n{\"id\":\"00000000000000bb\","
                  "\"parent\":\"00000000000000aa\"}\n{\"id\":\"00000000000000aa\"}\n");
        QVERIFY(scene.has_value());
        QVERIFY(scene->damage.empty());
        QCOMPARE(scene->scene.parent(scene->scene.find({0xcc})), scene->scene.find({0xbb}));
    }
    void aLongCircleIsBrokenOnce() {
        const auto scene =
            parse(std::string(kHeader) +
                  "{\"id\":\"00000000000000aa\",\"parent\":\"00000000000000cc\"}\n{\"id\":\"00000000000000bb\","
                  "\"parent\":\"00000000000000aa\"}\n{\"id\":\"00000000000000cc\",\"parent\":\"00000000000000bb\"}\n");
        QVERIFY(scene.has_value());
        QCOMPARE(scene->damage.size(), std::size_t{1});
        QCOMPARE(scene->scene.objectCount(), std::size_t{3});
    }
    void largeFilesAreReadInPartsWithTheRightLines() {
        std::string text = kHeader;
        base::Random random(2);
        for (int i = 0; i < 20'000; ++i)
            text += "{\"id\":\"" + base::toText(random.nextId()) + "\",\"name\":\"Reed " + std::to_string(i) +
                    "\",\"position\":[" + std::to_string(i) + ",0.5,1]}\n";
        const auto whole = parse(text);
        QVERIFY(whole.has_value());
        QVERIFY(whole->damage.empty());
        QVERIFY(io::formatScene(whole->scene) == text);
        text += "broken\n";
        const auto scene = parse(text);
        QCOMPARE(scene->damage.size(), std::size_t{1});
        QCOMPARE(scene->damage[0].line, 20'002);
    }
};

MELLOW_TEST(SceneFileTest)
}  // namespace scene_file_test
#include "scene_file_test.moc"
