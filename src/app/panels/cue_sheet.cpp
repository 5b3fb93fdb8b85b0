#include "app/panels/cue_sheet.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QVBoxLayout>
#include <algorithm>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/rehearsal.h"
#include "edit/session.h"
#include "io/facet_json.h"
#include "ops/cues.h"

namespace app {

namespace {

enum Column { kOf, kName, kState, kWhen, kThen, kArmed, kTimes, kRest, kColumns };
constexpr std::size_t kMostRows = 5000;

}  // namespace

CueSheet::CueSheet(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    setObjectName("cueSheet");
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(12, 6, 12, 6);
    rows->setSpacing(4);
    auto* head = new QHBoxLayout;
    head->setSpacing(6);
    add_ = button<QToolButton>(
        "cueAdd", tr("New cue"),
        tr("On the selected object: when it is used, something is said; with nothing selected, of the scene itself"));
    remove_ = button<QToolButton>("cueRemove", tr("Remove"), tr("The chosen cue goes"));
    setOff_ =
        button<QToolButton>("cueSetOff", tr("Set it off"), tr("In a rehearsal: as if its conditions had come true"));
    selected_ = new QCheckBox(tr("Only of what is selected"));
    selected_->setObjectName("cueSelected");
    selected_->setToolTip(tr("Cues that are on it, wait for it, or do something to it"));
    copy_ = button<QToolButton>("cueCopy", tr("Copy"), tr("The chosen cue goes to the clipboard, as text (Ctrl+C)"));
    paste_ = button<QToolButton>("cuePaste", tr("Paste"),
                                 tr("The cues of the clipboard, on each object that is selected (Ctrl+V)"));
    for (QToolButton* one : {add_, copy_, paste_, remove_, setOff_}) head->addWidget(one);
    head->addWidget(selected_);
    head->addWidget(said_ = label({}, "quiet"), 1);
    rows->addLayout(head);
    table_ = new QTableWidget(0, kColumns);
    table_->setObjectName("cueTable");
    table_->setAccessibleName(tr("Cues"));
    table_->setHorizontalHeaderLabels(
        {tr("Of"), tr("Name"), tr("State"), tr("When"), tr("Then"), tr("Armed"), tr("Times"), tr("Rest (s)")});
    table_->horizontalHeader()->setSectionResizeMode(kWhen, QHeaderView::Stretch);
    table_->horizontalHeader()->setSectionResizeMode(kThen, QHeaderView::Stretch);
    for (const auto& [column, width] : {std::pair{int(kOf), 130},
                                        {int(kName), 130},
                                        {int(kArmed), 66},
                                        {int(kTimes), 56},
                                        {int(kRest), 74},
                                        {int(kState), 150}})
        table_->setColumnWidth(column, width);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(22);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setShowGrid(false);
    table_->installEventFilter(this);
    table_->horizontalHeader()->setSectionsClickable(true);
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    rows->addWidget(table_, 1);
    rows->addWidget(strip_ = new CueStrip(editor_));
    strip_->hide();
    connect(strip_, &CueStrip::moved, this, [this](int effect, double after) {
        if (chosen() < 0) return;
        (void)change("Set a delay", rows_[static_cast<std::size_t>(chosen())], [&](model::Cue& cue) -> Status {
            if (static_cast<std::size_t>(effect) < cue.then.size())
                cue.then[static_cast<std::size_t>(effect)].after = after;
            return {};
        });
    });
    connect(add_, &QToolButton::clicked, this, &CueSheet::add);
    connect(remove_, &QToolButton::clicked, this, &CueSheet::remove);
    connect(copy_, &QToolButton::clicked, this, &CueSheet::copy);
    connect(paste_, &QToolButton::clicked, this, &CueSheet::paste);
    connect(table_->horizontalHeader(), &QHeaderView::sectionClicked, this, &CueSheet::sortBy);
    connect(setOff_, &QToolButton::clicked, this, &CueSheet::setOff);
    connect(selected_, &QCheckBox::toggled, this, &CueSheet::fill);
    connect(table_, &QTableWidget::itemChanged, this, &CueSheet::edited);
    connect(table_, &QTableWidget::currentCellChanged, this, [this](int row) {
        if (isFilling_ || row < 0) return;
        const base::ObjectId id = rows_[static_cast<std::size_t>(row)].object;
        if (!selected_->isChecked() && editor_.scene().find(id) != kNoSlot) editor_.select({id});
        fillStates();
    });
    connect(&editor_, &Editor::sceneShown, this, &CueSheet::fill);
    connect(&editor_, &Editor::sceneEdited, this, [this](const edit::SceneDelta& delta) {
        const bool isOther = delta.everything || delta.treeChanged || !delta.detailed.empty() ||
                             !delta.relabelled.empty() || !delta.created.empty() || !delta.removed.empty();
        if (isOther && isVisible() && !editor_.rehearsal().isOn()) fill();
    });
    connect(&editor_, &Editor::selectionChanged, this, [this] {
        if (isVisible()) selected_->isChecked() ? fill() : fillStates();
    });
    connect(&editor_.rehearsal(), &Rehearsal::changed, this, &CueSheet::fillStates);
    connect(&editor_.rehearsal(), &Rehearsal::advanced, this, [this] {
        constexpr qint64 kEveryMs = 200;
        if (!isVisible() || (liveClock_.isValid() && !liveClock_.hasExpired(kEveryMs))) return;
        liveClock_.start();
        fillStates();
    });
    fillStates();
}

void CueSheet::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    fill();
}

