// Prefabs: made, placed, changed at either end, taken apart, swapped, renamed, deleted.
#include <QDesktopServices>
#include <QMenu>
#include <QTimer>
#include <QUrl>

#include "app/commands/all.h"
#include "app/dialogs/item_card.h"
#include "app/dialogs/popovers.h"
#include "app/dialogs/prefab_card.h"
#include "app/dialogs/used_by_popover.h"
#include "app/names.h"
#include "app/panels/differences_panel.h"
#include "app/panels/stock_panel.h"
#include "app/shell/main_window.h"
#include "app/shell/tools.h"
#include "app/view/panes.h"
#include "edit/session.h"
#include "io/added.h"
#include "io/workspace.h"
#include "ops/copies.h"
#include "ops/items.h"
#include "ops/objects.h"
#include "ops/prefab.h"

namespace app {

namespace {

class PrefabCommands : public Rows {
  public:
    explicit PrefabCommands(Shell& shell);

  private:
    void addMaking();
    void addDefinition();
    void addInstances();
    void addLibrary();
    Slot selectedInstance() const;
    base::ObjectId meantPrefab() const;
    bool allInstances() const;
    void takeApart(bool all);
    void showUses();
    const model::Item* meantItem() const;
    base::Status relabel(edit::Draft& draft, const model::Item& item, const std::string& label,
                         const std::string& folder);
    void renamePrefab();
    void movePrefab();
    void copyLinked();
    void makeEdition();
    void listUnused();
    void showPrefabFile();

