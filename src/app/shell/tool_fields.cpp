#include "app/shell/tool_fields.h"

#include "model/facet_builder.h"

namespace app {

namespace {

/// Members of a tool's parts: each is reached by a function that gives a reference.
class ToolFields : public model::FieldsOf<Tools> {
  public:
    void flag(const char* key, bool& (*part)(Tools&)) {
        model::Member& made = add(key, key, model::PropertyType::Bool);
        made.get = [part](const void* t) { return std::optional(model::Value{part(own(t))}); };
        made.set = [part](void* t, const model::Value& v) {
            const auto* given = std::get_if<bool>(&v.data);
            if (given != nullptr) part(self(t)) = *given;
            return given != nullptr;
        };
    }
    void number(const char* key, double low, double high, double& (*part)(Tools&)) {
        derived(
            key, key, "", low, high, [part](const Tools& t) { return part(own(&t)); },
            [part](Tools& t, double v) { part(t) = v; })
            .stored = true;
    }
    void text(const char* key, std::string& (*part)(Tools&)) {
        model::Member& made = add(key, key, model::PropertyType::Text);
        made.get = [part](const void* t) { return std::optional(model::Value{part(own(t))}); };
        made.set = [part](void* t, const model::Value& v) {
            const auto* given = std::get_if<std::string>(&v.data);
            if (given != nullptr) part(self(t)) = *given;
            return given != nullptr;
        };
    }
    template <class Enum>
    void word(const char* key, std::vector<std::string> words, Enum& (*part)(Tools&)) {
        model::Member& made = add(key, key, model::PropertyType::Choice);
        for (const std::string& w : words) made.property.choices.push_back({w, w});
        made.get = [part, words](const void* t) {
            return std::optional(model::Value{words[static_cast<std::size_t>(part(own(t)))]});
        };
        made.set = [part, words](void* t, const model::Value& v) {
            const auto* given = std::get_if<std::string>(&v.data);
            for (std::size_t i = 0; given != nullptr && i < words.size(); ++i)
                if (words[i] == *given) return part(self(t)) = static_cast<Enum>(i), true;
            return false;
        };
    }

