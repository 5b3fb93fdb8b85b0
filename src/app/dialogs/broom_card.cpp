#include "app/dialogs/broom_card.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/look/parts.h"

namespace app {
namespace {

using ops::BroomSettings;
using ops::BroomVerb;

}  // namespace

BroomCard::BroomCard(QWidget* parent, Editor& editor) : SideCard(parent, 0), editor_(editor) {
    QVBoxLayout* layout = rows();
    layout->setSpacing(4);
    layout->addWidget(label(tr("Broom"), "cardTitle"));
    layout->addWidget(verb_ = new QComboBox);
    verb_->setObjectName("broomVerb");
    verb_->setAccessibleName(tr("What the broom does"));
    verb_->setToolTip(tr("What the broom does with what it meets"));
    for (int i = 0; i <= static_cast<int>(BroomVerb::Select); ++i)
        verb_->addItem(QString::fromUtf8(ops::broomLabel(static_cast<BroomVerb>(i)).data()));
    layout->addWidget(item_ = label({}, "quiet"));
    item_->setObjectName("broomItem");
    layout->addWidget(filter_ = new QLineEdit);
    filter_->setObjectName("broomFilter");
    filter_->setAccessibleName(tr("Which objects it works on"));
    filter_->setPlaceholderText(tr("Everything"));
    filter_->setToolTip(tr("Which objects it works on: part of a name, kind:Plant, item:reed*"));
    using Q = base::Quantity;
    add(
        "broomRadius", tr("Radius (m)"), Q::Length, 0.1, 200, false, false,
        [](const BroomSettings& s) { return s.radiusMetres; }, [](BroomSettings& s, double v) { s.radiusMetres = v; });
    add(
        "broomStrength", tr("Strength"), Q::Factor, 0.01, 1, false, false,
        [](const BroomSettings& s) { return s.strength; }, [](BroomSettings& s, double v) { s.strength = v; });
    add(
        "broomDensity", tr("Per m²"), Q::Factor, 0.001, 50, true, false,
        [](const BroomSettings& s) { return s.density; }, [](BroomSettings& s, double v) { s.density = v; });
    add(
        "broomSpacing", tr("Apart (m)"), Q::Length, 0, 100, true, false,
        [](const BroomSettings& s) { return s.spacingMetres; },
        [](BroomSettings& s, double v) { s.spacingMetres = v; });
    add(
        "broomTurn", tr("Turn ±"), Q::Angle, 0, 180, true, true,
        [](const BroomSettings& s) { return s.chances.turnDegrees; },
        [](BroomSettings& s, double v) { s.chances.turnDegrees = v; });
    add(
        "broomSmallest", tr("Smallest ×"), Q::Factor, 0.05, 20, true, true,
        [](const BroomSettings& s) { return s.chances.smallest; },
        [](BroomSettings& s, double v) {
            s.chances.smallest = v;
            s.chances.largest = std::max(s.chances.largest, v);
        });
    add(
        "broomLargest", tr("Largest ×"), Q::Factor, 0.05, 20, true, true,
        [](const BroomSettings& s) { return s.chances.largest; },
        [](BroomSettings& s, double v) {
            s.chances.largest = v;
            s.chances.smallest = std::min(s.chances.smallest, v);
        });
    add(
        "broomTint", tr("Tint"), Q::Factor, 0, 1, true, true, [](const BroomSettings& s) { return s.chances.tint; },
        [](BroomSettings& s, double v) { s.chances.tint = v; });
    add(
        "broomFlattest", tr("Slope from"), Q::Angle, 0, 90, true, false,
        [](const BroomSettings& s) { return s.flattest; }, [](BroomSettings& s, double v) { s.flattest = v; });
    add(
        "broomSteepest", tr("Slope to"), Q::Angle, 0, 90, true, false,
        [](const BroomSettings& s) { return s.steepest; }, [](BroomSettings& s, double v) { s.steepest = v; });
    add(
        "broomSeed", tr("Seed"), Q::Factor, 0, 1e6, true, true, [](const BroomSettings& s) { return double(s.seed); },
        [](BroomSettings& s, double v) { s.seed = static_cast<std::uint64_t>(v); });
    fields_.back().field->setDecimals(0);
    fields_.back().field->setSteps(1, 10);
    layout->addWidget(align_ = new QToolButton);
    align_->setObjectName("broomAlign");
    align_->setCheckable(true);
    align_->setToolTip(tr("What is scattered or seated leans with the ground"));
    connect(align_, &QToolButton::toggled, this, [this](bool on) { change([on](BroomSettings& s) { s.align = on; }); });
    connect(verb_, QOverload<int>::of(&QComboBox::activated), this,
            [this](int i) { change([i](BroomSettings& s) { s.verb = static_cast<BroomVerb>(i); }); });
    connect(filter_, &QLineEdit::textChanged, this,
            [this](const QString& text) { change([&](BroomSettings& s) { s.filter = text.toStdString(); }); });
    connect(&editor_, &Editor::toolChanged, this, &BroomCard::refresh);
    refresh();
}

void BroomCard::add(const char* name, const QString& text, base::Quantity quantity, double low, double high,
                    bool scatterOnly, bool varies, std::function<double(const BroomSettings&)> get,
                    std::function<void(BroomSettings&, double)> set) {
    auto* row = new QWidget;
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->addWidget(label(text, "quiet"), 1);
    auto* field = new NumberField(quantity, quantity == base::Quantity::Angle ? 1 : 2);
    field->setObjectName(QLatin1String(name));
    field->setAccessibleName(text);
    field->setToolTip(tr("%1, from %2 to %3").arg(text).arg(low).arg(high));
    field->setFixedWidth(84);
    line->addWidget(field);
    rows()->addWidget(row);
    fields_.push_back({row, field, std::move(get), std::move(set), low, high, scatterOnly, varies});
    const std::size_t index = fields_.size() - 1;
    auto put = [this, index](double v) {
        const Field& f = fields_[index];
        change([&](BroomSettings& s) { f.set(s, std::clamp(v, f.low, f.high)); });
    };
    connect(field, &NumberField::typed, this, [this, index, quantity, put](const QString& typed) {
        auto v = base::evaluateQuantity(typed.toStdString(), quantity, fields_[index].get(editor_.tools().broom));
        if (v)
            put(*v);
        else
            editor_.report(tl::unexpected(v.error()));
        refresh();
    });
    connect(field, &NumberField::stepped, this,
            [this, index, put](double d) { put(fields_[index].get(editor_.tools().broom) + d); });
}

void BroomCard::setItem(const std::string& item) {
    if (item == editor_.tools().broom.item) return;
    change([&](BroomSettings& s) { s.item = item; });
}

void BroomCard::change(const std::function<void(BroomSettings&)>& change) {
    BroomSettings settings = editor_.tools().broom;
    change(settings);
    editor_.change(&Tools::broom, settings);
}

void BroomCard::refresh() {
    setVisible(editor_.isOpen() && editor_.tools().tool == Tool::Broom);
    if (!isVisible()) return;
    const BroomSettings& s = editor_.tools().broom;
    const bool scatters = s.verb == BroomVerb::Scatter, varies = s.verb == BroomVerb::Vary;
    verb_->setCurrentIndex(static_cast<int>(s.verb));
    const model::Item* item = editor_.session().library().item(editor_.session().intern(s.item));
    item_->setText(item != nullptr ? QString::fromStdString(item->label) : tr("Choose an item in the Stock"));
    item_->setVisible(scatters);
    filter_->setVisible(!scatters);
    align_->setVisible(scatters || s.verb == BroomVerb::Seat);
    align_->setChecked(s.align);
    align_->setText((s.align ? QStringLiteral("✓ ") : QString()) + tr("Leans with the slope"));
    for (const Field& f : fields_) {
        f.row->setVisible((!f.scatterOnly || scatters) || (f.varies && varies));
        f.field->setValue(f.get(s));
    }
    place();
}

}  // namespace app