    bool stockMeant_ = false;  ///< the Stock’s menu is open
};

PrefabCommands::PrefabCommands(Shell& shell) : Rows(shell) {
    addMaking();
    addDefinition();
    addInstances();
    addLibrary();
}

void PrefabCommands::addMaking() {
    verb(
        "prefab.make", tr("Make a prefab"), tr("Packs the selection: built once, used many times"),
        Qt::CTRL | Qt::SHIFT | Qt::Key_B, [this] { new PrefabCard(&shell_.panes, editor_); }, changes());
    verb(
        "prefab.merge", tr("Merge into one item"),
        tr("Makes one mesh of the selection, with its materials, and puts it into the Stock"), {},
        [this] { new PrefabCard(&shell_.panes, editor_, PrefabCard::Makes::MergedItem); }, changes());
    toggle("prefab.pullLinked", tr("Pull linked copies"),
           tr("What is pulled with Ctrl stays the same as its original; where there is no prefab yet, it is made"), {},
           &Tools::pullsLinked);
    verb(
        "prefab.copyLinked", tr("Linked copy"),
        tr("A copy that stays the same as its original: where there is no prefab yet, it is made"),
        Qt::CTRL | Qt::Key_L, [this] { copyLinked(); }, changes());
}

void PrefabCommands::addDefinition() {
    const auto oneInstance = [this] { return editor_.isOpen() && selectedInstance() != kNoSlot; };
    const auto meant = [this] {
        const base::ObjectId prefab = meantPrefab();
        return prefab && editor_.session().definitions().contains(prefab);
    };
    verb(
        "prefab.editHere", tr("Edit the definition here"),
        tr("Goes into the instance; what is changed there changes for all instances"), Qt::CTRL | Qt::Key_Return,
        [this] {
            const base::ObjectId id = editor_.selection().front();
            editor_.enter(id, true);
            editor_.select({});
        },
        [this, oneInstance] { return canEdit() && oneInstance(); });
    verb(
        "prefab.open", tr("Open the definition alone"), tr("Shows the prefab by itself, as a scene"), {},
        [this] { editor_.report(editor_.showScene(model::definitionKey(meantPrefab()))); }, meant);
    verb(
        "prefab.back", tr("Back to the scene"), tr("From a prefab that was opened alone"), {},
        [this] { editor_.report(editor_.showScene(editor_.lastScene())); },
        [this] { return editor_.isOpen() && bool(model::prefabOf(editor_.sceneName())); });
    toggle(
        "prefab.differences", tr("Differences"), tr("Lists what differs in the selected instance, before and now"),
        Qt::ALT | Qt::Key_I,
        [this] {
            shell_.toggleDesk(shell_.differences);
            shell_.differences.refresh();
        },
        [this] { return shell_.deskShows(shell_.differences); });
}

void PrefabCommands::addInstances() {
    const auto instances = [this] { return allInstances(); };
    verb(
        "prefab.takeApart", tr("Take apart"),
        tr("Makes plain objects of the selected instances; those inside stay such"), {}, [this] { takeApart(false); },
        instances);
    verb(
        "prefab.takeAllApart", tr("Take apart all levels"), tr("The instances inside too"), {},
        [this] { takeApart(true); }, instances);
    verb(
        "prefab.makeAgain", tr("Make an instance again"),
        tr("Of a group that was taken apart; what was changed since are differences"), {},
        [this] {
            const auto ids = editor_.selection();
            editor_.run("Make an instance again of " + ops::describe(editor_.scene(), ids),
                        [&](edit::Draft& draft) { return ops::makeAgain(draft, ids); });
        },
        changes());
    verb(
        "prefab.swap", tr("Swap for the Stock’s prefab"),
        tr("The selected instances link to the prefab chosen in the Stock; poses, links and matching differences "
           "stay"),
        {},
        [this] {
            const auto ids = editor_.selection();
            const base::ObjectId prefab = model::prefabOf(shell_.stock.current().toStdString());
            std::size_t lost = 0;
            const bool done =
                editor_.run("Swap " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) -> Status {
                    auto swapped = ops::swapPrefab(draft, ids, prefab);
                    if (!swapped) return tl::unexpected(swapped.error());
                    lost = *swapped;
                    return {};
                });
            if (done)
                editor_.say(lost == 0 ? tr("Swapped; every difference was kept.")
                                      : tr("Swapped; %1 had nothing to match and went.")
                                            .arg(counted(lost, tr("difference"), tr("differences"))));
        },
        [this, instances] { return instances() && bool(model::prefabOf(shell_.stock.current().toStdString())); });
}

void PrefabCommands::addLibrary() {
    const auto meant = [this] {
        const base::ObjectId prefab = meantPrefab();
        return prefab && editor_.session().definitions().contains(prefab);
    };
    const auto meantToChange = [this, meant] { return canEdit() && meant(); };
    const auto anything = [this] { return meantItem() != nullptr; };
    const auto anythingToChange = [this] { return canEdit() && meantItem() != nullptr; };
    verb(
        "prefab.edition", tr("New edition"),
        tr("A prefab that is this one plus differences, to begin with those of the selected instance; it is opened"),
        {}, [this] { makeEdition(); }, meantToChange);
    verb(
        "prefab.usedBy", tr("Used by"), tr("Where the prefab or item is used, in every scene of the project"), {},
        [this] { showUses(); },
        [this] { return editor_.isOpen() && (meantPrefab() || !shell_.stock.current().isEmpty()); });
    verb(
        "prefab.unused", tr("List what is unused"), tr("Prefabs and models that no scene and no prefab holds"), {},
        [this] { listUnused(); }, open());
    verb(
        "prefab.rename", tr("Rename the prefab or item"),
        tr("A prefab’s file is renamed with the next save; nothing that refers to it is lost"), {},
        [this] { renamePrefab(); }, anythingToChange);
    verb(
        "prefab.move", tr("Move the item to a folder"), tr("Lists it elsewhere in the Stock; nothing loses it"), {},
        [this] { movePrefab(); }, anythingToChange);
    verb(
        "stock.card", tr("What the item is…"), tr("Its name, folder, kind, collision, and whether it is for use"), {},
        [this] {
            const model::Item* item = meantItem();
            if (item != nullptr && !item->prefab) new ItemCard(&shell_.panes, editor_, {item->name});
        },
        [this] {
            const model::Item* item = canEdit() ? meantItem() : nullptr;
            return item != nullptr && !item->prefab;
        });
    verb(
        "prefab.showFile", tr("Show the item’s file"), tr("Opens its folder in the file manager"), {},
        [this] { showPrefabFile(); }, anything);
    verb(
        "prefab.delete", tr("Delete the prefab or item"), tr("Says what uses it and asks what should become of that"),
        {},
        [this] {
            const model::Item item = *meantItem();
            auto uses = item.prefab ? ops::usedBy(editor_.session(), item.prefab)
                                    : ops::usedBy(editor_.session(), editor_.session().intern(item.name));
            if (uses)
                new DeletePopover(over(), editor_, item.name, *uses);
            else
                editor_.report(tl::unexpected(uses.error()));
        },
        anythingToChange);
    connect(&shell_.stock, &StockPanel::menuRequested, this, [this](QMenu* m) {
        stockMeant_ = true;
        connect(m, &QMenu::aboutToHide, this, [this] {
            QTimer::singleShot(0, this, [this] { stockMeant_ = false; });
        });  // after what was chosen is done
        m->addSeparator();
        if (model::prefabOf(shell_.stock.current().toStdString()))
            for (const char* id : {"prefab.open", "prefab.swap", "prefab.edition"}) m->addAction(commands_->action(id));
        for (const char* id :
             {"stock.card", "prefab.usedBy", "prefab.rename", "prefab.move", "prefab.showFile", "prefab.delete"})
            m->addAction(commands_->action(id));
        commands_->refresh();
    });
}

/// The one selected instance; kNoSlot: none, or several.
Slot PrefabCommands::selectedInstance() const {
    if (!editor_.isOpen() || editor_.selection().size() != 1) return kNoSlot;
    const Slot s = editor_.scene().find(editor_.selection().front());
    return s != kNoSlot && editor_.scene().isInstance(s) ? s : kNoSlot;
}

/// The prefab that is meant: that of the selected instance, else (and in the Stock's own menu) the one chosen in the
/// Stock; zero: none.
base::ObjectId PrefabCommands::meantPrefab() const {
    if (!editor_.isOpen()) return {};
    if (const Slot s = selectedInstance(); s != kNoSlot && !stockMeant_) return editor_.scene().detail(s)->prefab->of;
    return model::prefabOf(shell_.stock.current().toStdString());
}

bool PrefabCommands::allInstances() const {
    if (!canEdit() || editor_.selection().empty()) return false;
    const model::Scene& scene = editor_.scene();
    return std::all_of(editor_.selection().begin(), editor_.selection().end(), [&](base::ObjectId id) {
        const Slot s = scene.find(id);
        return s != kNoSlot && scene.isInstance(s);
    });
}

void PrefabCommands::takeApart(bool all) {
    const auto ids = editor_.selection();
    editor_.run("Take apart " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) -> Status {
        auto freed = ops::takeApart(draft, ids, all);
        if (!freed) return tl::unexpected(freed.error());
        editor_.session().select(*freed);
        return {};
    });
}

