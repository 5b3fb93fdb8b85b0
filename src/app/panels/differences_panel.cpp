#include "app/panels/differences_panel.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include "app/kit/folding_bar.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/panels/difference_text.h"
#include "base/text.h"
#include "edit/session.h"

namespace app {

DifferencesPanel::DifferencesPanel(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    setObjectName("panel");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 6, 10, 6);
    layout->setSpacing(5);
    auto* head = new FoldingBar;
    auto* name = new QLabel(tr("Differences"));
    name->setObjectName("panelTitle");
    head->add(name);
    head->add(title_ = new QLabel, 1);
    title_->setObjectName("quiet");
    title_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    title_->setMinimumWidth(120);
    auto button = [&](const char* id, const QString& text, const QString& tip) {
        auto* b = new QPushButton(text);
        b->setObjectName(QLatin1String(id));
        b->setToolTip(tip);
        head->addFolding(b);
        return b;
    };
    give_ = button("giveDifference", tr("Give to the definition"),
                   tr("The definition gets the chosen differences, and with it every instance"));
    takeBack_ = button("takeDifferenceBack", tr("Take back"), tr("The chosen ones are as in the definition again"));
    giveAll_ = button("giveAllDifferences", tr("Give all"), tr("The definition gets everything that differs here"));
    takeAllBack_ = button("takeAllDifferencesBack", tr("Take all back"), tr("Nothing differs any more"));
    layout->addWidget(head);
    list_ = new QTreeWidget;
    list_->setObjectName("differencesList");
    list_->setAccessibleName(tr("Differences from the definition"));
    list_->setHeaderLabels({tr("Object"), tr("What"), tr("In the definition"), tr("Here")});
    list_->setRootIsDecorated(false);
    list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    list_->setUniformRowHeights(true);
    list_->setToolTip(tr("Double-click: select the object in the view"));
    list_->header()->setStretchLastSection(true);
    for (int i = 0; i < 3; ++i) list_->header()->resizeSection(i, i == 1 ? 130 : 200);
    layout->addWidget(list_, 1);
    layout->addWidget(empty_ = new QLabel);
    empty_->setObjectName("quiet");
    layout->addStretch(0);
    connect(list_, &QTreeWidget::itemSelectionChanged, this, [this] {
        const bool any = !chosen().empty();
        give_->setEnabled(any);
        takeBack_->setEnabled(any);
    });
    connect(list_, &QTreeWidget::itemActivated, this, [this](QTreeWidgetItem* row) {
        const auto& entry = entries_[static_cast<std::size_t>(list_->indexOfTopLevelItem(row))];
        const base::ObjectId id = base::joined(instance_, entry.inner);
        if (editor_.scene().find(id) != kNoSlot) editor_.select({id});
    });
    connect(give_, &QPushButton::clicked, this, [this] { act(true, chosen()); });
    connect(takeBack_, &QPushButton::clicked, this, [this] { act(false, chosen()); });
    connect(giveAll_, &QPushButton::clicked, this, [this] { act(true, entries_); });
    connect(takeAllBack_, &QPushButton::clicked, this, [this] { act(false, entries_); });
    for (auto signal : {&Editor::selectionChanged, &Editor::sceneShown})
        connect(&editor_, signal, this, [this] {
            if (isVisible()) refresh();
        });
    connect(&editor_, &Editor::sceneEdited, this, [this] {
        if (isVisible()) refresh();
    });
}

void DifferencesPanel::showEvent(QShowEvent*) {
    refresh();
}

std::vector<ops::DifferenceEntry> DifferencesPanel::chosen() const {
    std::vector<ops::DifferenceEntry> some;
    for (QTreeWidgetItem* row : list_->selectedItems())
        some.push_back(entries_[static_cast<std::size_t>(list_->indexOfTopLevelItem(row))]);
    return some;
}

void DifferencesPanel::refresh() {
    instance_ = {};
    std::vector<ops::DifferenceEntry> now;
    if (editor_.isOpen() && !editor_.selection().empty()) {
        const model::Scene& scene = editor_.scene();
        Slot s = scene.find(editor_.selection().back());
        if (s != kNoSlot)
            if (const Slot around = scene.instanceAround(s); around != kNoSlot) s = around;
        if (s != kNoSlot && scene.isInstance(s)) {
            instance_ = scene.id(s);
            now = ops::differences(editor_.session(), *scene.detail(s)->prefab);
        }
    }
    entries_ = std::move(now);
    list_->clear();
    for (const ops::DifferenceEntry& entry : entries_) {
        const auto& link = *editor_.scene().detail(editor_.scene().find(instance_))->prefab;
        const ops::DifferenceLine line = ops::lineOf(editor_.session(), link, entry);
        auto* row = new QTreeWidgetItem(list_, {toQt(line.object), toQt(line.what), toQt(line.before), toQt(line.now)});
        for (int column = 0; column < 4; ++column) row->setToolTip(column, row->text(column));
    }
    const bool any = !entries_.empty();
    list_->setVisible(any);
    empty_->setVisible(!any);
    for (QPushButton* b : {giveAll_, takeAllBack_}) b->setEnabled(any);
    for (QPushButton* b : {give_, takeBack_}) b->setEnabled(false);
    empty_->setText(!instance_ ? tr("Select an instance of a prefab, or something inside one, to see what differs.")
                               : tr("Nothing differs: it is as its definition says."));
    if (!instance_) return title_->clear();
    const Slot s = editor_.scene().find(instance_);
    const auto name = editor_.scene().nameText(s);
    title_->setText(
        tr("%1 · instance of %2 · %3")
            .arg(toQt(name),
                 QString::fromStdString(editor_.session().prefabName(editor_.scene().detail(s)->prefab->of)),
                 counted(entries_.size(), tr("difference"), tr("differences"))));
}

void DifferencesPanel::act(bool give, const std::vector<ops::DifferenceEntry>& entries) {
    const base::ObjectId instance = instance_;
    const std::string what = std::to_string(entries.size()) + (entries.size() == 1 ? " difference" : " differences");
    editor_.run(give ? "Give " + what + " to the definition" : "Take " + what + " back", [&](edit::Draft& draft) {
        return give ? ops::giveToDefinition(draft, instance, entries) : ops::takeBack(draft, instance, entries);
    });
}

}  // namespace app