int CueSheet::chosen() const {
    const int row = table_->currentRow();
    return row >= 0 && static_cast<std::size_t>(row) < rows_.size() ? row : -1;
}

/// Has it to do with what is selected: on it, waiting for it, done to it?
bool CueSheet::isShown(Slot slot, const model::Cue& cue) const {
    if (!selected_->isChecked() || editor_.isSelected(slot)) return true;
    const auto isChosen = [&](base::ObjectId id) {
        const Slot s = id ? editor_.scene().find(id) : kNoSlot;
        return s != kNoSlot && editor_.isSelected(s);
    };
    for (const model::CueWhen& when : cue.when)
        if (isChosen(when.object) || isChosen(when.by)) return true;
    return std::ranges::any_of(cue.then, [&](const model::CueThen& then) {
        return isChosen(then.place) ||
               std::ranges::any_of(then.targets, [&](const model::CueTarget& t) { return isChosen(t.object); });
    });
}

void CueSheet::fill() {
    if (!isVisible()) return;
    const std::optional<Row> was =
        chosen() >= 0 ? std::optional(rows_[static_cast<std::size_t>(chosen())]) : std::nullopt;
    isFilling_ = true;
    table_->setRowCount(0);
    rows_.clear();
    if (editor_.isOpen())
        for (const Slot s : editor_.scene().subtree(kNoSlot)) {
            const auto* cues = editor_.scene().detail(s) ? editor_.scene().facet<model::Cues>(s) : nullptr;
            if (cues == nullptr) continue;
            for (std::size_t c = 0; c < cues->all.size() && rows_.size() < kMostRows; ++c)
                if (isShown(s, cues->all[c])) rows_.push_back({editor_.scene().id(s), c});
        }
    if (sorted_ >= 0) {
        std::ranges::stable_sort(rows_, [&](const Row& a, const Row& b) {
            const int order = QString::localeAwareCompare(keyOf(a), keyOf(b));
            return falling_ ? order > 0 : order < 0;
        });
    }
    table_->setRowCount(static_cast<int>(rows_.size()));
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const Slot slot = editor_.scene().find(rows_[i].object);
        const model::Cue& cue = editor_.scene().facet<model::Cues>(slot)->all[rows_[i].cue];
        const auto put = [&](int column, const QString& text, bool edits) {
            auto* item = new QTableWidgetItem(text);
            item->setToolTip(text);
            if (!edits) item->setFlags(item->flags() & ~Qt::ItemIsEditable);
            if (column == kTimes || column == kRest) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            table_->setItem(static_cast<int>(i), column, item);
            return item;
        };
        put(kOf, toQt(editor_.scene().nameText(slot)), false);
        put(kName, toQt(cue.name), true);
        put(kWhen, toQt(model::whenText(cue, editor_.scene())), false);
        put(kThen, toQt(model::thenText(cue, editor_.scene())), false);
        auto* armed = put(kArmed, {}, false);
        armed->setFlags((armed->flags() | Qt::ItemIsUserCheckable) & ~Qt::ItemIsEditable);
        armed->setCheckState(cue.armed ? Qt::Checked : Qt::Unchecked);
        put(kTimes, cue.times == 0 ? tr("each") : QString::number(cue.times), true);
        put(kRest, QString::number(cue.rest), true);
        put(kState, {}, false);
    }
    for (std::size_t i = 0; was && i < rows_.size(); ++i)
        if (rows_[i].object == was->object && rows_[i].cue == was->cue)
            table_->setCurrentCell(static_cast<int>(i), kName);
    isFilling_ = false;
    fillStates();
}

