#include <QtTest>

#include "base/units.h"
#include "support/test_main.h"

namespace units_test {

using base::evaluateQuantity;
using base::Quantity;

class UnitsTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void lengthsTakeUnitsAndArithmetic_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<double>("metres");
        QTest::newRow("plain") << "1.5" << 1.5;
        QTest::newRow("comma") << "1,5" << 1.5;
        QTest::newRow("sum of units") << "1.2 m + 30 cm" << 1.5;
        QTest::newRow("brackets") << "(1 + 2) * 3 - 4 / 2" << 7.0;
        QTest::newRow("millimetres") << "250mm" << 0.25;
        QTest::newRow("negative") << "-2" << -2.0;
        QTest::newRow("relative plus") << "+=0.5" << 10.5;
        QTest::newRow("relative minus") << "-= 50 cm" << 9.5;
        QTest::newRow("relative times") << "*2" << 20.0;
        QTest::newRow("relative by") << "/ 4" << 2.5;
    }
    void lengthsTakeUnitsAndArithmetic() {
        QFETCH(QString, text);
        QFETCH(double, metres);
        const auto value = evaluateQuantity(text.toStdString(), Quantity::Length, 10.0);
        QVERIFY2(value.has_value(), value ? "" : value.error().message.c_str());
        QVERIFY(std::abs(*value - metres) < 1e-12);
    }
    void whatWasTypedInAnotherUnitMeansThat_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<double>("metres");
        QTest::newRow("plain") << "35 in cm" << 0.35;
        QTest::newRow("with a unit") << "1.2m in cm" << 1.2;
        QTest::newRow("mixed") << "1 m + 50 in cm" << 1.5;
        QTest::newRow("millimetres") << "1250 in mm" << 1.25;
        QTest::newRow("more by") << "+=5 in cm" << 10.05;
        QTest::newRow("times") << "*2 in mm" << 20.0;
        QTest::newRow("divided") << "100 / 4 in cm" << 0.25;
        QTest::newRow("metres") << "3 in m" << 3.0;
    }
    void whatWasTypedInAnotherUnitMeansThat() {
        QFETCH(QString, text);
        QFETCH(double, metres);
        const auto value = evaluateQuantity(text.toStdString(), Quantity::Length, 10.0);
        QVERIFY2(value.has_value(), value ? "" : value.error().message.c_str());
        QCOMPARE(*value, metres);  // as a person would write it: 0.35, not what is nearly that
        QVERIFY(!evaluateQuantity(text.toStdString(), Quantity::Angle, 10.0));
    }
    void lengthsAreShownInTheirUnit() {
        using base::LengthUnit;
        QCOMPARE(base::lengthText(1.25, LengthUnit::Metre), std::string("1.25 m"));
        QCOMPARE(base::lengthText(1.25, LengthUnit::Centimetre), std::string("125 cm"));
        QCOMPARE(base::lengthText(0.0125, LengthUnit::Centimetre, 3), std::string("1.2 cm"));
        QCOMPARE(base::lengthText(-0.0004, LengthUnit::Millimetre, 3), std::string("0 mm"));
        QCOMPARE(base::typedIn("5", LengthUnit::Metre), std::string("5"));
        QCOMPARE(base::typedIn("5", LengthUnit::Millimetre), std::string("5 in mm"));
    }
    void anglesTakeDegreesRadiansAndTurns() {
        QCOMPARE(*evaluateQuantity("90°", Quantity::Angle, 0), 90.0);
        QCOMPARE(*evaluateQuantity("1 min + 30 s", Quantity::Time, 0), 90.0);
        QCOMPARE(*evaluateQuantity("250 ms", Quantity::Time, 0), 0.25);
        QCOMPARE(*evaluateQuantity("2h", Quantity::Time, 0), 7200.0);
        QCOMPARE(*evaluateQuantity("12", Quantity::Time, 0), 12.0);
        QVERIFY(!evaluateQuantity("2 m", Quantity::Time, 0));
        QCOMPARE(*evaluateQuantity("0.5 turn", Quantity::Angle, 0), 180.0);
        QVERIFY(std::abs(*evaluateQuantity("3.14159265358979 rad", Quantity::Angle, 0) - 180.0) < 1e-9);
    }
    void whatIsNoNumberIsRefused_data() {
        QTest::addColumn<QString>("text");
        for (const char* t : {"", "abc", "1 +", "(1", "1)", "1/0", "nan", "inf", "1 kg", "2 deg", "1e999",
                              "((((((((((((((((((((((((((((((((((((((((((((((((((((1"})
            QTest::newRow(t) << t;
    }
    void whatIsNoNumberIsRefused() {
        QFETCH(QString, text);
        const auto value = evaluateQuantity(text.toStdString(), Quantity::Length, 1.0);
        QVERIFY(!value);
        QVERIFY(!value.error().message.empty());
    }
};

MELLOW_TEST(UnitsTest)
}  // namespace units_test
#include "units_test.moc"
