#include "app/panels/hand_panel.h"

#include <QApplication>
#include <QFileDialog>
#include <QMenu>
#include <QMessageBox>
#include <QPointer>
#include <QSettings>
#include <QVBoxLayout>

#include "app/kit/folding_bar.h"
#include "app/kit/parts.h"
#include "app/kit/question.h"
#include "app/names.h"
#include "app/shell/checks.h"
#include "app/shell/focus_home.h"
#include "app/shell/long_work.h"
#include "base/files.h"
#include "base/hash.h"
#include "check/rule.h"
#include "edit/session.h"
#include "model/value_json.h"
#include "ops/scenes.h"
#include "query/scene_index.h"

namespace app {

namespace {

constexpr const char *kAllowed = "handOver/allowed", *kKept = "handOver/kept";
constexpr std::size_t kManyObjects = 10'000;  // their lists are made on a worker

QString stateText(hand::Delivery::State state) {
    return state == hand::Delivery::State::New       ? HandPanel::tr("new")
           : state == hand::Delivery::State::Changed ? HandPanel::tr("written over")
                                                     : HandPanel::tr("as it was");
}

}  // namespace

HandPanel::HandPanel(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    setObjectName("panel");
    FocusHome::keepKeyboard(this);
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(10, 4, 10, 6);
    auto* head = new FoldingBar;
    receivers_ = new QComboBox;
    receivers_->setObjectName("handReceivers");
    receivers_->setAccessibleName(tr("Receiver"));
    receivers_->setToolTip(tr(
        "Who takes the scene: a file receivers/NAME.receiver.json says what is written, where, and what is done then"));
    receivers_->setMinimumContentsLength(12);
    head->add(receivers_);
    head->add(
        hand_ = button<QToolButton>("handOver", tr("Hand over"),
                                    tr("Writes everything the receiver is given; what is written over is kept once")));
    head->add(preview_ = button<QToolButton>("handPreview", tr("Look first"),
                                             tr("Says what a hand-over would write, and writes nothing")));
    head->add(check_ = button<QToolButton>("handCheck", tr("Check for it"),
                                           tr("Checks find what this receiver cannot take, all the time")));
    check_->setCheckable(true);
    head->add(
        back_ = button<QToolButton>("handBack", tr("Put back"), tr("Files lie as they lay before the last hand-over")));
    head->add(commands_ = button<QToolButton>("handCommands", tr("Run ▾"),
                                              tr("Programs of the project, such as the game itself")));
    commands_->setPopupMode(QToolButton::InstantPopup);
    commands_->setMenu(new QMenu(commands_));
    head->addStretch();
    head->add(
        write_ = button<QToolButton>("handWrite", tr("Write list…"), tr("Writes what the recipe makes into a folder")));
    head->add(take_ = button<QToolButton>("handTake", tr("Take in…"),
                                          tr("A list comes back: what is new, changed or wrong is shown first")));
    whole->addWidget(head);
    pages_ = new QStackedWidget;
    pages_->addWidget(recipe_ = new RecipePage(editor_));
    pages_->addWidget(takeIn_ = new TakeInPage(editor_));
    pages_->addWidget(report_ = new ReportPage(editor_));
    whole->addWidget(pages_, 1);
    const auto home = [this] { pages_->setCurrentWidget(recipe_); };
    connect(takeIn_, &TakeInPage::finished, this, home);
    connect(report_, &ReportPage::finished, this, home);
    connect(report_, &ReportPage::stopAsked, this, &HandPanel::stop);
    connect(hand_, &QToolButton::clicked, this, &HandPanel::handOver);
    connect(preview_, &QToolButton::clicked, this, &HandPanel::preview);
    connect(check_, &QToolButton::clicked, this, [this] {
        editor_.checks().setReceiver(check_->isChecked() ? receiver() : std::string());
        fill();
    });
    connect(receivers_, &QComboBox::activated, this, [this] {
        if (!editor_.checks().receiver().empty()) editor_.checks().setReceiver(receiver());
        fill();
    });
    connect(back_, &QToolButton::clicked, this, &HandPanel::putBack);
    connect(write_, &QToolButton::clicked, this, &HandPanel::writeFiles);
    connect(take_, &QToolButton::clicked, this, &HandPanel::chooseList);
    const auto again = [this] {
        if (isVisible()) fill();
    };
    connect(&editor_, &Editor::libraryChanged, this, again);
    connect(&editor_, &Editor::historyChanged, this, again);
    connect(&editor_, &Editor::projectChanged, this, [this, home, again] {
        stop();
        home();
        again();
    });
}

HandPanel::~HandPanel() {
    stop();
    if (worker_.joinable()) worker_.join();
}

void HandPanel::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    fill();
}

