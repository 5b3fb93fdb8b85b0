#include "app/panels/table_model.h"

#include <QFont>

#include "app/kit/parts.h"
#include "app/names.h"
#include "base/text.h"

namespace app {

using What = ops::TableColumn::What;

TableModel::TableModel(Editor& editor, QObject* parent) : QAbstractTableModel(parent), editor_(editor) {
    connect(&editor_, &Editor::sceneEdited, this, &TableModel::onDelta);
}

TableModel::~TableModel() {
    stopSearch();
}

namespace {

constexpr std::size_t kSearchedAtOnce = 20'000;  // objects; larger scenes are searched on a worker

/// The rows that a table shows, in their order.
std::vector<Slot> rowsOf(const ops::TableSource& source, const std::string& filter,
                         const std::vector<ops::TableColumn>& known, const std::optional<ops::TableColumn>& sorted,
                         bool descending, const std::atomic<bool>& stop) {
    std::vector<Slot> rows = source.scene.subtree(kNoSlot);
    if (!filter.empty()) {
        const ops::TableFilter fits(filter, known);
        std::erase_if(rows, [&](Slot s) { return stop || !fits.fits(source, s); });
    }
    if (sorted && !stop) ops::sortRows(source, rows, *sorted, descending);
    return rows;
}

}  // namespace

void TableModel::reload() {
    stopSearch();
    if (!editor_.isOpen() || !lookedAt_) {
        known_.clear();
        return show({});
    }
    const model::Scene& scene = editor_.scene();
    if (scene.find(relativeTo_) == kNoSlot) relativeTo_ = {};
    known_ = ops::tableColumns(editor_.session().library(), scene);
    if (scene.objectCount() >= kSearchedAtOnce) return search();
    std::atomic<bool> never = false;
    show(rowsOf(source(), filter_.toStdString(), known_, sorted_, descending_, never));
}

void TableModel::show(std::vector<Slot> rows) {
    beginResetModel();
    rows_ = std::move(rows);
    rowOf_.clear();
    columns_.clear();
    for (const QString& key : wanted_)
        for (const ops::TableColumn& column : known_)
            if (key == QString::fromStdString(column.key)) columns_.push_back(column);
    endResetModel();
}

void TableModel::search() {
    search_ = std::make_shared<std::atomic<bool>>(false);
    worker_ = std::thread([this, scene = model::Scene(editor_.scene()), library = editor_.session().library(),
                           filter = filter_.toStdString(), known = known_, sorted = sorted_, from = relativeTo_,
                           descending = descending_, search = search_] {
        std::vector<Slot> rows = rowsOf({library, scene, from}, filter, known, sorted, descending, *search);
        if (*search) return;
        QMetaObject::invokeMethod(
            this,
            [this, search, rows = std::move(rows)]() mutable {
                if (search != search_) return;  // another one was started meanwhile
                stopSearch();
                show(std::move(rows));
            },
            Qt::QueuedConnection);
    });
}

void TableModel::stopSearch() {
    if (search_) *search_ = true;
    if (worker_.joinable()) worker_.join();
    search_.reset();
}

void TableModel::setLookedAt(bool on) {
    lookedAt_ = on;
    reload();
}

void TableModel::setFilter(const QString& text) {
    filter_ = text.trimmed();
    reload();
}

void TableModel::setColumns(const QStringList& keys) {
    wanted_ = keys;
    reload();
}

void TableModel::setRelativeTo(base::ObjectId id) {
    relativeTo_ = id;
    reload();
}

// A change of values leaves the rows where they are: they are sorted and filtered anew when asked to.
void TableModel::onDelta(const edit::SceneDelta& delta) {
    if (!lookedAt_) return;
    if (!delta.created.empty() || !delta.removed.empty() || delta.treeChanged) {
        show({});  // slots may be others' by now
        return reload();
    }
    if (!rows_.empty()) Q_EMIT dataChanged(index(0, 0), index(rowCount() - 1, columnCount() - 1));
}

int TableModel::rowOf(Slot slot) const {
    if (rowOf_.empty() && !rows_.empty()) {
        rowOf_.assign(editor_.scene().slotEnd(), -1);
        for (std::size_t i = 0; i < rows_.size(); ++i) rowOf_[rows_[i]] = static_cast<int>(i);
    }
    return slot < rowOf_.size() ? rowOf_[slot] : -1;
}

int TableModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

int TableModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(columns_.size());
}

