#include "cli/property_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <functional>
#include <ostream>

#include "base/files.h"
#include "base/text.h"
#include "cli/fields.h"
#include "cli/names.h"
#include "cli/verbs.h"
#include "io/csv.h"
#include "io/json_text.h"
#include "io/kind_item.h"
#include "ops/items.h"
#include "ops/kinds.h"
#include "ops/properties.h"
#include "ops/records.h"
#include "ops/table.h"
#include "query/object_filter.h"

namespace cli {
namespace {

using base::fail;

struct Arguments {
    std::string path, where, name, file, relativeTo, kind, item;
    std::vector<std::string> values;
    std::vector<std::string> columns;
    bool asJson = false, asCsv = false, preview = false;
};

int get(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    for (const std::string& name : opened->scenes) {
        auto loaded = opened->session().scene(name);
        if (!loaded) return v.io.fail(loaded.error());
        const model::Scene& scene = **loaded;
        for (ObjectId id : query::fitting(scene, a.where)) {
            const Slot s = scene.find(id);
            const model::Property* property = ops::propertyOf(opened->session().library(), scene, s, a.name);
            if (property == nullptr) continue;
            model::Value room;
            const model::Value& value = *ops::propertyValue(scene, s, *property, room);
            if (a.asJson)
                v.io.out << io::toText({{"id", base::toText(id)},
                                        {"name", scene.nameText(s)},
                                        {a.name, io::toJson(value)},
                                        {"default", &value == &room}})
                         << "\n";
            else
                v.io.out << fmt::format("{}  {}  {}\n", base::toText(id), scene.nameText(s),
                                        model::valueText(*property, value));
        }
    }
    warnOfDamage(*opened->workspace, v.io);
    return exitCode::kFine;
}

/// One step over the objects that --where names, called by `step` for them; then the files are written.
int changeChosen(const Arguments& a, const Verbs& v, const std::function<std::string(const std::string& objects)>& step,
                 const std::function<Status(edit::Draft&, const ops::Ids&)>& verb,
                 const std::function<void(std::size_t count)>& tell) {
    auto opened = open(a.path, io::OpenMode::Edit, v.chance);
    if (!opened) return v.io.fail(opened.error());
    if (!useBehaviours(*opened, v.io, v.chance)) return exitCode::kScriptBroken;
    if (opened->scenes.size() != 1) opened->scenes = {opened->session().project().firstScene};
    std::size_t count = 0;
    {
        edit::Draft draft(opened->session(), opened->scenes.front(), step("objects"));
        if (!draft.state()) return v.io.fail(draft.state().error());
        const auto ids = chosen(draft.scene(), a.where);
        if (!ids) return v.io.fail(ids.error());
        count = ids->size();
        draft.rename(step(ops::describe(draft.scene(), *ids)));
        if (Status done = verb(draft, *ids); !done) return v.io.fail(done.error());
        if (auto kept = draft.commit(); !kept) return v.io.fail(kept.error());
    }
    if (const int saved = saveAll(*opened->workspace, v.io); saved != exitCode::kFine) return saved;
    tell(count);
    return exitCode::kFine;
}

int setKind(const Arguments& a, const Verbs& v) {
    std::size_t aside = 0;
    return changeChosen(
        a, v, [&](const std::string& objects) { return "Make " + objects + " " + a.kind; },
        [&](edit::Draft& draft, const ops::Ids& ids) -> Status {
            auto changed = ops::changeKind(draft, ids, a.kind);
            if (!changed) return tl::unexpected(changed.error());
            aside = *changed;
            return {};
        },
        [&](std::size_t count) {
            if (a.asJson)
                v.io.out << io::toText({{"kind", a.kind}, {"objects", count}, {"setAside", aside}}) << "\n";
            else
                v.io.out << fmt::format("{} objects are {}; {} values set aside\n", count, a.kind, aside);
        });
}

int set(const Arguments& a, const Verbs& v) {
    if (!a.kind.empty()) return setKind(a, v);
    const std::size_t sign = a.name.find('=');
    if (sign == 0 || sign == std::string::npos)
        return v.io.err << "mellow: NAME=VALUE was expected, such as oil=2, or NAME+=VALUE.\n", exitCode::kUsage;
    // "oil+=1" changes the present value; so did "oil=+=1", which is still understood.
    const bool relative = std::string_view("+-*/").find(a.name[sign - 1]) != std::string_view::npos;
    const std::string name = a.name.substr(0, relative ? sign - 1 : sign),
                      text = a.name.substr(relative ? sign - 1 : sign + 1);
    return changeChosen(
        a, v, [&](const std::string& objects) { return "Set " + name + " of " + objects; },
        [&](edit::Draft& draft, const ops::Ids& ids) {
            return ops::changeProperty(draft, ids, name, [&](const model::Property& p, const model::Value& now) {
                return ops::typedValue(draft.session().library(), p, text, now);
            });
        },
        [&](std::size_t count) {
            if (a.asJson)
                v.io.out << io::toText({{"set", name}, {"objects", count}}) << "\n";
            else
                v.io.out << fmt::format("{} set for {} objects\n", name, count);
        });
}

int item(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, a.values.empty() ? io::OpenMode::ReadOnly : io::OpenMode::Edit, v.chance);
    if (!opened) return v.io.fail(opened.error());
    edit::Session& session = opened->session();
    const base::Name key = session.intern(a.item);
    const model::Item* known = session.library().item(key);
    if (known == nullptr || known->isSolid || known->prefab)
        return v.io.fail({ErrorCode::NotFound, fmt::format("There is no item “{}”.", a.item)});
    model::ItemFacts facts = *known;
    if (!a.values.empty()) {
        if (Status set = setFields(model::itemFields(), &facts, a.values); !set) return v.io.fail(set.error());
        edit::Draft draft(session, std::string(model::data::kItems), "Set item " + a.item);
        if (Status set = ops::setItem(draft, key, facts); !set) return v.io.fail(set.error());
        if (auto step = draft.commit(); !step) return v.io.fail(step.error());
    }
    tellFields(model::itemFields(), &facts, a.asJson, v.io);
    return a.values.empty() ? exitCode::kFine : saveAll(*opened->workspace, v.io);
}

/// Those of its kind: "laden; empty".
std::string outfitsOf(const model::Library& library, const model::Item& item) {
    std::string all;
    if (const model::Kind* kind = library.kindNamed(item.kind))
        for (const model::Outfit& outfit : kind->outfits) all.append(all.empty() ? "" : "; ").append(outfit.name);
    return all;
}

int items(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    io::CsvWriter csv(v.io.out);
    if (a.asCsv)
        csv.row({"name", "label", "category", "kind", "triangles", "width", "height", "depth", "prefab", "outfits"});
    for (const model::Item& item : opened->session().library().items()) {
        if (item.isSolid) continue;
        const base::Vec3 size = item.bounds.size();
        if (a.asCsv)
            csv.row({item.name, item.label, item.folder, item.kind, std::to_string(item.triangles),
                     base::shortest(size.x), base::shortest(size.y), base::shortest(size.z),
                     item.prefab ? base::toText(item.prefab) : "", outfitsOf(opened->session().library(), item)});
        else
            v.io.out << fmt::format("{}  {}  {}  {} triangles\n", item.name, item.label, item.folder, item.triangles);
    }
    warnOfDamage(*opened->workspace, v.io);
    return exitCode::kFine;
}

/// The one scene that is meant: the path's, else the project's first.
base::Result<const model::Scene*> onlyScene(Opened& opened) {
    if (opened.scenes.size() != 1) opened.scenes = {opened.session().project().firstScene};
    return opened.session().scene(opened.scenes.front());
}

base::Result<ops::TableSource> tableOf(const Arguments& a, Opened& opened) {
    auto scene = onlyScene(opened);
    if (!scene) return tl::unexpected(scene.error());
    ops::TableSource source{opened.session().library(), **scene, {}};
    if (a.relativeTo.empty()) return source;
    const auto id = base::parseObjectId(a.relativeTo);
    if (!id || (*scene)->find(*id) == kNoSlot)
        return fail(ErrorCode::NotFound, fmt::format("--seen-from: there is no object {}.", a.relativeTo));
    source.relativeTo = *id;
    return source;
}

int tableExport(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    auto source = tableOf(a, *opened);
    if (!source) return v.io.fail(source.error());
    const auto known = ops::tableColumns(source->library, source->scene);
    std::vector<ops::TableColumn> columns;
    for (const std::string& key : a.columns) {
        const auto place = std::find_if(known.begin(), known.end(), [&](const auto& c) { return c.key == key; });
        if (place == known.end())
            return v.io.fail({ErrorCode::NotFound, fmt::format("--columns: “{}” is no column of this scene.", key)});
        columns.push_back(*place);
    }
    if (a.columns.empty())
        for (const ops::TableColumn& c : known)
            if (c.key != "id") columns.push_back(c);
    io::CsvWriter csv(v.io.out);
    io::CsvRow head = {"id"};
    for (const ops::TableColumn& c : columns) head.push_back(c.key);
    csv.row(head);
    const ops::TableFilter filter(a.where, known);
    for (Slot s : source->scene.subtree(kNoSlot)) {
        if (!a.where.empty() && !filter.fits(*source, s)) continue;
        io::CsvRow row = {base::toText(source->scene.id(s))};
        for (const ops::TableColumn& c : columns) row.push_back(ops::cellText(*source, s, c));
        csv.row(row);
    }
    warnOfDamage(*opened->workspace, v.io);
    return exitCode::kFine;
}

int tableImport(const Arguments& a, const Verbs& v) {
    auto text = base::readFile(a.file, base::most::kTable);
    if (!text) return v.io.fail(text.error());
    auto rows = io::parseCsv(*text);
    if (!rows) return v.io.fail({rows.error().code, a.file + ": " + rows.error().message});
    auto opened = open(a.path, a.preview ? io::OpenMode::ReadOnly : io::OpenMode::Edit, v.chance);
    if (!opened) return v.io.fail(opened.error());
    if (!useBehaviours(*opened, v.io, v.chance)) return exitCode::kScriptBroken;
    auto source = tableOf(a, *opened);
    if (!source) return v.io.fail(source.error());
    const ops::CellPlan plan = ops::planRows(*source, *rows);
    if (a.asJson) {
        Json changes = Json::array(), problems = Json::array();
        for (const auto& c : plan.changes)
            changes.push_back(
                {{"id", base::toText(c.id)}, {"column", c.column}, {"before", c.before}, {"after", c.after}});
        for (const auto& p : plan.problems)
            problems.push_back({{"row", p.row}, {"column", p.column}, {"message", p.message}});
        v.io.out << io::toText(
                        {{"changes", std::move(changes)}, {"problems", std::move(problems)}, {"remarks", plan.remarks}})
                 << "\n";
    } else {
        for (const auto& p : plan.problems)
            v.io.err << fmt::format("{}:{}: {}{}{}\n", a.file, p.row, p.column, p.column.empty() ? "" : ": ",
                                    p.message);
        for (const std::string& remark : plan.remarks) v.io.err << fmt::format("{}: {}\n", a.file, remark);
    }
    if (!plan.problems.empty())
        return v.io.fail({ErrorCode::BadInput, fmt::format("{}: {} cells cannot be taken; nothing was changed.", a.file,
                                                           plan.problems.size())});
    if (!a.preview && !plan.changes.empty()) {
        edit::Draft draft(opened->session(), opened->scenes.front(),
                          fmt::format("Table: {} cells", plan.changes.size()));
        if (Status done = ops::apply(draft, plan); !done) return v.io.fail(done.error());
        if (auto step = draft.commit(); !step) return v.io.fail(step.error());
        if (const int saved = saveAll(*opened->workspace, v.io); saved != exitCode::kFine) return saved;
    }
    if (!a.asJson)
        v.io.out << fmt::format("{} cells {}\n", plan.changes.size(), a.preview ? "would change" : "changed");
    return exitCode::kFine;
}

int putInStock(const Arguments& a, const Verbs& v) {
    io::StockLook look{.shape = {}, .like = a.item};
    if (!a.name.empty()) {
        look.shape = model::solidShape(a.name);
        if (!look.shape) return v.io.fail({ErrorCode::BadInput, a.name + ": is no shape of a solid."});
    }
    auto opened = open(a.path, io::OpenMode::Edit, v.chance);
    if (!opened) return v.io.fail(opened.error());
    edit::Draft draft(opened->session(), std::string(model::data::kItems), "Put " + a.kind + " in the Stock");
    auto model = io::bringModelOf(*opened->workspace, draft, a.kind, look);
    if (!model) return v.io.fail(model.error());
    auto key = ops::putInStock(draft, a.kind, model->key, model->facts);
    if (!key) return v.io.fail(key.error());
    if (auto step = draft.commit(); !step) return v.io.fail(step.error());
    if (const int saved = saveAll(*opened->workspace, v.io); saved != exitCode::kFine) return saved;
    v.io.out << *key << "\n";
    return exitCode::kFine;
}

}  // namespace

