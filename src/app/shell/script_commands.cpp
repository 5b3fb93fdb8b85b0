// Scripts in the menus: the page for them, and the commands that they declare.
#include <QDesktopServices>
#include <QHBoxLayout>
#include <QMenu>
#include <QPushButton>
#include <QUrl>

#include "app/dialogs/script_card.h"
#include "app/panels/script_panel.h"
#include "app/panels/script_templates.h"
#include "app/shell/main_window.h"

namespace app {

void MainWindow::addScriptCommands() {
    Scripts& scripts = editor_.scripts();
    const auto open = [this] { return editor_.isOpen(); };
    const auto change = [this] { return canEdit(); };
    commands_->add({"desk.script", tr("Script"), tr("Write, run and preview scripts"), Qt::ALT | Qt::Key_L,
                    [this] {
                        toggleDesk(script_);
                        if (deskShows(script_))
                            resizeDocks({deskDock_}, {std::max(300, deskDock_->height())}, Qt::Vertical);
                    },
                    open, [this] { return deskShows(script_); }});
    commands_->add({"scripts.console", tr("Try a line"), tr("Runs one line of Lua as a step of its own"),
                    Qt::ALT | Qt::SHIFT | Qt::Key_L,
                    [this] {
                        if (!deskShows(script_)) toggleDesk(script_);
                        script_->focusConsole();
                    },
                    open});
    for (const ScriptTemplate& one : scriptTemplates())
        commands_->add({("scripts.new." + one.key.toStdString()).c_str(),
                        tr("New script: %1").arg(one.label.toLower()),
                        one.help,
                        {},
                        [this, key = one.key] {
                            if (!deskShows(script_)) toggleDesk(script_);
                            script_->begin(key);
                        },
                        open});
    commands_->add({"scripts.run",
                    tr("Run the script"),
                    tr("Runs the text in the Script page, as one step"),
                    {},
                    [this] { script_->runAll(true); },
                    change});
    commands_->add({"scripts.runSelection",
                    tr("Run the selected lines"),
                    tr("Runs only what is selected in the text"),
                    {},
                    [this] { script_->runSelection(); },
                    change});
    commands_->add({"scripts.preview",
                    tr("Preview the script"),
                    tr("Shows what a run would do, and does nothing"),
                    {},
                    [this] { script_->runAll(false); },
                    change});
    commands_->add({"scripts.accept",
                    tr("Do what the preview shows"),
                    tr("Makes it one step"),
                    {},
                    [this] { editor_.scripts().acceptPreview(); },
                    [this] { return canEdit() && editor_.scripts().preview().has_value(); }});
    commands_->add({"scripts.drop",
                    tr("Forget the preview"),
                    tr("Nothing was done; the ghosts go"),
                    {},
                    [this] { editor_.scripts().dropPreview(); },
                    [this] { return editor_.scripts().preview().has_value(); }});
    commands_->add({"scripts.repeat", tr("Run the last script again"), tr("With the values it had"),
                    Qt::CTRL | Qt::ALT | Qt::Key_R, [this] { editor_.scripts().repeat(); },
                    [this] { return canEdit() && editor_.scripts().canRepeat(); }});
    commands_->add({"scripts.everywhere",
                    tr("Preview the last script in all scenes"),
                    tr("Shows what it would do in each; doing it is one step over all of them"),
                    {},
                    [this] { editor_.scripts().previewEverywhere(); },
                    [this] {
                        return canEdit() && editor_.scripts().canRepeat() &&
                               editor_.session().project().sceneNames.size() > 1;
                    }});
    commands_->add({"scripts.clearMarks",
                    tr("Clear what scripts drew"),
                    tr("Marks of the last run go"),
                    {},
                    [this] { editor_.scripts().clearMarks(); },
                    [this] { return !editor_.scripts().marks().empty(); }});
    commands_->add(
        {"scripts.trust",
         tr("Use this project’s scripts"),
         tr("Its commands come into the menus, its behaviours work; asked once for a folder"),
         {},
         [this] { trustScripts(true); },
         [this] { return editor_.isOpen() && !editor_.scripts().isTrusted() && editor_.scripts().untrusted() > 0; }});
    commands_->add({"scripts.personal",
                    tr("Folder of personal scripts"),
                    tr("Opens the folder whose scripts are there in all projects"),
                    {},
                    [this] {
                        const QString folder = QString::fromStdString(editor_.scripts().personalFolder().string());
                        QDir().mkpath(folder);
                        editor_.scripts().refresh();
                        if (!QDesktopServices::openUrl(QUrl::fromLocalFile(folder))) editor_.say(folder);
                    }});
    connect(&scripts, &Scripts::shelfChanged, this, &MainWindow::refreshScripts);
    connect(&scripts, &Scripts::ran, this, &MainWindow::showRan);
    connect(&scripts, &Scripts::previewChanged, this, [this] {
        if (editor_.scripts().preview()) {
            if (!deskShows(script_)) toggleDesk(script_);
            desk_->showPage(script_);
        }
        commands_->refresh();
    });
    connect(&scripts, &Scripts::marksChanged, commands_, &CommandSet::refresh);
    connect(&editor_, &Editor::projectChanged, this, [this] { refreshScripts(); });
    editor_.showWorkOver(panes_);
}

void MainWindow::trustScripts(bool use) {
    editor_.scripts().answerTrust(use);
    refreshBanner();
}

void MainWindow::refreshScripts() {
    if (scriptMenu_ == nullptr) return;
    commands_->removeStarting("script.");
    for (QMenu* submenu : scriptSubmenus_) delete submenu;
    scriptSubmenus_.clear();
    Scripts& scripts = editor_.scripts();
    std::map<QString, QMenu*> menus;
    QStringList problems;
    for (const script::Offer& offer : scripts.shelf().offers()) {
        QMenu* menu = scriptMenu_;
        QString path;
        for (const QString& part : QString::fromStdString(offer.menu).split('/', Qt::SkipEmptyParts)) {
            path += '/' + part;
            QMenu*& sub = menus[path];
            if (sub == nullptr) {
                sub = new QMenu(part, menu);
                sub->setToolTipsVisible(true);
                menu->insertMenu(menu == scriptMenu_ ? commands_->action("desk.script") : nullptr, sub);
                if (menu == scriptMenu_) scriptSubmenus_.push_back(sub);
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
        commands_->add({id, QString::fromStdString(offer.spec.name),
                        QString::fromStdString(offer.spec.help.empty() ? offer.spec.name : offer.spec.help), keys,
                        [this, offer] { startScript(offer.id); },
                        [this, offer] { return canEdit() && editor_.scripts().isEnabled(offer); }});
        commands_->setPlace(id, tr("Scripts") + QString(path).replace("/", " › "));
        menu->addAction(commands_->action(id));
        addAction(commands_->action(id));
    }
    for (const std::string& conflict : scripts.shelf().conflicts()) problems << QString::fromStdString(conflict);
    if (!problems.isEmpty()) showMessage(problems.join('\n'), true);
    commands_->refresh();
    refreshBanner();
}

void MainWindow::startScript(const std::string& id) {
    Scripts& scripts = editor_.scripts();
    for (const script::Offer& offer : scripts.shelf().offers()) {
        if (offer.id != id) continue;
        if (scriptCard_ != nullptr) scriptCard_->close();
        if (offer.spec.form.empty() && !offer.spec.stays) return void(scripts.run(scripts.jobOf(offer, {})));
        scriptCard_ = new ScriptCard(panes_, editor_, scripts, offer);
        return;
    }
}

/// The Script page has all of it; here the one line that matters.
void MainWindow::showRan(const ScriptJob& job, const script::Outcome& outcome) {
    commands_->refresh();
    if (!outcome.done())
        return showMessage(QString::fromStdString(outcome.message.substr(0, outcome.message.find('\n'))), true);
    if (editor_.scripts().preview() || job.source.name == "console") return;
    const QString last = outcome.said.empty() ? QString() : QString::fromStdString(outcome.said.back().text);
    showMessage(last.isEmpty() ? job.name : job.name + ": " + last, false);
}

}  // namespace app
