#pragma once
// Rules: each looks at one object (a unit: what stands, falls and is taken as one), or at a scene as a whole, and says
// what would go wrong in play. They read, and change nothing; their fixes are verbs of ops. Scripts bring more of them.
#include <functional>
#include <span>

#include "base/progress.h"
#include "check/facts.h"
#include "edit/draft.h"
#include "model/property.h"
#include "query/contact.h"
#include "query/object_filter.h"

namespace check {

/// What a rule is asked about. `index` is of the same moment as the scene. Each thread has its own.
class Subject {
  public:
    Subject(const model::Scene& of, const Facts& with, const query::SceneIndex& where, const base::Progress* how,
            std::uint64_t asking)
        : scene(of), facts(with), index(where), pass(asking), progress_(how) {}
    const model::Scene& scene;
    const Facts& facts;
    const query::SceneIndex& index;
    const std::uint64_t pass;  ///< another number each time that a scene is looked at

    bool cancelled() const { return progress_ != nullptr && progress_->cancelled(); }

    /// How far a unit is above what would carry it; nothing: there is nothing below, or it is the ground itself. Up to
    /// `enough` it need not be exact.
    std::optional<double> gapOf(model::Slot unit, double enough = -query::kFarthestFall) const;

  private:
    const base::Progress* progress_;
    mutable model::Slot gapFor_ = model::kNoSlot;  // several rules ask the same of a unit, one after the other
    mutable std::optional<double> gap_;
    mutable double gapEnough_ = 0;
};

struct Rule;

/// What the project says of a rule, else what is usual.
class Parameters {
  public:
    Parameters(const std::string& rule, const std::vector<model::Property>& all, const RuleSettings& settings);
    double number(std::string_view name) const;
    std::string text(std::string_view name) const;
    bool truth(std::string_view name) const;
    base::Vec3 vector(std::string_view name) const;
    /// Of one that says which objects, as the Roster takes filters, several after commas: is it one of them?
    bool fits(std::string_view name, const model::Scene& scene, model::Slot slot) const;
    model::ValueMap values() const;

  private:
    struct One {
        std::string name;
        model::Value value;
        std::vector<query::ObjectFilter> filters;
    };
    const One& one(std::string_view name) const;
    std::vector<One> all_;
};

/// Where a rule says what it finds, and reads its parameters.
class Report {
  public:
    Report(const Rule& rule, const Parameters& parameters, Severity severity, std::vector<Finding>& into)
        : rule_(rule), parameters_(parameters), severity_(severity), into_(into) {}
    double number(std::string_view parameter) const { return parameters_.number(parameter); }
    std::string text(std::string_view parameter) const { return parameters_.text(parameter); }
    bool truth(std::string_view parameter) const { return parameters_.truth(parameter); }
    base::Vec3 vector(std::string_view parameter) const { return parameters_.vector(parameter); }
    bool fits(std::string_view parameter, const model::Scene& scene, model::Slot slot) const {
        return parameters_.fits(parameter, scene, slot);
    }
    Finding& add(base::ObjectId object, std::string message);
    /// Those that the rule looks at besides the one it is asked about: it is asked again when one of them changes, goes
    /// or comes. For rules that look at objects by themselves.
    void lookedAt(base::ObjectId other) { lookedAt_.push_back(other); }
    const std::vector<base::ObjectId>& lookedAt() const { return lookedAt_; }
    /// It cannot be asked (it is a script's): said as a finding, and it is asked no more until something changes.
    void fail(base::ObjectId object, const std::string& why);
    bool failed() const { return failed_; }

  private:
    const Rule& rule_;
    const Parameters& parameters_;
    Severity severity_;
    std::vector<Finding>& into_;
    std::vector<base::ObjectId> lookedAt_;
    bool failed_ = false;
};

/// Of a scene as a whole the slot is kNoSlot.
using Find = std::function<void(const Subject&, model::Slot, Report&)>;
/// The `part` of a finding that says that a rule could not be asked.
constexpr std::string_view kFailed = "failed";

struct Rule {
    std::string id;     ///< "floating"
    std::string group;  ///< "Standing"
    std::string label;  ///< "Floating above its support"
    std::string why;    ///< why it matters, and what to do
    Severity severity = Severity::Caution;
    std::vector<model::Property> parameters;
    /// Own: each object by itself. Unit: what stands as one, with what is near it or above and below it. Watch: those
    /// that have a `reach`, with what is within it. Scene: all of it.
    enum class Looks { Own, Unit, Watch, Scene } looks = Looks::Own;
    Find find;
    std::string fixLabel;  ///< "Seat it"; empty: there is no fix
    std::function<base::Status(edit::Draft&, const Finding&, const query::SceneIndex&)> fix;
    /// How far beyond its own box an object is to be looked at, metres; nothing: the rule does not ask about it.
    std::function<std::optional<double>(const model::Scene&, const Facts&, model::Slot)> reach = {};
    /// Instead of `find`: gives one for a thread, which may keep something from one object to the next.
    std::function<Find()> makeFind = {};
};

/// Those that the editor has by itself, by group.
const std::vector<Rule>& builtInRules();
/// As the project sets them now.
Parameters parametersIn(const edit::Session& session, const std::string& rule,
                        const std::vector<model::Property>& parameters);
/// Those and a project's own after them; shared by whoever looks.
std::shared_ptr<const std::vector<Rule>> withRules(std::vector<Rule> more = {});
/// Null: there is none of that id.
const Rule* ruleOf(std::span<const Rule> rules, std::string_view id);

// By file.
std::vector<Rule> standingRules();
std::vector<Rule> poseRules();
std::vector<Rule> meaningRules();
std::vector<Rule> playRules();
std::vector<Rule> sceneRules();
std::vector<Rule> solidRules();
std::vector<Rule> settleRules();
std::vector<Rule> cueRules();
std::vector<Rule> cameraRules();
std::vector<Rule> soundRules();
std::vector<Rule> routeRules();

/// As the project sets it.
Severity severityOf(const Rule& rule, const RuleSettings& settings);
/// Is the rule off for an object, by its kind or by the scene's word?
bool isOff(const Rule& rule, const Facts& facts, const model::Scene& scene, model::Slot slot);

/// An object's name in quotes, for messages.
std::string named(const Subject& subject, model::Slot slot);
/// A fix: puts the finding's object down on what is below it.
base::Status seatIt(edit::Draft& draft, const Finding& finding, const query::SceneIndex& index);
/// The same from so many metres higher up.
base::Status seatFrom(edit::Draft& draft, const Finding& finding, const query::SceneIndex& index, double metresUp);
/// A length in a finding: "0.31 m". Always in metres: what was accepted goes by a finding's words.
std::string metres(double value);
/// Does physics move it?
bool isLoose(const model::Scene& scene, model::Slot slot);
/// Is it so large that it carries itself?
bool isGround(const model::Scene& scene, model::Slot unit);

}  // namespace check
