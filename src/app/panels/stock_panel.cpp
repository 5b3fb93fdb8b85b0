#include "app/panels/stock_panel.h"

#include <QApplication>
#include <QDrag>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollArea>
#include <QSettings>
#include <QSplitter>
#include <QStyledItemDelegate>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <functional>
#include <set>

#include "app/kit/number_field.h"
#include "app/kit/parts.h"
#include "app/kit/quiet_wheel.h"
#include "app/view/gl_renderer.h"
#include "app/view/view_widget.h"
#include "base/text.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/note.h"

namespace app {
namespace {

constexpr int kThumbnail = 56;
constexpr int kPreview = 104;
constexpr QSize kTile(86, 86);

/// A tile: thumbnail over label.
class TileDelegate : public QStyledItemDelegate {
  public:
    TileDelegate(const Editor& editor, QObject* parent) : QStyledItemDelegate(parent), editor_(editor) {}

    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return kTile + QSize(6, 6); }
    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const Theme& t = editor_.theme();
        const bool on = (option.state & QStyle::State_Selected) != 0,
                   over = (option.state & QStyle::State_MouseOver) != 0;
        const QRect box = option.rect.adjusted(3, 3, -3, -3);
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        p->setPen(QPen(on ? t.honey : over ? t.faint : t.line, 1));
        p->setBrush(t.window);
        p->drawRoundedRect(QRectF(box).adjusted(0.5, 0.5, -0.5, -0.5), 7, 7);
        const QPixmap picture = index.data(Qt::DecorationRole).value<QPixmap>();
        p->drawPixmap(box.center().x() - kThumbnail / 2, box.top() + 5, kThumbnail, kThumbnail, picture);
        QFont font = option.font;
        font.setPixelSize(11);
        p->setFont(font);
        p->setPen(on ? t.text : t.dim);
        const QRect words(box.left() + 4, box.bottom() - 22, box.width() - 8, 18);
        p->drawText(words, Qt::AlignCenter,
                    QFontMetrics(font).elidedText(index.data().toString(), Qt::ElideMiddle, words.width()));
        p->restore();
    }

  private:
    const Editor& editor_;
};

double brightness(const QColor& c) {
    return 0.2126 * c.redF() + 0.7152 * c.greenF() + 0.0722 * c.blueF();
}

/// A picture that would drown in the tile's ground stands before a disc of the other brightness.
QImage seen(const QImage& picture, const Theme& theme) {
    double sum = 0, weight = 0;
    for (int y = 0; y < picture.height(); y += 2)
        for (int x = 0; x < picture.width(); x += 2) {
            const QColor c = picture.pixelColor(x, y);
            sum += brightness(c) * c.alphaF();
            weight += c.alphaF();
        }
    constexpr double kApart = 0.12;
    if (weight < 1 || std::abs(sum / weight - brightness(theme.window)) > kApart) return picture;
    QImage image(picture.size(), QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    QPainter p(&image);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    QColor ground = theme.dim;
    ground.setAlpha(190);
    p.setBrush(ground);
    p.drawEllipse(image.rect().adjusted(2, 2, -2, -2));
    p.drawImage(0, 0, picture);
    return image;
}

/// The list of tiles. What is dragged out of it is shown small beside the pointer, so that the ghost in the view stays
/// in sight.
class TileView : public QListView {
  public:
    void startDrag(Qt::DropActions) override {
        const QModelIndex index = currentIndex();
        if (!index.isValid()) return;
        auto* drag = new QDrag(this);
        drag->setMimeData(model()->mimeData({index}));
        const QPixmap picture = index.data(Qt::DecorationRole).value<QPixmap>();
        drag->setPixmap(picture.scaled(36, 36, Qt::KeepAspectRatio, Qt::SmoothTransformation));
        drag->setHotSpot(QPoint(-14, -14));
        drag->exec(Qt::CopyAction);
    }
};

}  // namespace