std::string HandPanel::receiver() const {
    return receivers_->currentData().toString().toStdString();
}

void HandPanel::fill() {
    if (!editor_.hasProject()) return;
    const model::Library& library = editor_.session().library();
    const QString before = receivers_->currentData().toString();
    receivers_->clear();
    for (const auto& [name, map] : library.receivers)
        receivers_->addItem(toQt(model::textOf(map, "label", name)), toQt(name));
    receivers_->setCurrentIndex(std::max(library.receivers.empty() ? -1 : 0, receivers_->findData(before)));
    const bool any = !library.receivers.empty();
    receivers_->setPlaceholderText(tr("no receiver yet"));
    receivers_->setEnabled(any);
    hand_->setEnabled(any && editor_.isOpen() && !isRunning());
    preview_->setEnabled(any && editor_.isOpen());
    check_->setEnabled(any && editor_.isOpen());
    check_->setChecked(any && editor_.checks().receiver() == receiver());
    check_->setText(check_->isChecked() ? tr("✓ Check for it") : tr("Check for it"));
    back_->setEnabled(any && hand::canPutBack(editor_.workspace(), receiver()));
    take_->setEnabled(editor_.isOpen() && editor_.session().readOnlyReason().empty());
    write_->setEnabled(editor_.isOpen() && !library.recipes.empty());
    commands_->menu()->clear();
    for (const auto& [name, map] : library.commands)
        commands_->menu()
            ->addAction(toQt(model::textOf(map, "label", name)), this, [this, name = name] { launch(name); })
            ->setObjectName("handCommand." + toQt(name));
    commands_->setEnabled(!library.commands.empty() && editor_.isOpen() && !isRunning());
}

void HandPanel::writeFiles() {
    recipe_->keep();
    const auto recipe = recipe_->typed();
    if (!recipe) return editor_.say(tr("The recipe cannot be used as it is: the line below it says why."));
    const QString folder = QFileDialog::getExistingDirectory(this, tr("Write the list into"));
    if (folder.isEmpty()) return;
    const hand::Source source{editor_.scene(), editor_.session().library(),
                              [this](base::ObjectId id) { return editor_.session().prefabName(id); }};
    const hand::Written written = hand::write(source, *recipe);
    report_->begin(tr("%1, written into %2").arg(toQt(recipe->label), folder));
    report_->heading(tr("Files"));
    for (const hand::WrittenFile& file : written.files) {
        const std::filesystem::path target = std::filesystem::path(folder.toStdString()) / file.name;
        std::error_code ignored;
        std::filesystem::create_directories(target.parent_path(), ignored);
        const bool over = base::exists(target);
        if (!editor_.report(base::writeFileWhole(target, file.coded))) return;
        report_->row(toQt(target.string()), tr("%1 · %2 entries · %3 bytes")
                                                .arg(over ? tr("written over") : tr("new"))
                                                .arg(file.spans.size())
                                                .arg(file.coded.size()));
    }
    if (!written.remarks.empty()) report_->heading(tr("To note"));
    for (const std::string& remark : written.remarks) report_->row(toQt(remark));
    pages_->setCurrentWidget(report_);
}

void HandPanel::chooseList() {
    const QString file = QFileDialog::getOpenFileName(
        this, tr("Take in a list"), {}, tr("Lists (*.json *.jsonl *.csv *.xml *.txt *.level);;All files (*)"));
    if (!file.isEmpty()) lookAt(file);
}

void HandPanel::lookAt(const QString& file) {
    takeIn_->show(file, recipe_->typed() ? recipe_->recipe() : std::string());
    pages_->setCurrentWidget(takeIn_);
}

std::optional<hand::HandOverPlan> HandPanel::planned(const std::string& receiver) {
    recipe_->keep();
    base::Result<hand::HandOverPlan> plan = hand::HandOverPlan{};
    const auto make = [&](base::Progress&) {
        plan = hand::planHandOver(editor_.workspace(), editor_.scene(), receiver);
    };
    if (base::Progress unseen; editor_.scene().objectCount() < kManyObjects)
        make(unseen);
    else
        onWorker(editor_.workOver(), tr("Making the lists"), make);
    if (plan) return std::move(*plan);
    report_->begin(tr("Nothing was handed over"));
    report_->row(QStringLiteral("▲ ") + toQt(plan.error().message));
    pages_->setCurrentWidget(report_);
    editor_.report(tl::unexpected(plan.error()));
    return std::nullopt;
}

