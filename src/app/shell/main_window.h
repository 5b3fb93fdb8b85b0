#pragma once
// The window: trail on top, Stock, view, Roster over Properties, history strip and status below. Commands are
// registered in main_commands.cpp.
#include <QDockWidget>
#include <QFrame>
#include <QLabel>
#include <QMainWindow>
#include <QPointer>
#include <QTimer>
#include <QToolButton>
#include <thread>

#include "app/commands/commands.h"
#include "app/dialogs/progress_card.h"
#include "app/panels/desk.h"
#include "app/panels/differences_panel.h"
#include "app/panels/find_field.h"
#include "app/panels/history_strip.h"
#include "app/panels/number_field.h"
#include "app/panels/properties_panel.h"
#include "app/panels/roster_panel.h"
#include "app/panels/stock_panel.h"
#include "app/panels/surfaces_panel.h"
#include "app/panels/table_panel.h"
#include "app/shell/checks.h"
#include "app/shell/editor.h"
#include "app/shell/scripts.h"
#include "app/view/panes.h"
#include "model/facets/array.h"
#include "ops/group.h"
#include "ops/keep.h"

namespace app {

class Outside;
class TheirsBar;

class BroomCard;
class KindsWindow;
class RecordsWindow;
class ChecksPanel;
class CountsButton;
class HintLabel;
class ScriptCard;
class ScriptPanel;

class MainWindow : public QMainWindow {
    Q_OBJECT
  public:
    explicit MainWindow(Editor& editor);
    ~MainWindow() override;

    /// Opens a project; asks when another window has it, tells when it fails. True when one is open afterwards.
    /// A project's folder, or a file in one, or a model to be imported.
    void openPath(const QString& path, io::OpenMode mode, const QString& scene = {});
    bool openProject(const QString& path, io::OpenMode mode, const QString& scene = {});
    ViewWidget& view() { return *view_; }
    ViewPanes& panes() { return *panes_; }
    CommandSet& commands() { return *commands_; }
    /// Waits for a save that is being written.
    void finishSaving();

