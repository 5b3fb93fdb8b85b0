#include "app/dialogs/used_by_popover.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QRadioButton>
#include <QVBoxLayout>

#include "app/kit/parts.h"
#include "edit/session.h"
#include "ops/items.h"

namespace app {
namespace {

void openAt(QFrame* card, const QSize& size) {
    card->setObjectName("popover");
    card->setAttribute(Qt::WA_StyledBackground);
    card->setAttribute(Qt::WA_DeleteOnClose);
    const QSize room = size.boundedTo(card->parentWidget()->size() - QSize(16, 96));
    card->setGeometry(QRect(QPoint((card->parentWidget()->width() - room.width()) / 2, 84), room));
    card->show();
    card->raise();
}

std::size_t total(const std::vector<ops::Use>& uses) {
    std::size_t n = 0;
    for (const ops::Use& use : uses) n += use.ids.size();
    return n;
}

}  // namespace

QTreeWidget* usesList(Editor& editor, const std::vector<ops::Use>& uses) {
    auto* list = new QTreeWidget;
    list->setObjectName("usesList");
    list->setAccessibleName(UsedByPopover::tr("Where it is used"));
    list->setHeaderLabels({UsedByPopover::tr("Scene or prefab"), UsedByPopover::tr("How often")});
    list->setRootIsDecorated(false);
    list->header()->resizeSection(0, 240);
    for (const ops::Use& use : uses) {
        auto* row = new QTreeWidgetItem(list, {editor.documentName(use.document), QString::number(use.ids.size())});
        row->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
        row->setData(0, Qt::UserRole, QString::fromStdString(use.document));
    }
    list->setToolTip(UsedByPopover::tr("Double-click: show them there"));
    QObject::connect(list, &QTreeWidget::itemActivated, list, [&editor, uses, list](QTreeWidgetItem* row) {
        const auto& use = uses[static_cast<std::size_t>(list->indexOfTopLevelItem(row))];
        if (use.document == editor.sceneName() || editor.report(editor.showScene(use.document))) editor.select(use.ids);
    });
    return list;
}

UsedByPopover::UsedByPopover(QWidget* parent, Editor& editor, const QString& what, const std::vector<ops::Use>& uses)
    : QFrame(parent) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 12, 14, 12);
    layout->addWidget(wrapped(tr("Where %1 is used").arg(what), "panelTitle"));
    if (uses.empty())
        layout->addWidget(wrapped(tr("Nowhere: no scene and no prefab of this project holds it."), "quiet"), 1);
    else
        layout->addWidget(usesList(editor, uses), 1);
    auto* row = new QHBoxLayout;
    row->addWidget(wrapped(uses.empty() ? QString() : tr("%1 in all").arg(total(uses)), "faint"), 1);
    auto* close = new QPushButton(tr("Close"));
    row->addWidget(close);
    layout->addLayout(row);
    connect(close, &QPushButton::clicked, this, &QWidget::close);
    openAt(this, {420, 300});
    close->setFocus();
}

void UsedByPopover::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) close();
}

