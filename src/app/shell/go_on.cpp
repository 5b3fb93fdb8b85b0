#include "app/shell/go_on.h"

#include <algorithm>

#include "app/names.h"
#include "edit/session.h"
#include "ops/copies.h"
#include "ops/row.h"

namespace app {

GoOn::GoOn(Editor& editor) : editor_(editor) {
    connect(&editor_, &Editor::sceneEdited, this, [this](const edit::SceneDelta& delta) {
        if (delta.created.size() > 10'000) return;
        for (Slot s : delta.created)
            if (editor_.scene().alive(s)) created_.insert(editor_.scene().id(s));
    });
    connect(&editor_, &Editor::historyChanged, this, &GoOn::stepped);
    connect(&editor_, &Editor::sceneShown, this, &GoOn::drop);
    connect(&editor_, &Editor::selectionChanged, this, [this] {
        if (!row_.empty() && editor_.isOpen() && editor_.selection() != row_.back() && created_.empty()) drop();
    });
}

void GoOn::drop() {
    created_.clear();
    const bool offered = offers();
    row_.clear();
    motion_.reset();
    if (offered) Q_EMIT changed();
}

/// A step that made what is selected goes on with the row; one that moved the last of it keeps it.
void GoOn::stepped() {
    if (!editor_.isOpen()) return drop();
    const auto now = static_cast<std::uint64_t>(editor_.session().history().present());
    if (now == step_) return;
    const bool forward = now > step_;
    step_ = now;
    const auto& selected = editor_.selection();
    const auto made = std::exchange(created_, {});
    constexpr std::size_t kMost = 200;
    const bool isNew = forward && !selected.empty() && selected.size() <= kMost &&
                       std::all_of(selected.begin(), selected.end(), [&](auto id) { return made.contains(id); });
    const bool isMoved = forward && made.empty() && !row_.empty() && selected == row_.back();
    if (!isNew && !isMoved) return drop();
    if (isNew) row_.push_back(selected);
    if (row_.size() > 2) row_.erase(row_.begin());
    motion_ = row_.size() == 2 ? ops::motionOfRow(editor_.scene(), row_[0], row_[1]) : std::nullopt;
    Q_EMIT changed();
}

std::vector<Piece> GoOn::next() const {
    std::vector<Piece> pieces;
    if (!motion_) return pieces;
    const model::Scene& scene = editor_.scene();
    constexpr std::size_t kMost = 500;
    for (base::ObjectId id : row_.back())
        for (Slot s : scene.subtree(scene.find(id)))
            if (scene.item(s) && !editor_.isHidden(s) && pieces.size() < kMost)
                pieces.push_back({scene.item(s), *motion_ * scene.world(s)});
    return pieces;
}

bool GoOn::take() {
    if (!motion_) return false;
    const auto ids = row_.back();
    return editor_.run("Go on with " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) -> base::Status {
        auto made = ops::copyMoved(draft, ids, *motion_);
        if (!made) return tl::unexpected(made.error());
        editor_.session().select(*made);
        return {};
    });
}

}  // namespace app
