#include <QTemporaryDir>
#include <QtTest>
#include <algorithm>
#include <cstring>
#include <map>

#include "base/id.h"
#include "io/gltf_in.h"
#include "io/gltf_out.h"
#include "model/facets/solid.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace gltf_test {

namespace fs = std::filesystem;

/// Each edge of a triangle is one of another.
bool isClosed(const shape::Mesh& mesh) {
    std::map<std::array<float, 3>, int> places;
    std::map<std::pair<int, int>, int> edges;
    const auto place = [&](std::uint32_t i) {
        return places.try_emplace(mesh.positions[i], int(places.size())).first->second;
    };
    for (std::size_t i = 0; i < mesh.indices.size(); i += 3)
        for (std::size_t k = 0; k < 3; ++k) ++edges[{place(mesh.indices[i + k]), place(mesh.indices[i + (k + 1) % 3])}];
    return std::all_of(edges.begin(), edges.end(), [&](const auto& edge) {
        const auto back = edges.find({edge.first.second, edge.first.first});
        return back != edges.end() && back->second == edge.second;
    });
}

class GltfTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;

    fs::path put(const std::string& bytes, const char* name = "m.gltf") {
        const fs::path path = fs::path(folder_.path().toStdString()) / name;
        test::writeBytes(path, bytes);
        return path;
    }
    static std::string base64(const std::string& bytes) {
        return QByteArray::fromStdString(bytes).toBase64().toStdString();
    }
    template <class T>
    static std::string raw(std::initializer_list<T> values) {
        std::string bytes;
        for (T v : values) bytes.append(reinterpret_cast<const char*>(&v), sizeof v);
        return bytes;
    }
    /// A triangle as text glTF; each part can be replaced.
    static std::string triangle(const std::string& accessors = "", const std::string& more = "",
                                const std::string& nodes = "[{\"mesh\":0,\"name\":\"Sail\"}]",
                                const std::string& attributes = "\"POSITION\":0") {
        const std::string data = raw<float>({0, 0, 0, 1, 0, 0, 0, 1, 0}) + raw<std::uint16_t>({0, 1, 2, 0});
        const std::string usual =
            "{\"bufferView\":0,\"componentType\":5126,\"count\":3,\"type\":\"VEC3\"},{\"bufferView\":1,"
            "\"componentType\":5123,\"count\":3,\"type\":\"SCALAR\"}";
        return "{\"asset\":{\"version\":\"2.0\"},\"scene\":0,\"scenes\":[{\"nodes\":[0]}],\"nodes\":" + nodes +
               ",\"meshes\":[{\"primitives\":[{\"attributes\":{" + attributes + "},\"indices\":1}]}],\"accessors\":[" +
               (accessors.empty() ? usual : accessors) +
               "],\"bufferViews\":[{\"buffer\":0,\"byteLength\":36},{\"buffer\":0,\"byteOffset\":36,\"byteLength\":8}],"
               "\"buffers\":[{\"byteLength\":44,\"uri\":\"data:application/octet-stream;base64," +
               base64(data) + "\"}]" + more + "}";
    }

  private Q_SLOTS:
    void normalsAreMadeWhenMissing() {
        const auto model = io::readModel(put(triangle()));
        QVERIFY2(model.has_value(), model ? "" : model.error().message.c_str());
        QCOMPARE(model->mesh.triangleCount(), std::size_t{1});
        QCOMPARE(model->mesh.normals[model->mesh.indices[0]][2], 1.0F);
        QCOMPARE(QString::fromStdString(model->mesh.nodes.at(0).name), QString("Sail"));
        QCOMPARE(model->mesh.bounds.high.y, 1.0);
    }
    void nodesAreFlattenedWithTheirTransforms() {
        const auto model = io::readModel(
            put(triangle("", "", "[{\"translation\":[10,0,0],\"children\":[1]},{\"mesh\":0,\"scale\":[2,3,-1]}]")));
        QVERIFY(model.has_value());
        QCOMPARE(model->mesh.bounds.low.x, 10.0);
        QCOMPARE(model->mesh.bounds.high.y, 3.0);
        // Mirrored: the winding is turned, so that the triangle still faces the way its normal says.
        const auto& m = model->mesh;
        auto at = [&](std::size_t i) {
            return base::Vec3(m.positions[m.indices[i]][0], m.positions[m.indices[i]][1], m.positions[m.indices[i]][2]);
        };
        const base::Vec3 face = glm::cross(at(1) - at(0), at(2) - at(0));
        QVERIFY(face.z < 0);
    }
    void sparseAndNormalisedAccessorsAreRead() {
        // Positions all zero but for three sparse ones; the third coordinate as normalised bytes is covered by texture
        // coordinates.
        const std::string data = raw<std::uint16_t>({0, 1, 2, 0}) + raw<float>({5, 0, 0, 6, 0, 0, 5, 1, 0}) +
                                 raw<std::uint8_t>({255, 0, 0, 255, 128, 128, 0, 0});
        const std::string text =
            "{\"asset\":{\"version\":\"2.0\"},\"nodes\":[{\"mesh\":0}],\"meshes\":[{\"primitives\":[{\"attributes\":{"
            "\"POSITION\":0,\"TEXCOORD_0\":1}}]}],\"accessors\":["
            "{\"componentType\":5126,\"count\":3,\"type\":\"VEC3\",\"sparse\":{\"count\":3,\"indices\":{\"bufferView\":"
            "0,\"componentType\":5123},\"values\":{\"bufferView\":1}}},"
            "{\"bufferView\":2,\"componentType\":5121,\"normalized\":true,\"count\":3,\"type\":\"VEC2\"}],"
            "\"bufferViews\":[{\"buffer\":0,\"byteLength\":6},{\"buffer\":0,\"byteOffset\":8,\"byteLength\":36},{"
            "\"buffer\":0,\"byteOffset\":44,\"byteLength\":8}],\"buffers\":[{\"byteLength\":52,\"uri\":\"data:"
            "application/octet-stream;base64," +
            base64(data) + "\"}]}";
        const auto model = io::readModel(put(text));
        QVERIFY2(model.has_value(), model ? "" : model.error().message.c_str());
        QCOMPARE(model->mesh.bounds.low.x, 5.0);
        QCOMPARE(model->mesh.texture[model->mesh.indices[0]][0], 1.0F);
    }
    void materialsAreRead() {
        const std::string png = std::string("\x89PNG\r\n\x1a\n\0\0\0\rIHDR\0\0\0\2\0\0\0\3", 24);
        const std::string more =
            ",\"materials\":[{\"name\":\"Reed\",\"doubleSided\":true,\"alphaMode\":\"MASK\",\"alphaCutoff\":0.3,"
            "\"pbrMetallicRoughness\":{\"baseColorFactor\":[0.1,0.2,0.3,1],\"baseColorTexture\":{\"index\":0}}}],"
            "\"textures\":[{\"source\":0}],\"images\":[{\"mimeType\":\"image/png\",\"uri\":\"data:image/png;base64," +
            base64(png) + "\"}]";
        std::string text = triangle("", more);
        text.replace(text.find("\"indices\":1"), 11, "\"indices\":1,\"material\":0");
        const auto model = io::readModel(put(text));
        QVERIFY2(model.has_value(), model ? "" : model.error().message.c_str());
        const shape::Material& m = model->mesh.materials.at(0);
        QVERIFY(m.doubleSided && m.alphaMask);
        QCOMPARE(m.alphaCutoff, 0.3F);
        QCOMPARE(m.baseColour[1], 0.2F);
        QCOMPARE(model->mesh.images.at(static_cast<std::size_t>(m.image)).bytes, png);
    }
    void whatIsNotSupportedIsNamed() {
        const auto other = io::readModel(put(triangle("",
                                                      ",\"extensionsRequired\":[\"KHR_texture_basisu\"],"
                                                      "\"extensionsUsed\":[\"KHR_texture_basisu\"]")));
        QVERIFY(!other);
        QVERIFY(other.error().code == base::ErrorCode::Unsupported);
        QVERIFY(other.error().message.find("KHR_texture_basisu") != std::string::npos);
    }
    void compressedMeshesAreRead() {
        // A triangle, 2 m by 4 m, as Draco's encoder packs it.
        const std::string bytes = QByteArray::fromHex(
                                      "445241434f020201010000000301000100000107ff011101ff000001000903000000000000400000"
                                      "000000000000000000000000804000000000000000000000000000000000")
                                      .toStdString();
        const auto file = [&](const std::string& data, const std::string& id) {
            return io::readModel(put(
                "{\"asset\":{\"version\":\"2.0\"},\"extensionsUsed\":[\"KHR_draco_mesh_compression\"],"
                "\"extensionsRequired\":[\"KHR_draco_mesh_compression\"],\"scenes\":[{\"nodes\":[0]}],\"nodes\":"
                "[{\"mesh\":0}],\"meshes\":[{\"primitives\":[{\"attributes\":{\"POSITION\":0},\"indices\":1,"
                "\"extensions\":{\"KHR_draco_mesh_compression\":{\"bufferView\":0,\"attributes\":{\"POSITION\":" +
                id +
                "}}}}]}],\"accessors\":[{\"componentType\":5126,\"count\":3,\"type\":\"VEC3\",\"min\":[0,0,0],\"max\":"
                "[2,4,0]},{\"componentType\":5125,\"count\":3,\"type\":\"SCALAR\"}],\"bufferViews\":[{\"buffer\":0,"
                "\"byteLength\":" +
                std::to_string(data.size()) + "}],\"buffers\":[{\"byteLength\":" + std::to_string(data.size()) +
                ",\"uri\":\"data:application/octet-stream;base64," + base64(data) + "\"}]}"));
        };
        const auto model = file(bytes, "0");
        QVERIFY2(model.has_value(), model ? "" : model.error().message.c_str());
        QCOMPARE(model->mesh.triangleCount(), std::size_t{1});
        QVERIFY(glm::length(model->mesh.bounds.size() - base::Vec3(2, 4, 0)) < 0.01);
        // The same in a binary file, whose document is changed in its place.
        std::string text = test::fileBytes(std::filesystem::path(folder_.path().toStdString()) / "m.gltf");
        text.resize((text.size() + 3) / 4 * 4, ' ');
        std::string binary = "glTF";
        for (const auto number : {std::uint32_t{2}, static_cast<std::uint32_t>(20 + text.size()),
                                  static_cast<std::uint32_t>(text.size()), std::uint32_t{0x4E4F534A}})
            binary.append(reinterpret_cast<const char*>(&number), 4);
        const auto packed = std::filesystem::path(folder_.path().toStdString()) / "m.glb";
        test::writeBytes(packed, binary + text);
        const auto again = io::readModel(packed);
        QVERIFY2(again.has_value(), again ? "" : again.error().message.c_str());
        QVERIFY(again->mesh.positions == model->mesh.positions);
        QVERIFY(!file(bytes, "77"));                             // an attribute that is not there
        QVERIFY(!file(bytes.substr(0, bytes.size() / 2), "0"));  // cut
        std::string other = bytes;
        for (std::size_t i = 12; i < other.size(); i += 3) other[i] = static_cast<char>(other[i] ^ 0x5a);
        (void)file(other, "0");  // whatever it is now: no fault
    }
    void malformedModelsAreRefused_data() {
        QTest::addColumn<QByteArray>("text");
        auto row = [](const char* name, const std::string& text) {
            QTest::newRow(name) << QByteArray::fromStdString(text);
        };
        const std::string indices = ",{\"bufferView\":1,\"componentType\":5123,\"count\":3,\"type\":\"SCALAR\"}";
        row("no model", "hello");
        row("empty", "");
        row("no JSON", "{\"asset\":");
        row("version 1", "{\"asset\":{\"version\":\"1.0\"}}");
        row("no triangles", "{\"asset\":{\"version\":\"2.0\"}}");
        row("more elements than bytes",
            triangle("{\"bufferView\":0,\"componentType\":5126,\"count\":400,\"type\":\"VEC3\"}" + indices));
        row("absurd count", triangle("{\"componentType\":5126,\"count\":4000000000,\"type\":\"VEC3\"}" + indices));
        row("offset past the view",
            triangle("{\"bufferView\":0,\"byteOffset\":30,\"componentType\":5126,\"count\":3,\"type\":\"VEC3\"}" +
                     indices));
        row("view that is not there",
            triangle("{\"bufferView\":9,\"componentType\":5126,\"count\":3,\"type\":\"VEC3\"}" + indices));
        row("wrong type",
            triangle("{\"bufferView\":0,\"componentType\":5126,\"count\":3,\"type\":\"VEC2\"}" + indices));
        row("unknown component",
            triangle("{\"bufferView\":0,\"componentType\":77,\"count\":3,\"type\":\"VEC3\"}" + indices));
        row("index out of range",
            triangle("{\"bufferView\":0,\"componentType\":5126,\"count\":2,\"type\":\"VEC3\"}" + indices));
        row("indices as floats", triangle("{\"bufferView\":0,\"componentType\":5126,\"count\":3,\"type\":\"VEC3\"},{"
                                          "\"bufferView\":0,\"componentType\":5126,\"count\":3,\"type\":\"SCALAR\"}"));
        row("no positions", triangle("", "", "[{\"mesh\":0}]", "\"NORMAL\":0"));
        row("node in a circle", triangle("", "", "[{\"mesh\":0,\"children\":[0]}]"));
        row("nodes in a circle", triangle("", "", "[{\"children\":[1]},{\"mesh\":0,\"children\":[0]}]"));
        row("node that is not there", triangle("", "", "[{\"mesh\":0,\"children\":[7]}]"));
        row("mesh that is not there", triangle("", "", "[{\"mesh\":3}]"));
        row("rotation of no length", triangle("", "", "[{\"mesh\":0,\"rotation\":[0,0,0,0]}]"));
        auto with = [](std::string text, const std::string& what, const std::string& by) {
            const std::size_t at = text.find(what);
            return at == std::string::npos ? std::string() : text.replace(at, what.size(), by);
        };
        row("children that are no numbers", triangle("", "", "[{\"mesh\":0,\"children\":[\"a\"]}]"));
        row("a name that is no text", triangle("", "", "[{\"mesh\":0,\"name\":3}]"));
        row("a translation of two", triangle("", "", "[{\"mesh\":0,\"translation\":[1,2]}]"));
        row("materials that are no list", triangle("", ",\"materials\":{}"));
        row("a factor that is text",
            triangle("", ",\"materials\":[{\"pbrMetallicRoughness\":{\"baseColorFactor\":\"red\"}}]"));
        row("attributes that are a list", with(triangle(), "{\"POSITION\":0}", "[0]"));
        row("a negative index", with(triangle(), "\"indices\":1", "\"indices\":-1"));
        row("a count that is half", with(triangle(), "\"count\":3", "\"count\":2.5"));
        row("data that is missing", with(triangle(), "data:application", "no-such-file:application"));
        row("elements without data",
            triangle("{\"componentType\":5126,\"count\":50000000,\"type\":\"VEC3\"}" + indices));
        row("a zero byte", triangle() + std::string("\0{}", 3));
        row("huge translation", triangle("", "", "[{\"mesh\":0,\"translation\":[1e400,0,0]}]"));
    }
    void malformedModelsAreRefused() {
        QFETCH(QByteArray, text);
        const auto model = io::readModel(put(text.toStdString()));
        QVERIFY(!model);
        QVERIFY(model.error().message.find("m.gltf") != std::string::npos);
    }
    void whatIsRefusedIsSaidInOurWordsOnce() {
        for (const char* text :
             {"{\"asset\":", "{\"asset\":{\"version\":\"2.0\"},\"nodes\":[{\"mesh\":\"x\"}]}", "[]"}) {
            const auto model = io::readModel(put(text));
            const QString message = QString::fromStdString(model.error().message);
            QCOMPARE(message.count("m.gltf"),
                     message.startsWith(folder_.path()) ? 2 - (message.count("m.gltf") == 1) : 1);
            QVERIFY2(!message.contains("json.exception") && !message.contains("data:"), qPrintable(message));
        }
    }
    void filesBesideItAreReadOnlyWithinTheFolder() {
        const std::string bytes = raw<float>({0, 0, 0, 1, 0, 0, 0, 1, 0}) + raw<std::uint16_t>({0, 1, 2, 0});
        const fs::path root = fs::path(folder_.path().toStdString());
        fs::create_directories(root / "in" / "sub");
        test::writeBytes(root / "secret.bin", bytes);
        test::writeBytes(root / "in" / "sub" / "a b.bin", bytes);
        auto text = [&](const std::string& uri) {
            std::string t = triangle();
            const std::size_t from = t.find("data:application"), to = t.find('"', from);
            return t.replace(from, to - from, uri);
        };
        auto read = [&](const std::string& uri, const fs::path& within = {}) {
            test::writeBytes(root / "in" / "m.gltf", text(uri));
            return io::readModel(root / "in" / "m.gltf", within).has_value();
        };
        QVERIFY(read("sub/a%20b.bin"));
        for (const char* uri : {"../secret.bin", "..%2Fsecret.bin", "%2e%2e%2fsecret.bin", "sub/../../secret.bin"})
            QVERIFY2(!read(uri), uri);
        QVERIFY(!read((root / "secret.bin").string()));
        QVERIFY(read("../secret.bin", root));
        fs::create_symlink(root / "secret.bin", root / "in" / "link.bin");
        QVERIFY(!read("link.bin"));
    }
    void whatIsNotShownIsNamedOnce() {
        const std::string more =
            ",\"materials\":[{\"normalTexture\":{\"index\":0}},{\"normalTexture\":{\"index\":0}},"
            "{\"emissiveTexture\":{\"index\":0},\"pbrMetallicRoughness\":{\"baseColorTexture\":{\"index\":0}}}],"
            "\"textures\":[{\"source\":0}],\"images\":[{\"uri\":\"not-there.png\"}],"
            "\"cameras\":[{\"type\":\"perspective\",\"perspective\":{\"yfov\":1,\"znear\":0.1}}]";
        const auto model = io::readModel(put(triangle("", more)));
        QVERIFY2(model.has_value(), model ? "" : model.error().message.c_str());
        auto count = [&](const char* part) {
            return std::count_if(model->remarks.begin(), model->remarks.end(),
                                 [&](const std::string& r) { return r.find(part) != std::string::npos; });
        };
        QCOMPARE(count("Normal textures"), 1);
        QCOMPARE(count("Emissive textures"), 1);
        QCOMPARE(count("Cameras"), 1);
        QCOMPARE(count("“not-there.png” is missing"), 1);
        QCOMPARE(count("neither PNG nor JPEG"), 0);
    }
    void textureTransformsAreApplied() {
        const std::string data =
            raw<float>({0, 0, 0, 1, 0, 0, 0, 1, 0}) + raw<std::uint16_t>({0, 1, 2, 0}) + raw<float>({0, 0, 1, 0, 0, 1});
        const std::string text =
            "{\"asset\":{\"version\":\"2.0\"},\"nodes\":[{\"mesh\":0}],\"meshes\":[{\"primitives\":[{\"attributes\":{"
            "\"POSITION\":0,\"TEXCOORD_1\":2},\"indices\":1,\"material\":0}]}],\"accessors\":["
            "{\"bufferView\":0,\"componentType\":5126,\"count\":3,\"type\":\"VEC3\"},"
            "{\"bufferView\":1,\"componentType\":5123,\"count\":3,\"type\":\"SCALAR\"},"
            "{\"bufferView\":2,\"componentType\":5126,\"count\":3,\"type\":\"VEC2\"}],"
            "\"bufferViews\":[{\"buffer\":0,\"byteLength\":36},{\"buffer\":0,\"byteOffset\":36,\"byteLength\":8},{"
            "\"buffer\":0,\"byteOffset\":44,\"byteLength\":24}],\"buffers\":[{\"byteLength\":68,\"uri\":\"data:"
            "application/octet-stream;base64," +
            base64(data) +
            "\"}],\"extensionsUsed\":[\"KHR_texture_transform\"],\"materials\":[{\"pbrMetallicRoughness\":{"
            "\"baseColorTexture\":{\"index\":0,\"extensions\":{\"KHR_texture_transform\":{\"offset\":[0.5,0.25],"
            "\"rotation\":1.5707963267948966,\"scale\":[2,3],\"texCoord\":1}}}}}],"
            "\"textures\":[{\"source\":0}],\"images\":[{\"uri\":\"x.png\"}]}";
        const auto model = io::readModel(put(text));
        QVERIFY2(model.has_value(), model ? "" : model.error().message.c_str());
        const auto& uv = model->mesh.texture;
        auto near = [](const shape::Float2& a, float u, float v) {
            return std::abs(a[0] - u) < 1e-5F && std::abs(a[1] - v) < 1e-5F;
        };
        QVERIFY(near(uv.at(0), 0.5F, 0.25F));
        QVERIFY(near(uv.at(1), 0.5F, 2.25F));   // (1, 0) becomes (2, 0), turned (0, 2)
        QVERIFY(near(uv.at(2), -2.5F, 0.25F));  // (0, 1) becomes (0, 3), turned (-3, 0)
    }
    void aSmallFileThatComesToMuchIsRefused() {
        // Thousands of nodes of one mesh, and nodes that double at every level.
        std::string nodes = "[{\"children\":[";
        for (int i = 1; i <= 30000; ++i) nodes += (i > 1 ? "," : "") + std::to_string(i);
        nodes += "]}";
        for (int i = 1; i <= 30000; ++i) nodes += ",{\"mesh\":0}";
        QVERIFY(io::readModel(put(triangle("", "", nodes + "]"))).has_value());
        std::string doubling = "[";
        for (int i = 0; i < 40; ++i)
            doubling += (i > 0 ? "," : "") + std::string("{\"children\":[") + std::to_string(i + 1) + "," +
                        std::to_string(i + 1) + "]}";
        const auto model = io::readModel(put(triangle("", "", doubling + ",{\"mesh\":0}]")));
        QVERIFY(!model);
        QVERIFY2(model.error().message.find("nodes") != std::string::npos, model.error().message.c_str());
    }
    void notANumberInThePositionsIsRefused() {
        std::string glb = test::fileBytes(test::demoFolder() / "items" / "plank.glb");
        const auto fine = io::readModel(put(glb, "plank.glb"));
        QVERIFY(fine.has_value());
        const float wrong = std::nanf("");
        const std::size_t binary = glb.find(std::string("BIN\0", 4)) + 4;
        std::memcpy(glb.data() + binary, &wrong, 4);
        const auto broken = io::readModel(put(glb, "plank.glb"));
        QVERIFY(!broken);
        QVERIFY(broken.error().message.find("finite") != std::string::npos);
    }
    void changedBytesNeverCrash() {
        const std::string glb = test::fileBytes(test::demoFolder() / "items" / "plank.glb");
        base::Random random(3);
        for (int i = 0; i < 600; ++i) {
            std::string broken = glb;
            for (int k = 0; k < 4; ++k) broken[random.next() % broken.size()] = static_cast<char>(random.next());
            (void)io::readModel(put(broken, "broken.glb"));
            (void)io::readModel(put(glb.substr(0, random.next() % glb.size()), "cut.glb"));
        }
    }
    void whatWeWriteWeReadTheSame() {
        const auto model = io::readModel(test::demoFolder() / "items" / "willow.glb");
        QVERIFY(model.has_value());
        const auto again = io::readModel(put(io::glbOf(model->mesh, "willow"), "again.glb"));
        QVERIFY(again.has_value());
        QVERIFY(again->mesh.positions == model->mesh.positions);
        QVERIFY(again->mesh.normals == model->mesh.normals);
        QVERIFY(again->mesh.indices == model->mesh.indices);
        QCOMPARE(again->mesh.materials.size(), model->mesh.materials.size());
    }
    void solidsGoOutClosedAndWithTheirNumbers() {
        test::DemoCopy demo;
        auto workspace = io::openWorkspace(demo.folder(), io::OpenMode::ReadOnly, test::chance());
        auto scene = (*workspace)->session->scene("lower-basin");
        int solids = 0;
        for (model::Slot s : (*scene)->subtree(model::kNoSlot)) {
            if (!(*scene)->facet<model::Solid>(s)) continue;
            ++solids;
            QVERIFY2(isClosed(*(*workspace)->mesh((*scene)->item(s))), std::string((*scene)->nameText(s)).c_str());
        }
        QVERIFY(solids >= 4);
        const auto exported = io::exportScene(io::sourceOf(**workspace, **scene));
        for (const char* said : {"\"solid\":{\"shape\":\"room\"", "\"name\":\"Boat gate\"", "\"rise\":0.18"})
            QVERIFY2(exported.bytes.find(said) != std::string::npos, said);
    }
    void routesGoOutWithTheirPointsAndStops() {
        test::DemoCopy demo;
        auto workspace = io::openWorkspace(demo.folder(), io::OpenMode::ReadOnly, test::chance());
        auto scene = (*workspace)->session->scene("three-chambers");
        const io::ExportedScene exported = io::exportScene(io::sourceOf(**workspace, **scene));
        const std::size_t node = exported.bytes.find("\"name\":\"Barge course\"");
        QVERIFY(node != std::string::npos);
        // What it holds follows its name, in the node's extras.
        const std::size_t next = exported.bytes.find("{\"name\":", node + 1);
        const std::string_view extras = std::string_view(exported.bytes).substr(node, next - node);
        for (const char* said :
             {"\"mellow\":", "\"route\":{", "\"points\":[{\"at\":[0", "\"stops\":[{\"object\":{\"object\":\""})
            QVERIFY2(extras.find(said) != std::string_view::npos, said);
    }
    void anExportedSceneHoldsTheSameTriangles() {
        test::DemoCopy demo;
        auto workspace = io::openWorkspace(demo.folder(), io::OpenMode::ReadOnly, test::chance());
        auto scene = (*workspace)->session->scene("lower-basin");
        std::size_t triangles = 0;
        for (model::Slot s : (*scene)->subtree(model::kNoSlot))
            if (const shape::Mesh* mesh = (*workspace)->mesh((*scene)->item(s))) triangles += mesh->triangleCount();
        io::ExportOptions atRest;
        atRest.states = false;
        const io::ExportedScene exported = io::exportScene(io::sourceOf(**workspace, **scene), atRest);
        for (const std::string& lost : exported.lost)
            QVERIFY2(lost.find("without a mesh") == std::string::npos, lost.c_str());
        const auto back = io::readModel(put(exported.bytes, "scene.glb"));
        QVERIFY2(back.has_value(), back ? "" : back.error().message.c_str());
        QCOMPARE(back->mesh.triangleCount(), triangles);
        const base::Aabb box = (*scene)->subtreeBounds(model::kNoSlot);
        QVERIFY(glm::length(back->mesh.bounds.low - box.low) < 0.5 &&
                glm::length(back->mesh.bounds.high - box.high) < 0.5);
    }
};

MELLOW_TEST(GltfTest)
}  // namespace gltf_test
#include "gltf_test.moc"
