#include "io/object_line.h"

#include <fmt/format.h>
#include <simdjson.h>

#include <algorithm>
#include <charconv>
#include <cmath>

#include "base/text.h"
#include "io/value_json.h"
#include "model/prefab.h"

namespace io {
namespace {

namespace dom = simdjson::dom;

constexpr std::size_t kDeepest = 64;
constexpr double kFarthestMetres = 1e7;
constexpr double kLargestScale = 1e5;

/// A cursor over a line in the exact form we write.
struct Cursor {
    const char* at;
    const char* end;

    bool take(std::string_view text) {
        if (static_cast<std::size_t>(end - at) < text.size() || std::string_view(at, text.size()) != text) return false;
        at += text.size();
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

bool usablePosition(const base::Vec3& p) {
    return std::abs(p.x) <= kFarthestMetres && std::abs(p.y) <= kFarthestMetres && std::abs(p.z) <= kFarthestMetres;
}
bool usableScale(const base::Vec3& s) {
    for (int i = 0; i < 3; ++i)
        if (std::abs(s[i]) < 1e-6 || std::abs(s[i]) > kLargestScale) return false;
    return true;
}
bool isUnit(const base::Quat& q) {
    return std::abs(q.x * q.x + q.y * q.y + q.z * q.z + q.w * q.w - 1.0) < 1e-6;
}

std::string_view typeName(dom::element_type type) {
    switch (type) {
        case dom::element_type::ARRAY: return "a list";
        case dom::element_type::OBJECT: return "an object";
        case dom::element_type::STRING: return "text";
        case dom::element_type::BOOL: return "true or false";
        case dom::element_type::NULL_VALUE: return "null";
        default: return "a number";
    }
}

model::Value toValue(dom::element e) {
    switch (e.type()) {
        case dom::element_type::BOOL: return {bool(e)};
        case dom::element_type::INT64: return {std::int64_t(e)};
        case dom::element_type::UINT64: return {double(std::uint64_t(e))};
        case dom::element_type::DOUBLE: return {double(e)};
        case dom::element_type::STRING: return {std::string(std::string_view(e))};
        case dom::element_type::ARRAY: {
            model::ValueList list;
            for (dom::element child : dom::array(e)) list.push_back(toValue(child));
            return {std::move(list)};
        }
        case dom::element_type::OBJECT: {
            model::ValueMap map;
            for (auto member : dom::object(e)) map.emplace_back(std::string(member.key), toValue(member.value));
            return {std::move(map)};
        }
        default: return {std::string()};
    }
}

void appendUnknown(std::string& out, std::string_view key, dom::element value) {
    if (!out.empty()) out += ',';
    base::appendJsonString(out, key);
    out += ':';
    out += simdjson::minify(value);
}

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
    return fmt::format("The line is not valid JSON ({}).", simdjson::error_message(code));
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
    if (c.take(",\"hidden\":true")) out.flags |= model::flags::kHidden;
    if (c.take(",\"protected\":true")) out.flags |= model::flags::kProtected;
    if (c.take(",\"whole\":true")) out.flags |= model::flags::kWhole;
    return c.take("}") && c.at == c.end;
}

namespace {

/// Reads members of a parsed line, noting what is not as expected.
class Members {
  public:
    Members(std::vector<Damage>& damage, const std::string& file, int line, base::NameTable& names)
        : damage_(damage), file_(file), line_(line), names_(names) {}

