// `mellow outfit`, `mellow guise`, `mellow berth`, and what else is set for items and kinds on build machines.
#include "command_line.h"
#include "support/test_main.h"

namespace dress_command_test {

namespace fs = std::filesystem;

class DressCommandTest : public CommandLine {
    Q_OBJECT
  private Q_SLOTS:
    void outfitsAreKeptWornAndDeleted() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string(), scene = demo.scenePath().string();
        const std::string before = test::fileBytes(demo.scenePath());
        QCOMPARE(run({"outfit", "list", folder, "--kind", "Lantern"}), cli::exitCode::kFine);
        QCOMPARE(out_, std::string("Lantern  Low on oil\nLantern  Put out\n"));
        QCOMPARE(run({"outfit", "list", folder, "--json"}), cli::exitCode::kFine);
        QVERIFY(out_.find(R"("values":{"oil":0.3})") != std::string::npos);
        QCOMPARE(run({"set", scene, "outfit.name=Put out", "--where", "kind:Lantern"}), cli::exitCode::kFine);
        QCOMPARE(run({"get", scene, "lit", "--where", "kind:Lantern"}), cli::exitCode::kFine);
        QVERIFY(out_.find("yes") == std::string::npos);
        QCOMPARE(run({"get", scene, "outfit", "--where", "kind:Lantern"}), cli::exitCode::kFine);
        QVERIFY(out_.find("Lantern post 1  Put out") != std::string::npos);
        QCOMPARE(run({"set", scene, "outfit=Low on oil", "--where", "name:Lantern post 1"}), cli::exitCode::kFine);
        QCOMPARE(run({"set", scene, "outfit=Put out", "--where", "name:Lantern post 1"}), cli::exitCode::kFine);
        QCOMPARE(run({"set", scene, "oil=4", "--where", "name:Lantern post 1"}), cli::exitCode::kFine);
        QCOMPARE(run({"outfit", "keep", scene, "Lantern post 1", "Put out"}), cli::exitCode::kFine);
        QCOMPARE(run({"get", scene, "oil", "--where", "name:Lantern post 2"}), cli::exitCode::kFine);
        QVERIFY2(out_.find('4') != std::string::npos, out_.c_str());
        QCOMPARE(run({"outfit", "delete", folder, "Lantern", "Put out"}), cli::exitCode::kFine);
        QCOMPARE(run({"validate-file", folder}), cli::exitCode::kFine);
        for (const std::vector<std::string>& wrong :
             {std::vector<std::string>{"outfit", "delete", folder, "Lantern", "Put out"},
              {"outfit", "keep", scene, "Nobody", "Put out"},
              {"outfit", "keep", scene, "Lantern post 1", ""},
              {"set", scene, "outfit.name=Ghost", "--where", "kind:Lantern"}}) {
            QVERIFY(run(wrong) != cli::exitCode::kFine);
            QVERIFY(!err_.empty());
        }
        for (int i = 0; i < 6; ++i) QCOMPARE(run({"undo", folder}), cli::exitCode::kFine);
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
        QCOMPARE(test::fileBytes(demo.folder() / "kinds" / "Lantern.kind.json"),
                 test::fileBytes(test::demoFolder() / "kinds" / "Lantern.kind.json"));
    }
    void aKindIsPutInTheStock() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string();
        const auto model = [&](const char* name) { return demo.folder() / "items" / (std::string(name) + ".glb"); };
        QCOMPARE(run({"put-in-stock", folder, "Beacon"}), cli::exitCode::kFailed);  // there is no such kind
        QCOMPARE(run({"put-in-stock", folder, "Walker", "--shape", "cylinder"}), cli::exitCode::kFailed);
        QCOMPARE(run({"put-in-stock", folder, "Lantern", "--shape", "cylinder"}), cli::exitCode::kFine);
        QCOMPARE(out_, std::string("lantern\n"));
        QVERIFY(fs::exists(model("lantern")));
        QCOMPARE(run({"put-in-stock", folder, "Lantern", "--like", "bench"}), cli::exitCode::kFine);
        QCOMPARE(out_, std::string("lantern 2\n"));
        QCOMPARE(test::fileBytes(model("lantern 2")), test::fileBytes(model("bench")));
        QCOMPARE(run({"item", folder, "lantern 2"}), cli::exitCode::kFine);
        QVERIFY2(out_.find("Lantern") != std::string::npos, out_.c_str());
        for (const std::vector<std::string>& wrong :
             {std::vector<std::string>{"put-in-stock", folder, "Lantern", "--shape", "knot"},
              {"put-in-stock", folder, "Lantern", "--like", "nothing"}}) {
            QVERIFY(run(wrong) != cli::exitCode::kFine);
            QVERIFY(err_.find(wrong.back()) != std::string::npos);
        }
        QCOMPARE(run({"validate-file", folder}), cli::exitCode::kFine);
        for (int i = 0; i < 2; ++i) QCOMPARE(run({"undo", folder}), cli::exitCode::kFine);
        QVERIFY(!fs::exists(model("lantern")) && !fs::exists(model("lantern 2")));
        QCOMPARE(run({"redo", folder}), cli::exitCode::kFine);
        QVERIFY(fs::exists(model("lantern")));
    }
    void guisesAreMadeChangedRenamedAndDeleted() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string(), scene = demo.scenePath().string();
        QCOMPARE(run({"guise", "set", folder, "Flood", "surface:Grass=ice", "item:bench=bollard", "tint:Plant=#808080",
                      "light:sunStrength=0.4"}),
                 cli::exitCode::kFine);
        QCOMPARE(run({"guise", "list", folder}), cli::exitCode::kFine);
        QVERIFY2(out_.starts_with("Flood  1 surfaces, 1 items, 1 tints, 1 of light\nFrost"), out_.c_str());
        QCOMPARE(run({"scene", "settings", scene, "guise=Flood"}), cli::exitCode::kFine);
        QCOMPARE(run({"guise", "rename", folder, "Flood", "High water"}), cli::exitCode::kFine);
        QVERIFY(test::fileBytes(demo.scenePath()).find("\"guise\":\"High water\"") != std::string::npos);
        QCOMPARE(run({"guise", "set", folder, "High water", "item:bench=", "tint:Plant="}), cli::exitCode::kFine);
        QCOMPARE(run({"guise", "list", folder, "--json"}), cli::exitCode::kFine);
        QVERIFY(out_.find("bollard") == std::string::npos && out_.find("\"sunStrength\":0.4") != std::string::npos);
        QCOMPARE(run({"validate-file", folder}), cli::exitCode::kFine);
        for (const char* wrong : {"surface:Grass=ghost", "item:ghost=bench", "tint:Plant=blueish", "light:moon=1",
                                  "light:sunStrength=bright", "nonsense", "smell:a=b"}) {
            QCOMPARE(run({"guise", "set", folder, "High water", wrong}), cli::exitCode::kFailed);
            QVERIFY2(err_.starts_with("mellow: "), wrong);
        }
        QCOMPARE(run({"guise", "delete", folder, "High water"}), cli::exitCode::kFine);
        QVERIFY(test::fileBytes(demo.scenePath()).find("guise") == std::string::npos);
        QCOMPARE(run({"guise", "delete", folder, "High water"}), cli::exitCode::kFailed);
        for (int i = 0; i < 5; ++i) QCOMPARE(run({"undo", folder}), cli::exitCode::kFine);
        QCOMPARE(test::fileBytes(demo.folder() / "guises.jsonl"), test::fileBytes(test::demoFolder() / "guises.jsonl"));
    }
    void aThingIsPutIntoABerth() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string(), scene = demo.scenePath().string();
        const std::string before = test::fileBytes(demo.scenePath());
        QCOMPARE(run({"berth", scene, "Bench 2", "Hull", "fore"}), cli::exitCode::kFine);
        QVERIFY(test::fileBytes(demo.scenePath()) != before);
        QCOMPARE(run({"berth", scene, "Bench 3", "Hull", "fore"}), cli::exitCode::kFailed);  // it is taken
        QVERIFY(err_.find("no berth “fore” that is free") != std::string::npos);
        QCOMPARE(run({"berth", scene, "Bench 3", "Bench 2", "fore"}), cli::exitCode::kFailed);
        QCOMPARE(run({"berth", scene, "Nobody", "Hull", "aft"}), cli::exitCode::kFailed);
        QCOMPARE(run({"undo", folder}), cli::exitCode::kFine);
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
    }
    void itemsTakeListsAsJson() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string();
        QCOMPARE(run({"item", folder, "bench", R"(berths=[{"name":"seat","at":[0,0.5,0],"turn":90}])", "unit=inch",
                      "cost=4", "basePoint=0,0.1,0"}),
                 cli::exitCode::kFine);
        QCOMPARE(run({"item", folder, "bench", "--json"}), cli::exitCode::kFine);
        QVERIFY2(out_.find(R"("berths":[{"name":"seat","at":[0.0,0.5,0.0],"turn":90.0}])") != std::string::npos,
                 out_.c_str());
        QCOMPARE(run({"validate-file", folder}), cli::exitCode::kFine);
        for (const char* wrong :
             {"berths=[{", "berths=7", R"(berths=[{"at":"here"}])", "unit=furlong", "smallestSize=0", "cost=-1"})
            QCOMPARE(run({"item", folder, "bench", wrong}), cli::exitCode::kFailed);
        QCOMPARE(run({"undo", folder}), cli::exitCode::kFine);
        QCOMPARE(test::fileBytes(demo.folder() / "project.json"), test::fileBytes(test::demoFolder() / "project.json"));
    }
    void modelsOfOtherFormatsAreImported() {
        test::DemoCopy demo;
        const std::string folder = demo.folder().string(), file = (demo.folder().parent_path() / "stone.stl").string();
        test::writeBytes(file,
                         "solid s\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\n"
                         "endfacet\nendsolid s\n");
        QCOMPARE(run({"import", file, "--into", folder}), cli::exitCode::kFine);
        QVERIFY(fs::exists(demo.folder() / "items" / "stone.glb"));
        test::writeBytes(file, "nothing of the sort");
        QCOMPARE(run({"import", file, "--into", folder}), cli::exitCode::kFailed);
        QVERIFY(err_.find("stone.stl") != std::string::npos);
    }
};

MELLOW_TEST(DressCommandTest)
}  // namespace dress_command_test
#include "dress_command_test.moc"
