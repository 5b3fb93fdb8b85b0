#include "app/panels/script_panel.h"

#include <QElapsedTimer>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QMenu>
#include <QMessageBox>
#include <QSplitter>
#include <QVBoxLayout>

#include "app/dialogs/popovers.h"
#include "app/dialogs/theirs_bar.h"
#include "app/kit/folding_bar.h"
#include "app/kit/parts.h"
#include "app/kit/question.h"
#include "app/names.h"
#include "app/panels/script_templates.h"
#include "app/shell/editor.h"
#include "base/files.h"
#include "edit/session.h"
#include "io/outside.h"
#include "io/workspace.h"
#include "ops/properties.h"

namespace app {

namespace fs = std::filesystem;

namespace {

/// As a text of Lua.
QString inLua(std::string_view text) {
    QString q = toQt(text);
    q.replace('\\', "\\\\").replace('"', "\\\"").replace('\n', "\\n");
    return '"' + q + '"';
}

}  // namespace

ScriptPanel::ScriptPanel(Editor& editor, Scripts& scripts, QWidget* parent)
    : QWidget(parent), app_(editor), scripts_(scripts), editor_(new LuaEditor) {
    setObjectName("scriptPanel");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);

    column->addWidget(makeBar());
    column->addWidget(theirsBar_ = new TheirsBar(this));

    auto* split = new QSplitter;
    split->setChildrenCollapsible(false);
    column->addWidget(split, 1);
    split->addWidget(editor_);
    right_ = new QStackedWidget;
    split->addWidget(right_);
    split->setStretchFactor(0, 5);
    split->setStretchFactor(1, 3);
    split->setSizes({620, 420});

    right_->addWidget(makeTalk());
    right_->addWidget(makePreview());
    listen();
    editor_->setTheme(app_.theme());
    begin("plain");
    refreshFiles();
}

QWidget* ScriptPanel::makeBar() {
    auto* bar = new FoldingBar;
    bar->row()->setContentsMargins(8, 3, 8, 3);
    bar->add(files_ = new QComboBox);
    files_->setObjectName("scriptFiles");
    files_->setAccessibleName(tr("Which script is shown"));
    files_->setToolTip(tr("Which script is shown: the project’s, then your own"));
    files_->setMinimumWidth(150);
    auto button = [&](const QString& text, const QString& tip, const char* name) {
        auto* b = app::button<QToolButton>(name, text, tip);
        bar->addFolding(b);
        return b;
    };
    new_ = button(tr("New ▾"), tr("A new script from a template"), "scriptNew");
    new_->setPopupMode(QToolButton::InstantPopup);
    auto* templates = new QMenu(new_);
    templates->setToolTipsVisible(true);
    for (const ScriptTemplate& one : scriptTemplates()) {
        QAction* action = templates->addAction(one.label, this, [this, key = one.key] { begin(key); });
        action->setToolTip(one.help);
    }
    new_->setMenu(templates);
    save_ =
        button(tr("Save"), tr("Writes the file; its commands are in the menus at once (Ctrl+S here)"), "scriptSave");
    run_ = button(tr("Run"), tr("Runs the text as it stands, as one step (Ctrl+Enter here)"), "scriptRun");
    runSelection_ = button(tr("Run selection"), tr("Runs only what is selected in the text"), "scriptRunSelection");
    preview_ = button(tr("Preview"), tr("Shows what a run would do, and does nothing"), "scriptPreviewText");
    insert_ = button(tr("Insert ▾"), tr("A few lines about the selected object"), "scriptInsert");
    insert_->setPopupMode(QToolButton::InstantPopup);
    auto* snippets = new QMenu(insert_);
    connect(snippets, &QMenu::aboutToShow, this, [this, snippets] { fillSnippets(snippets); });
    insert_->setMenu(snippets);
    bar->addStretch();
    bar->add(state_ = new QLabel);
    state_->setObjectName("quiet");
    return bar;
}

