// The tool in the hand and how it works: steps, axes, what is placed, seated, drawn and swept.
#include <algorithm>
#include <cmath>
#include <map>

#include "app/names.h"
#include "app/shell/editor_own.h"
#include "app/shell/preferences.h"
#include "app/shell/tools.h"
#include "app/view/looks.h"
#include "base/text.h"
#include "edit/session.h"
#include "model/facets/solid.h"
#include "model/scene_fields.h"
#include "ops/objects.h"
#include "ops/routes.h"
#include "render/handle.h"

namespace app {

namespace {

constexpr std::size_t kMostRecent = 24;
constexpr double kBerthReach = 0.75;  // metres

}  // namespace

void Editor::setTheme(const Theme& theme) {
    own_->theme = &theme;
    Q_EMIT themeChanged();
}

void Editor::setPreferences(const Preferences& preferences) {
    if (preferences == own_->preferences) return;
    own_->preferences = preferences;
    const Theme& theme = themeOf(preferences.tone == Preferences::Tone::Oat, preferences.plainColours);
    if (&theme != own_->theme) setTheme(theme);
    Q_EMIT preferencesChanged();
    Q_EMIT shownChanged();
}

const model::Guise* Editor::guise() const {
    return own_->workspace->session->library().guise(own_->looks.guise.value_or(scene().settings().guise));
}

model::SceneSettings Editor::litSettings() const {
    const model::Guise* shown = guise();
    return shown != nullptr ? model::inGuise(scene().settings(), *shown) : scene().settings();
}

void Editor::setLooks(const Looks& looks) {
    if (looks == own_->looks) return;
    own_->looks = looks;
    Q_EMIT shownChanged();
}

void Editor::setTools(const Tools& tools) {
    const bool another = tools.tool != own_->tools.tool;
    own_->tools = tools;
    if (another) setPlacing({});
    Q_EMIT toolChanged();
}

void Editor::setTool(Tool tool) {
    setPlacing({});
    change(&Tools::tool, tool);
}

void Editor::setStep(render::Task task, StepSetting setting) {
    Tools changed = own_->tools;
    changed.step(task) = setting;
    setTools(changed);
}

void Editor::pickPivot(const base::Vec3& point) {
    Tools changed = own_->tools;
    changed.pickedPivot = point;
    changed.pivot = ops::PivotMode::Picked;
    setTools(changed);
}

void Editor::setPlacing(const std::string& item) {
    if (item == own_->placing) return;
    own_->placing = item;
    Q_EMIT placingChanged();
}

const ops::Berth* Editor::berthNear(const base::Vec3& at, const std::string& item) {
    const model::Item* placed = session().library().item(session().names().find(item));
    return ops::nearestBerth(own_->sight.berths(), at, kBerthReach, placed != nullptr ? placed->bounds : base::Aabb{});
}

std::string Editor::outfitFor(const std::string& name) {
    const model::Library& library = session().library();
    const model::Item* item = library.item(session().intern(name));
    const model::Kind* kind = item != nullptr ? library.kindNamed(item->kind) : nullptr;
    return kind != nullptr && kind->outfit(own_->tools.outfit) != nullptr ? own_->tools.outfit : std::string();
}

void Editor::setRecentItems(std::vector<std::string> items) {
    if (items.size() > kMostRecent) items.resize(kMostRecent);
    own_->recent = std::move(items);
    Q_EMIT placingChanged();
}

bool Editor::place(const std::vector<Ghost>& ghosts) {
    if (ghosts.empty()) return false;
    const std::string& item = ghosts.front().item;
    const model::Item* info = session().library().item(session().intern(item));
    auto& recent = own_->recent;
    recent.erase(std::remove(recent.begin(), recent.end(), item), recent.end());
    recent.insert(recent.begin(), item);
    if (recent.size() > kMostRecent) recent.pop_back();
    const std::string label = info != nullptr ? info->label : item;
    const std::string name = ghosts.size() == 1 ? label : std::to_string(ghosts.size()) + " × " + label;
    return run("Place " + name, [&](edit::Draft& draft) -> Status {
        std::vector<base::ObjectId> made;
        for (const Ghost& ghost : ghosts) {
            auto id = placeGhost(draft, ghost);
            if (!id) return tl::unexpected(id.error());
            made.push_back(*id);
            if (ghost.course)
                if (Status stop = ops::addStops(draft, ghost.course, {&*id, 1}); !stop) return stop;
        }
        session().select(made);
        return {};
    });
}

base::Result<base::ObjectId> Editor::placeGhost(edit::Draft& draft, const Ghost& ghost) {
    ops::Placement placement;
    placement.item = session().intern(ghost.item);
    placement.position = ghost.position;
    placement.rotation = ghost.turn;
    placement.size = ghost.size;
    placement.mirrored = ghost.mirrored;
    placement.parent = entered();
    placement.outfit = outfitFor(ghost.item);
    const ops::Berth* near = berthNear(ghost.position, ghost.item);
    const std::optional<ops::Berth> berth = near != nullptr ? std::optional(*near) : std::nullopt;
    // From the session's own chance, and what came of it is in the step: redo is exact.
    auto id = own_->tools.varying.on ? ops::placeByChance(draft, placement, own_->tools.varying, session().random())
                                     : ops::place(draft, placement);
    if (!id) return id;
    if (berth) {
        if (Status put = ops::putInBerth(draft, *id, *berth); !put) return tl::unexpected(put.error());
    } else if (!ghost.course && own_->tools.seatWhenPlacing && own_->sight.index() != nullptr) {
        // On what is there; over nothing the item stays on the lattice.
        (void)ops::seat(draft, *own_->sight.index(), {&*id, 1}, {});
    }
    return id;
}

/// Of what is selected, when nothing is being placed: each becomes its next sibling; pose, name and links stay.
void Editor::cycleSelected(int by) {
    const model::Library& library = session().library();
    std::map<std::string, std::vector<base::ObjectId>> to;
    for (const base::ObjectId id : selection()) {
        const std::string item(scene().itemText(scene().find(id)));
        const auto all = ops::variationsOf(library, item);
        if (all.size() < 2) continue;
        const auto count = static_cast<std::ptrdiff_t>(all.size());
        const auto at = std::find(all.begin(), all.end(), item) - all.begin();
        to[all[static_cast<std::size_t>((at + by + count) % count)]].push_back(id);
    }
    if (to.empty()) return say(tr("Nothing selected has siblings: items of its name with another number."));
    run("Next sibling of " + ops::describe(*own_->scene, selection()), [&](edit::Draft& draft) -> Status {
        for (const auto& [item, ids] : to) {
            const std::vector<base::Name> items(ids.size(), session().intern(item));
            if (Status done = ops::refuseProtected(draft.scene(), ids, "changed"); !done) return done;
            if (Status done = draft.setLabels(model::LabelField::Item, ids, items); !done) return done;
        }
        return {};
    });
}

void Editor::cycleVariation(int by) {
    if (own_->placing.empty() && !selection().empty()) return cycleSelected(by);
    const auto all = ops::variationsOf(own_->workspace->session->library(), own_->placing);
    if (own_->placing.empty() || all.size() < 2)
        return say(tr("This item has no siblings: others of its name with another number."));
    const auto count = static_cast<std::ptrdiff_t>(all.size());
    const auto at = std::find(all.begin(), all.end(), own_->placing) - all.begin();
    setPlacing(all[static_cast<std::size_t>((at + by + count) % count)]);
}

bool Editor::replaceSelected(const std::string& item) {
    const std::vector<base::ObjectId> ids = selection();
    const model::Item* info = session().library().item(session().intern(item));
    ops::Replaced told;
    const bool done = run("Replace " + ops::describe(*own_->scene, ids), [&](edit::Draft& draft) -> Status {
        auto replaced = ops::replaceItem(draft, ids, session().intern(item), own_->tools.surfacesGo);
        if (!replaced) return tl::unexpected(replaced.error());
        told = *replaced;
        return {};
    });
    if (!done) return false;
    QStringList differs;
    for (int k = 0; k < 3; ++k)
        if (std::abs(told.sizeFactor[k] - 1) > 0.005)
            differs << tr("%1 × %2").arg(QString("XYZ").mid(k, 1)).arg(told.sizeFactor[k], 0, 'f', 2);
    if (std::abs(told.baseMetres) > 0.001)
        differs << tr("its base %1 %2")
                       .arg(length(std::abs(told.baseMetres)), told.baseMetres > 0 ? tr("lower") : tr("higher"));
    if (told.idleSurfaces > 0)
        differs << tr("%1 without effect").arg(counted(told.idleSurfaces, tr("surface"), tr("surfaces")));
    say(differs.isEmpty()
            ? tr("Replaced by %1.").arg(QString::fromStdString(info->label))
            : tr("Replaced by %1; different: %2.").arg(QString::fromStdString(info->label), differs.join(", ")));
    return true;
}

bool Editor::seatSelected(const ops::SeatOptions& options) {
    if (!isOpen()) return false;
    if (own_->sight.index() == nullptr)
        return report(
            base::fail(base::ErrorCode::Refused, "Where things are is still being worked out; try again in a moment."));
    std::vector<ops::SeatDrop> drops;
    const bool done = run("Seat " + ops::describe(*own_->scene, selection()), [&](edit::Draft& draft) -> Status {
        ops::SeatOptions how = options;
        how.asSeen = own_->tools.seatAsSeen;
        how.ontoSeen = own_->tools.seatOntoSeen;
        auto seated = ops::seat(draft, *own_->sight.index(), selection(), how);
        if (!seated) return tl::unexpected(seated.error());
        drops = std::move(*seated);
        return {};
    });
    std::string left;
    for (const ops::SeatDrop& drop : drops)
        if (!drop.supported)
            left += (left.empty() ? "" : ", ") + std::string(own_->scene->nameText(own_->scene->find(drop.id)));
    if (done && !left.empty()) say(tr("Nothing is below %1: left where it is.").arg(QString::fromStdString(left)));
    return done;
}

}  // namespace app
