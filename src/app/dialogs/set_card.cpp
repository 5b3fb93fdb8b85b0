#include "app/dialogs/set_card.h"

#include <QToolButton>
#include <algorithm>

#include "app/kit/number_field.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/editor.h"
#include "edit/session.h"
#include "model/library.h"
#include "ops/assortments.h"
#include "ops/lay.h"

namespace app {
namespace {

constexpr int kSetCardWide = 320;

}  // namespace

SetCard::SetCard(QWidget* parent, Editor& editor, std::string chosen)
    : NamedCard(
          parent, kSetCardWide, editor, std::move(chosen),
          {"set", tr("Sets of pieces"), tr("Name of the set"), tr("A set of the project, or the name of a new one"),
           tr("Name of a new set"), tr("Puts the item that is chosen in the Stock into the set"),
           tr("Choose a piece in the Stock"), tr("Delete the set"), tr("What was laid of it stays")}) {
    auto* line = new QHBoxLayout;
    line->addWidget(label(tr("Cell (m)"), "quiet"), 1);
    line->addWidget(cell_ = new NumberField(base::Quantity::Length, 2));
    cell_->setObjectName("setCell");
    cell_->setAccessibleName(tr("How wide a cell is"));
    cell_->setToolTip(tr("How wide a cell is: each piece takes one"));
    rows()->insertLayout(2, line);
    connect(cell_, &NumberField::typed, this, &SetCard::setCell);
    begin();
}

QStringList SetCard::names() const {
    QStringList all;
    for (const auto& [name, set] : editor_.session().library().sets()) all += toQt(name);
    return all;
}

const model::PieceSet* SetCard::set() const {
    const auto& all = editor_.session().library().sets();
    const auto found = all.find(name_);
    return found != all.end() ? &found->second : nullptr;
}

bool SetCard::keep(const model::PieceSet& set, const std::string& step) {
    return editor_.run(step + " " + set.name, [&](edit::Draft& draft) { return ops::putSet(draft, set); });
}

/// The first piece says how wide a cell is.
void SetCard::add() {
    model::PieceSet changed = set() != nullptr ? *set() : model::PieceSet{};
    changed.name = name_;
    const model::Item* item = editor_.session().library().item(editor_.session().intern(item_));
    if (changed.pieces.empty() && item != nullptr) changed.cellMetres = ops::cellOf(*item).value_or(1);
    changed.pieces.push_back({item_, 0});
    keep(changed, "Add to the set");
}

void SetCard::remove() {
    editor_.run("Delete the set " + name_, [&](edit::Draft& draft) { return ops::removeSet(draft, name_); });
}

void SetCard::setCell(const QString& text) {
    auto value = base::evaluateQuantity(text.toStdString(), base::Quantity::Length, 0.0);
    if (!value) return editor_.report(tl::unexpected(value.error())), void();
    if (set() == nullptr) return;
    model::PieceSet changed = *set();
    changed.cellMetres = *value;
    if (!keep(changed, "Cell of the set")) showRows();
}

void SetCard::setJoin(const std::string& item, model::Side side, bool joins) {
    if (set() == nullptr) return;
    model::PieceSet changed = *set();
    for (auto& one : changed.pieces)
        if (one.item == item) one.joins = static_cast<std::uint8_t>(joins ? one.joins | side : one.joins & ~side);
    keep(changed, "Sides of the set");
}

void SetCard::takeOut(const std::string& item) {
    if (set() == nullptr) return;
    model::PieceSet changed = *set();
    std::erase_if(changed.pieces, [&](const auto& one) { return one.item == item; });
    if (changed.pieces.empty())
        remove();
    else
        keep(changed, "Take out of the set");
}

void SetCard::addRow(const model::PieceSet::Piece& piece, int row) {
    const QString called = labelOf(piece.item);
    grid_->addWidget(label(called, {}), row, 0);
    const std::tuple<model::Side, QString, QString> sides[] = {{model::kNorth, tr("N"), tr("north, which is -z")},
                                                               {model::kEast, tr("E"), tr("east")},
                                                               {model::kSouth, tr("S"), tr("south")},
                                                               {model::kWest, tr("W"), tr("west")}};
    int column = 1;
    for (const auto& [side, letter, where] : sides) {
        auto* goesOn = new QToolButton;
        const bool on = (piece.joins & side) != 0;
        goesOn->setObjectName("setSide" + toQt(piece.item) + letter);
        goesOn->setCheckable(true);
        goesOn->setChecked(on);
        goesOn->setText(on ? QStringLiteral("✓") + letter : letter);
        goesOn->setToolTip(tr("As it stands unturned, %1 goes on to the %2").arg(called, where));
        goesOn->setAccessibleName(goesOn->toolTip());
        connect(goesOn, &QToolButton::clicked, this,
                [this, item = piece.item, side = side](bool joins) { setJoin(item, side, joins); });
        grid_->addWidget(goesOn, row, column++);
    }
    addAway(piece.item, row, column, [this, item = piece.item] { takeOut(item); });
}

void SetCard::fillRows() {
    const model::PieceSet* shown = set();
    int row = 0;
    if (shown != nullptr)
        for (const auto& piece : shown->pieces) addRow(piece, row++);
    else
        grid_->addWidget(label(tr("Type a name, choose a piece in the Stock, and add it."), "quiet"), 0, 0, 1, 6);
    cell_->setEnabled(shown != nullptr);
    cell_->setValue(shown != nullptr ? shown->cellMetres : 1);
    setCan(shown != nullptr, shown != nullptr && shown->pieceOf(item_) != nullptr);
}

}  // namespace app
