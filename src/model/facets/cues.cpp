#include "model/facets/cues.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

#include "model/facet_builder.h"
#include "model/scene.h"

namespace model {
namespace {

using What = CueWhen::What;
using Does = CueThen::Does;

// Words in the order of the enumerators.
std::vector<std::string> whats() {
    return {"start", "after",  "enters", "leaves",  "used",   "taken", "put down", "bumped", "passed",
            "cue",   "inside", "nearer", "farther", "unseen", "is",    "above",    "below",  "goal met"};
}
std::vector<std::string> doings() {
    return {"set",        "exists",   "solid",       "wake",  "sleep",  "push",    "move",  "go to", "message",
            "goal set",   "goal met", "goal missed", "arm",   "disarm", "set off", "won",   "lost",  "seen",
            "act begins", "act ends", "camera",      "sound", "outfit", "surface", "guise", "follow"};
}

template <class T, class Word>
std::function<bool(const void*)> among(Word T::*member, std::vector<Word> words) {
    return FieldsOf<T>::when([member, words](const T& t) {
        for (const Word word : words)
            if (t.*member == word) return true;
        return false;
    });
}

const Fields& whenFields() {
    static const Fields fields = [] {
        FieldsOf<CueWhen> f;
        const auto asks = [](std::vector<What> words) { return among(&CueWhen::what, std::move(words)); };
        f.word("what", "When", &CueWhen::what, whats()).always = true;
        f.link("object", "Of", &CueWhen::object).shown =
            f.when([](const CueWhen& w) { return w.what != What::Start && w.what != What::After; });
        f.last().help = "The zone, the thing, the goal; none: the object that has the cue";
        f.word("who", "Who", &CueWhen::who, {"player", "object", "fitting", "anything"}).shown =
            f.when([](const CueWhen& w) { return w.asksWho(); });
        f.link("by", "That object", &CueWhen::by).shown =
            f.when([](const CueWhen& w) { return w.asksWho() && w.who == CueWhen::Who::Object; });
        f.text("filter", "That fits", &CueWhen::filter).shown =
            f.when([](const CueWhen& w) { return w.asksWho() && w.who == CueWhen::Who::Fitting; });
        f.last().help = "As in Select: kind:Barge crate* oil>3";
        f.real("metres", "Distance", &CueWhen::metres, "m", 0, kLargestMetres).shown =
            asks({What::Nearer, What::Farther});
        f.real("seconds", "Seconds from the start", &CueWhen::seconds, "s", 0, 36'000).shown = asks({What::After});
        f.text("property", "Property", &CueWhen::property).shown = asks({What::Is, What::Above, What::Below});
        f.text("value", "Value", &CueWhen::value).shown = asks({What::Is, What::Above, What::Below});
        f.text("cue", "Its cue", &CueWhen::cue).shown = asks({What::Cue});
        f.last().help = "By name; none: any of its cues";
        return f.done();
    }();
    return fields;
}

const Fields& targetFields() {
    static const Fields fields = [] {
        FieldsOf<CueTarget> f;
        f.link("object", "Object", &CueTarget::object);
        return f.done();
    }();
    return fields;
}

const Fields& thenFields() {
    static const Fields fields = [] {
        FieldsOf<CueThen> f;
        const auto asks = [](std::vector<Does> words) { return among(&CueThen::does, std::move(words)); };
        f.word("does", "Then", &CueThen::does, doings()).always = true;
        f.real("after", "After", &CueThen::after, "s", 0, 36'000);
        f.word("to", "To", &CueThen::to, {"these", "fitting", "cause", "myself"}).shown =
            f.when([](const CueThen& t) { return t.hasTargets(); });
        f.parts("targets", "Objects", &CueThen::targets, targetFields()).property.unit = "object";
        f.text("filter", "That fit", &CueThen::filter).shown =
            f.when([](const CueThen& t) { return t.hasTargets() && t.to == CueThen::To::Fitting; });
        f.text("property", "Property", &CueThen::property).shown = asks({Does::Set});
        f.text("value", "Value", &CueThen::value).shown = asks({Does::Set});
        f.last().help = "As it is typed for the property, or a formula: = oil - 1";
        f.flag("on", "Is so from then on", &CueThen::on).shown =
            asks({Does::Exists, Does::Solid, Does::Seen, Does::Camera, Does::Sound});
        f.vector("slide", "By", &CueThen::slide, "m", -kLargestMetres, kLargestMetres).shown =
            asks({Does::Move, Does::Push});
        f.last().help = "Along the own axes; of a push, newton seconds";
        f.angle("turn", "Turns by", &CueThen::turnDegrees, -3600, 3600).shown = asks({Does::Move});
        f.link("place", "Where", &CueThen::place).shown = asks({Does::GoTo, Does::Follow});
        f.last().help = "To where that object is; to follow, the route";
        f.real("seconds", "Takes", &CueThen::seconds, "s", 0, 3600).shown =
            asks({Does::Move, Does::GoTo, Does::ActBegins, Does::ActEnds});
        f.word("ease", "Goes", &CueThen::ease, {"slow at both ends", "steadily"}).shown =
            asks({Does::Move, Does::GoTo});
        f.text("words", "Words", &CueThen::words).shown = asks({Does::Message});
        f.text("cue", "Its cue", &CueThen::cue).shown = asks({Does::Arm, Does::Disarm, Does::SetOff});
        f.last().help = "By name; none: all of its cues";
        f.text("next", "Next scene", &CueThen::next).shown = asks({Does::Won, Does::Lost});
        f.text("look", "Look", &CueThen::look).shown = asks({Does::Outfit, Does::Surface, Does::Guise});
        f.last().help = "The outfit, the surface, the guise by its name; none: as at the start";
        f.text("slot", "Part", &CueThen::slot).shown = asks({Does::Surface});
        f.last().help = "The part that the surface lies on; none: all of them";
        return f.done();
    }();
    return fields;
}

const Fields& cueFields() {
    static const Fields fields = [] {
        FieldsOf<Cue> f;
        f.text("name", "Name", &Cue::name).always = true;
        f.flag("armed", "Armed", &Cue::armed);
        f.flag("any", "Any of its conditions", &Cue::any);
        f.whole("times", "At most", &Cue::times, 0, 1'000'000).property.help = "Times; 0: each time";
        f.real("rest", "Rest between", &Cue::rest, "s", 0, 36'000);
        f.parts("when", "When", &Cue::when, whenFields()).property.unit = "condition";
        f.parts("then", "Then", &Cue::then, thenFields()).property.unit = "effect";
        return f.done();
    }();
    return fields;
}

base::Status isFewEnough(const void* facet) {
    const Cues& cues = FieldsOf<Cues>::self(facet);
    if (cues.all.empty()) return base::fail(base::ErrorCode::BadInput, "Cues are at least one.");
    if (cues.all.size() > Cues::kMost)
        return base::fail(base::ErrorCode::BadInput, fmt::format("An object can have up to {} cues.", Cues::kMost));
    for (const Cue& cue : cues.all)
        if (cue.when.size() > Cue::kMostParts || cue.then.size() > Cue::kMostParts)
            return base::fail(base::ErrorCode::BadInput,
                              fmt::format("A cue can have up to {} conditions and effects.", Cue::kMostParts));
    return {};
}

/// Given by hand, it has a cue that one goes on with.
void beginWithOne(void* facet) {
    Cues& cues = FieldsOf<Cues>::self(facet);
    if (cues.all.empty()) cues.all.push_back(freshCue(cues));
}

std::string nameOf(const Scene& scene, base::ObjectId id) {
    const Slot slot = scene.find(id);
    return slot == kNoSlot ? std::string("what is gone") : std::string(scene.nameText(slot));
}

std::string joined(const std::vector<std::string>& parts, std::string_view between) {
    return fmt::format("{}", fmt::join(parts, between));
}

}  // namespace

bool CueWhen::asksWho() const {
    return what == What::Enters || what == What::Leaves || what == What::Inside || what == What::Nearer ||
           what == What::Farther;
}

const FacetType& Cues::type() {
    static const FacetType type = [] {
        FieldsOf<Cues> f;
        f.parts("all", "Cues", &Cues::all, cueFields()).property.unit = "cue";
        FacetType made = facetTypeOf<Cues>("cues", "Cues", "When something happens, then do something", f.done());
        made.check = isFewEnough;
        made.complete = beginWithOne;
        made.bare = true;
        made.pointed = true;
        return made;
    }();
    return type;
}

Cue freshCue(const Cues& among) {
    Cue cue;
    for (int n = 1; cue.name.empty(); ++n) {
        const std::string name = fmt::format("Cue {}", n);
        if (std::ranges::none_of(among.all, [&](const Cue& c) { return c.name == name; })) cue.name = name;
    }
    cue.when.emplace_back();
    cue.then.emplace_back().words = "…";
    return cue;
}

std::string whenText(const Cue& cue, const Scene& scene) {
    std::vector<std::string> parts;
    for (const CueWhen& when : cue.when) parts.push_back(textOf(when, scene));
    return joined(parts, cue.any ? " or " : " and ");
}

std::string thenText(const Cue& cue, const Scene& scene) {
    std::vector<std::string> parts;
    for (const CueThen& then : cue.then) parts.push_back(textOf(then, scene, true));
    return joined(parts, "; ");
}

std::string textOf(const CueWhen& w, const Scene& scene, base::ObjectId owner) {
    const auto name = [&](base::ObjectId id, const char* otherwise) {
        return id ? nameOf(scene, id) : std::string(otherwise);
    };
    const std::string object = name(w.object ? w.object : owner, "this");
    const std::string who = w.who == CueWhen::Who::Player     ? "the player"
                            : w.who == CueWhen::Who::Object   ? name(w.by, "nothing")
                            : w.who == CueWhen::Who::Anything ? "anything"
                                                              : "what fits “" + w.filter + "”";
    switch (w.what) {
        case What::Start: return "at the start";
        case What::After: return fmt::format("after {:g} s", w.seconds);
        case What::Enters: return who + " enters " + object;
        case What::Leaves: return who + " leaves " + object;
        case What::Used: return object + " is used";
        case What::Taken: return object + " is taken";
        case What::PutDown: return object + " is put down";
        case What::Bumped: return object + " is bumped";
        case What::Passed: return object + " is passed";
        case What::Cue: return w.cue.empty() ? "a cue of " + object + " goes off" : "“" + w.cue + "” goes off";
        case What::Inside: return who + " is inside " + object;
        case What::Nearer: return fmt::format("{} is nearer than {:g} m to {}", who, w.metres, object);
        case What::Farther: return fmt::format("{} is farther than {:g} m from {}", who, w.metres, object);
        case What::Unseen: return object + " is not in sight";
        case What::Is: return fmt::format("{} of {} is {}", w.property, object, w.value);
        case What::Above: return fmt::format("{} of {} is above {}", w.property, object, w.value);
        case What::Below: return fmt::format("{} of {} is below {}", w.property, object, w.value);
        case What::Met: return object + " is met";
    }
    return {};
}

std::string textOf(const CueThen& t, const Scene& scene, bool delay) {
    if (delay && t.after > 0) return fmt::format("after {:g} s {}", t.after, textOf(t, scene));
    std::string to = t.to == CueThen::To::Cause     ? "what set it off"
                     : t.to == CueThen::To::Myself  ? "this"
                     : t.to == CueThen::To::Fitting ? "what fits “" + t.filter + "”"
                     : t.targets.empty()            ? "nothing"
                                                    : nameOf(scene, t.targets.front().object);
    if (t.to == CueThen::To::These && t.targets.size() > 1) to += fmt::format(" and {} more", t.targets.size() - 1);
    const std::string cue = t.cue.empty() ? "the cues of " + to : "“" + t.cue + "” of " + to;
    const std::string next = t.next.empty() ? std::string() : "; next " + t.next;
    switch (t.does) {
        case Does::Set: return fmt::format("sets {} of {} to {}", t.property, to, t.value);
        case Does::Exists: return t.on ? "brings " + to : "takes away " + to;
        case Does::Solid: return t.on ? "makes solid " + to : "makes no longer solid " + to;
        case Does::Seen: return (t.on ? "shows " : "hides ") + to;
        case Does::Wake: return "wakes " + to;
        case Does::Sleep: return "puts to sleep " + to;
        case Does::Push: return "pushes " + to;
        case Does::Move: return fmt::format("moves {}, {:g} s", to, t.seconds);
        case Does::GoTo:
            return fmt::format("sends {} to {}, {:g} s", to, t.place ? nameOf(scene, t.place) : "nowhere", t.seconds);
        case Does::Follow:
            return "sends " + to + " along " + (t.place ? nameOf(scene, t.place) : std::string("nothing"));
        case Does::Message: return "says “" + t.words + "”";
        case Does::GoalSet: return "sets the goal " + to;
        case Does::GoalMet: return "meets the goal " + to;
        case Does::GoalMissed: return "misses the goal " + to;
        case Does::Arm: return "arms " + cue;
        case Does::Disarm: return "disarms " + cue;
        case Does::SetOff: return "sets off " + cue;
        case Does::Camera: return t.on ? "shows by " + to : "shows as the zones say again";
        case Does::Sound: return (t.on ? "sounds " : "silences ") + to;
        case Does::ActBegins: return "begins the act " + to;
        case Does::ActEnds: return "ends the act " + to;
        case Does::Outfit: return t.look.empty() ? "undresses " + to : "dresses " + to + " in " + t.look;
        case Does::Surface:
            return (t.look.empty() ? "takes the surface off " : "lays " + t.look + " on ") + to +
                   (t.slot.empty() ? "" : ", " + t.slot);
        case Does::Guise: return t.look.empty() ? "takes the guise off" : "puts on the guise " + t.look;
        case Does::Won: return "wins the level" + next;
        case Does::Lost: return "loses the level" + next;
    }
    return {};
}

}  // namespace model
