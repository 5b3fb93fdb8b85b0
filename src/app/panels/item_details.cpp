#include "app/panels/item_details.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QMouseEvent>
#include <QVBoxLayout>
#include <algorithm>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/view/gl_renderer.h"
#include "app/view/piece.h"
#include "base/text.h"
#include "edit/session.h"
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
    auto* both = new QHBoxLayout;
    both->setSpacing(0);
    both->addWidget(preview_ = makePreview(tr("Preview of the item")));
    both->addWidget(otherPreview_ = makePreview(tr("Preview of the item to compare with")));
    column->addLayout(both);
    column->addWidget(facts_ = new QWidget);
}

QLabel* ItemDetails::makePreview(const QString& name) {
    QLabel* preview = label({}, "stockPreview");
    preview->setFixedHeight(kPreview);
    preview->setMinimumWidth(1);  // two of them share what room there is
    preview->setAlignment(Qt::AlignCenter);
    preview->setToolTip(tr("Drag to turn it, any way round; double-click: as it was"));
    preview->setAccessibleName(name);
    preview->setCursor(Qt::SizeAllCursor);
    preview->installEventFilter(this);
    return preview;
}

const model::Item* ItemDetails::known(const QString& item) const {
    if (item.isEmpty() || !editor_.isOpen()) return nullptr;
    return editor_.session().library().item(editor_.session().intern(item.toStdString()));
}

void ItemDetails::show(const QString& item, const QString& other) {
    if (item != item_) tint_.reset();
    item_ = item;
    other_ = other == item ? QString() : other;
    const model::Item *one = known(item_), *second = known(other_);
    setVisible(one != nullptr);
    if (one == nullptr) return;
    showPreview(preview_, one);
    showPreview(otherPreview_, second);
    showFacts(factsOf(*one), second != nullptr ? factsOf(*second) : Facts{});
}

void ItemDetails::throwTint() {
    const model::Item* item = known(item_);
    if (item == nullptr) return;
    constexpr double kShare = 0.6;  // of the way to black
    if (tint_)
        tint_.reset();
    else
        tint_ = ops::tintByChance(editor_.session().random(), kShare);
    showPreview(preview_, item);
}

void ItemDetails::showPreview(QLabel* preview, const model::Item* item) {
    preview->setVisible(item != nullptr && !item->bounds.empty());
    if (preview->isHidden()) return;
    base::Affine turned;
    turned.linear = glm::mat3_cast(turn_);
    turned.translation = item->bounds.centre() - turned.linear * item->bounds.centre();
    std::vector<Piece> pieces = editor_.piecesOf(*item);
    for (Piece& piece : pieces) {
        piece.pose = turned * piece.pose;
        if (tint_ && preview == preview_) piece.shade = render::shadeOf(*tint_);
    }
    const int side = known(other_) != nullptr ? kPreview * 3 / 4 : kPreview;
    preview->setPixmap(QPixmap::fromImage(renderer_.thumbnail(pieces, base::mapped(item->bounds, turned), side)));
}

void ItemDetails::addKind(Facts& facts, const model::Item& item, const model::Kind& kind) const {
    facts.emplace_back(tr("Cost"), QString::number(model::costOf(&kind, &item)));
    const model::SizeLimits sizes = model::sizesOf(&kind, &item);
    facts.emplace_back(tr("May be sized"),
                       sizes.isFixed() ? tr("no") : QString("× %1 to %2").arg(sizes.low).arg(sizes.high));
    for (const std::string& wanted : kind.facts)
        if (const model::Property* p = kind.property(wanted))
            facts.emplace_back(toQt(p->label), toQt(model::valueText(*p, model::defaultOf(*p))));
        else if (wanted == "movingCost")
            facts.emplace_back(tr("Cost while moving"), QString::number(kind.movingCost));
        else if (wanted == "needed" && kind.needed != model::Needed::Any)
            facts.emplace_back(tr("Must exist"),
                               kind.needed == model::Needed::ExactlyOne ? tr("exactly one") : tr("at least one"));
        else if (wanted == "isMoved")
            facts.emplace_back(tr("Moved by physics"), kind.isMoved ? tr("yes") : tr("no"));
    if (!kind.outfits.empty()) facts.emplace_back(tr("Outfits"), QString::number(kind.outfits.size()));
}

