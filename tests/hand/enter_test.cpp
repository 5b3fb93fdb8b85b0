#include <QtTest>

#include "hand/enter.h"
#include "support/test_main.h"

namespace enter_test {

using hand::Enter;

class EnterTest : public QObject {
    Q_OBJECT

    /// Entered once: the text with `added` put in at one place, the rest byte for byte; a second time: no change.
    static void isEntered(Enter::As as, const std::string& at, const std::string& text, const std::string& value,
                          const std::string& expected) {
        const Enter enter{as, "settings", at, "{file}"};
        const auto with = hand::entered(text, enter, value);
        QVERIFY2(with.has_value(), with ? "" : with.error().message.c_str());
        QCOMPARE(QString::fromStdString(*with), QString::fromStdString(expected));
        const auto twice = hand::entered(*with, enter, value);
        QVERIFY(twice.has_value());
        QCOMPARE(*twice, *with);
        // One place: what stands before and after it is there as it was.
        std::size_t same = 0;
        while (same < text.size() && text[same] == (*with)[same]) ++same;
        std::size_t after = 0;
        while (after < text.size() - same && text[text.size() - 1 - after] == (*with)[with->size() - 1 - after])
            ++after;
        if (text.find("/>") == std::string::npos || with->find("</levels>") == std::string::npos)  // one that opens
            QCOMPARE(same + after, text.size());
    }
    static void isRefused(Enter::As as, const std::string& at, const std::string& text) {
        const auto with = hand::entered(text, {as, "settings.x", at, ""}, "a");
        QVERIFY2(!with.has_value(), at.c_str());
        QVERIFY2(with.error().message.find("settings.x") != std::string::npos, with.error().message.c_str());
    }

  private Q_SLOTS:
    void intoAListOfJson() {
        isEntered(Enter::As::Json, "/levels",
                  "{\n  \"a\": [1, {\"levels\": [\"no\"]}],\n  \"levels\": [\n    \"one.json\",\n    \"two.json\"\n  "
                  "],\n\t\"z\" : null }\n",
                  "three.json",
                  "{\n  \"a\": [1, {\"levels\": [\"no\"]}],\n  \"levels\": [\n    \"one.json\",\n    \"two.json\",\n   "
                  " \"three.json\"\n  ],\n\t\"z\" : null }\n");
        isEntered(Enter::As::Json, "/sets/1/list", "{\"sets\":[{},{\"list\":[]}]}", "a\"b",
                  "{\"sets\":[{},{\"list\":[\"a\\\"b\"]}]}");
        isEntered(Enter::As::Json, "", "[\"x\"]\r\n", "y", "[\"x\", \"y\"]\r\n");
        isEntered(Enter::As::Json, "/a~1b", "{\"a/b\": [\r\n\t\"x\"\r\n]}", "y",
                  "{\"a/b\": [\r\n\t\"x\",\r\n\t\"y\"\r\n]}");
        isEntered(Enter::As::Json, "/k", "\xEF\xBB\xBF{ \"br]\": \"]\\\"[\", \"k\": [ ] }", "y",
                  "\xEF\xBB\xBF{ \"br]\": \"]\\\"[\", \"k\": [\"y\" ] }");
        for (const char* at : {"/none", "/a", "levels", "/levels/5"})
            isRefused(Enter::As::Json, at, "{\"a\": 1, \"levels\": [\"x\"]}");
        isRefused(Enter::As::Json, "/a", "{\"a\": [");
    }
    void intoAnElementOfXml() {
        isEntered(Enter::As::Xml, "game/levels level@file",
                  "<?xml version=\"1.0\"?>\n<!-- <levels> -->\n<game>\n\t<levels mode='a>b'>\n\t\t<level "
                  "file=\"one.xml\"/>\n\t\t<!-- last -->\n\t</levels>\n</game>\n",
                  "two.xml",
                  "<?xml version=\"1.0\"?>\n<!-- <levels> -->\n<game>\n\t<levels mode='a>b'>\n\t\t<level "
                  "file=\"one.xml\"/>\n\t\t<level file=\"two.xml\"/>\n\t\t<!-- last -->\n\t</levels>\n</game>\n");
        isEntered(Enter::As::Xml, "g level", "<g>\n  <level>a<b/>c</level>\n</g>", "x<y",
                  "<g>\n  <level>a<b/>c</level>\n  <level>x&lt;y</level>\n</g>");
        isEntered(Enter::As::Xml, "g/levels level@f", "<g>\n  <levels/>\n</g>\n", "x",
                  "<g>\n  <levels>\n    <level f=\"x\"/>\n  </levels>\n</g>\n");
        isEntered(Enter::As::Xml, "g level@f", "\xEF\xBB\xBF<g><level f=\"a\"/></g>", "b",
                  "\xEF\xBB\xBF<g><level f=\"a\"/>\n<level f=\"b\"/></g>");
        for (const char* at : {"g/none level", "g", "none level"}) isRefused(Enter::As::Xml, at, "<g><levels/></g>");
        isRefused(Enter::As::Xml, "g level", "<g><level></g>");
    }
    void intoASectionOfIni() {
        const std::string ini =
            "; game\n[other]\nlevels = no\n\n[levels]\n# the list\nlist = one, two\nmore=1\n\n[end]\nlist = x\n";
        isEntered(Enter::As::Ini, "levels list", ini, "three",
                  "; game\n[other]\nlevels = no\n\n[levels]\n# the list\nlist = one, two, three\nmore=1\n\n[end]\nlist "
                  "= x\n");
        isEntered(Enter::As::Ini, "levels file[]", ini, "three",
                  "; game\n[other]\nlevels = no\n\n[levels]\n# the list\nlist = one, two\nmore=1\nfile = "
                  "three\n\n[end]\nlist = x\n");
        isEntered(Enter::As::Ini, "end level[]", "[end]\r\nlevel = a\r\n", "b", "[end]\r\nlevel = a\r\nlevel = b\r\n");
        isEntered(Enter::As::Ini, "end list", "[end]\nlist =", "b", "[end]\nlist = b");
        isRefused(Enter::As::Ini, "none list", ini);
    }
    void intoATextAtItsMark() {
        isEntered(Enter::As::Text, "-- end of levels", "load one\n  -- end of levels\nrest\n", "load two",
                  "load one\n  load two\n  -- end of levels\nrest\n");
        isEntered(Enter::As::Text, "end", "a\r\nend", "b", "a\r\nb\r\nend");
        isRefused(Enter::As::Text, "no such mark", "load one\n");
        isRefused(Enter::As::Text, "", "load one\n");
        QVERIFY(!hand::entered("end\n", {Enter::As::Text, "s", "end", ""}, "two\nlines").has_value());
    }
};

MELLOW_TEST(EnterTest)
}  // namespace enter_test
#include "enter_test.moc"
