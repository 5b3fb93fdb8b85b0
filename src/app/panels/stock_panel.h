#pragma once
// The Stock: what can be placed. Type to find, categories with counts, thumbnails made from the models, facts of the
// chosen item. A tile is dragged into the view, or clicked and then placed with clicks in the view.
#include <QAbstractListModel>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QMenu>
#include <QSet>
#include <QWidget>

#include "app/shell/editor.h"

class QButtonGroup;

namespace app {

class GlRenderer;

/// The items that pass the filter, best match first.
class StockModel : public QAbstractListModel {
    Q_OBJECT
  public:
    StockModel(Editor& editor, QObject* parent);
    enum Role { NameRole = Qt::UserRole };

    /// `category` may also be kFavourites or kRecent. In `text`, `can:size`, `can:light`, `can:camera`, `tri<500` and
    /// `cost<3` ask for what an item is able to do and costs; the rest is part of its name.
    void filter(const QString& text, const QString& category);
    static constexpr const char* kFavourites = "\x01";
    static constexpr const char* kRecent = "\x02";
    QSet<QString> favourites;
    void setThumbnail(const QString& item, const QPixmap& picture);
    bool hasThumbnail(const QString& item) const { return thumbnails_.contains(item); }
    void clearThumbnails() { thumbnails_.clear(); }
    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    QStringList mimeTypes() const override;
    QMimeData* mimeData(const QModelIndexList& indexes) const override;

  private:
    Editor& editor_;
    std::vector<const model::Item*> shown_;
    QHash<QString, QPixmap> thumbnails_;
};

class StockPanel : public QWidget {
    Q_OBJECT
  public:
    StockPanel(Editor& editor, GlRenderer& renderer, QWidget* parent = nullptr);

    void focusSearch();
    /// Lists an item, whatever is being searched for, and makes it the current one.
    void reveal(const QString& item);
    /// The item that is chosen; empty: none.
    QString current() const;
    /// Lists the current item among the favourites, or no longer.
    void toggleFavourite();
    /// Makes all thumbnails anew.
    void refreshThumbnails();

  Q_SIGNALS:
    /// Place the item in front of the camera (Enter).
    void placeRequested(const QString& item);
    void currentChanged(const QString& item);
    /// What can be done with an item was asked for by a right click.
    void menuRequested(QMenu* menu);

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void reload();
    /// Those still without one, and of prefabs, which may look otherwise now.
    void addThumbnails();
    void refilter();
    void makeNextThumbnail();
    void showFacts();
    void showPreview();

    Editor& editor_;
    GlRenderer& renderer_;
    StockModel* model_;
    QLineEdit* search_;
    QWidget* chips_;
    QButtonGroup* categories_ = nullptr;
    QListView* list_;
    QLabel* count_;
    QLabel* empty_;
    QWidget* facts_;
    QLabel* preview_;
    double previewTurn_ = 0;  ///< degrees
    QPoint previewFrom_;
    QWidget* vary_;
    QString category_;
    std::vector<std::string> pending_;
    std::unordered_map<std::string, std::size_t> inScene_;
};

}  // namespace app
