#pragma once
// What the Editor keeps; only its own sources see it.
#include <unordered_set>

#include "app/look/theme.h"
#include "app/shell/acts.h"
#include "app/shell/asking.h"
#include "app/shell/checks.h"
#include "app/shell/editor.h"
#include "app/shell/go_on.h"
#include "app/shell/preferences.h"
#include "app/shell/rehearsal.h"
#include "app/shell/scripts.h"
#include "app/shell/sight.h"
#include "app/shell/stand_in.h"
#include "app/shell/tools.h"
#include "app/view/looks.h"
#include "edit/held_delta.h"
#include "io/workspace.h"
#include "ops/acts.h"
#include "ops/properties.h"
#include "ops/relations.h"

namespace app {

struct Editor::Own {
    io::Chance chance;
    std::unique_ptr<io::Workspace> workspace;
    const model::Scene* scene = nullptr;      // what is shown
    const model::Scene* document = nullptr;   // the scene itself, while a copy is shown instead; else null
    std::shared_ptr<base::Progress> opening;  // shared with the worker
    std::string sceneName, lastScene;
    std::vector<ops::Link> links;
    bool linksKnown = false;
    std::optional<base::Vec3> basePoint;
    Sight sight;
    std::unique_ptr<ops::RelationKeeper> relations;
    std::unique_ptr<ops::ActKeeper> actKeeper;
    Asking asking;
    QWidget* workOver = nullptr;
    std::set<model::Slot> selected;
    std::unordered_set<model::Slot> alone;  // empty: everything is shown
    base::ObjectId entered;
    std::optional<base::Affine> lastPull;
    std::size_t hiddenCount = 0;
    std::size_t protectedCount = 0;
    std::optional<edit::HeldDelta> held;
    bool grown = false;        // meshes came that nobody was told of yet
    bool toldOfShown = false;  // since one last went through the history
    const Theme* theme = &dusk();
    Looks looks;
    Preferences preferences;
    Tools tools;
    PrefabPlan prefabPlan;
    std::string placing;
    std::vector<std::string> recent;
    std::size_t chosenPoint = 0;
    QString hint;
    std::unique_ptr<Acts> acts;
    std::unique_ptr<StandIn> standIn;
    std::unique_ptr<Scripts> scripts;
    std::unique_ptr<Checks> checks;
    std::unique_ptr<GoOn> goOn;
    std::unique_ptr<Rehearsal> rehearsal;
};

}  // namespace app
