#include "app/panels/roster_panel.h"

#include "app/shell/checks.h"

#include <QAbstractItemDelegate>
#include <QApplication>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPainter>
#include <QStyle>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/asking.h"
#include "edit/delta.h"

namespace app {

namespace {

constexpr qsizetype kMostRuns = 1000;

/// A small sign of an object's state, in the middle of `at`; each has a shape of its own.
void paintSign(QPainter* p, int sign, const QRectF& at, const Theme& t) {
    const QPointF c = at.center();
    p->setBrush(Qt::NoBrush);
    if (sign == RosterModel::Hidden) {
        p->setPen(QPen(t.faint, 1.3));
        p->drawEllipse(c, 4, 2.8);
        p->drawLine(c + QPointF(-4, 4), c + QPointF(4, -4));
    } else if (sign == RosterModel::Protected) {
        p->setPen(QPen(t.dim, 1.3));
        p->drawArc(QRectF(c.x() - 2.5, c.y() - 5, 5, 6), 0, 180 * 16);
        p->setBrush(t.dim);
        p->drawRect(QRectF(c.x() - 3.5, c.y() - 1, 7, 5));
    } else if (sign == RosterModel::Differs) {
        p->setPen(t.honey);
        p->drawText(at, Qt::AlignCenter, QStringLiteral("≠"));
    } else {
        p->setPen(Qt::NoPen);
        p->setBrush(sign == RosterModel::ErrorFound ? t.rose : sign == RosterModel::CautionFound ? t.lemon : t.moss);
        if (sign == RosterModel::ErrorFound) p->drawRect(QRectF(c.x() - 3.5, c.y() - 3.5, 7, 7));
        if (sign == RosterModel::CautionFound)
            p->drawPolygon(QPolygonF({c + QPointF(0, -4), c + QPointF(4, 3), c + QPointF(-4, 3)}));
        if (sign == RosterModel::HintFound) p->drawEllipse(c, 3, 3);
    }
}

/// A small square in the kind's colour before the name, and signs of its state after it.
class RosterDelegate : public QStyledItemDelegate {
  public:
    RosterDelegate(Editor& editor, QObject* parent) : QStyledItemDelegate(parent), editor_(editor) {}
    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        return QStyledItemDelegate::sizeHint(option, index) + QSize(8, 0);
    }
    void paint(QPainter* p, const QStyleOptionViewItem& given, const QModelIndex& index) const override {
        QStyleOptionViewItem option = given;
        option.state.setFlag(QStyle::State_Selected, index.data(RosterModel::SelectedRole).toBool());
        if (index.column() != RosterModel::NameColumn) {
            QStyleOptionViewItem small = option;
            small.font.setPixelSize(11);
            small.rect.adjust(0, 0, -8, 0);
            return QStyledItemDelegate::paint(p, small, index);
        }
        option.widget->style()->drawPrimitive(QStyle::PE_PanelItemViewItem, &option, p, option.widget);
        const int all = index.data(RosterModel::SignsRole).toInt();
        std::vector<int> signs;
        for (int sign = RosterModel::Differs; sign <= RosterModel::ErrorFound; sign *= 2)
            if ((all & sign) != 0) signs.push_back(sign);
        constexpr int kSign = 13;
        QStyleOptionViewItem shifted = option;
        shifted.textElideMode = Qt::ElideMiddle;  // the number stands at the end
        shifted.rect.adjust(14, 0, -kSign * static_cast<int>(signs.size()), 0);
        QStyledItemDelegate::paint(p, shifted, index);
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        p->setPen(Qt::NoPen);
        p->setBrush(index.data(RosterModel::MarkRole).value<QColor>());
        p->drawRoundedRect(QRectF(option.rect.left() + 3, option.rect.center().y() - 3.5, 8, 8), 2, 2);
        int x = option.rect.right() - kSign * static_cast<int>(signs.size());
        for (int sign : signs) {
            paintSign(p, sign, QRectF(x, option.rect.top(), kSign, option.rect.height()), editor_.theme());
            x += kSign;
        }
        p->restore();
    }

  private:
    Editor& editor_;
};

}  // namespace

