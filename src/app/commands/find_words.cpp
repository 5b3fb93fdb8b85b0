#include "app/commands/find_words.h"

#include <algorithm>
#include <array>
#include <vector>

#include "base/text.h"

namespace app {

namespace {

/// Words, and the commands that are meant; an id that ends in a dot means all that begin so.
struct OtherWords {
    std::vector<std::string_view> words, ids;
};

const std::vector<OtherWords>& otherWords() {
    static const std::vector<OtherWords> all = {
        {{"rotate", "spin", "orient", "heading"},
         {"view.dial", "edit.halfTurn", "arrange.matchTurn", "arrange.resetTurn"}},
        {{"scale", "resize", "stretch"}, {"view.fit", "edit.uniform", "arrange.matchSize", "arrange.resetSize"}},
        {{"move", "translate", "drag", "position"}, {"view.slide", "arrange.matchPosition"}},
        {{"gizmo", "manipulator", "widget"}, {"view.slide", "view.dial", "view.fit", "view.allHandles", "view.select"}},
        {{"snap", "increment", "magnet"},
         {"view.step", "view.stepLattice", "arrange.lattice", "view.fine", "view.veryFine", "view.catchFlush",
          "edit.seat"}},
        {{"audio", "music", "volume", "voice"}, {"desk.sounds", "sounds."}},
        {{"layers", "phases", "sets", "variants"}, {"acts."}},
        {{"collide", "push", "physics"}, {"push.down", "drag.contact"}},
        {{"palette", "weights", "random"}, {"stock.mixes", "stock.vary"}},
        {{"constraint", "attach", "follow"}, {"stay.seated", "stay.flush", "stay.distance", "stay.facing"}},
        {{"tile", "paint", "modular"}, {"draw.lay"}},
        {{"slice", "split", "knife", "plane"}, {"solid.clip"}},
        {{"door", "window", "hole", "doorway"}, {"solid.opening", "solid.archOpening", "solid.drawnOpening"}},
        {{"boolean", "carve", "difference", "union"}, {"solid.subtract", "solid.join", "solid.intersect"}},
        {{"shell"}, {"solid.hollow", "draw.room"}},
        {{"vertex", "edge", "face", "polygon"}, {"solid.parts", "solid.extrude", "solid.inset"}},
        {{"spiral", "steps", "staircase"}, {"draw.stairs", "draw.winding"}},
        {{"bake", "collapse"}, {"solid.plain"}},
        {{"grid", "raster"}, {"view.stepLattice", "arrange.lattice", "array.grid", "view.step"}},
        {{"lock", "freeze", "unlock"}, {"edit.protect", "edit.releaseAll"}},
        {{"duplicate", "clone", "replicate"}, {"edit.duplicate", "edit.copyAgain", "prefab.copyLinked", "array.row"}},
        {{"align", "justify", "line up"},
         {"arrange.left", "arrange.middleX", "arrange.right", "arrange.tops", "arrange.bottoms", "arrange.north",
          "arrange.south"}},
        {{"distribute", "space", "spacing"}, {"arrange.gapsX", "arrange.gapsY", "arrange.gapsZ", "arrange.centresX"}},
        {{"drop", "ground", "floor", "land", "gravity"}, {"edit.seat", "edit.seatBelow", "edit.seatLeaning"}},
        {{"flip", "reflect", "symmetry"}, {"edit.mirrorX", "edit.mirrorY", "edit.mirrorZ"}},
        {{"array", "repeat", "radial", "circular", "pattern"}, {"array."}},
        {{"validate", "verify", "lint", "errors", "problems", "warnings", "test"}, {"desk.checks", "checks."}},
        {{"repair", "mend", "resolve"}, {"checks.mend", "checks.mendAll"}},
        {{"history", "revert", "back"}, {"edit.undo", "edit.redo"}},
        {{"settings", "preferences", "options", "configure"},
         {"help.settings", "help.keys", "view.oat", "checks.rules", "view.first", "look.glide"}},
        {{"shortcuts", "hotkeys", "keyboard", "keybindings", "bindings"}, {"help.keys"}},
        {{"units", "metric", "metres", "centimetres"}, {"view.step", "view.measure"}},
        {{"theme", "dark", "bright", "light", "colours", "oat", "dusk"}, {"view.oat"}},
        {{"unhide", "reveal", "visible", "invisible"}, {"edit.hide", "edit.showAll"}},
        {{"isolate", "solo", "only"}, {"edit.alone"}},
        {{"focus", "frame", "zoom", "centre"}, {"view.bring", "look.plan"}},
        {{"viewport", "orthographic", "perspective", "ortho"},
         {"look.panes", "look.free", "look.top", "look.front", "look.back", "look.left", "look.right"}},
        {{"fly", "first person"}, {"look.walk", "rehearse.start"}},
        {{"play", "test", "run", "simulate", "try", "game"}, {"rehearse.start", "rehearse.here"}},
        {{"physics", "drop", "gravity", "rest"}, {"settle.selected", "settle.ask"}},
        {{"navigation", "reachable", "path", "walkable"}, {"rehearse.reach", "rehearse.seen"}},
        {{"replay", "record", "timeline", "log"}, {"rehearse.trace", "rehearse.replay", "rehearse.lookLast"}},
        {{"bookmark", "saved view"}, {"look.keep", "look.views", "look.firstView"}},
        {{"wireframe", "edges"}, {"look.wire"}},
        {{"lighting", "sun", "shading"},
         {"look.asSet", "look.day", "look.dusk", "look.night", "look.shaded", "look.lamp"}},
        {{"collider", "physics", "rigid", "hitbox"}, {"body.", "look.collision"}},
        {{"pivot", "origin", "anchor"}, {"view.pivot", "view.pickPivot"}},
        {{"space", "local", "global", "coordinate"}, {"view.axes"}},
        {{"ruler", "distance", "angle", "dimension"}, {"view.measure", "view.copyMeasure"}},
        {{"instance", "template", "reuse", "reference"}, {"prefab.make", "prefab.copyLinked", "prefab.swap"}},
        {{"variant", "override", "derive"}, {"prefab.edition", "prefab.differences"}},
        {{"theme", "season", "skin", "weather", "look"}, {"guise."}},
        {{"preset", "variant", "costume", "skin", "livery"}, {"outfit."}},
        {{"unpack", "explode", "break", "detach"}, {"prefab.takeApart", "prefab.takeAllApart", "group.ungroup"}},
        {{"combine", "join", "bake", "weld"}, {"prefab.merge", "array.bake", "group.make"}},
        {{"parent", "nest", "hierarchy", "folder"}, {"group.make", "group.ungroup", "view.roster"}},
        {{"outliner", "tree", "layers", "list"}, {"view.roster", "view.rosterFilter", "desk.table"}},
        {{"inspector", "details", "attributes"}, {"view.properties", "kinds.open"}},
        {{"library", "assets", "browser", "palette", "catalogue"}, {"view.stock", "view.stockSearch"}},
        {{"schema", "class", "type", "definition"}, {"kinds.open", "records.open"}},
        {{"database", "shared data"}, {"records.open"}},
        {{"spreadsheet", "sheet", "columns", "batch", "bulk"}, {"desk.table", "table.export", "table.import"}},
        {{"material", "texture", "paint", "shader"}, {"desk.surfaces", "surfaces.", "edit.tint"}},
        {{"colour", "color", "hue"}, {"edit.tint", "look.byKind"}},
        {{"trigger", "volume", "area", "region"}, {"zone."}},
        {{"waypoint", "path", "spawn", "marker", "locator"}, {"points."}},
        {{"cube", "block", "primitive", "blockout", "greybox", "shape"}, {"draw."}},
        {{"scatter", "brush", "foliage", "spray", "populate"}, {"draw.broom", "stock.vary"}},
        {{"random", "chance", "jitter"}, {"stock.vary", "draw.broom"}},
        {{"macro", "code", "lua", "terminal", "command line", "plugin", "extension"}, {"desk.script", "scripts."}},
        {{"remove", "erase", "destroy"}, {"edit.delete"}},
        {{"swap", "exchange", "substitute"}, {"stock.replace", "prefab.swap", "arrange.swap"}},
        {{"export", "gltf", "glb", "publish"}, {"project.export", "table.export", "hand."}},
        {{"screenshot", "render", "photo", "map", "blueprint"}, {"hand.picture", "hand.plan"}},
        {{"deliver", "exchange", "game", "json", "xml", "placements", "convert"}, {"desk.hand", "hand."}},
        {{"load", "add model", "add asset"}, {"project.import", "project.open"}},
        {{"level", "map", "stage"}, {"project.newScene", "look.plan"}},
        {{"quit", "exit", "close"}, {"project.quit"}},
        {{"fullscreen", "maximise", "distraction"}, {"look.clean", "view.sides"}},
        {{"layout", "workspace", "dock", "panel", "window"},
         {"view.first", "view.sides", "view.stock", "view.roster", "view.properties"}},
        {{"deselect", "cancel", "none"}, {"edit.escape"}},
        {{"invert", "opposite"}, {"select.others"}},
        {{"marquee", "rectangle", "rubber band"}, {"edit.selectBox", "edit.selectLasso", "edit.selectCircle"}},
        {{"guide", "smart guides", "alignment lines"}, {"view.catchFlush", "look.pierced"}},
        {{"visibility", "in game", "runtime"}, {"start."}},
    };
    return all;
}

bool begins(std::string_view text, std::string_view typed) {
    return text.size() >= typed.size() && base::sameFolded(text.substr(0, typed.size()), typed);
}

constexpr std::size_t kLongest = 32;  // letters of what is typed

/// The fewest changes of letters that make of `typed` what `word` begins with; both in small letters, the first at most
/// kLongest long.
std::size_t changesTo(std::string_view word, std::string_view typed) {
    const std::size_t n = typed.size(), m = std::min(word.size(), n + 2);
    std::array<std::array<std::size_t, kLongest + 3>, kLongest + 1> cost;
    for (std::size_t i = 0; i <= n; ++i)
        for (std::size_t k = 0; k <= m; ++k) {
            if (i == 0 || k == 0) {
                cost[i][k] = i + k;
                continue;
            }
            const std::size_t other = typed[i - 1] == word[k - 1] ? 0 : 1;
            cost[i][k] = std::min({cost[i - 1][k] + 1, cost[i][k - 1] + 1, cost[i - 1][k - 1] + other});
            if (i > 1 && k > 1 && typed[i - 1] == word[k - 2] && typed[i - 2] == word[k - 1])
                cost[i][k] = std::min(cost[i][k], cost[i - 2][k - 2] + 1);
        }
    return *std::min_element(cost[n].begin(), cost[n].begin() + static_cast<std::ptrdiff_t>(m) + 1);
}

}  // namespace

int otherWordPlace(std::string_view id, std::string_view typed) {
    if (typed.size() < 2) return -1;
    int best = -1;
    for (const OtherWords& other : otherWords()) {
        const auto meant = std::find_if(other.ids.begin(), other.ids.end(), [&](std::string_view one) {
            return one == id || (one.ends_with('.') && id.starts_with(one));
        });
        const int place = static_cast<int>(meant - other.ids.begin());
        if (meant == other.ids.end() || (best >= 0 && best <= place)) continue;
        if (std::any_of(other.words.begin(), other.words.end(),
                        [&](std::string_view word) { return begins(word, typed); }))
            best = place;
    }
    return best;
}

bool isNearly(std::string_view text, std::string_view typed) {
    if (typed.size() < 4 || typed.size() > kLongest) return false;
    const std::size_t most = typed.size() >= 8 ? 2 : 1;
    const std::string low = base::lowered(text), wanted = base::lowered(typed);
    for (const std::string_view word : base::split(low, ' '))
        if (word.size() + most >= wanted.size() && changesTo(word, wanted) <= most) return true;
    return false;
}

}  // namespace app
