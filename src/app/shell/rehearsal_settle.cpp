// What falls of the selection, as it stands, and what of all that is loose would.
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/editor.h"
#include "app/shell/long_work.h"
#include "app/shell/rehearsal.h"
#include "edit/draft.h"
#include "ops/move.h"

namespace app {

void Rehearsal::settle() {
    if (!editor_.isOpen() || isOn()) return;
    if (editor_.selection().empty()) return editor_.say(tr("Select what is to settle."));
    rehearse::LevelSources from = sources();
    from.falling = editor_.selection();
    std::sort(from.falling->begin(), from.falling->end());
    auto level = std::make_shared<const rehearse::Level>(
        rehearse::levelOf(std::make_shared<const model::Scene>(editor_.scene()), from));
    falling_ = std::make_unique<rehearse::World>(*level);
    bool any = false;
    for (std::size_t i = 0; i < level->things.size(); ++i) any = any || falling_->isMoved(i);
    if (!any) {
        falling_.reset();
        return editor_.say(tr("Nothing of what is selected has a shape that could fall."));
    }
    settled_ = 0;
    begin(Mode::Settling, std::move(level));
    for (std::size_t i = 0; i < shownAt_.size(); ++i) shownAt_[i] = falling_->firstPose(i);
    Q_EMIT changed();
}

void Rehearsal::keepSettled() {
    if (mode_ != Mode::Settling) return;
    std::vector<base::ObjectId> ids;
    std::vector<base::Affine> motions;
    for (std::size_t i = 0; i < level_->things.size(); ++i) {
        if (!falling_->isMoved(i) || !level_->things[i].isLoose()) continue;
        if (!base::isFinite(falling_->pose(i).at)) continue;
        ids.push_back(level_->things[i].id);
        motions.push_back(falling_->motion(i));
    }
    end();
    editor_.run(tr("Settle %1").arg(counted(ids.size(), tr("object"), tr("objects"))).toStdString(),
                [&](edit::Draft& draft) { return ops::moveEach(draft, ids, motions); });
}

std::vector<rehearse::Rest> Rehearsal::wouldMove() {
    if (!editor_.isOpen() || isOn()) return {};
    constexpr double kSeconds = 6;
    const auto scene = std::make_shared<const model::Scene>(editor_.scene());
    const auto ids = rehearse::looseOf(*scene);
    const rehearse::LevelSources from = sources();
    base::Result<std::vector<rehearse::Rest>> rests = std::vector<rehearse::Rest>{};
    (void)onWorker(editor_.workOver(), tr("Letting loose things go"),
                   [&](base::Progress& progress) { rests = rehearse::settle(scene, from, ids, kSeconds, progress); });
    return rests ? std::move(*rests) : std::vector<rehearse::Rest>{};
}

}  // namespace app
