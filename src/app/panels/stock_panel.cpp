#include "app/panels/stock_panel.h"

#include <QApplication>
#include <QButtonGroup>
#include <QDrag>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QSettings>
#include <QStyledItemDelegate>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <functional>
#include <map>
#include <optional>

#include "app/panels/flow_layout.h"
#include "app/panels/number_field.h"
#include "app/view/gl_renderer.h"
#include "app/view/view_widget.h"
#include "base/text.h"

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
                    QFontMetrics(font).elidedText(index.data().toString(), Qt::ElideRight, words.width()));
        p->restore();
    }

  private:
    const Editor& editor_;
};

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

QLabel* label(const QString& text, const char* name) {
    auto* l = new QLabel(text);
    l->setObjectName(QLatin1String(name));
    return l;
}

}  // namespace

namespace {

/// How what is placed differs: turn, size, variations.
class VaryCard : public QWidget {
  public:
    explicit VaryCard(Editor& editor) : editor_(editor) {
        auto* grid = new QGridLayout(this);
        grid->setContentsMargins(0, 2, 0, 0);
        grid->setVerticalSpacing(3);
        grid->addWidget(label(StockPanel::tr("Placed with chance"), "cardTitle"), 0, 0, 1, 3);
        auto field = [&](int row, int column, const char* name, const QString& what, base::Quantity quantity,
                         double value, double low, double high, const std::function<void(Varying&, double)>& set) {
            auto* f = new NumberField(quantity, 2);
            f->setObjectName(QLatin1String(name));
            f->setAccessibleName(what);
            f->setToolTip(what);
            f->setValue(value);
            auto change = [this, f, set, low, high](double v) {
                Varying varying = editor_.varying();
                set(varying, std::clamp(v, low, high));
                if (varying.smallest > varying.largest) varying.largest = varying.smallest;
                editor_.setVarying(varying);
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
              base::Quantity::Angle, editor.varying().turnDegrees, 0, 180,
              [](Varying& v, double x) { v.turnDegrees = x; });
        grid->addWidget(label(StockPanel::tr("Size"), "quiet"), 2, 0);
        field(2, 1, "varySmallest", StockPanel::tr("Smallest size by chance, times its own"), base::Quantity::Factor,
              editor.varying().smallest, 0.01, 100, [](Varying& v, double x) { v.smallest = x; });
        field(2, 2, "varyLargest", StockPanel::tr("Largest size by chance, times its own"), base::Quantity::Factor,
              editor.varying().largest, 0.01, 100, [](Varying& v, double x) { v.largest = x; });
        grid->addWidget(label(StockPanel::tr("Tint"), "quiet"), 3, 0);
        field(3, 1, "varyTint", StockPanel::tr("Tinted by chance: 0 not at all, 1 down to black"),
              base::Quantity::Factor, editor.varying().tint, 0, 1, [](Varying& v, double x) { v.tint = x; });
        auto* others = new QToolButton;
        others->setObjectName("varyOthers");
        others->setCheckable(true);
        others->setText(StockPanel::tr("Variations too"));
        others->setToolTip(StockPanel::tr("Also places the items of the same name with another number"));
        QObject::connect(others, &QToolButton::toggled, others, [this, others](bool on) {
            Varying varying = editor_.varying();
            varying.variations = on;
            editor_.setVarying(varying);
            others->setText((on ? QStringLiteral("✓ ") : QString()) + StockPanel::tr("Variations too"));
        });
        grid->addWidget(others, 4, 0, 1, 3);
    }

  private:
    Editor& editor_;
};

}  // namespace

StockModel::StockModel(Editor& editor, QObject* parent) : QAbstractListModel(parent), editor_(editor) {}

namespace {

/// Does an item fit a word that asks for an ability or a cost? Nothing: the word is part of a name.
std::optional<bool> fitsAbility(const model::Item& item, const model::Kind* kind, const QString& word) {
    if (word.startsWith("can:")) {
        const QString what = word.mid(4);
        if (what == "size") return kind == nullptr || kind->smallestSize != kind->largestSize;
        if (what == "light") return kind != nullptr && kind->facets && kind->facets->light.has_value();
        if (what == "camera") return kind != nullptr && kind->facets && kind->facets->camera.has_value();
        return false;
    }
    for (const auto& [key, value] :
         {std::pair{"tri", static_cast<double>(item.triangles)}, {"cost", kind != nullptr ? kind->cost : 1.0}})
        for (const char sign : {'<', '>'})
            if (word.startsWith(QLatin1String(key) + sign)) {
                bool number = false;
                const double limit = word.mid(static_cast<int>(qstrlen(key)) + 1).toDouble(&number);
                return number && (sign == '<' ? value < limit : value > limit);
            }
    return std::nullopt;
}

}  // namespace

void StockModel::filter(const QString& text, const QString& category) {
    beginResetModel();
    shown_.clear();
    std::vector<std::pair<int, const model::Item*>> ranked;
    QStringList names, abilities;
    for (const QString& word : text.split(' ', Qt::SkipEmptyParts))
        (word.startsWith("can:") || word.contains('<') || word.contains('>') ? abilities : names) << word;
    const std::string wanted = names.join(' ').toStdString(), only = category.toStdString();
    const auto& recent = editor_.recentItems();
    if (editor_.isOpen())
        for (const model::Item& item : editor_.session().library().items()) {
            const auto used = std::find(recent.begin(), recent.end(), item.name);
            if (item.isSolid) continue;
            if (category == kFavourites ? !favourites.contains(QString::fromStdString(item.name))
                : category == kRecent   ? used == recent.end()
                                        : !only.empty() && item.category != only)
                continue;
            const model::Kind* kind = editor_.session().library().kind(editor_.session().intern(item.kind));
            if (std::any_of(abilities.begin(), abilities.end(),
                            [&](const QString& word) { return !fitsAbility(item, kind, word).value_or(false); }))
                continue;
            if (category == kRecent) {
                if (base::matchRank(item.label, wanted) >= 0)
                    ranked.emplace_back(static_cast<int>(used - recent.begin()), &item);
                continue;
            }
            const int rank = base::matchRank(item.label, wanted);
            if (rank >= 0) ranked.emplace_back(rank, &item);
        }
    std::stable_sort(ranked.begin(), ranked.end(), [](const auto& a, const auto& b) {
        return a.first != b.first ? a.first < b.first : a.second->label < b.second->label;
    });
    for (const auto& [rank, item] : ranked) shown_.push_back(item);
    endResetModel();
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
    if (role == Qt::DecorationRole) return thumbnails_.value(name);
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

StockPanel::StockPanel(Editor& editor, GlRenderer& renderer, QWidget* parent)
    : QWidget(parent), editor_(editor), renderer_(renderer) {
    setObjectName("panel");
    setMinimumWidth(216);  // two tiles side by side
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 6, 10, 8);
    layout->setSpacing(7);
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
    chips_ = new QWidget;
    new FlowLayout(chips_, 4);
    layout->addWidget(chips_);
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
    layout->addWidget(list_, 1);
    empty_ = label({}, "quiet");
    empty_->setWordWrap(true);
    empty_->hide();
    layout->addWidget(empty_);
    preview_ = label({}, "stockPreview");
    preview_->setFixedHeight(kPreview);
    preview_->setAlignment(Qt::AlignCenter);
    preview_->setToolTip(tr("Drag to turn it"));
    preview_->setAccessibleName(tr("Preview of the item"));
    preview_->setCursor(Qt::SizeHorCursor);
    preview_->installEventFilter(this);
    layout->addWidget(preview_);
    facts_ = new QWidget;
    layout->addWidget(facts_);
    layout->addWidget(vary_ = new VaryCard(editor_));
    list_->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(list_, &QWidget::customContextMenuRequested, this, [this](const QPoint& at) {
        const QModelIndex index = list_->indexAt(at);
        if (!index.isValid()) return;
        list_->setCurrentIndex(index);
        QMenu menu(this);
        menu.setToolTipsVisible(true);
        Q_EMIT menuRequested(&menu);
        menu.exec(list_->viewport()->mapToGlobal(at));
    });
    for (const QString& name : QSettings().value("stock/favourites").toStringList()) model_->favourites.insert(name);

    connect(search_, &QLineEdit::textChanged, this, &StockPanel::refilter);
    connect(list_->selectionModel(), &QItemSelectionModel::currentChanged, this, &StockPanel::showFacts);
    connect(list_->selectionModel(), &QItemSelectionModel::currentChanged, this,
            [this] { Q_EMIT currentChanged(current()); });
    connect(list_, &QListView::clicked, this, [this] {
        // With the broom in the hand it is what is scattered.
        if (editor_.tool() != Tool::Broom) editor_.setPlacing(current().toStdString());
    });
    connect(&editor_, &Editor::projectChanged, this, [this] {
        model_->clearThumbnails();
        reload();
    });
    connect(&editor_, &Editor::libraryChanged, this, &StockPanel::reload);
    connect(&editor_, &Editor::toolChanged, this,
            [this] { vary_->setVisible(editor_.isOpen() && editor_.varying().on); });
    connect(&editor_, &Editor::sceneShown, this, &StockPanel::refilter);
    connect(&editor_, &Editor::sceneEdited, this, [this](const edit::SceneDelta& delta) {
        if (!delta.created.empty() || !delta.removed.empty()) showFacts();
    });
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
    std::map<std::string, int> counts;
    int total = 0;
    for (const model::Item& item : editor_.session().library().items()) {
        if (item.isSolid) continue;
        ++counts[item.category];
        ++total;
    }
    delete categories_;
    categories_ = new QButtonGroup(this);
    for (QToolButton* old : chips_->findChildren<QToolButton*>()) delete old;
    auto addChip = [&](const QString& text, const QString& category, int n) {
        auto* chip = new QToolButton;
        chip->setObjectName("chip");
        chip->setText(text);
        chip->setCheckable(true);
        chip->setChecked(category == category_);
        chip->setToolTip(counted(static_cast<std::size_t>(n), tr("item"), tr("items")));
        chip->setAccessibleName(tr("Category %1").arg(text));
        categories_->addButton(chip);
        chips_->layout()->addWidget(chip);
        connect(chip, &QToolButton::clicked, this, [this, category] {
            category_ = category;
            refilter();
        });
    };
    addChip(tr("All %1").arg(total), {}, total);
    addChip(tr("★"), StockModel::kFavourites, static_cast<int>(model_->favourites.size()));
    addChip(tr("Recent"), StockModel::kRecent, static_cast<int>(editor_.recentItems().size()));
    for (const auto& [category, n] : counts)
        addChip(QString("%1 %2").arg(QString::fromStdString(category)).arg(n), QString::fromStdString(category), n);
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
                                   : facets.light                                      ? "lightbulb"
                                   : facets.camera                                     ? "video"
                                   : facets.note                                       ? "sticky-note"
                                                                                       : "footprints";
            icon(symbol, editor_.theme().dim).paint(&p, picture.rect().adjusted(14, 14, -14, -14));
        }
        model_->setThumbnail(QString::fromStdString(name), QPixmap::fromImage(picture));
    }
    if (!pending_.empty()) QTimer::singleShot(0, this, &StockPanel::makeNextThumbnail);
}

