#pragma once
// Reading one object's line: a strict parser for the form we write, and a forgiving one, with messages, for
// everything else. For scene_read.cpp.
#include <array>
#include <memory>
#include <string_view>
#include <unordered_map>

#include "base/names.h"
#include "io/damage.h"
#include "model/scene.h"

namespace io {

/// Reads lines on one thread.
class ObjectLineReader {
  public:
    ObjectLineReader(base::NameTable& names, std::string file);
    ~ObjectLineReader();

    /// The object in `line`, or nothing (with damage) when it has no usable id or is no JSON object. A bad value is
    /// listed and left at its usual one. `last`: nothing follows, not even a line's end.
    bool read(std::string_view line, int lineNumber, bool last, model::ObjectRecord& out);
    /// The first line: the scene's settings.
    enum class Header { Fine, Damaged, NotOurs, Newer };
    Header readHeader(std::string_view line, model::SceneSettings& out);
    base::ObjectId prefab;  ///< of a definition's first line

    std::vector<Damage> damage;

    /// Only the exact form we write. False: it is another one, or holds what cannot be.
    bool readStrict(std::string_view line, model::ObjectRecord& out);

  private:
    struct Dom;
    bool readForgiving(std::string_view line, int lineNumber, bool last, model::ObjectRecord& out);
    base::Name repeated(std::string_view text);
    void note(int line, std::string_view key, std::string message);

    base::NameTable& names_;
    std::string file_;
    std::unordered_map<std::string_view, base::Name> seen_;  // kinds and items: few, met often
    std::unique_ptr<Dom> dom_;
};

/// Is it a line in the exact form we write, whose every field was looked at? Such fits the published schema.
bool isCanonicalLine(std::string_view line);

}  // namespace io
