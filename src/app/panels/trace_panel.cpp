#include "app/panels/trace_panel.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/editor.h"
#include "edit/session.h"

namespace app {

TracePanel::TracePanel(Editor& editor, QWidget* parent)
    : QWidget(parent), editor_(editor), rehearsal_(editor.rehearsal()) {
    setObjectName("tracePanel");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 6, 12, 6);
    row->setSpacing(12);
    auto* left = new QVBoxLayout;
    left->setSpacing(4);
    left->addWidget(label(tr("Runs of this scene"), "quiet"));
    runs_ = new QListWidget;
    runs_->setObjectName("traceRuns");
    runs_->setAccessibleName(tr("Runs of this scene"));
    runs_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    left->addWidget(runs_, 1);
    auto* acts = new QHBoxLayout;
    acts->setSpacing(4);
    const auto act = [&](const char* name, const QString& text, const QString& tip, auto what) {
        auto* made = button<QToolButton>(name, text, tip);
        acts->addWidget(made);
        connect(made, &QToolButton::clicked, this, [this, what] {
            if (const int run = chosenRun(); run >= 0) what(static_cast<std::size_t>(run));
        });
        return made;
    };
    look_ = act("traceLook", tr("Look at it"), tr("Shows what happened in it, as it was"),
                [this](std::size_t run) { rehearsal_.look(run); });
    replay_ =
        act("traceReplay", tr("Play it again"), tr("The same keys in the scene as it is now, and where that differs"),
            [this](std::size_t run) { rehearsal_.replay(run); });
    forget_ = act("traceForget", tr("Forget"), tr("Deletes this run; the scene has nothing to do with it"),
                  [this](std::size_t run) { rehearsal_.forget(run); });
    acts->addStretch(1);
    left->addLayout(acts);
    row->addLayout(left, 2);
    auto* right = new QVBoxLayout;
    right->setSpacing(4);
    auto* head = new QHBoxLayout;
    head->addWidget(parts_ = label({}, "tracePartsText"), 1);
    parts_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    head->addWidget(label(tr("Against"), "quiet"));
    against_ = new QComboBox;
    against_->setObjectName("traceAgainst");
    against_->setAccessibleName(tr("Run to compare with"));
    against_->setToolTip(tr("Another run beside the one that is shown: where they part"));
    against_->setMinimumWidth(170);
    head->addWidget(against_);
    right->addLayout(head);
    entries_ = new QTableWidget(0, 3);
    entries_->setObjectName("traceEntries");
    entries_->setAccessibleName(tr("What happened"));
    entries_->setHorizontalHeaderLabels({tr("Seconds"), tr("What happened"), tr("In")});
    entries_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    entries_->setColumnWidth(0, 74);
    entries_->setColumnWidth(2, 110);
    entries_->verticalHeader()->hide();
    entries_->verticalHeader()->setDefaultSectionSize(22);
    entries_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    entries_->setSelectionBehavior(QAbstractItemView::SelectRows);
    entries_->setSelectionMode(QAbstractItemView::SingleSelection);
    entries_->setShowGrid(false);
    right->addWidget(entries_, 1);
    row->addLayout(right, 5);
    connect(runs_, &QListWidget::itemDoubleClicked, this, [this] {
        if (const int run = chosenRun(); run >= 0) rehearsal_.look(static_cast<std::size_t>(run));
    });
    connect(runs_, &QListWidget::currentRowChanged, this, [this](int chosen) {
        for (QToolButton* one : {look_, replay_, forget_}) one->setEnabled(chosen >= 0);
    });
    connect(against_, &QComboBox::activated, this, [this](int index) {
        rehearsal_.compareWith(index > 0 ? std::optional(static_cast<std::size_t>(index - 1)) : std::nullopt);
    });
    connect(entries_, &QTableWidget::currentCellChanged, this, [this](int chosen) {
        const QTableWidgetItem* item = chosen >= 0 && !filling_ ? entries_->item(chosen, 0) : nullptr;
        if (item == nullptr) return;
        rehearsal_.show(item->data(Qt::UserRole).toInt());
        const auto id = base::ObjectId{item->data(Qt::UserRole + 1).toULongLong()};
        if (id && editor_.scene().find(id) != kNoSlot) editor_.select({id});
    });
    connect(&rehearsal_, &Rehearsal::keptChanged, this, &TracePanel::fillRuns);
    connect(&rehearsal_, &Rehearsal::changed, this, [this] {
        filledOf_ = nullptr;
        fillEntries();
    });
    connect(&rehearsal_, &Rehearsal::advanced, this, &TracePanel::fillEntries);
    fillRuns();
    fillEntries();
}

int TracePanel::chosenRun() const {
    return runs_->currentRow();
}

