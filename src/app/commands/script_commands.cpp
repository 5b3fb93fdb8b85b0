// Scripts in the menus: the page for them, and the commands that they declare.
#include <QDesktopServices>
#include <QDir>
#include <QHBoxLayout>
#include <QMenu>
#include <QPointer>
#include <QPushButton>
#include <QUrl>

#include "app/commands/all.h"
#include "app/dialogs/script_card.h"
#include "app/names.h"
#include "app/panels/desk.h"
#include "app/panels/script_panel.h"
#include "app/panels/script_templates.h"
#include "app/shell/main_window.h"
#include "app/shell/scripts.h"
#include "app/view/panes.h"
#include "edit/session.h"

namespace app {

namespace {

class ScriptCommands : public Rows {
  public:
    explicit ScriptCommands(Shell& shell);

  private:
    void refreshScripts();
    void startScript(const std::string& id);
    void showRan(const ScriptJob& job, const script::Outcome& outcome);

    QPointer<ScriptCard> scriptCard_;
    std::vector<QMenu*> scriptSubmenus_;
};

ScriptCommands::ScriptCommands(Shell& shell) : Rows(shell) {
    Scripts& scripts = editor_.scripts();
    toggle(
        "desk.script", tr("Script"), tr("Write, run and preview scripts"), Qt::ALT | Qt::Key_L,
        [this] {
            shell_.toggleDesk(shell_.script);
            if (shell_.deskShows(shell_.script))
                shell_.window.resizeDocks({&shell_.deskDock}, {std::max(300, shell_.deskDock.height())}, Qt::Vertical);
        },
        [this] { return shell_.deskShows(shell_.script); }, open());
    verb(
        "scripts.console", tr("Try a line"), tr("Runs one line of Lua as a step of its own"),
        Qt::ALT | Qt::SHIFT | Qt::Key_L,
        [this] {
            if (!shell_.deskShows(shell_.script)) shell_.toggleDesk(shell_.script);
            shell_.script.focusConsole();
        },
        open());
    for (const ScriptTemplate& one : scriptTemplates())
        verb(("scripts.new." + one.key.toStdString()).c_str(), tr("New script: %1").arg(one.label.toLower()), one.help,
             {},
             [this, key = one.key] {
                 if (!shell_.deskShows(shell_.script)) shell_.toggleDesk(shell_.script);
                 shell_.script.begin(key);
             },
             open());
    verb(
        "scripts.run", tr("Run the script"), tr("Runs the text in the Script page, as one step"), {},
        [this] { shell_.script.runAll(true); }, edits());
    verb(
        "scripts.runSelection", tr("Run the selected lines"), tr("Runs only what is selected in the text"), {},
        [this] { shell_.script.runSelection(); }, edits());
    verb(
        "scripts.preview", tr("Preview the script"), tr("Shows what a run would do, and does nothing"), {},
        [this] { shell_.script.runAll(false); }, edits());
    verb(
        "scripts.accept", tr("Do what the preview shows"), tr("Makes it one step"), {},
        [this] { editor_.scripts().acceptPreview(); },
        [this] { return canEdit() && editor_.scripts().preview().has_value(); });
    verb(
        "scripts.drop", tr("Forget the preview"), tr("Nothing was done; the ghosts go"), {},
        [this] { editor_.scripts().dropPreview(); }, [this] { return editor_.scripts().preview().has_value(); });
    verb(
        "scripts.repeat", tr("Run the last script again"), tr("With the values it had"), Qt::CTRL | Qt::ALT | Qt::Key_R,
        [this] { editor_.scripts().repeat(); }, [this] { return canEdit() && editor_.scripts().canRepeat(); });
    verb(
        "scripts.everywhere", tr("Preview the last script in all scenes"),
        tr("Shows what it would do in each; doing it is one step over all of them"), {},
        [this] { editor_.scripts().previewEverywhere(); },
        [this] {
            return canEdit() && editor_.scripts().canRepeat() && editor_.session().project().sceneNames.size() > 1;
        });
    verb(
        "scripts.clearMarks", tr("Clear what scripts drew"), tr("Marks of the last run go"), {},
        [this] { editor_.scripts().clearMarks(); }, [this] { return !editor_.scripts().marks().empty(); });
    verb(
        "scripts.trust", tr("Use this project’s scripts"),
        tr("Its commands come into the menus, its behaviours work; asked once for a folder"), {},
        [this] { editor_.scripts().answerTrust(true); },
        [this] { return editor_.isOpen() && !editor_.scripts().isTrusted() && editor_.scripts().untrusted() > 0; });
    verb("scripts.personal", tr("Folder of personal scripts"),
         tr("Opens the folder whose scripts are there in all projects"), {}, [this] {
             const QString folder = QString::fromStdString(editor_.scripts().personalFolder().string());
             QDir().mkpath(folder);
             editor_.scripts().refresh();
             if (!QDesktopServices::openUrl(QUrl::fromLocalFile(folder))) editor_.say(folder);
         });
    connect(&scripts, &Scripts::shelfChanged, this, &ScriptCommands::refreshScripts);
    connect(&scripts, &Scripts::ran, this, &ScriptCommands::showRan);
    connect(&scripts, &Scripts::previewChanged, this, [this] {
        if (editor_.scripts().preview()) {
            if (!shell_.deskShows(shell_.script)) shell_.toggleDesk(shell_.script);
            shell_.desk.showPage(&shell_.script);
        }
        commands_->refresh();
    });
    connect(&scripts, &Scripts::marksChanged, commands_, &CommandSet::refresh);
    connect(&editor_, &Editor::projectChanged, this, [this] { refreshScripts(); });
    editor_.showWorkOver(&shell_.panes);
}

void ScriptCommands::refreshScripts() {
    QMenu* const top = shell_.scriptMenu;
    if (top == nullptr) return;
    commands_->removeStarting("script.");
    for (QMenu* submenu : scriptSubmenus_) delete submenu;
    scriptSubmenus_.clear();
    Scripts& scripts = editor_.scripts();
    std::map<QString, QMenu*> menus;
    QStringList problems;
    for (const script::Offer& offer : scripts.shelf().offers()) {
        QMenu* menu = top;
        QString path;
        for (const QString& part : QString::fromStdString(offer.menu).split('/', Qt::SkipEmptyParts)) {
            path += '/' + part;
            QMenu*& sub = menus[path];
            if (sub == nullptr) {
                sub = new QMenu(part, menu);
                sub->setToolTipsVisible(true);
                menu->insertMenu(menu == top ? commands_->action("desk.script") : nullptr, sub);
                if (menu == top) scriptSubmenus_.push_back(sub);
            }
            menu = sub;
        }
        const QString id = QString::fromStdString(offer.id);
        QKeySequence keys = QKeySequence::fromString(QString::fromStdString(offer.spec.shortcut));
        for (const Command& command : commands_->all())
            if (!keys.isEmpty() && commands_->action(command.id)->shortcut() == keys) {
                problems << tr("%1 of %2 is the shortcut of “%3” already.")
                                .arg(keys.toString(QKeySequence::NativeText),
                                     QString::fromStdString(scripts.shelf().scripts()[offer.script].name),
                                     command.text);
                keys = {};
            }
        verb(
            id, QString::fromStdString(offer.spec.name),
            QString::fromStdString(offer.spec.help.empty() ? offer.spec.name : offer.spec.help), keys,
            [this, offer] { startScript(offer.id); },
            [this, offer] { return canEdit() && editor_.scripts().isEnabled(offer); });
        commands_->setPlace(id, tr("Scripts") + QString(path).replace("/", " › "));
        menu->addAction(commands_->action(id));
        shell_.window.addAction(commands_->action(id));
    }
    for (const std::string& conflict : scripts.shelf().conflicts()) problems << QString::fromStdString(conflict);
    if (!problems.isEmpty()) Q_EMIT editor_.message(problems.join('\n'), true);
    commands_->refresh();
}

void ScriptCommands::startScript(const std::string& id) {
    Scripts& scripts = editor_.scripts();
    for (const script::Offer& offer : scripts.shelf().offers()) {
        if (offer.id != id) continue;
        if (scriptCard_ != nullptr) scriptCard_->close();
        if (offer.spec.form.empty() && !offer.spec.stays) return void(scripts.run(scripts.jobOf(offer, {})));
        scriptCard_ = new ScriptCard(&shell_.panes, editor_, scripts, offer);
        return;
    }
}

/// The Script page has all of it; here the one line that matters.
void ScriptCommands::showRan(const ScriptJob& job, const script::Outcome& outcome) {
    commands_->refresh();
    if (!outcome.done())
        return Q_EMIT editor_.message(QString::fromStdString(outcome.message.substr(0, outcome.message.find('\n'))),
                                      true);
    if (editor_.scripts().preview() || job.source.name == "console") return;
    const QString last = outcome.said.empty() ? QString() : QString::fromStdString(outcome.said.back().text);
    Q_EMIT editor_.message(last.isEmpty() ? job.name : job.name + ": " + last, false);
}

}  // namespace

RowsPtr scriptCommands(Shell& shell) {
    return std::make_unique<ScriptCommands>(shell);
}

}  // namespace app
