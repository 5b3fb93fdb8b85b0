#include "hand/plan.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "hand/names.h"
#include "model/facets/route.h"
#include "model/facets/zone.h"
#include "query/route.h"

namespace hand {
namespace {

using base::Vec2;
using base::Vec3;

std::string escaped(std::string_view text) {
    std::string out;
    for (const char c : base::withoutControl(text))
        out += c == '<' ? "&lt;" : c == '>' ? "&gt;" : c == '&' ? "&amp;" : c == '"' ? "&quot;" : std::string(1, c);
    return out;
}

/// The outline round points, counter-clockwise (Andrew's monotone chain).
std::vector<Vec2> outlineOf(std::vector<Vec2> points) {
    std::sort(points.begin(), points.end(),
              [](const Vec2& a, const Vec2& b) { return a.x < b.x || (a.x == b.x && a.y < b.y); });
    points.erase(std::unique(points.begin(), points.end()), points.end());
    if (points.size() < 3) return points;
    std::vector<Vec2> hull;
    for (int pass = 0; pass < 2; ++pass) {
        const std::size_t floor = hull.size();
        for (const Vec2& p : points) {
            while (hull.size() >= floor + 2 && base::cross(hull.back() - hull[hull.size() - 2], p - hull.back()) <= 0)
                hull.pop_back();
            hull.push_back(p);
        }
        hull.pop_back();
        std::reverse(points.begin(), points.end());
    }
    return hull;
}

class Plan {
  public:
    Plan(const model::Scene& scene, const model::Library& library,
         const std::function<const shape::Mesh*(base::Name)>& meshOf, const PlanOptions& options)
        : scene_(scene), library_(library), meshOf_(meshOf), options_(options) {}

    std::string run() {
        for (const Slot s : scene_.subtree(model::kNoSlot))
            if (isShown(s)) take(s);
        // What is large lies under what is small: the ground first, and what stands on it is what the sheet is about.
        std::stable_sort(things_.begin(), things_.end(),
                         [](const Thing& a, const Thing& b) { return areaOf(a.box) > areaOf(b.box); });
        base::Aabb whole;
        for (const Thing& thing : things_) whole.add(thing.box);
        constexpr double kGround = 0.2;  // of the whole
        for (const Thing& thing : things_)
            if (areaOf(thing.box) < kGround * areaOf(whole)) box_.add(thing.box);
        if (box_.empty()) box_ = whole;
        if (box_.empty()) box_.add(Vec3(0.0)), box_.add(Vec3(10, 0, 10));
        const double margin = 4;
        low_ = {box_.low.x - margin, box_.low.z - margin};
        const double wide = (box_.high.x - box_.low.x + 2 * margin) * options_.pixelsPerMetre,
                     high = (box_.high.z - box_.low.z + 2 * margin) * options_.pixelsPerMetre;
        constexpr double kFoot = 40;
        out_ = fmt::format(
            "<?xml version=\"1.0\" encoding=\"utf-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0:.0f}\" "
            "height=\"{1:.0f}\" viewBox=\"0 0 {0:.0f} {1:.0f}\" font-family=\"Inter, sans-serif\" font-size=\"11\">\n"
            "<title>{2}</title>\n<rect width=\"100%\" height=\"100%\" fill=\"#f8f4ea\"/>\n",
            wide, high + kFoot, escaped(scene_.name()));
        for (const Thing& thing : things_)
            out_ += fmt::format(
                "<polygon points=\"{}\" fill=\"{}\" fill-opacity=\"0.8\" stroke=\"#57544a\" "
                "stroke-width=\"0.6\"><title>{}</title></polygon>\n",
                points(thing.outline), thing.colour, escaped(thing.name));
        foot(wide, high);
        return out_ + "</svg>\n";
    }

