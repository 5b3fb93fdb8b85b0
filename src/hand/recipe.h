#pragma once
// A recipe: how a scene becomes another program's list. docs/formats/recipe.md has its grammar. Values; any thread.
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "hand/convention.h"
#include "model/data.h"

namespace hand {

/// What one entry of the list says under one name.
struct Field {
    std::string name;                       ///< theirs; "place.x" stands in "place"; in XML "@x" is an attribute
    std::string is;                         ///< where it comes from, see fieldSources(); "= oil * 2": worked out
    std::optional<model::Value> value;      ///< always this, instead
    std::optional<int> decimals;            ///< of numbers; nothing: as the recipe says
    std::optional<model::Value> leaveOut;   ///< not written when it is this
    std::optional<model::Value> otherwise;  ///< written when the object has none
    std::string names;                      ///< the table by which it is called otherwise
    bool asText = false;                    ///< a number or truth value in quotes
    bool always = false;                    ///< an empty one is written too
    friend bool operator==(const Field&, const Field&) = default;
};

struct Recipe {
    enum class Form { Json, JsonTree, JsonLines, Csv, Xml, Text };
    enum class Per { Object, Group, Act, Cue, Item, Kind, Outfit, Record };
    enum class Files { One, Group, Act, Cue };
    enum class Relative { World, Parent, Object };
    enum class Encoding { Utf8, Utf8Marked, Utf16, Latin1 };

    std::string name;  ///< its key, the file's name
    std::string label, help;
    std::string objects;  ///< a filter; empty: all
    Per entries = Per::Object;
    Form form = Form::Json;
    Files files = Files::One;
    std::string file = "{scene}.txt";  ///< what it is called; {scene}, {part}: the group, act or cue
    Convention convention;
    std::string unit = "m";  ///< as written: m, cm, mm, km, or their unit in metres
    Relative relative = Relative::World;
    std::string relativeTo;  ///< the object's name, when it is one
    int decimals = 4, angleDecimals = 4;
    int firstNumber = 1, numberDigits = 1;
    Encoding encoding = Encoding::Utf8;
    bool crlf = false;
    // Forms.
    model::Value inside;                          ///< of JSON: what the list stands in, at "*"; false: in nothing
    std::string children = "children";            ///< of a JSON tree: the member with what lies below
    std::string root = "level", entry = "thing";  ///< of XML
    std::string separator = ",";                  ///< of CSV
    bool headLine = true;                         ///< of CSV
    std::string head, each, foot, between;        ///< of text
    std::vector<Field> fields;
    using Names = std::map<std::string, std::string>;
    std::map<std::string, Names> names;  ///< by table: ours, theirs
    std::map<std::string, Names> read;   ///< by table: theirs, ours, where reading has learnt more
    model::ValueMap unknown;             ///< members of a newer version, kept

    /// Of what the project offers instead of what stands in a scene.
    bool isCatalogue() const { return entries >= Per::Item; }
    bool isJson() const { return form == Form::Json || form == Form::JsonTree || form == Form::JsonLines; }
    friend bool operator==(const Recipe&, const Recipe&) = default;
};

/// What a recipe's file says. What is wrong is named in `problems` ("fields.x: …") and as if not said.
Recipe recipeFrom(const std::string& name, const model::ValueMap& map, std::vector<std::string>& problems);
/// The other way: what is usual is left out.
model::ValueMap valuesOf(const Recipe& recipe);
/// A table of its names, changed; all else as it was.
model::ValueMap withRead(model::ValueMap map, const std::string& table, const Recipe::Names& more);

/// What may stand behind "is", beside properties, members of facets and formulas.
struct FieldSource {
    const char* key;
    const char* help;
    bool reads = false;  ///< taking a list in sets it
};
const std::vector<FieldSource>& fieldSources();

}  // namespace hand
