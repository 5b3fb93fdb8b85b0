#include "app/panels/stock_panel.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollArea>
#include <QSettings>
#include <QSplitter>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <set>

#include "app/kit/parts.h"
#include "app/kit/quiet_wheel.h"
#include "app/names.h"
#include "app/panels/item_details.h"
#include "app/panels/stock_tiles.h"
#include "app/panels/vary_card.h"
#include "app/shell/tools.h"
#include "app/view/gl_renderer.h"
#include "app/view/piece.h"
#include "edit/delta.h"
#include "edit/session.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/note.h"

namespace app {

StockPanel::StockPanel(Editor& editor, GlRenderer& renderer, QWidget* parent)
    : QWidget(parent), editor_(editor), renderer_(renderer) {
    setObjectName("panel");
    setMinimumWidth(216);  // two tiles side by side
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 6, 10, 8);
    layout->setSpacing(7);
    makeHead(layout);
    makeTiles();
    parts_ = new QSplitter(Qt::Vertical);
    parts_->setObjectName("stockParts");
    parts_->setChildrenCollapsible(false);
    layout->addWidget(parts_, 1);
    auto* top = new QWidget;
    auto* tiles = new QVBoxLayout(top);
    tiles->setContentsMargins(0, 0, 0, 0);
    tiles->addWidget(list_, 1);
    parts_->addWidget(top);
    empty_ = label({}, "quiet");
    empty_->setWordWrap(true);
    empty_->hide();
    tiles->addWidget(empty_);
    makeDetails(layout);
    for (const QString& name : QSettings().value("stock/favourites").toStringList()) model_->favourites.insert(name);
    listen();
    refreshCategories();
    showFacts();
}

void StockPanel::makeHead(QVBoxLayout* layout) {
    auto* head = new QHBoxLayout;
    head->addWidget(label(tr("Stock"), "panelTitle"));
    head->addStretch();
    head->addWidget(count_ = label({}, "faint"));
    layout->addLayout(head);
    search_ = new QLineEdit;
    search_->setObjectName("stockSearch");
    search_->setAccessibleName(tr("Find an item in the Stock"));
    search_->setPlaceholderText(tr("Type to find an item"));
    search_->setToolTip(
        tr("Type part of a name; Enter places the first one in front of the camera.\n"
           "It may also be of its folder, its kind or an outfit; can:size, tri<500, cost<3 work, too"));
    search_->setClearButtonEnabled(true);
    search_->installEventFilter(this);
    layout->addWidget(search_);
    fillCategories();
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    row->addWidget(categoryButton_, 1);
    row->addWidget(filterButton_);
    row->addWidget(favourites_);
    row->addWidget(recent_);
    layout->addLayout(row);
    filterForm_ = new FieldsForm(editor_, stockFilterFields(), [this](const model::Property&, const auto& set) {
        Status done = set(&filter_);
        refilter();
        return done;
    });
    filterForm_->setObjectName("stockFilterForm");
    filterArea_ = new QScrollArea;
    filterArea_->setWidgetResizable(true);
    filterArea_->setFrameShape(QFrame::NoFrame);
    filterArea_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    filterArea_->setFixedHeight(210);
    filterArea_->setWidget(filterForm_);
    layout->addWidget(filterArea_);
    filterArea_->hide();
    connect(filterButton_, &QToolButton::clicked, this, &StockPanel::showFilter);
}

void StockPanel::makeTiles() {
    model_ = new StockModel(editor_, this);
    list_ = new TileView;
    list_->setObjectName("stockList");
    list_->setAccessibleName(tr("Items"));
    list_->setModel(model_);
    list_->setItemDelegate(new TileDelegate(editor_, list_));
    list_->setViewMode(QListView::IconMode);
    list_->setMovement(QListView::Static);
    list_->setResizeMode(QListView::Adjust);
    list_->setUniformItemSizes(true);
    list_->setDragEnabled(true);
    list_->setDragDropMode(QAbstractItemView::DragOnly);
    list_->setMouseTracking(true);
    list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->installEventFilter(this);
    list_->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(list_, &QWidget::customContextMenuRequested, this, [this](const QPoint& at) {
        const QModelIndex index = list_->indexAt(at);
        if (!index.isValid()) return;
        list_->setCurrentIndex(index);
        QMenu* menu = openMenu(this);
        menu->setToolTipsVisible(true);
        Q_EMIT menuRequested(menu);
        menu->popup(list_->viewport()->mapToGlobal(at));
    });
}

