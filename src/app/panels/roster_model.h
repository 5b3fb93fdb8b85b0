#pragma once
// The Roster's data: the scene's tree as it is, or a flat list of what passes a filter. Rows are found when they are
// first looked at, so that a large scene costs nothing until it is opened.
#include <QAbstractItemModel>
#include <QElapsedTimer>
#include <atomic>
#include <memory>
#include <thread>
#include <unordered_map>
#include <vector>

#include "app/shell/editor.h"
#include "edit/delta.h"
#include "query/object_filter.h"

namespace app {

inline constexpr const char* kObjectsMime = "application/x-mellow-objects";

class RosterModel : public QAbstractItemModel {
    Q_OBJECT
  public:
    RosterModel(Editor& editor, QObject* parent);
    ~RosterModel() override;
    enum Column { NameColumn, KindColumn };
    enum Role { SlotRole = Qt::UserRole, MarkRole, SelectedRole, SignsRole };
    /// What stands after the name; of SignsRole, bits.
    enum Sign { Differs = 1, Hidden = 2, Protected = 4, HintFound = 8, CautionFound = 16, ErrorFound = 32 };

    void setFilter(const QString& text);
    bool isFiltered() const { return !filter_.empty(); }
    int matches() const { return static_cast<int>(flat_.size()); }
    /// A large scene is being filtered, on a worker; what fitted before is shown until then.
    bool isSearching() const { return search_ != nullptr; }
    QModelIndex indexOf(model::Slot slot, int column = 0) const;
    model::Slot slotOf(const QModelIndex& index) const;
    void reload();

    QModelIndex index(int row, int column, const QModelIndex& parent = {}) const override;
    QModelIndex parent(const QModelIndex& index) const override;
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& = {}) const override { return 2; }
    bool hasChildren(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    Qt::DropActions supportedDropActions() const override { return Qt::MoveAction; }
    QStringList mimeTypes() const override { return {QString::fromLatin1(kObjectsMime)}; }
    QMimeData* mimeData(const QModelIndexList& indexes) const override;
    bool dropMimeData(const QMimeData* data, Qt::DropAction action, int row, int column,
                      const QModelIndex& parent) override;

    /// Another moment of a rehearsal is shown: what is said of things that move.
    void tellLive();

  private:
    QString liveText(model::Slot slot) const;
    int signsOf(model::Slot slot) const;
    std::shared_ptr<const query::ObjectFilter::Known> known() const;
    void checksChanged();
    void onDelta(const edit::SceneDelta& delta);
    void search();
    void stopSearch();
    void show(std::vector<model::Slot> found);
    const std::vector<model::Slot>& childrenOf(model::Slot parent) const;
    int rowOf(model::Slot slot) const;

    Editor& editor_;
    query::ObjectFilter filter_{""};
    std::string filterText_;
    std::vector<model::Slot> flat_;
    mutable std::unordered_map<model::Slot, std::vector<model::Slot>> children_;
    mutable std::unordered_map<model::Slot, int> rows_;
    QElapsedTimer liveClock_;
    std::shared_ptr<std::atomic<bool>> search_;  // true: called off; shared with the worker
    std::thread worker_;
};

}  // namespace app