  private:
    /// It is only read.
    static Tools& own(const void* t) { return self(const_cast<void*>(t)); }
};

void addSteps(ToolFields& f) {
    f.number("slideStep", 1e-4, 1e4, [](Tools& t) -> double& { return t.steps[0].value; });
    f.number("turnStep", 1e-3, 360, [](Tools& t) -> double& { return t.steps[1].value; });
    f.number("sizeStep", 1e-4, 100, [](Tools& t) -> double& { return t.steps[2].value; });
    f.flag("slideStepOn", [](Tools& t) -> bool& { return t.steps[0].on; });
    f.flag("turnStepOn", [](Tools& t) -> bool& { return t.steps[1].on; });
    f.flag("sizeStepOn", [](Tools& t) -> bool& { return t.steps[2].on; });
    f.flag("onLattice", [](Tools& t) -> bool& { return t.onLattice; });
    f.word(
        "fineness", {"off", "fine", "veryFine"}, +[](Tools& t) -> Fineness& { return t.fineness; });
    f.word(
        "axes", {"world", "own", "parent", "view"}, +[](Tools& t) -> ops::AxesMode& { return t.axes; });
    // A picked point is of one moment.
    f.word(
        "pivot", {"base", "centre", "each"}, +[](Tools& t) -> ops::PivotMode& { return t.pivot; });
}

void addPlacing(ToolFields& f) {
    f.flag("uniform", [](Tools& t) -> bool& { return t.uniform; });
    f.flag("followSlopes", [](Tools& t) -> bool& { return t.followSlopes; });
    f.flag("seatWhenPlacing", [](Tools& t) -> bool& { return t.seatWhenPlacing; });
    f.flag("seatAsSeen", [](Tools& t) -> bool& { return t.seatAsSeen; });
    f.flag("seatOntoSeen", [](Tools& t) -> bool& { return t.seatOntoSeen; });
    f.flag("contact", [](Tools& t) -> bool& { return t.contact; });
    f.flag("takesStanding", [](Tools& t) -> bool& { return t.takesStanding; });
    f.flag("pullsLinked", [](Tools& t) -> bool& { return t.pullsLinked; });
    f.word(
        "leader", {"last", "first", "pointed", "world"}, +[](Tools& t) -> LeaderChoice& { return t.leader; });
    f.word(
        "surfacesGo", {"keep", "drop", "map"}, +[](Tools& t) -> ops::SurfacesGo& { return t.surfacesGo; });
    f.text("outfit", [](Tools& t) -> std::string& { return t.outfit; });
    f.flag("vary", [](Tools& t) -> bool& { return t.varying.on; });
    f.number("varyTurn", 0, 180, [](Tools& t) -> double& { return t.varying.turnDegrees; });
    f.number("varySmallest", 0.01, 100, [](Tools& t) -> double& { return t.varying.smallest; });
    f.number("varyLargest", 0.01, 100, [](Tools& t) -> double& { return t.varying.largest; });
    f.number("varyTint", 0, 1, [](Tools& t) -> double& { return t.varying.tint; });
    f.text("varyMix", [](Tools& t) -> std::string& { return t.varying.mix; });
    f.flag("varyItem", [](Tools& t) -> bool& { return t.varying.variations; });
}

void addBroom(ToolFields& f) {
    f.word(
        "broom", {"scatter", "remove", "vary", "seat", "hide", "protect", "release", "select", "replace", "align"},
        +[](Tools& t) -> ops::BroomVerb& { return t.broom.verb; });
    f.number("broomRadius", 0.1, 200, [](Tools& t) -> double& { return t.broom.radiusMetres; });
    f.number("broomStrength", 0.01, 1, [](Tools& t) -> double& { return t.broom.strength; });
    f.text("broomFilter", [](Tools& t) -> std::string& { return t.broom.filter; });
    f.text("broomItem", [](Tools& t) -> std::string& { return t.broom.item; });
    f.text("broomOutfit", [](Tools& t) -> std::string& { return t.broom.outfit; });
    f.number("broomDensity", 0.001, 50, [](Tools& t) -> double& { return t.broom.density; });
    f.number("broomSpacing", 0, 100, [](Tools& t) -> double& { return t.broom.spacingMetres; });
    f.number("broomTurn", 0, 180, [](Tools& t) -> double& { return t.broom.chances.turnDegrees; });
    f.number("broomSmallest", 0.05, 20, [](Tools& t) -> double& { return t.broom.chances.smallest; });
    f.number("broomLargest", 0.05, 20, [](Tools& t) -> double& { return t.broom.chances.largest; });
    f.number("broomTint", 0, 1, [](Tools& t) -> double& { return t.broom.chances.tint; });
    f.number("broomFlattest", 0, 90, [](Tools& t) -> double& { return t.broom.flattest; });
    f.number("broomSteepest", 0, 90, [](Tools& t) -> double& { return t.broom.steepest; });
    f.text("broomMix", [](Tools& t) -> std::string& { return t.broom.chances.mix; });
    f.text("broomOnto", [](Tools& t) -> std::string& { return t.broom.onto; });
    f.text("broomApartFrom", [](Tools& t) -> std::string& { return t.broom.apartFrom; });
    f.number("broomApart", 0, 100, [](Tools& t) -> double& { return t.broom.apartMetres; });
    f.number("broomHeading", -360, 360, [](Tools& t) -> double& { return t.broom.headingDegrees; });
    f.flag("broomLeans", [](Tools& t) -> bool& { return t.broom.align; });
}

void addLaying(ToolFields& f) {
    f.text("layItem", [](Tools& t) -> std::string& { return t.laying.item; });
    f.text("laySet", [](Tools& t) -> std::string& { return t.laying.set; });
    f.number("layCell", 0.01, 1000, [](Tools& t) -> double& { return t.laying.cellMetres; });
    f.number("layHeight", -5000, 5000, [](Tools& t) -> double& { return t.laying.heightMetres; });
    f.number("placedTurn", -360, 360, [](Tools& t) -> double& { return t.placed.turnDegrees; });
    f.number("placedSize", 0.01, 100, [](Tools& t) -> double& { return t.placed.size; });
}

}  // namespace

const model::Fields& toolFields() {
    static const model::Fields fields = [] {
        ToolFields f;
        addSteps(f);
        addPlacing(f);
        addBroom(f);
        addLaying(f);
        f.flag("catchFlush", [](Tools& t) -> bool& { return t.catchFlush; });
        f.flag("catchHidden", [](Tools& t) -> bool& { return t.catching.hidden; });
        f.flag("catchProtected", [](Tools& t) -> bool& { return t.catching.protectedOnes; });
        f.word(
            "selectShape", {"box", "circle", "lasso"}, +[](Tools& t) -> SelectShape& { return t.selecting.shape; });
        f.flag("selectWhole", [](Tools& t) -> bool& { return t.selecting.whole; });
        f.flag("selectThrough", [](Tools& t) -> bool& { return t.selecting.through; });
        return f.done();
    }();
    return fields;
}

}  // namespace app
