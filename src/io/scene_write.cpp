// Writing scene files and object lines.
#include <fmt/format.h>

#include <thread>

#include "base/text.h"
#include "io/object_line.h"
#include "io/scene_file.h"
#include "model/facets/array.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/note.h"
#include "model/facets/solid.h"
#include "model/prefab.h"
#include "model/value_json.h"

namespace io {
namespace {

using base::appendJsonString;
using base::appendShortest;

void appendVec(std::string& out, const base::Vec3& v) {
    out += '[';
    appendShortest(out, v.x);
    out += ',';
    appendShortest(out, v.y);
    out += ',';
    appendShortest(out, v.z);
    out += ']';
}

void appendText(std::string& out, std::string_view key, std::string_view text) {
    if (text.empty()) return;
    out += key;
    appendJsonString(out, text);
}

void appendNumber(std::string& out, std::string_view key, double value, double usual) {
    if (value == usual) return;
    out += key;
    appendShortest(out, value);
}

/// What a newer version wrote, after what this one knows.
void appendUnknown(std::string& out, const std::string& members) {
    if (members.empty()) return;
    out += ',';
    out += members;
}

/// Members after the first carry a comma; the first does not.
void closeObject(std::string& out, std::size_t opened) {
    if (out.size() > opened && out[opened] == ',') out.erase(opened, 1);
    out += '}';
}

void appendFlags(std::string& out, std::uint8_t flags) {
    for (const auto& [bit, name] : model::flags::kNames)
        if ((flags & bit) != 0) out.append(",\"").append(name).append("\":true");
}

void appendRotation(std::string& out, const base::Quat& q) {
    out += ",\"rotation\":[";
    for (double part : {q.x, q.y, q.z, q.w}) {
        appendShortest(out, part);
        out += ',';
    }
    out.back() = ']';
}

void appendFields(std::string& out, const model::Fields& fields, const void* of, bool pointed, std::size_t from = 0);

/// What stands under a member's key.
void appendMember(std::string& out, const model::Member& m, const void* of, bool pointed) {
    if (m.parts.fields == nullptr) return model::appendJson(out, m.get(of).value_or(model::Value{}), pointed);
    const model::Member& name = m.parts.fields->members[0];
    out += m.parts.named ? '{' : '[';
    for (std::size_t i = 0; i < m.parts.size(of); ++i) {
        const void* one = m.parts.at(of, i);
        if (i > 0) out += ',';
        if (m.parts.named) {
            appendMember(out, name, one, pointed);
            out += ':';
        }
        appendFields(out, *m.parts.fields, one, pointed, m.parts.named ? 1 : 0);
    }
    out += m.parts.named ? '}' : ']';
}

/// What is usual is left out; a word of a newer version stands where it stood.
void appendFields(std::string& out, const model::Fields& fields, const void* of, bool pointed, std::size_t from) {
    out += '{';
    const std::size_t opened = out.size();
    const model::Unknown* unknown = fields.unknownOf(of);
    for (std::size_t i = from; i < fields.members.size(); ++i) {
        const model::Member& m = fields.members[i];
        if (!m.stored) continue;
        const model::Value* word = unknown != nullptr ? model::valueOf(unknown->words, m.property.name) : nullptr;
        if (word == nullptr && !m.always && model::isUsual(m, of)) continue;
        out.append(",\"").append(m.property.name).append("\":");
        if (word != nullptr)
            model::appendJson(out, *word);
        else
            appendMember(out, m, of, pointed);
    }
    if (unknown != nullptr) appendUnknown(out, unknown->members);
    closeObject(out, opened);
}

}  // namespace

void appendFacet(std::string& out, const model::FacetType& type, const void* facet) {
    out.append(",\"").append(type.key).append("\":");
    if (type.bare)
        appendMember(out, type.fields.members[0], facet, type.pointed);
    else
        appendFields(out, type.fields, facet, type.pointed);
}

namespace {

void appendLink(std::string& out, const model::PrefabLink& link, const base::NameTable& names);

void appendDetail(std::string& out, const model::Detail& detail, const base::NameTable& names) {
    if (!detail.facets.empty())
        for (const model::FacetType* type : model::facetTypes())
            if (const void* facet = detail.facets.find(*type)) appendFacet(out, *type, facet);
    if (!detail.properties.empty()) {
        out += ",\"properties\":";
        appendJson(out, detail.properties);
    }
    if (detail.prefab) appendLink(out, *detail.prefab, names);
    appendUnknown(out, detail.unknownKeys);
}

void appendId(std::string& out, std::string_view key, base::ObjectId id) {
    out += key;
    out += id ? '"' + base::toText(id) + '"' : "null";
}

/// What is named is written, be it the usual value; a facet that the definition has and the instance has not is null.
void appendDifference(std::string& out, const model::Difference& d, const base::NameTable& names) {
    namespace part = model::part;
    auto says = [&](std::uint32_t which) { return d.parts.has(which); };
    appendId(out, "{\"id\":", d.value.id);
    if (says(part::kPlace)) {
        appendId(out, ",\"parent\":", d.value.parent);
        if (d.value.before) appendId(out, ",\"before\":", d.value.before);
    }
    auto text = [&](std::uint32_t which, std::string_view key, base::Name name) {
        if (!says(which)) return;
        out += key;
        appendJsonString(out, names.text(name));
    };
    text(part::kName, ",\"name\":", d.value.name);
    text(part::kKind, ",\"kind\":", d.value.kind);
    text(part::kItem, ",\"item\":", d.value.item);
    if (says(part::kPosition)) {
        out += ",\"position\":";
        appendVec(out, d.value.local.position);
    }
    if (says(part::kRotation)) appendRotation(out, d.value.local.rotation);
    if (says(part::kSize)) {
        out += ",\"scale\":";
        appendVec(out, d.value.local.scale);
    }
    if (says(part::kFlags)) {
        out += ",\"flags\":{";
        const std::size_t opened = out.size();
        appendFlags(out, d.value.flags);
        closeObject(out, opened);
    }
    const model::Detail none;
    const model::Detail& detail = d.value.detail ? *d.value.detail : none;
    for (const model::FacetType* type : model::facetTypes()) {
        if (!d.parts.has(*type)) continue;
        if (const void* facet = detail.facets.find(*type))
            appendFacet(out, *type, facet);
        else
            out.append(",\"").append(type->key).append("\":null");
    }
    if (says(part::kProperties)) {
        out += ",\"properties\":";
        appendJson(out, detail.properties);
        for (const std::string& key : d.goneProperties) {
            out.back() = out[out.size() - 2] == '{' ? ' ' : ',';
            if (out.back() == ' ') out.pop_back();
            appendJsonString(out, key);
            out += ":null}";
        }
    }
    out += '}';
}

void appendLink(std::string& out, const model::PrefabLink& link, const base::NameTable& names) {
    appendId(out, ",\"prefab\":{\"of\":", link.of);
    auto list = [&](std::string_view key, const auto& all, const auto& write) {
        if (all.empty()) return;
        out += key;
        for (const auto& one : all) {
            write(one);
            out += ',';
        }
        out.back() = ']';
    };
    list(",\"changed\":[", link.changed, [&](const model::Difference& d) { appendDifference(out, d, names); });
    list(",\"removed\":[", link.removed, [&](base::ObjectId id) { appendId(out, "", id); });
    list(",\"added\":[", link.added, [&](const model::ObjectRecord& r) { appendObjectLine(out, r, names); });
    appendUnknown(out, link.unknownKeys);
    out += '}';
}

struct Fields {
    base::ObjectId id, parent, before;
    std::string_view name, kind, item;
    const base::Transform& local;
    std::uint8_t flags;
    const model::Detail* detail;
};

void appendLine(std::string& out, const Fields& f, const base::NameTable& names) {
    out += "{\"id\":\"";
    out += base::toText(f.id);
    out += '"';
    if (f.parent) {
        out += ",\"parent\":\"";
        out += base::toText(f.parent);
        out += '"';
    }
    if (f.before) appendId(out, ",\"before\":", f.before);
    appendText(out, ",\"name\":", f.name);
    appendText(out, ",\"kind\":", f.kind);
    appendText(out, ",\"item\":", f.item);
    const base::Transform usual;
    if (f.local.position != usual.position) {
        out += ",\"position\":";
        appendVec(out, f.local.position);
    }
    if (f.local.rotation != usual.rotation) appendRotation(out, f.local.rotation);
    if (f.local.scale != usual.scale) {
        out += ",\"scale\":";
        appendVec(out, f.local.scale);
    }
    appendFlags(out, f.flags);
    if (f.detail != nullptr) appendDetail(out, *f.detail, names);
    out += '}';
}

std::string headerLine(const model::SceneSettings& s, base::ObjectId prefab) {
    const model::SceneSettings usual;
    std::string out = "{\"format\":\"mellow-scene\",\"version\":1";
    if (s.prefab) {
        out = "{\"format\":\"mellow-prefab\",\"version\":1,\"id\":\"" + base::toText(prefab) + '"';
        appendText(out, ",\"folder\":", s.prefab->folder);
    }
    if (s.sunDirection != usual.sunDirection || s.sunColour != usual.sunColour || s.sunStrength != usual.sunStrength ||
        !s.unknownSunKeys.empty()) {
        out += ",\"sun\":{\"direction\":";
        appendVec(out, s.sunDirection);
        out += ",\"colour\":";
        appendVec(out, s.sunColour);
        out += ",\"strength\":";
        appendShortest(out, s.sunStrength);
        appendUnknown(out, s.unknownSunKeys);
        out += '}';
    }
    auto vec = [&](std::string_view key, const base::Vec3& value, const base::Vec3& other) {
        if (value == other) return;
        out += key;
        appendVec(out, value);
    };
    vec(",\"sky\":", s.skyColour, usual.skyColour);
    vec(",\"ground\":", s.groundColour, usual.groundColour);
    if (s.hazeMetres != 0) {
        out += ",\"haze\":";
        appendShortest(out, s.hazeMetres);
    }
    if (!s.notes.empty()) appendText(out, ",\"notes\":", s.notes);
    if (!s.guise.empty()) appendText(out, ",\"guise\":", s.guise);
    if (s.level) {
        out += ",\"level\":{\"low\":";
        appendVec(out, s.level->low);
        out += ",\"high\":";
        appendVec(out, s.level->high);
        out += '}';
    }
    if (s.viewFrom != usual.viewFrom || s.viewTo != usual.viewTo || !s.unknownViewKeys.empty()) {
        out += ",\"view\":{\"from\":";
        appendVec(out, s.viewFrom);
        out += ",\"to\":";
        appendVec(out, s.viewTo);
        appendUnknown(out, s.unknownViewKeys);
        out += '}';
    }
    auto list = [&](std::string_view key, const auto& all, const auto& write, const char* first = "name") {
        if (all.empty()) return;
        out += key;
        for (const auto& one : all) {
            out += fmt::format("{{\"{}\":", first);
            if constexpr (requires { one.rule; })
                appendJsonString(out, one.rule);
            else
                appendJsonString(out, one.name);
            write(one);
            appendUnknown(out, one.unknownKeys);
            out += "},";
        }
        out.back() = ']';
    };
    list(",\"views\":[", s.bookmarks, [&](const model::Bookmark& b) {
        out += ",\"from\":";
        appendVec(out, b.from);
        out += ",\"to\":";
        appendVec(out, b.to);
        appendNumber(out, ",\"height\":", b.heightMetres, 0);
    });
    list(",\"selections\":[", s.selections, [&](const model::SavedSelection& kept) {
        out += ",\"ids\":[";
        for (base::ObjectId id : kept.ids) out += (out.back() == '[' ? "\"" : ",\"") + base::toText(id) + '"';
        out += ']';
    });
    auto id = [&](std::string_view key, base::ObjectId one) {
        if (one) out += fmt::format(",\"{}\":\"{}\"", key, base::toText(one));
    };
    auto text = [&](std::string_view key, const std::string& one) {
        if (one.empty()) return;
        out += fmt::format(",\"{}\":", key);
        appendJsonString(out, one);
    };
    list(
        ",\"rulesOff\":[", s.rulesOff, [&](const model::RuleOff& off) { id("object", off.object); }, "rule");
    list(
        ",\"accepted\":[", s.accepted,
        [&](const model::AcceptedFinding& a) {
            id("object", a.object);
            id("other", a.other);
            text("part", a.part);
            text("message", a.message);
            text("reason", a.reason);
        },
        "rule");
    appendUnknown(out, s.unknownKeys);
    return out + "}\n";
}

}  // namespace

void appendObjectLine(std::string& out, const model::Scene& scene, model::Slot slot) {
    const model::Slot parent = scene.parent(slot);
    const model::Detail* detail = scene.detail(slot).get();
    const bool ownItem = detail == nullptr || !detail->get<model::Solid>();
    appendLine(out,
               {scene.id(slot),
                parent == model::kNoSlot ? base::ObjectId{} : scene.id(parent),
                {},
                scene.nameText(slot),
                scene.kindText(slot),
                ownItem ? scene.itemText(slot) : std::string_view{},
                scene.local(slot),
                scene.flagsOf(slot),
                detail},
               scene.names());
}

void appendObjectLine(std::string& out, const model::ObjectRecord& r, const base::NameTable& names) {
    appendLine(out,
               {r.id, r.parent, r.before, names.text(r.name), names.text(r.kind), names.text(r.item), r.local, r.flags,
                r.detail.get()},
               names);
}

std::string formatScene(const model::Scene& scene) {
    const std::vector<model::Slot> order = scene.ownSubtree(model::kNoSlot);
    const std::size_t parts = order.size() < 4096 ? 1 : std::max(1u, std::thread::hardware_concurrency());
    std::vector<std::string> texts(parts);
    auto work = [&](std::size_t part) {
        const std::size_t from = order.size() * part / parts;
        const std::size_t to = order.size() * (part + 1) / parts;
        texts[part].reserve((to - from) * 220);
        for (std::size_t i = from; i < to; ++i) {
            appendObjectLine(texts[part], scene, order[i]);
            texts[part] += '\n';
        }
    };
    std::vector<std::thread> threads;
    for (std::size_t part = 1; part < parts; ++part) threads.emplace_back(work, part);
    work(0);
    for (std::thread& thread : threads) thread.join();
    std::string all = headerLine(scene.settings(), model::prefabOf(scene.name()));
    for (const std::string& text : texts) all += text;
    return all;
}

}  // namespace io