namespace {

/// How what is placed differs: turn, size, variations.
class VaryCard : public QWidget {
  public:
    explicit VaryCard(Editor& editor) : editor_(editor) {
        auto* grid = new QGridLayout(this);
        grid->setContentsMargins(0, 2, 0, 0);
        grid->setVerticalSpacing(3);
        grid->addWidget(label(StockPanel::tr("Placed at random"), "cardTitle"), 0, 0, 1, 3);
        auto field = [&](int row, int column, const char* name, const QString& what, base::Quantity quantity,
                         double value, double low, double high, const std::function<void(Varying&, double)>& set) {
            auto* f = new NumberField(quantity, 2);
            f->setObjectName(QLatin1String(name));
            f->setAccessibleName(what);
            f->setToolTip(what);
            f->setValue(value);
            auto change = [this, f, set, low, high](double v) {
                Varying varying = editor_.tools().varying;
                set(varying, std::clamp(v, low, high));
                if (varying.smallest > varying.largest) varying.largest = varying.smallest;
                editor_.change(&Tools::varying, varying);
                f->setValue(std::clamp(v, low, high));
            };
            QObject::connect(f, &NumberField::typed, f, [this, quantity, change](const QString& text) {
                auto v = base::evaluateQuantity(text.toStdString(), quantity, 0.0);
                if (v)
                    change(*v);
                else
                    editor_.report(tl::unexpected(v.error()));
            });
            grid->addWidget(f, row, column);
        };
        grid->addWidget(label(StockPanel::tr("Turn ±"), "quiet"), 1, 0);
        field(1, 1, "varyTurn", StockPanel::tr("Turned by chance, up to so many degrees either way"),
              base::Quantity::Angle, editor.tools().varying.turnDegrees, 0, 180,
              [](Varying& v, double x) { v.turnDegrees = x; });
        grid->addWidget(label(StockPanel::tr("Size"), "quiet"), 2, 0);
        field(2, 1, "varySmallest", StockPanel::tr("Smallest size by chance, times its own"), base::Quantity::Factor,
              editor.tools().varying.smallest, 0.01, 100, [](Varying& v, double x) { v.smallest = x; });
        field(2, 2, "varyLargest", StockPanel::tr("Largest size by chance, times its own"), base::Quantity::Factor,
              editor.tools().varying.largest, 0.01, 100, [](Varying& v, double x) { v.largest = x; });
        grid->addWidget(label(StockPanel::tr("Tint"), "quiet"), 3, 0);
        field(3, 1, "varyTint", StockPanel::tr("Tinted by chance: 0 not at all, 1 down to black"),
              base::Quantity::Factor, editor.tools().varying.tint, 0, 1, [](Varying& v, double x) { v.tint = x; });
        auto* others = new QToolButton;
        others->setObjectName("varyOthers");
        others->setCheckable(true);
        others->setText(StockPanel::tr("Variations too"));
        others->setToolTip(StockPanel::tr("Also places the items of the same name with another number"));
        QObject::connect(others, &QToolButton::toggled, others, [this, others](bool on) {
            Varying varying = editor_.tools().varying;
            varying.variations = on;
            editor_.change(&Tools::varying, varying);
            others->setText((on ? QStringLiteral("✓ ") : QString()) + StockPanel::tr("Variations too"));
        });
        grid->addWidget(others, 4, 0, 1, 3);
    }

