#include "hand/recipe.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "hand/names.h"
#include "model/value_reader.h"
#include "ops/facet_members.h"

namespace hand {
namespace {

using model::ValueReader;

constexpr std::array<std::string_view, 6> kForms = {"json", "json tree", "json lines", "csv", "xml", "text"};
constexpr std::array<std::string_view, 8> kPer = {"object", "group", "act", "cue", "item", "kind", "outfit", "record"};
constexpr std::array<std::string_view, 4> kFiles = {"one", "group", "act", "cue"};
constexpr std::array<std::string_view, 4> kEncodings = {"utf-8", "utf-8 with mark", "utf-16", "latin-1"};
constexpr std::array<std::string_view, 3> kAngles = {"degrees", "radians", "turns"};
constexpr std::array<std::string_view, 2> kRanges = {"signed", "positive"};
constexpr std::array<std::string_view, 2> kLines = {"lf", "crlf"};

void readUnit(const ValueReader& read, Recipe& recipe) {
    const Value* value = model::valueOf(read.map, "unit");
    if (value == nullptr) return;
    double room = 0;
    if (const double* metres = model::asNumber(*value, room); metres != nullptr && *metres > 1e-6 && *metres < 1e6) {
        recipe.convention.metres = *metres;
        recipe.unit = base::shortest(*metres);
        return;
    }
    constexpr std::pair<std::string_view, double> known[] = {{"m", 1}, {"cm", 0.01}, {"mm", 0.001}, {"km", 1000}};
    const auto* word = std::get_if<std::string>(&value->data);
    const auto unit = std::find_if(std::begin(known), std::end(known),
                                   [&](const auto& one) { return word != nullptr && one.first == *word; });
    if (unit == std::end(known)) return read.say("unit", "m, cm, mm, km or a number of metres was expected.");
    recipe.unit = unit->first;
    recipe.convention.metres = unit->second;
}

void readWhole(const ValueReader& read, std::string_view key, int low, int high, int& out) {
    double number = out;
    read.number(key, low, high, number);
    if (number != std::floor(number))
        read.say(key, "a whole number was expected.");
    else
        out = static_cast<int>(number);
}

void readTurns(const ValueReader& all, Convention& c) {
    const Value* value = model::valueOf(all.map, "turns");
    if (value == nullptr) return;
    const auto* map = std::get_if<ValueMap>(&value->data);
    if (map == nullptr) return all.say("turns", "is no object; unit, order, range or signs was expected.");
    std::vector<std::string> problems;
    const ValueReader read{*map, problems};
    read.word("unit", kAngles, c.angles);
    std::string order = orderText(c), signs;
    read.text("order", order);
    if (Status fine = readOrder(order, c); !fine) read.say("order", fine.error().message);
    int range = c.positive ? 1 : 0;
    read.word("range", kRanges, range);
    c.positive = range == 1;
    read.text("signs", signs);
    std::size_t n = 0;
    for (const char sign : signs) {
        if (sign == ' ') continue;
        if ((sign != '+' && sign != '-') || n == 3) n = 4;
        if (n > 2) break;
        c.turns[n++] = sign == '-' ? -1 : 1;
    }
    if (n != 0 && n != 3) read.say("signs", "a + or - for each of their axes was expected, such as “+ - +”.");
    for (const std::string& problem : problems) all.problems.push_back("turns." + problem);
}

bool isSource(const std::string& is) {
    const auto& all = fieldSources();
    return std::any_of(all.begin(), all.end(), [&](const FieldSource& one) { return one.key == is; });
}

Field fieldFrom(const ValueMap& map, std::size_t number, std::vector<std::string>& problems) {
    std::vector<std::string> own;
    const ValueReader read{map, own};
    Field field;
    read.text("name", field.name);
    read.text("is", field.is);
    read.text("names", field.names);
    read.flag("text", field.asText);
    read.flag("always", field.always);
    const auto any = [&](const char* key, std::optional<Value>& out) {
        if (const Value* value = model::valueOf(map, key)) out = *value;
    };
    any("value", field.value);
    any("leaveOut", field.leaveOut);
    any("otherwise", field.otherwise);
    if (model::valueOf(map, "decimals") != nullptr) {
        int decimals = 4;
        readWhole(read, "decimals", 0, 15, decimals);
        field.decimals = decimals;
    }
    constexpr std::array<std::string_view, 9> known = {"name",  "is",       "names",     "text",    "always",
                                                       "value", "leaveOut", "otherwise", "decimals"};
    for (const auto& [key, value] : read.rest(known)) read.say(key, "is nothing that a field has.");
    if (field.name.empty()) read.say("name", "is missing.");
    if (field.is.empty() && !field.value) read.say("is", "is missing; where the field comes from was expected.");
    if (field.is.find('.') != std::string::npos && !field.is.starts_with("=") && !isSource(field.is) &&
        !ops::facetMember(field.is))
        read.say("is", "“" + field.is + "” is no member of a facet.");
    const std::string called = field.name.empty() ? fmt::format("fields[{}]", number) : "fields." + field.name;
    for (const std::string& problem : own) problems.push_back(called + "." + problem);
    return field;
}

void readNames(const ValueReader& read, std::string_view key, std::map<std::string, Recipe::Names>& out) {
    const Value* value = model::valueOf(read.map, key);
    if (value == nullptr) return;
    const auto* tables = std::get_if<ValueMap>(&value->data);
    if (tables == nullptr) return read.say(key, "is no object; tables of names were expected.");
    for (const auto& [table, names] : *tables) {
        const auto* all = std::get_if<ValueMap>(&names.data);
        if (all == nullptr) {
            read.say(key, "“" + table + "” is no object; names for names were expected.");
            continue;
        }
        out[table];
        for (const auto& [from, to] : *all)
            if (const auto* text = std::get_if<std::string>(&to.data))
                out[table][from] = *text;
            else
                read.say(key, "“" + table + "." + from + "” is no text.");
    }
}

void readForms(const ValueReader& read, Recipe& r) {
    if (const Value* inside = model::valueOf(read.map, "inside")) r.inside = *inside;
    read.text("children", r.children);
    read.text("root", r.root);
    read.text("entry", r.entry);
    read.text("separator", r.separator);
    if (r.separator.size() != 1 || r.separator == "\"" || r.separator == "\n") {
        read.say("separator", "one character was expected, such as “;”.");
        r.separator = ",";
    }
    read.flag("headLine", r.headLine);
    read.text("head", r.head);
    read.text("each", r.each);
    read.text("foot", r.foot);
    read.text("between", r.between);
    if (r.form == Recipe::Form::Text && r.each.empty())
        read.say("each", "is missing; how a text has one entry was expected, such as “{name} {x} {y} {z}”.");
}

constexpr std::array<std::string_view, 31> kKnown = {
    "label",  "help",     "objects",    "entries",  "form",          "files",    "file",     "axes",
    "unit",   "turns",    "relativeTo", "decimals", "angleDecimals", "numbers",  "encoding", "lines",
    "inside", "children", "root",       "entry",    "separator",     "headLine", "head",     "each",
    "foot",   "between",  "fields",     "names",    "read",          "format",   "version"};

}  // namespace

const std::vector<FieldSource>& fieldSources() {
    static const std::vector<FieldSource> all = {
        {"id", "its id, which stays the same through all changes", true},
        {"name", "what it is called", true},
        {"kind", "its kind", true},
        {"item", "its item, of the Stock", true},
        {"prefab", "the prefab it is an instance of", true},
        {"parent", "the id of what it lies below", true},
        {"parent name", "the name of what it lies below", false},
        {"path", "the names from the top down, with / between them", false},
        {"group", "the name of the outermost group it lies in", false},
        {"scene", "the scene's name", false},
        {"number", "its place in the list, counted as “numbers” says", false},
        {"acts", "the names of the acts it is in", false},
        {"x", "position along their first axis", true},
        {"y", "position along their second axis", true},
        {"z", "position along their third axis", true},
        {"position", "the three as a list", true},
        {"turnX", "turn about their first axis", true},
        {"turnY", "turn about their second axis", true},
        {"turnZ", "turn about their third axis", true},
        {"turn", "the three as a list", true},
        {"rotation", "the turn as a quaternion: x, y, z, w", true},
        {"sizeX", "size along their first axis, 1 as modelled", true},
        {"sizeY", "size along their second axis", true},
        {"sizeZ", "size along their third axis", true},
        {"size", "the size, where all three are the same; else the list", true},
        {"matrix", "all of it as 16 numbers, column by column", true},
        {"width", "of its box in the world, along their first axis, in their unit", false},
        {"depth", "the same along their second axis", false},
        {"height", "the same along their third axis", false},
        {"hidden", "hidden while editing", true},
        {"protected", "protected against change", true},
        {"unseen", "not seen in play", true},
        {"untouched", "not solid", true},
        {"absent", "not there when play starts", true},
        {"properties", "all its own properties, by name", false},
        {"cue", "of entries per cue: its name", false},
        {"when", "of entries per cue: when it goes off, in words", false},
        {"then", "of entries per cue: what it does, in words", false},
        {"armed", "of entries per cue: is it armed", false},
        {"count", "of entries per group or act: how many objects there are in it", false},
    };
    return all;
}

Recipe recipeFrom(const std::string& name, const ValueMap& map, std::vector<std::string>& problems) {
    const ValueReader read{map, problems};
    Recipe r;
    r.name = name;
    r.label = name;
    read.text("label", r.label);
    read.text("help", r.help);
    read.text("objects", r.objects);
    read.word("entries", kPer, r.entries);
    read.word("form", kForms, r.form);
    read.word("files", kFiles, r.files);
    constexpr const char* endings[] = {".json", ".json", ".jsonl", ".csv", ".xml", ".txt"};
    r.file = std::string(r.files == Recipe::Files::One ? "{scene}" : "{scene}-{part}") +
             endings[static_cast<std::size_t>(r.form)];
    read.text("file", r.file);
    std::string axes = axesText(r.convention);
    read.text("axes", axes);
    if (Status fine = readAxes(axes, r.convention); !fine) read.say("axes", fine.error().message);
    readUnit(read, r);
    readTurns(read, r.convention);
    std::string relative = "world";
    read.text("relativeTo", relative);
    r.relative = relative == "world"    ? Recipe::Relative::World
                 : relative == "parent" ? Recipe::Relative::Parent
                                        : Recipe::Relative::Object;
    if (r.relative == Recipe::Relative::Object) r.relativeTo = relative;
    readWhole(read, "decimals", 0, 15, r.decimals);
    r.angleDecimals = r.decimals;
    readWhole(read, "angleDecimals", 0, 15, r.angleDecimals);
    if (const Value* numbers = model::valueOf(map, "numbers")) {
        if (const auto* own = std::get_if<ValueMap>(&numbers->data)) {
            const ValueReader inner{*own, problems};
            readWhole(inner, "from", -1000000, 1000000000, r.firstNumber);
            readWhole(inner, "digits", 1, 12, r.numberDigits);
        } else {
            read.say("numbers", "is no object; from and digits were expected.");
        }
    }
    read.word("encoding", kEncodings, r.encoding);
    int lines = 0;
    read.word("lines", kLines, lines);
    r.crlf = lines == 1;
    readForms(read, r);
    read.each("fields",
              [&](const ValueMap& field) { r.fields.push_back(fieldFrom(field, r.fields.size(), problems)); });
    if (r.fields.empty()) read.say("fields", "there are none; a list of what each entry says was expected.");
    readNames(read, "names", r.names);
    readNames(read, "read", r.read);
    for (const Field& field : r.fields)
        if (!field.names.empty() && !r.names.contains(field.names) && !r.read.contains(field.names))
            read.say("fields." + field.name + ".names", "there is no table “" + field.names + "” in names.");
    r.unknown = read.rest(kKnown);
    for (const auto& [key, value] : r.unknown) read.say(key, "is nothing that a recipe has.");
    return r;
}

ValueMap valuesOf(const Recipe& r) {
    const Recipe usual;
    ValueMap map;
    const auto text = [&](const char* key, const std::string& value, const std::string& otherwise) {
        if (value != otherwise) map.emplace_back(key, Value{value});
    };
    const auto word = [&](const char* key, const auto& words, auto value) {
        if (static_cast<std::size_t>(value) != 0)
            map.emplace_back(key, Value{std::string(words[static_cast<std::size_t>(value)])});
    };
    text("label", r.label, r.name);
    text("help", r.help, "");
    text("objects", r.objects, "");
    word("entries", kPer, r.entries);
    map.emplace_back("form", Value{std::string(kForms[static_cast<std::size_t>(r.form)])});
    word("files", kFiles, r.files);
    text("file", r.file, usual.file);
    if (axesText(r.convention) != axesText(usual.convention)) map.emplace_back("axes", Value{axesText(r.convention)});
    text("unit", r.unit, "m");
    const Convention& c = r.convention;
    map.emplace_back("turns", Value{ValueMap{{"unit", {std::string(kAngles[static_cast<std::size_t>(c.angles)])}},
                                             {"order", {orderText(c)}},
                                             {"range", {std::string(kRanges[c.positive ? 1 : 0])}}}});
    if (r.relative != Recipe::Relative::World)
        map.emplace_back("relativeTo", Value{r.relative == Recipe::Relative::Parent ? "parent" : r.relativeTo});
    map.emplace_back("decimals", Value{r.decimals});
    if (r.angleDecimals != r.decimals) map.emplace_back("angleDecimals", Value{r.angleDecimals});
    word("encoding", kEncodings, r.encoding);
    if (r.isJson() && !std::holds_alternative<bool>(r.inside.data)) map.emplace_back("inside", r.inside);
    if (r.form == Recipe::Form::Xml) {
        map.emplace_back("root", Value{r.root});
        map.emplace_back("entry", Value{r.entry});
    }
    text("separator", r.separator, usual.separator);
    ValueList fields;
    for (const Field& field : r.fields) {
        ValueMap one = {{"name", {field.name}}, {"is", {field.is}}};
        if (!field.names.empty()) one.emplace_back("names", Value{field.names});
        if (field.leaveOut) one.emplace_back("leaveOut", *field.leaveOut);
        fields.emplace_back(std::move(one));
    }
    map.emplace_back("fields", Value{std::move(fields)});
    const auto tables = [&](const char* key, const std::map<std::string, Recipe::Names>& all) {
        ValueMap names;
        for (const auto& [table, pairs] : all) {
            ValueMap own;
            for (const auto& [from, to] : pairs) own.emplace_back(from, Value{to});
            names.emplace_back(table, Value{std::move(own)});
        }
        if (!names.empty()) map.emplace_back(key, Value{std::move(names)});
    };
    tables("names", r.names);
    tables("read", r.read);
    return map;
}

ValueMap withRead(ValueMap map, const std::string& table, const Recipe::Names& more) {
    const auto member = [](ValueMap& of, const std::string& key) {
        const Value* held = model::valueOf(of, key);
        const auto* inner = held != nullptr ? std::get_if<ValueMap>(&held->data) : nullptr;
        return inner != nullptr ? *inner : ValueMap{};
    };
    ValueMap read = member(map, "read"), names = member(read, table);
    for (const auto& [theirs, ours] : more) model::setValue(names, theirs, Value{ours});
    model::setValue(read, table, Value{std::move(names)});
    model::setValue(map, "read", Value{std::move(read)});
    return map;
}

}  // namespace hand
