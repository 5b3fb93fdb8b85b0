// Numbers without the noise of reckoning, and text taken apart.
#include "base/tidy.h"
#include "support/test_main.h"

#include <rapidcheck.h>

#include <QtTest>

#include "base/text.h"

namespace tidy_test {

using base::tidied;
using base::Transform;
using base::Vec3;

class TidyTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void noiseGoesAndWhatIsMeantStays_data() {
        QTest::addColumn<double>("reckoned");
        QTest::addColumn<double>("tidy");
        QTest::newRow("almost zero") << 3.66e-8 << 0.0;
        QTest::newRow("below zero") << -3.66e-8 << 0.0;
        QTest::newRow("far away") << -49.599999994 << -49.6;
        QTest::newRow("single precision") << 49.599998474 << 49.6;
        QTest::newRow("a third") << 1.0 / 3 << 1.0 / 3;
        QTest::newRow("many digits") << 0.123456789 << 0.123456789;
        QTest::newRow("beyond what has parts") << 1e300 << 1e300;
        QTest::newRow("as it is") << 2.5 << 2.5;
    }
    void noiseGoesAndWhatIsMeantStays() {
        QFETCH(double, reckoned);
        QFETCH(double, tidy);
        QCOMPARE(tidied(reckoned), tidy);
        QVERIFY(!std::signbit(tidied(reckoned)) || tidy < 0);
    }
    void itIsIdempotentAndNeverFarAway() {
        QVERIFY(rc::check([] {
            const double value = *rc::gen::map(rc::gen::inRange<std::int64_t>(-1000000000, 1000000000),
                                               [](std::int64_t n) { return static_cast<double>(n) / 7919.0; });
            const double once = tidied(value);
            RC_ASSERT(tidied(once) == once);
            RC_ASSERT(std::abs(once - value) <= 1e-7 + 6e-8 * std::abs(value));
        }));
    }
    void whatAVerbLeftAloneStaysToTheLastBit() {
        Transform before;
        before.position = {3.66e-8, -49.599999994, 1};
        Transform after = before;
        after.position.z = 1.2500000001;
        const Transform tidy = tidied(after, before);
        QVERIFY(tidy.position.x == before.position.x && tidy.position.y == before.position.y);
        QCOMPARE(tidy.position.z, 1.25);
        // A place that goes with a new size keeps the other side where it was.
        after.scale.x = 1.5;
        QCOMPARE(tidied(after, before).position.z, after.position.z);
        after.scale.x = 1.0000000000000002;
        before.scale.x = 2;
        QCOMPARE(tidied(after, before).scale.x, 1.0);
    }
    void textIsTrimmedAndSplit() {
        QCOMPARE(base::trimmed("  a b\t "), std::string_view("a b"));
        QCOMPARE(base::trimmed("   "), std::string_view());
        QVERIFY(base::split("  ", '|').empty());
        QCOMPARE(base::split("a | b||c ", '|'), (std::vector<std::string_view>{"a", "b", "", "c"}));
        QCOMPARE(base::split("|", '|').size(), std::size_t{2});
    }
};

MELLOW_TEST(TidyTest)
}  // namespace tidy_test
#include "tidy_test.moc"