void addPropertyCommands(CLI::App& app, const Verbs& verbs) {
    auto arguments = std::make_shared<Arguments>();  // shared by the callbacks, which run while parsing
    auto add = [&](const char* name, const char* help, const char* what, int (*run)(const Arguments&, const Verbs&)) {
        return addVerb(app, name, help, what, arguments, verbs, run);
    };
    auto* read = add("get", "A property of objects, those whose kind has it, one a line", "SCENE", get);
    read->add_option("NAME", arguments->name, "The property")->required();
    auto* write =
        add("set", "Sets a property of objects, checked against their kinds, and writes the scene", "SCENE", set);
    write->add_option("NAME=VALUE", arguments->name, "oil=2, state=open, oil+=1 for one more each");
    write->add_option("--kind", arguments->kind, "Makes them of this kind; values that it does not take are set aside");
    for (auto* command : {read, write}) {
        command->add_option("--where", arguments->where, "Which objects, such as: kind:Lantern");
        command->add_flag("--json", arguments->asJson, "As JSON");
    }
    CLI::App& table = addGroup(app, "table", "Objects as a table: out to CSV, and in from it");
    auto addTable = [&](const char* name, const char* help, int (*run)(const Arguments&, const Verbs&)) {
        auto* command = addVerb(table, name, help, "SCENE", arguments, verbs, run);
        command->add_option("--seen-from", arguments->relativeTo,
                            "Positions and turns as seen from the object of this id");
        return command;
    };
    auto* out = addTable("export", "Writes objects as CSV, with their ids", tableExport);
    out->add_option("--where", arguments->where, "Which objects, such as: kind:Lantern oil<1 x=2..5");
    out->add_option("--columns", arguments->columns, "Which columns, such as: name,x,y,z,oil")->delimiter(',');
    auto* in = addTable("import", "Changes objects as a CSV file says, all of it or nothing", tableImport);
    in->add_option("FILE", arguments->file, "With a head line; “id” or “name” tells which object")->required();
    in->add_flag("--preview", arguments->preview, "Only says what would change");
    in->add_flag("--json", arguments->asJson, "Changes and problems as JSON");
    auto* itemCommand = add("item", "What is said of an item: shows it, or sets some", "PROJECT", item);
    itemCommand->add_option("ITEM", arguments->item, "Its key, as `mellow items` lists it")->required();
    itemCommand->add_option("KEY=VALUE", arguments->values, "kind=Bench, folder=Towpath, collision=box, offered=false");
    itemCommand->add_flag("--json", arguments->asJson, "As JSON");
    auto* stock = add("put-in-stock", "Makes a kind something that can be placed", "PROJECT", putInStock);
    stock->add_option("KIND", arguments->kind)->required();
    stock->add_option("--shape", arguments->name, "Looks like a solid of a metre: box, cylinder, …");
    stock->add_option("--like", arguments->item, "Has the model of this item");
    add("items", "What the Stock offers, one a line", "PROJECT", items)
        ->add_flag("--csv", arguments->asCsv, "As a table with a head line");
}

}  // namespace cli
