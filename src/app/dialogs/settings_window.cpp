#include "app/dialogs/settings_window.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

#include "app/dialogs/popovers.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/scripts.h"

namespace app {

namespace {

/// The fields of one page.
const model::Fields& fieldsOf(const std::string& page) {
    static std::map<std::string, model::Fields> all = [] {
        std::map<std::string, model::Fields> made;
        for (const model::Member& member : preferenceFields().members) {
            model::Member own = member;
            own.property.category.clear();  // the page says it
            made[member.property.category].members.push_back(std::move(own));
        }
        return made;
    }();
    return all[page];
}

}  // namespace

SettingsWindow::SettingsWindow(Editor& editor, CommandSet& commands, QWidget* parent)
    : QDialog(parent), editor_(editor), commands_(commands) {
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Settings"));
    resize(700, 560);
    auto* layout = new QVBoxLayout(this);
    auto* row = new QHBoxLayout;
    row->addWidget(pages_ = new QListWidget);
    pages_->setObjectName("settingsPages");
    pages_->setAccessibleName(tr("Pages"));
    pages_->setFixedWidth(140);
    row->addWidget(shown_ = new QStackedWidget, 1);
    layout->addLayout(row, 1);
    addPage(tr("Look"), makeForm("Look"));
    addPage(tr("Keys"), keys_ = new KeyList(commands_, {}));
    addPage(tr("View and mouse"), makeForm("View and mouse"));
    addPage(tr("Files"), makeForm("Files"));
    addPage(tr("Scripts"), makeScripts());
    auto* foot = new QHBoxLayout;
    auto* out = button<QPushButton>("settingsExport", tr("Export…"), tr("All of it and the keys, as a file"));
    auto* in = button<QPushButton>("settingsImport", tr("Import…"), tr("From a file that was exported"));
    auto* keys =
        button<QPushButton>("settingsKeysReset", tr("All keys as they were"), tr("Every shortcut is the usual one"));
    auto* close = button<QPushButton>("settingsClose", tr("Close"), tr("What was set is kept (Esc)"));
    for (QPushButton* one : {out, in, keys}) foot->addWidget(one);
    foot->addStretch();
    foot->addWidget(close);
    for (QPushButton* one : {out, in, keys, close}) one->setAutoDefault(false);
    layout->addLayout(foot);
    keys->hide();
    connect(pages_, &QListWidget::currentRowChanged, this, [this, keys](int page) {
        shown_->setCurrentIndex(page);
        keys->setVisible(shown_->currentWidget() == keys_);
    });
    connect(out, &QPushButton::clicked, this, &SettingsWindow::exportAll);
    connect(in, &QPushButton::clicked, this, &SettingsWindow::importAll);
    connect(keys, &QPushButton::clicked, this, [this] {
        commands_.resetShortcuts();
        keys_->refresh();
    });
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    connect(&editor_, &Editor::preferencesChanged, this, &SettingsWindow::refresh);
    pages_->setCurrentRow(0);
    pages_->setFocus();
    refresh();
    show();
}

void SettingsWindow::addPage(const QString& title, QWidget* page) {
    pages_->addItem(title);
    shown_->addWidget(page);
}

QWidget* SettingsWindow::makeForm(const char* page) {
    auto* around = new QWidget;
    auto* layout = new QVBoxLayout(around);
    layout->setContentsMargins(8, 0, 0, 0);
    auto* form = new FieldsForm(editor_, fieldsOf(page), [this](const model::Property&, const auto& set) {
        Preferences changed = editor_.preferences();
        if (Status done = set(&changed); !done) return done;
        editor_.setPreferences(changed);
        keepPreferences(changed);
        return Status{};
    });
    form->setObjectName(QString("settings.") + page);
    forms_.push_back(form);
    layout->addWidget(form);
    layout->addStretch();
    return around;
}

QWidget* SettingsWindow::makeScripts() {
    auto* around = new QWidget;
    auto* layout = new QVBoxLayout(around);
    layout->setContentsMargins(8, 0, 0, 0);
    layout->addWidget(wrapped(tr("Your own scripts are read from %1.")
                                  .arg(QString::fromStdString(editor_.scripts().personalFolder().string()))));
    layout->addWidget(label(tr("Projects whose scripts may run"), "cardTitle"));
    auto* list = new QListWidget;
    list->setObjectName("settingsTrusted");
    list->setAccessibleName(tr("Projects whose scripts may run"));
    list->addItems(editor_.scripts().trustedFolders());
    layout->addWidget(list, 1);
    auto* forget = button<QPushButton>("settingsForget", tr("Ask again"), tr("When it is opened the next time"));
    forget->setAutoDefault(false);
    forget->setEnabled(false);
    connect(list, &QListWidget::currentRowChanged, forget, [forget](int at) { forget->setEnabled(at >= 0); });
    connect(forget, &QPushButton::clicked, this, [this, list] {
        editor_.scripts().forgetTrust(list->currentItem()->text());
        delete list->takeItem(list->currentRow());
    });
    auto* row = new QHBoxLayout;
    row->addWidget(forget);
    row->addStretch();
    layout->addLayout(row);
    return around;
}

void SettingsWindow::refresh() {
    for (FieldsForm* form : forms_) form->show(&editor_.preferences());
}

void SettingsWindow::exportAll() {
    const QString file =
        QFileDialog::getSaveFileName(this, tr("Export the settings"), "mellow-settings.json", tr("Settings (*.json)"));
    if (file.isEmpty()) return;
    if (Status done = exportPreferences(file.toStdString(), editor_.preferences(), commands_); !done)
        return void(editor_.report(done));
    editor_.say(tr("The settings are in %1.").arg(file));
}

void SettingsWindow::importAll() {
    const QString file = QFileDialog::getOpenFileName(this, tr("Import settings"), {}, tr("Settings (*.json)"));
    if (file.isEmpty()) return;
    Preferences changed = editor_.preferences();
    const auto left = importPreferences(file.toStdString(), changed, commands_);
    if (!left) return void(editor_.report(tl::unexpected(left.error())));
    editor_.setPreferences(changed);
    keepPreferences(changed);
    keys_->refresh();
    QStringList lines;
    for (const std::string& one : *left) lines << QString::fromStdString(one);
    if (lines.isEmpty()) return editor_.say(tr("The settings of %1 are taken.").arg(file));
    new ListPopover(this, tr("Taken, but for this"), "settingsLeft", lines);
}

}  // namespace app
