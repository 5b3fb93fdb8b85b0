#include "app/dialogs/broom_card.h"

#include <QVBoxLayout>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/panels/form.h"
#include "app/shell/tools.h"
#include "edit/session.h"
#include "model/facet_builder.h"

namespace app {

using ops::BroomSettings;
using ops::BroomVerb;

namespace {

constexpr int kWide = 268;

/// What can be set of it, and for which verbs.
const model::Fields& broomFields() {
    static const model::Fields fields = [] {
        model::FieldsOf<BroomSettings> f;
        const auto scatters = f.when([](const BroomSettings& s) { return s.verb == BroomVerb::Scatter; });
        const auto varies = f.when([](const BroomSettings& s) {
            return s.verb == BroomVerb::Scatter || s.verb == BroomVerb::Vary || s.verb == BroomVerb::Align;
        });
        const auto makes =
            f.when([](const BroomSettings& s) { return s.verb == BroomVerb::Scatter || s.verb == BroomVerb::Replace; });
        // Turned by chance all the way round nothing faces anywhere.
        const auto faces = f.when([](const BroomSettings& s) {
            return s.verb == BroomVerb::Align || (s.verb == BroomVerb::Scatter && s.chances.turnDegrees < 180);
        });
        const auto keepsAway =
            f.when([](const BroomSettings& s) { return s.verb == BroomVerb::Scatter && !s.apartFrom.empty(); });
        const auto leans =
            f.when([](const BroomSettings& s) { return s.verb == BroomVerb::Scatter || s.verb == BroomVerb::Seat; });
        // A change of one of a pair takes the other along, so that the smaller stays the smaller.
        auto pair = [&](const char* key, const char* label, const char* unit, double low, double high, auto own,
                        auto other, bool isLow) -> model::Member& {
            return f.derived(key, label, unit, low, high, own, [own, other, isLow](BroomSettings& s, double v) {
                own(s) = v;
                other(s) = isLow ? std::max(other(s), v) : std::min(other(s), v);
            });
        };
        auto chance = [&](const char* key, const char* label, const char* unit, double high,
                          double ops::Chances::*m) -> model::Member& {
            return f.derived(
                key, label, unit, 0, high, [m](const BroomSettings& s) { return s.chances.*m; },
                [m](BroomSettings& s, double v) { s.chances.*m = v; });
        };
        auto smallest = [](auto& s) -> auto& {
            return s.chances.smallest;
        };
        auto largest = [](auto& s) -> auto& {
            return s.chances.largest;
        };
        auto flattest = [](auto& s) -> auto& {
            return s.flattest;
        };
        auto steepest = [](auto& s) -> auto& {
            return s.steepest;
        };
        f.real("radius", "Radius", &BroomSettings::radiusMetres, "m", 0.1, 200).property.help =
            "Of its footprint; also the wheel";
        f.real("strength", "Strength", &BroomSettings::strength, "", 0.01, 1).property.help =
            "What share it takes of what it meets; also Shift and the wheel";
        f.derivedText(
             "mix", "Mix", [](const BroomSettings& s) { return s.chances.mix; },
             [](BroomSettings& s, const std::string& v) { s.chances.mix = v; })
            .shown = makes;
        f.last().help = "A mix of the project, drawn from by its shares; empty: the item above";
        f.text("onto", "Stands on", &BroomSettings::onto).shown = scatters;
        f.last().help = "Which objects it may stand on: kind:Ground, item:quay*; empty: any";
        f.text("apartFrom", "Keeps from", &BroomSettings::apartFrom).shown = scatters;
        f.last().help = "Which objects it keeps away from: kind:Path, item:bench; empty: none";
        f.real("apart", "By", &BroomSettings::apartMetres, "m", 0, 100).shown = keepsAway;
        f.real("heading", "Faces", &BroomSettings::headingDegrees, "°", -360, 360).shown = faces;
        f.last().help = "0: to the north, which is -z; anticlockwise from above. Turn by chance goes about that";
        f.text("outfit", "Outfit", &BroomSettings::outfit).shown = scatters;
        f.last().help = "What is scattered wears it; empty: none";
        f.real("density", "Per m²", &BroomSettings::density, "", 0.001, 50).shown = scatters;
        f.real("spacing", "Apart", &BroomSettings::spacingMetres, "m", 0, 100).shown = scatters;
        chance("turn", "Turn ±", "°", 180, &ops::Chances::turnDegrees).shown = varies;
        pair("smallest", "Smallest", "×", 0.05, 20, smallest, largest, true).shown = varies;
        pair("largest", "Largest", "×", 0.05, 20, largest, smallest, false).shown = varies;
        chance("tint", "Tint", "", 1, &ops::Chances::tint).shown = varies;
        pair("flattest", "Slope from", "°", 0, 90, flattest, steepest, true).shown = scatters;
        pair("steepest", "Slope to", "°", 0, 90, steepest, flattest, false).shown = scatters;
        f.flag("align", "Leans with the slope", &BroomSettings::align).shown = leans;
        f.whole("seed", "Seed", &BroomSettings::seed, 0, 1e6).shown = varies;
        return f.done();
    }();
    return fields;
}

}  // namespace

BroomCard::BroomCard(QWidget* parent, Editor& editor) : SideCard(parent, kWide), editor_(editor) {
    QVBoxLayout* layout = rows();
    layout->setSpacing(4);
    layout->addWidget(label(tr("Broom"), "cardTitle"));
    layout->addWidget(verb_ = new QComboBox);
    verb_->setObjectName("broomVerb");
    verb_->setAccessibleName(tr("What the broom does"));
    verb_->setToolTip(tr("What the broom does with what it meets"));
    for (int i = 0; i <= static_cast<int>(BroomVerb::Align); ++i)
        verb_->addItem(QString::fromUtf8(ops::broomLabel(static_cast<BroomVerb>(i)).data()));
    layout->addWidget(item_ = label({}, "quiet"));
    item_->setObjectName("broomItem");
    layout->addWidget(filter_ = new QLineEdit);
    filter_->setObjectName("broomFilter");
    filter_->setAccessibleName(tr("Which objects it works on"));
    filter_->setPlaceholderText(tr("Everything"));
    filter_->setToolTip(tr("Which objects it works on: part of a name, kind:Plant, item:reed*"));
    fields_ = new FieldsForm(editor_, broomFields(), [this](const model::Property&, const auto& set) {
        BroomSettings settings = editor_.tools().broom;
        Status done = set(&settings);
        if (done) editor_.change(&Tools::broom, settings);
        return done;
    });
    layout->addWidget(fields_);
    fields_->setObjectName("broomFields");
    connect(verb_, QOverload<int>::of(&QComboBox::activated), this,
            [this](int i) { change([i](BroomSettings& s) { s.verb = static_cast<BroomVerb>(i); }); });
    connect(filter_, &QLineEdit::textChanged, this,
            [this](const QString& text) { change([&](BroomSettings& s) { s.filter = text.toStdString(); }); });
    connect(&editor_, &Editor::toolChanged, this, &BroomCard::refresh);
    refresh();
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
    const bool scatters = s.verb == BroomVerb::Scatter, makes = scatters || s.verb == BroomVerb::Replace;
    verb_->setCurrentIndex(static_cast<int>(s.verb));
    const model::Item* item = editor_.session().library().item(editor_.session().intern(s.item));
    item_->setText(item != nullptr ? QString::fromStdString(item->label) : tr("Choose an item in the Stock"));
    item_->setVisible(makes);
    filter_->setVisible(!scatters);
    std::vector<model::Choice> outfits;
    if (const model::Kind* kind = item != nullptr ? editor_.session().library().kindNamed(item->kind) : nullptr)
        for (const model::Outfit& outfit : kind->outfits) outfits.push_back({outfit.name, outfit.name});
    fields_->leaveOut(outfits.empty() && s.outfit.empty() ? std::set<std::string>{"outfit"} : std::set<std::string>{});
    fields_->offer("outfit", outfits);
    std::vector<model::Choice> mixes;
    for (const auto& [name, mix] : editor_.session().library().mixes()) mixes.push_back({name, name});
    fields_->offer("mix", mixes);
    fields_->show(&s);
    place();
}

}  // namespace app