  private:
    struct Thing {
        std::vector<Vec2> outline;
        base::Aabb box;
        std::string colour, name;
    };
    static double areaOf(const base::Aabb& box) { return box.size().x * box.size().z; }
    bool isShown(Slot s) const {
        for (Slot up = s; up != model::kNoSlot; up = scene_.parent(up))
            if ((scene_.flagsOf(up) & (model::flags::kHidden | model::flags::kAbsent)) != 0) return false;
        return true;
    }
    void take(Slot s) {
        const shape::Mesh* mesh = scene_.item(s) ? meshOf_(scene_.item(s)) : nullptr;
        if (mesh != nullptr) {
            const base::Affine& world = scene_.world(s);
            std::vector<Vec2> corners;
            for (const shape::Float3& p : mesh->positions) {
                const Vec3 at = world.point({p[0], p[1], p[2]});
                corners.emplace_back(at.x, at.z);
            }
            things_.push_back(
                {outlineOf(std::move(corners)), scene_.bounds(s), colourOf(s), std::string(scene_.nameText(s))});
        }
        if (scene_.facet<model::Zone>(s) != nullptr) zones_.push_back(s);
        if (scene_.facet<model::Route>(s) != nullptr) routes_.push_back(s);
        if ((scene_.flagsOf(s) & model::flags::kWhole) != 0) groups_.push_back(s);
    }
    std::string colourOf(Slot s) const {
        const model::Kind* kind = library_.kind(scene_.kind(s));
        if (kind != nullptr && kind->colourMark.size() == 7) return kind->colourMark;
        return "#d8cfba";
    }
    Vec2 pixel(const Vec2& p) const { return (p - low_) * options_.pixelsPerMetre; }
    std::string points(const std::vector<Vec2>& all) const {
        std::string text;
        for (const Vec2& p : all)
            text += fmt::format("{}{:.1f},{:.1f}", text.empty() ? "" : " ", pixel(p).x, pixel(p).y);
        return text;
    }
    void label(const Vec2& at, std::string_view text, const char* colour) {
        if (options_.names)
            out_ += fmt::format("<text x=\"{:.1f}\" y=\"{:.1f}\" text-anchor=\"middle\" fill=\"{}\">{}</text>\n",
                                pixel(at).x, pixel(at).y, colour, escaped(text));
    }
    void drawZone(Slot s) {
        const model::Zone& zone = *scene_.facet<model::Zone>(s);
        const base::Affine& world = scene_.world(s);
        std::vector<Vec2> outline;
        const auto add = [&](double x, double z) {
            const Vec3 at = world.point({x, 0, z});
            outline.emplace_back(at.x, at.z);
        };
        constexpr int kRound = 48;
        const Vec3 half = zone.size * 0.5;
        if (zone.shape == model::Zone::Shape::Polygon)
            for (const Vec2& corner : zone.corners) add(corner.x, corner.y);
        else if (zone.shape == model::Zone::Shape::Sphere)
            for (int i = 0; i < kRound; ++i)
                add(half.x * std::cos(i * 2 * base::kPi / kRound), half.x * std::sin(i * 2 * base::kPi / kRound));
        else
            for (const auto& [x, z] : {std::pair{-1, -1}, {1, -1}, {1, 1}, {-1, 1}}) add(x * half.x, z * half.z);
        out_ += fmt::format("<polygon points=\"{}\" fill=\"none\" stroke=\"#4a6d2c\" stroke-dasharray=\"6 4\"/>\n",
                            points(outline));
        const Vec3 middle = world.point(Vec3(0.0));
        label({middle.x, middle.z}, scene_.nameText(s), "#4a6d2c");
    }
    void drawRoute(Slot s) {
        const shape::Curve curve = query::curveOf(scene_, s);
        if (curve.empty()) return;
        std::vector<Vec2> line;
        for (const auto& sample : curve.samples(0.05)) line.emplace_back(sample.at.x, sample.at.z);
        out_ += fmt::format("<polyline points=\"{}\" fill=\"none\" stroke=\"#1d6c88\" stroke-width=\"2\"/>\n",
                            points(line));
        label(line.front(), scene_.nameText(s), "#1d6c88");
    }
    void foot(double wide, double high) {
        for (const Slot s : zones_) drawZone(s);
        for (const Slot s : routes_) drawRoute(s);
        for (const Slot s : groups_)
            if (const base::Aabb box = scene_.subtreeBounds(s); !box.empty())
                label({box.centre().x, box.centre().z}, scene_.nameText(s), "#2a2b25");
        // A round length that takes a fifth of the sheet or so.
        const double most = wide / options_.pixelsPerMetre / 5;
        double metres = std::pow(10, std::floor(std::log10(std::max(most, 1e-3))));
        for (const double times : {5.0, 2.0})
            if (metres * times <= most) {
                metres *= times;
                break;
            }
        const double long_ = metres * options_.pixelsPerMetre;
        out_ += fmt::format(
            "<rect x=\"0\" y=\"{0:.0f}\" width=\"100%\" height=\"40\" fill=\"#efe9db\"/>\n"
            "<path d=\"M16 {1:.1f} v6 h{2:.1f} v-6\" fill=\"none\" stroke=\"#2a2b25\"/>\n<text x=\"{3:.1f}\" "
            "y=\"{4:.1f}\" fill=\"#2a2b25\">{5:g} m</text>\n<text x=\"{6:.1f}\" y=\"{4:.1f}\" text-anchor=\"end\" "
            "fill=\"#2a2b25\">{7} · north (-Z) is up · {8:g} pixels a metre</text>\n",
            high, high + 16, long_, 24 + long_, high + 25, metres, wide - 16, escaped(scene_.name()),
            options_.pixelsPerMetre);
    }

    const model::Scene& scene_;
    const model::Library& library_;
    const std::function<const shape::Mesh*(base::Name)>& meshOf_;
    const PlanOptions& options_;
    std::vector<Thing> things_;
    std::vector<Slot> zones_, routes_, groups_;
    base::Aabb box_;
    Vec2 low_{0.0};
    std::string out_;
};

}  // namespace

std::string planOf(const model::Scene& scene, const model::Library& library,
                   const std::function<const shape::Mesh*(base::Name item)>& meshOf, const PlanOptions& options) {
    return Plan(scene, library, meshOf, options).run();
}

}  // namespace hand
