#include "io/object_line.h"

#include <fmt/format.h>
#include <simdjson.h>

#include <algorithm>
#include <charconv>
#include <cmath>

#include "base/text.h"
#include "io/object_members.h"

namespace io {
namespace {

constexpr std::size_t kDeepest = 64;

/// A cursor over a line in the exact form we write.
struct Cursor {
    const char* at;
    const char* end;

    bool take(std::string_view text) {
        if (static_cast<std::size_t>(end - at) < text.size() || std::string_view(at, text.size()) != text) return false;
        at += text.size();
        return true;
    }
    /// A member that is true: ,"name":true
    bool takeTrue(std::string_view name) {
        const std::string_view rest(at, static_cast<std::size_t>(end - at));
        if (!rest.starts_with(",\"") || !rest.substr(2).starts_with(name)) return false;
        if (!rest.substr(2 + name.size()).starts_with("\":true")) return false;
        at += name.size() + 8;
        return true;
    }
    bool id(base::ObjectId& out) {
        if (end - at < 17) return false;
        auto parsed = base::parseObjectId({at, 16});
        if (!parsed || at[16] != '"') return false;
        out = *parsed;
        at += 17;
        return true;
    }
    /// A string without escapes, after its opening quote.
    bool text(std::string_view& out) {
        const char* from = at;
        while (at < end && *at != '"') {
            if (*at == '\\' || static_cast<unsigned char>(*at) < 0x20) return false;
            ++at;
        }
        if (at == end) return false;
        out = {from, static_cast<std::size_t>(at - from)};
        ++at;
        return true;
    }
    /// A number as JSON allows it; from_chars alone would take "inf", "nan" and "01".
    bool number(double& out) {
        const char* digits = at < end && *at == '-' ? at + 1 : at;
        if (digits >= end || *digits < '0' || *digits > '9') return false;
        if (*digits == '0' && digits + 1 < end && digits[1] >= '0' && digits[1] <= '9') return false;
        auto [stop, error] = std::from_chars(at, end, out);
        if (error != std::errc{} || !std::isfinite(out) || stop[-1] == '.') return false;
        at = stop;
        return true;
    }
    template <class V>
    bool vector(V& v, int n) {
        for (int i = 0; i < n; ++i)
            if (!number(v[i]) || !take(i + 1 < n ? "," : "]")) return false;
        return true;
    }
};

/// What simdjson cannot say itself about a line it refuses.
std::string whyNoJson(std::string_view line, simdjson::error_code code, bool last) {
    if (!base::isValidUtf8(line)) return "The line is not UTF-8 text.";
    if (code == simdjson::DEPTH_ERROR ||
        std::count(line.begin(), line.end(), '[') + std::count(line.begin(), line.end(), '{') > 2000)
        return fmt::format("The line is nested more than {} deep.", kDeepest);
    bool inText = false;
    for (std::size_t i = 0; i < line.size(); ++i) {
        if (line[i] == '\\' && inText) {
            ++i;
            continue;
        }
        if (line[i] == '"') inText = !inText;
        if (inText) continue;
        for (std::string_view word : {"NaN", "nan", "Infinity", "inf"})
            if (line.substr(i).starts_with(word))
                return fmt::format("{} is no number that can be used; finite ones are.", word);
    }
    if (code == simdjson::NUMBER_ERROR) return "A number is malformed or too large; finite ones below 1e308 are read.";
    if (last) return "The file ends in the middle of this line: it was cut short.";
    return "The line is not valid JSON.";
}

}  // namespace

struct ObjectLineReader::Dom {
    dom::parser parser;
    std::string padded;