RosterPanel::RosterPanel(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    setObjectName("panel");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 6, 0, 0);
    layout->setSpacing(6);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(0, 0, 10, 0);
    auto* title = label({}, "panelTitle");
    title->setText(tr("Roster"));
    head->addWidget(title);
    head->addStretch();
    head->addWidget(total_ = label({}, "faint"));
    layout->addLayout(head);
    filter_ = new QLineEdit;
    filter_->setObjectName("rosterFilter");
    filter_->setAccessibleName(tr("Filter the Roster"));
    filter_->setPlaceholderText(tr("name, kind:, hidden, *"));
    filter_->setToolTip(
        tr("Part of a name, kind:Lantern, item:bench, hidden, protected, unseated, findings, oil>3; * stands for "
           "anything"));
    filter_->setClearButtonEnabled(true);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(0, 0, 10, 0);
    row->addWidget(filter_);
    layout->addLayout(row);
    model_ = new RosterModel(editor_, this);
    tree_ = new QTreeView;
    tree_->setObjectName("rosterTree");
    tree_->setAccessibleName(tr("Objects of the scene"));
    tree_->setModel(model_);
    tree_->setItemDelegate(new RosterDelegate(editor_, tree_));
    tree_->setHeaderHidden(true);
    connect(&editor_, &Editor::sceneEdited, tree_, [this](const edit::SceneDelta& delta) {
        if (!delta.detailed.empty()) tree_->viewport()->update();  // what differs in instances is marked
    });
    tree_->setUniformRowHeights(true);
    tree_->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(tree_, &QWidget::customContextMenuRequested, this,
            [this](const QPoint& at) { Q_EMIT menuAsked(tree_->viewport()->mapToGlobal(at)); });
    tree_->setIndentation(14);
    tree_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    tree_->setEditTriggers(QAbstractItemView::EditKeyPressed);
    tree_->setExpandsOnDoubleClick(false);
    tree_->setDragDropMode(QAbstractItemView::InternalMove);
    tree_->setDefaultDropAction(Qt::MoveAction);
    tree_->header()->setStretchLastSection(false);
    tree_->header()->setSectionResizeMode(RosterModel::NameColumn, QHeaderView::Stretch);
    tree_->header()->setSectionResizeMode(RosterModel::KindColumn, QHeaderView::Fixed);
    tree_->header()->resizeSection(RosterModel::KindColumn, 96);  // gives way to the name
    layout->addWidget(tree_, 1);
    empty_ = label({}, "quiet");
    empty_->setWordWrap(true);
    empty_->hide();
    layout->addWidget(empty_);
    counts_ = label({}, "faint");
    counts_->setContentsMargins(0, 2, 10, 5);
    layout->addWidget(counts_);

    connect(filter_, &QLineEdit::textChanged, this, [this](const QString& text) {
        model_->setFilter(text);
        count();
    });
    connect(tree_, &QTreeView::expanded, this,
            [this](const QModelIndex& i) { open_.insert(editor_.scene().id(model_->slotOf(i))); });
    connect(tree_, &QTreeView::collapsed, this,
            [this](const QModelIndex& i) { open_.erase(editor_.scene().id(model_->slotOf(i))); });
    connect(tree_, &QTreeView::doubleClicked, this, [this] { Q_EMIT bringIntoViewRequested(); });
    connect(tree_->selectionModel(), &QItemSelectionModel::selectionChanged, this, &RosterPanel::fromTree);
    connect(model_, &QAbstractItemModel::modelAboutToBeReset, this, [this] { syncing_ = true; });
    connect(model_, &QAbstractItemModel::modelReset, this, [this] {
        syncing_ = false;
        restoreExpansion();
        fromScene();
        count();
    });
    connect(&editor_, &Editor::selectionChanged, this, &RosterPanel::fromScene);
    connect(&editor_, &Editor::sceneEdited, this, &RosterPanel::count);
    connect(&editor_.checks(), &Checks::changed, tree_->viewport(), QOverload<>::of(&QWidget::update));
    connect(&editor_, &Editor::themeChanged, tree_->viewport(), QOverload<>::of(&QWidget::update));
}

void RosterPanel::focusFilter() {
    filter_->setFocus();
    filter_->selectAll();
}

void RosterPanel::restoreExpansion() {
    if (!editor_.isOpen() || model_->isFiltered()) return;
    const std::set<base::ObjectId> wanted = open_;
    for (base::ObjectId id : wanted)
        if (const QModelIndex at = model_->indexOf(editor_.scene().find(id)); at.isValid()) tree_->expand(at);
    open_ = wanted;
}