ops::CellInput TableModel::input(int row, int column, const QString& text) const {
    ops::CellInput cell;
    cell.id = editor_.scene().id(slotAt(row));
    cell.column = columns_[static_cast<std::size_t>(column)];
    cell.text = text.toStdString();
    cell.row = static_cast<std::size_t>(row) + 1;
    return cell;
}

QString TableModel::text(int row, int column) const {
    return QString::fromStdString(ops::cellText(source(), slotAt(row), columns_[static_cast<std::size_t>(column)]));
}

/// Numbers to a millimetre, links by the name of what they lead to.
QString TableModel::shown(Slot slot, const ops::TableColumn& column) const {
    if (column.what == What::Flag)
        return (editor_.scene().flagsOf(slot) & column.flag) != 0 ? QStringLiteral("✓") : QString();
    if (column.what == What::Pose) return fixed(*ops::cellNumber(source(), slot, column), 3);
    std::string text = ops::cellText(source(), slot, column);
    if (column.what == What::Property)
        if (const model::Property* p = ops::propertyOf(editor_.session().library(), editor_.scene(), slot, column.key);
            p != nullptr && model::linksObject(p->type))
            if (const auto id = base::parseObjectId(text))
                if (const Slot to = editor_.scene().find(*id); to != kNoSlot) text = editor_.scene().nameText(to);
    return QString::fromStdString(text);
}

QVariant TableModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || !editor_.isOpen()) return {};
    const Slot slot = slotAt(index.row());
    if (!editor_.scene().alive(slot)) return {};
    const ops::TableColumn& column = columns_[static_cast<std::size_t>(index.column())];
    switch (role) {
        case Qt::DisplayRole: return shown(slot, column);
        case Qt::EditRole: return text(index.row(), index.column());
        case Qt::TextAlignmentRole:
            return static_cast<int>((column.what == What::Flag                 ? Qt::AlignHCenter
                                     : ops::cellNumber(source(), slot, column) ? Qt::AlignRight
                                                                               : Qt::AlignLeft) |
                                    Qt::AlignVCenter);
        case Qt::ForegroundRole:
            if (!column.editable()) return editor_.theme().dim;
            if (editor_.scene().protectedInTree(slot)) return editor_.theme().faint;
            return {};
        case Qt::ToolTipRole:
            if (editor_.scene().protectedInTree(slot)) return tr("It is protected and stays as it is");
            return column.editable() ? QVariant() : tr("Follows from other things; it cannot be typed here");
        default: return {};
    }
}

bool TableModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    if (role != Qt::EditRole || !index.isValid()) return false;
    const ops::CellPlan plan = ops::planCells(source(), {input(index.row(), index.column(), value.toString())});
    if (!plan.problems.empty())
        return editor_.report(base::fail(base::ErrorCode::BadInput, plan.problems.front().message));
    if (plan.changes.empty()) return false;
    const std::string name(editor_.scene().nameText(slotAt(index.row())));
    return editor_.run("Set " + plan.changes.front().column + " of " + name,
                       [&](edit::Draft& draft) { return ops::apply(draft, plan); });
}

QVariant TableModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Vertical) return role == Qt::DisplayRole ? QVariant(section + 1) : QVariant();
    const ops::TableColumn& column = columns_[static_cast<std::size_t>(section)];
    if (role == Qt::DisplayRole)
        return QString::fromStdString(column.unit.empty() ? column.label : column.label + " " + column.unit);
    if (role == Qt::TextAlignmentRole) {
        const bool number = column.what == What::Pose || column.what == What::Children;
        return static_cast<int>((number ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    }
    if (role == Qt::ToolTipRole)
        return tr("“%1” in filters and in CSV files; click to sort").arg(QString::fromStdString(column.key));
    return {};
}

Qt::ItemFlags TableModel::flags(const QModelIndex& index) const {
    Qt::ItemFlags flags = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
    if (index.isValid() && columns_[static_cast<std::size_t>(index.column())].editable()) flags |= Qt::ItemIsEditable;
    return flags;
}

void TableModel::sort(int column, Qt::SortOrder order) {
    sorted_.reset();
    if (column >= 0 && column < columnCount()) sorted_ = columns_[static_cast<std::size_t>(column)];
    descending_ = order == Qt::DescendingOrder;
    reload();
}

}  // namespace app