/// What its row stands by.
QString CueSheet::keyOf(const Row& row) const {
    const Slot slot = editor_.scene().find(row.object);
    const model::Cue& cue = editor_.scene().facet<model::Cues>(slot)->all[row.cue];
    switch (sorted_) {
        case kName: return toQt(cue.name);
        case kWhen: return toQt(model::whenText(cue, editor_.scene()));
        case kThen: return toQt(model::thenText(cue, editor_.scene()));
        case kArmed: return cue.armed ? "0" : "1";
        case kTimes: return QString("%1").arg(cue.times, 12, 10, QChar('0'));
        case kRest: return QString("%1").arg(cue.rest, 16, 'f', 3, QChar('0'));
        case kState: return stateText(row);
        default: return toQt(editor_.scene().nameText(slot));
    }
}

/// Rising, falling, and as the scene has them.
void CueSheet::sortBy(int column) {
    if (sorted_ != column) {
        sorted_ = column;
        falling_ = false;
    } else if (!falling_) {
        falling_ = true;
    } else {
        sorted_ = -1;
    }
    table_->horizontalHeader()->setSortIndicatorShown(sorted_ >= 0);
    table_->horizontalHeader()->setSortIndicator(sorted_, falling_ ? Qt::DescendingOrder : Qt::AscendingOrder);
    fill();
}

bool CueSheet::eventFilter(QObject* watched, QEvent* event) {
    const auto* key = event->type() == QEvent::KeyPress || event->type() == QEvent::ShortcutOverride
                          ? static_cast<QKeyEvent*>(event)
                          : nullptr;
    const bool copies = key != nullptr && key->matches(QKeySequence::Copy),
               pastes = key != nullptr && key->matches(QKeySequence::Paste);
    if (watched != table_ || (!copies && !pastes)) return QWidget::eventFilter(watched, event);
    event->accept();  // not the scene's own copying
    if (event->type() == QEvent::KeyPress) copies ? copy() : paste();
    return true;
}

void CueSheet::copy() {
    if (chosen() < 0) return;
    const Row& row = rows_[static_cast<std::size_t>(chosen())];
    model::Cues one;
    one.all = {editor_.scene().facet<model::Cues>(editor_.scene().find(row.object))->all[row.cue]};
    QGuiApplication::clipboard()->setText(toQt(io::facetJson(model::Cues::type(), &one)));
    editor_.say(tr("“%1” is in the clipboard.").arg(toQt(one.all[0].name)));
}

/// On all that is selected, as one step. Whom they are about stays; “this” is the new object.
void CueSheet::paste() {
    const std::string text = QGuiApplication::clipboard()->text().toStdString();
    const auto read = io::facetFromJson(model::Cues::type(), text);
    if (!read) return editor_.say(tr("There are no cues in the clipboard."));
    const auto& cues = *static_cast<const model::Cues*>(read->get());
    const std::vector<base::ObjectId> ids = editor_.selection();
    if (ids.empty() || cues.all.empty()) return editor_.say(tr("Select what the cues are to be on."));
    editor_.run("Paste cues", [&](edit::Draft& draft) -> Status {
        for (const base::ObjectId id : ids) {
            Status done = ops::changeCues(draft, id, [&](model::Cues& now) {
                now.all.insert(now.all.end(), cues.all.begin(), cues.all.end());
                return Status{};
            });
            if (!done) return done;
        }
        return {};
    });
    fill();
}

/// Waiting, gone off, never: in words, with a shape before them.
QString CueSheet::stateText(const Row& row) const {
    const rehearse::Run* run = editor_.rehearsal().run();
    if (run == nullptr) return {};
    const rehearse::CueSet& set = run->cues().set();
    const auto cue = set.cueOf(row.object, row.cue);
    if (!cue) return {};
    const rehearse::Cues::State& state = run->cues().state(*cue);
    const std::int64_t times = set.cues[*cue].times;
    if (state.count > 0)
        return tr("%1 gone off, %2 at %3 s")
            .arg(times > 0 && state.count >= times ? "●" : "◐",
                 counted(static_cast<std::size_t>(state.count), tr("time"), tr("times")),
                 fixed(state.last * rehearse::kStep, 1));
    if (run->cues().end()) return tr("✕ never");
    return state.armed ? tr("○ waiting") : tr("◌ not armed");
}

void CueSheet::fillStates() {
    const bool plays = editor_.rehearsal().run() != nullptr;
    table_->setColumnHidden(kState, !plays);
    for (const int column : {kArmed, kTimes, kRest}) table_->setColumnHidden(column, plays);
    add_->setEnabled(editor_.isOpen() && !plays && editor_.selection().size() <= 1);
    remove_->setEnabled(!plays && chosen() >= 0);
    copy_->setEnabled(chosen() >= 0);
    paste_->setEnabled(editor_.isOpen() && !plays && !editor_.selection().empty());
    setOff_->setVisible(plays);
    setOff_->setEnabled(chosen() >= 0);
    fillStrip();
    said_->setText(rows_.empty() ? tr("No cue yet: select what is to set something off, and press New cue.")
                                 : counted(rows_.size(), tr("cue"), tr("cues")));
    if (!plays) return;
    isFilling_ = true;
    for (std::size_t i = 0; i < rows_.size(); ++i)
        if (QTableWidgetItem* item = table_->item(static_cast<int>(i), kState)) item->setText(stateText(rows_[i]));
    isFilling_ = false;
}

