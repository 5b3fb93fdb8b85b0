#include "io/object_members.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "io/object_line.h"
#include "model/facets/array.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/note.h"
#include "model/facets/solid.h"

namespace io {
namespace {

constexpr double kLargestScale = 1e5;

}  // namespace

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
        case dom::element_type::STRING: return {base::withoutControl(std::string_view(e))};
        case dom::element_type::ARRAY: {
            model::ValueList list;
            for (dom::element child : dom::array(e)) list.push_back(toValue(child));
            return {std::move(list)};
        }
        case dom::element_type::OBJECT: {
            model::ValueMap map;
            for (auto member : dom::object(e))
                if (!base::hasControl(member.key)) map.emplace_back(std::string(member.key), toValue(member.value));
            return {std::move(map)};
        }
        default: return {std::string()};
    }
}

namespace {

/// As it stands, without control characters; the line's reader has told of them.
void appendElement(std::string& out, dom::element e) {
    if (e.type() == dom::element_type::STRING) {
        base::appendJsonString(out, base::withoutControl(std::string_view(e)));
    } else if (e.type() == dom::element_type::ARRAY) {
        out += '[';
        for (dom::element child : dom::array(e)) {
            if (out.back() != '[') out += ',';
            appendElement(out, child);
        }
        out += ']';
    } else if (e.type() == dom::element_type::OBJECT) {
        out += '{';
        for (auto member : dom::object(e)) {
            if (base::hasControl(member.key)) continue;  // without them it would be another key
            if (out.back() != '{') out += ',';
            base::appendJsonString(out, member.key);
            out += ':';
            appendElement(out, member.value);
        }
        out += '}';
    } else {
        out += simdjson::minify(e);
    }
}

}  // namespace

void appendUnknown(std::string& out, std::string_view key, dom::element value) {
    if (base::hasControl(key)) return;
    if (!out.empty()) out += ',';
    base::appendJsonString(out, key);
    out += ':';
    appendElement(out, value);
}

void Members::note(std::string_view key, std::string message) {
    damage_.push_back({file_, line_, std::string(key), std::move(message)});
}

void Members::wrongType(std::string_view key, dom::element e, std::string_view wanted) {
    note(key, fmt::format("Is {}; {} was expected.", typeName(e.type()), wanted));
}

bool Members::text(std::string_view key, dom::element e, std::string& out) {
    if (!e.is<std::string_view>()) return wrongType(key, e, "text"), false;
    out = base::withoutControl(std::string_view(e));  // the line's reader has told of them
    return true;
}

void Members::flag(std::string_view key, dom::element e, std::uint8_t bit, std::uint8_t& flags) {
    if (!e.is<bool>()) return wrongType(key, e, "true or false");
    if (bool(e)) flags |= bit;
}

void Members::number(std::string_view key, dom::element e, double low, double high, double& out) {
    if (!e.is_number()) return wrongType(key, e, "a number");
    const double value = double(e);
    if (!(value >= low && value <= high))
        return note(key, fmt::format("Is {}; a number from {} to {} was expected.", value, low, high));
    out = value;
}

bool Members::numbers(std::string_view key, dom::element e, double* out, int n) {
    const std::string wanted = fmt::format("a list of {} numbers", n);
    dom::array list;
    if (e.get(list) != simdjson::SUCCESS) return wrongType(key, e, wanted), false;
    if (list.size() != static_cast<std::size_t>(n))
        return note(key, fmt::format("Has {} entries; {} was expected.", list.size(), wanted)), false;
    for (dom::element entry : list) {
        if (!entry.is_number())
            return note(key, fmt::format("Holds {}; {} was expected.", typeName(entry.type()), wanted)), false;
        *out++ = double(entry);
    }
    return true;
}

void Members::id(std::string_view key, dom::element e, base::ObjectId& out) {
    std::string_view text;
    if (e.get(text) != simdjson::SUCCESS) return wrongType(key, e, "an id of sixteen hexadecimal digits");
    if (auto parsed = base::parseObjectId(text))
        out = *parsed;
    else
        note(key, fmt::format("“{}” is no id; sixteen hexadecimal digits, not all zero, were expected.", text));
}