void StockPanel::listen() {
    model_->wants = [this](const QString& item) { wantThumbnail(item.toStdString()); };
    connect(search_, &QLineEdit::textChanged, this, [this] {
        chosen_.clear();  // the best match is meant
        refilter();
    });
    connect(list_->selectionModel(), &QItemSelectionModel::currentChanged, this, &StockPanel::showFacts);
    connect(list_->selectionModel(), &QItemSelectionModel::currentChanged, this,
            [this] { Q_EMIT currentChanged(chosen_ = current()); });
    connect(list_, &QListView::clicked, this, [this] {
        // With the broom in the hand it is what is scattered, with the lay tool what is laid.
        if (editor_.tools().tool != Tool::Broom && editor_.tools().tool != Tool::Lay)
            editor_.setPlacing(current().toStdString());
    });
    connect(&editor_, &Editor::projectChanged, this, [this] {
        model_->clearThumbnails();
        chosen_.clear();
        reload();
    });
    connect(&editor_, &Editor::libraryChanged, this, &StockPanel::reload);
    connect(&editor_, &Editor::toolChanged, this,
            [this] { vary_->setVisible(editor_.isOpen() && editor_.tools().varying.on); });
    connect(&editor_, &Editor::sceneShown, this, &StockPanel::refilter);
    connect(&editor_, &Editor::sceneEdited, this, [this](const edit::SceneDelta& delta) {
        if (!delta.created.empty() || !delta.removed.empty()) showFacts();
    });
}

/// Below the tiles, always as tall: what is chosen changes, and no tile moves.
void StockPanel::makeDetails(QVBoxLayout* layout) {
    auto* area = new QScrollArea;
    area->setObjectName("stockDetails");
    area->setWidgetResizable(true);
    area->setFrameShape(QFrame::NoFrame);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setMinimumHeight(60);
    auto* inside = new QWidget;
    inside->setObjectName("scrolled");
    auto* column = new QVBoxLayout(inside);
    column->setContentsMargins(0, 2, 0, 0);
    column->setSpacing(4);
    column->addWidget(nothing_ = label(tr("Choose an item to see what it is."), "quiet"));
    nothing_->setWordWrap(true);
    column->addWidget(details_ = new ItemDetails(editor_, renderer_));
    acts_ = new QWidget;
    auto* acts = new QHBoxLayout(acts_);
    acts->setContentsMargins(0, 0, 0, 0);
    auto* tint =
        button<QToolButton>("stockTint", tr("Tint"), tr("As it could look, tinted by chance; once more: as it is"));
    compare_ = button<QToolButton>("stockCompare", tr("Compare"), tr("Keeps this one beside the next that is chosen"));
    compare_->setCheckable(true);
    acts->addWidget(tint);
    acts->addWidget(compare_);
    acts->addStretch();
    column->addWidget(acts_);
    connect(tint, &QToolButton::clicked, details_, &ItemDetails::throwTint);
    connect(compare_, &QToolButton::clicked, this, [this](bool on) {
        comparedWith_ = on ? current() : QString();
        showFacts();
    });
    column->addStretch(1);
    area->setWidget(inside);
    parts_->addWidget(area);
    parts_->setStretchFactor(0, 2);
    parts_->setStretchFactor(1, 1);
    parts_->setSizes({380, 190});
    layout->addWidget(outfit_ = new QComboBox);
    new QuietWheel(outfit_);
    outfit_->setObjectName("stockOutfit");
    outfit_->setAccessibleName(tr("Outfit"));
    outfit_->setToolTip(tr("What is placed wears this outfit of its kind"));
    outfit_->hide();
    connect(outfit_, &QComboBox::activated, this,
            [this] { editor_.change(&Tools::outfit, outfit_->currentData().toString().toStdString()); });
    layout->addWidget(vary_ = new VaryCard(editor_));
}