void PrefabCommands::showUses() {
    const QString current = shell_.stock.current();
    const base::ObjectId prefab = meantPrefab();
    auto uses = prefab ? ops::usedBy(editor_.session(), prefab)
                       : ops::usedBy(editor_.session(), editor_.session().intern(current.toStdString()));
    if (!uses) {
        editor_.report(tl::unexpected(uses.error()));
        return;
    }
    const model::Item* item = editor_.session().library().item(editor_.session().intern(current.toStdString()));
    new UsedByPopover(over(), editor_,
                      prefab            ? QString::fromStdString(editor_.session().prefabName(prefab))
                      : item != nullptr ? QString::fromStdString(item->label)
                                        : current,
                      *uses);
}

/// The prefab or item that is meant; null: neither.
const model::Item* PrefabCommands::meantItem() const {
    if (!editor_.isOpen()) return nullptr;
    edit::Session& session = editor_.session();
    const base::ObjectId prefab = meantPrefab();
    const model::Item* item = session.library().item(
        session.intern(prefab ? model::definitionKey(prefab) : shell_.stock.current().toStdString()));
    return item != nullptr && !item->isSolid ? item : nullptr;
}

base::Status PrefabCommands::relabel(edit::Draft& draft, const model::Item& item, const std::string& label,
                                     const std::string& folder) {
    if (item.prefab) return ops::renamePrefab(draft, item.prefab, label, folder);
    return ops::renameItem(draft, editor_.session().intern(item.name), label, folder);
}

void PrefabCommands::renamePrefab() {
    const model::Item item = *meantItem();
    const auto& definitions = editor_.session().definitions();
    const std::string folder = item.prefab ? definitions.at(item.prefab)->settings().prefab->folder : item.folder;
    new NamePopover(over(), tr("Rename %1").arg(QString::fromStdString(item.label)), tr("Rename"),
                    QString::fromStdString(item.label), {}, [this, item, folder](const QString& name, const QString&) {
                        edit::Draft draft(editor_.session(), editor_.sceneName(),
                                          "Rename " + item.label + " to " + name.toStdString());
                        if (Status done = relabel(draft, item, name.trimmed().toStdString(), folder); !done)
                            return QString::fromStdString(done.error().message);
                        if (auto step = draft.commit(); !step) return QString::fromStdString(step.error().message);
                        return QString();
                    });
}