/// What runs said, and a line to try.
QWidget* ScriptPanel::makeTalk() {
    auto* talk = new QWidget;
    auto* talkColumn = new QVBoxLayout(talk);
    talkColumn->setContentsMargins(8, 0, 8, 6);
    talkColumn->setSpacing(4);
    talkColumn->addWidget(output_ = new QPlainTextEdit);
    output_->setObjectName("scriptOutput");
    output_->setAccessibleName(tr("What runs said"));
    output_->setReadOnly(true);
    output_->setFrameShape(QFrame::NoFrame);
    output_->setMaximumBlockCount(5000);
    output_->setPlaceholderText(tr("What a script says appears here."));
    talkColumn->addWidget(console_ = new QLineEdit);
    console_->setObjectName("scriptConsole");
    console_->setAccessibleName(tr("Try a line of Lua"));
    console_->setPlaceholderText(tr("Try a line:  #find(\"kind:Lantern\")"));
    console_->setToolTip(tr("Runs a line as a step of its own; what it gives is shown. Up and Down: earlier lines"));
    console_->installEventFilter(this);
    connect(console_, &QLineEdit::returnPressed, this, &ScriptPanel::console);
    return talk;
}

/// What a run would do, and whether it may.
QWidget* ScriptPanel::makePreview() {
    auto* would = new QWidget;
    auto* wouldColumn = new QVBoxLayout(would);
    wouldColumn->setContentsMargins(8, 2, 8, 6);
    wouldColumn->addWidget(previewTitle_ = new QLabel);
    previewTitle_->setObjectName("scriptPreviewTitle");
    wouldColumn->addWidget(table_ = new QTableWidget(0, 3));
    table_->setObjectName("scriptPreviewTable");
    table_->setAccessibleName(tr("What the script would do"));
    table_->setHorizontalHeaderLabels({QString(), tr("Object"), tr("Change")});
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(24);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Interactive);
    table_->horizontalHeader()->resizeSection(1, 150);
    table_->horizontalHeader()->setStretchLastSection(true);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setShowGrid(false);
    auto* answers = new QHBoxLayout;
    auto* accept = new QPushButton(tr("Do it"));
    accept->setObjectName("scriptAccept");
    accept->setToolTip(tr("Makes it one step"));
    auto* drop = new QPushButton(tr("Forget"));
    drop->setObjectName("scriptDrop");
    drop->setToolTip(tr("Forgets it; nothing was done (Esc)"));
    answers->addWidget(accept);
    answers->addWidget(drop);
    answers->addStretch();
    wouldColumn->addLayout(answers);
    connect(accept, &QPushButton::clicked, &scripts_, &Scripts::acceptPreview);
    connect(drop, &QPushButton::clicked, &scripts_, &Scripts::dropPreview);
    return would;
}

void ScriptPanel::listen() {
    theirsBar_->hide();
    connect(theirsBar_, &TheirsBar::readTheirs, this, [this] { open(file_, editor_->line()); });
    connect(theirsBar_, &TheirsBar::keepMine, this, &ScriptPanel::keepMine);
    connect(theirsBar_, &TheirsBar::compare, this, [this] {
        if (const auto text = theirs())
            new ListPopover(window(), tr("%1: theirs (+) against yours (−)").arg(fileName()), "scriptTheirsList",
                            lineDifferences(editor_->text(), *text));
    });
    connect(files_, QOverload<int>::of(&QComboBox::activated), this, [this](int i) {
        const fs::path wanted = files_->itemData(i).toString().toStdString();
        if (wanted == file_) return;
        if (mayLeave()) open(wanted);
        refreshFiles();
    });
    connect(save_, &QToolButton::clicked, this, &ScriptPanel::save);
    connect(run_, &QToolButton::clicked, this, [this] { runAll(true); });
    connect(preview_, &QToolButton::clicked, this, [this] { runAll(false); });
    connect(runSelection_, &QToolButton::clicked, this, &ScriptPanel::runSelection);
    connect(editor_, &LuaEditor::changed, this, &ScriptPanel::refreshTitle);
    for (QWidget* inner : editor_->findChildren<QWidget*>()) inner->installEventFilter(this);
    connect(&scripts_, &Scripts::shelfChanged, this, [this] {
        refreshFiles();
        // The file was changed elsewhere: taken, unless something is typed here.
        if (file_.empty()) return;
        const auto bytes = base::readFile(file_);
        if (!bytes || toQt(*bytes) == onDisk_) return showProblem();
        if (editor_->isChanged()) return refreshTheirs();
        open(file_, editor_->line());
    });
    connect(&scripts_, &Scripts::previewChanged, this, &ScriptPanel::refreshPreview);
    connect(&scripts_, &Scripts::ran, this, &ScriptPanel::showRan);
    connect(&app_, &Editor::themeChanged, this, [this] { editor_->setTheme(app_.theme()); });
    connect(&app_, &Editor::projectChanged, this, &ScriptPanel::refreshFiles);
}

