#include <QTemporaryDir>
#include <QtTest>

#include "io/project_file.h"
#include "model/facets/light.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace project_file_test {

namespace fs = std::filesystem;

class ProjectFileTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void aProjectReadsBackAndKeepsUnknownKeys() {
        QTemporaryDir folder;
        const fs::path path(folder.path().toStdString());
        model::Project project;
        project.name = "Heron Lock";
        project.firstScene = "lower-basin";
        project.walker.eyeHeight = 1.2;
        std::string text =
            io::formatProject(project, {{"bench", "Bench", "Towpath", "Structure", model::CollisionShape::Box},
                                        {"reed", "Reed", "Plants", "Plant", model::CollisionShape::None}});
        text.insert(text.find("  \"name\""), "  \"later\": true,\n");
        test::writeBytes(path / "project.json", text);
        const auto back = io::readProject(path);
        QVERIFY(back.has_value());
        QVERIFY(back->damage.empty());
        QCOMPARE(back->project.walker, project.walker);
        // Written again with the items changed, all else stays.
        std::vector<io::Damage> damage;
        auto entries = io::parseData(model::data::kItems, text, "project.json", damage);
        QVERIFY(entries && damage.empty());
        QCOMPARE(io::formatData(model::data::kItems, *entries, text), text);
        std::vector<std::string> problems;
        QVERIFY(io::itemEntryFrom("reed", entries->at("reed"), problems).collision == model::CollisionShape::None);
        model::setValue((*entries)["reed"], "label", {std::string("Rushes")});
        const QString changed = QString::fromStdString(io::formatData(model::data::kItems, *entries, text));
        QCOMPARE(changed, QString::fromStdString(text).replace("\"Reed\"", "\"Rushes\""));
    }
    void brokenProjectsAreRefusedWithFileAndLine_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("says");
        QTest::newRow("no JSON") << "{\n\"format\": oops\n}"
                                 << "project.json:2";
        QTest::newRow("another format") << "{\"format\":\"x\",\"version\":1}"
                                        << "mellow-project";
        QTest::newRow("newer") << "{\"format\":\"mellow-project\",\"version\":9}"
                               << "newer version";
        QTest::newRow("no version") << "{\"format\":\"mellow-project\"}"
                                    << "version";
        QTest::newRow("key twice") << "{\"format\":\"mellow-project\",\"version\":1,\"version\":1}"
                                   << "twice";
        QTest::newRow("not UTF-8") << QString() << "UTF-8";
    }
    void brokenProjectsAreRefusedWithFileAndLine() {
        QFETCH(QString, text);
        QFETCH(QString, says);
        QTemporaryDir folder;
        const fs::path path(folder.path().toStdString());
        test::writeBytes(path / "project.json", text.isEmpty() ? "{\"format\":\"\xff\"}" : text.toStdString());
        const auto project = io::readProject(path);
        QVERIFY(!project);
        QVERIFY2(QString::fromStdString(project.error().message).contains(says), project.error().message.c_str());
    }
    void wrongTypesAreListedAndTheRestIsRead() {
        QTemporaryDir folder;
        const fs::path path(folder.path().toStdString());
        test::writeBytes(
            path / "project.json",
            "{\"format\":\"mellow-project\",\"version\":1,\"name\":7,\"items\":{\"bench\":{\"label\":[],"
            "\"collision\":\"voxels\"}},\"units\":\"furlong\",\"walker\":{\"eyeHeight\":-2,\"slope\":30}}");
        fs::create_directories(path / "kinds");
        test::writeBytes(path / "kinds" / "bad.kind.json",
                         "{\"format\":\"mellow-kind\",\"version\":1,\"name\":\"Bad\",\"cost\":-1}");
        test::writeBytes(path / "kinds" / "broken.kind.json", "{");
        auto workspace = io::openWorkspace(path, io::OpenMode::ReadOnly, test::chance());
        QVERIFY(workspace.has_value());
        QCOMPARE((*workspace)->damage.size(), std::size_t{7});
        const model::Project& project = (*workspace)->session->project();
        QCOMPARE(project.units, base::LengthUnit::Metre);
        QCOMPARE(project.walker.slopeDegrees, 30.0);
        QCOMPARE(project.walker.eyeHeight, model::Walker{}.eyeHeight);
        QCOMPARE(project.library.kinds().size(), std::size_t{1});
    }
    void aKindReadsBackWithItsFacets() {
        model::Kind kind;
        kind.name = "Lamp";
        kind.category = "Lights";
        auto facets = std::make_shared<model::Detail>();
        facets->put(model::Light{});
        facets->edit<model::Light>().reachMetres = 3;
        kind.facets = facets;
        std::vector<io::Damage> damage;
        const auto back = io::parseKind(io::formatKind(kind), "Lamp.kind.json", damage);
        QVERIFY(back.has_value());
        QVERIFY(damage.empty());
        QVERIFY(model::sameDetail(back->facets, kind.facets));
    }
    void aFolderWithoutAProjectIsTold() {
        QTemporaryDir folder;
        const auto project = io::readProject(folder.path().toStdString());
        QVERIFY(!project);
        QVERIFY(project.error().code == base::ErrorCode::NotFound);
    }
};

MELLOW_TEST(ProjectFileTest)
}  // namespace project_file_test
#include "project_file_test.moc"
