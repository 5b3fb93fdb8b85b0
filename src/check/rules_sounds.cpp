// Sounds that are not heard, cannot be, or are cut off.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "check/names.h"
#include "check/parameters.h"
#include "check/rule.h"
#include "check/units.h"
#include "model/facets/cues.h"
#include "model/facets/sound.h"
#include "ops/cues.h"
#include "rehearse/cue_set.h"

namespace check {

namespace {

using model::CueThen;
using model::Sound;
using Does = CueThen::Does;

const Sound* soundOf(const model::Scene& scene, Slot slot) {
    return scene.detail(slot) ? scene.facet<Sound>(slot) : nullptr;
}

/// Each effect of all cues, with whose it is.
template <class Look>
void eachEffect(const model::Scene& scene, const Look& look) {
    for (const Slot s : scene.subtree(kNoSlot)) {
        const auto* cues = scene.detail(s) ? scene.facet<model::Cues>(s) : nullptr;
        for (const model::Cue& cue : cues != nullptr ? cues->all : std::vector<model::Cue>{})
            for (const CueThen& then : cue.then) look(s, cue, then);
    }
}

void missing(const Subject& s, Slot slot, Report& r) {
    const Sound* sound = soundOf(s.scene, slot);
    if (sound == nullptr) return;
    if (sound->file.empty()) {
        r.add(s.scene.id(slot), fmt::format("{} has no file to be heard.", named(s, slot)));
        return;
    }
    const auto known = s.facts.media.all().find(sound->file);
    if (known == s.facts.media.all().end())
        r.add(s.scene.id(slot),
              fmt::format("The sound “{}” of {} is not in the project's media.", sound->file, named(s, slot)));
    else if (!(known->second.seconds > 0))
        r.add(s.scene.id(slot), known->second.problem.empty()
                                    ? fmt::format("“{}” of {} is no sound.", sound->file, named(s, slot))
                                    : fmt::format("{} cannot be heard: {}", named(s, slot), known->second.problem));
}

void unheard(const Subject& s, Slot, Report& r) {
    std::vector<bool> begun(s.scene.slotEnd(), false);
    eachEffect(s.scene, [&](Slot owner, const model::Cue&, const CueThen& then) {
        if (then.does != Does::Sound || !then.on) return;
        for (const Slot target : rehearse::targetsOf(s.scene, owner, then)) begun[target] = true;
    });
    for (const Slot slot : s.scene.subtree(kNoSlot)) {
        const Sound* sound = soundOf(s.scene, slot);
        if (sound == nullptr) continue;
        if (!sound->begins && !begun[slot])
            r.add(s.scene.id(slot),
                  fmt::format("{} is never heard: it does not begin by itself, and no cue begins it.", named(s, slot)));
        else if (!(sound->gain > 0))
            r.add(s.scene.id(slot), fmt::format("{} is never heard: its loudness is 0.", named(s, slot)));
    }
}

void tooLoud(const Subject& s, Slot slot, Report& r) {
    const Sound* sound = soundOf(s.scene, slot);
    const auto known = sound != nullptr ? s.facts.media.all().find(sound->file) : s.facts.media.all().end();
    if (known == s.facts.media.all().end()) return;
    const double loudest = known->second.peak * sound->gain;
    if (loudest > r.number("most"))
        r.add(s.scene.id(slot),
              fmt::format("{} is up to {:.2f} times as loud as can be heard: it is cut off.", named(s, slot), loudest));
}

/// The end of a level within a sound that the same cue begins: the end, and how long it is to wait.
struct CutOff {
    std::size_t end = 0;
    double needed = 0;
    Slot sound = kNoSlot;
};
std::optional<CutOff> cutOff(const model::Scene& scene, const std::function<double(const std::string&)>& seconds,
                             Slot owner, const model::Cue& cue) {
    std::optional<CutOff> worst;
    for (std::size_t e = 0; e < cue.then.size(); ++e) {
        const CueThen& end = cue.then[e];
        if (end.does != Does::Won && end.does != Does::Lost) continue;
        for (const CueThen& then : cue.then) {
            if (then.does != Does::Sound || !then.on || then.after > end.after) continue;
            for (const Slot target : rehearse::targetsOf(scene, owner, then)) {
                const Sound* sound = soundOf(scene, target);
                if (sound == nullptr || sound->loop) continue;
                const double over = then.after + seconds(sound->file);
                if (over > end.after + 0.05 && (!worst || over > worst->needed)) worst = CutOff{e, over, target};
            }
        }
    }
    return worst;
}

std::function<double(const std::string&)> secondsIn(const std::map<std::string, MediaFacts>& media) {
    return [&media](const std::string& file) {
        const auto known = media.find(file);
        return known != media.end() ? known->second.seconds : 0.0;
    };
}

void endCutsOff(const Subject& s, Slot, Report& r) {
    for (const Slot slot : s.scene.subtree(kNoSlot)) {
        const auto* cues = s.scene.detail(slot) ? s.scene.facet<model::Cues>(slot) : nullptr;
        for (const model::Cue& cue : cues != nullptr ? cues->all : std::vector<model::Cue>{})
            if (const auto cut = cutOff(s.scene, secondsIn(s.facts.media.all()), slot, cue)) {
                Finding& f = r.add(s.scene.id(slot),
                                   fmt::format("“{}” of {} ends the level before {} is over: that takes {:.1f} s.",
                                               cue.name, named(s, slot), named(s, cut->sound), cut->needed));
                f.part = cue.name;
                f.other = s.scene.id(cut->sound);
                f.amount = std::ceil(cut->needed * 10) / 10;
            }
    }
}

/// The end waits until the sound is over.
Status endLater(edit::Draft& draft, const Finding& f, const query::SceneIndex&) {
    return ops::changeCues(draft, f.object, [&](model::Cues& cues) {
        for (model::Cue& cue : cues.all)
            for (CueThen& then : cue.then)
                if (cue.name == f.part && (then.does == Does::Won || then.does == Does::Lost))
                    then.after = std::max(then.after, f.amount);
        return Status{};
    });
}

}  // namespace

std::vector<Rule> soundRules() {
    const auto rule = [](const char* id, const char* label, const char* why, Severity severity,
                         std::vector<model::Property> parameters, Rule::Looks looks, Find find) {
        return Rule{id, "In play", label, why, severity, std::move(parameters), looks, std::move(find), {}, {}};
    };
    using Looks = Rule::Looks;
    Rule cut = rule("sound-cut", "End that cuts off a sound",
                    "The level is over before what its cue lets be heard: the end is to wait.", Severity::Caution, {},
                    Looks::Scene, endCutsOff);
    cut.fixLabel = "Let the end wait";
    cut.fix = endLater;
    return {rule("sound-missing", "Sound without a file", "Nothing is heard where something is meant to be.",
                 Severity::Error, {}, Looks::Own, missing),
            rule("sound-unheard", "Sound that is never heard",
                 "It neither begins by itself, nor does a cue begin it; or it has no loudness.", Severity::Caution, {},
                 Looks::Scene, unheard),
            rule("sound-loud", "Louder than full", "What is above full loudness is cut off, and sounds broken.",
                 Severity::Caution, {amount("most", "At most", "×", 1, 0.1, 16)}, Looks::Own, tooLoud),
            cut};
}

}  // namespace check
