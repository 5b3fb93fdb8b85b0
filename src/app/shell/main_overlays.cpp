// What lies over the view: tools, steps, counts of what is hidden or protected, the banner, messages.
#include <QHBoxLayout>
#include <QMenu>
#include <QPointer>
#include <QVBoxLayout>

#include "app/dialogs/popovers.h"
#include "app/dialogs/theirs_bar.h"
#include "app/kit/parts.h"
#include "app/shell/main_window.h"

#include <QDockWidget>
#include <QFrame>
#include <QLabel>
#include <QToolButton>
#include "app/dialogs/progress_card.h"
#include "app/kit/number_field.h"
#include "app/panels/act_strip.h"
#include "app/panels/desk.h"
#include "app/panels/differences_panel.h"
#include "app/panels/find_field.h"
#include "app/panels/history_strip.h"
#include "app/panels/properties_panel.h"
#include "app/panels/roster_panel.h"
#include "app/panels/stock_panel.h"
#include "app/panels/surfaces_panel.h"
#include "app/panels/table_panel.h"
#include "app/shell/checks.h"
#include "app/shell/outside.h"
#include "app/shell/rehearsal.h"
#include "app/shell/scripts.h"
#include "app/shell/tools.h"
#include "app/view/looks.h"
#include "app/view/panes.h"
#include "base/text.h"
#include "edit/session.h"
#include "io/workspace.h"
#include "ops/objects.h"
#include "render/handle.h"

