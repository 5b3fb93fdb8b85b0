#include "cli/export_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <cstdio>
#include <ostream>

#include "base/text.h"
#include "cli/names.h"
#include "cli/verbs.h"
#include "hand/catalogue.h"
#include "hand/picture.h"
#include "hand/plan.h"
#include "io/csv.h"
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
         json = false, noNames = false;
    std::string of = "items";
    double scale = 8;
    std::string view, size = "1280x800";
    int sides = 1;
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

int catalogue(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    const hand::Sort sort = a.of == "kinds"     ? hand::Sort::Kinds
                            : a.of == "outfits" ? hand::Sort::Outfits
                            : a.of == "records" ? hand::Sort::Records
                                                : hand::Sort::Items;
    const auto table = hand::catalogueOf(opened->session().library(), opened->session().names(), sort);
    if (!a.json) {
        io::CsvWriter csv(v.io.out);
        for (const auto& row : table) csv.row(row);
        return exitCode::kFine;
    }
    io::Json all = io::Json::array();
    for (std::size_t r = 1; r < table.size(); ++r) {
        io::Json& one = all.emplace_back(io::Json::object());
        for (std::size_t c = 0; c < table[r].size(); ++c) one[table[0][c]] = table[r][c];
    }
    v.io.out << io::toText(all) << "\n";
    return exitCode::kFine;
}

int plan(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    const std::string document = opened->isWhole ? opened->session().project().firstScene : opened->scenes.front();
    auto scene = opened->session().scene(document);
    if (!scene) return v.io.fail(scene.error());
    if (!(a.scale > 0.01 && a.scale <= 200))
        return v.io.fail({base::ErrorCode::BadInput, "--scale is from 0.01 to 200 pixels a metre."});
    const std::string svg =
        hand::planOf(**scene, opened->session().library(),
                     [&](base::Name item) { return opened->workspace->mesh(item); }, {a.scale, !a.noNames});
    if (Status done = writeOut(a.target, svg, v.io); !done) return v.io.fail(done.error());
    v.io.out << fmt::format("{}: {} bytes\n", a.target, svg.size());
    return exitCode::kFine;
}

/// The kept view of that name; without one, the scene's first.
Result<hand::PictureView> viewOf(const model::Scene& scene, const std::string& name) {
    const model::SceneSettings& settings = scene.settings();
    hand::PictureView view;
    view.from = settings.viewFrom;
    view.to = settings.viewTo;
    if (name.empty()) return view;
    const auto kept = std::ranges::find(settings.bookmarks, name, &model::Bookmark::name);
    if (kept == settings.bookmarks.end()) {
        std::string all;
        for (const model::Bookmark& one : settings.bookmarks) all += (all.empty() ? "" : ", ") + one.name;
        return base::fail(base::ErrorCode::NotFound,
                          fmt::format("There is no view “{}”; there are: {}.", name, all.empty() ? "none" : all));
    }
    view.from = kept->from;
    view.to = kept->to;
    view.heightMetres = kept->heightMetres;
    return view;
}

int picture(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    int wide = 0, high = 0;
    char rest = 0;
    if (std::sscanf(a.size.c_str(), "%dx%d%c", &wide, &high, &rest) != 2 || wide < 1 || high < 1 ||
        wide > hand::kLargestPicture || high > hand::kLargestPicture)
        return v.io.fail({base::ErrorCode::BadInput, fmt::format("--size “{}”: WIDTHxHEIGHT up to {} was expected.",
                                                                 a.size, hand::kLargestPicture)});
    std::string png;
    if (!a.item.empty()) {
        const shape::Mesh* mesh = opened->workspace->mesh(opened->session().names().find(a.item));
        if (mesh == nullptr)
            return v.io.fail({base::ErrorCode::NotFound, "There is no item “" + a.item + "” with a model."});
        if (a.sides < 1 || a.sides * high > 4 * hand::kLargestPicture)
            return v.io.fail({base::ErrorCode::BadInput, "So many sides are too wide a picture."});
        png = hand::pngOf(hand::turningRow(*mesh, a.sides, high));
    } else {
        const std::string document = opened->isWhole ? opened->session().project().firstScene : opened->scenes.front();
        auto scene = opened->session().scene(document);
        if (!scene) return v.io.fail(scene.error());
        auto view = viewOf(**scene, a.view);
        if (!view) return v.io.fail(view.error());
        png = hand::pngOf(hand::pictureOf(io::sourceOf(*opened->workspace, **scene), *view, wide, high));
    }
    if (Status done = writeOut(a.target, png, v.io); !done) return v.io.fail(done.error());
    v.io.out << fmt::format("{}: {} bytes\n", a.target, png.size());
    return exitCode::kFine;
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
    auto b = std::make_shared<Arguments>();  // shared by the callback, which runs while parsing
    auto* facts = addVerb(app, "catalogue", "What a project offers, as a table: items, kinds, outfits, records",
                          "A project", b, verbs, catalogue);
    facts->add_option("--of", b->of, "items, kinds, outfits or records")
        ->check(CLI::IsMember({"items", "kinds", "outfits", "records"}));
    facts->add_flag("--json", b->json, "For other programs");
    auto c = std::make_shared<Arguments>();  // shared by the callback, which runs while parsing
    auto* sheet = addVerb(app, "plan", "A plan of a scene from above, to scale, as SVG", "SCENE", c, verbs, plan);
    sheet->add_option("--to", c->target, "The .svg file")->required();
    sheet->add_option("--scale", c->scale, "Pixels a metre");
    sheet->add_flag("--no-names", c->noNames, "Without names of groups, zones and routes");
    auto d = std::make_shared<Arguments>();  // shared by the callback, which runs while parsing
    auto* shot =
        addVerb(app, "picture", "A picture of a scene from a kept view, or of an item, as PNG, without a screen",
                "SCENE", d, verbs, picture);
    shot->add_option("--to", d->target, "The .png file")->required();
    shot->add_option("--view", d->view, "The kept view’s name; without it the scene’s first view");
    shot->add_option("--size", d->size, "WIDTHxHEIGHT, pixels");
    shot->add_option("--item", d->item, "An item instead of the scene");
    shot->add_option("--sides", d->sides, "Of an item: so many sides in a row, turned once about");
}

}  // namespace cli
