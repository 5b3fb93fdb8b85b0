#include <QtTest>
#include <thread>

#include "base/colour.h"
#include "base/id.h"
#include "base/math.h"
#include "base/names.h"
#include "base/text.h"
#include "support/test_main.h"

namespace base_test {

using namespace base;

class BaseTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void everyByteOfAColourComesBack() {
        for (int byte = 0; byte < 256; ++byte)
            QCOMPARE(static_cast<int>(std::lround(base::toShown(base::toLinear(byte / 255.0)) * 255)), byte);
        QVERIFY(std::abs(base::toLinear(0.5) - 0.214041) < 1e-6);  // as the standard's table has it
    }
    void anIdReadsBackFromItsText() {
        const ObjectId id{0x0123456789abcdefULL};
        QCOMPARE(toText(id), std::string("0123456789abcdef"));
        QVERIFY(parseObjectId(toText(id)) == id);
    }
    void textThatIsNoIdIsRefused_data() {
        QTest::addColumn<QString>("text");
        for (const char* t : {"", "0", "0000000000000000", "0123456789ABCDEF", "0123456789abcdeg", "0123456789abcdef0",
                              "-123456789abcdef"})
            QTest::newRow(t) << t;
    }
    void textThatIsNoIdIsRefused() {
        QFETCH(QString, text);
        QVERIFY(!parseObjectId(text.toStdString()));
    }
    void theSameSeedGivesTheSameNumbers() {
        Random a(5), b(5), c(6);
        for (int i = 0; i < 100; ++i) {
            const auto value = a.next();
            QCOMPARE(value, b.next());
            QVERIFY(value != c.next());
        }
    }
    void aNameIsTheSameForTheSameText() {
        NameTable names;
        const Name a = names.intern("Lantern post 7");
        QCOMPARE(names.intern("Lantern post 7").index, a.index);
        QVERIFY(names.intern("Lantern post 8").index != a.index);
        QCOMPARE(std::string(names.text(a)), std::string("Lantern post 7"));
        QCOMPARE(names.intern("").index, 0u);
        QVERIFY(!names.find("never met"));
    }
    void namesStayReadableWhileOthersAreAdded() {
        NameTable names;
        std::vector<Name> first;
        for (int i = 0; i < 1000; ++i) first.push_back(names.intern("bench " + std::to_string(i)));
        std::atomic<bool> wrong{false};
        std::thread reader([&] {
            for (int round = 0; round < 50; ++round)
                for (int i = 0; i < 1000; ++i)
                    if (names.text(first[static_cast<std::size_t>(i)]) != "bench " + std::to_string(i)) wrong = true;
        });
        for (int i = 0; i < 60'000; ++i) names.intern("reed " + std::to_string(i));
        reader.join();
        QVERIFY(!wrong);
        QCOMPARE(names.size(), std::size_t{61'001});
    }
    void turnsReadBackAsTyped_data() {
        QTest::addColumn<double>("x");
        QTest::addColumn<double>("y");
        QTest::addColumn<double>("z");
        QTest::newRow("none") << 0.0 << 0.0 << 0.0;
        QTest::newRow("heading") << 0.0 << 72.5 << 0.0;
        QTest::newRow("all") << 20.0 << -130.0 << 45.0;
        QTest::newRow("steep") << -89.0 << 10.0 << 170.0;
    }
    void turnsReadBackAsTyped() {
        QFETCH(double, x);
        QFETCH(double, y);
        QFETCH(double, z);
        const Vec3 turn = toDegrees(fromDegrees({x, y, z}));
        QVERIFY(glm::length(turn - Vec3(x, y, z)) < 1e-9);
    }
    void straightUpKeepsTheRotationThoughTheNumbersDiffer() {
        const Quat q = fromDegrees({90, 30, 20});
        const Quat again = fromDegrees(toDegrees(q));
        QVERIFY(std::abs(glm::dot(q, again)) > 1 - 1e-9);
    }
    void aTransformComesBackFromItsMap() {
        Transform t{{1, 2, 3}, fromDegrees({10, 20, 30}), {2, 0.5, 3}};
        const Transform back = toTransform(toAffine(t));
        QVERIFY(glm::length(back.position - t.position) < 1e-12);
        QVERIFY(glm::length(back.scale - t.scale) < 1e-12);
        QVERIFY(std::abs(glm::dot(back.rotation, t.rotation)) > 1 - 1e-12);
    }
    void mirroringSurvivesTheMap() {
        Transform t{{0, 0, 0}, fromDegrees({0, 40, 0}), {-1, 1, 1}};
        const Affine a = toAffine(t);
        const Affine again = toAffine(toTransform(a));
        for (int i = 0; i < 3; ++i) QVERIFY(glm::length(a.linear[i] - again.linear[i]) < 1e-12);
    }
    void shearIsNoticed() {
        const Affine sized = toAffine({{0, 0, 0}, {1, 0, 0, 0}, {1, 3, 1}});
        const Affine turned = toAffine({{0, 0, 0}, fromDegrees({0, 0, 30}), {1, 1, 1}});
        QVERIFY(!hasShear(turned * sized));
        QVERIFY(hasShear(sized * turned));
    }
    void anInverseUndoesItsMapAndAFlatOneHasNone() {
        const Affine a = toAffine({{4, -2, 7}, fromDegrees({10, 20, 30}), {2, 0.5, 3}});
        const auto back = inverse(a);
        QVERIFY(back);
        QVERIFY(glm::length(back->point(a.point({1, 2, 3})) - Vec3(1, 2, 3)) < 1e-12);
        QVERIFY(!inverse(toAffine({{0, 0, 0}, {1, 0, 0, 0}, {1, 0, 1}})));
    }
    void aMappedBoxHoldsAllMappedCorners() {
        const Aabb box{{-1, -2, -3}, {2, 1, 5}};
        const Affine a = toAffine({{4, 5, 6}, fromDegrees({30, 40, 50}), {1, -2, 3}});
        const Aabb out = mapped(box, a);
        for (int i = 0; i < 8; ++i) {
            const Vec3 p = a.point(box.corner(i));
            for (int k = 0; k < 3; ++k) QVERIFY(p[k] >= out.low[k] - 1e-9 && p[k] <= out.high[k] + 1e-9);
        }
    }
    void aRayMeetsABoxWhereItEnters() {
        const Aabb box{{-1, -1, -1}, {1, 1, 1}};
        QCOMPARE(*intersect(Ray{{0, 0, 5}, {0, 0, -1}}, box), 4.0);
        QCOMPARE(*intersect(Ray{{0, 0, 0}, {0, 0, -1}}, box), 0.0);
        QVERIFY(!intersect(Ray{{0, 3, 5}, {0, 0, -1}}, box));
        QVERIFY(!intersect(Ray{{0, 0, 5}, {0, 0, 1}}, box));
    }
    void wildcardsFit_data() {
        QTest::addColumn<QString>("pattern");
        QTest::addColumn<QString>("text");
        QTest::addColumn<bool>("fits");
        QTest::newRow("star") << "lantern*"
                              << "Lantern post 7" << true;
        QTest::newRow("inside") << "*post*"
                                << "Lantern post 7" << true;
        QTest::newRow("question") << "leaf ?"
                                  << "Leaf 2" << true;
        QTest::newRow("whole") << "lantern"
                               << "Lantern post" << false;
        QTest::newRow("empty") << ""
                               << "" << true;
        QTest::newRow("only star") << "*"
                                   << "" << true;
        QTest::newRow("one character, not one byte") << "?cluse*"
                                                     << "Écluse nord" << true;
        QTest::newRow("two characters") << "??cluse"
                                        << "Écluse" << false;
        QTest::newRow("either case of any script") << "ÉCL*"
                                                   << "écluse" << true;
        QTest::newRow("after a star") << "*ü?"
                                      << "SCHLEUSE FÜR" << true;
        QTest::newRow("hard") << "*a*a*a*a*b"
                              << "aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa" << false;
    }
    void wildcardsFit() {
        QFETCH(QString, pattern);
        QFETCH(QString, text);
        QFETCH(bool, fits);
        QCOMPARE(matchesWildcard(pattern.toStdString(), text.toStdString()), fits);
    }
    void lettersOfAnyScriptMatchInEitherCase() {
        using base::containsFolded, base::lowered, base::sameFolded;
        QVERIFY(sameFolded("ÉCLUSE", "écluse") && sameFolded("Straße", "STRASSE") && sameFolded("ΛΙΜΝΗ", "λιμνη"));
        QVERIFY(!sameFolded("écluse", "ecluse") && !sameFolded("", "é"));
        QVERIFY(containsFolded("Schleuse SÜD 4", "süd") && containsFolded("Écluse", "CLUSE"));
        QVERIFY(!containsFolded("Schleuse", "ü") && containsFolded("Écluse", ""));
        QVERIFY(base::matchesWildcard("É*", "École", base::Letters::AsWritten));
        QVERIFY(!base::matchesWildcard("é*", "École", base::Letters::AsWritten));
        // What is no text at all is still compared, byte by byte.
        const std::string broken = "\xff\xc3Lock";
        QVERIFY(sameFolded(broken, "\xff\xc3lOCK") && !sameFolded(broken, "\xfe\xc3Lock"));
        QVERIFY(containsFolded(broken, "LOCK") && base::matchesWildcard("*lock", broken));
        for (const char* text : {"Éß Λ 4", "plain", "\xc3", ""}) QCOMPARE(lowered(lowered(text)), lowered(text));
    }
    void aNumberAtTheEndOfANameIsSplitOff() {
        QCOMPARE(splitNumber("Lantern post 7").number, 7);
        QCOMPARE(splitNumber("Lantern post 7").stem, std::string("Lantern post "));
        QCOMPARE(splitNumber("Bench").number, -1);
        QCOMPARE(splitNumber("12").number, 12);
    }
    void brokenUtf8IsNoticed() {
        QVERIFY(isValidUtf8("Schleuse für Lastkähne › ✓"));
        for (const char* bad : {"\xff", "\xc3", "\xc0\x80", "\xed\xa0\x80", "\xf5\x80\x80\x80", "a\x80"})
            QVERIFY(!isValidUtf8(bad));
    }
    void numbersAreShortestAndReadBack() {
        QCOMPARE(shortest(0.1), std::string("0.1"));
        QCOMPARE(shortest(-0.0), std::string("-0"));
        Random random(1);
        for (int i = 0; i < 1000; ++i) {
            const double v = (random.unit() - 0.5) * std::pow(10.0, random.between(-12, 12));
            QCOMPARE(std::stod(shortest(v)), v);
        }
    }
    void shownNumbersNeverReadMinusZero() {
        QCOMPARE(fixed(-0.001, 2), std::string("0.00"));
        QCOMPARE(fixed(-1.25, 2), std::string("-1.25"));
    }
    void theStartOfATextRanksBeforeTheStartOfAWord() {
        QVERIFY(matchRank("Lantern post", "lan") < matchRank("Old lantern", "lan"));
        QVERIFY(matchRank("Old lantern", "lan") < matchRank("Plank", "lan"));
        QVERIFY(matchRank("Bench", "lan") < 0);
    }
};

MELLOW_TEST(BaseTest)
}  // namespace base_test
#include "base_test.moc"
