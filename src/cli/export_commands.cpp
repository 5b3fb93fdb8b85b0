#include "cli/export_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <ostream>

#include "base/text.h"
#include "cli/names.h"
#include "cli/verbs.h"
#include "io/gltf_out.h"
#include "io/json_text.h"
#include "model/prefab.h"
#include "ops/scenes.h"

namespace cli {
namespace {

namespace fs = std::filesystem;

struct Arguments {
    std::string path, target, where, item, prefab;
    bool noHidden = false, noAbsent = false, instances = false, plain = false, noExtras = false, beside = false,
         json = false;
};

bool isText(const fs::path& file) {
    return base::lowered(file.extension().string()) == ".gltf";
}

int write(const Arguments& a, const io::ExportedScene& exported, const Verbs& v) {
    if (!v.io.overwrite && base::exists(a.target))
        return v.io.fail({base::ErrorCode::Refused, a.target + ": is there already; --overwrite replaces it."});
    if (Status written = io::writeExported(a.target, exported, v.io.overwrite); !written)
        return v.io.fail(written.error());
    if (a.json) {
        io::Json files = io::Json::array({a.target});
        for (const io::FileBeside& one : exported.beside) files.push_back(one.name);
        v.io.out << io::toText({{"files", files},
                                {"objects", exported.objects},
                                {"meshes", exported.meshes},
                                {"materials", exported.materials},
                                {"bytes", exported.bytes.size()},
                                {"notExpressible", exported.lost}})
                 << "\n";
        return exitCode::kFine;
    }
    for (const std::string& lost : exported.lost) v.io.err << "mellow: " << lost << "\n";
    v.io.out << fmt::format("{}: {} objects, {} meshes, {} materials, {} bytes\n", a.target, exported.objects,
                            exported.meshes, exported.materials, exported.bytes.size());
    return exitCode::kFine;
}

int exportItem(const Arguments& a, const Opened& opened, const Verbs& v) {
    const shape::Mesh* mesh = opened.workspace->mesh(opened.session().names().find(a.item));
    if (mesh == nullptr)
        return v.io.fail({base::ErrorCode::NotFound, "There is no item “" + a.item + "” with a model."});
    if (isText(a.target))
        return v.io.fail({base::ErrorCode::BadInput, "One item is written as .glb: " + a.target + " is none."});
    io::ExportedScene exported;
    exported.bytes = io::glbOf(*mesh, a.item);
    exported.objects = exported.meshes = 1;
    exported.materials = mesh->materials.size();
    return write(a, exported, v);
}

int exportTo(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    if (!a.item.empty()) return exportItem(a, *opened, v);
    if (opened->scenes.size() != 1) opened->scenes = {opened->session().project().firstScene};
    std::string document = opened->scenes.front();
    if (!a.prefab.empty()) {
        const base::ObjectId prefab = opened->session().prefabNamed(a.prefab);
        if (prefab.value == 0) return v.io.fail({base::ErrorCode::NotFound, "There is no prefab “" + a.prefab + "”."});
        document = model::definitionKey(prefab);
    } else if (ops::isScratch(opened->session(), document)) {
        return v.io.fail(
            {base::ErrorCode::Refused, fmt::format("{} is a scratch scene: it is never exported.", document)});
    }
    auto scene = opened->session().scene(document);
    if (!scene) return v.io.fail(scene.error());
    if (a.beside && !isText(a.target))
        return v.io.fail(
            {base::ErrorCode::BadInput, a.target + ": images lie beside a .gltf only; a .glb holds them."});
    io::ExportOptions options;
    options.hidden = !a.noHidden;
    options.absent = !a.noAbsent;
    options.instances = a.instances;
    options.states = !a.plain;
    options.extras = !a.noExtras;
    options.asText = isText(a.target);
    options.imagesBeside = a.beside;
    options.stem = fs::path(a.target).stem().string();
    if (!a.where.empty()) {
        auto among = chosen(**scene, a.where);
        if (!among) return v.io.fail(among.error());
        options.only = std::move(*among);
    }
    const io::ExportedScene exported = io::exportScene(io::sourceOf(*opened->workspace, **scene), options);
    warnOfDamage(*opened->workspace, v.io);
    return write(a, exported, v);
}

}  // namespace

void addExportCommands(CLI::App& app, const Verbs& verbs) {
    auto a = std::make_shared<Arguments>();  // shared by the callback, which runs while parsing
    auto* verb = addVerb(app, "export",
                         "Writes a scene, a part of it, a prefab or an item as glTF: surfaces, tints, lights, cameras",
                         "SCENE", a, verbs, exportTo);
    verb->add_option("--to", a->target, "The file: .glb, or .gltf with its data beside it")->required();
    verb->add_option("--where", a->where, "Only what fits, with all below it");
    verb->add_option("--prefab", a->prefab, "A prefab’s definition instead of a scene");
    verb->add_option("--item", a->item, "An item’s model instead of a scene");
    verb->add_flag("--no-hidden", a->noHidden, "Without what is hidden while editing");
    verb->add_flag("--no-absent", a->noAbsent, "Without what is not there when play starts");
    verb->add_flag("--instances", a->instances, "Alike ones beside each other as EXT_mesh_gpu_instancing");
    verb->add_flag("--plain", a->plain, "Not as properties make things look, but as they are at rest");
    verb->add_flag("--no-extras", a->noExtras, "Without ids, kinds, facets and properties");
    verb->add_flag("--images-beside", a->beside, "Of a .gltf: images as files of their own in textures/");
    verb->add_flag("--json", a->json, "What was written, and what glTF cannot say, for other programs");
}

}  // namespace cli
