#include "app/dialogs/mix_card.h"

#include "app/kit/number_field.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/editor.h"
#include "base/text.h"
#include "edit/session.h"
#include "model/library.h"
#include "ops/assortments.h"

namespace app {
namespace {

constexpr int kMixCardWide = 300;

}  // namespace

MixCard::MixCard(QWidget* parent, Editor& editor, std::string chosen)
    : NamedCard(parent, kMixCardWide, editor, std::move(chosen),
                {"mix", tr("Mixes"), tr("Name of the mix"), tr("A mix of the project, or the name of a new one"),
                 tr("Name of a new mix"), tr("Puts the item that is chosen in the Stock into the mix"),
                 tr("Choose an item in the Stock"), tr("Delete the mix"), tr("What was placed of it stays")}) {
    remake_ = new QPushButton(tr("Make the selection of it"));
    remake_->setObjectName("mixRemake");
    remake_->setToolTip(tr("Each selected object becomes an item of the mix, by chance: also the copies of an array"));
    foot()->insertWidget(1, remake_);
    connect(remake_, &QPushButton::clicked, this, &MixCard::remakeSelected);
    connect(&editor_, &Editor::selectionChanged, this, &MixCard::showRows);
    begin();
}

QStringList MixCard::names() const {
    QStringList all;
    for (const auto& [name, mix] : editor_.session().library().mixes()) all += toQt(name);
    return all;
}

const model::Mix* MixCard::mix() const {
    const auto& all = editor_.session().library().mixes();
    const auto found = all.find(name_);
    return found != all.end() ? &found->second : nullptr;
}

bool MixCard::keep(const model::Mix& mix, const std::string& step) {
    return editor_.run(step + " " + mix.name, [&](edit::Draft& draft) { return ops::putMix(draft, mix); });
}

void MixCard::add() {
    model::Mix changed = mix() != nullptr ? *mix() : model::Mix{};
    changed.name = name_;
    changed.shares[item_] = 1;
    keep(changed, "Add to the mix");
}

void MixCard::remove() {
    editor_.run("Delete the mix " + name_, [&](edit::Draft& draft) { return ops::removeMix(draft, name_); });
}

void MixCard::remakeSelected() {
    std::size_t count = 0;
    const auto ids = editor_.selection();
    const bool done =
        editor_.run("Make " + ops::describe(editor_.scene(), ids) + " of the mix " + name_, [&](edit::Draft& draft) {
            auto made = ops::remake(draft, ids, name_, editor_.session().random().next());
            if (made) count = *made;
            return made ? base::Status{} : tl::unexpected(made.error());
        });
    if (done) editor_.say(tr("%1 became another item.").arg(counted(count, tr("object"), tr("objects"))));
}

void MixCard::setShare(const std::string& item, const QString& text) {
    auto value = base::evaluateQuantity(text.toStdString(), base::Quantity::Factor, 0.0);
    if (!value) return editor_.report(tl::unexpected(value.error())), void();
    if (mix() == nullptr) return;
    model::Mix changed = *mix();
    changed.shares[item] = *value;
    if (!keep(changed, "Shares of the mix")) showRows();
}

void MixCard::takeOut(const std::string& item) {
    if (mix() == nullptr) return;
    model::Mix changed = *mix();
    changed.shares.erase(item);
    if (changed.shares.empty())
        remove();
    else
        keep(changed, "Take out of the mix");
}

void MixCard::addRow(const std::string& item, double share, double sum, int row) {
    grid_->addWidget(label(labelOf(item), {}), row, 0);
    auto* field = new NumberField(base::Quantity::Factor, 2);
    field->setObjectName("mixShare" + toQt(item));
    field->setAccessibleName(tr("Share of %1").arg(labelOf(item)));
    field->setToolTip(tr("So many of all shares together"));
    field->setValue(share);
    connect(field, &NumberField::typed, this, [this, item](const QString& text) { setShare(item, text); });
    grid_->addWidget(field, row, 1);
    grid_->addWidget(label(tr("%1 %").arg(fixed(share / sum * 100, 0)), "quiet"), row, 2);
    addAway(item, row, 3, [this, item] { takeOut(item); });
}

void MixCard::fillRows() {
    const model::Mix* shown = mix();
    if (shown != nullptr) {
        double sum = 0;
        int row = 0;
        for (const auto& [item, share] : shown->shares) sum += share;
        for (const auto& [item, share] : shown->shares) addRow(item, share, sum, row++);
    } else {
        grid_->addWidget(label(tr("Type a name, choose an item in the Stock, and add it."), "quiet"), 0, 0, 1, 4);
    }
    setCan(shown != nullptr, shown != nullptr && shown->shares.contains(item_));
    remake_->setEnabled(shown != nullptr && editor_.isOpen() && !editor_.selection().empty());
}

}  // namespace app
