#include "io/templates.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/text.h"
#include "edit/scene_list.h"
#include "io/gltf_out.h"
#include "io/names.h"
#include "io/scene_file.h"
#include "model/facets/light.h"
#include "model/facets/note.h"

namespace io {
namespace {

namespace fs = std::filesystem;

constexpr const char* kGroundItem = "ground-slab";

/// A slab of 40 m x 40 m whose top is at height zero.
shape::Mesh groundSlab() {
    shape::Mesh mesh;
    const base::Aabb box{{-20, -0.5, -20}, {20, 0, 20}};
    static constexpr int kFaces[6][4] = {{0, 4, 6, 2}, {1, 3, 7, 5}, {0, 1, 5, 4},
                                         {2, 6, 7, 3}, {0, 2, 3, 1}, {4, 5, 7, 6}};
    static constexpr float kNormals[6][3] = {{-1, 0, 0}, {1, 0, 0}, {0, -1, 0}, {0, 1, 0}, {0, 0, -1}, {0, 0, 1}};
    for (int face = 0; face < 6; ++face) {
        const auto first = static_cast<std::uint32_t>(mesh.positions.size());
        for (int corner : kFaces[face]) {
            const base::Vec3 p = box.corner(corner);
            mesh.positions.push_back({static_cast<float>(p.x), static_cast<float>(p.y), static_cast<float>(p.z)});
            mesh.normals.push_back({kNormals[face][0], kNormals[face][1], kNormals[face][2]});
        }
        for (std::uint32_t k : {0u, 1u, 2u, 0u, 2u, 3u}) mesh.indices.push_back(first + k);
    }
    shape::Material grass;
    grass.name = "Meadow";
    grass.baseColour = {0.30F, 0.36F, 0.20F, 1.0F};
    mesh.materials.push_back(grass);
    mesh.submeshes.push_back({0, static_cast<std::uint32_t>(mesh.indices.size()), 0});
    mesh.bounds = box;
    return mesh;
}

bool isKnown(const std::string& name) {
    return std::any_of(templates().begin(), templates().end(), [&](const Template& t) { return t.name == name; });
}

base::Error unknownTemplate(const std::string& name) {
    std::string known;
    for (const Template& t : templates()) known += (known.empty() ? "" : ", ") + t.name;
    return {ErrorCode::BadInput, fmt::format("There is no template “{}”; there are: {}.", name, known)};
}

model::DetailPtr lampFacets() {
    auto lamp = std::make_shared<model::Detail>();
    lamp->put(model::Light{});
    lamp->edit<model::Light>().colour = {1.0, 0.86, 0.62};
    lamp->edit<model::Light>().reachMetres = 12;
    return lamp;
}

std::string sceneText(const std::string& templateName, base::Random& random) {
    model::SceneSettings settings;
    base::NameTable names;
    std::string text = "{\"format\":\"mellow-scene\",\"version\":1}\n";
    if (templateName == "empty") return text;
    auto add = [&](const char* name, const char* kind, const char* item, base::Vec3 at, model::DetailPtr detail,
                   std::uint8_t flags) {
        model::ObjectRecord r;
        r.id = random.nextId();
        r.name = names.intern(name);
        r.kind = names.intern(kind);
        r.item = names.intern(item);
        r.local.position = at;
        r.detail = std::move(detail);
        r.flags = flags;
        appendObjectLine(text, r, names);
        text += '\n';
    };
    add("Ground", "Structure", kGroundItem, {}, nullptr, model::flags::kProtected);
    add("Lamp", "Lamp", "", {3, 3, 2}, lampFacets(), 0);
    add("Walker start", "Walker start", "", {0, 0, 4}, nullptr, 0);
    return text;
}

model::Kind kindOf(std::string name, std::string category, std::string help, std::string mark, double cost) {
    model::Kind kind;
    kind.name = std::move(name);
    kind.category = std::move(category);
    kind.help = std::move(help);
    kind.colourMark = std::move(mark);
    kind.smallestSize = kind.largestSize = 1;
    kind.cost = cost;
    return kind;
}

std::vector<model::Kind> basicKinds() {
    model::Kind structure =
        kindOf("Structure", "Ground and walls", "What stands still and can be walked on.", "#a3a08b", 1);
    structure.smallestSize = 0.01;
    structure.largestSize = 1000;
    model::Kind lamp = kindOf("Lamp", "Lights", "A light without a shape of its own.", "#e9e27c", 2);
    lamp.facets = lampFacets();
    model::Kind start =
        kindOf("Walker start", "Required", "Where the player begins; every scene needs one.", "#93b56c", 0);
    start.needed = model::Needed::ExactlyOne;
    return {structure, lamp, start};
}

}  // namespace

const std::vector<Template>& templates() {
    static const std::vector<Template> all = {{"ground", "A level ground, a lamp, the sun and a walker start"},
                                              {"empty", "Nothing but the sun"}};
    return all;
}

const std::vector<Template>& sceneTemplates() {
    static const std::vector<Template> all = [] {
        std::vector<Template> more = templates();
        more.push_back({"required", "What the kinds of this project require, and a note that says so"});
        return more;
    }();
    return all;
}

Status createProject(const fs::path& folder, const std::string& templateName, std::uint64_t seed) {
    if (!isKnown(templateName)) return tl::unexpected(unknownTemplate(templateName));
    const auto held = base::listFolder(folder);
    if (!held) return tl::unexpected(held.error());
    if (!held->empty())
        return fail(ErrorCode::BadInput,
                    fmt::format("{}: is not empty; a new project needs a folder of its own.", folder.string()));
    for (const char* part : {"scenes", "items", "kinds", "media", "scripts"})
        if (Status made = base::makeFolder(folder / part); !made) return made;
    std::error_code failed;
    const fs::path whole = fs::absolute(folder, failed).lexically_normal();
    base::Random random(seed);
    model::Project project;
    project.name = base::withoutControl((whole.filename().empty() ? whole.parent_path() : whole).filename().string());
    project.firstScene = "first";
    std::vector<std::pair<fs::path, std::string>> files;
    for (const model::Kind& kind : basicKinds())
        files.emplace_back(folder / "kinds" / (kind.name + ".kind.json"), formatKind(kind));
    files.emplace_back(folder / "items" / (std::string(kGroundItem) + ".glb"), glbOf(groundSlab(), kGroundItem));
    files.emplace_back(sceneFile(folder, "first"), sceneText(templateName, random));
    files.emplace_back(folder / ".gitignore", ".mellow/\n*.part-*\n");
    files.emplace_back(folder / "project.json",
                       formatProject(project, {{kGroundItem, "Ground slab", "Ground", "Structure"},
                                               {"lamp", "Lamp", "Lights", "Lamp"},
                                               {"walker-start", "Walker start", "Required", "Walker start"}}));
    for (const auto& [file, bytes] : files)
        if (Status written = base::writeFileWhole(file, bytes); !written) return written;
    return {};
}

namespace {

Status addGround(Workspace& workspace, edit::Draft& draft) {
    if (auto item = addModel(workspace, draft, kGroundItem, groundSlab()); !item) return tl::unexpected(item.error());
    const std::string key = kGroundItem;
    const std::optional<model::ValueMap> said = toValues(ItemEntry(key, "Ground slab", "Ground", "Structure"));
    return draft.setEntries(std::string(model::data::kItems), {&key, 1}, {&said, 1});
}

/// One of each kind that must exist, side by side, and a note that says so.
model::Scene requiredScene(edit::Session& session, const std::string& name) {
    std::vector<model::ObjectRecord> all;
    std::string listed;
    auto add = [&](const std::string& called, const std::string& kind, const std::string& item, double x) {
        model::ObjectRecord& r = all.emplace_back();
        r.id = session.random().nextId();
        r.name = session.intern(called);
        r.kind = session.intern(kind);
        r.item = session.intern(item);
        r.local.position = {x, 0, 0};
        return &r;
    };
    for (const model::Kind& kind : session.library().kinds()) {
        if (kind.needed == model::Needed::Any) continue;
        const auto& items = session.library().items();
        const auto item = std::find_if(items.begin(), items.end(), [&](const model::Item& i) {
            return i.kind == kind.name && i.offered && !i.prefab && !i.isSolid;
        });
        const bool hasMesh = item != items.end() && !item->bounds.empty();
        model::ObjectRecord* r =
            add(kind.name, kind.name, hasMesh ? item->name : "", 3.0 * static_cast<double>(all.size()));
        r->detail = kind.facets;
        listed += fmt::format("\n{}: {}", kind.name,
                              kind.needed == model::Needed::ExactlyOne ? "exactly one" : "at least one");
    }
    auto note = std::make_shared<model::Detail>();
    note->edit<model::Note>().text =
        listed.empty() ? "The kinds of this project require nothing. This note may be deleted."
                       : "What every scene of this project has:" + listed +
                             "\nThey stand in a row here: move them where they belong. This note may be "
                             "deleted.";
    add("Guide", "", "", -3)->detail = note;
    base::Progress unseen;
    return edit::buildScene(name, session.project().names, session.library(), {}, all, unseen);
}

}  // namespace

Status createScene(Workspace& workspace, edit::Draft& draft, const std::string& name, const std::string& templateName) {
    edit::Session& session = *workspace.session;
    if (!draft.state()) return draft.state();
    if (Status usable = edit::usableSceneName(session, name); !usable) return usable;
    if (templateName == "required") return edit::addScene(draft, name, requiredScene(session, name));
    if (!isKnown(templateName)) return tl::unexpected(unknownTemplate(templateName));
    if (templateName == "ground" && session.library().item(session.intern(kGroundItem)) == nullptr)
        if (Status added = addGround(workspace, draft); !added) return added;
    auto parsed =
        parseScene(name, sceneText(templateName, session.random()), name, session.project().names, session.library());
    return parsed ? edit::addScene(draft, name, parsed->scene) : Status(tl::unexpected(parsed.error()));
}

}  // namespace io
