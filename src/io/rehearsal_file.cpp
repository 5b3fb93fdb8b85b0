#include "io/rehearsal_file.h"

#include <fmt/format.h>

#include "base/text.h"

namespace io {
namespace {

using base::ErrorCode;
using rehearse::Entry;
using rehearse::Trace;

constexpr const char* kFormat = "mellow-trace";

Json idOf(base::ObjectId id) {
    return base::toText(id);
}

Json toJson(const rehearse::Pose& pose) {
    return {pose.at.x, pose.at.y, pose.at.z, pose.turn.x, pose.turn.y, pose.turn.z, pose.turn.w};
}

/// What a line must have, or it is broken.
struct Broken {
    std::string why;
};
double number(const Json& of, const char* key) {
    if (!of.contains(key) || !of[key].is_number()) throw Broken{fmt::format("{}: a number was expected.", key)};
    return of[key].get<double>();
}
int step(const Json& of, const char* key) {
    const double value = number(of, key);
    if (!(value >= 0 && value <= 1e9)) throw Broken{fmt::format("{}: a step was expected.", key)};
    return static_cast<int>(value);
}
std::vector<double> numbers(const Json& of, std::size_t count) {
    if (!of.is_array() || of.size() != count) throw Broken{fmt::format("{} numbers were expected.", count)};
    std::vector<double> all;
    for (const Json& one : of) {
        if (!one.is_number()) throw Broken{"a number was expected."};
        all.push_back(one.get<double>());
    }
    return all;
}
base::Vec3 place(const Json& of, const char* key) {
    if (!of.contains(key)) throw Broken{fmt::format("{}: a place was expected.", key)};
    const auto all = numbers(of[key], 3);
    return {all[0], all[1], all[2]};
}
base::ObjectId id(const Json& of, const char* key) {
    if (!of.contains(key)) return {};
    const auto read = of[key].is_string() ? base::parseObjectId(of[key].get<std::string>()) : std::nullopt;
    if (!read) throw Broken{fmt::format("{}: an id was expected.", key)};
    return *read;
}
rehearse::Pose pose(const Json& of) {
    const auto all = numbers(of, 7);
    return {{all[0], all[1], all[2]}, base::Quat(all[6], all[3], all[4], all[5])};
}

Json lineOf(const Entry& e) {
    Json line = {{"entry", std::string(wordOf(e.what))}, {"step", e.step}};
    if (e.object) line["object"] = idOf(e.object);
    if (e.other) line["other"] = idOf(e.other);
    line["at"] = io::toJson(e.at);
    if (e.amount != 0) line["amount"] = e.amount;
    if (!e.note.empty()) line["note"] = e.note;
    return line;
}

Entry entryFrom(const Json& line) {
    Entry e;
    const auto what = line["entry"].is_string() ? rehearse::whatOf(line["entry"].get<std::string>()) : std::nullopt;
    if (!what) throw Broken{"entry: a word that is not known."};
    e.what = *what;
    e.step = step(line, "step");
    e.object = id(line, "object");
    e.other = id(line, "other");
    e.at = place(line, "at");
    if (line.contains("amount")) e.amount = number(line, "amount");
    if (line.contains("note") && line["note"].is_string()) e.note = line["note"].get<std::string>();
    return e;
}

void take(const Json& line, Trace& trace) {
    if (line.contains("entry")) {
        trace.entries.push_back(entryFrom(line));
    } else if (line.contains("way")) {
        const auto all = numbers(line["way"], 6);
        if (!(all[0] >= 0 && all[0] <= 1e9)) throw Broken{"way: a step was expected first."};
        trace.path.push_back({static_cast<int>(all[0]), {all[1], all[2], all[3]}, all[4], all[5]});
    } else if (line.contains("thing")) {
        rehearse::Track track;
        track.object = id(line, "thing");
        track.first = pose(line.contains("first") ? line["first"] : Json());
        if (!line.contains("keys") || !line["keys"].is_array()) throw Broken{"keys: a list was expected."};
        for (const Json& key : line["keys"]) {
            if (!key.is_array() || key.size() != 8 || !key[0].is_number())
                throw Broken{"keys: eight numbers were expected."};
            Json rest = Json::array();
            for (std::size_t i = 1; i < 8; ++i) rest.push_back(key[i]);
            track.keys.push_back({key[0].get<int>(), pose(rest)});
        }
        trace.tracks.push_back(std::move(track));
    }
}

}  // namespace

std::string formatTrace(const Trace& trace) {
    Json head = {{"format", kFormat},
                 {"version", 1},
                 {"scene", trace.scene},
                 {"steps", trace.steps},
                 {"sum", fmt::format("{:016x}", trace.sum())}};
    std::string out = toText(head) + "\n";
    for (const Entry& e : trace.entries) out += toText(lineOf(e)) + "\n";
    for (const rehearse::PathPoint& p : trace.path)
        out += toText({{"way", {p.step, p.feet.x, p.feet.y, p.feet.z, p.yawDegrees, p.pitchDegrees}}}) + "\n";
    for (const rehearse::Track& track : trace.tracks) {
        if (track.keys.empty()) continue;
        Json keys = Json::array();
        for (const rehearse::Key& key : track.keys) {
            Json one = toJson(key.pose);
            one.insert(one.begin(), key.step);
            keys.push_back(std::move(one));
        }
        out +=
            toText({{"thing", idOf(track.object)}, {"first", toJson(track.first)}, {"keys", std::move(keys)}}) + "\n";
    }
    return out;
}

base::Result<Trace> parseTrace(std::string_view text, const std::string& file) {
    Trace trace;
    int lineNumber = 0;
    for (const std::string& line : base::linesOf(text)) {
        ++lineNumber;
        const auto wrong = [&](const std::string& why) {
            return base::fail(ErrorCode::BadInput, fmt::format("{}:{}: {}", file, lineNumber, why));
        };
        if (base::trimmed(line).empty()) continue;
        auto read = lineNumber == 1 ? readOurs(line, file, kFormat) : parseJson(line, file);
        if (!read) return lineNumber == 1 ? tl::unexpected(read.error()) : wrong(read.error().message);
        if (!read->is_object()) return wrong("An object was expected.");
        try {
            if (lineNumber > 1) {
                take(*read, trace);
                continue;
            }
            trace.steps = step(*read, "steps");
            if (read->contains("scene") && (*read)["scene"].is_string())
                trace.scene = (*read)["scene"].get<std::string>();
        } catch (const Broken& broken) {
            return wrong(broken.why);
        }
    }
    if (lineNumber == 0) return base::fail(ErrorCode::BadInput, file + ": is empty.");
    return trace;
}

Json toJson(const Entry& e, const rehearse::Level& level) {
    Json line = {{"seconds", e.seconds()}, {"what", std::string(wordOf(e.what))}, {"says", rehearse::textOf(e, level)}};
    const auto object = [&](const char* key, base::ObjectId id) {
        if (id) line[key] = {{"id", base::toText(id)}, {"name", level.nameOf(id)}};
    };
    object("object", e.object);
    object("other", e.other);
    line["at"] = io::toJson(e.at);
    if (e.amount != 0) line["amount"] = e.amount;
    if (!e.note.empty()) line["note"] = e.note;
    return line;
}

}  // namespace io
