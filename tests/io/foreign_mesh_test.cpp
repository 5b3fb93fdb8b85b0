// Models of other formats: what can be read is, what cannot is refused in time, and nothing of it stays behind.
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QtTest>
#include <filesystem>

#include "io/foreign_mesh.h"
#include "io/workspace.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace foreign_mesh_test {

namespace fs = std::filesystem;

constexpr const char* kPyramid = R"(mtllib roof.mtl
v 0 0 0
v 2 0 0
v 2 0 2
v 0 0 2
v 1 3 1
usemtl slate
f 1 2 3 4
f 2 1 5
f 3 2 5
f 4 3 5
f 1 4 5
)";

class ForeignMeshTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    fs::path write(const char* name, const std::string& bytes) {
        const fs::path file = fs::path(folder_.path().toStdString()) / name;
        test::writeBytes(file, bytes);
        return file;
    }
    static std::size_t rooms() {
        std::size_t n = 0;
        for (const auto& entry : fs::directory_iterator(fs::temp_directory_path()))
            n += entry.path().filename().string().starts_with("mellow-mesh-") ? 1 : 0;
        return n;
    }
  private Q_SLOTS:
    void anObjFileComesWithItsMaterials() {
        write("roof.mtl", "newmtl slate\nKd 0.25 0.5 0.75\n");
        const std::size_t before = rooms();
        const auto file = io::readForeign(write("roof.obj", kPyramid));
        QVERIFY2(file.has_value(), file ? "" : file.error().message.c_str());
        QCOMPARE(file->stem, std::string("roof"));
        QVERIFY(file->packed.starts_with("glTF"));
        const shape::Mesh& mesh = file->model.mesh;
        QCOMPARE(mesh.triangleCount(), std::size_t{6});
        QVERIFY(mesh.bounds == (base::Aabb{{0, 0, 0}, {2, 3, 2}}));
        QCOMPARE(mesh.materials.size(), std::size_t{1});
        QCOMPARE(mesh.materials[0].name, std::string("slate"));
        QVERIFY(std::abs(mesh.materials[0].baseColour[2] - 0.75F) < 1e-6F);
        QCOMPARE(rooms(), before);
    }
    void itIsImportedAsAStep() {
        test::TestProject p;
        const std::string before = p.bytes();
        edit::Draft draft(p.session(), "first", "Import");
        const auto item = io::importModel(p.workspace(), draft, write("spire.obj", kPyramid));
        QVERIFY2(item.has_value(), item ? "" : item.error().message.c_str());
        QVERIFY(draft.commit());
        QCOMPARE(item->triangles, std::size_t{6});
        for (const std::string& document : p.session().unsavedScenes()) QVERIFY(io::saveScene(p.workspace(), document));
        QVERIFY(fs::exists(p.folder() / "items" / "spire.glb"));
        QVERIFY(p.session().undo());
        QVERIFY(p.session().library().item(p.session().intern("spire")) == nullptr);
        QCOMPARE(p.bytes(), before);
    }
    void stlAndPlyAreRead() {
        const std::string stl =
            "solid plate\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\n"
            "endsolid plate\n";
        const std::string ply =
            "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n"
            "element face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n";
        for (const auto& [name, text] : {std::pair{"plate.stl", stl}, {"plate.ply", ply}}) {
            const auto file = io::readForeign(write(name, text));
            QVERIFY2(file.has_value(), file ? "" : file.error().message.c_str());
            QCOMPARE(file->model.mesh.triangleCount(), std::size_t{1});
        }
    }
    void whatIsNoModelIsRefusedByName_data() {
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<QString>("name");
        QTest::newRow("nothing") << QByteArray() << "empty.obj";
        QTest::newRow("words") << QByteArray("these are words\n") << "words.ply";
        QTest::newRow("no triangles") << QByteArray("v 0 0 0\nv 1 0 0\n") << "points.obj";
        QTest::newRow("zeros") << QByteArray(5000, '\0') << "zeros.stl";
        QTest::newRow("a vertex that is not there") << QByteArray("v 0 0 0\nf 1 2 900\n") << "lost.obj";
        QTest::newRow("nan") << QByteArray("v nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n") << "nan.obj";
        QTest::newRow("so many vertices")
            << QByteArray(
                   "ply\nformat binary_little_endian 1.0\nelement vertex 4000000000\nproperty float x\n"
                   "property float y\nproperty float z\nelement face 4000000000\n"
                   "property list uchar int vertex_indices\nend_header\n")
            << "much.ply";
    }
    void whatIsNoModelIsRefusedByName() {
        QFETCH(QByteArray, bytes);
        QFETCH(QString, name);
        const std::size_t before = rooms();
        const auto file = io::readForeign(write(name.toUtf8().constData(), bytes.toStdString()));
        QVERIFY(!file);
        QVERIFY2(file.error().message.find(name.toStdString()) != std::string::npos, file.error().message.c_str());
        QCOMPARE(rooms(), before);
    }
    void whatCannotBeFoundIsSaid() {
        const auto file = io::readForeign("/nowhere/ghost.stl");
        QVERIFY(!file && file.error().code == base::ErrorCode::NotFound);
    }
    void oneThatTakesTooLongIsEnded() {
        std::string many;
        for (int i = 0; i < 400'000; ++i) many += "v " + std::to_string(i) + " 0 1\n";
        for (int i = 1; i + 2 < 400'000; ++i)
            many += "f " + std::to_string(i) + " " + std::to_string(i + 1) + " " + std::to_string(i + 2) + "\n";
        const fs::path file = write("long.obj", many);
        QElapsedTimer clock;
        clock.start();
        const auto read = io::readForeign(file, nullptr, 0.05);
        QVERIFY(!read);
        QVERIFY2(read.error().message.find("takes longer") != std::string::npos, read.error().message.c_str());
        QVERIFY(clock.elapsed() < 5000);
        base::Progress progress;
        progress.cancel();
        const auto called = io::readForeign(file, &progress);
        QVERIFY(!called && called.error().code == base::ErrorCode::Cancelled);
    }
    /// Debian's models of all sorts, broken ones too: read or refused, none takes longer than its time.
    void modelsOfOthersAreReadOrRefusedInTime() {
        const fs::path all = "/usr/share/assimp/models";
        QVERIFY2(fs::exists(all), "assimp-testmodels, of packages.txt, is not installed");
        std::size_t read = 0, refused = 0;
        for (const auto& entry : fs::recursive_directory_iterator(all)) {
            if (!entry.is_regular_file() || !io::isForeignMesh(entry.path())) continue;
            QElapsedTimer clock;
            clock.start();
            const auto file = io::readForeign(entry.path());
            QVERIFY2(clock.elapsed() < 40'000, entry.path().c_str());
            ++(file ? read : refused);
            QVERIFY(!file || !file->model.mesh.bounds.empty());
        }
        qInfo("%zu read, %zu refused", read, refused);
        QVERIFY(read > 20);
    }
};

MELLOW_TEST(ForeignMeshTest)
}  // namespace foreign_mesh_test
#include "foreign_mesh_test.moc"