QString ScriptPanel::fileName() const {
    return file_.empty() ? stem_ + ".lua" : QString::fromStdString(file_.filename().string());
}

void ScriptPanel::refreshFiles() {
    files_->clear();
    if (file_.empty()) files_->addItem(tr("%1 (not saved)").arg(fileName()), QString());
    for (const script::Script& one : scripts_.shelf().scripts()) {
        const QString owner = one.owner == script::Owner::Personal ? tr(" · personal") : QString();
        const QString broken = one.problem.empty() ? QString() : QStringLiteral("▲ ");
        files_->addItem(broken + QString::fromStdString(one.name) + owner, QString::fromStdString(one.file.string()));
    }
    files_->setCurrentIndex(std::max(0, files_->findData(QString::fromStdString(file_.string()))));
    refreshTitle();
}

void ScriptPanel::refreshTitle() {
    const bool changed = editor_->isChanged();
    state_->setText(fileName() + (file_.empty() || changed ? tr(" · not saved") : tr(" · saved")));
    save_->setEnabled(changed || file_.empty());
    runSelection_->setEnabled(true);
}

bool ScriptPanel::mayLeave() {
    if (!editor_->isChanged()) return true;
    QMessageBox question(QMessageBox::NoIcon, tr("Unsaved script"), tr("%1 has changes.").arg(fileName()),
                         QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, this);
    question.setObjectName("scriptQuestion");
    question.setDefaultButton(QMessageBox::Save);
    dressQuestion(question, app_.theme());
    const int answer = question.exec();
    return answer == QMessageBox::Discard || (answer == QMessageBox::Save && save());
}

/// What the file holds now, if others have written it since it was read or saved here.
std::optional<QString> ScriptPanel::theirs() const {
    if (file_.empty()) return std::nullopt;
    const auto bytes = base::readFile(file_, base::most::kSmall);
    if (!bytes || toQt(*bytes) == onDisk_) return std::nullopt;
    return toQt(*bytes);
}

void ScriptPanel::refreshTheirs() {
    const bool differs = theirs().has_value();
    theirsBar_->setText(tr("%1 was changed by others while you write.").arg(fileName()));
    theirsBar_->setVisible(differs);
}

void ScriptPanel::keepMine() {
    if (const auto text = theirs()) {
        const auto beside = io::keepBeside(file_, text->toStdString());
        if (!beside) return void(app_.report(tl::unexpected(beside.error())));
        onDisk_ = *text;
        editor_->setChanged(true);
        app_.say(tr("Yours stays; theirs is kept as %1.").arg(QString::fromStdString(beside->filename().string())));
    }
    refreshTheirs();
    refreshTitle();
}

void ScriptPanel::open(const fs::path& file, int line) {
    const auto bytes = base::readFile(file, base::most::kSmall);
    if (!bytes) return void(app_.report(tl::unexpected(bytes.error())));
    file_ = file;
    onDisk_ = toQt(*bytes);
    editor_->setText(onDisk_);
    editor_->goTo(line);
    showProblem();
    refreshFiles();
    refreshTheirs();
}

void ScriptPanel::showProblem() {
    const script::Script* script = scripts_.shelf().script(file_);
    editor_->clearMarks();
    if (script != nullptr && !script->problem.empty())
        editor_->showError(script->problemLine,
                           QString::fromStdString(script->problem.substr(0, script->problem.find('\n'))));
}

void ScriptPanel::begin(const QString& sort) {
    if (!mayLeave()) return;
    for (const ScriptTemplate& one : scriptTemplates()) {
        if (one.key != sort) continue;
        QString text = one.text;
        QString kind = "Lantern";
        if (app_.isOpen() && !app_.selection().empty())
            if (const Slot s = app_.scene().find(app_.selection().back());
                s != kNoSlot && !app_.scene().kindText(s).empty())
                kind = toQt(app_.scene().kindText(s));
        text.replace("KIND", kind);
        file_.clear();
        onDisk_.clear();
        stem_ = one.stem;
        editor_->setText(text);
    }
    refreshFiles();
}

