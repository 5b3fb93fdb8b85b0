#include "app/panels/checks_panel.h"

#include <QFile>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QMenu>
#include <QScrollArea>
#include <QSplitter>
#include <QVBoxLayout>
#include <cmath>
#include <map>

#include "app/kit/folding_bar.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/view/looks.h"
#include "check/summary.h"
#include "check/verbs.h"

namespace app {

using check::Finding;
using check::Severity;

namespace {

constexpr int kIndexRole = Qt::UserRole;
constexpr int kRuleRole = Qt::UserRole + 1;  // an id, in the list of rules

/// A shape and a colour for each, so that neither alone has to tell.
QString signOf(Severity s) {
    return s == Severity::Error     ? QStringLiteral("■")
           : s == Severity::Caution ? QStringLiteral("▲")
                                    : QStringLiteral("●");
}
QColor colourOf(const Theme& theme, Severity s) {
    return s == Severity::Error ? theme.rose : s == Severity::Caution ? theme.lemon : theme.dim;
}

/// What the project says of a rule.
check::RuleSetting settingOf(const Checks& checks, const std::string& rule) {
    if (checks.facts() == nullptr) return {};
    const auto held = checks.facts()->settings.find(rule);
    return held != checks.facts()->settings.end() ? held->second : check::RuleSetting{};
}
/// How many a rule has found.
std::ptrdiff_t countOf(const Checks& checks, const std::string& rule) {
    return std::count_if(checks.findings().begin(), checks.findings().end(),
                         [&](const Finding& f) { return f.rule == rule; });
}

/// The square of the ground that a point is in.
QString areaOf(const base::Vec3& at, double size) {
    const double x = std::floor(at.x / size) * size, z = std::floor(at.z / size) * size;
    return ChecksPanel::tr("X %1 to %2, Z %3 to %4").arg(x).arg(x + size).arg(z).arg(z + size);
}

}  // namespace

ChecksPanel::ChecksPanel(Editor& editor, Checks& checks, QWidget* parent)
    : QWidget(parent), editor_(editor), checks_(checks) {
    setObjectName("checksPanel");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 4, 8, 6);
    column->setSpacing(4);
    column->addWidget(makeBar());
    auto* split = new QSplitter;
    split->setChildrenCollapsible(false);
    column->addWidget(split, 1);
    split->addWidget(list_ = new QTreeWidget);
    list_->setObjectName("checksList");
    list_->setAccessibleName(tr("What checks have found"));
    list_->setHeaderHidden(true);
    list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    list_->setUniformRowHeights(true);
    list_->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(list_, &QWidget::customContextMenuRequested, this, [this](const QPoint& at) {
        if (list_->itemAt(at) == nullptr) return;
        QMenu* menu = openMenu(this);
        menu->setObjectName("checksMenu");
        menu->setToolTipsVisible(true);
        Q_EMIT menuRequested(menu);
        menu->popup(list_->viewport()->mapToGlobal(at));
    });
    right_ = new QStackedWidget;
    right_->setMinimumWidth(250);
    split->addWidget(right_);
    split->setStretchFactor(0, 3);
    split->setStretchFactor(1, 2);
    split->setSizes({600, 340});
    right_->addWidget(makeAbout());
    makeFactsTable();
    listen();
    refresh();
}

