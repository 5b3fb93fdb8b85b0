#pragma once
// The items of the Stock as a list: what fits a filter, with pictures.
#include <QAbstractListModel>
#include <QPixmap>
#include <QSet>
#include <functional>
#include <map>

#include "app/panels/stock_filter.h"
#include "app/shell/editor.h"

namespace app {

/// The items that pass the filter, best match first.
class StockModel : public QAbstractListModel {
    Q_OBJECT
  public:
    StockModel(Editor& editor, QObject* parent);
    enum Role { NameRole = Qt::UserRole };

    /// `category` may also be kFavourites or kRecent. In `text`, `can:size`, `can:light`, `can:camera`, `tri<500` and
    /// `cost<3` ask for what an item is able to do and costs; the rest is part of its name, or with * and ? all of it.
    void filter(const QString& text, const QString& category, const StockFilter& must = {});
    /// How many items of a category, kFavourites or kRecent fit the text; of {}: in all.
    int fitting(const QString& category) const;
    static constexpr const char* kFavourites = "\x01";
    static constexpr const char* kRecent = "\x02";
    /// Where items are listed that are not for use, and nowhere else.
    static constexpr const char* kUnoffered = "Not for use";
    QSet<QString> favourites;
    void setThumbnail(const QString& item, const QPixmap& picture);
    /// They are asked for again by who shows them.
    void dropThumbnail(const QString& item);
    void clearThumbnails() { thumbnails_.clear(); }
    /// One that is not there yet is about to be shown.
    std::function<void(const QString& item)> wants = [](const QString&) {};
    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    QStringList mimeTypes() const override;
    QMimeData* mimeData(const QModelIndexList& indexes) const override;

  private:
    Editor& editor_;
    std::vector<const model::Item*> shown_;
    std::map<QString, int> fitting_;
    QHash<QString, QPixmap> thumbnails_;
};

}  // namespace app
