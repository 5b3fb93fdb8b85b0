#include "app/panels/stock_model.h"

#include <QMimeData>
#include <algorithm>
#include <optional>

#include "app/view/view_widget.h"
#include "base/text.h"
#include "edit/session.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"

namespace app {

StockModel::StockModel(Editor& editor, QObject* parent) : QAbstractListModel(parent), editor_(editor) {}

namespace {

/// Does an item fit a word that asks for an ability or a cost? Nothing: the word is part of a name.
std::optional<bool> fitsAbility(const model::Item& item, const model::Kind* kind, const QString& word) {
    if (word.startsWith("can:")) {
        const QString what = word.mid(4);
        if (what == "size") return !model::sizesOf(kind, &item).isFixed();
        if (what == "light") return kind != nullptr && kind->facets && kind->facets->get<model::Light>() != nullptr;
        if (what == "camera") return kind != nullptr && kind->facets && kind->facets->get<model::Camera>() != nullptr;
        return false;
    }
    for (const auto& [key, value] :
         {std::pair{"tri", static_cast<double>(item.triangles)}, {"cost", model::costOf(kind, &item)}})
        for (const char sign : {'<', '>'})
            if (word.startsWith(QLatin1String(key) + sign)) {
                bool number = false;
                const double limit = word.mid(static_cast<int>(qstrlen(key)) + 1).toDouble(&number);
                return number && (sign == '<' ? value < limit : value > limit);
            }
    return std::nullopt;
}

/// How well an item fits what is typed, best 0; -1 not at all.
int rankOf(const model::Item& item, const model::Kind* kind, const std::string& wanted) {
    if (wanted.find_first_of("*?") == std::string::npos) {
        const int rank = base::matchRank(item.label, wanted);
        if (rank >= 0) return rank;
        // Not what it is called: where it is, what it is, what it can wear.
        constexpr int kElsewhere = 50;
        std::string about = item.folder + "\n" + item.kind;
        if (kind != nullptr) {
            for (const model::Outfit& outfit : kind->outfits) about += "\n" + outfit.name;
            for (const std::string& fact : kind->facts) about += "\n" + fact;
        }
        return base::lowered(about).find(base::lowered(wanted)) != std::string::npos ? kElsewhere : -1;
    }
    return base::matchesWildcard(wanted, item.label) || base::matchesWildcard(wanted, item.name) ? 0 : -1;
}

/// Is it that folder, or one within it?
bool isIn(const std::string& folder, const std::string& other) {
    return !other.empty() && (folder == other || folder.starts_with(other + "/"));
}

}  // namespace

void StockModel::filter(const QString& text, const QString& category, const StockFilter& must) {
    beginResetModel();
    shown_.clear();
    std::vector<std::pair<int, const model::Item*>> ranked;
    QStringList names, abilities;
    for (const QString& word : text.split(' ', Qt::SkipEmptyParts))
        (word.startsWith("can:") || word.contains('<') || word.contains('>') ? abilities : names) << word;
    const std::string wanted = names.join(' ').toStdString(), only = category.toStdString();
    fitting_.clear();
    const auto& recent = editor_.recentItems();
    if (editor_.isOpen())
        for (const model::Item& item : editor_.session().library().items()) {
            const auto used = std::find(recent.begin(), recent.end(), item.name);
            if (item.isSolid) continue;
            const std::string& folder = item.offered ? item.folder : std::string(kUnoffered);
            const model::Kind* kind = editor_.session().library().kind(editor_.session().intern(item.kind));
            if (std::any_of(abilities.begin(), abilities.end(),
                            [&](const QString& word) { return !fitsAbility(item, kind, word).value_or(false); }))
                continue;
            if (!fits(must, editor_.session().library(), item)) continue;
            const int rank = rankOf(item, kind, wanted);
            if (rank < 0) continue;
            const bool favourite = item.favourite || favourites.contains(QString::fromStdString(item.name)),
                       late = used != recent.end();
            fitting_[{}] += item.offered ? 1 : 0;
            for (std::size_t end = folder.find('/');; end = folder.find('/', end + 1)) {
                ++fitting_[QString::fromStdString(folder.substr(0, end))];  // and what it lies in
                if (end == std::string::npos) break;
            }
            fitting_[kFavourites] += favourite ? 1 : 0;
            fitting_[kRecent] += late ? 1 : 0;
            if (category == kFavourites ? favourite
                : category == kRecent   ? late
                                        : (only.empty() && item.offered) || isIn(folder, only))
                ranked.emplace_back(category == kRecent ? static_cast<int>(used - recent.begin()) : rank, &item);
        }
    std::stable_sort(ranked.begin(), ranked.end(), [](const auto& a, const auto& b) {
        return a.first != b.first ? a.first < b.first : base::lowered(a.second->label) < base::lowered(b.second->label);
    });
    for (const auto& [rank, item] : ranked) shown_.push_back(item);
    endResetModel();
}

int StockModel::fitting(const QString& category) const {
    const auto found = fitting_.find(category);
    return found == fitting_.end() ? 0 : found->second;
}

void StockModel::dropThumbnail(const QString& item) {
    if (thumbnails_.remove(item) == 0) return;
    for (std::size_t i = 0; i < shown_.size(); ++i)
        if (QString::fromStdString(shown_[i]->name) == item)
            Q_EMIT dataChanged(index(static_cast<int>(i)), index(static_cast<int>(i)));
}

void StockModel::setThumbnail(const QString& item, const QPixmap& picture) {
    thumbnails_[item] = picture;
    for (std::size_t i = 0; i < shown_.size(); ++i)
        if (QString::fromStdString(shown_[i]->name) == item)
            Q_EMIT dataChanged(index(static_cast<int>(i)), index(static_cast<int>(i)));
}

int StockModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(shown_.size());
}

QVariant StockModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount()) return {};
    const model::Item& item = *shown_[static_cast<std::size_t>(index.row())];
    const QString name = QString::fromStdString(item.name), shown = QString::fromStdString(item.label);
    if (role == Qt::DisplayRole || role == Qt::AccessibleTextRole)
        return favourites.contains(name) ? QStringLiteral("★ ") + shown : shown;
    if (role == NameRole) return name;
    if (role == Qt::DecorationRole) {
        const auto made = thumbnails_.constFind(name);
        if (made != thumbnails_.constEnd()) return *made;
        wants(name);
        return {};
    }
    if (role == Qt::ToolTipRole)
        return item.problem.empty()
                   ? tr("%1\nDrag it into the view, or click it and then click where it should stand.").arg(shown)
                   : QString::fromStdString(item.problem);
    return {};
}

Qt::ItemFlags StockModel::flags(const QModelIndex& index) const {
    return QAbstractListModel::flags(index) | Qt::ItemIsDragEnabled;
}
QStringList StockModel::mimeTypes() const {
    return {QString::fromLatin1(kItemMime)};
}

QMimeData* StockModel::mimeData(const QModelIndexList& indexes) const {
    auto* data = new QMimeData;
    if (!indexes.isEmpty())
        data->setData(QString::fromLatin1(kItemMime), indexes.first().data(NameRole).toString().toUtf8());
    return data;
}

}  // namespace app
