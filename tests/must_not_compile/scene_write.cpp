// Nothing outside edit can write a column of a scene.
#include "model/scene.h"

#ifdef ALLOWED
base::Vec3 look(const model::Scene& scene) {
    return scene.local(0).position;
}
#else
struct Intruder {
    static void move(model::Scene& scene) { scene.local_.edit(0).position.x = 1.0; }
};
#endif
