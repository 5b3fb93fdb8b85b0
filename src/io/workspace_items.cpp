// The project's models and what is said of them.
#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <thread>
#include <unordered_set>

#include "base/text.h"
#include "io/added.h"
#include "io/foreign_mesh.h"
#include "io/gltf_in.h"
#include "io/gltf_out.h"
#include "io/import_model.h"
#include "io/names.h"
#include "io/workspace_parts.h"

namespace io {
namespace {

namespace fs = std::filesystem;

std::string relativeModel(const std::string& item) {
    return "items/" + item + ".glb";
}
/// Where the model of an item that was deleted waits, in case that is taken back.
fs::path removedModels(const fs::path& folder) {
    return folder / ".mellow" / "removed";
}
fs::path removedModel(const fs::path& folder, const std::string& item) {
    return removedModels(folder) / (item + ".glb");
}

std::string labelFrom(std::string name) {
    std::replace(name.begin(), name.end(), '-', ' ');
    std::replace(name.begin(), name.end(), '_', ' ');
    if (!name.empty() && name[0] >= 'a' && name[0] <= 'z') name[0] = static_cast<char>(name[0] - 32);
    return name;
}

struct LoadedModel {
    fs::path file;
    Result<ImportedModel> model = fail(ErrorCode::NotFound, "");
};

/// Model files: those in items/, and of those that wait the ones that are not there.
std::vector<LoadedModel> findModels(const fs::path& folder, std::vector<Damage>& damage) {
    std::vector<LoadedModel> all;
    std::unordered_set<std::string> known;
    for (const fs::path& where : {folder / "items", folder / ".mellow" / "added" / "items"}) {
        const auto files = base::listFolder(where);
        if (!files) damage.push_back({where.string(), 0, "", files.error().message});
        for (const fs::path& file : files.value_or(std::vector<fs::path>{})) {
            const std::string ending = base::lowered(file.extension().string());
            if ((ending != ".glb" && ending != ".gltf") || !known.insert(file.stem().string()).second) continue;
            if (!base::isFileName(file.filename().string()))
                damage.push_back({base::forTerminal(file.string()), 0, "",
                                  base::forTerminal(file.string()) + ": its name cannot be that of a model."});
            else if (auto placed = base::inside(folder, file.lexically_relative(folder)); !placed)
                damage.push_back({file.string(), 0, "", placed.error().message});
            else
                all.push_back({file});
        }
    }
    std::sort(all.begin(), all.end(), [](const LoadedModel& a, const LoadedModel& b) { return a.file < b.file; });
    return all;
}

void readModels(std::vector<LoadedModel>& all, const fs::path& folder, const base::Progress& progress) {
    std::atomic<std::size_t> next{0};
    auto work = [&] {
        for (std::size_t i = next++; i < all.size() && !progress.cancelled(); i = next++)
            all[i].model = readModel(all[i].file, folder);
    };
    std::vector<std::thread> threads;
    for (unsigned i = 1; i < std::max(1u, std::thread::hardware_concurrency()); ++i) threads.emplace_back(work);
    work();
    for (std::thread& thread : threads) thread.join();
}

/// What people call it, where the Stock lists it, what placed objects become.
void label(model::Item& item, const std::string& name, const ItemEntry* entry) {
    static_cast<model::ItemFacts&>(item) =
        entry != nullptr ? static_cast<const model::ItemFacts&>(*entry) : model::ItemFacts{};
    item.name = name;
    if (item.label.empty()) item.label = labelFrom(name);
    if (item.folder.empty()) item.folder = "Models";
}

model::Item itemOf(const std::string& name, const ItemEntry* entry, const Result<ImportedModel>& model) {
    model::Item item;
    label(item, name, entry);
    if (!model) {
        item.problem = model.error().message;
        return item;
    }
    measure(item, model->mesh);
    item.remarks = model->remarks;
    return item;
}

/// Its model where it is, or waits; nothing: it has none.
std::optional<Result<ImportedModel>> readAgain(const model::Project& project, const std::string& item) {
    for (const fs::path& file :
         {fs::path(relativeModel(item)), fs::path("items") / (item + ".gltf"),
          fs::path(".mellow") / "added" / relativeModel(item), fs::path(".mellow") / "removed" / (item + ".glb")}) {
        const auto there = base::inside(project.folder, file);
        if (there && base::exists(*there)) return readModel(*there, project.folder);
    }
    return std::nullopt;
}

/// Its mesh is what its file holds, in the units, with the up and without the part that is said of it.
void fitMesh(Workspace& workspace, model::Item& item, base::Name key) {
    const auto held = workspace.meshes.find(key);
    if (held == workspace.meshes.end()) return;
    const bool hasPart = item.collision == model::CollisionShape::Part;
    const auto made = workspace.madeAs.find(key);
    const auto plain = made == workspace.madeAs.end() ? held->second : made->second.plain;
    const Workspace::MeshAs wanted{item.unit, item.up, hasPart ? item.collisionPart : std::string(), plain},
        usual{{}, {}, {}, plain};
    if (wanted == (made == workspace.madeAs.end() ? usual : made->second)) return;
    workspace.parts.erase(key);
    if (wanted == usual) {
        workspace.madeAs.erase(key);
        workspace.meshes[key] = plain;
        return measure(item, *plain);
    }
    shape::Mesh mesh = *plain;
    if (item.unit != usual.unit || item.up != usual.up) shape::transform(mesh, model::correctionOf(item));
    if (!wanted.part.empty())
        if (auto part = shape::takeNode(mesh, wanted.part))
            workspace.parts[key] = std::make_shared<const shape::Mesh>(std::move(*part));
    measure(item, mesh);
    workspace.meshes[key] = std::make_shared<const shape::Mesh>(std::move(mesh));
    workspace.madeAs[key] = wanted;
}

/// An item that comes back: its model is where it was, or waits.
model::Item itemAgain(Workspace& workspace, const model::Project& project, const ItemEntry& entry, base::Name key) {
    if (auto held = workspace.meshes.find(key); held != workspace.meshes.end()) {
        model::Item item = itemOf(entry.name, &entry, ImportedModel{});
        measure(item, *held->second);
        fitMesh(workspace, item, key);
        return item;
    }
    auto model = readAgain(project, entry.name);
    // Without a model an item is a kind that can be placed: a light, a start, a marker.
    if (!model) return itemOf(entry.name, &entry, ImportedModel{});
    model::Item item = itemOf(entry.name, &entry, *model);
    if (*model) workspace.meshes[key] = std::make_shared<const shape::Mesh>(std::move((*model)->mesh));
    fitMesh(workspace, item, key);
    return item;
}

/// Is its model in the project at present: not one of a step that was undone?
bool isPresent(const Workspace& workspace, const fs::path& folder, const std::string& item) {
    const std::string relative = relativeModel(item);
    return !isManaged(folder, relative) || workspace.added.contains(relative);
}

}  // namespace

void measure(model::Item& item, const shape::Mesh& mesh) {
    item.bounds = mesh.bounds;
    item.triangles = mesh.triangleCount();
    item.materials = mesh.materials.size();
    item.slots = shape::slotNames(mesh);
    item.nodes.clear();
    for (const shape::MeshNode& node : mesh.nodes)
        if (!node.name.empty()) item.nodes.push_back(node.name);
}

void loadItems(model::Project& project, Workspace& workspace) {
    auto all = findModels(project.folder, workspace.damage);
    readModels(all, project.folder, *workspace.progress);
    for (LoadedModel& loaded : all) {
        const std::string name = loaded.file.stem().string();
        const base::Name key = project.names->intern(name);
        model::Item item = itemOf(name, nullptr, loaded.model);
        if (loaded.model)
            workspace.meshes[key] = std::make_shared<const shape::Mesh>(std::move(loaded.model->mesh));
        else
            workspace.damage.push_back({loaded.file.string(), 0, "", loaded.model.error().message});
        project.library.add(key, std::move(item));
    }
}

void takeItems(Workspace& workspace, model::Project& project, const model::DataEntries& entries,
               std::vector<std::string>& problems) {
    std::unordered_set<base::Name> named;
    for (const auto& [name, values] : entries) {
        if (name.empty()) continue;  // what is said of the whole
        if (!base::isFileName(name)) {
            problems.push_back(fmt::format("items: “{}” cannot be the name of a file.", base::forTerminal(name)));
            continue;
        }
        const ItemEntry entry = itemEntryFrom(name, values, problems);
        const base::Name key = project.names->intern(name);
        named.insert(key);
        const model::Item* held = project.library.item(key);
        if (entry.gone) {
            project.library.removeItem(key);
        } else if (held == nullptr) {
            project.library.add(key, itemAgain(workspace, project, entry, key));
        } else {
            model::Item item = *held;
            label(item, name, &entry);
            fitMesh(workspace, item, key);
            project.library.add(key, std::move(item));
        }
    }
    // What nothing is said of (any more) is called after its file; one that was deleted before may be back.
    for (const model::Item& item : std::deque<model::Item>(project.library.items())) {
        const base::Name key = project.names->intern(item.name);
        if (item.isSolid || item.prefab || named.contains(key)) continue;
        if ((!workspace.meshes.contains(key) && item.problem.empty()) ||
            !isPresent(workspace, project.folder, item.name)) {
            project.library.removeItem(key);
            continue;
        }
        model::Item plain = item;
        label(plain, item.name, nullptr);
        fitMesh(workspace, plain, key);
        project.library.add(key, std::move(plain));
    }
    std::vector<std::string> back;
    for (const auto& [key, mesh] : workspace.meshes) back.emplace_back(project.names->text(key));
    for (const fs::path& file : base::listFolder(removedModels(project.folder)).value_or(std::vector<fs::path>{}))
        back.push_back(file.stem().string());
    for (const std::string& relative : workspace.added)
        if (relative.starts_with("items/")) back.push_back(fs::path(relative).stem().string());
    for (const std::string& name : back) {
        const base::Name key = project.names->intern(name);
        if (named.contains(key) || project.library.item(key) != nullptr || name.starts_with('=')) continue;
        if (!base::isFileName(name) || !isPresent(workspace, project.folder, name)) continue;
        ItemEntry bare;
        bare.name = name;
        project.library.add(key, itemAgain(workspace, project, bare, key));
    }
}

Status moveItemModels(const Workspace& workspace) {
    const fs::path& folder = workspace.folder();
    const model::DataEntries& entries = workspace.session->entries(std::string(model::data::kItems));
    auto inItems = [&](const std::string& item) { return folder / relativeModel(item); };
    const auto waiting = base::listFolder(removedModels(folder));
    if (!waiting) return tl::unexpected(waiting.error());
    for (const auto& [name, values] : entries)
        if (model::boolOf(values, "gone", false) && base::isFileName(name))
            if (Status moved = moveFile(folder, inItems(name), removedModel(folder, name)); !moved) return moved;
    for (const fs::path& file : *waiting) {
        const std::string name = file.stem().string();
        const auto entry = entries.find(name);
        if (entry != entries.end() && model::boolOf(entry->second, "gone", false)) continue;
        if (Status moved = moveFile(folder, file, inItems(name)); !moved) return moved;
    }
    return {};
}

std::string freeItemName(const Workspace& workspace, const std::string& wanted, std::string_view bytes) {
    const std::string plain = base::plainFileName(wanted);
    const edit::Session& session = *workspace.session;
    for (int n = 1;; ++n) {
        const std::string name = n == 1 ? plain : fmt::format("{} {}", plain, n);
        const base::Name key = session.names().find(name);
        const fs::path& folder = session.project().folder;
        const fs::path waiting = addedFile(folder, relativeModel(name));
        if ((key && session.library().item(key) != nullptr) || base::exists(folder / relativeModel(name)) ||
            base::exists(removedModel(folder, name)))
            continue;
        if (!base::exists(waiting) || base::readFile(waiting, base::most::kModel).value_or("") == bytes) return name;
    }
}

namespace {

/// Keeps the bytes of a model, and says in the draft that it is an item from now on.
Result<model::Item> putModel(Workspace& workspace, edit::Draft& draft, const std::string& name,
                             const std::string& label, ImportedModel model, const std::string& bytes) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const base::Name key = workspace.session->intern(name);
    if (Status kept = keepAdded(workspace.folder(), relativeModel(name), bytes); !kept)
        return tl::unexpected(kept.error());
    workspace.meshes[key] = std::make_shared<const shape::Mesh>(std::move(model.mesh));
    workspace.madeAs.erase(key);
    if (Status noted = noteAdded(draft, relativeModel(name)); !noted) return tl::unexpected(noted.error());
    if (!label.empty() && label != labelFrom(name)) {
        ItemEntry entry;
        entry.name = name;
        entry.label = label;
        entry.folder = "Models";
        const std::optional<model::ValueMap> values = toValues(entry);
        if (Status said = draft.setEntries(std::string(model::data::kItems), {&name, 1}, {&values, 1}); !said)
            return tl::unexpected(said.error());
    }
    const model::Item* made = workspace.session->library().item(key);
    if (made == nullptr) return fail(ErrorCode::Io, name + ": the item cannot be made.");
    model::Item item = *made;
    item.remarks = std::move(model.remarks);
    return item;
}

}  // namespace