/// One row: the list of categories, the favourites, and what was placed lately.
void StockPanel::fillCategories() {
    auto made = [this](const char* name, const QString& what) {
        auto* button = new QToolButton;
        button->setObjectName(QLatin1String(name));
        button->setAccessibleName(what);
        button->setToolTip(what);
        return button;
    };
    categoryButton_ = made("stockCategory", tr("Folders: how many items of each fit what is typed"));
    categoryButton_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    connect(categoryButton_, &QToolButton::clicked, this, &StockPanel::openFolders);
    folders_ = new QTreeWidget(this);
    folders_->setWindowFlag(Qt::Popup);
    folders_->setObjectName("stockFolders");
    folders_->setAccessibleName(tr("Folders"));
    folders_->setHeaderHidden(true);
    folders_->setColumnCount(2);
    folders_->setUniformRowHeights(true);
    folders_->hide();
    const auto take = [this](QTreeWidgetItem* row) {
        folders_->hide();
        choose(row->data(0, Qt::UserRole).toString());
    };
    connect(folders_, &QTreeWidget::itemClicked, this, take);
    connect(folders_, &QTreeWidget::itemActivated, this, take);
    connect(folders_, &QTreeWidget::itemCollapsed, this,
            [this](QTreeWidgetItem* row) { foldedFolders_.insert(row->data(0, Qt::UserRole).toString()); });
    connect(folders_, &QTreeWidget::itemExpanded, this,
            [this](QTreeWidgetItem* row) { foldedFolders_.remove(row->data(0, Qt::UserRole).toString()); });
    filterButton_ = made("stockFilter", tr("What they must be able to do, and within which ranges"));
    filterButton_->setText(tr("≤"));
    filterButton_->setCheckable(true);
    favourites_ = made("stockFavourites", tr("Favourites only"));
    recent_ = made("stockRecent", tr("Only what was placed lately, the last first"));
    const std::pair<QToolButton*, const char*> switches[] = {{favourites_, StockModel::kFavourites},
                                                             {recent_, StockModel::kRecent}};
    for (const auto& [button, category] : switches) {
        button->setCheckable(true);
        connect(button, &QToolButton::clicked, this,
                [this, category = category](bool on) { choose(on ? QString::fromLatin1(category) : QString()); });
    }
}

/// Folders in folders, with how many of each fit.
void StockPanel::fillFolders() {
    const QSignalBlocker quiet(folders_);
    folders_->clear();
    QMap<QString, QTreeWidgetItem*> made;
    const auto add = [&](const QString& text, const QString& category, QTreeWidgetItem* in) {
        auto* row = new QTreeWidgetItem({text, QString::number(model_->fitting(category))});
        row->setData(0, Qt::UserRole, category);
        row->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
        if (in != nullptr)
            in->addChild(row);
        else
            folders_->addTopLevelItem(row);
        row->setDisabled(model_->fitting(category) == 0 && !category.isEmpty());
        if (category == category_) folders_->setCurrentItem(row);
        return row;
    };
    add(tr("All"), {}, nullptr);
    std::set<QString> names;
    for (const model::Item& item : editor_.session().library().items())
        if (!item.isSolid)
            names.insert(item.offered ? QString::fromStdString(item.folder)
                                      : QString::fromUtf8(StockModel::kUnoffered));
    for (const QString& name : names) {
        QTreeWidgetItem* in = nullptr;
        QString path;
        for (const QString& part : name.split('/', Qt::SkipEmptyParts)) {
            path += (path.isEmpty() ? QString() : QString("/")) + part;
            if (!made.contains(path)) made[path] = add(part, path, in);
            in = made[path];
        }
    }
    for (QTreeWidgetItemIterator it(folders_); *it != nullptr; ++it)
        (*it)->setExpanded(!foldedFolders_.contains((*it)->data(0, Qt::UserRole).toString()));
}

