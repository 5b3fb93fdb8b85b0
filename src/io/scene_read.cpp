// Reading scene files: split at newlines over the cores, then put together in tree order.
#include <fmt/format.h>

#include <algorithm>
#include <cstring>
#include <thread>
#include <unordered_map>

#include "edit/scene_writer.h"
#include "io/names.h"
#include "io/object_line.h"
#include "io/project_file.h"
#include "io/scene_file.h"

namespace io {
namespace {

/// What one thread read: objects with the lines they came from.
struct Part {
    std::vector<model::ObjectRecord> objects;
    std::vector<int> lines;  // counted from the part's own first line
    std::vector<Damage> damage;
    int lineCount = 0;
};

constexpr double kReadShare = 1.0 - edit::kBuildShare;  // of the progress

Part readPart(std::string_view text, bool endsFile, base::NameTable& names, const std::string& file, double shareOfByte,
              base::Progress& progress) {
    Part part;
    ObjectLineReader reader(names, file);
    part.objects.reserve(text.size() / 240 + 16);
    part.lines.reserve(text.size() / 240 + 16);
    std::size_t told = text.size();
    while (!text.empty()) {
        if (part.lineCount % 4096 == 0) {
            progress.add(static_cast<double>(told - text.size()) * shareOfByte);
            told = text.size();
            if (progress.cancelled()) break;
        }
        const auto* newline = static_cast<const char*>(std::memchr(text.data(), '\n', text.size()));
        const std::size_t length = newline != nullptr ? static_cast<std::size_t>(newline - text.data()) : text.size();
        std::string_view line = text.substr(0, length);
        text.remove_prefix(newline != nullptr ? length + 1 : length);
        ++part.lineCount;
        if (!line.empty() && line.back() == '\r') line.remove_suffix(1);
        if (line.find_first_not_of(" \t") == std::string_view::npos) continue;
        model::ObjectRecord& object = part.objects.emplace_back();
        if (reader.read(line, part.lineCount, endsFile && newline == nullptr, object))
            part.lines.push_back(part.lineCount);
        else
            part.objects.pop_back();
    }
    part.damage = std::move(reader.damage);
    return part;
}

std::vector<Part> readParts(std::string_view text, base::NameTable& names, const std::string& file,
                            base::Progress& progress) {
    const double shareOfByte = kReadShare / static_cast<double>(text.size() + 1);
    const std::size_t wanted = text.size() < (1 << 20) ? 1 : std::max(1u, std::thread::hardware_concurrency());
    std::vector<std::string_view> pieces;
    while (!text.empty()) {
        std::size_t cut = text.size();
        if (pieces.size() + 1 < wanted) {
            const std::size_t end = text.find('\n', text.size() / (wanted - pieces.size()));
            if (end != std::string_view::npos) cut = end + 1;
        }
        pieces.push_back(text.substr(0, cut));
        text.remove_prefix(cut);
    }
    std::vector<Part> parts(pieces.size());
    std::vector<std::thread> threads;
    auto work = [&](std::size_t i) {
        parts[i] = readPart(pieces[i], i + 1 == pieces.size(), names, file, shareOfByte, progress);
    };
    for (std::size_t i = 1; i < pieces.size(); ++i) threads.emplace_back(work, i);
    if (!pieces.empty()) work(0);
    for (std::thread& thread : threads) thread.join();
    return parts;
}

/// Puts objects in an order where parents come first, and mends what stands in the way: of two with one id the first
/// stays; an unknown parent or a cycle makes a root. Each is noted.
class TreeMender {
  public:
    TreeMender(std::vector<model::ObjectRecord>& objects, const std::vector<int>& lines, const std::string& file,
               std::vector<Damage>& damage)
        : objects_(objects), lines_(lines), file_(file), damage_(damage) {}

    std::vector<model::ObjectRecord> ordered() {
        std::vector<bool> keep(objects_.size(), true);
        for (std::size_t i = 0; i < objects_.size(); ++i) {
            auto [place, isNew] = index_.try_emplace(objects_[i].id, i);
            if (isNew) continue;
            keep[i] = false;
            note(i, "id",
                 fmt::format("{} stands at line {} already; ids must be unique.", base::toText(objects_[i].id),
                             lines_[place->second]));
        }
        for (std::size_t i = 0; i < objects_.size(); ++i) {
            if (!keep[i] || !objects_[i].parent || index_.contains(objects_[i].parent)) continue;
            note(i, "parent",
                 fmt::format("{} is not in this file; the object was put at the top.",
                             base::toText(objects_[i].parent)));
            objects_[i].parent = {};
        }
        breakCycles(keep);
        return inTreeOrder(keep);
    }

  private:
    void note(std::size_t i, std::string_view key, std::string message) {
        damage_.push_back({file_, lines_[i], std::string(key), std::move(message)});
    }

    // Walks up from each object, marking the walk; meeting its own mark is a cycle.
    void breakCycles(const std::vector<bool>& keep) {
        std::vector<std::size_t> mark(objects_.size(), 0);
        for (std::size_t i = 0; i < objects_.size(); ++i) {
            if (!keep[i]) continue;
            for (std::size_t at = i; mark[at] == 0;) {
                mark[at] = i + 1;
                if (!objects_[at].parent) break;
                const std::size_t up = index_[objects_[at].parent];
                if (mark[up] == i + 1) {
                    note(at, "parent", "Leads round in a circle; the object was put at the top.");
                    objects_[at].parent = {};
                    break;
                }
                at = up;
            }
        }
    }

