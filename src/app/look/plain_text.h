#pragma once
// Text is text: a name that happens to look like markup is shown as it is written, in labels, messages and tips.
namespace app {

/// From now on every label of the application shows plain text. Once is enough.
void keepTextPlain();

}  // namespace app