  private:
    Editor& editor_;
};

}  // namespace

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
           "can:size, can:light, can:camera, tri<500, cost<3 ask for what an item can do and costs"));
    search_->setClearButtonEnabled(true);
    search_->installEventFilter(this);
    layout->addWidget(search_);
    fillCategories();
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    row->addWidget(categoryButton_, 1);
    row->addWidget(favourites_);
    row->addWidget(recent_);
    layout->addLayout(row);
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
    connect(search_, &QLineEdit::textChanged, this, &StockPanel::refilter);
    connect(list_->selectionModel(), &QItemSelectionModel::currentChanged, this, &StockPanel::showFacts);
    connect(list_->selectionModel(), &QItemSelectionModel::currentChanged, this,
            [this] { Q_EMIT currentChanged(current()); });
    connect(list_, &QListView::clicked, this, [this] {
        // With the broom in the hand it is what is scattered.
        if (editor_.tools().tool != Tool::Broom) editor_.setPlacing(current().toStdString());
    });
    connect(&editor_, &Editor::projectChanged, this, [this] {
        model_->clearThumbnails();
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
    preview_ = label({}, "stockPreview");
    preview_->setFixedHeight(kPreview);
    preview_->setAlignment(Qt::AlignCenter);
    preview_->setToolTip(tr("Drag to turn it"));
    preview_->setAccessibleName(tr("Preview of the item"));
    preview_->setCursor(Qt::SizeHorCursor);
    preview_->installEventFilter(this);
    column->addWidget(preview_);
    column->addWidget(facts_ = new QWidget);
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
    categoryButton_ = made("stockCategory", tr("Categories: how many items of each fit what is typed"));
    categoryButton_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    categoryButton_->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(categoryButton_);
    menu->setObjectName("stockCategories");
    categoryButton_->setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] {
        menu->clear();
        auto add = [&](const QString& text, const QString& category) {
            const int fit = model_->fitting(category);
            QAction* a =
                menu->addAction(QString("%1\t%2").arg(text).arg(fit), this, [this, category] { choose(category); });
            a->setCheckable(true);
            a->setChecked(category == category_);
            a->setEnabled(fit > 0 || category.isEmpty());
        };
        add(tr("All"), {});
        menu->addSeparator();
        std::set<QString> names;
        for (const model::Item& item : editor_.session().library().items())
            if (!item.isSolid)
                names.insert(item.offered ? QString::fromStdString(item.folder)
                                          : QString::fromUtf8(StockModel::kUnoffered));
        for (const QString& name : names) add(name, name);
    });
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

void StockPanel::choose(const QString& category) {
    category_ = category;
    refilter();
}

