#include "io/gltf_types.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <vector>

#include "base/text.h"

namespace io {
namespace {

// glTF 2.0, chapter 5: the members of each object that have a type of their own. Letters: i whole number from 0, n
// number, t text, b true or false, I list of whole numbers, a digit: list of so many numbers, N list of numbers, M
// object of whole numbers; a capitalised word: an object of that sort; with * a list of such. ! in front: required.
struct Member {
    const char* name;
    const char* type;
};
using Sort = std::vector<Member>;

const std::map<std::string, Sort>& sorts() {
    static const std::map<std::string, Sort> all = {
        {"Root",
         {{"asset", "!Asset"},
          {"scene", "i"},
          {"scenes", "*Scene"},
          {"nodes", "*Node"},
          {"meshes", "*Mesh"},
          {"accessors", "*Accessor"},
          {"bufferViews", "*View"},
          {"buffers", "*Buffer"},
          {"materials", "*Material"},
          {"textures", "*Texture"},
          {"images", "*Image"},
          {"samplers", "*Sampler"},
          {"skins", "*Skin"},
          {"animations", "*Animation"},
          {"cameras", "*Camera"},
          {"extensions", "Any"},
          {"extensionsUsed", "T"},
          {"extensionsRequired", "T"}}},
        {"Any", {}},
        {"Asset", {{"version", "!t"}, {"generator", "t"}, {"copyright", "t"}, {"minVersion", "t"}}},
        {"Scene", {{"name", "t"}, {"nodes", "I"}}},
        {"Node",
         {{"name", "t"},
          {"children", "I"},
          {"mesh", "i"},
          {"camera", "i"},
          {"skin", "i"},
          {"matrix", "16"},
          {"translation", "3"},
          {"rotation", "4"},
          {"scale", "3"},
          {"weights", "N"},
          {"extensions", "Any"}}},
        {"Mesh", {{"name", "t"}, {"primitives", "!*Primitive"}, {"weights", "N"}}},
        {"Primitive", {{"attributes", "!M"}, {"indices", "i"}, {"material", "i"}, {"mode", "i"}, {"targets", "*Any"}}},
        {"Accessor",
         {{"name", "t"},
          {"bufferView", "i"},
          {"byteOffset", "i"},
          {"componentType", "!i"},
          {"normalized", "b"},
          {"count", "!i"},
          {"type", "!t"},
          {"min", "N"},
          {"max", "N"},
          {"sparse", "Sparse"}}},
        {"Sparse", {{"count", "!i"}, {"indices", "!SparsePart"}, {"values", "!SparsePart"}}},
        {"SparsePart", {{"bufferView", "!i"}, {"byteOffset", "i"}, {"componentType", "i"}}},
        {"View",
         {{"name", "t"},
          {"buffer", "!i"},
          {"byteOffset", "i"},
          {"byteLength", "!i"},
          {"byteStride", "i"},
          {"target", "i"}}},
        {"Buffer", {{"name", "t"}, {"uri", "t"}, {"byteLength", "!i"}}},
        {"Material",
         {{"name", "t"},
          {"pbrMetallicRoughness", "Pbr"},
          {"normalTexture", "TextureInfo"},
          {"occlusionTexture", "TextureInfo"},
          {"emissiveTexture", "TextureInfo"},
          {"emissiveFactor", "3"},
          {"alphaMode", "t"},
          {"alphaCutoff", "n"},
          {"doubleSided", "b"}}},
        {"Pbr",
         {{"baseColorFactor", "4"},
          {"baseColorTexture", "TextureInfo"},
          {"metallicFactor", "n"},
          {"roughnessFactor", "n"},
          {"metallicRoughnessTexture", "TextureInfo"}}},
        {"TextureInfo", {{"index", "!i"}, {"texCoord", "i"}, {"scale", "n"}, {"strength", "n"}, {"extensions", "Any"}}},
        {"Texture", {{"name", "t"}, {"source", "i"}, {"sampler", "i"}}},
        {"Image", {{"name", "t"}, {"uri", "t"}, {"mimeType", "t"}, {"bufferView", "i"}}},
        {"Sampler", {{"name", "t"}, {"magFilter", "i"}, {"minFilter", "i"}, {"wrapS", "i"}, {"wrapT", "i"}}},
        {"Skin", {{"name", "t"}, {"inverseBindMatrices", "i"}, {"skeleton", "i"}, {"joints", "!I"}}},
        {"Animation", {{"name", "t"}, {"channels", "!*Any"}, {"samplers", "!*Any"}}},
        {"Camera", {{"name", "t"}, {"type", "!t"}, {"perspective", "Perspective"}, {"orthographic", "Orthographic"}}},
        {"Perspective", {{"aspectRatio", "n"}, {"yfov", "!n"}, {"zfar", "n"}, {"znear", "!n"}}},
        {"Orthographic", {{"xmag", "!n"}, {"ymag", "!n"}, {"zfar", "!n"}, {"znear", "!n"}}}};
    return all;
}

bool isWhole(const Json& value) {
    // 12.0 is a whole number too; the largest that is of use fits an index.
    return value.is_number() && value.get<double>() >= 0 && value.get<double>() <= 9007199254740992.0 &&
           value.get<double>() == std::floor(value.get<double>());
}
bool isNumber(const Json& value) {
    return value.is_number() && std::isfinite(value.get<double>());
}
template <class Is>
bool isListOf(const Json& value, const Is& is) {
    return value.is_array() && std::all_of(value.begin(), value.end(), is);
}

class Check {
  public:
    std::string object(const Json& value, const std::string& sort, const std::string& where) {
        if (!value.is_object()) return where + " is no object";
        for (const Member& member : sorts().at(sort)) {
            const bool required = member.type[0] == '!';
            const std::string type = member.type + (required ? 1 : 0);
            const std::string here = where.empty() ? member.name : where + "." + member.name;
            const auto place = value.find(member.name);
            if (place == value.end()) {
                if (required) return here + " is missing";
                continue;
            }
            if (std::string wrong = one(*place, type, here); !wrong.empty()) return wrong;
        }
        return {};
    }

