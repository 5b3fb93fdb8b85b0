#pragma once
// The window: trail on top, Stock, view, Roster over Properties, history strip and status below. Commands are
// registered in main_commands.cpp.
#include <QMainWindow>
#include <QTimer>
#include <functional>
#include <map>
#include <memory>
#include <string>
#include <thread>
#include <vector>

#include "app/commands/rows.h"
#include "app/shell/kept_place.h"

class QDockWidget;
class QFrame;
class QHBoxLayout;
class QLabel;
class QToolButton;

namespace io {
struct ModelFile;
}

namespace app {

class HintLabel;
class HistoryStrip;
class NumberField;
class Outside;
class StartPage;
class ProgressCard;
class TheirsBar;
class TracePanel;
class CueSheet;
class ActStrip;
class Listening;
class RoutePanel;
class HandPanel;
class SoundsPanel;
class TraceStrip;

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

    /// Puts what comes and goes between the Stock and the view, which stays in sight; it can be pulled off by its
    /// title.
    void dockBeside(QWidget* content, const char* name, const QString& title);
    void firstArrangement();
    void toggleSides();
    /// `first`: the template that is offered before the others.
    void newProject(const QString& first = {});
    void chooseProject();
    void newScene();
    void save();
    void duplicateScene(const QString& scene = {});
    void showScenes();
    void showStart();
    void importModels();
    void exportScene();
    void exportSelection();

  protected:
    void closeEvent(QCloseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

  private:
    void exportAsGltf(const QString& name, const std::vector<base::ObjectId>& only);
    void makeTop();
    void makePanels();
    void makeBottom();
    void makeOverlays();
    void makeStepBar();
    void makeDrawBars();
    void wireStepField();
    void makeFlagBar();
    void makeActStrip();
    void makeBanner();
    void makeTrustBar();
    void makeToasts();
    void listen();
    void fillBar();
    QToolButton* makeDeskHandle();
    void placeBar();
    void makeCommands();
    void wireButtons();
    void fillEntered();
    void fillEnteredGroups();
    void fillEnteredSolid();
    void fillStepMenu(QMenu* menu);
    void fillMenus();
    QMenu* menuAt(const QString& path);
    QMenu* recentMenu();
    void placeOverlays();
    void refreshTrail();
    void refreshStatus();
    void refreshOverlays();
    void refreshBanner();
    void refreshOutside();
    void makeStart();
    void refreshStart();
    void leaveProject();
    void returnToPlace();
    QString keptScene(const QString& folder);
    void showPointerMenu(const QPoint& global);
    void showMenuOfSelected(const QPoint& global);
    void fillMenuOfSelected(QMenu* menu);
    QString makeScene(const std::string& name, const std::string& step,
                      const std::function<base::Status(edit::Draft&)>& verb);
    QString savedText(const std::vector<std::string>& unsaved) const;
    void offerImport(const QString& model);
    void ask(const char* name, const QString& title, const QString& text, const QString& yes,
             const std::function<void()>& then);
    /// Says at once when what must exist no longer does.
    void watchNeeded();
    void showMessage(const QString& text, bool isError);
    void applyTheme();
    void rememberArrangement();
    void restoreArrangement();

    void saveAndThen(std::function<void()> next);
    /// Asks what to do with unsaved scenes; runs `next` unless it is called off.
    void askUnsaved(std::function<void()> next);
    void importFiles(const QStringList& files);
    void takeModels(std::vector<io::ModelFile>&& models);
    void fillFlagMenu(QMenu* menu, std::uint8_t flag, const char* all);
    bool canEdit() const { return shell_ && shell_->canEdit(); }

    Editor& editor_;
    CommandSet* commands_;
    Stage* stage_;
    ViewPanes* panes_;
    ViewWidget* view_;  ///< the pane that is worked in
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
    TracePanel* trace_ = nullptr;
    CueSheet* cues_ = nullptr;
    Listening* listening_ = nullptr;
    SoundsPanel* sounds_ = nullptr;
    RoutePanel* route_ = nullptr;
    HandPanel* hand_ = nullptr;
    TraceStrip* traceStrip_ = nullptr;
    CountsButton* checksButton_ = nullptr;
    std::map<QString, QMenu*> menus_;  // by path: "View/Light"
    QFrame* trustBar_ = nullptr;
    BroomCard* broomCard_ = nullptr;
    LayCard* layCard_ = nullptr;
    std::unique_ptr<Shell> shell_;
    std::vector<RowsPtr> rows_;
    HistoryStrip* strip_ = nullptr;
    HintLabel* hint_ = nullptr;
    QLabel *cursorPlace_ = nullptr, *counts_ = nullptr, *saved_ = nullptr;
    ActStrip* actStrip_ = nullptr;
    QFrame *stepBar_ = nullptr, *drawBar_ = nullptr, *catchBar_ = nullptr, *flagBar_ = nullptr, *banner_ = nullptr,
           *toast_ = nullptr;
    QToolButton *selectTool_ = nullptr, *slideTool_ = nullptr, *dialTool_ = nullptr, *fitTool_ = nullptr,
                *allTool_ = nullptr, *axesButton_ = nullptr, *pivotButton_ = nullptr, *stepSwitch_ = nullptr,
                *hiddenButton_ = nullptr, *measureTool_ = nullptr, *stepUnit_ = nullptr, *protectedButton_ = nullptr,
                *aloneButton_ = nullptr, *solidTool_ = nullptr, *pointsTool_ = nullptr, *zoneTool_ = nullptr,
                *layTool_ = nullptr, *broomTool_ = nullptr, *catchButton_ = nullptr, *moreButton_ = nullptr;
    NumberField* stepField_ = nullptr;
    QLabel *bannerText_ = nullptr, *toastText_ = nullptr;
    QToolButton *bannerShow_ = nullptr, *bannerEdit_ = nullptr;
    std::unique_ptr<ProgressCard> progressCard_;
    QTimer toastTimer_, statusTimer_;
    std::thread saveWorker_;
    bool saving_ = false;
    std::function<void()> afterSave_;
    bool leaving_ = false, asking_ = false;
    StartPage* start_ = nullptr;
    KeptPlace place_;
    std::string shownScene_;
    std::unique_ptr<Outside> outside_;
    TheirsBar* theirsBar_ = nullptr;
    std::vector<std::string> missing_;  // of kinds that must exist
    bool lookForMissing_ = false;
};

}  // namespace app