/// The chosen one in time.
void CueSheet::fillStrip() {
    const int row = chosen();
    const Slot slot = row < 0 ? kNoSlot : editor_.scene().find(rows_[static_cast<std::size_t>(row)].object);
    const auto* cues = slot == kNoSlot ? nullptr : editor_.scene().facet<model::Cues>(slot);
    const std::size_t which = row < 0 ? 0 : rows_[static_cast<std::size_t>(row)].cue;
    if (cues == nullptr || which >= cues->all.size()) return strip_->show({}, {});
    QStringList words;
    for (const model::CueThen& then : cues->all[which].then) words << toQt(model::textOf(then, editor_.scene()));
    strip_->show(cues->all[which], words);
}

Status CueSheet::change(const std::string& what, const Row& row, const std::function<Status(model::Cue&)>& set) {
    Status done;
    editor_.run(what + " of " + ops::describe(editor_.scene(), {&row.object, 1}), [&](edit::Draft& draft) {
        return done = ops::changeCues(draft, row.object, [&](model::Cues& cues) -> Status {
                   return row.cue < cues.all.size() ? set(cues.all[row.cue]) : Status{};
               });
    });
    return done;
}

void CueSheet::edited(QTableWidgetItem* item) {
    if (isFilling_) return;
    const Row row = rows_[static_cast<std::size_t>(item->row())];
    const QString text = item->text().trimmed();
    const auto put = [&](const std::string& what, auto set) { (void)change(what, row, set); };
    const model::Fields& fields = *model::Cues::type().fields.find("all")->parts.fields;
    const auto number = [&](const char* key, const model::Value& value) {
        put("Set a cue",
            [&, value](model::Cue& cue) { return model::setMember(fields, &cue, *fields.find(key), value); });
    };
    switch (item->column()) {
        case kName:
            put("Rename a cue", [&](model::Cue& cue) { return cue.name = text.toStdString(), Status{}; });
            break;
        case kArmed:
            put(item->checkState() == Qt::Checked ? "Arm a cue" : "Disarm a cue",
                [&](model::Cue& cue) { return cue.armed = item->checkState() == Qt::Checked, Status{}; });
            break;
        case kTimes:
            number("times", model::Value{text == tr("each") ? std::int64_t{0} : std::int64_t{text.toLongLong()}});
            break;
        case kRest: number("rest", model::Value{QString(text).replace(',', '.').toDouble()}); break;
        default: break;
    }
    fill();  // what was refused is as it was
}

void CueSheet::add() {
    if (editor_.selection().size() > 1) return;
    base::ObjectId id = editor_.selection().empty() ? base::ObjectId{} : editor_.selection().front();
    const std::string whose = id ? ops::describe(editor_.scene(), {&id, 1}) : "the scene";
    const bool ofScene = !id;
    const bool made = editor_.run("New cue of " + whose, [&](edit::Draft& draft) -> Status {
        if (ofScene) {
            const auto owner = ops::sceneCues(draft);
            if (!owner) return tl::unexpected(owner.error());
            id = *owner;
        }
        return ops::changeCues(draft, id, [&](model::Cues& cues) {
            cues.all.push_back(model::freshCue(cues));
            if (ofScene) cues.all.back().when[0].what = model::CueWhen::What::Start;  // nobody can use it
            return Status{};
        });
    });
    if (!made) return;
    if (ofScene) editor_.select({id});
    for (std::size_t i = 0; i < rows_.size(); ++i)
        if (rows_[i].object == id) table_->setCurrentCell(static_cast<int>(i), kName);
}

void CueSheet::remove() {
    if (chosen() < 0) return;
    const Row row = rows_[static_cast<std::size_t>(chosen())];
    editor_.run("Remove a cue of " + ops::describe(editor_.scene(), {&row.object, 1}), [&](edit::Draft& draft) {
        return ops::changeCues(draft, row.object, [&](model::Cues& cues) {
            if (row.cue < cues.all.size()) cues.all.erase(cues.all.begin() + static_cast<std::ptrdiff_t>(row.cue));
            return Status{};
        });
    });
}

void CueSheet::setOff() {
    if (chosen() < 0) return;
    const Row& row = rows_[static_cast<std::size_t>(chosen())];
    editor_.rehearsal().setOff(row.object, row.cue);
}

}  // namespace app