void StockPanel::openFolders() {
    if (!editor_.isOpen()) return;
    fillFolders();
    constexpr int kMostRows = 16, kRow = 24;
    int rows = 0;
    for (QTreeWidgetItemIterator it(folders_); *it != nullptr; ++it) ++rows;
    folders_->resize(std::max(categoryButton_->width(), 240), std::min(rows, kMostRows) * kRow + 6);
    folders_->header()->setStretchLastSection(false);
    folders_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    folders_->header()->resizeSection(1, 44);
    folders_->move(categoryButton_->mapToGlobal(QPoint(0, categoryButton_->height())));
    folders_->show();
    folders_->setFocus();
}

void StockPanel::showFilter() {
    filterArea_->setVisible(filterButton_->isChecked());
    filterForm_->show(&filter_);
}

void StockPanel::choose(const QString& category) {
    category_ = category;
    refilter();
}

void StockPanel::refreshCategories() {
    const bool special = category_ == StockModel::kFavourites || category_ == StockModel::kRecent;
    categoryButton_->setText(special || category_.isEmpty()
                                 ? tr("All %1").arg(model_->fitting({}))
                                 : QString("%1 %2").arg(category_.section('/', -1)).arg(model_->fitting(category_)));
    const auto numbered = [&](const QString& word, const char* list) {
        const int n = model_->fitting(list);
        return n > 0 ? QString("%1 %2").arg(word).arg(n) : word;
    };
    favourites_->setText(numbered(tr("★"), StockModel::kFavourites));
    recent_->setText(numbered(tr("Recent"), StockModel::kRecent));
    favourites_->setChecked(category_ == StockModel::kFavourites);
    recent_->setChecked(category_ == StockModel::kRecent);
}

void StockPanel::focusSearch() {
    search_->setFocus();
    search_->selectAll();
}

void StockPanel::toggleFavourite() {
    const QString name = current();
    if (name.isEmpty()) return;
    if (!model_->favourites.remove(name)) model_->favourites.insert(name);
    QSettings().setValue("stock/favourites", QStringList(model_->favourites.begin(), model_->favourites.end()));
    reload();
    reveal(name);
}

void StockPanel::reveal(const QString& item) {
    search_->clear();
    category_.clear();
    filter_ = {};
    reload();
    const int row = rowOf(item);
    if (row < 0) return;
    list_->setCurrentIndex(model_->index(row));
    list_->scrollTo(model_->index(row));
}

/// Where an item is listed; -1: nowhere.
int StockPanel::rowOf(const QString& item) const {
    for (int row = 0; row < model_->rowCount(); ++row)
        if (model_->index(row).data(StockModel::NameRole).toString() == item) return row;
    return -1;
}

QString StockPanel::current() const {
    return list_->currentIndex().data(StockModel::NameRole).toString();
}

void StockPanel::reload() {
    refilter();
    dropOldThumbnails();
}

void StockPanel::refreshThumbnails() {
    model_->clearThumbnails();
    list_->viewport()->update();
}

void StockPanel::dropOldThumbnails() {
    for (const model::Item& item : editor_.session().library().items())
        if (item.prefab || !(drawnBounds_[item.name] == item.bounds))
            model_->dropThumbnail(QString::fromStdString(item.name));
}

void StockPanel::wantThumbnail(const std::string& item) {
    if (std::ranges::find(pending_, item) != pending_.end()) return;
    pending_.push_back(item);
    if (pending_.size() == 1) QTimer::singleShot(0, this, &StockPanel::makeNextThumbnail);
}