    void note(std::string_view key, std::string message) {
        damage_.push_back({file_, line_, std::string(key), std::move(message)});
    }
    void wrongType(std::string_view key, dom::element e, std::string_view wanted) {
        note(key, fmt::format("Is {}; {} was expected.", typeName(e.type()), wanted));
    }
    bool text(std::string_view key, dom::element e, std::string& out) {
        if (!e.is<std::string_view>()) return wrongType(key, e, "text"), false;
        out = std::string(std::string_view(e));
        return true;
    }
    void flag(std::string_view key, dom::element e, std::uint8_t bit, std::uint8_t& flags) {
        if (!e.is<bool>()) return wrongType(key, e, "true or false");
        if (bool(e)) flags |= bit;
    }
    void number(std::string_view key, dom::element e, double low, double high, double& out) {
        if (!e.is_number()) return wrongType(key, e, "a number");
        const double value = double(e);
        if (!(value >= low && value <= high))
            return note(key, fmt::format("Is {}; a number from {} to {} was expected.", value, low, high));
        out = value;
    }
    template <class V>
    bool vector(std::string_view key, dom::element e, V& out, int n) {
        const std::string wanted = fmt::format("a list of {} numbers", n);
        dom::array list;
        if (e.get(list) != simdjson::SUCCESS) return wrongType(key, e, wanted), false;
        if (list.size() != static_cast<std::size_t>(n))
            return note(key, fmt::format("Has {} entries; {} was expected.", list.size(), wanted)), false;
        V value{};
        int i = 0;
        for (dom::element entry : list) {
            if (!entry.is_number())
                return note(key, fmt::format("Holds {}; {} was expected.", typeName(entry.type()), wanted)), false;
            value[i++] = double(entry);
        }
        out = value;
        return true;
    }
    void id(std::string_view key, dom::element e, base::ObjectId& out) {
        std::string_view text;
        if (e.get(text) != simdjson::SUCCESS) return wrongType(key, e, "an id of sixteen hexadecimal digits");
        if (auto parsed = base::parseObjectId(text))
            out = *parsed;
        else
            note(key, fmt::format("“{}” is no id; sixteen hexadecimal digits, not all zero, were expected.", text));
    }
    void light(dom::element e, model::Light& out) {
        dom::object object;
        if (e.get(object) != simdjson::SUCCESS) return wrongType("light", e, "an object");
        for (auto [key, value] : object) {
            if (key == "shape") {
                std::string shape;
                if (text("light.shape", value, shape) && shape != "spot" && shape != "point")
                    note("light.shape", fmt::format("“{}” is unknown; “point” or “spot” was expected.", shape));
                if (shape == "spot") out.shape = model::LightShape::Spot;
            } else if (key == "colour")
                vector("light.colour", value, out.colour, 3);
            else if (key == "intensity")
                number("light.intensity", value, 0, 1e9, out.intensity);
            else if (key == "reach")
                number("light.reach", value, 0, kFarthestMetres, out.reachMetres);
            else if (key == "inner")
                number("light.inner", value, 0, 90, out.innerDegrees);
            else if (key == "outer")
                number("light.outer", value, 0, 90, out.outerDegrees);
            else
                appendUnknown(out.unknownKeys, key, value);
        }
    }
    void camera(dom::element e, model::Camera& out) {
        dom::object object;
        if (e.get(object) != simdjson::SUCCESS) return wrongType("camera", e, "an object");
        for (auto [key, value] : object) {
            if (key == "fieldOfView")
                number("camera.fieldOfView", value, 1, 170, out.verticalDegrees);
            else if (key == "near")
                number("camera.near", value, 1e-4, kFarthestMetres, out.nearMetres);
            else if (key == "far")
                number("camera.far", value, 1e-3, kFarthestMetres, out.farMetres);
            else
                appendUnknown(out.unknownKeys, key, value);
        }
    }
    void count(std::string_view key, dom::element e, int& out) {
        double value = out;
        number(key, e, 1, 10'000, value);
        if (value != std::floor(value)) return note(key, fmt::format("Is {}; a whole number was expected.", value));
        out = static_cast<int>(value);
    }
    void array(dom::element e, model::Array& out) {
        dom::object object;
        if (e.get(object) != simdjson::SUCCESS) return wrongType("array", e, "an object");
        const std::tuple<std::string_view, double*, double, double> numbers[] = {
            {"radius", &out.radiusMetres, 0, 1e5},  {"sweep", &out.sweepDegrees, -360, 360},
            {"turn", &out.turnDegrees, -360, 360},  {"size", &out.size, 0.1, 10},
            {"jitter", &out.jitterMetres, 0, 1e4},  {"jitterTurn", &out.jitterDegrees, 0, 180},
            {"jitterSize", &out.jitterSize, 0, 0.9}};
        for (auto [key, value] : object) {
            const std::string path = "array." + std::string(key);
            const auto* entry = std::find_if(std::begin(numbers), std::end(numbers),
                                             [&, name = key](const auto& n) { return std::get<0>(n) == name; });
            if (entry != std::end(numbers))
                number(path, value, std::get<2>(*entry), std::get<3>(*entry), *std::get<1>(*entry));
            else if (key == "shape") {
                std::string shape;
                if (text(path, value, shape) && shape != "row" && shape != "grid" && shape != "ring")
                    note(path, fmt::format("“{}” is unknown; “row”, “grid” or “ring” was expected.", shape));
                if (shape == "grid") out.shape = model::Array::Shape::Grid;
                if (shape == "ring") out.shape = model::Array::Shape::Ring;
            } else if (key == "counts") {
                dom::array list;
                if (value.get(list) != simdjson::SUCCESS || list.size() != 3) {
                    note(path, "Is no list of 3 whole numbers, as was expected.");
                    continue;
                }
                for (std::size_t i = 0; dom::element n : list) count(path, n, out.counts[i++]);
            } else if (key == "spacing")
                vector(path, value, out.spacing, 3);
            else if (key == "seed") {
                if (value.get(out.seed) != simdjson::SUCCESS) wrongType(path, value, "a whole number");
            } else
                appendUnknown(out.unknownKeys, key, value);
        }
    }
    void tint(dom::element e, std::optional<base::Vec3>& out) {
        base::Vec3 colour{1.0};
        if (!vector("tint", e, colour, 3)) return;
        for (int k = 0; k < 3; ++k)
            if (!(colour[k] >= 0 && colour[k] <= 1))
                return note("tint", fmt::format("Holds {}; numbers from 0 to 1 were expected.", colour[k]));
        out = colour;
    }
    void pose(std::string_view key, dom::element e, base::Transform& out) {
        if (key == "position") {
            base::Vec3 p{0.0};
            if (!vector(key, e, p, 3)) return;
            if (usablePosition(p))
                out.position = p;
            else
                note(key, "Lies more than 10,000 km away; a position within that was expected.");
        } else if (key == "rotation") {
            base::Vec4 v{0.0};
            if (!vector(key, e, v, 4)) return;
            const double length = glm::length(v);
            if (length < 1e-9 || !std::isfinite(length))
                return note(key, "Is a quaternion of no length; one of length 1 was expected.");
            out.rotation = base::Quat(v.w, v.x, v.y, v.z);
            if (!isUnit(out.rotation)) out.rotation /= length;
        } else {
            base::Vec3 s{1.0};
            if (!vector(key, e, s, 3)) return;
            if (usableScale(s))
                out.scale = s;
            else
                note(key, "Has a factor of nearly 0 or beyond 100,000; factors between were expected.");
        }
    }

    void solid(dom::element e, model::Solid& out) {
        dom::object object;
        if (e.get(object) != simdjson::SUCCESS) return wrongType("solid", e, "an object");
        for (auto [key, value] : object) {
            if (key == "shape") {
                std::string shape;
                if (!text("solid.shape", value, shape)) continue;
                constexpr auto names = solidNames();
                const auto* place = std::find(names.begin(), names.end(), shape);
                if (place != names.end())
                    out.shape = static_cast<model::Solid::Shape>(place - names.begin());
                else
                    note("solid.shape",
                         fmt::format("“{}” is unknown; {} was expected.", shape, fmt::join(names, ", ")));
            } else if (key == "size") {
                base::Vec3 size{1.0};
                if (!vector("solid.size", value, size, 3)) continue;
                if (glm::all(glm::greaterThan(size, base::Vec3(0.0))) && glm::all(glm::lessThan(size, base::Vec3(1e5))))
                    out.size = size;
                else
                    note("solid.size", "Holds a size of nothing or beyond 100 km; metres above 0 were expected.");
            } else if (key == "parts") {
                double parts = out.parts;
                number("solid.parts", value, 0, 1000, parts);
                out.parts = static_cast<int>(parts);
            } else
                appendUnknown(out.unknownKeys, key, value);
        }
    }
    void flags(std::string_view key, dom::element e, std::uint8_t& out) {
        dom::object object;
        if (e.get(object) != simdjson::SUCCESS) return wrongType(key, e, "an object");
        for (auto [name, value] : object)
            if (!oneFlag(name, value, out)) note(key, fmt::format("“{}” is unknown.", name));
    }
    bool oneFlag(std::string_view key, dom::element e, std::uint8_t& out) {
        if (key == "hidden")
            flag(key, e, model::flags::kHidden, out);
        else if (key == "protected")
            flag(key, e, model::flags::kProtected, out);
        else if (key == "whole")
            flag(key, e, model::flags::kWhole, out);
        else
            return false;
        return true;
    }
    void name(std::string_view key, dom::element e, base::Name& out) {
        std::string value;
        if (text(key, e, value)) out = names_.intern(value);
    }
    bool facet(std::string_view key, dom::element e, model::Detail& out) {
        if (key == "array")
            array(e, out.array.emplace());
        else if (key == "tint")
            tint(e, out.tint);
        else if (key == "light")
            light(e, out.light.emplace());
        else if (key == "camera")
            camera(e, out.camera.emplace());
        else if (key == "solid")
            solid(e, out.solid.emplace());
        else if (key == "note") {
            std::string words;
            if (text(key, e, words)) out.note = model::Note{words};
        } else
            return false;
        return true;
    }
    /// All of an object, as a line or as one that an instance adds.
    void object(dom::object members, model::ObjectRecord& out) {
        model::Detail detail;
        for (auto [key, value] : members) {
            if (key == "id")
                id(key, value, out.id);
            else if (key == "parent")
                id(key, value, out.parent);
            else if (key == "before")
                id(key, value, out.before);
            else if (key == "name" || key == "kind" || key == "item")
                name(key, value, key == "name" ? out.name : key == "kind" ? out.kind : out.item);
            else if (key == "position" || key == "rotation" || key == "scale")
                pose(key, value, out.local);
            else if (oneFlag(key, value, out.flags) || facet(key, value, detail))
                continue;
            else if (key == "prefab")
                prefab(value, detail.prefab);
            else if (key == "properties") {
                if (!value.is<dom::object>())
                    wrongType(key, value, "an object");
                else
                    detail.properties = std::get<model::ValueMap>(toValue(value).data);
            } else
                appendUnknown(detail.unknownKeys, key, value);
        }
        if (!detail.empty()) out.detail = std::make_shared<const model::Detail>(std::move(detail));
    }
    void prefab(dom::element e, model::PrefabFacet& out) {
        dom::object object;
        if (e.get(object) != simdjson::SUCCESS) return wrongType("prefab", e, "an object");
        auto link = std::make_shared<model::PrefabLink>();
        for (auto [key, value] : object) {
            if (key == "of")
                id("prefab.of", value, link->of);
            else if (key == "changed")
                eachObject("prefab.changed", value, [&](dom::object one) { difference(one, *link); });
            else if (key == "added")
                eachObject("prefab.added", value, [&](dom::object one) {
                    Members::object(one, link->added.emplace_back());
                    if (link->added.back().id) return;
                    note("prefab.added", "Has an object without an id.");
                    link->added.pop_back();
                });
            else if (key == "removed") {
                dom::array list;
                if (value.get(list) != simdjson::SUCCESS) {
                    wrongType("prefab.removed", value, "a list");
                    continue;
                }
                for (dom::element one : list) id("prefab.removed", one, link->removed.emplace_back());
                std::sort(link->removed.begin(), link->removed.end());
            } else
                appendUnknown(link->unknownKeys, key, value);
        }
        if (!link->of) return note("prefab.of", "Is missing; the id of a prefab was expected.");
        out.link = std::move(link);
    }

  private:
    template <class F>
    void eachObject(std::string_view key, dom::element e, const F& take) {
        dom::array list;
        if (e.get(list) != simdjson::SUCCESS) return wrongType(key, e, "a list");
        for (dom::element one : list) {
            dom::object object;
            if (one.get(object) == simdjson::SUCCESS)
                take(object);
            else
                wrongType(key, one, "an object");
        }
    }
    void difference(dom::object members, model::PrefabLink& link) {
        namespace part = model::part;
        constexpr std::pair<std::string_view, std::uint32_t> kParts[] = {
            {"parent", part::kPlace},      {"before", part::kPlace},
            {"name", part::kName},         {"kind", part::kKind},
            {"item", part::kItem},         {"position", part::kPosition},
            {"rotation", part::kRotation}, {"scale", part::kSize},
            {"flags", part::kFlags},       {"light", part::kLight},
            {"camera", part::kCamera},     {"note", part::kNote},
            {"tint", part::kTint},         {"array", part::kArray},
            {"solid", part::kSolid},       {"properties", part::kProperties}};
        model::Difference d;
        model::Detail detail;
        for (auto [key, value] : members) {
            if (key == "id") {
                id("prefab.changed.id", value, d.value.id);
                continue;
            }
            const auto* place = std::find_if(std::begin(kParts), std::end(kParts),
                                             [&, wanted = key](const auto& p) { return p.first == wanted; });
            if (place == std::end(kParts)) {
                note("prefab.changed", fmt::format("“{}” is no part of an object that can differ.", key));
                continue;
            }
            d.parts |= place->second;
            if (value.is_null()) continue;
            if (key == "parent" || key == "before")
                id(key, value, key == "parent" ? d.value.parent : d.value.before);
            else if (key == "name" || key == "kind" || key == "item")
                name(key, value, key == "name" ? d.value.name : key == "kind" ? d.value.kind : d.value.item);
            else if ((place->second & part::kPose) != 0)
                pose(key, value, d.value.local);
            else if (key == "flags")
                flags(key, value, d.value.flags);
            else if (key == "properties")
                properties(value, detail, d);
            else
                facet(key, value, detail);
        }
        if (!detail.empty()) d.value.detail = std::make_shared<const model::Detail>(std::move(detail));
        if (!d.value.id) return note("prefab.changed.id", "Is missing; the id of an object was expected.");
        model::put(link, std::move(d), part::kAll);
    }
    void properties(dom::element e, model::Detail& detail, model::Difference& d) {
        dom::object object;
        if (e.get(object) != simdjson::SUCCESS) return wrongType("properties", e, "an object");
        for (auto [key, value] : object)
            if (value.is_null())
                d.goneProperties.emplace_back(key);
            else
                detail.properties.emplace_back(std::string(key), toValue(value));
    }

    std::vector<Damage>& damage_;
    const std::string& file_;
    int line_;
    base::NameTable& names_;
};

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
        else if (key == "views")
            readList(m, key, value, out.bookmarks, readBookmark);
        else if (key == "selections")
            readList(m, key, value, out.selections, readSelection);
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

}  // namespace io
