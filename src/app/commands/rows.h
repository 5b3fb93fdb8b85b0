#pragma once
// The commands of a menu are rows: a verb does something, a toggle switches a member of a value, a choice sets one. A
// file of this folder has the rows of one menu and the functions they call; all.cpp lists the files.
#include <QCoreApplication>
#include <QObject>
#include <functional>
#include <memory>
#include <vector>

#include "app/commands/commands.h"
#include "app/shell/editor.h"
#include "app/shell/tools.h"
#include "app/view/looks.h"
#include "edit/session.h"

class QDockWidget;
class QMenu;

namespace edit {
class Draft;
}

namespace app {

class BroomCard;
class ChecksPanel;
class CountsButton;
class Desk;
class DifferencesPanel;
class FindField;
class LayCard;
class MainWindow;
class PropertiesPanel;
class RosterPanel;
class ScriptPanel;
class Stage;
class StockPanel;
class SurfacesPanel;
class TablePanel;
class TracePanel;
class CueSheet;
class Listening;
class RoutePanel;
class HandPanel;
class SoundsPanel;
class TraceStrip;
class ViewPanes;
class ViewWidget;

/// What commands act on: the scene that is open, and the places of the window.
struct Shell {
    Editor& editor;
    CommandSet& commands;
    MainWindow& window;
    Stage& stage;
    ViewPanes& panes;
    StockPanel& stock;
    RosterPanel& roster;
    PropertiesPanel& properties;
    QDockWidget &stockDock, &rosterDock, &propertiesDock, &deskDock;
    Desk& desk;
    TablePanel& table;
    SurfacesPanel& surfaces;
    DifferencesPanel& differences;
    ScriptPanel& script;
    ChecksPanel& checks;
    CountsButton& checksButton;
    BroomCard& broomCard;
    LayCard& layCard;
    FindField& find;
    TracePanel& trace;
    CueSheet& cues;
    SoundsPanel& sounds;
    RoutePanel& route;
    HandPanel& hand;
    Listening& listening;
    TraceStrip& traceStrip;
    QMenu* scriptMenu = nullptr;           ///< once there are menus
    std::unique_ptr<edit::Draft> preview;  ///< of what is pointed at in the Arrange menu

    /// The pane that is worked in.
    ViewWidget& view() const;
    bool canEdit() const { return editor.isOpen() && editor.session().readOnlyReason().empty(); }
    bool hasSelection() const { return editor.isOpen() && !editor.selection().empty(); }
    /// Opens the desk on a page; closes it when that is the one shown.
    void toggleDesk(QWidget& page);
    bool deskShows(const QWidget& page) const;
    void openDesk(QWidget& page);
};

class Rows : public QObject {
  public:
    explicit Rows(Shell& shell);
    static QString tr(const char* text) { return QCoreApplication::translate("Rows", text); }

  protected:
    using Run = std::function<void()>;
    using Asked = std::function<bool()>;
    void verb(const QString& id, const QString& text, const QString& tip, const QKeySequence& keys, Run run,
              Asked enabled = {});
    /// One that shows whether it is on.
    void toggle(const QString& id, const QString& text, const QString& tip, const QKeySequence& keys, Run run,
                Asked checked, Asked enabled = {});
    void toggle(const QString& id, const QString& text, const QString& tip, const QKeySequence& keys,
                bool Tools::*member);
    void toggle(const QString& id, const QString& text, const QString& tip, const QKeySequence& keys,
                bool Looks::*member);
    /// A member of a member.
    void toggle(const QString& id, const QString& text, const QString& tip, const QKeySequence& keys,
                bool& (*member)(Tools&));
    /// Takes a tool in the hand.
    void hand(const QString& id, const QString& text, const QString& tip, const QKeySequence& keys, Tool tool);
    /// Of several the one that is so.
    template <class Member>
    void choice(const QString& id, const QString& text, const QString& tip, const QKeySequence& keys,
                Member Tools::*member, const Member& value, Asked enabled = {}) {
        toggle(
            id, text, tip, keys, [this, member, value] { editor_.change(member, value); },
            [this, member, value] { return editor_.tools().*member == value; }, std::move(enabled));
    }
    template <class Member>
    void choice(const QString& id, const QString& text, const QString& tip, const QKeySequence& keys,
                Member Looks::*member, const Member& value, Asked enabled = {}) {
        toggle(
            id, text, tip, keys, [this, member, value] { change(member, value); },
            [this, member, value] { return editor_.looks().*member == value; }, std::move(enabled));
    }
    template <class Member>
    void change(Member Looks::*member, const Member& value) {
        Looks changed = editor_.looks();
        changed.*member = value;
        editor_.setLooks(changed);
    }

    /// When rows are enabled.
    Asked open() {
        return [this] { return editor_.isOpen(); };
    }
    Asked edits() {
        return [this] { return canEdit(); };
    }
    Asked selected() {
        return [this] { return hasSelection(); };
    }
    Asked changes() {
        return [this] { return canEdit() && hasSelection(); };
    }
    bool canEdit() const { return shell_.canEdit(); }
    bool hasSelection() const { return shell_.hasSelection(); }
    ViewWidget& view() const { return shell_.view(); }
    /// What cards and questions lie over.
    QWidget* over() const;

    Shell& shell_;
    Editor& editor_;
    CommandSet* commands_;
};

using RowsPtr = std::unique_ptr<Rows>;

/// Every menu's, in no order that matters.
std::vector<RowsPtr> allRows(Shell& shell);
/// What a command needs that is off, for tips and for who looks for it.
QString whyNot(const Shell& shell, const Command& command);

}  // namespace app
