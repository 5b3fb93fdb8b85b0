// Looks under a name: outfits of a kind, guises of the whole scene.
#include "app/commands/all.h"
#include "app/dialogs/guise_card.h"
#include "app/dialogs/popovers.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/view/looks.h"
#include "app/view/panes.h"
#include "edit/session.h"
#include "model/facets/outfit.h"
#include "ops/objects.h"
#include "ops/outfits.h"

namespace app {

namespace {

class DressCommands : public Rows {
  public:
    explicit DressCommands(Shell& shell);

  private:
    void addOutfits();
    void addGuises();
    /// The last one selected; kNoSlot: none.
    Slot shown() const;
    const model::Outfit* worn() const;
    void keepAs(std::string name, const QString& step);
    void askName();
    void showNext();
    void wearNext();
};

DressCommands::DressCommands(Shell& shell) : Rows(shell) {
    addOutfits();
    addGuises();
}

Slot DressCommands::shown() const {
    return editor_.isOpen() && hasSelection() ? editor_.scene().find(editor_.selection().back()) : kNoSlot;
}

const model::Outfit* DressCommands::worn() const {
    const Slot s = shown();
    return s != kNoSlot ? ops::wornOutfit(editor_.session().library(), editor_.scene(), s) : nullptr;
}

/// What the last selected one has becomes an outfit; all that are selected and of its kind wear it.
void DressCommands::keepAs(std::string name, const QString& step) {
    const model::Scene& scene = editor_.scene();
    const Slot s = shown();
    const base::Name kind = scene.kind(s);
    const model::Outfit* before = worn();
    // Which variation it shows is a part of it once that was said.
    const bool withItem = before == nullptr || !before->item.empty();
    const model::Outfit outfit = ops::outfitOf(editor_.session(), scene, s, name, withItem);
    ops::Ids ids;
    for (const base::ObjectId id : editor_.selection())
        if (scene.kind(scene.find(id)) == kind) ids.push_back(id);
    std::size_t followed = 0;
    const bool done = editor_.run(step.toStdString(), [&](edit::Draft& draft) -> Status {
        auto put = ops::putOutfit(draft, std::string(scene.kindText(s)), outfit);
        if (!put) return tl::unexpected(put.error());
        followed = *put;
        return ops::wear(draft, ids, name);
    });
    if (done && followed > 0)
        editor_.say(tr("%1 it.").arg(
            counted(followed, tr("other object that wears it follows"), tr("other objects that wear it follow"))));
}

void DressCommands::askName() {
    const QString whose = toQt(editor_.scene().kindText(shown()));
    new NamePopover(over(), tr("Keep as an outfit of %1").arg(whose), tr("Keep"), {}, {},
                    [this](const QString& text, const QString&) -> QString {
                        const QString name = text.trimmed();
                        const model::Kind* kind = editor_.session().library().kind(editor_.scene().kind(shown()));
                        if (kind == nullptr) return tr("It is of no kind any more.");
                        if (name.isEmpty()) return tr("It needs a name.");
                        if (kind->outfit(name.toStdString()) != nullptr)
                            return tr("There is one of that name: “Give it to its outfit” changes that.");
                        keepAs(name.toStdString(), tr("Keep the outfit %1").arg(name));
                        return {};
                    });
}

void DressCommands::addOutfits() {
    const auto ofKind = [this] {
        const Slot s = canEdit() ? shown() : kNoSlot;
        return s != kNoSlot && editor_.session().library().kind(editor_.scene().kind(s)) != nullptr;
    };
    const auto wears = [this] { return canEdit() && worn() != nullptr; };
    verb(
        "outfit.keep", tr("Keep as an outfit…"),
        tr("Its values, surfaces, tint and item get a name, and others of its kind can wear them"), {},
        [this] { askName(); }, ofKind);
    verb(
        "outfit.give", tr("Give it to its outfit"),
        tr("What differs becomes the outfit’s; everything that wears it follows, but for what is its own"), {},
        [this] { keepAs(worn()->name, tr("Change the outfit %1").arg(toQt(worn()->name))); }, wears);
    verb(
        "outfit.again", tr("As its outfit again"), tr("What differs from the outfit goes"), {},
        [this] {
            const std::string name = worn()->name;
            editor_.run("Wear " + name,
                        [&](edit::Draft& draft) { return ops::wear(draft, editor_.selection(), name); });
        },
        wears);
    verb(
        "outfit.select", tr("Select all that wear it"), tr("Everything in the scene in the same outfit"), {},
        [this] {
            const model::Scene& scene = editor_.scene();
            const model::Outfit outfit = *worn();
            std::vector<base::ObjectId> ids;
            for (Slot s : scene.subtree(kNoSlot))
                if (const auto* one = scene.facet<model::Wears>(s);
                    one != nullptr && one->outfit == outfit.name && editor_.isPickable(s))
                    ids.push_back(scene.id(s));
            editor_.select(std::move(ids));
        },
        wears);
    verb(
        "outfit.next", tr("Next outfit"), tr("What is selected wears the next outfit of its kind; after the last none"),
        Qt::SHIFT | Qt::Key_Period, [this] { wearNext(); }, ofKind);
    verb(
        "outfit.remove", tr("Remove its outfit from the kind"), tr("What wears it stays as it is, and wears none"), {},
        [this] {
            const std::string name = worn()->name, kind(editor_.scene().kindText(shown()));
            editor_.run("Remove the outfit " + name,
                        [&](edit::Draft& draft) { return ops::removeOutfit(draft, kind, name); });
        },
        wears);
}

void DressCommands::wearNext() {
    const model::Scene& scene = editor_.scene();
    const model::Kind* kind = editor_.session().library().kind(scene.kind(shown()));
    if (kind->outfits.empty()) return editor_.say(tr("The kind %1 has no outfits.").arg(toQt(kind->name)));
    const model::Outfit* now = worn();
    const auto at = now == nullptr ? 0 : static_cast<std::size_t>(now - kind->outfits.data()) + 1;
    const std::string next = at < kind->outfits.size() ? kind->outfits[at].name : std::string();
    ops::Ids ids;
    for (const base::ObjectId id : editor_.selection())
        if (scene.kindText(scene.find(id)) == kind->name) ids.push_back(id);
    editor_.run(next.empty() ? "Take the outfit off" : "Wear " + next,
                [&](edit::Draft& draft) { return ops::wear(draft, ids, next); });
}

/// As it is, and then each guise in turn.
void DressCommands::showNext() {
    const auto& all = editor_.session().library().guises();
    if (all.empty()) return editor_.say(tr("There is no guise yet: “Guises…” makes one."));
    const model::Guise* now = editor_.guise();
    auto place = now != nullptr ? std::next(all.find(now->name)) : all.begin();
    const std::string next = place == all.end() ? std::string() : place->first;
    change(&Looks::guise, std::optional(next));
    editor_.say(next.empty() ? tr("Shown as it is") : tr("Shown in the guise “%1”").arg(toQt(next)));
}

void DressCommands::addGuises() {
    verb(
        "guise.card", tr("Guises…"), tr("Looks of the whole scene: shown with a click, made and changed"),
        Qt::CTRL | Qt::ALT | Qt::Key_G, [this] { new GuiseCard(&shell_.panes, editor_); }, open());
    verb(
        "guise.next", tr("Show the next guise"), tr("Goes through the project’s guises and “as it is”"),
        Qt::ALT | Qt::Key_G, [this] { showNext(); }, open());
    choice("guise.own", tr("The scene’s own guise"), tr("Shows the scene as its settings say"), {}, &Looks::guise,
           std::optional<std::string>(), open());
    choice("guise.none", tr("Without a guise"), tr("Shows the scene as its objects are"), {}, &Looks::guise,
           std::optional<std::string>(std::string()), open());
}

}  // namespace

RowsPtr dressCommands(Shell& shell) {
    return std::make_unique<DressCommands>(shell);
}

}  // namespace app
