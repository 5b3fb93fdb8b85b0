// Writing scene files and object lines.
#include <thread>

#include "base/text.h"
#include "io/scene_file.h"
#include "io/value_json.h"

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

void appendArray(std::string& out, const model::Array& a) {
    const model::Array usual;
    constexpr std::string_view kShapes[] = {"row", "grid", "ring"};
    out += ",\"array\":{\"shape\":\"";
    out += kShapes[static_cast<std::size_t>(a.shape)];
    out += "\",\"counts\":[";
    for (int n : a.counts) out += std::to_string(n) + ',';
    out.back() = ']';
    if (a.spacing != usual.spacing) {
        out += ",\"spacing\":";
        appendVec(out, a.spacing);
    }
    appendNumber(out, ",\"radius\":", a.radiusMetres, usual.radiusMetres);
    appendNumber(out, ",\"sweep\":", a.sweepDegrees, usual.sweepDegrees);
    appendNumber(out, ",\"turn\":", a.turnDegrees, usual.turnDegrees);
    appendNumber(out, ",\"size\":", a.size, usual.size);
    appendNumber(out, ",\"jitter\":", a.jitterMetres, usual.jitterMetres);
    appendNumber(out, ",\"jitterTurn\":", a.jitterDegrees, usual.jitterDegrees);
    appendNumber(out, ",\"jitterSize\":", a.jitterSize, usual.jitterSize);
    if (a.seed != usual.seed) out += ",\"seed\":" + std::to_string(a.seed);
    appendUnknown(out, a.unknownKeys);
    out += '}';
}

void appendDetail(std::string& out, const model::Detail& detail) {
    if (detail.light) {
        const model::Light usual;
        const model::Light& light = *detail.light;
        out += ",\"light\":{";
        const std::size_t opened = out.size();
        if (light.shape == model::LightShape::Spot) out += ",\"shape\":\"spot\"";
        if (light.colour != usual.colour) {
            out += ",\"colour\":";
            appendVec(out, light.colour);
        }
        appendNumber(out, ",\"intensity\":", light.intensity, usual.intensity);
        appendNumber(out, ",\"reach\":", light.reachMetres, usual.reachMetres);
        appendNumber(out, ",\"inner\":", light.innerDegrees, usual.innerDegrees);
        appendNumber(out, ",\"outer\":", light.outerDegrees, usual.outerDegrees);
        appendUnknown(out, light.unknownKeys);
        closeObject(out, opened);
    }
    if (detail.camera) {
        const model::Camera usual;
        out += ",\"camera\":{";
        const std::size_t opened = out.size();
        appendNumber(out, ",\"fieldOfView\":", detail.camera->verticalDegrees, usual.verticalDegrees);
        appendNumber(out, ",\"near\":", detail.camera->nearMetres, usual.nearMetres);
        appendNumber(out, ",\"far\":", detail.camera->farMetres, usual.farMetres);
        appendUnknown(out, detail.camera->unknownKeys);
        closeObject(out, opened);
    }
    if (detail.note) {
        out += ",\"note\":";
        appendJsonString(out, detail.note->text);
    }
    if (detail.tint) {
        out += ",\"tint\":";
        appendVec(out, *detail.tint);
    }
    if (detail.array) appendArray(out, *detail.array);
    if (!detail.properties.empty()) {
        out += ",\"properties\":";
        appendJson(out, detail.properties);
    }
    appendUnknown(out, detail.unknownKeys);
}

struct Fields {
    base::ObjectId id, parent;
    std::string_view name, kind, item;
    const base::Transform& local;
    std::uint8_t flags;
    const model::Detail* detail;
};

void appendLine(std::string& out, const Fields& f) {
    out += "{\"id\":\"";
    out += base::toText(f.id);
    out += '"';
    if (f.parent) {
        out += ",\"parent\":\"";
        out += base::toText(f.parent);
        out += '"';
    }
    appendText(out, ",\"name\":", f.name);
    appendText(out, ",\"kind\":", f.kind);
    appendText(out, ",\"item\":", f.item);
    const base::Transform usual;
    if (f.local.position != usual.position) {
        out += ",\"position\":";
        appendVec(out, f.local.position);
    }
    if (f.local.rotation != usual.rotation) {
        const base::Quat& q = f.local.rotation;
        out += ",\"rotation\":[";
        appendShortest(out, q.x);
        out += ',';
        appendShortest(out, q.y);
        out += ',';
        appendShortest(out, q.z);
        out += ',';
        appendShortest(out, q.w);
        out += ']';
    }
    if (f.local.scale != usual.scale) {
        out += ",\"scale\":";
        appendVec(out, f.local.scale);
    }
    if ((f.flags & model::flags::kHidden) != 0) out += ",\"hidden\":true";
    if ((f.flags & model::flags::kProtected) != 0) out += ",\"protected\":true";
    if ((f.flags & model::flags::kWhole) != 0) out += ",\"whole\":true";
    if (f.detail != nullptr) appendDetail(out, *f.detail);
    out += '}';
}

std::string headerLine(const model::SceneSettings& s) {
    const model::SceneSettings usual;
    std::string out = "{\"format\":\"mellow-scene\",\"version\":1";
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
    if (s.viewFrom != usual.viewFrom || s.viewTo != usual.viewTo || !s.unknownViewKeys.empty()) {
        out += ",\"view\":{\"from\":";
        appendVec(out, s.viewFrom);
        out += ",\"to\":";
        appendVec(out, s.viewTo);
        appendUnknown(out, s.unknownViewKeys);
        out += '}';
    }
    auto list = [&](std::string_view key, const auto& all, const auto& write) {
        if (all.empty()) return;
        out += key;
        for (const auto& one : all) {
            out += "{\"name\":";
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
    appendUnknown(out, s.unknownKeys);
    return out + "}\n";
}

}  // namespace

void appendObjectLine(std::string& out, const model::Scene& scene, model::Slot slot) {
    const model::Slot parent = scene.parent(slot);
    appendLine(out, {scene.id(slot), parent == model::kNoSlot ? base::ObjectId{} : scene.id(parent),
                     scene.nameText(slot), scene.kindText(slot), scene.itemText(slot), scene.local(slot),
                     scene.flagsOf(slot), scene.detail(slot).get()});
}

void appendObjectLine(std::string& out, const model::ObjectRecord& r, const base::NameTable& names) {
    appendLine(out, {r.id, r.parent, names.text(r.name), names.text(r.kind), names.text(r.item), r.local, r.flags,
                     r.detail.get()});
}

std::string formatScene(const model::Scene& scene) {
    const std::vector<model::Slot> order = scene.subtree(model::kNoSlot);
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
    std::string all = headerLine(scene.settings());
    for (const std::string& text : texts) all += text;
    return all;
}

}  // namespace io
