#include "ops/cues.h"

namespace ops {

using base::ObjectId;
using base::Result;
using base::Status;

Status changeCues(edit::Draft& draft, ObjectId id, const std::function<Status(model::Cues&)>& change) {
    return changeDetails(draft, {&id, 1}, [&](model::Slot, model::Detail& detail) -> Status {
        model::Cues cues = detail.get<model::Cues>() != nullptr ? *detail.get<model::Cues>() : model::Cues{};
        if (Status done = change(cues); !done) return done;
        if (cues.all.empty()) {
            detail.facets.drop(model::Cues::type());
            return {};
        }
        if (Status fine = model::Cues::type().check(&cues); !fine) return fine;
        detail.put(std::optional<model::Cues>(std::move(cues)));
        return {};
    });
}

Result<ObjectId> sceneCues(edit::Draft& draft) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const model::Scene& scene = draft.scene();
    for (const model::Slot s : scene.subtree(model::kNoSlot))
        if (isNothingBut(scene, s, model::Cues::type()) && !scene.protectedInTree(s) &&
            scene.instanceAround(s) == model::kNoSlot)
            return scene.id(s);
    return addBare(draft, "Cues of the scene", {}, {}, [](const base::Affine&, model::Detail&) {});
}

std::vector<CueLine> cueLines(const model::Scene& scene) {
    std::vector<CueLine> lines;
    for (const model::Slot s : scene.subtree(model::kNoSlot)) {
        const auto* cues = scene.detail(s) ? scene.facet<model::Cues>(s) : nullptr;
        for (std::size_t c = 0; cues != nullptr && c < cues->all.size(); ++c) {
            const model::Cue& cue = cues->all[c];
            for (const model::CueWhen& when : cue.when)
                for (const ObjectId cause : {when.object, when.by})
                    if (cause && cause != scene.id(s) && scene.find(cause) != model::kNoSlot)
                        lines.push_back({cause, scene.id(s), c, true, 0, cue.armed, model::textOf(when, scene)});
            for (const model::CueThen& then : cue.then) {
                if (then.to != model::CueThen::To::These || !then.hasTargets()) continue;
                for (const model::CueTarget& target : then.targets)
                    if (scene.find(target.object) != model::kNoSlot)
                        lines.push_back(
                            {scene.id(s), target.object, c, false, then.after, cue.armed, model::textOf(then, scene)});
            }
        }
    }
    return lines;
}

}  // namespace ops
