#include <QtTest>
#include <cmath>
#include <limits>

#include "io/json_text.h"
#include "support/test_main.h"

namespace json_text_test {

using io::Json;

class JsonTextTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void everyKindOfValueIsWritten_data() {
        QTest::addColumn<QString>("text");
        for (const char* text : {"null",
                                 "true",
                                 "false",
                                 "0",
                                 "-7",
                                 "18446744073709551615",
                                 "-9223372036854775808",
                                 "0.1",
                                 "1.0",
                                 "-2.5",
                                 "1e+300",
                                 "\"\"",
                                 "\"a\\\"b\\\\c\"",
                                 "\"line\\nend\\ttab\"",
                                 "\"\\u0001\"",
                                 "\"Löwe ×\"",
                                 "[]",
                                 "{}",
                                 "[1,[2,{}],\"x\"]",
                                 "{\"b\":1,\"a\":{\"c\":[null,false]}}"})
            QTest::newRow(text) << QString(text);
    }
    void everyKindOfValueIsWritten() {
        QFETCH(QString, text);
        const std::string given = text.toStdString();
        const Json value = Json::parse(given);
        QCOMPARE(io::toText(value), given);  // members stay in their order
        QCOMPARE(Json::parse(io::toText(value, 2)), value);
    }
    void anIndentedTextHasALineForEach() {
        const Json value = {{"name", "Lower basin"}, {"counts", {1, 2}}, {"none", Json::array()}};
        QCOMPARE(
            io::toText(value, 2),
            std::string("{\n  \"name\": \"Lower basin\",\n  \"counts\": [\n    1,\n    2\n  ],\n  \"none\": []\n}"));
    }
    void whatNoJsonCanHoldIsWrittenAsWhatItCan() {
        QCOMPARE(io::toText(Json(std::nan(""))), std::string("null"));
        QCOMPARE(io::toText(Json(std::numeric_limits<double>::infinity())), std::string("null"));
        const std::string text =
            io::toText(Json(std::string("a\xFF"
                                        "b\xC3")));
        QCOMPARE(text, std::string("\"a\xEF\xBF\xBD"
                                   "b\xEF\xBF\xBD\""));
        QVERIFY(io::parseJson(text, "x").has_value());
    }
    void whatIsReadIsWrittenAgain() {
        const auto read =
            io::parseJson("{\"oil\":2.0,\"n\":3,\"list\":[1.5,\"x\",true],\"in\":{\"z\":0.30000000000000004}}", "x");
        QVERIFY(read.has_value());
        QCOMPARE(io::toText(io::toJson(model::Value{io::toValues(*read)})), io::toText(*read));
    }
    void whatIsWrongIsNamedWithItsLine_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("says");
        QTest::newRow("cut") << "{\n\"a\":"
                             << "file.json:2";
        QTest::newRow("twice") << "{\"a\":1,\"a\":2}"
                               << "“a” twice";
        QTest::newRow("deep") << QString("[").repeated(70) + QString("]").repeated(70) << "64 deep";
        QTest::newRow("control") << "{\"a\":\"\\u001b[2J\"}"
                                 << "control characters";
        QTest::newRow("huge") << "[1e999]"
                              << "number";
    }
    void whatIsWrongIsNamedWithItsLine() {
        QFETCH(QString, text);
        QFETCH(QString, says);
        const auto read = io::parseJson(text.toStdString(), "file.json");
        QVERIFY(!read);
        QVERIFY2(read.error().message.find(says.toStdString()) != std::string::npos, read.error().message.c_str());
    }
};

MELLOW_TEST(JsonTextTest)
}  // namespace json_text_test
#include "json_text_test.moc"