QWidget* ChecksPanel::makeBar() {
    auto* bar = new FoldingBar;
    bar->add(by_ = new QComboBox);
    by_->setObjectName("checksBy");
    by_->setAccessibleName(tr("How findings are grouped"));
    by_->setToolTip(tr("How findings are grouped"));
    by_->addItems({tr("By rule"), tr("By severity"), tr("By object"), tr("By area")});
    auto button = [&](const QString& text, const QString& tip, const char* name) {
        auto* b = app::button<QToolButton>(name, text, tip);
        bar->addFolding(b);
        return b;
    };
    all_ = button(tr("Check all"), tr("Looks at the whole scene anew, and at what all scenes use"), "checksAll");
    fix_ = button(tr("Fix"), tr("Fixes what is chosen, as one step"), "checksFix");
    fixAll_ = button(tr("Fix all…"), tr("All of this rule; shows first what it would do"), "checksFixAll");
    accept_ =
        button(tr("Accept…"), tr("It stays, with a reason; it comes back when the thing changes"), "checksAccept");
    rule_ = button(tr("Rule ▾"), tr("Switch the rule off, or make it weigh more or less"), "checksRule");
    rule_->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(rule_);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] { fillRuleMenu(menu); });
    rule_->setMenu(menu);
    bar->addStretch();
    bar->add(state_ = new QLabel);
    state_->setObjectName("checksState");
    rules_ =
        button(tr("Rules"), tr("All rules: what they look for, how they are set, where they are off"), "checksRules");
    rules_->setCheckable(true);
    facts_ = button(tr("Facts"), tr("What is in the scene, and what it costs"), "checksFacts");
    facts_->setCheckable(true);
    return bar;
}

/// What the chosen finding or rule is about.
QWidget* ChecksPanel::makeAbout() {
    auto* about = new QScrollArea;
    about->setWidgetResizable(true);
    about->setFrameShape(QFrame::NoFrame);
    auto* card = new QWidget;
    card->setObjectName("panel");
    auto* cardColumn = new QVBoxLayout(card);
    cardColumn->setContentsMargins(8, 4, 8, 4);
    auto text = [](const char* name, QBoxLayout* into) {
        auto* l = new QLabel;
        l->setObjectName(QLatin1String(name));
        l->setWordWrap(true);
        into->addWidget(l);
        return l;
    };
    auto* head = new QHBoxLayout;
    auto* words = new QVBoxLayout;
    title_ = text("cardTitle", words);
    message_ = text("checksMessage", words);
    words->addStretch();
    head->addLayout(words, 1);
    head->addWidget(picture_ = new QLabel, 0, Qt::AlignTop);
    picture_->setObjectName("checksPicture");
    cardColumn->addLayout(head);
    why_ = text("quiet", cardColumn);
    parameters_ = new Form(editor_, [this](const model::Property& p, const auto& value) -> Status {
        const check::Rule* rule = currentRule();
        if (rule == nullptr) return {};
        change(tr("Set a rule"), [&](edit::Draft& d) {
            return check::setParameter(d, *rule, p.name, value.value_or(model::defaultOf(p)));
        });
        return {};
    });
    cardColumn->addWidget(parameters_);
    parameters_->setObjectName("checksParameters");
    cardColumn->addStretch(1);
    about->setWidget(card);
    return about;
}

void ChecksPanel::makeFactsTable() {
    right_->addWidget(table_ = new QTableWidget(0, 2));
    table_->setObjectName("checksFactsTable");
    table_->setAccessibleName(tr("Facts of the scene"));
    table_->horizontalHeader()->hide();
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(24);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionMode(QAbstractItemView::NoSelection);
    table_->setShowGrid(false);
}

