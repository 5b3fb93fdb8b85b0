// Curves against closed forms and fine sums: lengths, places, tangents, radii, what is nearest.
#include <QtTest>
#include <cmath>

#include "base/id.h"
#include "shape/curve.h"
#include "support/test_main.h"

namespace curve_test {

using base::Vec3;
using shape::Curve;
using shape::CurvePoint;
using Bend = CurvePoint::Bend;
constexpr double kPi = 3.14159265358979323846;

CurvePoint point(const Vec3& at, Bend bend = Bend::Smooth, double radius = 0) {
    CurvePoint p;
    p.at = at;
    p.bend = bend;
    p.radius = radius;
    return p;
}

/// Of legs from place to place, halved where the way between them is longer than straight: sharp bends want many.
double legsBetween(const Curve& curve, double from, const Vec3& at, double to, const Vec3& there, int depth) {
    const double middle = (from + to) / 2;
    const Vec3 between = curve.at(middle);
    const double straight = glm::length(there - at), bent = glm::length(between - at) + glm::length(there - between);
    if (depth > 24 || (depth > 7 && bent - straight < 1e-10)) return bent;
    return legsBetween(curve, from, at, middle, between, depth + 1) +
           legsBetween(curve, middle, between, to, there, depth + 1);
}

/// Of many short legs, from point to point: what a curve's own length is held against.
double summed(const Curve& curve, std::size_t points) {
    std::vector<double> places = {0, curve.length()};
    for (std::size_t i = 0; i < points; ++i) places.push_back(curve.metresOf(i));
    std::ranges::sort(places);
    double sum = 0;
    for (std::size_t k = 1; k < places.size(); ++k) {
        const double from = places[k - 1], to = places[k];
        const bool isBack = curve.isClosed() && to >= curve.length();
        if (to > from) sum += legsBetween(curve, from, curve.at(from), to, curve.at(isBack ? 0 : to), 0);
    }
    return sum;
}

class CurveTest : public QObject {
    Q_OBJECT