namespace app {
namespace {

QFrame* overlay(QWidget* parent) {
    auto* frame = new QFrame(parent);
    frame->setObjectName("overlay");
    return frame;
}

QHBoxLayout* barRow(QFrame* bar) {
    auto* row = new QHBoxLayout(bar);
    row->setContentsMargins(4, 4, 4, 4);
    row->setSpacing(2);
    return row;
}

QToolButton* barButton(QHBoxLayout* row, const char* name, const QString& text) {
    auto* b = new QToolButton;
    b->setObjectName(QLatin1String(name));
    b->setText(text);
    b->setIconSize({16, 16});
    b->setFocusPolicy(Qt::TabFocus);
    row->addWidget(b);
    return b;
}

}  // namespace

/// The menus of the bar's buttons, once there are commands.
void MainWindow::fillBar() {
    auto fill = [this](QToolButton* button, std::initializer_list<const char*> ids) {
        auto* menu = new QMenu(button);
        menu->setToolTipsVisible(true);
        connect(menu, &QMenu::aboutToShow, commands_, &CommandSet::refreshTips);
        for (const char* id : ids)
            if (QLatin1String(id) == QLatin1String("-"))
                menu->addSeparator();
            else
                menu->addAction(commands_->action(id));
        button->setMenu(menu);
    };
    fill(solidTool_, {"draw.box",
                      "draw.wedge",
                      "draw.cylinder",
                      "draw.cone",
                      "draw.sphere",
                      "draw.plane",
                      "draw.stairs",
                      "draw.wall",
                      "-",
                      "draw.arch",
                      "draw.winding",
                      "draw.curvedWall",
                      "draw.room",
                      "draw.prism",
                      "draw.ramp",
                      "draw.frustum",
                      "draw.pipe",
                      "draw.torus",
                      "-",
                      "solid.opening",
                      "solid.clip",
                      "solid.parts",
                      "-",
                      "draw.on"});
    fill(catchButton_, {"view.catchFlush", "view.catchProtected", "view.catchHidden"});
    fill(moreButton_, {"draw.box", "draw.stairs", "draw.wall", "points.place", "zone.draw", "draw.lay", "draw.broom",
                       "-", "view.measure", "view.catchFlush", "view.catchProtected", "view.catchHidden", "-",
                       "view.axes", "view.pivot", "view.step"});
    moreButton_->menu()->addMenu(stepUnit_->menu());
    solidTool_->setToolTip(tr("Draw solids: box, wall, arch, stairs …; cut, clip and pull them"));
    catchButton_->setToolTip(
        tr("What a drag catches by itself; hold 1 to 7 in a drag for corners, edges, faces, routes …"));
    for (const auto& [button, id] : {std::pair{pointsTool_, "points.place"},
                                     {zoneTool_, "zone.draw"},
                                     {layTool_, "draw.lay"},
                                     {broomTool_, "draw.broom"}}) {
        button->setToolTip(commands_->action(id)->toolTip());
        connect(button, &QToolButton::clicked, commands_->action(id), &QAction::trigger);
    }
    for (const auto& [button, name] : {std::pair{solidTool_, tr("Draw a solid")},
                                       {pointsTool_, tr("Place points")},
                                       {zoneTool_, tr("Draw a zone")},
                                       {layTool_, tr("Lay")},
                                       {broomTool_, tr("Broom")},
                                       {catchButton_, tr("Catches")}})
        button->setAccessibleName(name);
}

void MainWindow::makeOverlays() {
    makeStepBar();
    makeDrawBars();
    wireStepField();
    makeFlagBar();
    makeActStrip();
    makeBanner();
    makeTrustBar();
    makeToasts();
}

void MainWindow::makeStepBar() {
    // One bar along the bottom: the handle with its step, axes and pivot; what one draws with; measuring and catches.
    stepBar_ = overlay(panes_);
    auto* steps = barRow(stepBar_);
    for (const auto& [button, name, text] : {std::tuple{&allTool_, "allTool", tr("All")},
                                             {&slideTool_, "slideTool", tr("Slide")},
                                             {&dialTool_, "dialTool", tr("Turn")},
                                             {&fitTool_, "fitTool", tr("Size")}})
        *button = barButton(steps, name, text);
    selectTool_ = barButton(steps, "selectTool", {});
    selectTool_->hide();  // no handle: by its key, and in the menu
    auto* apart = new QFrame;
    apart->setObjectName("barLine");
    apart->setFixedSize(1, 18);
    steps->addWidget(apart);
    stepSwitch_ = new QToolButton;
    stepSwitch_->setObjectName("stepSwitch");
    stepSwitch_->setCheckable(true);
    stepSwitch_->setFocusPolicy(Qt::TabFocus);
    steps->addWidget(stepSwitch_);
    stepField_ = new NumberField(base::Quantity::Length, 2);
    stepField_->setObjectName("stepField");
    stepField_->setAccessibleName(tr("How far a step goes"));
    stepField_->setToolTip(tr("How far a step goes; 25 cm works too"));
    stepField_->setFixedWidth(54);
    steps->addWidget(stepField_);
    stepUnit_ = new QToolButton;
    stepUnit_->setObjectName("stepMenu");
    stepUnit_->setFocusPolicy(Qt::TabFocus);
    stepUnit_->setPopupMode(QToolButton::InstantPopup);
    auto* usual = new QMenu(tr("Usual steps"), stepUnit_);
    connect(usual, &QMenu::aboutToShow, this, [this, usual] { fillStepMenu(usual); });
    stepUnit_->setMenu(usual);
    steps->addWidget(stepUnit_);
    axesButton_ = barButton(steps, "axesButton", {});
    pivotButton_ = barButton(steps, "pivotButton", {});
    moreButton_ = barButton(steps, "moreTools", QStringLiteral("⋯"));
    moreButton_->setToolTip(tr("Drawing, measuring, catches, axes and pivot"));
    moreButton_->setAccessibleName(tr("Drawing, measuring, catches, axes and pivot"));
    moreButton_->setPopupMode(QToolButton::InstantPopup);
}

void MainWindow::makeDrawBars() {
    drawBar_ = overlay(panes_);
    auto* draws = barRow(drawBar_);
    for (const auto& [button, name] : {std::pair{&solidTool_, "solidTool"},
                                       {&pointsTool_, "pointsTool"},
                                       {&zoneTool_, "zoneTool"},
                                       {&layTool_, "layTool"},
                                       {&broomTool_, "broomTool"}})
        *button = barButton(draws, name, {});
    solidTool_->setPopupMode(QToolButton::InstantPopup);
    catchBar_ = overlay(panes_);
    auto* catches = barRow(catchBar_);
    measureTool_ = barButton(catches, "measureTool", {});
    catchButton_ = barButton(catches, "catchButton", {});
    catchButton_->setPopupMode(QToolButton::InstantPopup);
}

void MainWindow::wireStepField() {
    connect(stepField_, &NumberField::typed, this, [this](const QString& text) {
        const render::Task task = editor_.tools().activeTask();
        const bool turn = task == render::Task::Turn, fit = task == render::Task::Fit;
        const auto quantity = turn ? base::Quantity::Angle : fit ? base::Quantity::Factor : base::Quantity::Length;
        auto value = base::evaluateQuantity(text.toStdString(), quantity, editor_.tools().step(task).value);
        if (!value)
            editor_.report(tl::unexpected(value.error()));
        else if (*value < 0.001 || *value > (turn ? 180 : fit ? 10 : 1000))
            showMessage(turn ? tr("A step can be from 0.001° to 180°.")
                        : fit
                            ? tr("A step of size can be from 0.001 to 10.")
                            : tr("A step can be from %1 to %2.").arg(editor_.length(0.001, 3), editor_.length(1000, 0)),
                        true);
        else
            editor_.setStep(task, {*value, true});
        refreshOverlays();
    });
    connect(stepField_, &NumberField::stepped, this, [this](double d) {
        const render::Task task = editor_.tools().activeTask();
        const double most = task == render::Task::Turn ? 180 : task == render::Task::Fit ? 10 : 1000;
        editor_.setStep(task, {std::clamp(editor_.tools().step(task).value + d, std::abs(d), most), true});
    });
}

void MainWindow::makeFlagBar() {
    flagBar_ = overlay(panes_);
    auto* flags = new QHBoxLayout(flagBar_);
    flags->setContentsMargins(4, 2, 4, 2);
    flags->setSpacing(4);
    flags->addWidget(hiddenButton_ = new QToolButton);
    flags->addWidget(protectedButton_ = new QToolButton);
    hiddenButton_->setObjectName("hiddenCount");
    protectedButton_->setObjectName("protectedCount");
    flags->addWidget(aloneButton_ = new QToolButton);
    aloneButton_->setObjectName("aloneSwitch");
    aloneButton_->setText(tr("Alone"));
    for (const auto& [button, flag, all] : {std::tuple{hiddenButton_, model::flags::kHidden, "edit.showAll"},
                                            {protectedButton_, model::flags::kProtected, "edit.releaseAll"}}) {
        auto* menu = new QMenu(button);
        menu->setToolTipsVisible(true);
        connect(menu, &QMenu::aboutToShow, this,
                [this, menu, flag = flag, all = all] { fillFlagMenu(menu, flag, all); });
        button->setMenu(menu);
        button->setPopupMode(QToolButton::InstantPopup);
    }
}

void MainWindow::makeActStrip() {
    actStrip_ = new ActStrip(editor_, panes_);
    connect(actStrip_, &ActStrip::resized, this, &MainWindow::placeOverlays);
}

void MainWindow::makeBanner() {
    banner_ = new QFrame(panes_);
    banner_->setObjectName("banner");
    auto* bannerRow = new QHBoxLayout(banner_);
    bannerRow->setContentsMargins(12, 6, 8, 6);
    bannerText_ = label({}, "bannerText");
    bannerText_->setWordWrap(true);
    bannerRow->addWidget(bannerText_, 1);
    bannerRow->addWidget(bannerShow_ = new QToolButton);
    bannerRow->addWidget(bannerEdit_ = new QToolButton);
    bannerShow_->setObjectName("bannerShow");
    bannerShow_->setText(tr("Show damage"));
    bannerShow_->setToolTip(tr("List what is wrong, with file and line"));
    bannerEdit_->setObjectName("bannerEdit");
    bannerEdit_->setText(tr("Edit anyway"));
    bannerEdit_->setToolTip(
        tr("Allow changes. On saving, the damaged file is kept beside the new one, its name ending in .damaged"));
    connect(bannerShow_, &QToolButton::clicked, this, [this] {
        QStringList lines;
        for (const io::Damage& d : editor_.workspace().damage) lines << QString::fromStdString(io::toText(d));
        new ListPopover(this, tr("Damage found in the project’s files: %1").arg(lines.size()), "damageList", lines);
    });
    connect(bannerEdit_, &QToolButton::clicked, this, [this] {
        io::acceptDamage(editor_.workspace());
        refreshBanner();
        commands_->refresh();
        Q_EMIT editor_.selectionChanged();
    });
}

void MainWindow::makeTrustBar() {
    trustBar_ = new QFrame(panes_);
    trustBar_->setObjectName("banner");
    auto* trustRow = new QHBoxLayout(trustBar_);
    trustRow->setContentsMargins(12, 6, 8, 6);
    auto* question = label({}, "trustText");
    question->setWordWrap(true);
    trustRow->addWidget(question, 1);
    const std::tuple<const char*, QString, QString, bool> answers[] = {
        {"trustYes", tr("Use them"), tr("Their commands come into the menus, their behaviours work; asked once"), true},
        {"trustNo", tr("Not now"), tr("They are left alone; the menu Scripts has this later"), false}};
    for (const auto& [name, text, tip, use] : answers) {
        auto* b = new QToolButton;
        b->setObjectName(QLatin1String(name));
        b->setText(text);
        b->setToolTip(tip);
        trustRow->addWidget(b);
        connect(b, &QToolButton::clicked, this, [this, use = use] { editor_.scripts().answerTrust(use); });
    }
    trustBar_->hide();
}

void MainWindow::makeToasts() {
    theirsBar_ = new TheirsBar(panes_);
    theirsBar_->hide();
    connect(theirsBar_, &TheirsBar::readTheirs, outside_.get(), &Outside::readTheirs);
    connect(theirsBar_, &TheirsBar::keepMine, outside_.get(), &Outside::keepMine);
    connect(theirsBar_, &TheirsBar::compare, this,
            [this] { new ListPopover(this, tr("What others have changed"), "theirsList", outside_->compare()); });

    toast_ = overlay(panes_);
    auto* toastRow = new QHBoxLayout(toast_);
    toastRow->setContentsMargins(12, 7, 12, 7);
    toastText_ = label({}, "toastText");
    toastText_->setWordWrap(true);
    toastText_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    toastRow->addWidget(toastText_);
    toast_->hide();
    banner_->hide();
}

/// Usual values of the active step, the selection's own length, and how steps are counted.
void MainWindow::fillStepMenu(QMenu* menu) {
    menu->clear();
    menu->setToolTipsVisible(true);
    const render::Task task = editor_.tools().activeTask();
    const bool turn = task == render::Task::Turn, fit = task == render::Task::Fit;
    const std::vector<double> values = turn  ? std::vector<double>{1, 5, 10, 15, 22.5, 30, 45, 90}
                                       : fit ? std::vector<double>{0.01, 0.05, 0.1, 0.25, 0.5, 1}
                                             : std::vector<double>{0.01, 0.05, 0.1, 0.25, 0.5, 1, 2, 5, 10};
    const auto text = [&](double value) {
        if (turn || fit) return QString::number(value) + (turn ? tr("°") : tr(" ×"));
        const base::LengthUnitTraits& in = base::traits(editor_.unit());
        return QString("%1 %2").arg(value * in.perMetre).arg(in.sign);
    };
    for (double value : values) {
        QAction* one = menu->addAction(text(value), this, [this, task, value] {
            editor_.setStep(task, {value, true});
        });
        one->setCheckable(true);
        one->setChecked(std::abs(editor_.tools().step(task).value - value) < 1e-12);
    }
    if (!turn && !fit && editor_.isOpen() && !editor_.selection().empty()) {
        const model::Slot s = editor_.scene().find(editor_.selection().back());
        const base::Vec3 size = s == model::kNoSlot ? base::Vec3(0.0) : editor_.scene().subtreeBounds(s).size();
        menu->addSeparator();
        for (int axis = 0; axis < 3; ++axis) {
            if (size[axis] < 0.001 || size[axis] > 1000) continue;
            QAction* own = menu->addAction(
                tr("Own length along %1: %2").arg(QString("XYZ").mid(axis, 1), editor_.length(size[axis], 3)), this,
                [this, value = size[axis]] {
                    editor_.setStep(render::Task::Slide, {value, true});
                });
            own->setToolTip(tr("Steps as long as the selection: one beside the other, without a gap"));
        }
    }
    menu->addSeparator();
    if (!turn && !fit) menu->addAction(commands_->action("view.stepLattice"));
    for (const char* id : {"view.notFine", "view.fine", "view.veryFine"}) menu->addAction(commands_->action(id));
}

/// The groups side by side in the middle of the bottom edge; where there is no room, the right ones fold into "⋯".
void MainWindow::placeBar() {
    constexpr int kApart = 6, kEdge = 4;
    const QPointer<QWidget> had = focusWidget();
    const bool shown = editor_.isOpen() && !editor_.looks().clean && !editor_.rehearsal().isOn();
    moreButton_->hide();
    const std::initializer_list<QWidget*> folding = {pivotButton_, axesButton_, stepUnit_,
                                                     stepField_,   stepSwitch_, allTool_};
    for (QWidget* part : folding) part->show();
    for (QFrame* bar : {stepBar_, drawBar_, catchBar_}) bar->adjustSize();
    const int all = stepBar_->width() + drawBar_->width() + catchBar_->width() + 2 * kApart;
    const bool fits = all <= panes_->width() - 2 * kEdge;
    moreButton_->setVisible(!fits);
    if (!fits) stepBar_->adjustSize();
    for (QWidget* last : folding) {  // in the menu of more as well
        if (stepBar_->width() <= panes_->width() - 2 * kEdge) break;
        last->hide();
        stepBar_->adjustSize();
    }
    int x = std::max(0, (panes_->width() - (fits ? all : stepBar_->width())) / 2);
    for (QFrame* bar : {stepBar_, drawBar_, catchBar_}) {
        bar->setVisible(shown && (fits || bar == stepBar_));
        bar->move(x, panes_->height() - bar->height() - 12);
        x += bar->width() + kApart;
    }
    if (focusWidget() != had) view_->setFocus();  // what had the keyboard is folded away
}

void MainWindow::placeOverlays() {
    const int w = panes_->width(), h = panes_->height();
    placeBar();
    flagBar_->adjustSize();
    constexpr int kCaption = 110;  // of the view, in its other corner
    const bool beside = flagBar_->width() + kCaption < w;
    flagBar_->move(w - flagBar_->width() - 10, beside ? 10 : 40);
    int top = beside || !flagBar_->isVisible() ? 46 : flagBar_->geometry().bottom() + 6;
    actStrip_->setVisible(actStrip_->isWanted() && !editor_.looks().clean);
    if (actStrip_->isVisible()) {  // below the view's caption
        actStrip_->adjustSize();
        actStrip_->move(10, beside || !flagBar_->isVisible() ? 42 : flagBar_->geometry().bottom() + 6);
        top = actStrip_->geometry().bottom() + 6;
    }
    for (QWidget* bar :
         {static_cast<QWidget*>(banner_), static_cast<QWidget*>(trustBar_), static_cast<QWidget*>(theirsBar_)}) {
        if (!bar->isVisible()) continue;
        const int bw = std::min(w - 116, 700);
        const int needed = bar->heightForWidth(bw);
        bar->setGeometry((w - bw) / 2, top, bw, needed > 0 ? needed : bar->sizeHint().height());
        bar->raise();
        top = bar->geometry().bottom() + 8;
    }
    if (toast_->isVisible()) {
        // As wide as what it says, above the bar, and above the directions in the corner where it would reach them.
        constexpr int kDirections = 165;
        toastText_->setWordWrap(false);
        const int tw = std::min({w - 60, 620, toast_->sizeHint().width()});
        toastText_->setWordWrap(true);
        toast_->resize(tw, toast_->heightForWidth(tw));
        const int x = (w - tw) / 2, above = x < kDirections ? kDirections : stepBar_->height() + 24;
        toast_->move(x, h - above - toast_->height());
    }
}

void MainWindow::refreshOverlays() {
    const Theme& t = editor_.theme();
    const std::tuple<QToolButton*, const char*, Tool> tools[] = {{selectTool_, "mouse-pointer-2", Tool::Select},
                                                                 {slideTool_, nullptr, Tool::Slide},
                                                                 {dialTool_, nullptr, Tool::Dial},
                                                                 {fitTool_, nullptr, Tool::Fit},
                                                                 {allTool_, nullptr, Tool::All},
                                                                 {measureTool_, "ruler", Tool::Measure},
                                                                 {solidTool_, "solid", Tool::Solid},
                                                                 {pointsTool_, "points", Tool::Points},
                                                                 {zoneTool_, "zone", Tool::Zone},
                                                                 {layTool_, "lay", Tool::Lay},
                                                                 {broomTool_, "broom", Tool::Broom}};
    for (const auto& [button, name, tool] : tools) {
        const bool on = editor_.tools().tool == tool;
        button->setCheckable(true);
        button->setChecked(on);
        if (name != nullptr) button->setIcon(icon(name, on ? t.honey : t.dim));
    }
    catchButton_->setText(editor_.tools().catchFlush ? tr("✓ in line ▾") : tr("catch ▾"));
    const render::Task task = editor_.tools().activeTask();
    const bool turn = task == render::Task::Turn, fit = task == render::Task::Fit;
    const StepSetting& step = editor_.tools().step(task);
    stepSwitch_->setText(step.on ? QStringLiteral("✓") : QStringLiteral("–"));
    stepSwitch_->setAccessibleName(tr("Move in steps"));
    stepSwitch_->setChecked(step.on);
    stepField_->setSteps(turn ? 1 : fit ? 0.01 : 0.05, turn ? 5 : 0.05);
    stepField_->setUnit(turn || fit ? base::LengthUnit::Metre : editor_.unit());
    stepField_->setValue(step.value);
    const QString unit = turn ? QStringLiteral("°") : fit ? QStringLiteral("×") : base::traits(editor_.unit()).sign;
    stepUnit_->setText(unit + QStringLiteral(" ▾") +
                       (editor_.tools().fineness == Fineness::Fine       ? tr(" fine")
                        : editor_.tools().fineness == Fineness::VeryFine ? tr(" very fine")
                                                                         : QString()));
    const QString axes[] = {tr("World axes"), tr("Own axes"), tr("Parent axes"), tr("View axes")};
    const QString pivots[] = {tr("about base"), tr("about centre"), tr("each about its own"), tr("about picked point")};
    axesButton_->setText((fit ? tr("Own axes") : axes[static_cast<int>(editor_.tools().axes)]));
    axesButton_->setEnabled(!fit);
    axesButton_->setToolTip(fit ? tr("Size is always along an object’s own axes: along others it would be sheared")
                                : commands_->action("view.axes")->toolTip());
    pivotButton_->setText(pivots[static_cast<int>(editor_.tools().pivot)]);
    hiddenButton_->setVisible(editor_.hiddenCount() > 0);
    hiddenButton_->setText(tr("%1 hidden").arg(editor_.hiddenCount()));
    protectedButton_->setVisible(editor_.protectedCount() > 0);
    protectedButton_->setText(tr("%1 protected").arg(editor_.protectedCount()));
    aloneButton_->setVisible(editor_.isOpen() && editor_.isAlone());
    flagBar_->setVisible(!editor_.looks().clean && !editor_.rehearsal().isPlayed() &&
                         (editor_.hiddenCount() + editor_.protectedCount() > 0 || editor_.isAlone()));
    refreshStatus();
    placeOverlays();
}

void MainWindow::refreshBanner() {
    if (!editor_.isOpen()) return;
    const std::string& reason = editor_.session().readOnlyReason();
    const bool damaged = !editor_.workspace().damage.empty();
    banner_->setVisible(!reason.empty() || damaged);
    bannerText_->setText(!reason.empty()
                             ? QString::fromStdString(reason)
                             : tr("What could not be read in this project’s files: %1.")
                                   .arg(counted(editor_.workspace().damage.size(), tr("thing"), tr("things"))));
    const Scripts& scripts = editor_.scripts();
    trustBar_->setVisible(scripts.asksTrust());
    trustBar_->findChild<QLabel*>("trustText")
        ->setText(scripts.hungLastTime()
                      ? tr("The scripts of this project did not come to an end last time, and are left alone now.")
                      : tr("This project brings %1 of its own. They can change its scenes, and reach no file and no "
                           "network.")
                            .arg(counted(scripts.untrusted(), tr("script"), tr("scripts"))));
    bannerShow_->setVisible(damaged);
    bannerEdit_->setVisible(!editor_.workspace().damagedScenes.empty() && !reason.empty() &&
                            editor_.workspace().lock.has_value());
    placeOverlays();
}

void MainWindow::refreshOutside() {
    QStringList names;
    for (const io::OutsideChange& change : outside_->changes())
        names << editor_.documentName(change.document) + (change.what == io::OutsideChange::What::Gone  ? tr(" (gone)")
                                                          : change.what == io::OutsideChange::What::New ? tr(" (new)")
                                                          : change.isUnsaved ? tr(" (also changed here)")
                                                                             : QString());
    constexpr int kMostNamed = 6;
    const auto more = names.size() - kMostNamed;
    if (more > 0) names = names.mid(0, kMostNamed) << tr("%1 more").arg(more);
    theirsBar_->setVisible(!names.isEmpty());
    theirsBar_->setText(tr("Changed by others: %1.").arg(names.join(", ")));
    placeOverlays();
}

void MainWindow::showMessage(const QString& text, bool isError) {
    toastText_->setText((isError ? QStringLiteral("▲ ") : QString()) + text);
    toastText_->setStyleSheet(isError ? QString("color: %1").arg(editor_.theme().rose.name()) : QString());
    toast_->show();
    toast_->raise();
    placeOverlays();
    toastTimer_.start(isError ? 9000 : 5000);
}

/// All of them in one row, then each by name; a name takes the flag from it and selects it.
void MainWindow::fillFlagMenu(QMenu* menu, std::uint8_t flag, const char* all) {
    constexpr std::size_t kMost = 30;
    menu->clear();
    menu->addAction(commands_->action(all));
    menu->addSeparator();
    const bool hidden = flag == model::flags::kHidden;
    for (base::ObjectId id : editor_.flagged(flag, kMost)) {
        const auto name = editor_.scene().nameText(editor_.scene().find(id));
        QAction* one = menu->addAction(toQt(name), this, [this, id, flag, hidden] {
            const std::string what = (hidden ? "Show " : "Release ") + ops::describe(editor_.scene(), {&id, 1});
            editor_.run(what, [&](edit::Draft& draft) { return ops::setFlag(draft, {&id, 1}, flag, false); });
            editor_.select({id});
        });
        one->setEnabled(canEdit());
        one->setToolTip(hidden ? tr("Shows it again and selects it") : tr("Releases it and selects it"));
    }
    const std::size_t count = hidden ? editor_.hiddenCount() : editor_.protectedCount();
    if (count > kMost) menu->addAction(tr("and %1 more").arg(count - kMost))->setEnabled(false);
}

}  // namespace app