void ChecksPanel::listen() {
    connect(all_, &QToolButton::clicked, this, [this] {
        if (checks_.isChecking())
            checks_.cancel();
        else
            checks_.checkAll();
    });
    connect(by_, QOverload<int>::of(&QComboBox::activated), this, &ChecksPanel::refresh);
    connect(facts_, &QToolButton::toggled, this, [this](bool on) {
        right_->setCurrentIndex(on ? 1 : 0);
        refreshFacts();
    });
    connect(fix_, &QToolButton::clicked, this, [this] { checks_.mend(chosen()); });
    connect(fixAll_, &QToolButton::clicked, this, [this] {
        if (currentRule() != nullptr) checks_.previewMending(checks_.ofRule(currentRule()->id));
    });
    connect(accept_, &QToolButton::clicked, this, [this] {
        if (!isAccepted()) return reasonWanted();
        const auto findings = chosen();
        change(tr("Accept a finding no more"), [&](edit::Draft& d) { return check::acceptNoMore(d, findings); });
    });
    connect(rules_, &QToolButton::toggled, this, [this](bool on) {
        by_->setEnabled(!on);
        if (on) facts_->setChecked(false);
        rows_.clear();
        refresh();
    });
    connect(list_, &QTreeWidget::itemSelectionChanged, this, [this] {
        if (filling_) return;
        if (rules_->isChecked()) return refreshCurrent();
        const auto now = chosen();
        checks_.setCurrent(now.empty() ? std::nullopt : std::optional(now.front()));
    });
    connect(list_, &QTreeWidget::itemActivated, this, [this] {
        if (!rules_->isChecked() && checks_.current()) Q_EMIT goTo(*checks_.current());
    });
    connect(&checks_, &Checks::changed, this, &ChecksPanel::refresh);
    connect(&checks_, &Checks::progressed, this, &ChecksPanel::refreshState);
    connect(&checks_, &Checks::currentChanged, this, [this] {
        if (checks_.current()) rules_->setChecked(false);  // one goes through findings
        refreshCurrent();
    });
    connect(&editor_, &Editor::themeChanged, this, &ChecksPanel::refresh);
}

void ChecksPanel::showRules() {
    rules_->setChecked(true);
    list_->setFocus();
}

void ChecksPanel::change(const QString& name, const std::function<base::Status(edit::Draft&)>& verb) {
    editor_.run(name.toStdString(), verb);
    refreshCurrent();
}

/// The chosen one of the list of rules, or that of the finding one is at.
const check::Rule* ChecksPanel::currentRule() const {
    if (!rules_->isChecked()) return checks_.current() ? checks_.rule(checks_.current()->rule) : nullptr;
    const QTreeWidgetItem* row = list_->currentItem();
    return row != nullptr ? checks_.rule(row->data(0, kRuleRole).toString().toStdString()) : nullptr;
}

std::vector<Finding> ChecksPanel::chosen() const {
    std::vector<Finding> all;
    if (rules_->isChecked()) return all;
    for (const QTreeWidgetItem* row : list_->selectedItems()) {
        if (row->data(0, kIndexRole).isValid())
            all.push_back(rows_[static_cast<std::size_t>(row->data(0, kIndexRole).toInt())]);
        else  // a heading means all below it
            for (int i = 0; i < row->childCount(); ++i)
                all.push_back(rows_[static_cast<std::size_t>(row->child(i)->data(0, kIndexRole).toInt())]);
    }
    return all;
}

void ChecksPanel::refreshState() {
    all_->setText(checks_.isChecking() ? tr("Cancel") : tr("Check all"));
    const std::size_t accepted = checks_.accepted().size();
    const QString state = checks_.isChecking() ? tr("Looking… %1 %").arg(std::lround(checks_.progress() * 100))
                          : !checks_.isKnown() ? tr("Not looked at yet")
                          : accepted > 0       ? tr("✓ %1").arg(accepted)
                                               : QString();
    state_->setText(state);
    state_->setToolTip(tr("So many are accepted: they are at the end of the list"));
}

