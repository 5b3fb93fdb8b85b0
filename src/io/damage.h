#pragma once
// What is wrong in a file, found while the rest of it was read.
#include <string>
#include <vector>

namespace io {

struct Damage {
    std::string file;     ///< path as given
    int line = 0;         ///< from 1; 0: the file as a whole
    std::string key;      ///< the member it is about; may be empty
    std::string message;  ///< a sentence: what was found, what was expected
    bool isKept = false;  ///< a word of a newer version: it is told, and stays as it is
};

/// "scenes/lower-basin.scene.jsonl:17: position: ..."
std::string toText(const Damage& damage);
/// "key: what is wrong" about a file as a whole.
Damage damageOf(const std::string& file, std::string problem);

}  // namespace io
