// What can be done with the Stock’s items and the objects made of them.
#include <QDockWidget>
#include <QMenu>
#include <QPointer>

#include "app/commands/all.h"
#include "app/commands/docked.h"
#include "app/dialogs/mix_card.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/panels/stock_panel.h"
#include "app/shell/tools.h"
#include "app/view/panes.h"
#include "app/view/view_widget.h"
#include "edit/session.h"

namespace app {

namespace {

class StockCommands : public Rows {
  public:
    explicit StockCommands(Shell& shell);

  private:
    QPointer<MixCard> mixCard_;
};

StockCommands::StockCommands(Shell& shell) : Rows(shell) {
    auto chosen = [this] { return editor_.isOpen() && !shell_.stock.current().isEmpty(); };
    auto change = [this, chosen] { return canEdit() && hasSelection() && chosen(); };
    verb(
        "stock.replace", tr("Replace by the Stock’s item"),
        tr("Makes the selection of the item chosen in the Stock; poses, properties and links stay"),
        Qt::CTRL | Qt::SHIFT | Qt::Key_R, [this] { editor_.replaceSelected(shell_.stock.current().toStdString()); },
        change);
    verb(
        "stock.mixes", tr("Mixes…"),
        tr("Several items with shares under a name: for placing at random, the broom, and what is selected"), {},
        [this] { openCard(mixCard_, shell_.panes, editor_, shell_.stock.current()); }, edits());
    connect(&shell_.stock, &StockPanel::currentChanged, this, [this](const QString& item) {
        if (mixCard_ != nullptr) mixCard_->setItem(item.toStdString());
    });
    verb(
        "stock.findItem", tr("Find its item in the Stock"), tr("Shows the item that the selected object is made of"),
        Qt::CTRL | Qt::SHIFT | Qt::Key_T,
        [this] {
            const Slot s = editor_.scene().find(editor_.selection().back());
            const auto item = editor_.scene().itemText(s);
            if (item.empty()) return editor_.say(tr("It is made of no item."));
            shell_.stockDock.show();
            shell_.stock.reveal(toQt(item));
        },
        selected());
    verb(
        "records.open", tr("Records"), tr("What several objects share: crews, cargoes, lantern types"),
        Qt::CTRL | Qt::SHIFT | Qt::Key_E, [this] { openRecords(shell_); }, open());
    verb(
        "stock.selectObjects", tr("Select all objects of the Stock’s item"),
        tr("Everything made of the item chosen in the Stock that is neither hidden nor protected"), {},
        [this] {
            const model::Scene& scene = editor_.scene();
            const base::Name item = editor_.session().intern(shell_.stock.current().toStdString());
            std::vector<base::ObjectId> ids;
            for (Slot s : scene.subtree(kNoSlot))
                if (scene.item(s) == item && !scene.hiddenInTree(s) && !scene.protectedInTree(s))
                    ids.push_back(scene.id(s));
            if (ids.empty()) return editor_.say(tr("Nothing in this scene is made of it."));
            editor_.select(std::move(ids));
            view().pulse().start();
        },
        chosen);
    verb(
        "stock.favourite", tr("Favourite item"), tr("Lists the item chosen in the Stock under ★, or no longer"), {},
        [this] { shell_.stock.toggleFavourite(); }, chosen);
    toggle(
        "stock.vary", tr("Place at random"), tr("Turn, size and sibling of what is placed differ, within set ranges"),
        {}, +[](Tools& t) -> bool& { return t.varying.on; });
    verb(
        "stock.nextVariation", tr("Next sibling"),
        tr("Of what is placed or selected: the item of the same name with the next number"), Qt::Key_Period,
        [this] { editor_.cycleVariation(1); }, open());
    verb(
        "stock.previousVariation", tr("Previous sibling"),
        tr("Of what is placed or selected: the item of the same name with the number before"), Qt::Key_Comma,
        [this] { editor_.cycleVariation(-1); }, open());
    connect(&shell_.stock, &StockPanel::menuRequested, this, [this](QMenu* m) {
        for (const char* id : {"stock.replace", "stock.selectObjects", "stock.favourite", "stock.vary"})
            m->addAction(commands_->action(id));
        commands_->refresh();
    });
}

}  // namespace

RowsPtr stockCommands(Shell& shell) {
    return std::make_unique<StockCommands>(shell);
}

}  // namespace app
