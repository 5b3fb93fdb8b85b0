#include "app/panels/roster_model.h"

#include <QLocale>
#include <QMimeData>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/panels/difference_text.h"
#include "app/shell/checks.h"
#include "app/shell/rehearsal.h"
#include "edit/session.h"
#include "model/facets/array.h"
#include "ops/objects.h"

namespace app {

namespace {

constexpr std::size_t kSearchedAtOnce = 20'000;  // objects; larger scenes are searched on a worker

std::vector<Slot> fitting(const model::Scene& scene, const query::ObjectFilter& filter, const std::atomic<bool>& stop) {
    std::vector<Slot> found;
    for (Slot s : scene.subtree(kNoSlot)) {
        if (stop) break;
        if (filter.fits(scene, s)) found.push_back(s);
    }
    return found;
}

}  // namespace

RosterModel::RosterModel(Editor& editor, QObject* parent) : QAbstractItemModel(parent), editor_(editor) {
    connect(&editor_, &Editor::sceneShown, this, &RosterModel::reload);
    connect(&editor_, &Editor::sceneEdited, this, &RosterModel::onDelta);
    connect(&editor_.checks(), &Checks::changed, this, &RosterModel::checksChanged);
    connect(&editor_.rehearsal(), &Rehearsal::advanced, this, &RosterModel::tellLive);
    connect(&editor_.rehearsal(), &Rehearsal::changed, this, &RosterModel::tellLive);
}

RosterModel::~RosterModel() {
    stopSearch();
}

void RosterModel::reload() {
    stopSearch();
    const bool filtered = isFiltered() && editor_.isOpen();
    if (!filtered) return show({});
    if (editor_.scene().objectCount() >= kSearchedAtOnce) return search();
    std::atomic<bool> never = false;
    show(fitting(editor_.scene(), filter_, never));
}

void RosterModel::show(std::vector<Slot> found) {
    beginResetModel();
    children_.clear();
    rows_.clear();
    flat_ = std::move(found);
    for (std::size_t i = 0; i < flat_.size(); ++i) rows_[flat_[i]] = static_cast<int>(i);
    endResetModel();
}

void RosterModel::search() {
    search_ = std::make_shared<std::atomic<bool>>(false);
    worker_ = std::thread([this, scene = model::Scene(editor_.scene()), filter = filter_, search = search_] {
        std::vector<Slot> found = fitting(scene, filter, *search);
        if (*search) return;
        QMetaObject::invokeMethod(
            this,
            [this, search, found = std::move(found)]() mutable {
                if (search != search_) return;  // another one was started meanwhile
                stopSearch();
                show(std::move(found));
            },
            Qt::QueuedConnection);
    });
}

void RosterModel::stopSearch() {
    if (search_) *search_ = true;
    if (worker_.joinable()) worker_.join();
    search_.reset();
}

/// What only the checks know: who stands in the air or in something, and whom anything was found at.
std::shared_ptr<const query::ObjectFilter::Known> RosterModel::known() const {
    query::ObjectFilter::Known words{{"unseated", {}}, {"findings", {}}};
    for (const check::Finding& finding : editor_.checks().findings()) {
        if (!finding.object) continue;
        words["findings"].insert(finding.object);
        if (finding.rule == "floating" || finding.rule == "sunk") words["unseated"].insert(finding.object);
    }
    return std::make_shared<const query::ObjectFilter::Known>(std::move(words));
}

void RosterModel::setFilter(const QString& text) {
    filterText_ = text.toStdString();
    filter_ = query::ObjectFilter(filterText_, known());
    reload();
}

void RosterModel::checksChanged() {
    if (!filter_.asksKnown()) return;
    filter_ = query::ObjectFilter(filterText_, known());
    reload();
}

void RosterModel::onDelta(const edit::SceneDelta& delta) {
    if (delta.treeChanged || !delta.created.empty() || !delta.removed.empty()) return reload();
    for (Slot s : delta.relabelled)
        if (editor_.scene().alive(s)) {
            const QModelIndex at = indexOf(s);
            if (at.isValid()) Q_EMIT dataChanged(at, at.siblingAtColumn(KindColumn));
        }
}

const std::vector<Slot>& RosterModel::childrenOf(Slot parent) const {
    auto [place, isNew] = children_.try_emplace(parent);
    if (!isNew) return place->second;
    std::vector<Slot>& list = place->second;
    for (Slot s = editor_.scene().firstChild(parent); s != kNoSlot; s = editor_.scene().nextSibling(s)) {
        rows_[s] = static_cast<int>(list.size());
        list.push_back(s);
    }
    return list;
}

int RosterModel::rowOf(Slot slot) const {
    if (!isFiltered()) childrenOf(editor_.scene().parent(slot));
    auto place = rows_.find(slot);
    return place == rows_.end() ? -1 : place->second;
}

QModelIndex RosterModel::indexOf(Slot slot, int column) const {
    if (!editor_.isOpen() || !editor_.scene().alive(slot)) return {};
    const int row = rowOf(slot);
    return row < 0 ? QModelIndex() : createIndex(row, column, static_cast<quintptr>(slot));
}

Slot RosterModel::slotOf(const QModelIndex& index) const {
    return index.isValid() ? static_cast<Slot>(index.internalId()) : kNoSlot;
}

QModelIndex RosterModel::index(int row, int column, const QModelIndex& parent) const {
    if (!editor_.isOpen() || row < 0 || column < 0 || column > 1) return {};
    if (isFiltered())
        return parent.isValid() || row >= matches()
                   ? QModelIndex()
                   : createIndex(row, column, static_cast<quintptr>(flat_[static_cast<std::size_t>(row)]));
    const auto& list = childrenOf(slotOf(parent));
    return row < static_cast<int>(list.size())
               ? createIndex(row, column, static_cast<quintptr>(list[static_cast<std::size_t>(row)]))
               : QModelIndex();
}

QModelIndex RosterModel::parent(const QModelIndex& index) const {
    if (isFiltered() || !index.isValid() || !editor_.isOpen()) return {};
    const Slot s = slotOf(index);
    if (!editor_.scene().alive(s) || editor_.scene().parent(s) == kNoSlot) return {};
    return indexOf(editor_.scene().parent(s));
}

int RosterModel::rowCount(const QModelIndex& parent) const {
    if (!editor_.isOpen() || parent.column() > 0) return 0;
    if (isFiltered()) return parent.isValid() ? 0 : matches();
    return static_cast<int>(childrenOf(slotOf(parent)).size());
}

bool RosterModel::hasChildren(const QModelIndex& parent) const {
    if (!editor_.isOpen() || parent.column() > 0) return false;
    if (isFiltered()) return !parent.isValid() && !flat_.empty();
    return editor_.scene().firstChild(slotOf(parent)) != kNoSlot;
}

int RosterModel::signsOf(Slot s) const {
    const model::Scene& scene = editor_.scene();
    const bool changed = scene.isInstance(s) && !scene.detail(s)->prefab->plain() && scene.instanceAround(s) == kNoSlot;
    int signs = changed || differs(scene, s) ? Differs : 0;
    if ((scene.flagsOf(s) & model::flags::kHidden) != 0) signs |= Hidden;
    if ((scene.flagsOf(s) & model::flags::kProtected) != 0) signs |= Protected;
    if (const auto worst = editor_.checks().worstAt(scene.id(s)))
        signs |= *worst == check::Severity::Error     ? ErrorFound
                 : *worst == check::Severity::Caution ? CautionFound
                                                      : HintFound;
    return signs;
}

/// What moves in a rehearsal says what it does, where its kind stands otherwise.
QString RosterModel::liveText(Slot slot) const {
    const rehearse::Run* run = editor_.rehearsal().run();
    if (run == nullptr || slot >= run->level().thingOf.size()) return {};
    const std::int32_t thing = run->level().thingOf[slot];
    if (thing < 0) return {};
    const auto index = static_cast<std::size_t>(thing);
    const rehearse::Thing& is = run->level().things[index];
    if (is.slot != slot || !(is.isLoose() || is.isGuided())) return {};
    using Does = rehearse::Run::Does;
    switch (run->doesNow(index)) {
        case Does::Moves:
            return tr("%1 m/s").arg(QLocale::c().toString(glm::length(run->world().velocity(index)), 'f', 1));
        case Does::Waits: return tr("waits");
        case Does::IsMoved: return tr("on its way");
        case Does::IsHeld: return tr("in the hand");
        case Does::IsGone: return tr("gone");
        case Does::Rests: break;
    }
    return tr("rests");
}

void RosterModel::tellLive() {
    constexpr qint64 kEveryMs = 200;
    if (editor_.rehearsal().isOn() && liveClock_.isValid() && !liveClock_.hasExpired(kEveryMs)) return;
    liveClock_.start();
    if (rowCount() > 0) Q_EMIT dataChanged(index(0, NameColumn), index(rowCount() - 1, KindColumn), {Qt::DisplayRole});
}

QVariant RosterModel::data(const QModelIndex& index, int role) const {
    const Slot s = slotOf(index);
    if (!editor_.isOpen() || s == kNoSlot || !editor_.scene().alive(s)) return {};
    const model::Scene& scene = editor_.scene();
    const bool group =
        !scene.item(s) && (scene.firstChild(s) != kNoSlot || (scene.flagsOf(s) & model::flags::kWhole) != 0);
    if (role == SlotRole) return s;
    if (role == SignsRole) return signsOf(s);
    if (role == SelectedRole) return editor_.isSelected(s);
    if (role == MarkRole) {
        const model::Kind* kind = editor_.session().library().kind(scene.kind(s));
        return kind != nullptr && !kind->colourMark.empty() ? QColor(QString::fromStdString(kind->colourMark))
               : group                                      ? editor_.theme().honey
                                                            : editor_.theme().faint;
    }
    if (role == Qt::ForegroundRole)
        return index.column() == KindColumn || scene.hiddenInTree(s) ? editor_.theme().faint : editor_.theme().text;
    if (role == Qt::ToolTipRole)
        return tr("%1 · id %2%3%4")
                   .arg(toQt(scene.nameText(s)), QString::fromStdString(base::toText(scene.id(s))),
                        scene.hiddenInTree(s) ? tr(" · hidden") : QString(),
                        scene.protectedInTree(s) ? tr(" · protected") : QString()) +
               (differs(scene, s) ? "\n" + tr("≠ differs from its definition:\n%1")
                                               .arg(differencesOf(editor_.session(), scene, s).join('\n'))
                                  : QString());
    if (index.column() == NameColumn && (role == Qt::DisplayRole || role == Qt::EditRole))
        return toQt(scene.nameText(s));
    if (index.column() == KindColumn && role == Qt::DisplayRole) {
        if (const QString live = liveText(s); !live.isEmpty()) return live;
        const bool array = scene.facet<model::Array>(s);
        QString text = toQt(scene.kindText(s));
        if (group && !scene.kind(s))
            text = array ? tr("array") : scene.firstChild(s) == kNoSlot ? tr("empty") : QString();
        if (scene.isInstance(s)) {
            const auto& link = *scene.detail(s)->prefab;
            const QString of = QString::fromStdString(editor_.session().prefabName(link.of));
            text = QStringLiteral("❐ ") + of;
        }
        return text;
    }
    if (index.column() == KindColumn && role == Qt::TextAlignmentRole)
        return QVariant::fromValue(Qt::AlignRight | Qt::AlignVCenter);
    return {};
}

bool RosterModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    if (role != Qt::EditRole || index.column() != NameColumn) return false;
    const Slot s = slotOf(index);
    const base::ObjectId id = editor_.scene().id(s);
    const QString name = value.toString();
    if (name == toQt(editor_.scene().nameText(s))) return false;
    return editor_.run("Rename " + std::string(editor_.scene().nameText(s)),
                       [&](edit::Draft& draft) { return ops::rename(draft, id, name.toStdString()); });
}

