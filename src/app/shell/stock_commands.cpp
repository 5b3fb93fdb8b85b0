// What can be done with the Stock's items and the objects made of them.
#include "app/look/parts.h"
#include "app/shell/main_window.h"

namespace app {

using model::kNoSlot;
using model::Slot;

void MainWindow::addStockCommands() {
    auto chosen = [this] { return editor_.isOpen() && !stock_->current().isEmpty(); };
    auto change = [this, chosen] { return canEdit() && hasSelection() && chosen(); };
    commands_->add({"stock.replace", tr("Replace by the Stock’s item"),
                    tr("Makes the selection of the item chosen in the Stock; poses, properties and links stay"),
                    Qt::CTRL | Qt::SHIFT | Qt::Key_R,
                    [this] { editor_.replaceSelected(stock_->current().toStdString()); }, change});
    commands_->add({"stock.findItem", tr("Find its item in the Stock"),
                    tr("Shows the item that the selected object is made of"), Qt::CTRL | Qt::SHIFT | Qt::Key_T,
                    [this] {
                        const Slot s = editor_.scene().find(editor_.selection().back());
                        const auto item = editor_.scene().itemText(s);
                        if (item.empty()) return editor_.say(tr("It is made of no item."));
                        stockDock_->show();
                        stock_->reveal(toQt(item));
                    },
                    [this] { return hasSelection(); }});
    commands_->add({"records.open", tr("Records"), tr("What several objects share: crews, cargoes, lantern types"),
                    Qt::CTRL | Qt::SHIFT | Qt::Key_E, [this] { openRecords(); }, [this] { return editor_.isOpen(); }});
    commands_->add({"stock.selectObjects",
                    tr("Select all objects of the Stock’s item"),
                    tr("Everything made of the item chosen in the Stock that is neither hidden nor protected"),
                    {},
                    [this] {
                        const model::Scene& scene = editor_.scene();
                        const base::Name item = editor_.session().intern(stock_->current().toStdString());
                        std::vector<base::ObjectId> ids;
                        for (Slot s : scene.subtree(kNoSlot))
                            if (scene.item(s) == item && !scene.hiddenInTree(s) && !scene.protectedInTree(s))
                                ids.push_back(scene.id(s));
                        if (ids.empty()) return editor_.say(tr("Nothing in this scene is made of it."));
                        editor_.select(std::move(ids));
                        view_->pulse().start();
                    },
                    chosen});
    commands_->add({"stock.favourite",
                    tr("Favourite item"),
                    tr("Lists the item chosen in the Stock under ★, or no longer"),
                    {},
                    [this] { stock_->toggleFavourite(); },
                    chosen});
    commands_->add({"stock.vary",
                    tr("Place at random"),
                    tr("Turn, size and sibling of what is placed differ, within set ranges"),
                    {},
                    [this] {
                        Varying varying = editor_.tools().varying;
                        varying.on = !varying.on;
                        editor_.change(&Tools::varying, varying);
                    },
                    {},
                    [this] { return editor_.tools().varying.on; }});
    commands_->add({"stock.nextVariation", tr("Next sibling"),
                    tr("While placing: the item of the same name with the next number"), Qt::Key_Period,
                    [this] { editor_.cycleVariation(1); }, [this] { return editor_.isOpen(); }});
    commands_->add({"stock.previousVariation", tr("Previous sibling"),
                    tr("While placing: the item of the same name with the number before"), Qt::Key_Comma,
                    [this] { editor_.cycleVariation(-1); }, [this] { return editor_.isOpen(); }});
    connect(stock_, &StockPanel::menuRequested, this, [this](QMenu* m) {
        for (const char* id : {"stock.replace", "stock.selectObjects", "stock.favourite", "stock.vary"})
            m->addAction(commands_->action(id));
        commands_->refresh();
    });
}

}  // namespace app