  private Q_SLOTS:
    void aSquareWithRoundCornersIsACircle() {
        const double r = 3;
        std::vector<CurvePoint> square;
        for (const Vec3& at : {Vec3(-r, 0, -r), Vec3(r, 0, -r), Vec3(r, 0, r), Vec3(-r, 0, r)})
            square.push_back(point(at, Bend::Round, 100));  // more than there is room for
        const Curve circle(square, true);
        QVERIFY(std::abs(circle.length() - 2 * kPi * r) < 1e-9);
        for (double m = 0; m < 40; m += 0.37) {
            QVERIFY(std::abs(glm::length(circle.at(m)) - r) < 1e-9);
            QVERIFY(std::abs(glm::dot(circle.direction(m), circle.at(m))) < 1e-9);
            QVERIFY(std::abs(circle.radiusAt(m) - r) < 1e-9);
        }
        QVERIFY(glm::length(circle.at(-1) - circle.at(circle.length() - 1)) < 1e-9);
    }
    void roundedLegsAreAsLongAsTheyShouldBe() {
        const std::vector<CurvePoint> bend = {point({0, 0, 0}, Bend::Corner), point({10, 0, 0}, Bend::Round, 2),
                                              point({10, 5, 8}, Bend::Corner)};
        const Curve curve(bend, false);
        const double turn = kPi / 2, legs = 10 + std::hypot(5.0, 8.0);
        QVERIFY(std::abs(curve.length() - (legs - 4 * std::tan(turn / 2) + 2 * turn)) < 1e-9);
        QVERIFY(std::abs(curve.metresOf(1) - (8 + turn)) < 1e-9);
        QVERIFY(std::abs(curve.radiusAt(curve.metresOf(1)) - 2) < 1e-9);
        QVERIFY(std::isinf(curve.radiusAt(3)));
        QVERIFY(glm::length(curve.at(-5) - Vec3(0.0)) < 1e-12 && glm::length(curve.at(99) - Vec3(10, 5, 8)) < 1e-9);
    }
    void smoothPointsOfACircleStayNearIt() {
        std::vector<CurvePoint> points;
        for (int i = 0; i < 12; ++i) points.push_back(point({5 * std::cos(i * kPi / 6), 1, 5 * std::sin(i * kPi / 6)}));
        const Curve curve(points, true);
        QVERIFY2(std::abs(curve.length() - 10 * kPi) < 1e-5, qPrintable(QString::number(curve.length(), 'g', 12)));
        for (double m = 0; m < curve.length(); m += 0.21) {
            const Vec3 at = curve.at(m);
            QVERIFY(std::abs(std::hypot(at.x, at.z) - 5) < 1e-5);
            QVERIFY(std::abs(curve.radiusAt(m) - 5) < 0.05);
        }
    }
    void aClothoidIsAsLongAsItsParameter() {
        // Its curvature grows with its length: sampled along itself, the curve through the samples is as long.
        std::vector<CurvePoint> points;
        Vec3 at(0.0);
        constexpr int kFine = 2000;
        const double length = 6, step = length / 240 / kFine;
        points.push_back(point(at));
        points.back().tangent = Vec3(length / 240 / 3, 0, 0);
        for (int i = 0; i < 240; ++i) {
            for (int k = 0; k < kFine; ++k) {
                const double s = (i * kFine + k + 0.5) * step, angle = s * s / 8;
                at += Vec3(std::cos(angle), 0, std::sin(angle)) * step;
            }
            points.push_back(point(at));
            const double s = length * (i + 1) / 240, angle = s * s / 8;
            points.back().tangent = Vec3(std::cos(angle), 0, std::sin(angle)) * (length / 240 / 3);
        }
        const Curve curve(points, false);
        QVERIFY2(std::abs(curve.length() - length) < 1e-6, qPrintable(QString::number(curve.length(), 'g', 12)));
        QVERIFY(std::abs(curve.radiusAt(4) - 1) < 0.01);  // 1 / curvature = 4 / s
    }
    void anEndDoesNotBendOutBeforeASharpTurn() {
        const std::vector<CurvePoint> turn = {point({0, 0, 0}), point({10, 0, 0}), point({10, 0, 10})};
        const Curve curve(turn, false);
        for (double m = 0; m <= curve.length(); m += 0.1) {
            const Vec3 at = curve.at(m);
            QVERIFY2(at.x < 11.6 && at.z > -1.6, qPrintable(QString("%1 %2").arg(at.x).arg(at.z)));
        }
        // A gentle one goes on as a circle would.
        std::vector<CurvePoint> arc;
        for (int i = 0; i < 7; ++i) arc.push_back(point({10 * std::sin(i * 0.15), 0, 10 * (1 - std::cos(i * 0.15))}));
        const Curve round(arc, false);
        for (double m = 0; m < round.length(); m += 0.1)
            QVERIFY(std::abs(std::hypot(round.at(m).x, round.at(m).z - 10) - 10) < 1e-3);
    }
    void lengthsAreThoseOfFineSums() {
        base::Random random(11);
        for (int round = 0; round < 12; ++round) {
            std::vector<CurvePoint> points;
            for (int i = 0; i < 3 + round; ++i) {
                points.push_back(point({random.between(-20, 20), random.between(-3, 3), random.between(-20, 20)},
                                       static_cast<Bend>(random.next() % 3), random.between(0, 4)));
                points.back().straight = random.next() % 5 == 0;
            }
            const Curve curve(points, round % 2 == 0);
            const double sum = summed(curve, points.size());
            QVERIFY2(std::abs(curve.length() - sum) < 1e-6 * sum,
                     qPrintable(QString("%1: %2, %3").arg(round).arg(curve.length(), 0, 'g', 12).arg(sum, 0, 'g', 12)));
            // Without a gap, at one speed, and no corner where there is none.
            for (double m = 0; m < curve.length() - 0.01; m += 0.05) {
                QVERIFY(glm::length(curve.at(m + 0.01) - curve.at(m)) <= 0.01 + 1e-6);
                QVERIFY(glm::length(curve.direction(m)) > 0.999);
            }
            for (std::size_t i = 0; i < points.size(); ++i)
                if (points[i].bend != Bend::Round)
                    QVERIFY(glm::length(curve.at(curve.metresOf(i)) - points[i].at) < 1e-6);
        }
    }
    void whatIsKnownOfTheOneBeforeIsTheSame() {
        base::Random random(21);
        std::vector<CurvePoint> points;
        for (int i = 0; i < 40; ++i)
            points.push_back(point({i * 4.0, random.between(-1, 1), random.between(-5, 5)},
                                   static_cast<Bend>(random.next() % 3), 1.5));
        Curve before(points, true);
        for (int round = 0; round < 200; ++round) {
            const std::size_t i = random.next() % points.size();
            if (round % 10 == 9)
                points.erase(points.begin() + static_cast<std::ptrdiff_t>(i));
            else if (round % 10 == 4)
                points.insert(points.begin() + static_cast<std::ptrdiff_t>(i), point(points[i].at + Vec3(1, 0, 1)));
            else
                points[i].at += Vec3(random.between(-1, 1), 0, random.between(-1, 1));
            const bool closed = round % 7 != 0;
            const Curve anew(points, closed), known(points, closed, &before);
            QCOMPARE(known.length(), anew.length());
            for (std::size_t k = 0; k < points.size(); ++k) QCOMPARE(known.metresOf(k), anew.metresOf(k));
            QCOMPARE(known.at(known.length() * 0.37), anew.at(anew.length() * 0.37));
            // What is said to be the same is; and what is between is all that there is besides.
            const Curve::Same same = anew.sameAs(before);
            for (const double share : {0.1, 0.4, 0.99})
                QVERIFY(same.until <= 0 ||
                        glm::length(anew.at(same.until * share) - before.at(same.until * share)) < 1e-6);
            for (double m = 0; same.now + m < anew.length() - 1e-6; m += 3)
                QVERIFY(glm::length(anew.at(same.now + m) - before.at(same.then + m)) < 1e-6);
            const auto all = anew.samples(0.03), middle = anew.samples(0.03, 1e9, same.until, same.now);
            const auto from = std::ranges::lower_bound(all, same.until, {}, &Curve::Sample::metres);
            QVERIFY(middle.size() <= static_cast<std::size_t>(all.end() - from));
            for (std::size_t k = 0; k < middle.size(); ++k)
                QCOMPARE(middle[k].metres, from[static_cast<std::ptrdiff_t>(k)].metres);
            before = known;
        }
    }
    void theNearestPlaceIsTheNearestOfMany() {
        base::Random random(5);
        std::vector<CurvePoint> points;
        for (int i = 0; i < 9; ++i)
            points.push_back(
                point({i * 4.0, random.between(-1, 1), random.between(-5, 5)}, static_cast<Bend>(i % 3), 2));
        const Curve curve(points, false);
        for (int n = 0; n < 60; ++n) {
            const Vec3 to(random.between(-5, 40), random.between(-3, 3), random.between(-9, 9));
            const Curve::Nearest found = curve.nearest(to);
            double least = 1e9;
            for (double m = 0; m <= curve.length(); m += 0.01) least = std::min(least, glm::length(curve.at(m) - to));
            QVERIFY2(found.away <= least + 1e-9 && found.away > least - 0.01, qPrintable(QString::number(found.away)));
            QVERIFY(std::abs(glm::length(curve.at(found.metres) - to) - found.away) < 1e-6);
        }
    }
    void betweenItsCornersItIsAsGoodAsStraight() {
        const std::vector<CurvePoint> points = {point({0, 0, 0}), point({8, 0, 6}), point({16, 2, -3}),
                                                point({22, 0, 0}, Bend::Round, 3), point({22, 0, 9}, Bend::Corner)};
        const Curve curve(points, false);
        const std::vector<Curve::Sample> samples = curve.samples(0.02);
        QCOMPARE(samples.front().metres, 0.0);
        QVERIFY(std::abs(samples.back().metres - curve.length()) < 1e-9);
        for (std::size_t i = 1; i < samples.size(); ++i) {
            const Vec3 a = samples[i - 1].at, b = samples[i].at;
            QVERIFY(glm::length(a - curve.at(samples[i - 1].metres)) < 1e-6);
            QVERIFY(glm::length(samples[i - 1].way - curve.direction(samples[i - 1].metres)) < 1e-4);
            const Vec3 middle = curve.at((samples[i - 1].metres + samples[i].metres) / 2), way = b - a;
            const double t = glm::dot(middle - a, way) / glm::dot(way, way);
            QVERIFY(glm::length(a + way * t - middle) < 0.025);
        }
        QVERIFY(samples.size() < 120);
        // Finer where it is asked for, and a closed one ends where it began.
        for (const bool closed : {false, true}) {
            const Curve other(points, closed);
            const std::vector<Curve::Sample> fine = other.samples(0.02, 0.25);
            QVERIFY(fine.size() > samples.size());
            QVERIFY(glm::length(fine.back().at - (closed ? points.front().at : points.back().at)) < 1e-9);
        }
    }
    void pointsThatCannotBeACurve() {
        QVERIFY(Curve().empty());
        QVERIFY(Curve(std::vector{point({1, 2, 3})}, false).empty());
        QVERIFY(Curve(std::vector{point({1, 2, 3}), point({1, 2, 3})}, true).empty());
        const Curve two(std::vector{point({0, 0, 0}), point({0, 0, 0}), point({4, 0, 0}, Bend::Round, 1)}, true);
        QVERIFY(!two.isClosed());  // there is nothing between
        QCOMPARE(two.length(), 4.0);
        QCOMPARE(two.metresOf(1), 0.0);
        QCOMPARE(two.metresOf(2), 4.0);
        // Straight back: no arc could turn there.
        const Curve back(std::vector{point({0, 0, 0}, Bend::Corner), point({4, 0, 0}, Bend::Round, 1),
                                     point({0, 0, 0}, Bend::Corner)},
                         false);
        QCOMPARE(back.length(), 8.0);
    }
};

MELLOW_TEST(CurveTest)
}  // namespace curve_test
#include "curve_test.moc"