DeletePopover::DeletePopover(QWidget* parent, Editor& editor, const std::string& item,
                             const std::vector<ops::Use>& uses)
    : QFrame(parent) {
    const base::ObjectId prefab = model::prefabOf(item);
    const model::Item* known = editor.session().library().item(editor.session().intern(item));
    const QString name = known != nullptr ? QString::fromStdString(known->label) : QString();
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 12, 14, 12);
    layout->addWidget(
        wrapped(prefab ? tr("Delete the prefab %1").arg(name) : tr("Delete the item %1").arg(name), "panelTitle"));
    const std::size_t n = total(uses);
    layout->addWidget(wrapped(n == 0 ? tr("Nothing uses it. Its file goes with the next save; undo brings it back.")
                                     : tr("It has %1. What should become of them? Undo brings all of it back, the file "
                                          "too.")
                                           .arg(prefab ? counted(n, tr("instance"), tr("instances"))
                                                       : counted(n, tr("object"), tr("objects"))),
                              "quiet"));
    auto* apart = new QRadioButton(tr("Take them apart: their objects stay where they are"));
    auto* swap = new QRadioButton(tr("Swap them for"));
    auto* keep = new QRadioButton(prefab ? tr("Leave them: they are empty until there is such a prefab again")
                                         : tr("Leave them: they show nothing until there is such an item again"));
    auto* other = new QComboBox;
    apart->setObjectName("deleteApart");
    swap->setObjectName("deleteSwap");
    keep->setObjectName("deleteKeep");
    other->setObjectName("deleteOther");
    other->setAccessibleName(tr("What to swap them for"));
    (prefab ? apart : keep)->setChecked(true);
    for (const model::Item& one : editor.session().library().items())
        if (!one.isSolid && one.name != item && bool(one.prefab) == bool(prefab))
            other->addItem(QString::fromStdString(one.label), QString::fromStdString(one.name));
    swap->setEnabled(other->count() > 0);
    other->setEnabled(false);
    connect(swap, &QRadioButton::toggled, other, &QWidget::setEnabled);
    if (n > 0) {
        layout->addWidget(usesList(editor, uses), 1);
        if (prefab)
            layout->addWidget(apart);
        else
            apart->setParent(this), apart->hide();
        auto* row = new QHBoxLayout;
        row->addWidget(swap);
        row->addWidget(other, 1);
        layout->addLayout(row);
        layout->addWidget(keep);
    }
    auto* row = new QHBoxLayout;
    auto* cancel = new QPushButton(tr("Cancel"));
    auto* remove = new QPushButton(tr("Delete"));
    remove->setObjectName("deletePrefab");
    remove->setProperty("primary", true);
    row->addStretch();
    row->addWidget(cancel);
    row->addWidget(remove);
    layout->addLayout(row);
    connect(cancel, &QPushButton::clicked, this, &QWidget::close);
    connect(remove, &QPushButton::clicked, this, [this, &editor, item, prefab, name, swap, keep, other] {
        const std::string chosen = other->currentData().toString().toStdString();
        if (!prefab) {
            ops::DeleteItem how;
            if (swap->isChecked()) how = {ops::DeleteItem::Objects::Swap, editor.session().intern(chosen)};
            const base::Name key = editor.session().intern(item);
            if (editor.run("Delete item " + name.toStdString(),
                           [&](edit::Draft& draft) { return ops::deleteItem(draft, key, how); }))
                close();
            return;
        }
        using Instances = ops::DeletePrefab::Instances;
        ops::DeletePrefab how;
        how.instances = swap->isChecked()   ? Instances::Swap
                        : keep->isChecked() ? Instances::Keep
                                            : Instances::TakeApart;
        how.other = model::prefabOf(chosen);
        const std::string step = "Delete prefab " + editor.session().prefabName(prefab);
        // One cannot stand in what is deleted.
        if (editor.sceneName() == model::definitionKey(prefab))
            (void)editor.showScene(editor.session().project().firstScene);
        if (editor.run(step, [&](edit::Draft& draft) { return ops::deletePrefab(draft, prefab, how); })) close();
    });
    openAt(this, {460, n > 0 ? 380 : 150});
    remove->setFocus();
}

void AskDelete::ask(QWidget* parent, Editor& editor, const QString& what, const QString& stays,
                    const std::vector<ops::Use>& uses, const std::function<void()>& remove) {
    if (uses.empty()) return remove();
    auto* card = new AskDelete(parent);
    auto* layout = new QVBoxLayout(card);
    layout->setContentsMargins(14, 12, 14, 12);
    layout->addWidget(wrapped(tr("Delete %1").arg(what), "panelTitle"));
    layout->addWidget(
        wrapped(tr("%1 it. %2").arg(counted(total(uses), tr("object uses"), tr("objects use")), stays), "quiet"));
    layout->addWidget(usesList(editor, uses), 1);
    auto* row = new QHBoxLayout;
    auto* cancel = new QPushButton(tr("Cancel"));
    auto* go = new QPushButton(tr("Delete"));
    go->setObjectName("deleteUsed");
    go->setProperty("primary", true);
    row->addStretch();
    row->addWidget(cancel);
    row->addWidget(go);
    layout->addLayout(row);
    connect(cancel, &QPushButton::clicked, card, &QWidget::close);
    connect(go, &QPushButton::clicked, card, [card, remove] {
        card->close();
        remove();
    });
    openAt(card, {440, 300});
    cancel->setFocus();
}

void AskDelete::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        close();
    else
        QFrame::keyPressEvent(event);
}

void DeletePopover::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) close();
}

}  // namespace app