/// From the project's folder, when it lies in there.
QString HandPanel::shown(const std::filesystem::path& file) const {
    const auto within =
        file.lexically_relative(std::filesystem::absolute(editor_.workspace().folder()).lexically_normal());
    return toQt((within.empty() || *within.begin() == ".." ? file : within).string());
}

void HandPanel::tellPlan(const hand::HandOverPlan& plan) {
    report_->heading(tr("Files"));
    for (const hand::Delivery& one : plan.files) {
        QString how = stateText(one.state) + QStringLiteral(" · ") + toQt(one.from);
        if (one.entries > 0) how += tr(" · %1 entries").arg(one.entries);
        report_->row(shown(one.file), how + tr(" · %1 bytes").arg(one.bytes.size()));
    }
    if (!plan.passedOver.empty()) report_->heading(tr("Left out"));
    for (const auto& [recipe, n] : plan.passedOver)
        report_->row(toQt(recipe), tr("%1 objects that its filter does not take").arg(n));
    if (!plan.remarks.empty()) report_->heading(tr("Rounded, or not to be said"));
    for (const std::string& remark : plan.remarks) report_->row(toQt(remark));
}

/// What the receiver cannot take, asked of each object alone: no neighbours count.
void HandPanel::tellLimits(const std::string& name) {
    std::vector<std::string> ignored;
    const auto receiver = hand::receiverNamed(editor_.session().library(), name, ignored);
    if (!receiver) return;
    const std::vector<check::Finding> findings =
        hand::beyondLimits(editor_.scene(), editor_.session().library(), *receiver);
    if (findings.empty()) return;
    report_->heading(tr("Beyond its limits (%1)").arg(findings.size()));
    for (const check::Finding& finding : findings)
        report_->row(QStringLiteral("▲ ") + toQt(finding.message), {}, finding.object);
}

void HandPanel::preview() {
    const auto plan = planned(receiver());
    if (!plan) return;
    report_->begin(tr("A hand-over to %1 would write this").arg(receivers_->currentText()));
    tellPlan(*plan);
    tellLimits(plan->receiver);
    if (!plan->commands.empty()) report_->heading(tr("Then it runs"));
    for (const hand::Command& command : plan->commands) report_->row(toQt(hand::commandLine(command, plan->words)));
    pages_->setCurrentWidget(report_);
}

/// Asked about once for a project, as long as what would be done stays the same.
bool HandPanel::mayRun(const hand::HandOverPlan& plan, const std::vector<hand::Command>& commands) {
    if (plan.outside.empty() && commands.empty()) return true;
    std::string what = editor_.workspace().folder().string();
    QStringList asks;
    std::set<std::filesystem::path> folders;
    for (const std::filesystem::path& file : plan.outside) folders.insert(file.parent_path());
    for (const std::filesystem::path& folder : folders) {
        what += "\n" + folder.string();
        asks << tr("writes into %1").arg(toQt(folder.string()));
    }
    for (const hand::Command& command : commands) {
        const std::string line = hand::commandLine(command, {});
        what += "\n" + line + " in " + command.folder;
        for (const auto& [name, value] : command.environment) what += "\n" + name + "=" + value;
        asks << tr("runs %1").arg(toQt(line));
    }
    const QString key = QString::number(base::hashBytes(what), 16);
    QSettings settings;
    QStringList allowed = settings.value(kAllowed).toStringList();
    if (allowed.contains(key)) return true;
    QMessageBox question(QMessageBox::Question, tr("Programs, and files elsewhere"),
                         tr("This project %1.\n\nAllow that from now on?").arg(asks.join(tr(", and "))),
                         QMessageBox::NoButton, this);
    question.setObjectName("handAllow");
    auto* yes = question.addButton(tr("Allow"), QMessageBox::AcceptRole);
    yes->setObjectName("handAllowYes");
    question.setDefaultButton(question.addButton(tr("No"), QMessageBox::RejectRole));
    dressQuestion(question, editor_.theme());
    question.exec();
    if (question.clickedButton() != yes) return false;
    settings.setValue(kAllowed, allowed << key);
    return true;
}

