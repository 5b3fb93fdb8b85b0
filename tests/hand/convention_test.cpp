#include <rapidcheck.h>

#include <QtTest>

#include "hand/convention.h"
#include "support/test_main.h"

namespace convention_test {

using base::Vec3;
using hand::Convention;

using Matrix = std::array<std::array<double, 3>, 3>;  // by row

Matrix times(const Matrix& a, const Matrix& b) {
    Matrix c{};
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t j = 0; j < 3; ++j)
            for (std::size_t k = 0; k < 3; ++k) c[i][j] += a[i][k] * b[k][j];
    return c;
}

/// The textbook's matrix of a turn about one axis.
Matrix turnAbout(std::size_t axis, double radians) {
    const std::size_t j = (axis + 1) % 3, k = (axis + 2) % 3;
    Matrix m{};
    m[axis][axis] = 1;
    m[j][j] = m[k][k] = std::cos(radians);
    m[j][k] = -std::sin(radians);
    m[k][j] = std::sin(radians);
    return m;
}

/// What a point of a thing comes to in their axes, by their numbers alone.
Vec3 theirPoint(const Convention& c, const hand::TheirPose& pose, const Vec3& p) {
    Matrix turn{{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}};
    const double unit = 2 * base::kPi / c.fullTurn();
    for (const int axis : c.order)
        turn = times(turn, turnAbout(std::size_t(axis), c.turns[std::size_t(axis)] * pose.turns[axis] * unit));
    Vec3 out(0.0);
    for (std::size_t i = 0; i < 3; ++i) {
        out[int(i)] = pose.position[int(i)];
        for (std::size_t k = 0; k < 3; ++k) out[int(i)] += turn[i][k] * pose.size[int(k)] * p[int(k)] / c.metres;
    }
    return out;
}

/// A point of ours in their axes and unit.
Vec3 axesOnly(const Convention& c, const Vec3& p) {
    Vec3 out(0.0);
    for (std::size_t i = 0; i < 3; ++i) out[int(i)] = c.sign[i] * p[c.axis[i]];
    return out;
}

Convention anyConvention() {
    Convention c;
    const std::array<std::array<int, 3>, 6> orders{{{0, 1, 2}, {0, 2, 1}, {1, 0, 2}, {1, 2, 0}, {2, 0, 1}, {2, 1, 0}}};
    c.axis = orders[std::size_t(*rc::gen::inRange(0, 6))];
    c.order = orders[std::size_t(*rc::gen::inRange(0, 6))];
    for (int& sign : c.sign) sign = *rc::gen::element(-1, 1);
    for (int& sign : c.turns) sign = *rc::gen::element(-1, 1);
    c.metres = *rc::gen::element(1.0, 0.01, 0.001, 0.3);
    c.angles = *rc::gen::element(hand::AngleUnit::Degrees, hand::AngleUnit::Radians, hand::AngleUnit::Turns);
    c.positive = *rc::gen::arbitrary<bool>();
    return c;
}

double anyIn(double low, double high) {
    return low + (high - low) * *rc::gen::inRange(0, 100001) / 100000.0;
}

base::Transform anyPose() {
    base::Transform t;
    for (int k = 0; k < 3; ++k) {
        t.position[k] = anyIn(-500, 500);
        t.scale[k] = anyIn(0.1, 4);
    }
    // Upright ones, where the middle angle stands on its end, come often.
    const int quarters = *rc::gen::inRange(0, 3);
    const Vec3 turn = quarters == 0 ? Vec3(90 * *rc::gen::inRange(-2, 3), 90 * *rc::gen::inRange(-2, 3),
                                           90 * *rc::gen::inRange(-2, 3))
                                    : Vec3(anyIn(-90, 90), anyIn(-180, 180), anyIn(-180, 180));
    t.rotation = base::fromDegrees(turn);
    return t;
}

class ConventionTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void theirNumbersMeanTheSamePlaceAsANaiveConverterFinds() {
        QVERIFY(rc::check("poses", [] {
            const Convention c = anyConvention();
            const base::Transform ours = anyPose();
            const hand::TheirPose theirs = hand::toTheirs(c, ours);
            const base::Affine map = base::toAffine(ours);
            for (const Vec3& corner : {Vec3(0, 0, 0), Vec3(1, 0, 0), Vec3(0, 1, 0), Vec3(0, 0, 1), Vec3(-2, 3, 0.5)}) {
                const Vec3 expected = axesOnly(c, map.point(corner)) / c.metres;
                const Vec3 found = theirPoint(c, theirs, axesOnly(c, corner));
                RC_ASSERT(glm::length(expected - found) * c.metres < 1e-6);
            }
        }));
    }
    void whatGoesOutComesBack() {
        QVERIFY(rc::check("and back", [] {
            const Convention c = anyConvention();
            const base::Transform ours = anyPose();
            hand::TheirPose theirs = hand::toTheirs(c, ours);
            // By the angles, wound up by whole turns.
            for (int k = 0; k < 3; ++k) theirs.turns[k] += c.fullTurn() * *rc::gen::inRange(-3, 4);
            theirs.rotation = hand::rotationOf(c, theirs.turns);
            const base::Transform back = hand::toOurs(c, theirs);
            RC_ASSERT(glm::length(back.position - ours.position) < 1e-9 * 1000);
            RC_ASSERT(glm::length(back.scale - ours.scale) < 1e-12);
            RC_ASSERT(std::abs(glm::dot(back.rotation, ours.rotation)) > 1 - 1e-9);
        }));
    }
    void anglesAreInTheRangeThatIsWanted() {
        QVERIFY(rc::check("ranges", [] {
            const Convention c = anyConvention();
            const hand::TheirPose theirs = hand::toTheirs(c, anyPose());
            const double full = c.fullTurn();
            for (int k = 0; k < 3; ++k) {
                RC_ASSERT(theirs.turns[k] >= (c.positive ? 0 : -full / 2));
                RC_ASSERT((c.positive ? theirs.turns[k] < full : theirs.turns[k] <= full / 2));
            }
        }));
    }
    void axesAreReadAndWritten() {
        Convention c;
        QVERIFY(hand::readAxes("x -z y", c));
        QCOMPARE(hand::axesText(c), std::string("x -z y"));
        QVERIFY(!c.mirrors());  // Z up, Y away: still right-handed
        QVERIFY(hand::readAxes("x y -z", c));
        QVERIFY(c.mirrors());
        const Convention before = c;
        for (const char* wrong : {"", "x y", "x y y", "x y w", "x y z x", "xyz", "x  - z"}) {
            QVERIFY2(!hand::readAxes(wrong, c), wrong);
            QVERIFY(c == before);
        }
        QVERIFY(hand::readOrder("zyx", c));
        for (const char* wrong : {"", "zy", "zyy", "zyxz", "abc"}) QVERIFY2(!hand::readOrder(wrong, c), wrong);
    }
};

MELLOW_TEST(ConventionTest)
}  // namespace convention_test
#include "convention_test.moc"