bool ScriptPanel::save() {
    if (!app_.isOpen()) return false;
    if (file_.empty()) {
        const fs::path folder = scripts_.projectFolder();
        if (!app_.report(base::makeFolder(folder))) return false;
        fs::path free = folder / (stem_.toStdString() + ".lua");
        for (int n = 2; base::exists(free); ++n)
            free = folder / (stem_.toStdString() + "-" + std::to_string(n) + ".lua");
        // Who writes the first script of a project need not be asked about it.
        if (scripts_.untrusted() == 0) Scripts::trustFolder(app_.workspace().folder());
        const bool first = scripts_.untrusted() == 0;
        if (!app_.report(base::writeFileWhole(free, editor_->text().toStdString()))) return false;
        file_ = free;
        if (first) scripts_.answerTrust(true);
    } else {
        if (theirs()) {  // somebody has to decide first
            refreshTheirs();
            app_.say(tr("%1 was changed by others: nothing was written.").arg(fileName()));
            return false;
        }
        if (!app_.report(base::writeFileWhole(file_, editor_->text().toStdString()))) return false;
    }
    onDisk_ = editor_->text();
    editor_->setChanged(false);
    scripts_.refresh();
    refreshFiles();
    showProblem();
    return true;
}

ScriptJob ScriptPanel::jobOf(const QString& text) const {
    ScriptJob job;
    job.name = QString::fromStdString(fs::path(fileName().toStdString()).stem().string());
    job.source.name = fileName().toStdString();
    job.source.text = text.toStdString();
    const fs::path folder = file_.empty() ? scripts_.projectFolder() : file_.parent_path();
    job.source.module = script::modulesIn(folder);
    return job;
}

void ScriptPanel::runAll(bool keep) {
    if (!app_.isOpen()) return;
    editor_->clearMarks();
    const ScriptJob job = jobOf(editor_->text());
    keep ? scripts_.run(job) : scripts_.showPreview(job);
}

void ScriptPanel::runSelection() {
    if (!app_.isOpen()) return;
    const QString selected = editor_->selectedText();
    if (selected.trimmed().isEmpty()) return app_.say(tr("Nothing is selected in the script’s text."));
    ScriptJob job = jobOf(selected);
    job.source.name = tr("selection").toStdString();
    scripts_.run(job);
}

void ScriptPanel::focusConsole() {
    console_->setFocus();
}

/// What is typed is shown as a value when it is one.
void ScriptPanel::console() {
    const QString line = console_->text().trimmed();
    if (line.isEmpty() || !app_.isOpen()) return;
    history_ << line;
    historyAt_ = static_cast<int>(history_.size());
    console_->clear();
    output_->appendPlainText(QStringLiteral("› ") + line);
    ScriptJob job = jobOf(QStringLiteral("say(") + line + ")");
    job.name = tr("Console: %1").arg(line.left(40));
    job.source.name = "console";
    if (const auto reading = script::declare(job.source);
        !reading.outcome.done() && reading.outcome.message.find("near") != std::string::npos)
        job.source.text = line.toStdString();
    scripts_.run(job);
}

bool ScriptPanel::eventFilter(QObject* watched, QEvent* event) {
    const bool typing = event->type() == QEvent::ShortcutOverride || event->type() == QEvent::KeyPress;
    if (!typing) return QWidget::eventFilter(watched, event);
    auto* key = static_cast<QKeyEvent*>(event);
    if (watched == console_) {
        if (event->type() == QEvent::KeyPress && (key->key() == Qt::Key_Up || key->key() == Qt::Key_Down)) {
            historyAt_ =
                std::clamp(historyAt_ + (key->key() == Qt::Key_Up ? -1 : 1), 0, static_cast<int>(history_.size()));
            console_->setText(historyAt_ < history_.size() ? history_[historyAt_] : QString());
            return true;
        }
        return QWidget::eventFilter(watched, event);
    }
    // In the text its own keys come first, and saving means this file.
    const bool saves = key->matches(QKeySequence::Save);
    const bool runs =
        (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) && key->modifiers() == Qt::ControlModifier;
    if (event->type() == QEvent::ShortcutOverride) {
        if (key->key() != Qt::Key_Escape && (key->modifiers() & Qt::AltModifier) == 0) event->accept();
        return false;
    }
    if (saves) return save(), true;
    if (runs) return runAll(true), true;
    return QWidget::eventFilter(watched, event);
}

