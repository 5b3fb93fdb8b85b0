#pragma once
// A list as the text of files: JSON, JSON Lines, CSV, XML, or as a template has it. Pure; any thread.
#include "hand/entries.h"

namespace hand {

struct WrittenFile {
    std::string name;  ///< as the recipe says, {scene} and {part} filled in; relative
    std::string text;  ///< UTF-8, lines as the recipe wants them
    struct Span {
        base::ObjectId id;
        std::size_t from = 0, to = 0;  ///< bytes of the text
    };
    std::vector<Span> spans;  ///< what is said of each object, in order
    std::string bytes() const { return coded; }
    std::string coded;  ///< the text in the recipe's encoding
};
struct Written {
    std::vector<WrittenFile> files;
    std::vector<std::string> remarks;  ///< of gathering, and of what an encoding has no sign for
    std::size_t entries = 0, passedOver = 0;
    double farthestRounded = 0;  ///< metres
};
Written write(const Source& source, const Recipe& recipe);

/// The parts of a template: what stands there, and the fields between, by their place in the recipe.
struct TemplatePart {
    std::string text;
    std::ptrdiff_t field = -1;  ///< after the text; -1: none, the end
};
/// "{name}" is a field, "{{" a brace. Errors: BadInput for what is no field.
base::Result<std::vector<TemplatePart>> partsOf(const std::string& text, const Recipe& recipe);

/// Why a recipe cannot be used though it can be read; empty: it can.
std::string unusable(const Recipe& recipe);

}  // namespace hand
