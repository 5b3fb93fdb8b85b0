#include "render/daylight.h"

namespace render {

model::SceneSettings litBy(const model::SceneSettings& settings, Daylight daylight) {
    model::SceneSettings s = settings;
    switch (daylight) {
        case Daylight::AsSet: break;
        case Daylight::Day:
            s.sunDirection = {-0.35, -0.85, -0.3};
            s.sunColour = {1.0, 0.97, 0.92};
            s.sunStrength = 1.05;
            s.skyColour = {0.68, 0.78, 0.88};
            s.groundColour = {0.42, 0.42, 0.36};
            break;
        case Daylight::Dusk:
            s.sunDirection = {-0.85, -0.28, 0.35};
            s.sunColour = {1.0, 0.55, 0.28};
            s.sunStrength = 0.8;
            s.skyColour = {0.40, 0.36, 0.48};
            s.groundColour = {0.24, 0.20, 0.20};
            break;
        case Daylight::Night:
            s.sunDirection = {0.4, -0.8, 0.3};
            s.sunColour = {0.45, 0.56, 0.85};
            s.sunStrength = 0.14;
            s.skyColour = {0.075, 0.10, 0.17};
            s.groundColour = {0.04, 0.045, 0.06};
            break;
    }
    return s;
}

}  // namespace render
