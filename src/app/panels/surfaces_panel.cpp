#include "app/panels/surfaces_panel.h"

#include <QDrag>
#include <QMimeData>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/kit/folding_bar.h"
#include "app/kit/parts.h"
#include "app/look/colour.h"
#include "app/names.h"
#include "app/shell/tools.h"
#include "base/text.h"
#include "edit/session.h"
#include "io/added.h"
#include "io/workspace.h"
#include "model/facets/surfaces.h"
#include "ops/objects.h"
#include "ops/surfaces.h"

namespace app {

namespace {

/// A ball of it, lit from the upper left: colour, image, and how much of the light it mirrors.
QPixmap ballOf(const model::Surface& surface, const QString& folder, int pixels) {
    QPixmap pixmap(pixels, pixels);
    pixmap.fill(Qt::transparent);
    QPainter p(&pixmap);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF ball(2, 2, pixels - 4, pixels - 4);
    QPainterPath round;
    round.addEllipse(ball);
    p.setClipPath(round);
    p.fillRect(ball, toColour(surface.colour));
    if (!surface.image.empty()) {
        QImage image;
        if (const auto file = io::projectFile(folder.toStdString(), "media/" + surface.image))
            image.load(QString::fromStdString(file->string()));
        p.setCompositionMode(image.isNull() ? QPainter::CompositionMode_SourceOver
                                            : QPainter::CompositionMode_Multiply);
        if (image.isNull())
            p.fillRect(ball, QBrush(QColor(255, 0, 140), Qt::Dense4Pattern));
        else
            p.drawImage(ball, image);
        p.setCompositionMode(QPainter::CompositionMode_SourceOver);
    }
    QRadialGradient shade(ball.center() - QPointF(pixels, pixels) * 0.18, pixels * 0.75);
    shade.setColorAt(0, QColor(255, 255, 255, 40));
    shade.setColorAt(0.5, QColor(0, 0, 0, 0));
    shade.setColorAt(1, QColor(0, 0, 0, 150));
    p.fillRect(ball, shade);
    const double gloss = 1 - surface.roughness;
    QRadialGradient spot(ball.center() - QPointF(pixels, pixels) * 0.2, pixels * (0.5 - 0.35 * gloss));
    spot.setColorAt(0, QColor(255, 255, 255, static_cast<int>(230 * gloss)));
    spot.setColorAt(1, QColor(255, 255, 255, 0));
    p.fillRect(ball, spot);
    return pixmap;
}

/// Surfaces are dragged out of it onto objects.
class SurfaceList : public QListWidget {
  public:
    void startDrag(Qt::DropActions) override {
        if (currentItem() == nullptr) return;
        auto* mime = new QMimeData;
        mime->setData(kSurfaceMime, currentItem()->data(Qt::UserRole).toString().toUtf8());
        auto* drag = new QDrag(this);
        drag->setMimeData(mime);
        drag->setPixmap(currentItem()->icon().pixmap(32, 32));
        drag->setHotSpot(QPoint(-14, -14));
        drag->exec(Qt::CopyAction);
    }
};

}  // namespace

SurfacesPanel::SurfacesPanel(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    setObjectName("panel");
    auto* whole = new QHBoxLayout(this);
    whole->setContentsMargins(10, 4, 10, 6);
    whole->setSpacing(12);
    whole->addLayout(makeList(), 1);

    form_ = new FieldsForm(editor_, model::surfaceFields(), [this](const model::Property& property, const auto& set) {
        return change("Set " + base::lowered(property.label), set);
    });
    form_->setObjectName("surfaceForm");
    form_->setFixedWidth(214);
    whole->addWidget(form_);
    auto* balls = new QVBoxLayout;
    auto* pair = new QHBoxLayout;
    pair->addWidget(first_ = new QLabel);
    pair->addWidget(second_ = new QLabel);
    balls->addLayout(pair);
    balls->addWidget(compared_ = label({}, "faint"));
    balls->addStretch(1);
    whole->addLayout(balls);

    connect(search_, &QLineEdit::textChanged, this, [this] { refresh(); });
    connect(list_, &QListWidget::itemSelectionChanged, this, [this] {
        if (!filling_) showChosen();
    });
    connect(&editor_, &Editor::libraryChanged, this, [this] {
        if (isVisible()) refresh();
    });
    connect(&editor_, &Editor::projectChanged, this, [this] { refresh(); });
}

QLayout* SurfacesPanel::makeList() {
    auto* left = new QVBoxLayout;
    auto* head = new FoldingBar;
    search_ = new QLineEdit;
    search_->setObjectName("surfaceSearch");
    search_->setPlaceholderText(tr("Find"));
    search_->setAccessibleName(tr("Find a surface"));
    search_->setMaximumWidth(140);
    search_->setMinimumWidth(70);
    head->add(search_);
    auto act = [&](const char* name, const QString& text, const QString& tip, auto run) {
        auto* b = app::button<QToolButton>(name, text, tip);
        head->addFolding(b);
        connect(b, &QToolButton::clicked, this, run);
    };
    act("surfaceNew", tr("New"), tr("A new surface"), [this] { make(false); });
    act("surfaceLike", tr("From this"), tr("A new surface that begins as the chosen one"), [this] { make(true); });
    act("surfaceGive", tr("Give"), tr("Every slot of the selected objects shows it"), [this] { giveToSelection(); });
    act("surfaceUses", tr("Used by"), tr("Selects the objects of this scene that show it"), [this] {
        if (!chosen().empty()) Q_EMIT usesAsked(chosen().front());
    });
    act("surfaceDelete", tr("Delete"), tr("Objects that show it show it as missing; it can be taken back"),
        [this] { remove(); });
    head->addStretch();
    left->addWidget(head);
    list_ = new SurfaceList;
    list_->setObjectName("surfaceList");
    list_->setAccessibleName(tr("Surfaces of the project"));
    list_->setViewMode(QListView::IconMode);
    list_->setResizeMode(QListView::Adjust);
    list_->setIconSize(QSize(44, 44));
    list_->setGridSize(QSize(92, 74));
    list_->setMovement(QListView::Static);
    list_->setDragEnabled(true);
    list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    list_->setToolTip(
        tr("Drag one onto an object: the slot under the pointer lights up. Ctrl+click a second one to compare."));
    left->addWidget(list_, 1);
    left->addWidget(empty_ = label(tr("No surfaces yet. New makes one; drag it onto an object.")));
    return left;
}

void SurfacesPanel::showEvent(QShowEvent*) {
    refresh();
}

std::vector<std::string> SurfacesPanel::chosen() const {
    std::vector<std::string> keys;
    for (QListWidgetItem* item : list_->selectedItems())
        keys.push_back(item->data(Qt::UserRole).toString().toStdString());
    return keys;
}

void SurfacesPanel::refresh() {
    if (!editor_.isOpen()) return;
    const auto before = chosen();
    filling_ = true;
    list_->clear();
    const QString folder = QString::fromStdString(editor_.workspace().folder().string());
    for (const auto& [name, surface] : editor_.session().library().surfaces()) {
        const QString text = QString::fromStdString(surface.label);
        if (!text.contains(search_->text(), Qt::CaseInsensitive)) continue;
        auto* item = new QListWidgetItem(QIcon(ballOf(surface, folder, 44)), text, list_);
        item->setData(Qt::UserRole, QString::fromStdString(name));
        item->setToolTip(text);
        item->setSelected(std::find(before.begin(), before.end(), name) != before.end());
    }
    if (list_->count() > 0 && list_->selectedItems().isEmpty()) list_->setCurrentRow(0);
    empty_->setVisible(list_->count() == 0);
    filling_ = false;
    showChosen();
}

void SurfacesPanel::showChosen() {
    const auto keys = chosen();
    if (!keys.empty() && keys.front() != editor_.tools().chosenSurface)
        editor_.change(&Tools::chosenSurface, keys.front());
    const auto& all = editor_.session().library().surfaces();
    const auto place = keys.empty() ? all.end() : all.find(keys.front());
    form_->setEnabled(place != all.end() && keys.size() == 1);
    const QString folder = QString::fromStdString(editor_.workspace().folder().string());
    first_->setPixmap(place == all.end() ? QPixmap() : ballOf(place->second, folder, 96));
    const auto other = keys.size() == 2 ? all.find(keys[1]) : all.end();
    second_->setPixmap(other == all.end() ? QPixmap() : ballOf(other->second, folder, 96));
    compared_->setText(other == all.end() ? QString()
                                          : QString::fromStdString(place->second.label + " · " + other->second.label));
    if (place == all.end()) return;
    form_->show(&place->second);
}

Status SurfacesPanel::change(const std::string& what, const std::function<Status(void*)>& set) {
    const auto keys = chosen();
    const auto& all = editor_.session().library().surfaces();
    if (keys.empty() || !all.contains(keys.front())) return {};
    model::Surface surface = all.at(keys.front());
    const model::Surface before = surface;
    if (Status done = set(&surface); !done) return done;
    if (surface == before) return {};
    editor_.run(what + ": " + before.label, [&](edit::Draft& draft) { return ops::putSurface(draft, surface); });
    refresh();
    return {};
}

void SurfacesPanel::make(bool like) {
    if (!editor_.isOpen()) return;
    const auto& all = editor_.session().library().surfaces();
    const auto keys = chosen();
    model::Surface surface;
    if (like && !keys.empty()) surface = all.at(keys.front());
    const std::string stem = like && !keys.empty() ? surface.label : tr("Surface").toStdString();
    for (int n = all.empty() && !like ? 1 : 2; surface.name.empty() || all.contains(surface.name); ++n) {
        surface.label = stem + " " + std::to_string(n);
        surface.name.clear();
        for (char c : surface.label)
            surface.name += std::isalnum(static_cast<unsigned char>(c)) != 0
                                ? static_cast<char>(std::tolower(static_cast<unsigned char>(c)))
                                : '-';
    }
    if (!editor_.run("New surface", [&](edit::Draft& draft) { return ops::putSurface(draft, surface); })) return;
    refresh();
    list_->clearSelection();  // the new one alone
    for (int i = 0; i < list_->count(); ++i)
        if (list_->item(i)->data(Qt::UserRole).toString().toStdString() == surface.name) list_->setCurrentRow(i);
    form_->focusField("label");
}

void SurfacesPanel::remove() {
    const auto keys = chosen();
    if (keys.empty()) return;
    editor_.run("Delete surface", [&](edit::Draft& draft) -> Status {
        for (const std::string& key : keys)
            if (Status gone = ops::removeSurface(draft, key); !gone) return gone;
        return {};
    });
    refresh();
}

void SurfacesPanel::giveToSelection() {
    const auto keys = chosen();
    if (keys.empty() || editor_.selection().empty())
        return editor_.say(tr("Select objects in the view and one surface here first."));
    const ops::Ids ids = editor_.selection();
    editor_.run("Surface on " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) -> Status {
        // Of groups, what they hold.
        ops::Ids all;
        for (base::ObjectId top : ids)
            for (model::Slot s : draft.scene().subtree(draft.scene().find(top))) all.push_back(draft.scene().id(s));
        for (base::ObjectId id : all) {
            const model::Item* item = draft.session().library().item(draft.scene().item(draft.scene().find(id)));
            if (item == nullptr) continue;
            for (const std::string& slot : std::vector<std::string>(item->slots))
                if (Status done =
                        ops::setSlot(draft, {&id, 1}, slot, [&](model::SlotSurface& s) { s.surface = keys.front(); });
                    !done)
                    return done;
        }
        return {};
    });
}

}  // namespace app