void ScriptPanel::showRan(const ScriptJob& job, const script::Outcome& outcome) {
    const bool ours = job.source.name == fileName().toStdString();
    for (const script::Said& said : outcome.said)
        if (!said.text.empty()) output_->appendPlainText(QString::fromStdString(said.text));
    if (outcome.done()) {
        const auto& preview = scripts_.preview();
        if (!preview && job.source.name != "console") output_->appendPlainText(tr("✓ %1").arg(job.name));
        if (ours) {
            editor_->clearMarks();
            editor_->showSaid(outcome.said);
        }
        return;
    }
    right_->setCurrentIndex(0);
    output_->appendPlainText(QStringLiteral("▲ ") + QString::fromStdString(outcome.message));
    if (ours) {
        editor_->showSaid(outcome.said);
        editor_->showError(outcome.line, QString::fromStdString(outcome.message.substr(0, outcome.message.find('\n'))));
    }
}

void ScriptPanel::refreshPreview() {
    const auto& preview = scripts_.preview();
    right_->setCurrentIndex(preview ? 1 : 0);
    if (!preview) return;
    constexpr std::size_t kMostRows = 5000;
    previewTitle_->setText(tr("Preview: would place %1, change %2, remove %3 · one step · %4 ms")
                               .arg(preview->created)
                               .arg(preview->changed)
                               .arg(preview->removed)
                               .arg(preview->milliseconds, 0, 'f', 1));
    const std::size_t n = std::min(preview->rows.size(), kMostRows);
    table_->setRowCount(static_cast<int>(n));
    bool several = false;
    for (const ScriptPreview::Row& row : preview->rows) several = several || row.scene != preview->rows.front().scene;
    const QString signs[] = {"+", "~", "−"};
    for (std::size_t i = 0; i < n; ++i) {
        const ScriptPreview::Row& row = preview->rows[i];
        const int r = static_cast<int>(i);
        table_->setItem(r, 0, new QTableWidgetItem(signs[static_cast<int>(row.difference.what)]));
        table_->setItem(r, 1,
                        new QTableWidgetItem((several ? QString::fromStdString(row.scene) + " › " : QString()) +
                                             QString::fromStdString(row.difference.name)));
        table_->setItem(r, 2, new QTableWidgetItem(QString::fromStdString(row.difference.how)));
    }
}

void ScriptPanel::fillSnippets(QMenu* menu) {
    menu->clear();
    auto add = [&](const QString& label, const QString& text) {
        menu->addAction(label, this, [this, text] {
            editor_->insert(text);
            editor_->setFocus();
        });
    };
    add(tr("Each selected object"), "for _, o in ipairs(selected()) do\n  \nend\n");
    const Slot s = app_.isOpen() && !app_.selection().empty() ? app_.scene().find(app_.selection().back()) : kNoSlot;
    if (s == kNoSlot) {
        menu->addAction(tr("Select an object for more"))->setEnabled(false);
        return;
    }
    const model::Scene& scene = app_.scene();
    const base::Vec3 at = scene.world(s).translation;
    const QString point = QString("vec(%1, %2, %3)").arg(at.x, 0, 'g', 6).arg(at.y, 0, 'g', 6).arg(at.z, 0, 'g', 6);
    add(tr("This object: %1").arg(toQt(scene.nameText(s))), "local o = named(" + inLua(scene.nameText(s)) + ")\n");
    add(tr("Its place"), point);
    if (scene.item(s))
        add(tr("Place another %1").arg(toQt(scene.itemText(s))),
            "place(" + inLua(scene.itemText(s)) + ", " + point + ")\n");
    if (!scene.kindText(s).empty()) {
        add(tr("All of its kind"), "find(" + inLua("kind:" + std::string(scene.kindText(s))) + ")");
        if (const model::Kind* kind = app_.session().library().kind(scene.kind(s)))
            for (const model::Property& p : kind->properties) {
                model::Value room;
                const QString value =
                    QString::fromStdString(model::valueText(p, *ops::propertyValue(scene, s, p, room)));
                const bool plain = p.type == model::PropertyType::Bool || p.type == model::PropertyType::Number ||
                                   p.type == model::PropertyType::Integer;
                const QString written = p.type == model::PropertyType::Bool ? (value == "yes" ? "true" : "false")
                                        : plain                             ? value
                                                                            : inLua(value.toStdString());
                add(tr("Its %1").arg(QString::fromStdString(p.label)),
                    QString("o:set(\"%1\", %2)\n").arg(QString::fromStdString(p.name), written));
            }
    }
}

}  // namespace app