bool HandPanel::delivered(const hand::HandOverPlan& plan) {
    if (editor_.report(hand::deliver(editor_.workspace(), plan, true))) {
        // What was kept here is known again; what came with a project from elsewhere is not.
        QSettings settings;
        const QString mark = toQt(hand::keptMark(editor_.workspace(), plan.receiver));
        if (QStringList all = settings.value(kKept).toStringList(); !mark.isEmpty() && !all.contains(mark))
            settings.setValue(kKept, all << mark);
        return true;
    }
    report_->row(tr("▲ It could not be written: see above."));
    return false;
}

void HandPanel::handOver() {
    if (isRunning()) return;
    auto plan = planned(receiver());
    if (!plan || !mayRun(*plan, plan->commands)) return;
    report_->begin(tr("Handed over to %1").arg(receivers_->currentText()));
    tellPlan(*plan);
    tellLimits(plan->receiver);
    pages_->setCurrentWidget(report_);
    if (!delivered(*plan)) return;
    fill();
    if (!plan->commands.empty()) return run(plan->commands, plan->words);
    editor_.say(tr("Handed over to %1.").arg(receivers_->currentText()));
}

void HandPanel::putBack() {
    const QString mark = toQt(hand::keptMark(editor_.workspace(), receiver()));
    auto left = hand::putBack(editor_.workspace(), receiver(), QSettings().value(kKept).toStringList().contains(mark));
    if (!left) return void(editor_.report(tl::unexpected(left.error())));
    report_->begin(tr("Files lie as they lay before the last hand-over"));
    report_->heading(tr("Left as they are"));
    for (const std::string& one : *left) report_->row(toQt(one));
    pages_->setCurrentWidget(report_);
    fill();
}

void HandPanel::launch(const std::string& name) {
    if (isRunning()) return;
    std::vector<std::string> problems;
    const auto command = hand::commandNamed(editor_.session().library(), name, problems);
    if (!command || !problems.empty())
        return editor_.say(problems.empty() ? tr("There is no such command.") : toQt(name + ": " + problems.front()));
    hand::HandOverPlan plan;
    plan.words = {{"scene", editor_.scene().name()},
                  {"project", std::filesystem::absolute(editor_.workspace().folder()).string()}};
    if (!command->handOver.empty()) {
        auto made = planned(command->handOver);
        if (!made) return;
        plan = std::move(*made);
    }
    plan.commands.push_back(*command);
    if (!mayRun(plan, plan.commands)) return;
    report_->begin(toQt(command->label));
    if (!command->handOver.empty()) {
        tellPlan(plan);
        if (!delivered(plan)) return;
    }
    pages_->setCurrentWidget(report_);
    run(plan.commands, plan.words);
}

/// One after the other, until one does not end well; what they say comes line by line.
void HandPanel::run(std::vector<hand::Command> commands, const hand::Words& words) {
    if (worker_.joinable()) worker_.join();
    running_ = std::make_shared<base::Progress>();
    report_->setRunning(true);
    fill();
    worker_ = std::thread([this, commands = std::move(commands), words, progress = running_,
                           project = editor_.workspace().folder(), page = QPointer<HandPanel>(this)] {
        const auto tell = [page](const std::function<void(HandPanel&)>& what) {
            QMetaObject::invokeMethod(
                qApp,
                [page, what] {
                    if (page) what(*page);
                },
                Qt::QueuedConnection);
        };
        QString end;
        for (const hand::Command& command : commands) {
            const QString line = toQt(hand::commandLine(command, words));
            tell([line](HandPanel& panel) { panel.report_->heading(line); });
            const auto done = hand::run(
                command, project, words,
                [&](const std::string& said) {
                    tell([said = toQt(said)](HandPanel& panel) { panel.report_->said(said); });
                },
                *progress);
            end = !done             ? QStringLiteral("▲ ") + toQt(done.error().message)
                  : done->stopped   ? tr("%1 was stopped.").arg(toQt(command.label))
                  : done->code == 0 ? tr("%1 ended well.").arg(toQt(command.label))
                                    : tr("▲ %1 ended with %2.").arg(toQt(command.label)).arg(done->code);
            tell([end](HandPanel& panel) { panel.report_->row(end); });
            if (!done || done->code != 0) break;
        }
        tell([end](HandPanel& panel) {
            panel.running_.reset();
            panel.report_->setRunning(false);
            panel.editor_.say(end);
            panel.fill();
        });
    });
}

void HandPanel::stop() {
    if (running_) running_->cancel();
}

}  // namespace app