void ChecksPanel::refresh() {
    if (!editor_.isOpen()) return;
    refreshState();
    refreshFacts();
    if (rules_->isChecked()) return listRules();
    std::vector<Finding> all = checks_.findings();
    all.insert(all.end(), checks_.accepted().begin(), checks_.accepted().end());
    if (rows_ == all && sender() == &checks_) return refreshCurrent();
    filling_ = true;
    constexpr std::size_t kMostRows = 5000;
    rows_ = std::move(all);
    const std::size_t found = checks_.findings().size();
    list_->clear();
    std::map<QString, QTreeWidgetItem*> heads;
    const model::Scene& scene = editor_.scene();
    const double area = areaSize();
    for (std::size_t i = 0; i < std::min(rows_.size(), kMostRows); ++i) {
        const Finding& f = rows_[i];
        const check::Rule* rule = checks_.rule(f.rule);
        const Slot slot = scene.find(f.object);
        const QString what = rule != nullptr ? QString::fromStdString(rule->label) : QString::fromStdString(f.rule);
        const QString words[] = {tr("Hints"), tr("Cautions"), tr("Errors")};
        const bool accepted = i >= found;
        const QString key = accepted                   ? tr("Accepted")
                            : by_->currentIndex() == 0 ? what
                            : by_->currentIndex() == 1 ? words[static_cast<int>(f.severity)]
                            : slot == kNoSlot          ? tr("The scene")
                            : by_->currentIndex() == 3 ? areaOf(scene.world(slot).translation, area)
                                                       : toQt(scene.nameText(slot));
        QTreeWidgetItem*& head = heads[key];
        if (head == nullptr) {
            head = new QTreeWidgetItem(list_, {key});
            head->setExpanded(true);
        }
        auto* row = new QTreeWidgetItem(
            head, {(accepted ? QStringLiteral("✓") : signOf(f.severity)) + "  " + QString::fromStdString(f.message) +
                   (accepted ? " — " + reasonFor(f) : QString())});
        const bool quiet = accepted || f.severity == Severity::Hint;
        row->setForeground(0, quiet ? editor_.theme().dim : editor_.theme().text);
        row->setData(0, kIndexRole, static_cast<int>(i));
        row->setToolTip(0, what);
        head->setForeground(0, accepted ? editor_.theme().dim : colourOf(editor_.theme(), f.severity));
    }
    for (auto& [key, head] : heads) {
        head->setText(0, QString("%1   %2").arg(key).arg(head->childCount()));
        head->setExpanded(true);
    }
    if (rows_.size() > kMostRows) {
        auto* more = new QTreeWidgetItem(list_, {tr("… %1 more are not listed").arg(rows_.size() - kMostRows)});
        more->setFlags(Qt::ItemIsEnabled);
        more->setForeground(0, editor_.theme().dim);
    }
    filling_ = false;
    refreshCurrent();
}

/// As large as the rule for budgets by area has them, metres.
double ChecksPanel::areaSize() const {
    const check::Rule* rule = checks_.rule("area-budget");
    if (rule == nullptr || checks_.facts() == nullptr) return 50;
    const double size = check::Parameters(rule->id, rule->parameters, checks_.facts()->settings).number("size");
    return size > 0 ? size : 50;
}

bool ChecksPanel::isAccepted() const {
    return checks_.current() && std::find(checks_.accepted().begin(), checks_.accepted().end(), *checks_.current()) !=
                                    checks_.accepted().end();
}

QString ChecksPanel::reasonFor(const Finding& f) const {
    for (const model::AcceptedFinding& a : editor_.scene().settings().accepted)
        if (a.rule == f.rule && a.object == f.object && a.other == f.other && a.part == f.part)
            return QString::fromStdString(a.reason);
    return {};
}

/// All rules, by group, with what is said of them.
void ChecksPanel::listRules() {
    const check::Rule* had = currentRule();
    const std::string id = had != nullptr ? had->id : std::string();
    filling_ = true;
    list_->clear();
    std::map<QString, QTreeWidgetItem*> heads;
    for (const check::Rule& rule : checks_.rules()) {
        QTreeWidgetItem*& head = heads[QString::fromStdString(rule.group)];
        if (head == nullptr) {
            head = new QTreeWidgetItem(list_, {QString::fromStdString(rule.group)});
            head->setForeground(0, editor_.theme().dim);
            head->setExpanded(true);
        }
        const Severity severity = settingOf(checks_, rule.id).severity.value_or(rule.severity);
        const std::ptrdiff_t found = countOf(checks_, rule.id);
        const QStringList off = whereOff(rule);
        QString text = signOf(severity) + "  " + QString::fromStdString(rule.label);
        if (found > 0) text += QString("   %1").arg(found);
        if (!off.isEmpty()) text += "   " + tr("off %1").arg(off.join(", "));
        auto* row = new QTreeWidgetItem(head, {text});
        row->setData(0, kRuleRole, QString::fromStdString(rule.id));
        row->setForeground(0, !off.isEmpty() ? editor_.theme().faint : editor_.theme().text);
        row->setToolTip(0, QString::fromStdString(rule.why));
        if (rule.id == id) list_->setCurrentItem(row);
    }
    filling_ = false;
    refreshCurrent();
}