// A few at a time, so that the window never waits for them.
void StockPanel::makeNextThumbnail() {
    if (!editor_.hasProject()) return pending_.clear();
    for (int i = 0; i < 3 && !pending_.empty(); ++i) {
        const std::string name = pending_.front();
        pending_.erase(pending_.begin());
        const base::Name key = editor_.session().intern(name);
        const model::Item* item = editor_.session().library().item(key);
        if (item == nullptr) continue;
        drawnBounds_[name] = item->bounds;
        QImage picture = renderer_.thumbnail(editor_.piecesOf(*item), item->bounds, kThumbnail * 2);
        if (picture.isNull()) {
            picture = QImage(kThumbnail, kThumbnail, QImage::Format_ARGB32_Premultiplied);
            picture.fill(Qt::transparent);
            QPainter p(&picture);
            const model::Kind* kind = editor_.session().library().kind(editor_.session().intern(item->kind));
            const model::Detail none;
            const model::Detail& facets = kind != nullptr && kind->facets ? *kind->facets : none;
            const QString own = kind != nullptr ? QString::fromStdString(kind->icon) : QString();
            const QString symbol = !item->problem.empty()                              ? "triangle-alert"
                                   : QFile::exists(QString(":/icons/%1.svg").arg(own)) ? own
                                   : facets.get<model::Light>()                        ? "lightbulb"
                                   : facets.get<model::Camera>()                       ? "video"
                                   : facets.get<model::Note>()                         ? "sticky-note"
                                                                                       : "footprints";
            icon(symbol, editor_.theme().dim).paint(&p, picture.rect().adjusted(14, 14, -14, -14));
        }
        model_->setThumbnail(QString::fromStdString(name), QPixmap::fromImage(seen(picture, editor_.theme())));
    }
    if (!pending_.empty()) QTimer::singleShot(0, this, &StockPanel::makeNextThumbnail);
}

void StockPanel::refilter() {
    model_->filter(search_->text(), category_, filter_);
    const int asked = filter_.count();
    filterButton_->setText(asked > 0 ? tr("≤ %1").arg(asked) : tr("≤"));
    if (filterForm_->isVisible()) filterForm_->show(&filter_);
    const int n = model_->rowCount();
    count_->setText(counted(static_cast<std::size_t>(n), tr("item"), tr("items")));
    empty_->setVisible(n == 0);
    refreshCategories();
    const int all = model_->fitting({});
    empty_->setText(all > 0
                        ? tr("Nothing here%1; %2 elsewhere: All shows them.")
                              .arg(search_->text().isEmpty() ? QString() : tr(" is called “%1”").arg(search_->text()))
                              .arg(all)
                    : search_->text().isEmpty()
                        ? tr("Nothing here yet. Import a model with Project › Import models.")
                        : tr("Nothing is called “%1”. Clear the field to see everything.").arg(search_->text()));
    if (const int row = rowOf(chosen_); row >= 0)
        list_->setCurrentIndex(model_->index(row));
    else if (n > 0 && !search_->text().isEmpty())
        list_->setCurrentIndex(model_->index(0));
    showFacts();
}

void StockPanel::showOutfits(const model::Kind* kind) {
    const bool any = kind != nullptr && !kind->outfits.empty();
    outfit_->setVisible(any);
    outfit_->clear();
    if (!any) return;
    outfit_->addItem(tr("no outfit"), QString());
    for (const model::Outfit& one : kind->outfits) outfit_->addItem(toQt(one.name), toQt(one.name));
    outfit_->setCurrentIndex(std::max(0, outfit_->findData(toQt(editor_.tools().outfit))));
}

void StockPanel::showFacts() {
    vary_->setVisible(editor_.isOpen() && editor_.tools().varying.on);
    details_->show(current(), comparedWith_);
    const bool any = details_->isVisibleTo(details_->parentWidget());
    nothing_->setVisible(!any);
    acts_->setVisible(any);
    const model::Item* item =
        any ? editor_.session().library().item(editor_.session().intern(current().toStdString())) : nullptr;
    showOutfits(item != nullptr ? editor_.session().library().kindNamed(item->kind) : nullptr);
}

bool StockPanel::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if ((key == Qt::Key_Return || key == Qt::Key_Enter) && !current().isEmpty()) {
            Q_EMIT placeRequested(current());
            return true;
        }
        if (watched == search_ && key == Qt::Key_Down) {
            list_->setFocus();
            return true;
        }
        if (watched == search_ && key == Qt::Key_Escape && !search_->text().isEmpty()) {
            search_->clear();
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace app