void PrefabCommands::movePrefab() {
    const model::Item item = *meantItem();
    new NamePopover(over(), tr("Move %1 to the folder").arg(QString::fromStdString(item.label)), tr("Move"),
                    QString::fromStdString(item.folder), {}, [this, item](const QString& folder, const QString&) {
                        edit::Draft draft(editor_.session(), editor_.sceneName(), "Move " + item.label);
                        if (Status done = relabel(draft, item, item.label, folder.trimmed().toStdString()); !done)
                            return QString::fromStdString(done.error().message);
                        if (auto step = draft.commit(); !step) return QString::fromStdString(step.error().message);
                        return QString();
                    });
}

/// A copy that goes on being the same: makes the prefab first where there is none.
void PrefabCommands::copyLinked() {
    const auto ids = editor_.selection();
    editor_.run("Linked copy of " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) -> Status {
        auto made = ops::linkedCopies(draft, ids);
        if (!made) return tl::unexpected(made.error());
        editor_.session().select(*made);
        return {};
    });
}

/// Asks for a name; the edition begins with what differs in the selected instance, and is opened.
void PrefabCommands::makeEdition() {
    const base::ObjectId prefab = meantPrefab();
    const Slot selected = stockMeant_ ? kNoSlot : selectedInstance();
    const base::ObjectId instance = selected != kNoSlot ? editor_.scene().id(selected) : base::ObjectId{};
    const std::string of = editor_.session().prefabName(prefab);
    const std::string usual = ops::freePrefabName(editor_.session(), of + " edition");
    new NamePopover(over(), tr("New edition of %1").arg(QString::fromStdString(of)), tr("Make"),
                    QString::fromStdString(usual), {}, [this, prefab, instance](const QString& typed, const QString&) {
                        const std::string name = typed.trimmed().toStdString();
                        base::ObjectId edition;
                        {
                            edit::Draft draft(editor_.session(), editor_.sceneName(), "New edition " + name);
                            auto made = ops::makeEdition(draft, prefab, name, instance);
                            if (!made) return QString::fromStdString(made.error().message);
                            if (auto step = draft.commit(); !step) return QString::fromStdString(step.error().message);
                            edition = *made;
                        }
                        editor_.report(editor_.showScene(model::definitionKey(edition)));
                        return QString();
                    });
}

void PrefabCommands::listUnused() {
    edit::Session& session = editor_.session();
    QStringList prefabs, items;
    for (const auto& [id, scene] : session.definitions())
        if (auto uses = ops::usedBy(session, id); uses && uses->empty())
            prefabs << QString::fromStdString(scene->settings().prefab->name);
    auto unused = ops::unusedItems(session);
    if (!unused) return editor_.report(tl::unexpected(unused.error())), void();
    for (base::Name name : *unused) items << QString::fromStdString(session.library().item(name)->label);
    prefabs.sort();
    items.sort();
    QString text =
        prefabs.isEmpty() ? tr("Every prefab is used.") : tr("Prefabs used nowhere: %1.").arg(prefabs.join(", "));
    text += ' ';
    text += items.isEmpty() ? tr("Every model is used.") : tr("Models used nowhere: %1.").arg(items.join(", "));
    editor_.say(text);
}

void PrefabCommands::showPrefabFile() {
    const model::Item& item = *meantItem();
    std::filesystem::path file = editor_.workspace().folder() / "items" / (item.name + ".glb");
    if (item.prefab) {
        const auto& files = editor_.workspace().prefabFiles;
        const auto place = files.find(item.prefab);
        if (place == files.end()) return editor_.say(tr("It has no file yet: save first."));
        file = place->second;
    } else if (const auto waits = io::projectFile(editor_.workspace().folder(), "items/" + item.name + ".glb"); waits) {
        file = *waits;
    } else {
        return editor_.say(
            tr("%1 has no model: it is an object of its kind alone.").arg(QString::fromStdString(item.label)));
    }
    QDesktopServices::openUrl(QUrl::fromLocalFile(QString::fromStdString(file.parent_path().string())));
}

}  // namespace

RowsPtr prefabCommands(Shell& shell) {
    return std::make_unique<PrefabCommands>(shell);
}

}  // namespace app
