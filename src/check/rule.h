#pragma once
// Rules: each looks at one object (a unit: what stands, falls and is taken as one), or at a scene as a whole, and says
// what would go wrong in play. They read, and change nothing; their fixes are verbs of ops.
#include <functional>
#include <span>

#include "check/facts.h"
#include "edit/draft.h"
#include "model/property.h"

namespace check {

/// What a rule is asked about. `index` is of the same moment as the scene.
class Subject {
  public:
    Subject(const model::Scene& of, const Facts& with, const query::SceneIndex& where)
        : scene(of), facts(with), index(where) {}
    const model::Scene& scene;
    const Facts& facts;
    const query::SceneIndex& index;

    /// How far a unit is above what would carry it; nothing: there is nothing below, or it is the ground itself.
    std::optional<double> gapOf(model::Slot unit) const;

  private:
    mutable model::Slot gapFor_ = model::kNoSlot;  // several rules ask the same of a unit, one after the other
    mutable std::optional<double> gap_;
};

struct Rule;

/// Where a rule says what it finds, and reads its parameters.
class Report {
  public:
    Report(const Rule& rule, const Facts& facts, std::vector<Finding>& into);
    double number(const char* parameter) const;
    std::string text(const char* parameter) const;
    bool truth(const char* parameter) const;
    base::Vec3 vector(const char* parameter) const;
    Finding& add(base::ObjectId object, std::string message);

  private:
    const model::Value& value(const char* parameter) const;
    const Rule& rule_;
    const RuleSetting* setting_;
    std::vector<Finding>& into_;
    mutable model::Value room_;
};

struct Rule {
    std::string id;     ///< "floating"
    std::string group;  ///< "Standing"
    std::string label;  ///< "Floating above its support"
    std::string why;    ///< why it matters, and what to do
    Severity severity = Severity::Caution;
    std::vector<model::Property> parameters;
    /// Own: each object by itself. Unit: what stands as one, with what is near it or above and below it. Watch: lights
    /// and cameras, with what is within their reach. Scene: all of it.
    enum class Looks { Own, Unit, Watch, Scene } looks = Looks::Own;
    std::function<void(const Subject&, model::Slot, Report&)> find;  ///< of a scene's the slot is kNoSlot
    std::string fixLabel;                                            ///< "Seat it"; empty: there is no fix
    std::function<base::Status(edit::Draft&, const Finding&, const query::SceneIndex&)> fix;
};

/// All of them, by group.
const std::vector<Rule>& rules();
/// Null: there is none of that id.
const Rule* ruleOf(std::string_view id);

// By file.
std::vector<Rule> standingRules();
std::vector<Rule> poseRules();
std::vector<Rule> meaningRules();
std::vector<Rule> playRules();
std::vector<Rule> sceneRules();

/// Is the rule off for an object, by its kind or by the scene's word?
bool isOff(const Rule& rule, const Facts& facts, const model::Scene& scene, model::Slot slot);

/// An object's name in quotes, for messages.
std::string named(const Subject& subject, model::Slot slot);
/// A fix: puts the finding's object down on what is below it.
base::Status seatIt(edit::Draft& draft, const Finding& finding, const query::SceneIndex& index);
/// Does physics move it?
bool isLoose(const model::Scene& scene, model::Slot slot);
/// Is it so large that it carries itself?
bool isGround(const model::Scene& scene, model::Slot unit);

/// A number as people read it in a finding: "0.31 m".
std::string metres(double value);

/// Words of a rule's parameter: objects that it passes over, as the Roster takes filters, several after commas.
bool fitsAny(const std::string& filters, const model::Scene& scene, model::Slot slot);

}  // namespace check
