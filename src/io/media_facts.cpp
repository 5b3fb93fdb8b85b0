#include "io/media_facts.h"

#include "io/added.h"
#include "io/image_head.h"
#include "io/sound_file.h"

namespace io {

namespace {

check::Media::All lookAt(const std::filesystem::path& folder, const std::set<std::string>& names) {
    check::Media::All all;
    for (const std::string& name : names) {
        const auto file = projectFile(folder, "media/" + name);
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

}  // namespace

check::Media mediaFacts(const edit::Session& session) {
    return check::Media(
        [folder = session.project().folder, names = mediaNames(session)] { return lookAt(folder, names); });
}

std::int64_t mediaStamp(const edit::Session& session) {
    std::error_code none;
    const auto at = std::filesystem::last_write_time(session.project().folder / "media", none);
    return none ? 0 : at.time_since_epoch().count();
}

}  // namespace io