void StockPanel::refilter() {
    model_->filter(search_->text(), category_);
    const int n = model_->rowCount();
    count_->setText(counted(static_cast<std::size_t>(n), tr("item"), tr("items")));
    empty_->setVisible(n == 0);
    empty_->setText(search_->text().isEmpty()
                        ? tr("Nothing here yet. Import a model with Project › Import models.")
                        : tr("Nothing is called “%1”. Clear the field to see everything.").arg(search_->text()));
    if (n > 0 && !search_->text().isEmpty()) list_->setCurrentIndex(model_->index(0));
    showFacts();
}

void StockPanel::showFacts() {
    showPreview();
    vary_->setVisible(editor_.isOpen() && editor_.varying().on);
    delete facts_->layout();
    for (QLabel* old : facts_->findChildren<QLabel*>()) delete old;
    const QString name = current();
    facts_->setVisible(!name.isEmpty() && editor_.isOpen());
    if (name.isEmpty() || !editor_.isOpen()) return;
    edit::Session& session = editor_.session();
    const base::Name key = session.intern(name.toStdString());
    const model::Item* item = session.library().item(key);
    if (item == nullptr) return;
    const model::Kind* kind = session.library().kind(session.intern(item->kind));
    auto* grid = new QGridLayout(facts_);
    grid->setContentsMargins(0, 4, 0, 0);
    grid->setVerticalSpacing(2);
    int row = 0;
    auto fact = [&](const QString& what, const QString& value) {
        grid->addWidget(label(what, "quiet"), row, 0);
        auto* v = label(value, "fact");
        v->setTextInteractionFlags(Qt::TextSelectableByMouse);
        grid->addWidget(v, row++, 1, Qt::AlignRight);
    };
    fact(QString::fromStdString(item->label), QString::fromStdString(item->kind));
    auto metres = [](double v) { return QString::fromStdString(base::fixed(v, v < 10 ? 2 : 1)); };
    if (!item->bounds.empty()) {
        const base::Vec3 size = item->bounds.size();
        fact(tr("Size"), QString("%1 × %2 × %3 m").arg(metres(size.x), metres(size.y), metres(size.z)));
        fact(tr("Triangles"), QString::number(item->triangles));
    }
    if (kind != nullptr) {
        fact(tr("Cost"), QString::number(kind->cost));
        fact(tr("May be sized"), kind->smallestSize == kind->largestSize
                                     ? tr("no")
                                     : QString("× %1 to %2").arg(kind->smallestSize).arg(kind->largestSize));
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
    std::size_t n = 0;
    const model::Scene& scene = editor_.scene();
    const base::Name kindKey = session.intern(item->kind);
    for (model::Slot s = 0; s < scene.slotEnd(); ++s)
        if (scene.alive(s) &&
            (item->bounds.empty() ? !scene.item(s) && scene.kind(s) == kindKey : scene.item(s) == key))
            ++n;
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
