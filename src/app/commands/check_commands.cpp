// Checks: run, gone through, fixed, accepted.
#include <cmath>

#include "app/commands/all.h"
#include "app/dialogs/popovers.h"
#include "app/names.h"
#include "app/panels/checks_panel.h"
#include "app/panels/counts_button.h"
#include "app/shell/main_window.h"
#include "app/view/looks.h"
#include "app/view/view_widget.h"

namespace app {

using base::Vec3;
using check::Finding;

namespace {

class CheckCommands : public Rows {
  public:
    explicit CheckCommands(Shell& shell);

  private:
    void askReason();
    void showCheckCounts();
    void refreshChecks();
    void goToFinding(const Finding& finding);
};

CheckCommands::CheckCommands(Shell& shell) : Rows(shell) {
    Checks& checks = editor_.checks();
    const auto found = [this] { return editor_.isOpen() && !editor_.checks().findings().empty(); };
    const auto mendable = [this] {
        return canEdit() && editor_.checks().current() && editor_.checks().current()->mendable;
    };
    toggle(
        "desk.checks", tr("Checks"), tr("What a playtest would find, and how to fix it"), Qt::ALT | Qt::Key_C,
        [this] { shell_.toggleDesk(shell_.checks); }, [this] { return shell_.deskShows(shell_.checks); }, open());
    verb(
        "checks.all", tr("Check all"), tr("Looks at the whole scene anew, and at what all scenes use"), {},
        [this] { editor_.checks().checkAll(); }, open());
    verb(
        "checks.rules", tr("Rules of checks"), tr("What each looks for, how it is set, where it is off"), {},
        [this] {
            if (!shell_.deskShows(shell_.checks)) shell_.toggleDesk(shell_.checks);
            shell_.checks.showRules();
        },
        open());
    auto go = [this](int by) {
        editor_.checks().go(by);
        if (editor_.checks().current()) goToFinding(*editor_.checks().current());
    };
    verb(
        "checks.next", tr("Next finding"), tr("Brings into view what is wrong, from where it can be seen"), Qt::Key_F7,
        [go] { go(1); }, found);
    verb(
        "checks.previous", tr("Previous finding"), tr("Back to the one before"), Qt::SHIFT | Qt::Key_F7,
        [go] { go(-1); }, found);
    verb(
        "checks.mend", tr("Fix the finding"), tr("As one step"), {},
        [this] { editor_.checks().mend({*editor_.checks().current()}); }, mendable);
    verb(
        "checks.mendAll", tr("Fix all of this rule"), tr("Shows first what it would do"), {},
        [this] { editor_.checks().previewMending(editor_.checks().ofRule(editor_.checks().current()->rule)); },
        mendable);
    verb(
        "checks.accept", tr("Accept, with a reason"), tr("It stays, with a reason"), {}, [this] { askReason(); },
        [this] { return canEdit() && editor_.checks().current().has_value(); });
    connect(&checks, &Checks::changed, this, &CheckCommands::refreshChecks);
    connect(&checks, &Checks::progressed, this, &CheckCommands::showCheckCounts);
    connect(&editor_, &Editor::themeChanged, this, &CheckCommands::refreshChecks);
    connect(&checks, &Checks::currentChanged, commands_, &CommandSet::refresh);
    connect(&shell_.checks, &ChecksPanel::goTo, this, &CheckCommands::goToFinding);
    connect(&shell_.checks, &ChecksPanel::menuRequested, this, [this](QMenu* menu) {
        for (const char* id : {"checks.mend", "checks.mendAll", "checks.accept", "view.bring", "checks.next",
                               "checks.previous", "checks.rules"})
            menu->addAction(commands_->action(id));
        commands_->refresh();
    });
    connect(&shell_.checks, &ChecksPanel::reasonWanted, this, &CheckCommands::askReason);
    connect(&shell_.checksButton, &QToolButton::clicked, this, [this] { shell_.toggleDesk(shell_.checks); });
}

void CheckCommands::askReason() {
    new NamePopover(over(), tr("Why may it stay?"), tr("Accept"), {}, {},
                    [this](const QString& reason, const QString&) {
                        if (reason.trimmed().isEmpty()) return tr("Say in a few words why it may stay.");
                        shell_.checks.acceptCurrent(reason);
                        return QString();
                    });
}

/// What was found, in the trail: shapes tell as well as colours.
void CheckCommands::showCheckCounts() {
    const Checks& checks = editor_.checks();
    const std::size_t errors = checks.count(check::Severity::Error), cautions = checks.count(check::Severity::Caution),
                      hints = checks.count(check::Severity::Hint);
    const Theme& t = editor_.theme();
    CountsButton::Parts parts;
    if (errors > 0) parts << qMakePair(QStringLiteral("■ ") + counted(errors, tr("error"), tr("errors")), t.rose);
    if (cautions > 0)
        parts << qMakePair(QStringLiteral("▲ ") + counted(cautions, tr("caution"), tr("cautions")), t.lemon);
    if (hints > 0) parts << qMakePair(QStringLiteral("● ") + counted(hints, tr("hint"), tr("hints")), t.dim);
    if (!checks.isKnown())
        parts = {
            {checks.isChecking() ? tr("Looking… %1 %").arg(std::lround(checks.progress() * 100)) : tr("Not checked"),
             t.dim}};
    else if (parts.isEmpty())
        parts = {{tr("✓ No findings"), t.dim}};
    shell_.checksButton.setVisible(editor_.isOpen());
    shell_.checksButton.setParts(parts);
}

void CheckCommands::refreshChecks() {
    showCheckCounts();
    commands_->refresh();
}

/// From the side that is least in the way: sixteen places round it are tried.
void CheckCommands::goToFinding(const Finding& finding) {
    const model::Scene& scene = editor_.scene();
    const Slot slot = scene.find(finding.object);
    if (slot != kNoSlot) editor_.select({finding.object});
    base::Aabb box;
    if (slot != kNoSlot) {
        box = scene.subtreeBounds(slot);
        if (box.empty()) box.add(scene.world(slot).translation);
    }
    for (const model::Mark& mark : finding.marks) {
        if (mark.shape == model::Mark::Shape::Label) continue;
        if (finding.rule == "outside") continue;  // its mark is the whole level
        box.add(mark.a);
        if (mark.shape != model::Mark::Shape::Circle && mark.shape != model::Mark::Shape::Dot) box.add(mark.b);
    }
    if (box.empty()) return;
    const Vec3 target = box.centre();
    const double away = std::max(3.0, glm::length(box.size()) * 1.8);
    const Slot other = scene.find(finding.other);
    constexpr int kWays = 8;
    std::optional<Vec3> best;
    const Vec3 now = view().camera().eye - target;
    const double first = std::atan2(now.x, now.z);  // as near as can be to where one looks from
    for (const double up : {0.35, 0.7})
        for (int k = 0; k < kWays && !best; ++k) {
            const double turn = first + (k % 2 == 0 ? 1 : -1) * ((k + 1) / 2) * 2 * base::kPi / kWays;
            const Vec3 way = glm::normalize(Vec3(std::sin(turn), up, std::cos(turn)));
            const Vec3 eye = target + way * away;
            const auto hit = editor_.surfaceUnder({eye, -way}, false);
            const bool seen = !hit || hit->distance > away - glm::length(box.size()) / 2 - 0.05 ||
                              (slot != kNoSlot && scene.isWithin(hit->slot, slot)) ||
                              (other != kNoSlot && scene.isWithin(hit->slot, other));
            if (seen) best = eye;
        }
    view().eye().jumpTo(render::Camera::looking(best.value_or(target + Vec3(0, away, away * 0.2)), target));
}

}  // namespace

RowsPtr checkCommands(Shell& shell) {
    return std::make_unique<CheckCommands>(shell);
}

}  // namespace app
