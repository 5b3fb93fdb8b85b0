// What is told of routes that whoever walks follows.
#include <fmt/format.h>

#include "rehearse/names.h"
#include "rehearse/run.h"

namespace rehearse {

/// The stops hear how they are, by the property that their route names.
void Run::tellStops(std::size_t course) {
    const CourseAt& is = (*level_->courses)[course];
    for (std::size_t g = 0; !is.tells.empty() && g < is.gates.size(); ++g) {
        const auto& known = level_->cues->propertyOf;
        const auto property = known.find({level_->scene->find(is.gates[g].object), is.tells});
        if (property != known.end()) cues_->letBecome(property->second, {std::string(courses_->wordOf(course, g))});
    }
}

void Run::stepCourses(const Vec3& from, bool jumped) {
    if (level_->courses->empty() || jumped) return;
    const Vec3 up(0, player_.capsule.height / 2, 0);
    for (const Courses::Told& told : courses_->step(from + up, player_.footing.feet + up, trace_.steps)) {
        using Is = Courses::Told::Is;
        const CourseAt& course = (*level_->courses)[told.course];
        const bool lap = told.is == Is::Lap;
        Entry& entry = add(told.is == Is::Passed   ? What::Passed
                           : told.is == Is::Missed ? What::Missed
                           : lap                   ? What::Lapped
                                                   : What::WrongWay,
                           lap ? course.id : course.gates[told.gate].object, lap ? base::ObjectId{} : course.id);
        entry.amount = told.seconds;
        entry.note = lap ? fmt::format("lap {} of {}", told.lap, course.laps)
                         : fmt::format("stop {} of {}", told.gate + 1, course.gates.size()) +
                               (course.closed ? fmt::format(", lap {}", told.lap) : "");
        tellStops(told.course);
    }
}

}  // namespace rehearse
