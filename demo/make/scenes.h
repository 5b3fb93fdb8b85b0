#pragma once
// The demo's scenes as text.
#include <string>
#include <vector>

#include "base/id.h"

namespace demo {

/// A prefab's file.
struct DemoPrefab {
    std::string name, text;
    base::ObjectId id;
};
std::vector<DemoPrefab> prefabs();
/// The row of stalls: an instance of it stands in the lower basin.
base::ObjectId stallRow();

/// Kinds, as JSON without format and version.
const std::vector<std::string>& kindFiles();
/// A record type and its records, likewise.
struct RecordFile {
    std::string name, type;
    std::vector<std::string> records;
};
const std::vector<RecordFile>& recordFiles();

/// The project's surfaces, a line each.
const std::vector<std::string>& surfaceLines();
/// Lines of guises.jsonl.
const std::vector<std::string>& guiseLines();

/// Lines of mixes.jsonl and sets.jsonl.
const std::vector<std::string>& mixLines();
const std::vector<std::string>& setLines();

/// What the project says of the rules of checks, a line each.
const std::vector<std::string>& checkLines();

/// The lower basin on market day, about 300 objects.
std::string lowerBasin(bool ends = true);  // ends: a cue wins it

/// The whole canal with its three chambers, about 300 objects: where one goes on after the lower basin.
std::string threeChambers();

/// The lower basin with one fault for each rule of checks.
std::string brokenLock();

/// `count` objects of the demo's items over a square of 4 km (less for few), in groups of a hundred; seeded.
std::string many(std::size_t count);

}  // namespace demo
