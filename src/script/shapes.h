#pragma once
// An open project's meshes and what is bumped into, made ready for rays when they are first asked for.
#include "io/workspace.h"
#include "query/shapes.h"

namespace script {

/// One thread; while the workspace is open. Items collide as they do by now.
query::Shapes shapesIn(const io::Workspace& workspace);

}  // namespace script
