#include "app/panels/act_strip.h"

#include <QGuiApplication>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/acts.h"
#include "app/shell/rehearsal.h"
#include "edit/session.h"
#include "ops/acts.h"

namespace app {

ActStrip::ActStrip(Editor& editor, QWidget* parent) : QFrame(parent), editor_(editor) {
    setObjectName("overlay");
    row_ = new QHBoxLayout(this);
    row_->setContentsMargins(8, 2, 4, 2);
    row_->setSpacing(4);
    row_->addWidget(label(tr("Acts"), "quiet"));
    row_->addWidget(
        all_ = button<QToolButton>("actsAll", tr("All"), tr("Shows all that there is, whatever act it belongs to")));
    all_->setCheckable(true);
    row_->addWidget(sums_ = label({}, "quiet"));
    sums_->setAccessibleName(tr("What the act does"));
    row_->addWidget(work_ = button<QToolButton>("actWork", tr("Work in it"), {}));
    work_->setCheckable(true);
    work_->setToolTip(
        tr("What is moved, set or placed from now on is so in this act only; again: everything is as it is otherwise"));
    connect(all_, &QToolButton::clicked, this, [this] {
        if (editor_.acts().worked()) editor_.acts().work({});
        editor_.acts().show({});
    });
    connect(work_, &QToolButton::clicked, this, [this] {
        editor_.acts().work(editor_.acts().worked() ? base::ObjectId{} : editor_.acts().only());
        fill();
    });
    connect(&editor_.acts(), &Acts::changed, this, &ActStrip::fill, Qt::QueuedConnection);
    connect(&editor_, &Editor::projectChanged, this, &ActStrip::fill);
    connect(&editor_.rehearsal(), &Rehearsal::changed, this, &ActStrip::fill);
    fill();
}

bool ActStrip::isWanted() const {
    return editor_.isOpen() && !editor_.rehearsal().isOn() && !editor_.acts().all().empty();
}

QToolButton* ActStrip::chip(base::ObjectId act) {
    auto* made = button<QToolButton>("act", {},
                                     tr("Shows what is there in this act; with Ctrl, in this one as well. "
                                        "▸: it goes on from the start. Right click: more"));
    made->setCheckable(true);
    made->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(made, &QToolButton::clicked, this,
            [this, act] { press(act, (QGuiApplication::keyboardModifiers() & Qt::ControlModifier) != 0); });
    connect(made, &QToolButton::customContextMenuRequested, this, [this, act] { openMenuOf(act); });
    return made;
}

void ActStrip::fill() {
    const bool open = editor_.isOpen();
    const std::vector<base::ObjectId> acts = open ? editor_.acts().all() : std::vector<base::ObjectId>{};
    if (acts != acts_) {
        for (QToolButton* old : chips_) old->deleteLater();
        chips_.clear();
        acts_ = acts;
        for (const base::ObjectId act : acts_) {
            chips_.push_back(chip(act));
            row_->insertWidget(1 + static_cast<int>(chips_.size()), chips_.back());
            chips_.back()->show();  // else it counts for nothing until later, and the strip stays as narrow
        }
    }
    const std::set<base::ObjectId> shown = open ? editor_.acts().shown() : std::set<base::ObjectId>{};
    for (std::size_t i = 0; i < acts_.size(); ++i) {
        const Slot slot = editor_.scene().find(acts_[i]);
        if (slot == kNoSlot) continue;
        const QString name = toQt(editor_.scene().nameText(slot));
        const bool on = shown.contains(acts_[i]);
        const auto* act = editor_.scene().facet<model::Act>(slot);
        chips_[i]->setText((on ? QStringLiteral("✓ ") : QString()) + name +
                           (act != nullptr && act->begins ? tr(" ▸") : QString()));
        chips_[i]->setAccessibleName(act != nullptr && act->begins ? tr("%1, begins").arg(name) : name);
        chips_[i]->setChecked(on);
    }
    all_->setChecked(shown.empty());
    all_->setText(shown.empty() ? tr("✓ All") : tr("All"));
    const bool worked = open && editor_.acts().worked();
    const bool mayWork = open && editor_.acts().only() && editor_.session().readOnlyReason().empty();
    work_->setVisible(worked || mayWork);
    work_->setChecked(worked);
    work_->setText(worked ? tr("✓ Working in it") : tr("Work in it"));
    fillSums();
    Q_EMIT resized();
}

/// What is there in the one that is looked at, and what it changes.
void ActStrip::fillSums() {
    const base::ObjectId act = editor_.isOpen() ? editor_.acts().only() : base::ObjectId{};
    sums_->setVisible(bool(act));
    if (!act) return;
    const ops::ActSums sums = ops::sumsOf(editor_.scene(), editor_.session().library(), act);
    sums_->setText(tr("+%1 −%2 · %3 moved").arg(sums.adds).arg(sums.takes).arg(sums.poses));
    sums_->setToolTip(
        tr("Adds %1, takes %2; %3 elsewhere, %4 with other values. %5 objects with %6 triangles are there, "
           "cost %7")
            .arg(sums.adds)
            .arg(sums.takes)
            .arg(sums.poses)
            .arg(sums.values)
            .arg(sums.objects)
            .arg(sums.triangles)
            .arg(QString::number(sums.cost)));
}

void ActStrip::press(base::ObjectId act, bool alsoOthers) {
    std::set<base::ObjectId> now = editor_.acts().shown();
    if (alsoOthers) {
        if (now.erase(act) == 0) now.insert(act);
    } else {
        now = {act};
    }
    // Who works in an act and looks at another goes out of it first.
    if (const base::ObjectId worked = editor_.acts().worked(); worked && !now.contains(worked)) editor_.acts().work({});
    editor_.acts().show(std::move(now));
}

void ActStrip::openMenuOf(base::ObjectId act) {
    QMenu* menu = openMenu(this);
    menu->setToolTipsVisible(true);
    const bool edits = editor_.session().readOnlyReason().empty();
    const auto add = [&](const QString& text, const QString& tip, auto run) {
        QAction* made = menu->addAction(text, this, run);
        made->setToolTip(tip);
        return made;
    };
    using Is = model::ActPart::Is;
    Acts& acts = editor_.acts();
    const bool some = edits && !editor_.selection().empty();
    add(tr("What is selected is in it"), tr("It is there in this act, and not without one that has it"), [&acts, act] {
        acts.put(act, Is::There);
    })->setEnabled(some);
    add(tr("What is selected is away in it"), tr("It is there, but not in this act"), [&acts, act] {
        acts.put(act, Is::Away);
    })->setEnabled(some);
    add(tr("What is selected is not bound to it"), tr("The act does not say any more whether it is there"),
        [&acts, act] { acts.put(act, Is::AsItIs); })
        ->setEnabled(some);
    add(tr("Place and values as otherwise"), tr("What is selected stands in this act where it stands without it"),
        [&acts, act] { acts.putBack(act); })
        ->setEnabled(some);
    menu->addSeparator();
    add(tr("Select the act"), tr("Its name, and whether it goes on from the start, stand in Properties"),
        [this, act] { editor_.select({act}); });
    add(tr("Select what it is about"), tr("All that it adds, takes, moves or sets otherwise"),
        [&acts, act] { acts.selectMembers(act); });
    menu->popup(QCursor::pos());
}

}  // namespace app
