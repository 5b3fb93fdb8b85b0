#include "app/panels/item_details.h"

#include <QMouseEvent>
#include <QVBoxLayout>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/view/gl_renderer.h"
#include "base/text.h"
#include "ops/chance.h"
#include "render/draw_list.h"

namespace app {

namespace {

constexpr int kPreview = 112;
constexpr double kDegreesAPixel = 1.5;

}  // namespace

ItemDetails::ItemDetails(Editor& editor, GlRenderer& renderer, QWidget* parent)
    : QWidget(parent), editor_(editor), renderer_(renderer) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    preview_ = label({}, "stockPreview");
    preview_->setFixedHeight(kPreview);
    preview_->setAlignment(Qt::AlignCenter);
    preview_->setToolTip(tr("Drag to turn it, any way round; double-click: as it was"));
    preview_->setAccessibleName(tr("Preview of the item"));
    preview_->setCursor(Qt::SizeAllCursor);
    preview_->installEventFilter(this);
    column->addWidget(preview_);
    column->addWidget(facts_ = new QWidget);
}

const model::Item* ItemDetails::known() const {
    if (item_.isEmpty() || !editor_.isOpen()) return nullptr;
    return editor_.session().library().item(editor_.session().intern(item_.toStdString()));
}

void ItemDetails::show(const QString& item) {
    if (item != item_) tint_.reset();
    item_ = item;
    const model::Item* one = known();
    setVisible(one != nullptr);
    if (one == nullptr) return;
    showPreview(*one);
    showFacts(*one);
}

void ItemDetails::throwTint() {
    const model::Item* item = known();
    if (item == nullptr) return;
    constexpr double kShare = 0.6;  // of the way to black
    if (tint_)
        tint_.reset();
    else
        tint_ = ops::tintByChance(editor_.session().random(), kShare);
    showPreview(*item);
}

void ItemDetails::showPreview(const model::Item& item) {
    base::Affine turned;
    turned.linear = glm::mat3_cast(turn_);
    const base::Vec3 middle = item.bounds.empty() ? base::Vec3(0) : item.bounds.centre();
    turned.translation = middle - turned.linear * middle;
    std::vector<Piece> pieces = editor_.piecesOf(item);
    for (Piece& piece : pieces) {
        piece.pose = turned * piece.pose;
        if (tint_) piece.shade = render::shadeOf(*tint_);
    }
    const base::Aabb box = item.bounds.empty() ? item.bounds : base::mapped(item.bounds, turned);
    const QImage picture = renderer_.thumbnail(pieces, box, kPreview);
    preview_->setVisible(!picture.isNull());
    if (!picture.isNull()) preview_->setPixmap(QPixmap::fromImage(picture));
}

void ItemDetails::fact(const QString& what, const QString& value) {
    const int row = grid_->rowCount();
    grid_->addWidget(label(what, "quiet"), row, 0);
    auto* v = label(value, "fact");
    v->setTextInteractionFlags(Qt::TextSelectableByMouse);
    v->setAlignment(Qt::AlignRight | Qt::AlignTop);
    v->setWordWrap(true);
    grid_->addWidget(v, row, 1);
}

void ItemDetails::showKind(const model::Item& item, const model::Kind& kind) {
    fact(tr("Cost"), QString::number(model::costOf(&kind, &item)));
    const model::SizeLimits sizes = model::sizesOf(&kind, &item);
    fact(tr("May be sized"), sizes.isFixed() ? tr("no") : QString("× %1 to %2").arg(sizes.low).arg(sizes.high));
    for (const std::string& wanted : kind.facts)
        if (const model::Property* p = kind.property(wanted))
            fact(toQt(p->label), toQt(model::valueText(*p, model::defaultOf(*p))));
        else if (wanted == "movingCost")
            fact(tr("Cost while moving"), QString::number(kind.movingCost));
        else if (wanted == "needed" && kind.needed != model::Needed::Any)
            fact(tr("Must exist"), kind.needed == model::Needed::ExactlyOne ? tr("exactly one") : tr("at least one"));
        else if (wanted == "isMoved")
            fact(tr("Moved by physics"), kind.isMoved ? tr("yes") : tr("no"));
    if (!kind.outfits.empty()) fact(tr("Outfits"), QString::number(kind.outfits.size()));
}

void ItemDetails::showFacts(const model::Item& item) {
    delete facts_->layout();
    for (QLabel* old : facts_->findChildren<QLabel*>()) delete old;
    grid_ = new QGridLayout(facts_);
    grid_->setContentsMargins(0, 4, 0, 0);
    grid_->setVerticalSpacing(2);
    grid_->setColumnStretch(1, 1);
    edit::Session& session = editor_.session();
    const base::Name key = session.intern(item.name), kindKey = session.intern(item.kind);
    fact(toQt(item.label), toQt(item.kind));
    if (!item.bounds.empty()) {
        const auto metres = [](double v) { return fixed(v, v < 10 ? 2 : 1); };
        const base::Vec3 size = item.bounds.size();
        fact(tr("Size"), QString("%1 × %2 × %3 m").arg(metres(size.x), metres(size.y), metres(size.z)));
        fact(tr("Triangles"), QString::number(item.triangles));
    }
    if (const model::Kind* kind = session.library().kind(kindKey)) showKind(item, *kind);
    if (!item.berths.empty()) fact(tr("Berths"), QString::number(item.berths.size()));
    const model::Scene& scene = editor_.scene();
    const auto isOne = [&](model::Slot s) {
        if (item.prefab) return scene.isInstance(s) && scene.detail(s)->prefab->of == item.prefab;
        return item.bounds.empty() ? !scene.item(s) && scene.kind(s) == kindKey : scene.item(s) == key;
    };
    std::size_t n = 0;
    for (model::Slot s = 0; s < scene.slotEnd(); ++s) n += scene.alive(s) && isOne(s) ? 1 : 0;
    fact(tr("In this scene"), QString::number(n));
    for (const std::string& remark : item.remarks) fact(toQt(remark), {});
}

/// To the side about up, up and down about what lies across, with Shift about the line of sight.
bool ItemDetails::eventFilter(QObject* watched, QEvent* event) {
    const auto type = event->type();
    if (watched != preview_ ||
        (type != QEvent::MouseButtonPress && type != QEvent::MouseMove && type != QEvent::MouseButtonDblClick))
        return false;
    const auto* mouse = static_cast<QMouseEvent*>(event);
    const QPoint at = mouse->position().toPoint(), by = at - from_;
    from_ = at;
    if (type == QEvent::MouseButtonDblClick) turn_ = {1, 0, 0, 0};
    if (type == QEvent::MouseMove) {
        const base::Vec3 sight = glm::normalize(base::Vec3(0.75, 0.55, 1.0)), up(0, 1, 0);
        const auto about = [](const base::Vec3& axis, double pixels) {
            return glm::angleAxis(base::radians(pixels * kDegreesAPixel), axis);
        };
        const base::Vec3 across = glm::normalize(glm::cross(up, sight));
        turn_ = (mouse->modifiers() & Qt::ShiftModifier) != 0 ? about(sight, -by.x()) * turn_
                                                              : about(across, by.y()) * about(up, by.x()) * turn_;
        turn_ = glm::normalize(turn_);
    }
    if (const model::Item* item = known()) showPreview(*item);
    return true;
}

}  // namespace app
