#pragma once
// Pointing objects at something, and cameras from where one looks. An object's front is its own -Z, as a camera's.
#include "ops/objects.h"

namespace ops {

/// Turns each object so that its front faces `point`, upright where that can be. Errors: Refused if one is protected.
base::Status aim(edit::Draft& draft, std::span<const base::ObjectId> ids, const base::Vec3& point);

/// Puts an object at `from`, its front towards `to`, and with a camera its field of view. Errors: NotFound; Refused if
/// protected.
base::Status standAt(edit::Draft& draft, base::ObjectId id, const base::Vec3& from, const base::Vec3& to,
                     double fieldOfViewDegrees);

}  // namespace ops
