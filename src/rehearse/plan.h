#pragma once
// A walk that is written: where to go, what to use and take, by name or place; and who follows it, by ways over the
// ground. Grammar: docs/formats/rehearsal.md.
#include "rehearse/ground.h"
#include "rehearse/run.h"

namespace rehearse {

struct Order {
    enum class Does : std::uint8_t { Go, Run, Use, Take, Put, Throw, Wait, Look, Jump } does = Does::Go;
    std::string name;                 ///< of an object
    std::optional<base::Vec3> place;  ///< instead
    double seconds = 0;               ///< of a wait
    int line = 0;
};
struct Plan {
    std::string scene, name;
    std::optional<Start> start;
    std::vector<Order> orders;
};
/// Errors: BadInput naming the line.
base::Result<Plan> planFrom(std::string_view text);
std::string textOf(const Order& order);

/// Does a plan's orders one after the other: gives what is pressed in each step, which makes of it a run like others.
/// Both outlive it.
class Pilot {
  public:
    Pilot(const Plan& plan, const Ground* ground) : plan_(plan), ground_(ground) {}
    /// What to press now; the run is asked where one is. Entries of what was reached and what failed are noted in it.
    Input next(Run& run);
    bool isDone() const { return at_ >= plan_.orders.size(); }
    bool failed() const { return failed_; }

  private:
    bool turnTo(const Run& run, const base::Vec3& place, Input& input);
    bool goTo(Run& run, const base::Vec3& place, double near, Input& input);
    bool act(Run& run, const Order& order, Input& input);
    void fail(Run& run, const std::string& why);
    void done(Run& run, base::ObjectId object, const std::string& what);

    const Plan& plan_;
    const Ground* ground_;  // null: nobody is to go anywhere
    std::size_t at_ = 0;
    bool failed_ = false, begun_ = false;
    int since_ = 0, stuck_ = 0, tries_ = 0;
    std::vector<base::Vec3> way_;
    std::size_t corner_ = 0;
    base::Vec3 wanted_{0.0}, stuckAt_{0.0};
    std::int32_t yaw_ = 0, pitch_ = 0;
};

/// Follows a plan from its start, or the level's, for at most so long. Without a ground (null) nobody goes anywhere.
/// Errors: BadInput without a start; Cancelled.
struct Walked {
    Trace trace;
    Inputs inputs;
    bool finished = false;  ///< all orders were done
};
base::Result<Walked> follow(std::shared_ptr<const Level> level, const Plan& plan, const Ground* ground,
                            double mostSeconds = 600, base::Progress* progress = nullptr);

}  // namespace rehearse
