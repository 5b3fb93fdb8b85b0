#pragma once
// Routes with stops in a run: what is passed, in which order, how fast; what is missed, or passed the wrong way.
// Values.
#include <optional>
#include <vector>

#include "model/facets/route.h"
#include "rehearse/level.h"

namespace rehearse {

/// A stop, where it is passed.
struct GateAt {
    base::ObjectId object;
    std::string name;
    base::Affine into;     ///< from the world to its own axes: z along the route
    base::Vec3 size{0.0};  ///< across, high, along
    model::RouteStop::Passed passed{};
};

struct CourseAt {
    base::ObjectId id;
    std::string name;
    std::vector<GateAt> gates;  ///< in order
    std::int64_t laps = 1;
    bool closed = false;
    std::string tells;  ///< the property of its stops that says how they are; empty: none
};
/// Those of a level that have stops.
std::vector<CourseAt> coursesOf(const Level& level);

class Courses {
  public:
    explicit Courses(const std::vector<CourseAt>& all) : all_(all), states_(all.size()) {}

    /// How far whoever walks is on one: it begins with its first stop.
    struct State {
        std::optional<int> began;  ///< in which step, with the first lap
        int lapBegan = 0;
        std::size_t next = 0;  ///< the stop that is to be passed now
        std::int64_t lap = 1;
        std::size_t passed = 0, missed = 0;
        bool isDone = false;
    };
    struct Told {
        enum class Is : std::uint8_t { Passed, Missed, WrongWay, Lap } is{};
        std::size_t course = 0, gate = 0;
        double seconds = 0;  ///< since the course began; of a lap, that it took
        std::int64_t lap = 1;
    };
    /// Their middle went from there to there in a step.
    std::vector<Told> step(const base::Vec3& from, const base::Vec3& to, int step);
    const State& state(std::size_t course) const { return states_[course]; }
    /// In this lap: "waiting", "next" or "passed".
    std::string_view wordOf(std::size_t course, std::size_t gate) const;

  private:
    void pass(std::size_t course, std::size_t gate, int step, std::vector<Told>& told);

    const std::vector<CourseAt>& all_;
    std::vector<State> states_;
};

}  // namespace rehearse
