#pragma once
// The Stock: what can be placed. Type to find, one list of categories with how many fit, thumbnails made from the
// models, and below them what the chosen item is. A tile is dragged into the view, or clicked and then placed with
// clicks in the view.
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QMenu>
#include <QScrollArea>
#include <QTreeWidget>
#include <QWidget>

#include "app/panels/form.h"
#include "app/panels/stock_filter.h"
#include "app/panels/stock_model.h"

class QSplitter;
class QToolButton;

namespace app {

class GlRenderer;
class ItemDetails;

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
    /// Of prefabs, and of what changed its size: they may look otherwise now.
    void dropOldThumbnails();
    void wantThumbnail(const std::string& item);
    void refilter();
    int rowOf(const QString& item) const;
    void makeNextThumbnail();
    void showFacts();
    void showOutfits(const model::Kind* kind);
    void fillFolders();
    void openFolders();
    void showFilter();
    void makeHead(QVBoxLayout* layout);
    void makeTiles();
    void listen();
    void makeDetails(QVBoxLayout* layout);
    void choose(const QString& category);
    void fillCategories();
    void refreshCategories();

    Editor& editor_;
    GlRenderer& renderer_;
    StockModel* model_;
    QLineEdit* search_;
    QToolButton* categoryButton_;
    QString chosen_;  // stays so while the library changes
    QToolButton* favourites_;
    QToolButton* recent_;
    QSplitter* parts_;
    QListView* list_;
    QLabel* count_;
    QLabel* empty_;
    QLabel* nothing_;
    ItemDetails* details_;  // of the one that is chosen
    QString comparedWith_;  // the one that is kept beside it; empty: none
    QWidget* acts_;
    QToolButton *compare_, *filterButton_;
    QTreeWidget* folders_;
    QSet<QString> foldedFolders_;
    FieldsForm* filterForm_;
    QScrollArea* filterArea_;
    StockFilter filter_;
    std::unordered_map<std::string, base::Aabb> drawnBounds_;  // of those with a thumbnail, when it was made
    QWidget* vary_;
    QComboBox* outfit_;  // what is placed wears
    QString category_;
    std::vector<std::string> pending_;
    std::unordered_map<std::string, std::size_t> inScene_;
};

}  // namespace app
