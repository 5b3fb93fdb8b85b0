#pragma once
// Findings for other programs: text, JSON, SARIF 2.1.0, JUnit XML.
#include <span>
#include <string>
#include <vector>

#include "check/rule.h"
#include "model/scene.h"

namespace io {

/// What was found in one scene.
struct CheckedScene {
    std::string name;
    std::string file;  ///< from the project's folder: "scenes/lower-basin.scene.jsonl"
    std::vector<check::Finding> findings, accepted;
    std::vector<std::pair<base::ObjectId, int>> lines;          ///< of the file, by object, sorted
    std::vector<std::pair<base::ObjectId, std::string>> names;  ///< of those objects, sorted
};
/// Where each object stands in a scene's file: its line, from 1. The file as it is saved now.
std::vector<std::pair<base::ObjectId, int>> objectLines(const model::Scene& scene);

std::string checkText(const std::vector<CheckedScene>& scenes);
std::string checkJson(const std::vector<CheckedScene>& scenes);
/// One run; rules with their help, results with stable fingerprints; accepted findings are suppressed results.
/// `broken`: what is wrong with scripts that could not be read, told as notifications.
std::string checkSarif(const std::vector<CheckedScene>& scenes, std::span<const check::Rule> rules,
                       std::span<const std::string> broken = {});
/// A suite for each scene, a case for each rule; errors and cautions are failures.
std::string checkJunit(const std::vector<CheckedScene>& scenes, std::span<const check::Rule> rules);

}  // namespace io