void StockPanel::refreshCategories() {
    const bool special = category_ == StockModel::kFavourites || category_ == StockModel::kRecent;
    categoryButton_->setText(special || category_.isEmpty()
                                 ? tr("All %1").arg(model_->fitting({}))
                                 : QString("%1 %2").arg(category_).arg(model_->fitting(category_)));
    favourites_->setText(tr("★ %1").arg(model_->fitting(StockModel::kFavourites)));
    recent_->setText(tr("Recent %1").arg(model_->fitting(StockModel::kRecent)));
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

void StockPanel::showPreview() {
    const QString name = current();
    const base::Name key = editor_.isOpen() ? editor_.session().intern(name.toStdString()) : base::Name{};
    const model::Item* item = editor_.isOpen() ? editor_.session().library().item(key) : nullptr;
    const QImage picture =
        item != nullptr ? renderer_.thumbnail(editor_.piecesOf(*item), item->bounds, kPreview, previewTurn_) : QImage();
    preview_->setVisible(!picture.isNull());
    if (!picture.isNull()) preview_->setPixmap(QPixmap::fromImage(picture));
}

void StockPanel::reveal(const QString& item) {
    search_->clear();
    category_.clear();
    reload();
    for (int row = 0; row < model_->rowCount(); ++row)
        if (model_->index(row).data(StockModel::NameRole).toString() == item) {
            list_->setCurrentIndex(model_->index(row));
            list_->scrollTo(model_->index(row));
        }
}

QString StockPanel::current() const {
    return list_->currentIndex().data(StockModel::NameRole).toString();
}

void StockPanel::reload() {
    refilter();
    addThumbnails();
}

void StockPanel::refreshThumbnails() {
    model_->clearThumbnails();
    addThumbnails();
}

void StockPanel::addThumbnails() {
    pending_.clear();
    for (const model::Item& item : editor_.session().library().items())
        if (!item.isSolid && (item.prefab || !model_->hasThumbnail(QString::fromStdString(item.name))))
            pending_.push_back(item.name);
    std::reverse(pending_.begin(), pending_.end());
    QTimer::singleShot(0, this, &StockPanel::makeNextThumbnail);
}

// A few at a time, so that the window never waits for them.
void StockPanel::makeNextThumbnail() {
    for (int i = 0; i < 3 && !pending_.empty(); ++i) {
        const std::string name = pending_.back();
        pending_.pop_back();
        const base::Name key = editor_.session().intern(name);
        const model::Item* item = editor_.session().library().item(key);
        if (item == nullptr) continue;
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
    model_->filter(search_->text(), category_);
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
    if (n > 0 && !search_->text().isEmpty()) list_->setCurrentIndex(model_->index(0));
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
    showPreview();
    vary_->setVisible(editor_.isOpen() && editor_.tools().varying.on);
    delete facts_->layout();
    for (QLabel* old : facts_->findChildren<QLabel*>()) delete old;
    const QString name = current();
    facts_->setVisible(!name.isEmpty() && editor_.isOpen());
    nothing_->setVisible(facts_->isHidden());
    outfit_->hide();
    if (name.isEmpty() || !editor_.isOpen()) return;
    edit::Session& session = editor_.session();
    const base::Name key = session.intern(name.toStdString());
    const model::Item* item = session.library().item(key);
    if (item == nullptr) return;
    const model::Kind* kind = session.library().kind(session.intern(item->kind));
    showOutfits(kind);
    auto* grid = new QGridLayout(facts_);
    grid->setContentsMargins(0, 4, 0, 0);
    grid->setVerticalSpacing(2);
    grid->setColumnStretch(1, 1);
    int row = 0;
    auto fact = [&](const QString& what, const QString& value) {
        grid->addWidget(label(what, "quiet"), row, 0);
        auto* v = label(value, "fact");
        v->setTextInteractionFlags(Qt::TextSelectableByMouse);
        v->setAlignment(Qt::AlignRight | Qt::AlignTop);
        v->setWordWrap(true);
        grid->addWidget(v, row++, 1);
    };
    fact(QString::fromStdString(item->label), QString::fromStdString(item->kind));
    auto metres = [](double v) { return fixed(v, v < 10 ? 2 : 1); };
    if (!item->bounds.empty()) {
        const base::Vec3 size = item->bounds.size();
        fact(tr("Size"), QString("%1 × %2 × %3 m").arg(metres(size.x), metres(size.y), metres(size.z)));
        fact(tr("Triangles"), QString::number(item->triangles));
    }
    if (kind != nullptr) {
        fact(tr("Cost"), QString::number(model::costOf(kind, item)));
        const model::SizeLimits sizes = model::sizesOf(kind, item);
        fact(tr("May be sized"), sizes.isFixed() ? tr("no") : QString("× %1 to %2").arg(sizes.low).arg(sizes.high));
    }
    for (const std::string& wanted : kind != nullptr ? kind->facts : std::vector<std::string>{})
        if (const model::Property* p = kind->property(wanted))
            fact(QString::fromStdString(p->label), QString::fromStdString(model::valueText(*p, model::defaultOf(*p))));
        else if (wanted == "movingCost")
            fact(tr("Cost while moving"), QString::number(kind->movingCost));
        else if (wanted == "needed" && kind->needed != model::Needed::Any)
            fact(tr("Must exist"), kind->needed == model::Needed::ExactlyOne ? tr("exactly one") : tr("at least one"));
        else if (wanted == "isMoved")
            fact(tr("Moved by physics"), kind->isMoved ? tr("yes") : tr("no"));
    const model::Scene& scene = editor_.scene();
    const base::Name kindKey = session.intern(item->kind);
    const auto isOne = [&](model::Slot s) {
        if (item->prefab) return scene.isInstance(s) && scene.detail(s)->prefab->of == item->prefab;
        return item->bounds.empty() ? !scene.item(s) && scene.kind(s) == kindKey : scene.item(s) == key;
    };
    std::size_t n = 0;
    for (model::Slot s = 0; s < scene.slotEnd(); ++s) n += scene.alive(s) && isOne(s) ? 1 : 0;
    fact(tr("In this scene"), QString::number(n));
    for (const std::string& remark : item->remarks) fact(QString::fromStdString(remark), {});
}

bool StockPanel::eventFilter(QObject* watched, QEvent* event) {
    if (watched == preview_ && (event->type() == QEvent::MouseButtonPress || event->type() == QEvent::MouseMove)) {
        const QPoint at = static_cast<QMouseEvent*>(event)->position().toPoint();
        if (event->type() == QEvent::MouseMove) previewTurn_ -= (at - previewFrom_).x() * 1.5;
        previewFrom_ = at;
        showPreview();
        return true;
    }
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
