// mellow-mesh: reads an OBJ, STL or PLY file and writes it as .glb. A program of its own, with little time and little
// memory, because the files of others can keep its library busy for ever: who calls it goes on.
#include <sys/resource.h>

#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <assimp/Importer.hpp>
#include <cstdio>
#include <filesystem>

#include "base/files.h"
#include "base/text.h"
#include "io/gltf_out.h"
#include "io/image_head.h"

namespace {

namespace fs = std::filesystem;

constexpr rlim_t kSeconds = 20, kMegabytes = 3000;
constexpr std::size_t kMostVertices = 30'000'000;

void limitItself() {
    [[maybe_unused]] const rlimit time{kSeconds, kSeconds}, room{kMegabytes << 20, kMegabytes << 20}, none{0, 0};
    setrlimit(RLIMIT_CPU, &time);
#ifndef __SANITIZE_ADDRESS__  // which needs very much of it
    setrlimit(RLIMIT_AS, &room);
#endif
    setrlimit(RLIMIT_CORE, &none);
}

int fail(const std::string& why) {
    std::fprintf(stderr, "%s\n", why.c_str());
    return 1;
}

/// An image beside the file, or below its folder; -1: none that can be shown.
int imageOf(const aiMaterial& material, const fs::path& folder, shape::Mesh& mesh) {
    aiString name;
    if (material.GetTexture(aiTextureType_DIFFUSE, 0, &name) != AI_SUCCESS) return -1;
    std::string relative = name.C_Str();
    for (char& c : relative)
        if (c == '\\') c = '/';
    const auto file = base::inside(folder, relative);
    if (!file) return -1;
    auto bytes = base::readFile(*file, base::most::kTable);
    if (!bytes || !io::imageHeadOf(*bytes, relative)) return -1;
    const bool png = bytes->starts_with("\x89PNG");
    mesh.images.push_back({png ? "image/png" : "image/jpeg", std::move(*bytes)});
    return static_cast<int>(mesh.images.size()) - 1;
}

void addMaterials(const aiScene& scene, const fs::path& folder, shape::Mesh& mesh) {
    for (unsigned i = 0; i < scene.mNumMaterials; ++i) {
        shape::Material& made = mesh.materials.emplace_back();
        aiString name;
        if (scene.mMaterials[i]->Get(AI_MATKEY_NAME, name) == AI_SUCCESS)
            made.name = base::withoutControl(name.C_Str());
        aiColor4D colour;
        if (scene.mMaterials[i]->Get(AI_MATKEY_COLOR_DIFFUSE, colour) == AI_SUCCESS)
            for (unsigned k = 0; k < 3; ++k) made.baseColour[k] = std::clamp(colour[k], 0.0F, 1.0F);
        made.image = imageOf(*scene.mMaterials[i], folder, mesh);
    }
    if (mesh.materials.empty()) mesh.materials.emplace_back();
}

bool isFinite(const aiVector3D& v) {
    return std::isfinite(v.x) && std::isfinite(v.y) && std::isfinite(v.z) && std::abs(v.x) < 1e7 &&
           std::abs(v.y) < 1e7 && std::abs(v.z) < 1e7;
}

/// One mesh of the scene, with vertices and triangles checked; what was wrong, or nothing.
std::string addMesh(const aiMesh& from, shape::Mesh& mesh) {
    if (mesh.positions.size() + from.mNumVertices > kMostVertices) return "it has more vertices than are read";
    const auto first = static_cast<std::uint32_t>(mesh.positions.size());
    const bool textured = from.HasTextureCoords(0) || !mesh.texture.empty();
    if (textured) mesh.texture.resize(mesh.positions.size(), {0, 0});
    for (unsigned i = 0; i < from.mNumVertices; ++i) {
        const aiVector3D& p = from.mVertices[i];
        if (!isFinite(p)) return "a vertex of it is at a number that is not finite, or too far away";
        mesh.positions.push_back({p.x, p.y, p.z});
        const aiVector3D n = from.HasNormals() ? from.mNormals[i] : aiVector3D(0, 1, 0);
        const float length = n.Length();
        const bool usable = isFinite(n) && length > 1e-6F;
        mesh.normals.push_back(usable ? shape::Float3{n.x / length, n.y / length, n.z / length}
                                      : shape::Float3{0, 1, 0});
        if (!textured) continue;
        const aiVector3D t = from.HasTextureCoords(0) ? from.mTextureCoords[0][i] : aiVector3D();
        mesh.texture.push_back(isFinite(t) ? shape::Float2{t.x, 1 - t.y} : shape::Float2{0, 0});
    }
    shape::Submesh part{static_cast<std::uint32_t>(mesh.indices.size()), 0,
                        std::min(from.mMaterialIndex, static_cast<unsigned>(mesh.materials.size()) - 1)};
    for (unsigned f = 0; f < from.mNumFaces; ++f) {
        const aiFace& face = from.mFaces[f];
        if (face.mNumIndices != 3) continue;
        for (unsigned k = 0; k < 3; ++k) {
            if (face.mIndices[k] >= from.mNumVertices) return "a triangle of it names a vertex that is not there";
            mesh.indices.push_back(first + face.mIndices[k]);
        }
    }
    part.indexCount = static_cast<std::uint32_t>(mesh.indices.size()) - part.firstIndex;
    if (part.indexCount > 0) mesh.submeshes.push_back(part);
    return {};
}

int convert(const fs::path& in, const fs::path& out) {
    Assimp::Importer importer;
    importer.SetPropertyInteger(AI_CONFIG_PP_SBP_REMOVE, aiPrimitiveType_POINT | aiPrimitiveType_LINE);
    const aiScene* scene = importer.ReadFile(
        in.string(), aiProcess_Triangulate | aiProcess_JoinIdenticalVertices | aiProcess_GenSmoothNormals |
                         aiProcess_PreTransformVertices | aiProcess_SortByPType | aiProcess_ValidateDataStructure);
    if (scene == nullptr) return fail(base::withoutControl(importer.GetErrorString()));
    shape::Mesh mesh;
    addMaterials(*scene, in.parent_path(), mesh);
    for (unsigned i = 0; i < scene->mNumMeshes; ++i)
        if (const std::string wrong = addMesh(*scene->mMeshes[i], mesh); !wrong.empty()) return fail(wrong);
    if (mesh.indices.empty()) return fail("it holds no triangles");
    shape::dropUnused(mesh);
    mesh.bounds = shape::boundsOf(mesh);
    if (auto written = base::writeFileWhole(out, io::glbOf(mesh, in.stem().string())); !written)
        return fail(written.error().message);
    return 0;
}

}  // namespace

int main(int argc, char** argv) {
    if (argc != 3) return fail("mellow-mesh IN OUT: reads an OBJ, STL or PLY file and writes a .glb");
    limitItself();
    try {
        return convert(fs::absolute(argv[1]), argv[2]);
    } catch (const std::exception& problem) {
        return fail(std::string("there is not enough memory for it, or it is no such file: ") + problem.what());
    }
}