ItemDetails::Facts ItemDetails::factsOf(const model::Item& item) const {
    edit::Session& session = editor_.session();
    const base::Name key = session.intern(item.name), kindKey = session.intern(item.kind);
    Facts facts = {{toQt(item.label), toQt(item.kind)}};
    if (!item.bounds.empty()) {
        const auto length = [&](double v) { return lengthNumber(v, editor_.unit(), v < 10 ? 2 : 1); };
        const base::Vec3 size = item.bounds.size();
        facts.emplace_back(tr("Size"),
                           QString("%1 × %2 × %3 %4")
                               .arg(length(size.x), length(size.y), length(size.z), base::traits(editor_.unit()).sign));
        facts.emplace_back(tr("Triangles"), QString::number(item.triangles));
    }
    if (const model::Kind* kind = session.library().kind(kindKey)) addKind(facts, item, *kind);
    if (!item.berths.empty()) facts.emplace_back(tr("Berths"), QString::number(item.berths.size()));
    const model::Scene& scene = editor_.scene();
    const auto isOne = [&](model::Slot s) {
        if (item.prefab) return scene.isInstance(s) && scene.detail(s)->prefab->of == item.prefab;
        return item.bounds.empty() ? !scene.item(s) && scene.kind(s) == kindKey : scene.item(s) == key;
    };
    std::size_t n = 0;
    for (model::Slot s = 0; s < scene.slotEnd(); ++s) n += scene.alive(s) && isOne(s) ? 1 : 0;
    facts.emplace_back(tr("In this scene"), QString::number(n));
    for (const std::string& remark : item.remarks) facts.emplace_back(toQt(remark), QString());
    return facts;
}

/// What only one of two has stands at the end.
void ItemDetails::showFacts(const Facts& facts, const Facts& others) {
    delete facts_->layout();
    for (QLabel* old : facts_->findChildren<QLabel*>()) delete old;
    auto* grid = new QGridLayout(facts_);
    grid->setContentsMargins(0, 4, 0, 0);
    grid->setVerticalSpacing(2);
    grid->setColumnStretch(1, 1);
    if (!others.empty()) grid->setColumnStretch(2, 1);
    const auto cell = [&](int row, int column, const QString& value) {
        auto* v = label(value, "fact");
        v->setTextInteractionFlags(Qt::TextSelectableByMouse);
        v->setAlignment(Qt::AlignRight | Qt::AlignTop);
        v->setWordWrap(true);
        grid->addWidget(v, row, column);
    };
    const auto place = [](const Facts& all, const QString& what) {
        return std::find_if(all.begin(), all.end(), [&](const auto& fact) { return fact.first == what; });
    };
    int row = 0;
    if (!others.empty()) {  // whose columns they are
        cell(row, 1, facts.front().first);
        cell(row++, 2, others.front().first);
    }
    for (const auto& [what, value] : facts) {
        const bool isName = what == facts.front().first && !others.empty();
        grid->addWidget(label(isName ? tr("Kind") : what, "quiet"), row, 0);
        cell(row, 1, value);
        if (!others.empty()) {
            const auto same = isName ? others.begin() : place(others, what);
            cell(row, 2, same != others.end() ? same->second : QString("–"));
        }
        ++row;
    }
    for (std::size_t i = 1; i < others.size(); ++i)
        if (place(facts, others[i].first) == facts.end()) {
            grid->addWidget(label(others[i].first, "quiet"), row, 0);
            cell(row, 1, QString("–"));
            cell(row++, 2, others[i].second);
        }
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
    showPreview(preview_, known(item_));
    showPreview(otherPreview_, known(other_));
    return true;
}

}  // namespace app
