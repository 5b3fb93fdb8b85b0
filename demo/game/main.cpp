// heron-game LEVELS.json [--reload]: a small program that stands in for a game. It reads the levels that a settings
// file lists, as JSON or CSV, walks through the things in each from one to the next, and reports what it got, wrong
// entries included. With --reload it reads all a second time and says whether everything is still there.
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <map>
#include <nlohmann/json.hpp>
#include <optional>
#include <set>
#include <sstream>
#include <string>
#include <vector>

namespace {

namespace fs = std::filesystem;
using nlohmann::json;

struct Thing {
    std::string id, name, item;
    double x = 0, y = 0, z = 0;
    friend bool operator==(const Thing&, const Thing&) = default;
};

struct Level {
    std::string name;
    std::vector<Thing> things;
    std::vector<std::string> wrong;
};

std::optional<std::string> textOf(const fs::path& file) {
    std::ifstream in(file, std::ios::binary);
    if (!in) return std::nullopt;
    std::stringstream text;
    text << in.rdbuf();
    return text.str();
}

std::optional<double> numberOf(const std::string& text) {
    char* end = nullptr;
    const double number = std::strtod(text.c_str(), &end);
    return text.empty() || *end != '\0' || !std::isfinite(number) ? std::nullopt : std::optional(number);
}

/// Takes a thing, or says what is wrong with it.
void take(Level& level, std::size_t entry, Thing thing, const std::optional<double> (&place)[3], double metres) {
    const auto wrong = [&](const std::string& why) {
        level.wrong.push_back("entry " + std::to_string(entry) + " “" + thing.name + "” " + thing.id + ": " + why);
    };
    for (const auto& number : place)
        if (!number) return wrong("has a place that is no number");
    thing.x = *place[0] * metres;
    thing.y = *place[1] * metres;
    thing.z = *place[2] * metres;
    if (thing.item.empty()) return wrong("has no item");
    for (const Thing& other : level.things)
        if (!thing.id.empty() && other.id == thing.id) return wrong("is there twice");
    level.things.push_back(std::move(thing));
}

void readJson(Level& level, const std::string& text) {
    const json all = json::parse(text, nullptr, false);
    if (all.is_discarded() || !all.contains("things") || !all["things"].is_array())
        return level.wrong.emplace_back("this is no list of things"), void();
    std::size_t entry = 0;
    for (const json& one : all["things"]) {
        ++entry;
        Thing thing{one.value("id", ""), one.value("name", ""), one.value("item", "")};
        std::optional<double> place[3];
        for (std::size_t k = 0; k < 3; ++k)
            if (one.contains("place") && one["place"].size() == 3 && one["place"][k].is_number())
                place[k] = one["place"][k].get<double>();
        take(level, entry, std::move(thing), place, 1);
    }
}

/// With semicolons, in centimetres.
void readCsv(Level& level, std::string text) {
    if (text.rfind("\xEF\xBB\xBF", 0) == 0) text.erase(0, 3);
    std::map<std::string, std::size_t> columns;
    std::istringstream lines(text);
    std::size_t entry = 0;
    for (std::string line; std::getline(lines, line);) {
        if (!line.empty() && line.back() == '\r') line.pop_back();
        std::vector<std::string> cells(1);
        bool quoted = false;
        for (const char c : line) {
            if (c == '"')
                quoted = !quoted;
            else if (c == ';' && !quoted)
                cells.emplace_back();
            else
                cells.back() += c;
        }
        if (columns.empty()) {
            for (std::size_t i = 0; i < cells.size(); ++i) columns[cells[i]] = i;
            continue;
        }
        ++entry;
        const auto cell = [&](const char* name) {
            const auto at = columns.find(name);
            return at == columns.end() || at->second >= cells.size() ? std::string() : cells[at->second];
        };
        const std::optional<double> place[3] = {numberOf(cell("x")), numberOf(cell("y")), numberOf(cell("z"))};
        take(level, entry, Thing{cell("id"), cell("name"), cell("item")}, place, 0.01);
    }
}

std::vector<Level> load(const fs::path& settings) {
    std::vector<Level> levels;
    const auto text = textOf(settings);
    const json all = text ? json::parse(*text, nullptr, false) : json();
    if (!all.is_object() || !all.contains("levels")) return levels;
    for (const json& one : all["levels"]) {
        Level& level = levels.emplace_back();
        level.name = one.is_string() ? one.get<std::string>() : "?";
        const fs::path file = settings.parent_path() / "levels" / level.name;
        if (const auto list = textOf(file))
            file.extension() == ".csv" ? readCsv(level, *list) : readJson(level, *list);
        else
            level.wrong.push_back("the file " + file.string() + " is missing");
    }
    return levels;
}

/// From each thing to the next in the list.
double walked(const Level& level) {
    double metres = 0;
    for (std::size_t i = 1; i < level.things.size(); ++i)
        metres += std::hypot(level.things[i].x - level.things[i - 1].x, level.things[i].z - level.things[i - 1].z);
    return metres;
}

}  // namespace

int main(int argc, char** argv) {
    std::string settings;
    bool reload = false;
    for (int i = 1; i < argc; ++i) std::string(argv[i]) == "--reload" ? reload = true : (settings = argv[i], true);
    if (settings.empty()) return std::fprintf(stderr, "heron-game LEVELS.json [--reload]\n"), 2;
    const std::vector<Level> levels = load(settings);
    if (levels.empty()) return std::printf("%s lists no levels.\n", settings.c_str()), 1;
    bool fine = true;
    for (const Level& level : levels) {
        std::set<std::string> items;
        for (const Thing& thing : level.things) items.insert(thing.item);
        std::printf("%s: %zu things of %zu items, %.1f m from one to the next, %zu wrong\n", level.name.c_str(),
                    level.things.size(), items.size(), walked(level), level.wrong.size());
        for (const std::string& wrong : level.wrong) std::printf("  wrong: %s\n", wrong.c_str());
        fine = fine && level.wrong.empty() && !level.things.empty();
    }
    if (reload) {
        const std::vector<Level> again = load(settings);
        bool same = again.size() == levels.size();
        for (std::size_t i = 0; same && i < levels.size(); ++i) same = again[i].things == levels[i].things;
        std::printf("After a reload: %s\n", same ? "everything is still there." : "something is not as it was.");
        fine = fine && same;
    }
    return fine ? 0 : 1;
}