    simdjson::simdjson_result<dom::element> parse(std::string_view line) {
        padded.assign(line);
        padded.resize(line.size() + simdjson::SIMDJSON_PADDING, ' ');
        if (parser.capacity() < line.size() || parser.max_depth() != kDeepest)
            if (auto error = parser.allocate(std::max<std::size_t>(line.size(), 4096), kDeepest)) return error;
        return parser.parse(padded.data(), line.size(), false);
    }
};

ObjectLineReader::ObjectLineReader(base::NameTable& names, std::string file)
    : names_(names), file_(std::move(file)), dom_(std::make_unique<Dom>()) {}
ObjectLineReader::~ObjectLineReader() = default;

void ObjectLineReader::note(int line, std::string_view key, std::string message) {
    damage.push_back({file_, line, std::string(key), std::move(message)});
}

base::Name ObjectLineReader::repeated(std::string_view text) {
    if (auto place = seen_.find(text); place != seen_.end()) return place->second;
    const base::Name name = names_.intern(text);
    seen_[names_.text(name)] = name;
    return name;
}

bool ObjectLineReader::read(std::string_view line, int lineNumber, bool last, model::ObjectRecord& out) {
    if (readStrict(line, out)) return true;
    out = {};
    return readForgiving(line, lineNumber, last, out);
}

bool ObjectLineReader::readStrict(std::string_view line, model::ObjectRecord& out) {
    Cursor c{line.data(), line.data() + line.size()};
    std::string_view text;
    if (!c.take("{\"id\":\"") || !c.id(out.id)) return false;
    if (c.take(",\"parent\":\"") && !c.id(out.parent)) return false;
    if (c.take(",\"name\":\"")) {
        if (!c.text(text)) return false;
        for (char ch : text)
            if (static_cast<unsigned char>(ch) >= 0x80) return false;  // the forgiving way checks UTF-8
        out.name = names_.intern(text);
    }
    for (auto [key, field] : {std::pair{std::string_view(",\"kind\":\""), &out.kind}, {",\"item\":\"", &out.item}}) {
        if (!c.take(key)) continue;
        if (!c.text(text)) return false;
        for (char ch : text)
            if (static_cast<unsigned char>(ch) >= 0x80) return false;
        *field = repeated(text);
    }
    if (c.take(",\"position\":[") && !(c.vector(out.local.position, 3) && usablePosition(out.local.position)))
        return false;
    if (c.take(",\"rotation\":[")) {
        base::Vec4 q;
        if (!c.vector(q, 4)) return false;
        out.local.rotation = base::Quat(q.w, q.x, q.y, q.z);
        if (!isUnit(out.local.rotation)) return false;
    }
    if (c.take(",\"scale\":[") && !(c.vector(out.local.scale, 3) && usableScale(out.local.scale))) return false;
    for (const auto& [bit, name] : model::flags::kNames)
        if (c.takeTrue(name)) out.flags |= bit;
    return c.take("}") && c.at == c.end;
}

namespace {

/// Does any object in `e`, however deep, have a key twice?
bool repeatsKey(dom::element e, std::string_view& which) {
    dom::array list;
    if (e.get(list) == simdjson::SUCCESS) {
        for (dom::element child : list)
            if (repeatsKey(child, which)) return true;
        return false;
    }
    dom::object object;
    if (e.get(object) != simdjson::SUCCESS) return false;
    std::vector<std::string_view> keys;
    for (auto member : object) {
        if (std::find(keys.begin(), keys.end(), member.key) != keys.end()) return which = member.key, true;
        keys.push_back(member.key);
        if (repeatsKey(member.value, which)) return true;
    }
    return false;
}

}  // namespace

namespace {

/// Could a text in the line have a control character in escaped form?
bool mentionsControl(std::string_view line) {
    for (const std::string_view escape : {"\\u", "\\b", "\\f", "\\r"})
        if (line.find(escape) != std::string_view::npos) return true;
    return false;
}

/// Has a text in `e`, however deep, a control character? `which` is the key it stands under.
bool holdsControl(dom::element e, std::string_view& which) {
    std::string_view text;
    if (e.get(text) == simdjson::SUCCESS) return base::hasControl(text);
    dom::array list;
    if (e.get(list) == simdjson::SUCCESS) {
        for (dom::element child : list)
            if (holdsControl(child, which)) return true;
        return false;
    }
    dom::object object;
    if (e.get(object) != simdjson::SUCCESS) return false;
    for (auto member : object) {
        if (base::hasControl(member.key)) return which = "", true;
        if (holdsControl(member.value, which)) return which = which.empty() ? member.key : which, true;
    }
    return false;
}

}  // namespace

bool ObjectLineReader::readForgiving(std::string_view line, int lineNumber, bool last, model::ObjectRecord& out) {
    auto parsed = dom_->parse(line);
    if (parsed.error() != simdjson::SUCCESS) return note(lineNumber, "", whyNoJson(line, parsed.error(), last)), false;
    dom::object object;
    if (parsed.get(object) != simdjson::SUCCESS)
        return note(lineNumber, "",
                    fmt::format("The line is {}; an object was expected.", typeName(parsed.type().value_unsafe()))),
               false;
    std::string_view twice;
    if (repeatsKey(parsed.value_unsafe(), twice))
        return note(lineNumber, twice, "The key stands twice; once was expected."), false;

    if (base::hasControl(line) || mentionsControl(line)) {
        std::string_view key;
        if (holdsControl(parsed.value_unsafe(), key))
            note(lineNumber, key, "Holds control characters; they were left out.");
    }
    Members(damage, file_, lineNumber, names_).object(object, out);
    out.before = {};  // siblings stand in the order of the lines
    if (!out.id) {
        const bool said = !damage.empty() && damage.back().line == lineNumber && damage.back().key == "id";
        if (!said) note(lineNumber, "id", "Is missing; an id of sixteen hexadecimal digits was expected.");
        return false;
    }
    return true;
}

namespace {

void readBookmark(Members& m, dom::object object, model::Bookmark& out) {
    for (auto [key, v] : object) {
        const std::string name = fmt::format("views.{}", key);
        if (key == "name")
            m.text(name, v, out.name);
        else if (key == "from")
            m.vector(name, v, out.from, 3);
        else if (key == "to")
            m.vector(name, v, out.to, 3);
        else if (key == "height")
            m.number(name, v, 0, 1e6, out.heightMetres);
        else
            appendUnknown(out.unknownKeys, key, v);
    }
}

void readSelection(Members& m, dom::object object, model::SavedSelection& out) {
    for (auto [key, v] : object) {
        dom::array ids;
        if (key == "name")
            m.text("selections.name", v, out.name);
        else if (key == "ids" && v.get(ids) != simdjson::SUCCESS)
            m.wrongType("selections.ids", v, "a list");
        else if (key == "ids")
            for (dom::element id : ids) m.id("selections.ids", id, out.ids.emplace_back());
        else
            appendUnknown(out.unknownKeys, key, v);
    }
}

void readRuleOff(Members& m, dom::object object, model::RuleOff& out) {
    for (auto [key, v] : object) {
        if (key == "rule")
            m.text("rulesOff.rule", v, out.rule);
        else if (key == "object")
            m.id("rulesOff.object", v, out.object);
        else
            appendUnknown(out.unknownKeys, key, v);
    }
}

void readAccepted(Members& m, dom::object object, model::AcceptedFinding& out) {
    for (auto [key, v] : object) {
        if (key == "object")
            m.id("accepted.object", v, out.object);
        else if (key == "other")
            m.id("accepted.other", v, out.other);
        else if (std::string* text = key == "rule"      ? &out.rule
                                     : key == "part"    ? &out.part
                                     : key == "message" ? &out.message
                                     : key == "reason"  ? &out.reason
                                                        : nullptr)
            m.text(fmt::format("accepted.{}", key), v, *text);
        else
            appendUnknown(out.unknownKeys, key, v);
    }
}

void readLevel(Members& m, dom::object members, std::optional<base::Aabb>& out) {
    base::Aabb box;
    for (auto [key, value] : members) {
        if (key == "low") m.vector("level.low", value, box.low, 3);
        if (key == "high") m.vector("level.high", value, box.high, 3);
    }
    if (box.empty())
        m.note("level", "Its low and its high are no box; there are no bounds then.");
    else
        out = box;
}

/// One entry for each object of a list.
template <class Entry>
void readList(Members& m, std::string_view key, dom::element value, std::vector<Entry>& out,
              void (*read)(Members&, dom::object, Entry&)) {
    dom::array list;
    if (value.get(list) != simdjson::SUCCESS) return m.wrongType(key, value, "a list");
    for (dom::element one : list) {
        dom::object object;
        if (one.get(object) == simdjson::SUCCESS)
            read(m, object, out.emplace_back());
        else
            m.wrongType(key, one, "an object");
    }
}

}  // namespace

ObjectLineReader::Header ObjectLineReader::readHeader(std::string_view line, model::SceneSettings& out) {
    auto parsed = dom_->parse(line);
    dom::object object;
    if (parsed.error() != simdjson::SUCCESS)
        return note(1, "", whyNoJson(line, parsed.error(), false)), Header::Damaged;
    if (parsed.get(object) != simdjson::SUCCESS) return Header::NotOurs;
    std::string_view format;
    if (object["format"].get(format) != simdjson::SUCCESS) return Header::NotOurs;
    const bool isPrefab = format == "mellow-prefab";
    if (!isPrefab && format != "mellow-scene") return Header::NotOurs;
    std::int64_t version = 0;
    if (object["version"].get(version) != simdjson::SUCCESS || version < 1)
        return note(1, "version", "Is missing or no whole number; 1 was expected."), Header::Damaged;
    if (version > 1) return Header::Newer;
    std::string_view twice;
    if (repeatsKey(parsed.value_unsafe(), twice))
        return note(1, twice, "The key stands twice; once was expected."), Header::Damaged;
    Members m(damage, file_, 1, names_);
    if (isPrefab) out.prefab.emplace();
    const std::size_t before = damage.size();
    for (auto [key, value] : object) {
        dom::object inner;
        if (key == "format" || key == "version") continue;
        if (isPrefab && key == "id")
            m.id(key, value, prefab);
        else if (isPrefab && key == "folder")
            m.text(key, value, out.prefab->folder);
        else if (key == "sky")
            m.vector(key, value, out.skyColour, 3);
        else if (key == "ground")
            m.vector(key, value, out.groundColour, 3);
        else if (key == "haze")
            m.number(key, value, 0, 1e6, out.hazeMetres);
        else if (key == "notes")
            m.text(key, value, out.notes);
        else if (key == "guise")
            m.text(key, value, out.guise);
        else if (key == "level" && value.get(inner) == simdjson::SUCCESS)
            readLevel(m, inner, out.level);
        else if (key == "views")
            readList(m, key, value, out.bookmarks, readBookmark);
        else if (key == "selections")
            readList(m, key, value, out.selections, readSelection);
        else if (key == "rulesOff")
            readList(m, key, value, out.rulesOff, readRuleOff);
        else if (key == "accepted")
            readList(m, key, value, out.accepted, readAccepted);
        else if (key == "sun" || key == "view") {
            if (value.get(inner) != simdjson::SUCCESS) {
                m.wrongType(key, value, "an object");
                continue;
            }
            for (auto [part, v] : inner) {
                const std::string name = fmt::format("{}.{}", key, part);
                if (name == "sun.direction")
                    m.vector(name, v, out.sunDirection, 3);
                else if (name == "sun.colour")
                    m.vector(name, v, out.sunColour, 3);
                else if (name == "sun.strength")
                    m.number(name, v, 0, 1000, out.sunStrength);
                else if (name == "view.from")
                    m.vector(name, v, out.viewFrom, 3);
                else if (name == "view.to")
                    m.vector(name, v, out.viewTo, 3);
                else
                    appendUnknown(key == "sun" ? out.unknownSunKeys : out.unknownViewKeys, part, v);
            }
        } else
            appendUnknown(out.unknownKeys, key, value);
    }
    if (isPrefab && !prefab) m.note("id", "Is missing; the prefab's id was expected.");
    return damage.size() == before ? Header::Fine : Header::Damaged;
}

bool isCanonicalLine(std::string_view line) {
    base::NameTable names;
    ObjectLineReader reader(names, "");
    model::ObjectRecord object;
    return reader.readStrict(line, object);
}

}  // namespace io
