#include "app/commands/arranging.h"

#include "edit/draft.h"
#include "edit/session.h"
#include "ops/objects.h"

namespace app {

namespace {

constexpr std::size_t kMostPreviewed = 2000;

}  // namespace

void Arranging::addArranging(const char* id, const QString& text, const QString& tip, const QKeySequence& keys,
                             const QString& does, const std::function<base::Status(edit::Draft&)>& act,
                             const Asked& enabled) {
    verb(
        id, text, tip, keys,
        [this, does, act] {
            shell_.preview.reset();
            editor_.run(does.toStdString() + " " + ops::describe(editor_.scene(), editor_.selection()), act);
        },
        enabled);
    QAction* action = commands_->action(id);
    connect(action, &QAction::hovered, this, [this, action, act] {
        shell_.preview.reset();
        if (!action->isEnabled() || editor_.selection().size() > kMostPreviewed) return;
        shell_.preview = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(), "Preview");
        if (!shell_.preview->state() || !act(*shell_.preview)) shell_.preview.reset();
    });
}

}  // namespace app