void TracePanel::fillRuns() {
    const int chosen = std::max(0, runs_->currentRow());
    runs_->clear();
    against_->clear();
    against_->addItem(tr("no other run"));
    for (const KeptRun& run : rehearsal_.kept()) {
        // When it was: they are all of this scene.
        const QString when = run.name.mid(run.name.indexOf(' ') + 1).replace('.', ':');
        runs_->addItem(tr("%1 · %2 s").arg(when, fixed(run.trace.seconds(), 1)));
        against_->addItem(when);
    }
    runs_->setCurrentRow(std::min(chosen, runs_->count() - 1));
    for (QToolButton* one : {look_, replay_, forget_}) one->setEnabled(runs_->currentRow() >= 0);
    against_->setEnabled(runs_->count() > 0);
}

void TracePanel::fillEntries() {
    const rehearse::Trace* trace = rehearsal_.trace();
    const auto& parting = rehearsal_.parting();
    if (trace == nullptr || rehearsal_.level() == nullptr) {
        entries_->setRowCount(0);
        filled_ = 0;
        filledOf_ = nullptr;
        against_->setCurrentIndex(0);
        parts_->setText(rehearsal_.kept().empty()
                            ? tr("F5 plays the scene; what happens is listed here.")
                            : tr("F5 plays the scene; a run on the left can be looked at, or played again."));
        return;
    }
    if (!isVisible() && trace == filledOf_) return;
    filling_ = true;
    const bool fresh = trace != filledOf_ || trace->entries.size() < filled_ || parting;
    if (fresh) {
        entries_->setRowCount(0);
        filled_ = 0;
    }
    filledOf_ = trace;
    const auto append = [&](const rehearse::Entry& e, const QString& in) {
        const int row = entries_->rowCount();
        entries_->insertRow(row);
        auto* time = new QTableWidgetItem(fixed(e.seconds(), 2));
        time->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        time->setData(Qt::UserRole, e.step);
        time->setData(Qt::UserRole + 1, QVariant::fromValue<qulonglong>((e.object ? e.object : e.other).value));
        entries_->setItem(row, 0, time);
        entries_->setItem(row, 1, new QTableWidgetItem(toQt(rehearse::textOf(e, *rehearsal_.level()))));
        entries_->setItem(row, 2, new QTableWidgetItem(in));
    };
    if (parting) {
        std::vector<std::pair<const rehearse::Entry*, bool>> both;
        for (const auto& e : parting->onlyFirst) both.emplace_back(&e, true);
        for (const auto& e : parting->onlySecond) both.emplace_back(&e, false);
        std::stable_sort(both.begin(), both.end(),
                         [](const auto& a, const auto& b) { return a.first->step < b.first->step; });
        for (const auto& [e, first] : both) append(*e, first ? tr("the other only") : tr("this one only"));
        for (const rehearse::StopTimes& stop : parting->stops) {
            if (!stop.first || !stop.second) continue;  // listed as what happened in one alone
            rehearse::Entry e;
            e.what = rehearse::What::Passed;
            e.step = stop.step;
            e.object = stop.stop;
            e.other = stop.route;
            e.amount = *stop.second;
            const double later = *stop.second - *stop.first;
            append(e, std::abs(later) < 0.005 ? tr("the same")
                      : later > 0             ? tr("%1 s later").arg(fixed(later, 2))
                                              : tr("%1 s sooner").arg(fixed(-later, 2)));
        }
        parts_->setText(parting->alike()    ? tr("Nothing is otherwise.")
                        : parting->step < 0 ? tr("Everything went the same way; what is otherwise is listed.")
                                            : tr("They part after %1 s, by up to %2.")
                                                  .arg(fixed(parting->step * rehearse::kStep, 2),
                                                       editor_.length(parting->farthestMetres)));
        filled_ = 0;
    } else {
        constexpr std::size_t kMostRows = 5000;
        for (; filled_ < std::min(trace->entries.size(), kMostRows); ++filled_) append(trace->entries[filled_], {});
        parts_->setText(
            tr("%1, %2 s").arg(counted(trace->entries.size(), tr("entry"), tr("entries")), fixed(trace->seconds(), 1)));
        if (rehearsal_.mode() == Rehearsal::Mode::Playing) entries_->scrollToBottom();
    }
    if (const auto& other = rehearsal_.comparedWith())
        against_->setCurrentIndex(static_cast<int>(*other) + 1);
    else
        against_->setCurrentIndex(0);
    filling_ = false;
    followMoment();
}

/// The entry that came last before the moment that is shown stands out.
void TracePanel::followMoment() {
    if (rehearsal_.mode() == Rehearsal::Mode::Playing || entries_->hasFocus()) return;
    int last = -1;
    for (int row = 0; row < entries_->rowCount(); ++row)
        if (entries_->item(row, 0)->data(Qt::UserRole).toInt() <= rehearsal_.shownStep()) last = row;
    filling_ = true;
    if (last >= 0) entries_->setCurrentCell(last, 1);
    filling_ = false;
}

}  // namespace app
