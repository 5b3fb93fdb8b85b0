#include "io/gltf_document.h"

#include <fmt/format.h>

#include <charconv>
#include <cstring>

#include "base/files.h"
#include "base/text.h"
#include "io/gltf_types.h"
#include "io/image_head.h"
#include "io/json_text.h"
#include "io/names.h"

namespace io {
namespace {

namespace fs = std::filesystem;

bool keepEncoded(tinygltf::Image* image, const int, std::string*, std::string*, int, int, const unsigned char* bytes,
                 int size, void*) {
    image->image.assign(bytes, bytes + size);
    image->as_is = true;
    return true;
}

/// Where a document's files may lie.
struct Within {
    fs::path root;

    Result<fs::path> place(const std::string& file) const {
        const fs::path name = fs::path(file).lexically_normal().lexically_relative(root);
        return base::inside(root, name);
    }
};

bool fileExists(const std::string& file, void* within) {
    const auto placed = static_cast<const Within*>(within)->place(file);
    return placed && base::exists(*placed);
}
std::string sameName(const std::string& file, void*) {
    return file;
}
bool readWhole(std::vector<unsigned char>* out, std::string* error, const std::string& file, void* within) {
    const auto placed = static_cast<const Within*>(within)->place(file);
    const auto bytes =
        placed ? base::readFile(*placed, base::most::kModel) : Result<std::string>(tl::unexpected(placed.error()));
    if (!bytes) {
        if (error != nullptr) *error += bytes.error().message;
        return false;
    }
    out->assign(bytes->begin(), bytes->end());
    return true;
}
bool writeNothing(std::string*, const std::string&, const std::vector<unsigned char>&, void*) {
    return false;
}

bool isReadExtension(const std::string& name) {
    return name == "KHR_lights_punctual" || name == "KHR_materials_unlit" || name == "KHR_texture_transform" ||
           name == "KHR_mesh_quantization" || name == "KHR_materials_emissive_strength" ||
           name == "KHR_draco_mesh_compression" || name == "EXT_mesh_gpu_instancing";
}

/// The document's JSON: all of a text, or the first chunk of a binary.
Result<std::string_view> jsonOf(std::string_view bytes) {
    auto number = [&](std::size_t at) {
        std::uint32_t n = 0;
        std::memcpy(&n, bytes.data() + at, 4);
        return n;
    };
    if (!bytes.starts_with("glTF")) {
        if (bytes.find_first_not_of(" \t\r\n\xEF\xBB\xBF") != bytes.find('{'))
            return fail(ErrorCode::BadInput, "it begins neither as binary glTF nor as JSON text");
        return bytes;
    }
    if (bytes.size() < 20) return fail(ErrorCode::BadInput, "it is cut short");
    if (number(4) != 2) return fail(ErrorCode::BadInput, fmt::format("its version is {}; 2 was expected", number(4)));
    if (number(8) > bytes.size() || number(12) > bytes.size() - 20) return fail(ErrorCode::BadInput, "it is cut short");
    return bytes.substr(20, number(12));
}

/// RFC 3986: %2F and its like.
std::string decoded(const std::string& uri) {
    std::string out;
    for (std::size_t i = 0; i < uri.size(); ++i) {
        int code = 0;
        const char* const end = uri.data() + std::min(i + 3, uri.size());
        const bool escaped =
            uri[i] == '%' && i + 2 < uri.size() && std::from_chars(uri.data() + i + 1, end, code, 16).ptr == end;
        out += escaped ? static_cast<char>(code) : uri[i];
        i += escaped ? 2 : 0;
    }
    return out;
}

/// What the library says of a document that it refuses, without its own ways of saying it.
std::string reason(std::string words) {
    words = words.substr(0, words.find('\n'));
    constexpr std::size_t kMost = 160;
    if (words.empty() || words.size() > kMost || words.find("data:") != std::string::npos ||
        words.find("json") != std::string::npos)
        return "what it says of its data does not fit its data";
    while (!words.empty() && (words.back() == '.' || words.back() == ' ')) words.pop_back();
    return base::forTerminal(words);
}

/// The document's files, by name: those that are missing or lead elsewhere are said before the library trips over them.
std::string missingBuffer(const Json& document, const Within& within, const fs::path& folder) {
    const auto buffers = document.find("buffers");
    if (buffers == document.end()) return {};
    for (const Json& buffer : *buffers) {
        const std::string uri = buffer.value("uri", std::string());
        if (uri.empty() || uri.starts_with("data:")) continue;
        const fs::path file = folder / decoded(uri);
        const auto placed = within.place(file.string());
        if (!placed) return "the file “" + shownUri(uri) + "” of its data leads out of its folder";
        if (!base::exists(*placed)) return "the file “" + shownUri(uri) + "” of its data is missing";
    }
    return {};
}

/// What a compressed mesh has for indices lies in no view of its own, which the loader would refuse: it is left out,
/// for the indices come with the mesh. True: something was.
bool dropCompressedIndices(Json& document) {
    bool any = false;
    if (!document.contains("meshes")) return false;
    for (Json& mesh : document["meshes"]) {
        if (!mesh.contains("primitives")) continue;
        for (Json& primitive : mesh["primitives"])
            if (primitive.contains("extensions") && primitive["extensions"].contains("KHR_draco_mesh_compression"))
                any = primitive.erase("indices") > 0 || any;
    }
    return any;
}

/// A file's bytes with another document in them.
std::string withDocument(std::string_view bytes, const Json& document) {
    std::string text = toText(document);
    if (!bytes.starts_with("glTF")) return text;
    constexpr std::size_t kHead = 12, kChunk = 8;
    std::uint32_t held = 0;
    std::memcpy(&held, bytes.data() + kHead, 4);
    text.resize((text.size() + 3) / 4 * 4, ' ');
    const std::string_view rest = bytes.substr(kHead + kChunk + held);
    const auto size = static_cast<std::uint32_t>(text.size()),
               whole = static_cast<std::uint32_t>(kHead + kChunk + text.size() + rest.size());
    std::string made(bytes.substr(0, kHead + kChunk));
    std::memcpy(made.data() + 8, &whole, 4);
    std::memcpy(made.data() + kHead, &size, 4);
    return made.append(text).append(rest);
}

}  // namespace

std::string shownUri(const std::string& uri) {
    if (uri.starts_with("data:")) return "data in the file itself";
    constexpr std::size_t kMost = 100;
    return base::forTerminal(uri.size() > kMost ? uri.substr(0, kMost) + "…" : uri);
}

base::Error malformedGltf(const fs::path& path, const std::string& why) {
    return {ErrorCode::BadInput, fmt::format("{}: is no usable glTF model: {}.", path.string(), why)};
}

Result<tinygltf::Model> readGltf(const fs::path& path, const fs::path& root) {
    auto bytes = base::readFile(path, base::most::kModel);
    if (!bytes) return tl::unexpected(bytes.error());
    auto malformed = [&](const std::string& why) { return tl::unexpected(malformedGltf(path, why)); };
    auto text = jsonOf(*bytes);
    if (!text) return malformed(text.error().message);
    if (text->starts_with("\xEF\xBB\xBF")) text->remove_prefix(3);
    auto document = parseJson(*text, path.filename().string());
    if (!document) return malformed(document.error().message.substr(0, document.error().message.size() - 1));
    if (std::string wrong = wrongInGltf(*document); !wrong.empty()) return malformed(wrong);
    const std::string version = (*document)["asset"]["version"].get<std::string>();
    if (!version.starts_with("2."))
        return malformed(
            fmt::format("its version is “{}”; 2.0 was expected", base::forTerminal(version.substr(0, 20))));
    for (const Json& name : document->value("extensionsRequired", Json::array()))
        if (!isReadExtension(name.get<std::string>()))
            return fail(ErrorCode::Unsupported, fmt::format("{}: needs the extension {}, which is not read.",
                                                            path.string(), base::forTerminal(name.get<std::string>())));
    std::error_code problem;
    const fs::path whole = fs::absolute(path, problem).lexically_normal();
    const Within within{fs::absolute(root.empty() ? path.parent_path() : root, problem).lexically_normal()};
    if (problem) return malformed("its folder cannot be found");
    if (std::string missing = missingBuffer(*document, within, whole.parent_path()); !missing.empty())
        return malformed(missing);
    if (dropCompressedIndices(*document)) *bytes = withDocument(*bytes, *document);
    std::string errors, warnings;
    try {
        tinygltf::TinyGLTF loader;
        loader.SetImageLoader(keepEncoded, nullptr);
        loader.SetFsCallbacks({fileExists, sameName, readWhole, writeNothing, const_cast<Within*>(&within)});
        tinygltf::Model model;
        const std::string folder = whole.parent_path().string();
        const auto size = static_cast<unsigned int>(bytes->size());
        const bool loaded =
            bytes->starts_with("glTF")
                ? loader.LoadBinaryFromMemory(&model, &errors, &warnings,
                                              reinterpret_cast<const unsigned char*>(bytes->data()), size, folder)
                : loader.LoadASCIIFromString(&model, &errors, &warnings, bytes->data(), size, folder);
        if (loaded) return model;
    } catch (const std::exception&) {
        return malformed("it cannot be read");
    }
    return malformed(reason(errors));
}

}  // namespace io
