// What the window's commands act on, and the buttons that stand for some.
#include "app/commands/all.h"
#include "app/dialogs/broom_card.h"
#include "app/shell/main_window.h"

#include <QDockWidget>
#include <QFrame>
#include <QLabel>
#include <QToolButton>
#include "app/dialogs/lay_card.h"
#include "app/dialogs/progress_card.h"
#include "app/kit/number_field.h"
#include "app/panels/desk.h"
#include "app/panels/differences_panel.h"
#include "app/panels/find_field.h"
#include "app/panels/hand_panel.h"
#include "app/panels/history_strip.h"
#include "app/panels/properties_panel.h"
#include "app/panels/roster_panel.h"
#include "app/panels/route_panel.h"
#include "app/panels/sounds_panel.h"
#include "app/panels/stock_panel.h"
#include "app/panels/surfaces_panel.h"
#include "app/panels/table_panel.h"
#include "app/shell/checks.h"
#include "app/shell/scripts.h"
#include "app/view/panes.h"

namespace app {

void MainWindow::makeCommands() {
    broomCard_ = new BroomCard(panes_, editor_);
    layCard_ = new LayCard(panes_, editor_);
    shell_.reset(new Shell{editor_,        *commands_,   *this,       *stage_,       *panes_,          *stock_,
                           *roster_,       *properties_, *stockDock_, *rosterDock_,  *propertiesDock_, *deskDock_,
                           *desk_,         *table_,      *surfaces_,  *differences_, *script_,         *checks_,
                           *checksButton_, *broomCard_,  *layCard_,   *find_,        *trace_,          *cues_,
                           *sounds_,       *route_,      *hand_,      *listening_,   *traceStrip_,     nullptr,
                           nullptr});
    commands_->setWhyNot([this](const Command& command) { return whyNot(*shell_, command); });
    rows_ = allRows(*shell_);
    wireButtons();
}

void MainWindow::wireButtons() {
    stepSwitch_->setToolTip(commands_->action("view.step")->toolTip());
    for (const auto& [button, id] : {std::pair{selectTool_, "view.select"},
                                     {slideTool_, "view.slide"},
                                     {dialTool_, "view.dial"},
                                     {fitTool_, "view.fit"},
                                     {allTool_, "view.allHandles"},
                                     {measureTool_, "view.measure"},
                                     {axesButton_, "view.axes"},
                                     {pivotButton_, "view.pivot"}}) {
        QAction* action = commands_->action(id);
        button->setToolTip(action->toolTip());
        button->setAccessibleName(action->text());
        connect(button, &QToolButton::clicked, action, &QAction::trigger);
    }
    stepSwitch_->setAccessibleName(tr("Move in steps"));
    stepUnit_->setToolTip(tr("Usual steps, and how they are counted"));
    stepUnit_->setAccessibleName(tr("Usual steps"));
    hiddenButton_->setToolTip(tr("What is hidden: list it, show one of them or all"));
    protectedButton_->setToolTip(tr("What is protected: list it, release one of them or all"));
    aloneButton_->setToolTip(tr("Only some objects are shown; click to see everything again"));
    connect(aloneButton_, &QToolButton::clicked, commands_->action("edit.alone"), &QAction::trigger);
    connect(stepSwitch_, &QToolButton::clicked, commands_->action("view.step"), &QAction::trigger);
}

}  // namespace app