/// For people: "in the project", "for the kind Plant", "for “Bench 1”".
QStringList ChecksPanel::whereOff(const check::Rule& rule) const {
    QStringList where;
    const check::RuleSetting set = settingOf(checks_, rule.id);
    if (set.off) where << tr("in the project");
    for (const std::string& kind : set.offKinds) where << tr("for the kind %1").arg(QString::fromStdString(kind));
    for (const model::RuleOff& off : editor_.scene().settings().rulesOff) {
        if (off.rule != rule.id) continue;
        const Slot slot = editor_.scene().find(off.object);
        where << (!off.object       ? tr("in this scene")
                  : slot == kNoSlot ? tr("for an object that is gone")
                                    : tr("for “%1”").arg(toQt(editor_.scene().nameText(slot))));
    }
    return where;
}

void ChecksPanel::refreshCurrent() {
    const bool ofRules = rules_->isChecked();
    const std::optional<Finding> current = ofRules ? std::nullopt : checks_.current();
    const check::Rule* rule = currentRule();
    fix_->setEnabled(rule != nullptr && current && current->mendable);
    fix_->setText(rule != nullptr && !rule->fixLabel.empty() ? QString::fromStdString(rule->fixLabel) : tr("Fix"));
    fixAll_->setEnabled(rule != nullptr && !rule->fixLabel.empty() && countOf(checks_, rule->id) > (ofRules ? 0 : 1));
    accept_->setEnabled(rule != nullptr && current);
    accept_->setText(isAccepted() ? tr("Accept no more") : tr("Accept…"));
    rule_->setEnabled(rule != nullptr);
    title_->setText(rule != nullptr ? QString::fromStdString(rule->label) : tr("Nothing is chosen"));
    const QString drawing =
        rule != nullptr ? QString(":/rules/%1.svg").arg(QString::fromStdString(rule->id)) : QString();
    const bool isDrawn = !drawing.isEmpty() && QFile::exists(drawing);
    picture_->setVisible(isDrawn);
    if (isDrawn) {
        picture_->setPixmap(QIcon(drawing).pixmap(QSize(112, 56), devicePixelRatioF()));
        picture_->setAccessibleName(tr("A drawing of the fault: %1").arg(QString::fromStdString(rule->label)));
    }
    const QStringList off = ofRules && rule != nullptr ? whereOff(*rule) : QStringList();
    message_->setText(current          ? QString::fromStdString(current->message)
                      : !off.isEmpty() ? tr("Off %1.").arg(off.join(", "))
                                       : QString());
    message_->setVisible(!message_->text().isEmpty());
    why_->setText(rule != nullptr ? QString::fromStdString(rule->why)
                  : ofRules       ? tr("Choose a rule to see what it looks for and to set it.")
                                  : tr("Choose a finding to see why it matters; F7 goes from one to the next."));
    std::vector<PropertyShown> shown;
    if (rule != nullptr && checks_.facts() != nullptr) {
        const check::RuleSetting set = settingOf(checks_, rule->id);
        for (const model::Property& p : rule->parameters) {
            const model::Value* own = model::valueOf(set.values, p.name);
            shown.push_back({p, own != nullptr ? *own : model::defaultOf(p), p.choices, own != nullptr, false, {}});
        }
    }
    parameters_->show(shown);
    filling_ = true;
    if (current)
        for (QTreeWidgetItemIterator it(list_); *it != nullptr; ++it) {
            const QVariant index = (*it)->data(0, kIndexRole);
            if (!index.isValid() || !(rows_[static_cast<std::size_t>(index.toInt())] == *current)) continue;
            if (!(*it)->isSelected()) list_->setCurrentItem(*it);
            break;
        }
    filling_ = false;
}

