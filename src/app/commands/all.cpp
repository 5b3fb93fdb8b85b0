#include "app/commands/all.h"

namespace app {

std::vector<RowsPtr> allRows(Shell& shell) {
    constexpr RowsPtr (*kMenus[])(Shell&) = {
        projectCommands,  editCommands, selectCommands, viewCommands,  arrangeCommands,  copyCommands,
        groupCommands,    drawCommands, objectCommands, stockCommands, prefabCommands,   checkCommands,
        scriptCommands,   lookCommands, helpCommands,   dressCommands, relationCommands, solidCommands,
        rehearseCommands, actCommands,  soundCommands,  routeCommands, handCommands};
    std::vector<RowsPtr> all;
    for (const auto make : kMenus) all.push_back(make(shell));
    return all;
}

}  // namespace app
