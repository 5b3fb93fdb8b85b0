#pragma once
// The rows of each menu.
#include "app/commands/rows.h"

namespace app {

RowsPtr projectCommands(Shell& shell);
RowsPtr editCommands(Shell& shell);
RowsPtr selectCommands(Shell& shell);
RowsPtr viewCommands(Shell& shell);
RowsPtr arrangeCommands(Shell& shell);
RowsPtr copyCommands(Shell& shell);
RowsPtr groupCommands(Shell& shell);
RowsPtr drawCommands(Shell& shell);
RowsPtr solidCommands(Shell& shell);
RowsPtr objectCommands(Shell& shell);
RowsPtr stockCommands(Shell& shell);
RowsPtr prefabCommands(Shell& shell);
RowsPtr checkCommands(Shell& shell);
RowsPtr scriptCommands(Shell& shell);
RowsPtr dressCommands(Shell& shell);
RowsPtr relationCommands(Shell& shell);
RowsPtr lookCommands(Shell& shell);
RowsPtr rehearseCommands(Shell& shell);
RowsPtr actCommands(Shell& shell);
RowsPtr soundCommands(Shell& shell);
RowsPtr routeCommands(Shell& shell);
RowsPtr handCommands(Shell& shell);
RowsPtr helpCommands(Shell& shell);

}  // namespace app
