#pragma once
// An open project's meshes, made ready for rays when they are first asked for.
#include "io/workspace.h"
#include "query/scene_index.h"

namespace script {

/// One thread; while the workspace is open.
query::MeshLookup meshesOf(const io::Workspace& workspace);

}  // namespace script
