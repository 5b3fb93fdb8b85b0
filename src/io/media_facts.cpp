#include "io/media_facts.h"

#include "io/added.h"
#include "io/image_head.h"
#include "io/sound_file.h"

namespace io {

std::map<std::string, check::MediaFacts> mediaFacts(const edit::Session& session) {
    std::map<std::string, check::MediaFacts> all;
    for (const std::string& name : mediaNames(session)) {
        const auto file = projectFile(session.project().folder, "media/" + name);
        if (!file) continue;
        check::MediaFacts facts;
        std::error_code ignored;
        facts.bytes = std::filesystem::file_size(*file, ignored);
        if (const auto head = readImageHead(*file)) {
            facts.width = head->width;
            facts.height = head->height;
        }
        if (isSoundName(name)) {
            if (const auto sound = readSound(*file)) {
                const SoundFacts heard = factsOf(*sound);
                facts.seconds = heard.seconds;
                facts.peak = heard.peak;
            } else {
                facts.problem = sound.error().message;
            }
        }
        all[name] = facts;
    }
    return all;
}

std::int64_t mediaStamp(const edit::Session& session) {
    std::error_code none;
    const auto at = std::filesystem::last_write_time(session.project().folder / "media", none);
    return none ? 0 : at.time_since_epoch().count();
}

}  // namespace io