    /// One that lies too deep is put at the top, with what lies below it.
    std::vector<model::ObjectRecord> inTreeOrder(const std::vector<bool>& keep) {
        std::unordered_map<base::ObjectId, std::vector<std::size_t>> children;
        std::vector<std::size_t> roots;
        for (std::size_t i = 0; i < objects_.size(); ++i)
            if (keep[i]) (objects_[i].parent ? children[objects_[i].parent] : roots).push_back(i);
        std::vector<model::ObjectRecord> result;
        std::vector<std::pair<std::size_t, int>> stack;
        for (std::size_t next = 0; next < roots.size(); ++next) {  // grows meanwhile
            stack.emplace_back(roots[next], 0);
            while (!stack.empty()) {
                const auto [i, depth] = stack.back();
                stack.pop_back();
                if (depth >= model::kDeepest) {
                    note(i, "parent",
                         fmt::format("It lies more than {} objects deep; it was put at the top.", model::kDeepest));
                    objects_[i].parent = {};
                    roots.push_back(i);
                    continue;
                }
                result.push_back(objects_[i]);
                const auto& below = children[objects_[i].id];
                for (auto child = below.rbegin(); child != below.rend(); ++child) stack.emplace_back(*child, depth + 1);
            }
        }
        return result;
    }

    std::vector<model::ObjectRecord>& objects_;
    const std::vector<int>& lines_;
    const std::string& file_;
    std::vector<Damage>& damage_;
    std::unordered_map<base::ObjectId, std::size_t> index_;
};

std::vector<base::ObjectId> insideInstances(const model::Scene& scene) {
    std::vector<base::ObjectId> all;
    for (model::Slot s = 0; s < scene.slotEnd(); ++s)
        if (scene.alive(s) && scene.instanceAround(s) != model::kNoSlot) all.push_back(scene.id(s));
    return all;
}

}  // namespace

base::Result<ParsedScene> parseScene(std::string name, std::string_view text, const std::string& file,
                                     const std::shared_ptr<base::NameTable>& names, const model::Library& library,
                                     base::Progress& progress) {
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
    const std::size_t headerEnd = std::min(text.find('\n'), text.size());
    model::SceneSettings settings;
    ObjectLineReader reader(*names, file);
    if (text.empty()) return base::fail(ErrorCode::BadInput, file + ": is empty; a scene's header line was expected.");
    switch (reader.readHeader(text.substr(0, headerEnd), settings)) {
        case ObjectLineReader::Header::NotOurs:
            return base::fail(
                ErrorCode::BadInput,
                file + ":1: format: is no scene file; {\"format\":\"mellow-scene\",\"version\":1} was expected.");
        case ObjectLineReader::Header::Newer:
            return base::fail(
                ErrorCode::Unsupported,
                file + ":1: version: was written by a newer version of the program; this one reads version 1.");
        case ObjectLineReader::Header::Damaged:
        case ObjectLineReader::Header::Fine: break;
    }
    if (settings.prefab) settings.prefab->name = prefabNameOf(file);
    std::vector<Damage> damage = std::move(reader.damage);
    std::vector<Part> parts = readParts(text.substr(std::min(headerEnd + 1, text.size())), *names, file, progress);

    std::vector<model::ObjectRecord> objects;
    std::vector<int> lines;
    int lineOffset = 1;
    for (Part& part : parts) {
        if (objects.empty())
            objects = std::move(part.objects);
        else
            objects.insert(objects.end(), std::make_move_iterator(part.objects.begin()),
                           std::make_move_iterator(part.objects.end()));
        for (int line : part.lines) lines.push_back(line + lineOffset);
        for (Damage& d : part.damage) {
            d.line += lineOffset;
            damage.push_back(std::move(d));
        }
        lineOffset += part.lineCount;
        part = {};
    }
    const std::size_t wanted = objects.size();
    model::Scene scene = edit::buildScene(name, names, library, settings, objects, progress);
    if (progress.cancelled()) return base::fail(ErrorCode::Cancelled, file + ": reading it was called off.");
    if (scene.objectCount() != wanted) {  // not in tree order, or broken
        auto ordered = TreeMender(objects, lines, file, damage).ordered();
        scene = edit::buildScene(std::move(name), names, library, settings, ordered, progress);
    }
    auto inside =
        std::any_of(objects.begin(), objects.end(), [&](const auto& r) { return r.detail && r.detail->prefab; })
            ? insideInstances(scene)
            : std::vector<base::ObjectId>{};
    for (base::ObjectId id : inside)
        damage.push_back({file, 0, "parent",
                          fmt::format("Object {} stands below an instance of a prefab; what differs in one stands in "
                                      "its own line, under “added”.",
                                      base::toText(id))});
    std::stable_sort(damage.begin(), damage.end(), [](const Damage& a, const Damage& b) { return a.line < b.line; });
    const auto kept = std::stable_partition(damage.begin(), damage.end(), [](const Damage& d) { return !d.isKept; });
    std::vector<Damage> unknown(kept, damage.end());
    damage.erase(kept, damage.end());
    return ParsedScene{std::move(scene), std::move(damage), std::move(unknown), reader.prefab};
}

base::Result<ParsedScene> parseScene(std::string name, std::string_view text, const std::string& file,
                                     const std::shared_ptr<base::NameTable>& names, const model::Library& library) {
    base::Progress unseen;
    return parseScene(std::move(name), text, file, names, library, unseen);
}

}  // namespace io
