#pragma once
// How tools work, described for what is remembered with a project: steps, pivot, what is placed and swept, how a drag
// selects.
#include "app/shell/tools.h"
#include "model/facet.h"

namespace app {

const model::Fields& toolFields();

}  // namespace app