void RosterPanel::fromScene() {
    if (syncing_ || !editor_.isOpen()) return;
    syncing_ = true;
    QItemSelection selection;
    QModelIndex last;
    const QModelIndexList rows = selectedRows();
    for (qsizetype i = 0; i < rows.size(); ++i) {  // runs of rows
        const QModelIndex first = rows[i];
        while (i + 1 < rows.size() && rows[i + 1].row() == rows[i].row() + 1 && rows[i + 1].parent() == first.parent())
            ++i;
        selection.select(first, rows[i].siblingAtColumn(RosterModel::KindColumn));
    }
    if (!editor_.selection().empty()) last = model_->indexOf(editor_.scene().find(editor_.selection().back()));
    // Qt compares every run with every other: of very many the rows are only painted as selected.
    tooMany_ = selection.size() > kMostRuns;
    if (tooMany_) selection.clear();
    tree_->selectionModel()->select(selection, QItemSelectionModel::ClearAndSelect);
    tree_->viewport()->update();
    if (last.isValid()) {
        tree_->selectionModel()->setCurrentIndex(last, QItemSelectionModel::NoUpdate);
        tree_->scrollTo(last);
    }
    syncing_ = false;
    count();
}

/// The rows of what is selected, those of one parent in their order.
QModelIndexList RosterPanel::selectedRows() const {
    QModelIndexList rows;
    for (base::ObjectId id : editor_.selection())
        if (const QModelIndex at = model_->indexOf(editor_.scene().find(id)); at.isValid()) rows << at;
    auto key = [this](const QModelIndex& i) {
        return std::pair(model_->isFiltered() ? kNoSlot : editor_.scene().parent(model_->slotOf(i)), i.row());
    };
    std::sort(rows.begin(), rows.end(), [&](const QModelIndex& a, const QModelIndex& b) { return key(a) < key(b); });
    return rows;
}

void RosterPanel::fromTree() {
    if (syncing_ || !editor_.isOpen()) return;
    if (editor_.asking().asksObject()) {  // a click here means what a link is to lead to
        const model::Slot slot = model_->slotOf(tree_->currentIndex());
        editor_.asking().giveObject(editor_.scene(), slot);
        return fromScene();
    }
    syncing_ = true;
    std::vector<base::ObjectId> ids;
    // Added with Ctrl to very many, which the tree itself does not know as selected.
    if (tooMany_ && (QApplication::keyboardModifiers() & Qt::ControlModifier) != 0) ids = editor_.selection();
    for (const QModelIndex& index : tree_->selectionModel()->selectedIndexes())
        if (index.column() == RosterModel::NameColumn) ids.push_back(editor_.scene().id(model_->slotOf(index)));
    tooMany_ = tooMany_ && ids.size() > static_cast<std::size_t>(tree_->selectionModel()->selectedIndexes().size());
    editor_.select(std::move(ids));
    syncing_ = false;
    count();
}

void RosterPanel::count() {
    if (!editor_.isOpen()) return;
    const int n = static_cast<int>(editor_.scene().objectCount());
    total_->setText(model_->isFiltered() ? tr("%1 of %2").arg(model_->matches()).arg(n)
                                         : counted(static_cast<std::size_t>(n), tr("object"), tr("objects")));
    QStringList parts;
    if (!editor_.selection().empty()) parts << tr("%1 selected").arg(editor_.selection().size());
    if (editor_.hiddenCount() > 0) parts << tr("%1 hidden").arg(editor_.hiddenCount());
    if (editor_.protectedCount() > 0) parts << tr("%1 protected").arg(editor_.protectedCount());
    counts_->setText(parts.join("   "));
    empty_->setVisible(n == 0 || (model_->isFiltered() && model_->matches() == 0));
    if (model_->isSearching()) return empty_->setText(tr("Looking…"));
    empty_->setText(n == 0 ? tr("This scene is empty. Drag something in from the Stock.")
                           : tr("Nothing fits the filter. Clear it to see everything."));
}

void RosterPanel::renameSelected() {
    if (!editor_.isOpen() || editor_.selection().size() != 1) return;
    const QModelIndex at = model_->indexOf(editor_.scene().find(editor_.selection().front()));
    if (!at.isValid()) return;
    tree_->scrollTo(at);
    // The tree's own setCurrentIndex would take it out of the selection while Ctrl is held, as for Ctrl+G.
    tree_->selectionModel()->setCurrentIndex(at, QItemSelectionModel::NoUpdate);
    // Whoever asked by a command goes on where they were.
    auto* before = QApplication::focusWidget();
    tree_->edit(at);
    if (before == nullptr || before == tree_) return;
    connect(tree_->itemDelegate(), &QAbstractItemDelegate::closeEditor, before, qOverload<>(&QWidget::setFocus),
            static_cast<Qt::ConnectionType>(Qt::SingleShotConnection | Qt::QueuedConnection));
}

}  // namespace app
