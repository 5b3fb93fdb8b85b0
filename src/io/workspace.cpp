#include "io/workspace.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <thread>
#include <unordered_set>

#include "base/hash.h"
#include "base/text.h"
#include "check/rule.h"
#include "io/data_file.h"
#include "io/gltf_in.h"
#include "io/gltf_out.h"
#include "io/object_line.h"
#include "io/scene_file.h"
#include "shape/solid.h"

namespace io {
namespace {

namespace fs = std::filesystem;
using base::ErrorCode;
using base::fail;
using base::Result;
using base::Status;

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

std::vector<LoadedModel> readModels(const fs::path& folder, const base::Progress& progress) {
    std::vector<LoadedModel> all;
    std::error_code ignored;
    for (const auto& entry : fs::directory_iterator(folder, ignored)) {
        const std::string ending = base::lowered(entry.path().extension().string());
        if (ending == ".glb" || ending == ".gltf") all.push_back({entry.path()});
    }
    std::sort(all.begin(), all.end(), [](const LoadedModel& a, const LoadedModel& b) { return a.file < b.file; });
    std::atomic<std::size_t> next{0};
    auto work = [&] {
        for (std::size_t i = next++; i < all.size() && !progress.cancelled(); i = next++)
            all[i].model = readModel(all[i].file);
    };
    std::vector<std::thread> threads;
    for (unsigned i = 1; i < std::max(1u, std::thread::hardware_concurrency()); ++i) threads.emplace_back(work);
    work();
    for (std::thread& thread : threads) thread.join();
    return all;
}

/// What people call it, where the Stock lists it, what placed objects become.
void label(model::Item& item, const std::string& name, const ItemEntry* entry) {
    item.name = name;
    item.label = entry != nullptr && !entry->label.empty() ? entry->label : labelFrom(name);
    item.category = entry != nullptr && !entry->category.empty() ? entry->category : "Models";
    item.kind = entry != nullptr ? entry->kind : "";
    item.collision = entry != nullptr ? entry->collision : model::CollisionShape::Mesh;
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

}  // namespace

void measure(model::Item& item, const shape::Mesh& mesh) {
    item.bounds = mesh.bounds;
    item.triangles = mesh.triangleCount();
    item.materials = mesh.materials.size();
    item.slots = shape::slotNames(mesh);
}

namespace {

void loadItems(model::Project& project, Workspace& workspace) {
    for (LoadedModel& loaded : readModels(project.folder / "items", *workspace.progress)) {
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

/// Where the model of an item that was deleted waits, in case that is taken back.
fs::path removedModel(const fs::path& folder, const std::string& item) {
    return folder / ".mellow" / "removed" / (item + ".glb");
}
fs::path itemModel(const fs::path& folder, const std::string& item) {
    return folder / "items" / (item + ".glb");
}

/// An item that comes back: its model is where it was, or waits.
model::Item itemAgain(Workspace& workspace, const model::Project& project, const ItemEntry& entry, base::Name key) {
    if (auto held = workspace.meshes.find(key); held != workspace.meshes.end()) {
        model::Item item = itemOf(entry.name, &entry, ImportedModel{});
        measure(item, *held->second);
        return item;
    }
    for (const fs::path& file : {itemModel(project.folder, entry.name), removedModel(project.folder, entry.name)}) {
        if (!fs::exists(file)) continue;
        auto model = readModel(file);
        model::Item item = itemOf(entry.name, &entry, model);
        if (model) workspace.meshes[key] = std::make_shared<const shape::Mesh>(std::move(model->mesh));
        return item;
    }
    // Without a model an item is a kind that can be placed: a light, a start, a marker.
    return itemOf(entry.name, &entry, ImportedModel{});
}

void takeItems(Workspace& workspace, model::Project& project, const model::DataEntries& entries,
               std::vector<std::string>& problems) {
    std::unordered_set<base::Name> named;
    for (const auto& [name, values] : entries) {
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
            project.library.add(key, std::move(item));
        }
    }
    // What nothing is said of (any more) is called after its file; one that was deleted before may be back.
    for (const model::Item& item : std::deque<model::Item>(project.library.items())) {
        const base::Name key = project.names->intern(item.name);
        if (item.isSolid || item.prefab || named.contains(key)) continue;
        if (!workspace.meshes.contains(key) && item.problem.empty()) {
            project.library.removeItem(key);
            continue;
        }
        model::Item plain = item;
        label(plain, item.name, nullptr);
        project.library.add(key, std::move(plain));
    }
    std::vector<std::string> back;
    for (const auto& [key, mesh] : workspace.meshes) back.emplace_back(project.names->text(key));
    std::error_code ignored;
    for (const auto& file : fs::directory_iterator(removedModel(project.folder, "x").parent_path(), ignored))
        back.push_back(file.path().stem().string());
    for (const std::string& name : back) {
        const base::Name key = project.names->intern(name);
        if (named.contains(key) || project.library.item(key) != nullptr || name.starts_with('=')) continue;
        ItemEntry bare;
        bare.name = name;
        project.library.add(key, itemAgain(workspace, project, bare, key));
    }
}

/// Brings the library in line with a document of project data; what is wrong in it is damage.
void takeData(Workspace& workspace, model::Project& project, const std::string& document,
              const model::DataEntries& entries) {
    std::vector<std::string> problems;
    if (!model::data::kindIn(document).empty()) takeKind(project, document, entries, problems);
    if (!model::data::recordsIn(document).empty()) takeRecords(project, document, entries, problems);
    if (document == model::data::kSurfaces) takeSurfaces(project, entries, problems);
    if (document == model::data::kChecks) (void)check::settingsFrom(entries, check::builtInRules(), problems);
    if (document == model::data::kItems) takeItems(workspace, project, entries, problems);
    if (workspace.session) return;  // edited here: the verbs have looked
    for (std::string& problem : problems)
        workspace.damage.push_back(damageOf(dataFile(project.folder, document).string(), std::move(problem)));
}

/// The mesh of a solid, for all that are equal.
model::Item solidItem(Workspace& workspace, const model::Solid& solid, base::Name key) {
    auto mesh = std::make_shared<const shape::Mesh>(
        shape::solidMesh(static_cast<shape::SolidShape>(solid.shape), solid.size, solid.parts));
    model::Item item;
    item.label = labelFrom(std::string(solidNames()[static_cast<std::size_t>(solid.shape)]));
    measure(item, *mesh);
    item.isSolid = true;
    workspace.meshes[key] = std::move(mesh);
    return item;
}

Result<edit::LoadedScene> loadData(Workspace& workspace, const model::Project& project, const std::string& document) {
    model::Scene scene(document, project.names);
    const fs::path file = dataFile(project.folder, document);
    auto text = base::readFile(file);
    if (!text && text.error().code == ErrorCode::NotFound) return edit::LoadedScene{std::move(scene), 0, 0};
    const std::size_t before = workspace.damage.size();
    auto entries = text ? parseData(document, *text, file.string(), workspace.damage)
                        : Result<model::DataEntries>(tl::unexpected(text.error()));
    if (!entries) {
        // As if it were not there; nothing is written over it while the project is open for reading only.
        workspace.damage.push_back({file.string(), 0, "", entries.error().message});
        workspace.damagedScenes.insert(document);
        return edit::LoadedScene{std::move(scene), 0, 0};
    }
    if (workspace.damage.size() > before) workspace.damagedScenes.insert(document);
    return edit::LoadedScene{edit::dataScene(document, project.names, std::move(*entries)), base::hashBytes(*text),
                             text->size()};
}

Result<edit::LoadedScene> loadScene(Workspace& workspace, const model::Project& project, const std::string& name) {
    if (model::data::isData(name)) return loadData(workspace, project, name);
    fs::path file = sceneFile(project.folder, name);
    std::string shown = "scenes/" + file.filename().string();
    if (const base::ObjectId prefab = model::prefabOf(name)) {
        auto place = workspace.prefabFiles.find(prefab);
        if (place == workspace.prefabFiles.end()) return edit::LoadedScene{model::Scene(name, project.names), 0, 0};
        file = place->second;
        shown = "prefabs/" + file.filename().string();
    }
    auto text = base::readFile(file);
    if (!text) return tl::unexpected(text.error());
    auto parsed = parseScene(name, *text, shown, project.names, project.library, *workspace.progress);
    if (!parsed) return tl::unexpected(parsed.error());
    if (!parsed->damage.empty()) {
        workspace.damagedScenes.insert(name);
        workspace.damage.insert(workspace.damage.end(), parsed->damage.begin(), parsed->damage.end());
        workspace.readOnlyReason = fmt::format(
            "{} is damaged in {} {}: it is open for reading only, so that nothing is lost.", file.filename().string(),
            parsed->damage.size(), parsed->damage.size() == 1 ? "place" : "places");
        if (workspace.session) workspace.session->makeReadOnly(workspace.readOnlyReason);
    }
    return edit::LoadedScene{std::move(parsed->scene), base::hashBytes(*text), text->size()};
}

}  // namespace

Result<std::unique_ptr<Workspace>> openWorkspace(const fs::path& path, OpenMode mode, const Chance& chance,
                                                 std::shared_ptr<base::Progress> progress) {
    auto parsed = readProject(path);
    if (!parsed) return tl::unexpected(parsed.error());
    auto workspace = std::make_unique<Workspace>();
    workspace->progress = std::move(progress);
    workspace->damage = std::move(parsed->damage);
    workspace->prefabFiles = std::move(parsed->prefabFiles);
    const fs::path local = parsed->project.folder / ".mellow";
    if (mode == OpenMode::Edit) {
        std::error_code failed;
        fs::create_directories(local, failed);
        if (failed)
            return fail(ErrorCode::Io,
                        fmt::format("{}: cannot make the folder: {}.", local.string(), failed.message()));
        auto lock = base::FileLock::take(local / "lock");
        if (!lock) return tl::unexpected(lock.error());
        workspace->lock.emplace(std::move(*lock));
    }
    loadItems(parsed->project, *workspace);
    if (workspace->progress->cancelled())
        return fail(ErrorCode::Cancelled, fmt::format("{}: opening it was called off.", path.string()));
    auto ledger = edit::Ledger::open(local / "ledger.db", mode == OpenMode::ReadOnly);
    if (!ledger) return tl::unexpected(ledger.error());
    edit::Surroundings around;
    around.nowMs = chance.nowMs;
    around.seed = chance.seed;
    if (mode == OpenMode::ReadOnly) around.readOnlyReason = "The project is open for reading only.";
    around.loadScene = [owner = workspace.get()](const model::Project& project, const std::string& name) {
        return loadScene(*owner, project, name);
    };
    around.takeData = [owner = workspace.get()](model::Project& project, const std::string& document,
                                                const model::DataEntries& entries) {
        takeData(*owner, project, document, entries);
    };
    around.makeSolid = [owner = workspace.get()](const model::Solid& solid, base::Name key) {
        return solidItem(*owner, solid, key);
    };
    auto session = edit::Session::open(std::move(parsed->project), std::move(*ledger), std::move(around));
    if (!session) return tl::unexpected(session.error());
    workspace->session = std::move(*session);
    if (!workspace->readOnlyReason.empty()) workspace->session->makeReadOnly(workspace->readOnlyReason);
    return workspace;
}

void acceptDamage(Workspace& workspace) {
    workspace.session->makeWritable();
}

namespace {

Result<PreparedSave> writeBeside(PreparedSave save, const std::string& text) {
    std::error_code ignored;
    fs::create_directories(save.target.parent_path(), ignored);
    save.hash = base::hashBytes(text);
    save.size = text.size();
    auto part = base::writePart(save.target, text);
    if (!part) return tl::unexpected(part.error());
    save.part = *part;
    return save;
}

}  // namespace

Result<PreparedSave> prepareSave(const model::Scene& snapshot, const fs::path& folder, edit::StepId step) {
    PreparedSave save;
    save.scene = snapshot.name();
    save.step = step;
    if (model::data::isData(save.scene)) {
        const model::DataEntries& entries = snapshot.settings().entries();
        const fs::path file = dataFile(folder, save.scene);
        if (entries.empty() && save.scene != model::data::kItems) return save;
        save.target = file;
        return writeBeside(std::move(save), formatData(save.scene, entries, base::readFile(file).value_or("")));
    }
    if (model::prefabOf(save.scene)) {
        if (!snapshot.settings().prefab) return save;
        save.target = prefabFile(folder, snapshot.settings().prefab->name);
    } else {
        save.target = sceneFile(folder, save.scene);
    }
    return writeBeside(std::move(save), formatScene(snapshot));
}

namespace {

/// A prefab that was renamed takes its file along, so that a crash never leaves two of them; one that was deleted
/// takes it away.
Status movePrefabFile(Workspace& workspace, base::ObjectId prefab, const fs::path& target) {
    auto held = workspace.prefabFiles.find(prefab);
    std::error_code failed;
    // Another one that had this name, and has another or is gone: its file steps aside until it is saved itself.
    for (auto& [other, file] : workspace.prefabFiles) {
        if (other == prefab || file != target) continue;
        const fs::path aside = prefabFile(file.parent_path().parent_path(), base::toText(other));
        fs::rename(file, aside, failed);
        if (failed)
            return fail(ErrorCode::Io, fmt::format("{}: cannot be renamed: {}.", file.string(), failed.message()));
        file = aside;
    }
    if (held != workspace.prefabFiles.end() && held->second != target) {
        if (target.empty())
            fs::remove(held->second, failed);
        else
            fs::rename(held->second, target, failed);
        if (failed)
            return fail(ErrorCode::Io, fmt::format("{}: cannot be {}: {}.", held->second.string(),
                                                   target.empty() ? "removed" : "renamed", failed.message()));
    }
    if (target.empty())
        workspace.prefabFiles.erase(prefab);
    else
        workspace.prefabFiles[prefab] = target;
    return {};
}

Status moveFile(const fs::path& from, const fs::path& to) {
    std::error_code failed;
    if (!fs::exists(from) || fs::exists(to)) return {};
    fs::create_directories(to.parent_path(), failed);
    fs::rename(from, to, failed);
    if (failed) return fail(ErrorCode::Io, fmt::format("{}: cannot be moved: {}.", from.string(), failed.message()));
    return {};
}

/// Models of items that are deleted wait beside the ledger; those that are back return.
Status moveItemModels(const Workspace& workspace) {
    const fs::path& folder = workspace.folder();
    const model::DataEntries& entries = workspace.session->entries(std::string(model::data::kItems));
    std::vector<std::string> waiting;
    std::error_code ignored;
    for (const auto& file : fs::directory_iterator(removedModel(folder, "x").parent_path(), ignored))
        waiting.push_back(file.path().stem().string());
    for (const auto& [name, values] : entries)
        if (model::boolOf(values, "gone", false))
            if (Status moved = moveFile(itemModel(folder, name), removedModel(folder, name)); !moved) return moved;
    for (const std::string& name : waiting) {
        const auto entry = entries.find(name);
        if (entry != entries.end() && model::boolOf(entry->second, "gone", false)) continue;
        if (Status moved = moveFile(removedModel(folder, name), itemModel(folder, name)); !moved) return moved;
    }
    return {};
}

}  // namespace

Status finishSave(Workspace& workspace, const PreparedSave& prepared) {
    edit::Session& session = *workspace.session;
    auto drop = [&](Status failed) {
        std::error_code ignored;
        fs::remove(prepared.part, ignored);
        return failed;
    };
    if (!session.readOnlyReason().empty()) return drop(fail(ErrorCode::Refused, session.readOnlyReason()));
    if (workspace.damagedScenes.contains(prepared.scene)) {
        fs::path kept = prepared.target;
        kept += ".damaged";
        std::error_code failed;
        fs::copy_file(prepared.target, kept, fs::copy_options::overwrite_existing, failed);
        if (failed)
            return drop(fail(ErrorCode::Io,
                             fmt::format("{}: cannot keep the damaged file: {}.", kept.string(), failed.message())));
    }
    if (Status noted = session.noteSave(prepared.scene, prepared.hash, prepared.size, prepared.step); !noted)
        return drop(noted);
    if (const base::ObjectId prefab = model::prefabOf(prepared.scene)) {
        if (Status moved = movePrefabFile(workspace, prefab, prepared.target); !moved) return drop(moved);
    }
    if (prepared.scene == model::data::kItems)
        if (Status moved = moveItemModels(workspace); !moved) return drop(moved);
    if (prepared.target.empty() && model::data::isData(prepared.scene)) {
        std::error_code failed;
        fs::remove(dataFile(workspace.folder(), prepared.scene), failed);
        if (failed) return drop(fail(ErrorCode::Io, fmt::format("{}: cannot be removed.", prepared.scene)));
    }
    if (!prepared.target.empty())
        if (Status placed = base::putInPlace(prepared.part, prepared.target); !placed) return placed;
    workspace.damagedScenes.erase(prepared.scene);
    return session.markSaved(prepared.scene, prepared.step);
}

Status saveScene(Workspace& workspace, const std::string& scene) {
    auto open = workspace.session->scene(scene);
    if (!open) return tl::unexpected(open.error());
    auto prepared = prepareSave(**open, workspace.folder(), workspace.session->history().present());
    if (!prepared) return tl::unexpected(prepared.error());
    return finishSave(workspace, *prepared);
}

Status saveSceneAs(Workspace& workspace, const std::string& scene, const std::string& newName) {
    edit::Session& session = *workspace.session;
    if (!base::isPlainFileName(newName))
        return fail(
            ErrorCode::BadInput,
            fmt::format("“{}” cannot be a scene's name: letters, digits, spaces, dots, dashes and underscores can.",
                        newName));
    if (fs::exists(sceneFile(workspace.folder(), newName)))
        return fail(ErrorCode::BadInput, fmt::format("There is a scene {} already.", newName));
    auto open = session.scene(scene);
    if (!open) return tl::unexpected(open.error());
    auto copy = parseScene(newName, formatScene(**open), newName, session.project().names, session.library());
    if (!copy) return tl::unexpected(copy.error());
    auto prepared = prepareSave(copy->scene, workspace.folder(), session.history().present());
    if (!prepared) return tl::unexpected(prepared.error());
    session.adoptScene(std::move(copy->scene));
    return finishSave(workspace, *prepared);
}

namespace {

/// Writes the bytes of a model as an item's file and adds the item.
Result<model::Item> putModel(Workspace& workspace, const std::string& name, Result<ImportedModel> model,
                             const std::string& bytes) {
    if (!workspace.session->readOnlyReason().empty())
        return fail(ErrorCode::Refused, workspace.session->readOnlyReason());
    if (!base::isPlainFileName(name))
        return fail(ErrorCode::BadInput, fmt::format("“{}” cannot be an item's name: letters, digits, spaces, dots, "
                                                     "dashes and underscores can.",
                                                     name));
    const fs::path target = workspace.folder() / "items" / (name + ".glb");
    if (fs::exists(target) || workspace.session->library().item(workspace.session->intern(name)) != nullptr)
        return fail(ErrorCode::BadInput, fmt::format("There is an item {} already: another name is needed.", name));
    std::error_code ignored;
    fs::create_directories(target.parent_path(), ignored);
    if (Status written = base::writeFileWhole(target, bytes); !written) return tl::unexpected(written.error());
    model::Item item = itemOf(name, nullptr, model);
    workspace.meshes[workspace.session->intern(name)] = std::make_shared<const shape::Mesh>(std::move(model->mesh));
    workspace.session->putItem(item);
    return item;
}

}  // namespace

Result<model::Item> addModel(Workspace& workspace, const std::string& name, shape::Mesh mesh) {
    const std::string bytes = glbOf(mesh, name);
    return putModel(workspace, name, ImportedModel{std::move(mesh), {}}, bytes);
}

Result<model::Item> importModel(Workspace& workspace, const fs::path& path) {
    auto model = readModel(path);
    if (!model) return tl::unexpected(model.error());
    auto bytes = base::readFile(path);
    if (!bytes) return tl::unexpected(bytes.error());
    const std::string name = path.stem().string();
    const std::string packed = bytes->starts_with("glTF") ? std::move(*bytes) : glbOf(model->mesh, name);
    return putModel(workspace, name, std::move(model), packed);
}

}  // namespace io