void ChecksPanel::refreshFacts() {
    if (!facts_->isChecked() || !editor_.isOpen() || checks_.facts() == nullptr) return;
    const auto rows = check::summaryOf(editor_.scene(), *checks_.facts());
    table_->setRowCount(static_cast<int>(rows.size()));
    for (int i = 0; i < table_->rowCount(); ++i) {
        const auto& [label, value] = rows[static_cast<std::size_t>(i)];
        table_->setItem(i, 0, new QTableWidgetItem(QString::fromStdString(label)));
        auto* cell = new QTableWidgetItem(QString::fromStdString(value));
        cell->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        table_->setItem(i, 1, cell);
    }
}

void ChecksPanel::acceptCurrent(const QString& reason) {
    const auto findings = chosen();
    if (findings.empty() && !checks_.current()) return;
    const auto all = findings.empty() ? std::vector<Finding>{*checks_.current()} : findings;
    change(tr("Accept what a check found"),
           [&](edit::Draft& d) { return check::accept(d, all, reason.toStdString()); });
}

void ChecksPanel::fillRuleMenu(QMenu* menu) {
    menu->clear();
    const check::Rule* now = currentRule();
    if (now == nullptr) return;
    const check::Rule rule = *now;  // the list may change while the menu is open
    const std::string id = rule.id;
    auto add = [&](const QString& text, std::function<base::Status(edit::Draft&)> verb) {
        menu->addAction(text, this, [this, text, verb = std::move(verb)] { change(text, verb); });
    };
    const std::optional<Finding> found = rules_->isChecked() ? std::nullopt : checks_.current();
    const Slot slot = found ? editor_.scene().find(found->object) : kNoSlot;
    if (slot != kNoSlot) {
        add(tr("Off for “%1”").arg(toQt(editor_.scene().nameText(slot))),
            [id, object = found->object](edit::Draft& d) { return check::setRuleOff(d, id, object, true); });
        const std::string kind(editor_.scene().kindText(slot));
        if (!kind.empty())
            add(tr("Off for the kind %1").arg(QString::fromStdString(kind)),
                [id, kind](edit::Draft& d) { return check::setRuleOffForKind(d, id, kind, true); });
    }
    // What is off can be switched on again here.
    const check::RuleSetting set = settingOf(checks_, id);
    bool offHere = false;
    for (const model::RuleOff& off : editor_.scene().settings().rulesOff) {
        if (off.rule != id) continue;
        offHere = offHere || !off.object;
        const Slot of = editor_.scene().find(off.object);
        add(!off.object     ? tr("On again in this scene")
            : of == kNoSlot ? tr("On again for an object that is gone")
                            : tr("On again for “%1”").arg(toQt(editor_.scene().nameText(of))),
            [id, object = off.object](edit::Draft& d) { return check::setRuleOff(d, id, object, false); });
    }
    if (!offHere) add(tr("Off in this scene"), [id](edit::Draft& d) { return check::setRuleOff(d, id, {}, true); });
    for (const std::string& kind : set.offKinds)
        add(tr("On again for the kind %1").arg(QString::fromStdString(kind)),
            [id, kind](edit::Draft& d) { return check::setRuleOffForKind(d, id, kind, false); });
    add(set.off ? tr("On again in the project") : tr("Off in the project"),
        [id, off = set.off](edit::Draft& d) { return check::setOff(d, id, !off); });
    menu->addSeparator();
    const QString words[] = {tr("It is a hint"), tr("It is a caution"), tr("It is an error")};
    const Severity severity = set.severity.value_or(rule.severity);
    for (const Severity s : {Severity::Error, Severity::Caution, Severity::Hint})
        if (s != severity)
            add(words[static_cast<int>(s)], [rule, s](edit::Draft& d) { return check::setSeverity(d, rule, s); });
}

}  // namespace app