  protected:
    void closeEvent(QCloseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

  private:
    void makeTop();
    void makePanels();
    void makeBottom();
    void makeOverlays();
    void fillBar();
    QToolButton* makeDeskHandle();
    void placeBar();
    void addCommands();
    void addPrefabCommands();
    void addObjectCommands();
    /// Opens the desk on a page; closes it when that is the one shown.
    void toggleDesk(QWidget* page);
    bool deskShows(const QWidget* page) const { return deskDock_->isVisible() && desk_->page() == page; }
    void addDrawCommands();
    void addScriptCommands();
    void addCheckCommands();
    /// Brings a finding into view, from where it can be seen.
    void goToFinding(const check::Finding& finding);
    void refreshChecks();
    void showCheckCounts();
    void askReason();
    /// The commands that scripts offer, in the menus and in find.
    void refreshScripts();
    void startScript(const std::string& offer);
    void showRan(const ScriptJob& job, const script::Outcome& outcome);
    void trustScripts(bool use);
    model::Slot selectedInstance() const;
    base::ObjectId meantPrefab() const;
    bool allInstances() const;
    void takeApart(bool all);
    void showUses();
    const model::Item* meantItem() const;
    base::Status relabel(edit::Draft& draft, const model::Item& item, const std::string& label,
                         const std::string& folder);
    void renamePrefab();
    void movePrefab();
    void copyLinked();
    void makeEdition();
    void listUnused();
    void showPrefabFile();
    void group();
    void copyAgain();
    void makeArray(model::Array::Shape shape, const std::optional<base::Vec3>& about);
    void addCopying();
    void toggleTint();
    void ungroup(const ops::Ungrouping& how);
    void fillEntered();
    void addProjectCommands();
    void addEditCommands();
    void addViewCommands();
    void addArrangeCommands();
    void addSelectCommands();
    void addStockCommands();
    void addLookCommands();
    void addGrouping();
    void changeLooks(const std::function<void(Looks&)>& change);
    model::Slot selectedCamera();
    void keepView();
    void goToView(const QString& name);
    void keepSelection();
    void takeUpSelection(const QString& name);
    void showKept(ops::Kept what);
    void showSelected();
    void invertSelection();
    void selectAround(bool outward);
    void showPlan();
    void setClean(bool clean);
    void fillCaptionMenu(ViewWidget* view, QMenu* menu);
    void addArranging(const char* id, const QString& text, const QString& tip, const QKeySequence& keys,
                      const QString& verb, const std::function<base::Status(edit::Draft&)>& act,
                      const std::function<bool()>& enabled);
    base::ObjectId leader() const;
    void seatSunk();
    void fillStepMenu(QMenu* menu);
    void selectLike(const QString& what, const std::function<bool(model::Slot like, model::Slot other)>& same);
    void showManual(const QString& page);
    void fillMenus();
    QMenu* menuAt(const QString& path);
    QMenu* recentMenu();
    QString whyNot(const Command& command) const;
    void placeOverlays();
    void refreshTrail();
    void refreshStatus();
    void refreshOverlays();
    void refreshBanner();
    void refreshOutside();
    QString savedText(const std::vector<std::string>& unsaved) const;
    void offerImport(const QString& model);
    void ask(const char* name, const QString& title, const QString& text, const QString& yes,
             const std::function<void()>& then);
    /// Says at once when what must exist no longer does.
    void watchNeeded();
    void showMessage(const QString& text, bool isError);
    /// Puts what comes and goes between the Stock and the view, which stays in sight; it can be pulled off by its
    /// title.
    void dockBeside(QWidget* content, const char* name, const QString& title);
    /// The kinds, docked; those that were open already come to the front.
    KindsWindow& openKinds();
    void openRecords();
    void showRecordType(const QString& type);
    template <class Content>
    Content& openDocked(const char* name, const QString& title);
    void applyTheme();
    void rememberArrangement();
    void restoreArrangement();
    void firstArrangement();
    void toggleSides();
    void rememberRecent(const QString& path);
    QStringList recent() const;

    void newProject();
    void chooseProject();
    void newScene();
    void save();
    void saveAs();
    void saveAndThen(std::function<void()> next);
    /// Asks what to do with unsaved scenes; runs `next` unless it is called off.
    void askUnsaved(std::function<void()> next);
    void importModels();
    void importFiles(const QStringList& files);
    void exportScene();
    void copy();
    void cut();
    void paste();
    void duplicate();
    void removeSelected();
    void selectAll();
    void halfTurn();
    void nextAxes();
    void nextPivot();
    void flagSelected(std::uint8_t flag, const char* name);
    void fillFlagMenu(QMenu* menu, std::uint8_t flag, const char* all);
    void clearFlag(std::uint8_t flag, const char* name);
    void escape();
    bool canEdit() const;
    bool allSelected(std::uint8_t flag) const;
    bool hasSelection() const { return editor_.isOpen() && !editor_.selection().empty(); }

    Editor& editor_;
    CommandSet* commands_;
    Stage* stage_;
    ViewPanes* panes_;
    ViewWidget* view_;  ///< the pane that is worked in
    QByteArray beforeClean_;
    std::unique_ptr<edit::Draft> preview_;  // of what is pointed at in the Arrange menu
    QWidget* trail_ = nullptr;
    QHBoxLayout* enteredRow_ = nullptr;
    QToolButton *projectButton_ = nullptr, *sceneButton_ = nullptr;
    FindField* find_ = nullptr;
    QDockWidget *stockDock_ = nullptr, *rosterDock_ = nullptr, *propertiesDock_ = nullptr;
    StockPanel* stock_ = nullptr;
    RosterPanel* roster_ = nullptr;
    PropertiesPanel* properties_ = nullptr;
    QDockWidget* deskDock_ = nullptr;
    Desk* desk_ = nullptr;
    TablePanel* table_ = nullptr;
    SurfacesPanel* surfaces_ = nullptr;
    DifferencesPanel* differences_ = nullptr;
    ScriptPanel* script_ = nullptr;
    ChecksPanel* checks_ = nullptr;
    CountsButton* checksButton_ = nullptr;
    QPointer<ScriptCard> scriptCard_;
    std::map<QString, QMenu*> menus_;  // by path: "View/Light"
    QMenu* scriptMenu_ = nullptr;
    std::vector<QMenu*> scriptSubmenus_;
    QFrame* trustBar_ = nullptr;
    BroomCard* broomCard_ = nullptr;
    HistoryStrip* strip_ = nullptr;
    HintLabel* hint_ = nullptr;
    QLabel *cursorPlace_ = nullptr, *counts_ = nullptr, *saved_ = nullptr;
    QFrame *stepBar_ = nullptr, *drawBar_ = nullptr, *catchBar_ = nullptr, *flagBar_ = nullptr, *banner_ = nullptr,
           *toast_ = nullptr;
    QToolButton *selectTool_ = nullptr, *slideTool_ = nullptr, *dialTool_ = nullptr, *fitTool_ = nullptr,
                *allTool_ = nullptr, *axesButton_ = nullptr, *pivotButton_ = nullptr, *stepSwitch_ = nullptr,
                *hiddenButton_ = nullptr, *measureTool_ = nullptr, *stepUnit_ = nullptr, *protectedButton_ = nullptr,
                *aloneButton_ = nullptr, *solidTool_ = nullptr, *pointsTool_ = nullptr, *zoneTool_ = nullptr,
                *broomTool_ = nullptr, *catchButton_ = nullptr, *moreButton_ = nullptr;
    NumberField* stepField_ = nullptr;
    QLabel *bannerText_ = nullptr, *toastText_ = nullptr;
    QToolButton *bannerShow_ = nullptr, *bannerEdit_ = nullptr;
    std::unique_ptr<ProgressCard> progressCard_;
    QTimer toastTimer_, statusTimer_;
    std::thread saveWorker_;
    bool saving_ = false;
    std::function<void()> afterSave_;
    bool leaving_ = false, asking_ = false;
    std::unique_ptr<Outside> outside_;
    TheirsBar* theirsBar_ = nullptr;
    std::vector<std::string> missing_;  // of kinds that must exist
    bool lookForMissing_ = false;
    bool stockMeant_ = false;  // the Stock's menu is open
};

}  // namespace app
