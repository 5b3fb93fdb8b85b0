#include "hand/convention.h"

#include <fmt/format.h>

#include <cmath>

#include "base/text.h"

namespace hand {
namespace {

using base::Mat3;
using base::Quat;
using base::Vec3;

constexpr const char* kLetters = "xyz";

int axisOf(char letter) {
    return letter == 'x' ? 0 : letter == 'y' ? 1 : letter == 'z' ? 2 : -1;
}

/// Rows are their axes in ours: theirs = map * ours.
Mat3 mapOf(const Convention& c) {
    Mat3 map(0.0);
    for (int theirs = 0; theirs < 3; ++theirs)
        map[c.axis[static_cast<std::size_t>(theirs)]][theirs] = c.sign[static_cast<std::size_t>(theirs)];
    return map;
}

bool eachOnce(const std::array<int, 3>& axes) {
    return (1 << axes[0] | 1 << axes[1] | 1 << axes[2]) == 7;
}

/// +1 for x y z and what is turned on from it, -1 for the others.
int parity(const std::array<int, 3>& order) {
    return (order[1] - order[0] + 3) % 3 == 1 ? 1 : -1;
}

/// A column-major matrix read as by row and column.
double at(const Mat3& m, int row, int column) {
    return m[column][row];
}

double radiansIn(const Convention& c) {
    return 2 * base::kPi / c.fullTurn();
}

/// Angles about axes i, j, k so that turning by them one in the other gives the matrix; radians. Where the middle one
/// stands upright only one of the others is known, and the last is 0.
Vec3 anglesOf(const Mat3& m, const std::array<int, 3>& order) {
    const auto [i, j, k] = order;
    const double e = parity(order);
    const double middle = std::clamp(e * at(m, i, k), -1.0, 1.0);
    Vec3 angles(0.0);
    angles[j] = std::asin(middle);
    if (std::abs(middle) < 1 - 1e-12) {
        angles[i] = std::atan2(-e * at(m, j, k), at(m, k, k));
        angles[k] = std::atan2(-e * at(m, i, j), at(m, i, i));
    } else {
        angles[i] = std::atan2(e * at(m, k, j), at(m, j, j));
    }
    return angles;
}

}  // namespace

bool Convention::mirrors() const {
    return glm::determinant(mapOf(*this)) < 0;
}

double Convention::fullTurn() const {
    return angles == AngleUnit::Degrees ? 360 : angles == AngleUnit::Radians ? 2 * base::kPi : 1;
}

base::Status readAxes(const std::string& text, Convention& into) {
    Convention read = into;
    std::size_t n = 0;
    for (const std::string_view word : base::split(text, ' ')) {
        if (word.empty()) continue;
        const bool minus = word.front() == '-';
        const std::string_view letter = minus ? word.substr(1) : word;
        if (n == 3 || letter.size() != 1 || axisOf(letter[0]) < 0) n = 4;
        if (n > 2) break;
        read.axis[n] = axisOf(letter[0]);
        read.sign[n] = minus ? -1 : 1;
        ++n;
    }
    if (n != 3 || !eachOnce(read.axis))
        return base::fail(
            base::ErrorCode::BadInput,
            "“" + text + "” does not say which of our axes theirs are: “x -z y” was expected, each once.");
    into = read;
    return {};
}

std::string axesText(const Convention& c) {
    std::string text;
    for (std::size_t n = 0; n < 3; ++n)
        text += fmt::format("{}{}{}", n == 0 ? "" : " ", c.sign[n] < 0 ? "-" : "", kLetters[c.axis[n]]);
    return text;
}

base::Status readOrder(const std::string& text, Convention& into) {
    std::array<int, 3> order{-1, -1, -1};
    for (std::size_t n = 0; n < 3 && text.size() == 3; ++n) order[n] = axisOf(text[n]);
    if (order[0] < 0 || order[1] < 0 || order[2] < 0 || !eachOnce(order))
        return base::fail(base::ErrorCode::BadInput,
                          "“" + text + "” is no order of turns: x, y and z were expected, each once, such as “yxz”.");
    into.order = order;
    return {};
}

std::string orderText(const Convention& c) {
    return {kLetters[c.order[0]], kLetters[c.order[1]], kLetters[c.order[2]]};
}

double inRange(const Convention& c, double angle) {
    const double full = c.fullTurn();
    double in = std::fmod(angle, full);
    if (in < 0) in += full;
    if (!c.positive && in > full / 2) in -= full;
    return in >= full ? 0.0 : in;
}

TheirPose toTheirs(const Convention& c, const base::Transform& ours) {
    const Mat3 map = mapOf(c);
    TheirPose theirs;
    theirs.position = map * ours.position / c.metres;
    const Mat3 turned = map * glm::mat3_cast(glm::normalize(ours.rotation)) * glm::transpose(map);
    theirs.rotation = glm::normalize(glm::quat_cast(turned));
    if (theirs.rotation.w < 0) theirs.rotation = -theirs.rotation;
    const Vec3 angles = anglesOf(turned, c.order) / radiansIn(c);
    for (std::size_t n = 0; n < 3; ++n) {
        const int k = static_cast<int>(n);
        theirs.turns[k] = inRange(c, c.turns[n] * angles[k]);
        theirs.size[k] = ours.scale[c.axis[n]];
    }
    return theirs;
}

base::Quat rotationOf(const Convention& c, const Vec3& turns) {
    Quat rotation(1, 0, 0, 0);
    for (const int axis : c.order) {
        Vec3 about(0.0);
        about[axis] = 1;
        const double radians = std::fmod(turns[axis], c.fullTurn()) * radiansIn(c);
        rotation = rotation * glm::angleAxis(c.turns[static_cast<std::size_t>(axis)] * radians, about);
    }
    return rotation;
}

base::Transform toOurs(const Convention& c, const TheirPose& theirs) {
    const Mat3 back = glm::transpose(mapOf(c));
    base::Transform ours;
    ours.position = back * theirs.position * c.metres;
    const Mat3 turned = back * glm::mat3_cast(glm::normalize(theirs.rotation)) * glm::transpose(back);
    ours.rotation = glm::normalize(glm::quat_cast(turned));
    for (std::size_t n = 0; n < 3; ++n) ours.scale[c.axis[n]] = theirs.size[static_cast<int>(n)];
    return ours;
}

}  // namespace hand
