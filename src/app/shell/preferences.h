#pragma once
// What one person likes, in every project: kept on the machine, and carried to another as a file.
#include <QSettings>
#include <filesystem>
#include <string>
#include <vector>

#include "app/commands/commands.h"
#include "base/result.h"
#include "model/facet.h"

namespace app {

struct Preferences {
    enum class Tone { Dusk, Oat } tone = Tone::Dusk;
    bool plainColours = false;  ///< axes and marks that everybody can tell apart
    double interfaceSize = 1;   ///< times the usual; from the next start on
    double handleSize = 1;      ///< times the usual
    bool glide = true;          ///< the camera goes to another place in a moment and not at once
    double orbitSpeed = 1, wheelSpeed = 1;
    bool invertOrbit = false, invertWheel = false;
    bool opensLast = false;      ///< the project of the last time instead of the start page
    std::string projectsFolder;  ///< where new ones are made; empty: in one's documents
    friend bool operator==(const Preferences&, const Preferences&) = default;
};
/// The category of each is the page it is on.
const model::Fields& preferenceFields();

/// As they were kept; what cannot be is as usual.
Preferences keptPreferences();
void keepPreferences(const Preferences& preferences);

/// With the shortcuts that were changed, as a file for another machine.
base::Status exportPreferences(const std::filesystem::path& file, const Preferences& preferences,
                               const CommandSet& commands);
/// Takes what such a file says. Gives what in it was left out, and why. Errors: those of reading it; nothing is
/// changed.
base::Result<std::vector<std::string>> importPreferences(const std::filesystem::path& file, Preferences& preferences,
                                                         CommandSet& commands);

}  // namespace app
