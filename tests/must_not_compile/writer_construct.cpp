// Nothing outside edit can make a writer for a scene.
#include "edit/scene_writer.h"

#ifdef ALLOWED
void take(edit::SceneWriter&) {}
#else
void take(model::Scene& scene, const edit::Sources& sources) {
    edit::SceneWriter writer(scene, sources);
}
#endif
