#pragma once
// The table's data: the scene's objects that pass a filter, in the order asked for. Cells are made when looked at.
#include <QAbstractTableModel>
#include <atomic>
#include <memory>
#include <thread>
#include <vector>

#include "app/shell/editor.h"
#include "edit/delta.h"
#include "edit/session.h"
#include "ops/table.h"

namespace app {

class TableModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    TableModel(Editor& editor, QObject* parent);
    ~TableModel() override;
    /// A large scene is being filtered and sorted, on a worker; what was shown before is shown until then.
    bool isSearching() const { return search_ != nullptr; }

    /// Brings rows and columns in line with the scene; while nobody looks, there are none.
    void reload();
    void setLookedAt(bool on);
    void setFilter(const QString& text);
    void setColumns(const QStringList& keys);
    /// Zero: the world.
    void setRelativeTo(base::ObjectId id);
    base::ObjectId relativeTo() const { return relativeTo_; }

    /// Everything that could be a column.
    const std::vector<ops::TableColumn>& known() const { return known_; }
    const std::vector<ops::TableColumn>& columns() const { return columns_; }
    model::Slot slotAt(int row) const { return rows_[static_cast<std::size_t>(row)]; }
    /// -1: it is not among the rows.
    int rowOf(model::Slot slot) const;
    ops::TableSource source() const { return {editor_.session().library(), editor_.scene(), relativeTo_}; }
    ops::CellInput input(int row, int column, const QString& text) const;
    QString text(int row, int column) const;

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    void sort(int column, Qt::SortOrder order) override;

  private:
    void onDelta(const edit::SceneDelta& delta);
    void show(std::vector<model::Slot> rows);
    void search();
    void stopSearch();
    QString shown(model::Slot slot, const ops::TableColumn& column) const;

    Editor& editor_;
    std::vector<ops::TableColumn> known_, columns_;
    QStringList wanted_;
    std::vector<model::Slot> rows_;
    mutable std::vector<int> rowOf_;  // by slot, made when first asked for
    QString filter_;
    base::ObjectId relativeTo_;
    std::optional<ops::TableColumn> sorted_;
    bool descending_ = false, lookedAt_ = false;
    std::shared_ptr<std::atomic<bool>> search_;  // true: called off; shared with the worker
    std::thread worker_;
};

}  // namespace app