Result<model::Item> addModel(Workspace& workspace, edit::Draft& draft, const std::string& name, shape::Mesh mesh) {
    if (!base::isPlainFileName(name))
        return fail(ErrorCode::BadInput, fmt::format("“{}” cannot be an item's name: letters, digits, spaces, dots, "
                                                     "dashes and underscores can.",
                                                     name));
    const std::string bytes = glbOf(mesh, name);
    if (freeItemName(workspace, name, bytes) != name)
        return fail(ErrorCode::BadInput, fmt::format("There is an item {} already: another name is needed.", name));
    return putModel(workspace, draft, name, {}, ImportedModel{std::move(mesh), {}}, bytes);
}

bool isModelFile(const fs::path& file) {
    const std::string ending = base::lowered(file.extension().string());
    return ending == ".glb" || ending == ".gltf" || isForeignMesh(file);
}

Result<ModelFile> readModelFile(const fs::path& path, const base::Progress* progress) {
    if (isForeignMesh(path)) return readForeign(path, progress);
    ModelFile file;
    file.stem = path.stem().string();
    auto model = readModel(path, path.parent_path());
    if (!model) return tl::unexpected(model.error());
    auto bytes = base::readFile(path, base::most::kModel);
    if (!bytes) return tl::unexpected(bytes.error());
    file.packed = bytes->starts_with("glTF") ? std::move(*bytes) : glbOf(model->mesh, file.stem);
    file.model = std::move(*model);
    return file;
}

Status bringModel(Workspace& workspace, edit::Draft& draft, const std::string& key, ModelFile file) {
    auto item = putModel(workspace, draft, key, {}, std::move(file.model), file.packed);
    return item ? Status() : tl::unexpected(item.error());
}

Result<model::Item> importModel(Workspace& workspace, edit::Draft& draft, ModelFile file) {
    const std::string name = freeItemName(workspace, file.stem, file.packed);
    const std::string label = base::isPlainFileName(file.stem) ? "" : base::withoutControl(file.stem);
    return putModel(workspace, draft, name, label, std::move(file.model), file.packed);
}

Result<model::Item> importModel(Workspace& workspace, edit::Draft& draft, const fs::path& path) {
    auto file = readModelFile(path);
    if (!file) return tl::unexpected(file.error());
    return importModel(workspace, draft, std::move(*file));
}

}  // namespace io