  private:
    std::string one(const Json& value, const std::string& type, const std::string& where) {
        const char first = type[0];
        auto unless = [&](bool is, const char* what) { return is ? std::string() : where + " is " + what; };
        if (first == '*') {
            if (!value.is_array()) return where + " is no list";
            for (std::size_t i = 0; i < value.size(); ++i)
                if (std::string wrong = object(value[i], type.substr(1), fmt::format("{}[{}]", where, i));
                    !wrong.empty())
                    return wrong;
            return {};
        }
        if (type.size() > 2 && first >= 'A' && first <= 'Z') return object(value, type, where);
        switch (first) {
            case 'i': return unless(isWhole(value), "no whole number");
            case 'n': return unless(isNumber(value), "no number");
            case 't': return unless(value.is_string(), "no text");
            case 'b': return unless(value.is_boolean(), "neither true nor false");
            case 'I': return unless(isListOf(value, isWhole), "no list of whole numbers");
            case 'N': return unless(isListOf(value, isNumber), "no list of numbers");
            case 'T': return unless(isListOf(value, [](const Json& v) { return v.is_string(); }), "no list of texts");
            case 'M':
                return unless(value.is_object() && std::all_of(value.begin(), value.end(), isWhole),
                              "no object of whole numbers");
            default: break;
        }
        const auto count = static_cast<std::size_t>(std::stoi(type));
        return unless(isListOf(value, isNumber) && value.size() == count, count == 3   ? "no list of 3 numbers"
                                                                          : count == 4 ? "no list of 4 numbers"
                                                                                       : "no list of 16 numbers");
    }
};

}  // namespace

std::string wrongInGltf(const Json& document) {
    return base::forTerminal(Check().object(document, "Root", ""));
}

}  // namespace io