Qt::ItemFlags RosterModel::flags(const QModelIndex& index) const {
    Qt::ItemFlags f = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
    if (!index.isValid()) return f | Qt::ItemIsDropEnabled;
    if (index.column() == NameColumn) f |= Qt::ItemIsEditable;
    if (!isFiltered()) f |= Qt::ItemIsDragEnabled | Qt::ItemIsDropEnabled;
    return f;
}

QMimeData* RosterModel::mimeData(const QModelIndexList& indexes) const {
    QByteArray text;
    for (const QModelIndex& index : indexes)
        if (index.column() == NameColumn)
            text += QByteArray::fromStdString(base::toText(editor_.scene().id(slotOf(index)))) + ' ';
    auto* data = new QMimeData;
    data->setData(QString::fromLatin1(kObjectsMime), text);
    return data;
}

bool RosterModel::dropMimeData(const QMimeData* data, Qt::DropAction, int row, int, const QModelIndex& parent) {
    std::vector<base::ObjectId> ids;
    for (const QByteArray& part : data->data(QString::fromLatin1(kObjectsMime)).split(' '))
        if (auto id = base::parseObjectId(part.toStdString())) ids.push_back(*id);
    if (ids.empty()) return false;
    const Slot target = slotOf(parent);
    const auto& list = childrenOf(target);
    base::ObjectId before;
    if (row >= 0 && row < static_cast<int>(list.size()))
        before = editor_.scene().id(list[static_cast<std::size_t>(row)]);
    const base::ObjectId parentId = target == kNoSlot ? base::ObjectId{} : editor_.scene().id(target);
    editor_.run("Move " + ops::describe(editor_.scene(), ids) + " in the tree",
                [&](edit::Draft& draft) { return ops::reparent(draft, ids, parentId, before); });
    return false;  // the model has been told by the scene already; the view must not remove rows itself
}

}  // namespace app