void Members::pose(std::string_view key, dom::element e, base::Transform& out) {
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

void Members::flags(std::string_view key, dom::element e, std::uint8_t& out) {
    dom::object object;
    if (e.get(object) != simdjson::SUCCESS) return wrongType(key, e, "an object");
    for (auto [name, value] : object)
        if (!oneFlag(name, value, out)) note(key, fmt::format("“{}” is unknown.", name));
}

bool Members::oneFlag(std::string_view key, dom::element e, std::uint8_t& out) {
    const auto* place = std::find_if(std::begin(model::flags::kNames), std::end(model::flags::kNames),
                                     [&](const auto& named) { return named.second == key; });
    if (place == std::end(model::flags::kNames)) return false;
    flag(key, e, place->first, out);
    return true;
}

void Members::name(std::string_view key, dom::element e, base::Name& out) {
    std::string value;
    if (text(key, e, value)) out = names_.intern(value);
}

bool Members::facet(std::string_view key, dom::element e, model::Detail& out) {
    const model::FacetType* type = model::facetType(key);
    if (type == nullptr) return false;
    const std::shared_ptr<void> read = type->make();
    if (!(type->bare ? member(std::string(key), e, type->fields.members[0], type->fields, read.get())
                     : fields(std::string(key), e, type->fields, 0, read.get())))
        return true;
    if (type->mend != nullptr)
        if (const std::string wrong = type->mend(read.get()); !wrong.empty()) {
            const std::size_t colon = wrong.find(": ");
            note(fmt::format("{}.{}", key, wrong.substr(0, colon)), wrong.substr(colon + 2));
        }
    out.facets.put(*type, read);
    return true;
}

bool Members::fields(const std::string& path, dom::element e, const model::Fields& fields, std::size_t from, void* of) {
    dom::object object;
    if (e.get(object) != simdjson::SUCCESS) return wrongType(path, e, "an object"), false;
    for (auto [key, value] : object) {
        const model::Member* known = fields.find(key);
        if (known != nullptr && known->stored && known >= fields.members.data() + from)
            member(path + '.' + std::string(key), value, *known, fields, of);
        else if (fields.unknown != nullptr)
            appendUnknown(fields.unknown(of).members, key, value);
    }
    for (const model::Member& m : fields.members)
        if (m.property.required && object.at_key(m.property.name).error() != simdjson::SUCCESS)
            note(path + '.' + m.property.name, "Is missing.");
    return true;
}

bool Members::member(const std::string& path, dom::element e, const model::Member& m, const model::Fields& fields,
                     void* of) {
    if (m.parts.fields != nullptr) return parts(path, e, m, of);
    if (e.is_null()) return wrongType(path, e, "a value"), false;
    const model::Value value = toValue(e);
    const auto* word = std::get_if<std::string>(&value.data);
    if (m.property.type == model::PropertyType::Choice && word != nullptr && !m.set(of, value)) {
        std::vector<std::string> words;
        for (const model::Choice& c : m.property.choices) words.push_back("“" + c.value + "”");
        note(path, fmt::format("“{}” is unknown here{}; {} were expected.", *word,
                               fields.unknown != nullptr ? " and stays as it is" : "", fmt::join(words, ", ")));
        if (fields.unknown == nullptr) return false;
        damage_.back().isKept = true;
        model::setValue(fields.unknown(of).words, m.property.name, value);
        return true;
    }
    const base::Status fits = model::setMember(fields, of, m, value);
    if (fits) return true;
    // The path says which.
    const std::string& message = fits.error().message;
    const std::string said = m.property.label + ": ";
    note(path, message.starts_with(said) ? message.substr(said.size()) : message);
    return false;
}

bool Members::parts(const std::string& path, dom::element e, const model::Member& m, void* of) {
    const model::Fields& each = *m.parts.fields;
    if (m.parts.named) {
        dom::object object;
        if (e.get(object) != simdjson::SUCCESS) return wrongType(path, e, "an object"), false;
        for (auto [name, value] : object) {
            if (!value.is<dom::object>()) {
                wrongType(fmt::format("{}.{}", path, name), value, "an object");
                continue;
            }
            void* one = m.parts.add(of);
            each.members[0].set(one, model::Value{std::string(name)});
            fields(fmt::format("{}.{}", path, name), value, each, 1, one);
        }
        return true;
    }
    dom::array list;
    if (e.get(list) != simdjson::SUCCESS) return wrongType(path, e, "a list"), false;
    for (std::size_t i = 1; dom::element value : list) {
        const std::string at = fmt::format("{}.{}", path, i);
        if (value.is<dom::object>())
            fields(at, value, each, 0, m.parts.add(of)), ++i;
        else
            wrongType(path, value, "an object");
    }
    return true;
}

void Members::object(dom::object members, model::ObjectRecord& out) {
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

void Members::prefab(dom::element e, model::PrefabFacet& out) {
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

void Members::difference(dom::object members, model::PrefabLink& link) {
    namespace part = model::part;
    model::Difference d;
    model::Detail detail;
    for (auto [key, value] : members) {
        if (key == "id") {
            id("prefab.changed.id", value, d.value.id);
            continue;
        }
        if (const model::FacetType* type = model::facetType(key)) {
            d.parts.add(*type);
            if (!value.is_null()) facet(key, value, detail);
            continue;
        }
        const auto* place =
            std::find_if(std::begin(part::kWords), std::end(part::kWords), [&, wanted = key](const part::Words& p) {
                return p.key == (wanted == "before" ? std::string_view("parent") : wanted);
            });
        if (place == std::end(part::kWords)) {
            note("prefab.changed", fmt::format("“{}” is no part of an object that can differ.", key));
            continue;
        }
        d.parts.add(place->bit);
        if (value.is_null()) continue;
        if (key == "parent" || key == "before")
            id(key, value, key == "parent" ? d.value.parent : d.value.before);
        else if (key == "name" || key == "kind" || key == "item")
            name(key, value, key == "name" ? d.value.name : key == "kind" ? d.value.kind : d.value.item);
        else if ((place->bit & part::kPose) != 0)
            pose(key, value, d.value.local);
        else if (key == "flags")
            flags(key, value, d.value.flags);
        else if (key == "properties")
            properties(value, detail, d);
    }
    if (!detail.empty()) d.value.detail = std::make_shared<const model::Detail>(std::move(detail));
    if (!d.value.id) return note("prefab.changed.id", "Is missing; the id of an object was expected.");
    model::put(link, std::move(d), model::PartSet::all());
}

void Members::properties(dom::element e, model::Detail& detail, model::Difference& d) {
    dom::object object;
    if (e.get(object) != simdjson::SUCCESS) return wrongType("properties", e, "an object");
    for (auto [key, value] : object)
        if (value.is_null())
            d.goneProperties.emplace_back(key);
        else
            detail.properties.emplace_back(std::string(key), toValue(value));
}

}  // namespace io
