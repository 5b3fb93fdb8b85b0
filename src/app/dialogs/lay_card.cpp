#include "app/dialogs/lay_card.h"

#include <QVBoxLayout>
#include <utility>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/panels/form.h"
#include "app/shell/editor.h"
#include "edit/session.h"
#include "model/facet_builder.h"
#include "model/library.h"
#include "ops/lay.h"

namespace app {
namespace {

constexpr int kLayCardWide = 268;

const model::Fields& layFields() {
    static const model::Fields fields = [] {
        model::FieldsOf<Laying> f;
        const auto onePiece = f.when([](const Laying& l) { return l.set.empty() && !l.takesAway; });
        f.real("cell", "Cell", &Laying::cellMetres, "m", 0.01, 1000).property.help =
            "How wide a cell of the lattice is; a piece takes a whole number of them";
        f.real("height", "Height", &Laying::heightMetres, "m", -5000, 5000).property.help =
            "Of what is laid; also Shift and the wheel";
        f.whole("quarters", "Quarter turns", &Laying::quarters, 0, 3).shown = onePiece;
        f.last().help = "To the left, seen from above; also the wheel";
        f.flag("mirrored", "Mirrored", &Laying::mirrored).shown = onePiece;
        f.flag("takesAway", "Take away instead", &Laying::takesAway).property.help =
            "What was laid goes; out of a set, its neighbours close";
        return f.done();
    }();
    return fields;
}

}  // namespace

LayCard::LayCard(QWidget* parent, Editor& editor) : SideCard(parent, kLayCardWide), editor_(editor) {
    QVBoxLayout* layout = rows();
    layout->setSpacing(4);
    layout->addWidget(label(tr("Lay"), "cardTitle"));
    layout->addWidget(what_ = new QComboBox);
    what_->setObjectName("layWhat");
    what_->setAccessibleName(tr("What is laid"));
    what_->setToolTip(tr("The piece chosen in the Stock, or a set of pieces of which the one is laid that fits"));
    fields_ = new FieldsForm(editor_, layFields(), [this](const model::Property&, const auto& set) {
        Laying laying = editor_.tools().laying;
        base::Status done = set(&laying);
        if (done) editor_.change(&Tools::laying, laying);
        return done;
    });
    fields_->setObjectName("layFields");
    layout->addWidget(fields_);
    connect(what_, QOverload<int>::of(&QComboBox::activated), this, &LayCard::choose);
    connect(&editor_, &Editor::toolChanged, this, &LayCard::refresh);
    connect(&editor_, &Editor::libraryChanged, this, &LayCard::refresh);
    refresh();
}

void LayCard::setItem(const std::string& item) {
    const model::Item* chosen = editor_.session().library().item(editor_.session().intern(item));
    Laying laying = editor_.tools().laying;
    if (chosen == nullptr || (item == laying.item && laying.set.empty())) return;
    const std::string before = std::exchange(laying.item, item);
    laying.set.clear();
    if (before.empty() || !ops::footprintOf(*chosen, laying.cellMetres)) {
        if (const auto cell = ops::cellOf(*chosen))
            laying.cellMetres = *cell;
        else
            editor_.say(tr("“%1” is not a whole number of cells, whatever their size.").arg(toQt(chosen->label)));
    }
    editor_.change(&Tools::laying, laying);
}

void LayCard::choose(int row) {
    Laying laying = editor_.tools().laying;
    laying.set = what_->itemData(row).toString().toStdString();
    const auto& sets = editor_.session().library().sets();
    if (const auto set = sets.find(laying.set); set != sets.end()) laying.cellMetres = set->second.cellMetres;
    editor_.change(&Tools::laying, laying);
}

void LayCard::refresh() {
    setVisible(editor_.isOpen() && editor_.tools().tool == Tool::Lay);
    if (!isVisible()) return;
    const Laying& laying = editor_.tools().laying;
    const model::Library& library = editor_.session().library();
    const model::Item* item = library.item(editor_.session().intern(laying.item));
    const QSignalBlocker quiet(what_);
    what_->clear();
    what_->addItem(item != nullptr ? toQt(item->label) : tr("Choose a piece in the Stock"), QString());
    for (const auto& [name, set] : library.sets()) what_->addItem(tr("%1 (set)").arg(toQt(name)), toQt(name));
    what_->setCurrentIndex(std::max(0, what_->findData(toQt(laying.set))));
    fields_->show(&laying);
    place();
}

}  // namespace app
