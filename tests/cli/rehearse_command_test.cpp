// `mellow rehearse`, `settle` and `report join`: playing without a window.
#include "command_line.h"
#include "io/rehearsal_file.h"
#include "support/test_main.h"

namespace rehearse_command_test {

namespace fs = std::filesystem;

class RehearseCommandTest : public CommandLine {
    Q_OBJECT
    static std::string scene(const test::DemoCopy& demo) {
        return (demo.folder() / "scenes" / "lower-basin.scene.jsonl").string();
    }
    static void write(const fs::path& file, const std::string& text) {
        if (!base::writeFileWhole(file, text)) qFatal("cannot write");
    }
    io::Json json() { return io::Json::parse(out_); }

  private Q_SLOTS:
    void theTowpathIsWalkedAndTheWindlassTurned() {
        test::DemoCopy demo;
        const std::string walk = (demo.folder() / "walks" / "towpath.walk").string();
        const std::string trace = (demo.folder() / "out.trace.jsonl").string();
        const auto before = test::fileBytes(demo.scenePath());
        QCOMPARE(
            run({"rehearse", scene(demo), "--walk", walk, "--expect", "finish", "--expect", "used:Windlass, right",
                 "--expect", "moved:Gate leaf, right", "--expect", "reach:Footbridge", "--trace", trace, "--json"}),
            cli::exitCode::kFine);
        const io::Json first = json()["runs"][0];
        QVERIFY(first["fine"].get<bool>() && first["finished"].get<bool>());
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
        // Again it is the same run, bit for bit; and it is as the trace has it.
        QCOMPARE(run({"rehearse", scene(demo), "--walk", walk, "--against", trace, "--json"}), cli::exitCode::kFine);
        QCOMPARE(json()["runs"][0]["sum"], first["sum"]);
        QVERIFY(json()["runs"][0]["parts"]["alike"].get<bool>());
        const auto read = io::parseTrace(test::fileBytes(trace), trace);
        QVERIFY2(read.has_value(), read ? "" : read.error().message.c_str());
        QCOMPARE(io::formatTrace(*read).size() > 1000, true);
        const fs::path other = demo.folder() / "other.walk";
        write(other, "mellow-walk 1\ngo Footbridge\ngo Nowhere\n");
        QCOMPARE(run({"rehearse", scene(demo), "--walk", other.string(), "--expect", "reach:Footbridge"}),
                 cli::exitCode::kFindings);
        QVERIFY2(out_.find("line 3, “go Nowhere”: there is no such object") != std::string::npos, out_.c_str());
        QVERIFY2(out_.find("✓ reach:Footbridge") != std::string::npos, out_.c_str());
    }
    void theLevelIsWonByOneWalkAndLostByAnother() {
        test::DemoCopy demo;
        const std::string walk = (demo.folder() / "walks" / "raise-the-barge.walk").string();
        QCOMPARE(run({"rehearse", scene(demo), "--walk", walk, "--expect", "goal:Barge 3", "--expect", "end:won",
                      "--expect", "off:Windlass, right"}),
                 cli::exitCode::kFine);
        QVERIFY2(out_.find("“Barge 3 is up. Well done.”") != std::string::npos, out_.c_str());
        QCOMPARE(run({"rehearse", scene(demo), "--seconds", "1", "--expect", "end:won"}), cli::exitCode::kFindings);
        QVERIFY2(out_.find("it has not ended; no cue went off") != std::string::npos, out_.c_str());
        // Into the chamber.
        const fs::path in = demo.folder() / "in.inputs";
        write(in, "mellow-inputs 1\nscene lower-basin\nstart 15 -0.3 0 0\nseconds 5\n0 ahead 0\n");
        QCOMPARE(run({"rehearse", scene(demo), "--inputs", in.string(), "--expect", "end:lost", "--expect",
                      "missed:Barge 3", "--json"}),
                 cli::exitCode::kFine);
        QVERIFY(json()["runs"][0]["fine"].get<bool>());
    }
    void cuesAreListedInAllForms() {
        test::DemoCopy demo;
        QCOMPARE(run({"cues", scene(demo)}), cli::exitCode::kFine);
        QVERIFY2(
            out_.find("Barge 3 · Raises it: when Barge 3 enters Deep water 2, then after 12 s ") != std::string::npos,
            out_.c_str());
        QCOMPARE(run({"cues", scene(demo), "--csv", "--where", "windlass"}), cli::exitCode::kFine);
        QVERIFY2(out_.starts_with("scene,id,object,cue,armed,any,times,rest,when,then\n") ||
                     out_.starts_with("scene,id,object,cue,armed,any,times,rest,when,then\r\n"),
                 out_.c_str());
        QCOMPARE(std::count(out_.begin(), out_.end(), '\n'), std::ptrdiff_t{2});
        QCOMPARE(run({"cues", scene(demo), "--json"}), cli::exitCode::kFine);
        QCOMPARE(json().size(), std::size_t{4});
        QCOMPARE(run({"cues", scene(demo), "--where", "nobody-at-all"}), cli::exitCode::kFailed);
    }
    void whatIsExpectedIsSaidWhenItIsNotSo() {
        test::DemoCopy demo;
        QCOMPARE(run({"rehearse", scene(demo), "--seconds", "5", "--expect", "rest", "--expect", "still:Footbridge",
                      "--expect", "no-falls", "--expect", "nothing-lost"}),
                 cli::exitCode::kFine);
        QCOMPARE(run({"rehearse", scene(demo), "--seconds", "1", "--expect", "reach:Finish"}), cli::exitCode::kFine);
        QCOMPARE(run({"rehearse", scene(demo), "--seconds", "1", "--expect", "reach:Heron over the basin"}),
                 cli::exitCode::kFindings);
        QVERIFY2(out_.find("✗ reach:Heron over the basin: there is no ground near it") != std::string::npos,
                 out_.c_str());
        QCOMPARE(run({"rehearse", scene(demo), "--seconds", "1", "--expect", "reach:Nobody"}),
                 cli::exitCode::kFindings);
        QCOMPARE(run({"rehearse", scene(demo), "--expect", "joy"}), cli::exitCode::kUsage);
        QCOMPARE(run({"rehearse", scene(demo), "--expect", "end:draw"}), cli::exitCode::kUsage);
        QCOMPARE(run({"rehearse", scene(demo), "--seconds", "1e9"}), cli::exitCode::kUsage);
        QCOMPARE(run({"rehearse", (demo.folder() / "scenes" / "no.scene.jsonl").string()}), cli::exitCode::kFailed);
        const fs::path bad = demo.folder() / "bad.walk";
        write(bad, "mellow-walk 1\nfly home\n");
        QCOMPARE(run({"rehearse", scene(demo), "--walk", bad.string()}), cli::exitCode::kFailed);
        QVERIFY2(err_.find("Line 2") != std::string::npos && err_.find("bad.walk") != std::string::npos, err_.c_str());
        write(bad,
              "{\"format\":\"mellow-trace\",\"version\":1,\"scene\":\"a\",\"steps\":5}\n{\"entry\":\"flew\",\"step\":1,"
              "\"at\":[0,0,0]}\n");
        QCOMPARE(run({"rehearse", scene(demo), "--against", bad.string()}), cli::exitCode::kFailed);
        QVERIFY2(err_.find(":2:") != std::string::npos, err_.c_str());
    }
    void routesAreListedWithTheirStops() {
        test::DemoCopy demo;
        const std::string chambers = (demo.folder() / "scenes" / "three-chambers.scene.jsonl").string();
        QCOMPARE(run({"routes", chambers}), cli::exitCode::kFine);
        QVERIFY2(out_.find("three-chambers: Barge course: ") != std::string::npos, out_.c_str());
        QCOMPARE(run({"routes", demo.folder().string(), "--csv"}), cli::exitCode::kFine);
        QCOMPARE(std::count(out_.begin(), out_.end(), '\n'), std::ptrdiff_t(15));  // twelve are in the broken lock
        QCOMPARE(run({"routes", chambers, "--json"}), cli::exitCode::kFine);
        const io::Json all = json();
        QCOMPARE(all.size(), std::size_t(2));
        QCOMPARE(all[0]["stops"].size(), std::size_t(5));
        double before = -1;
        for (const io::Json& stop : all[0]["stops"]) {
            QVERIFY(stop["metres"].get<double>() > before);
            before = stop["metres"].get<double>();
        }
        QVERIFY(before < all[0]["length"].get<double>());
        QVERIFY(all[0]["forks"].empty() && all[0]["comesToAnEnd"].get<bool>());
    }
    void aListOfRunsIsSplitAndJoined() {
        test::DemoCopy demo;
        std::vector<std::string> all = {
            "rehearse", demo.folder().string(), "--seconds", "0.5", "--at", "-40", "0.1", "40", "--json"};
        for (int i = 0; i < 5; ++i) {
            const fs::path walk = demo.folder() / ("w" + std::to_string(i) + ".walk");
            write(walk, "mellow-walk 1\nstart -40 0.1 40 0\nwait 0.2\n");
            all.push_back("--walk");
            all.push_back(walk.string());
        }
        QCOMPARE(run(all), cli::exitCode::kFine);
        const io::Json whole = json();
        QCOMPARE(whole["runs"].size(), std::size_t(15));  // five walks in three scenes
        std::vector<std::string> join = {"report", "join"};
        for (int i = 1; i <= 3; ++i) {
            auto part = all;
            part.push_back("--shard");
            part.push_back(std::to_string(i) + "/3");
            QCOMPARE(run(part), cli::exitCode::kFine);
            const fs::path file = demo.folder() / ("part" + std::to_string(i) + ".json");
            write(file, out_);
            join.push_back(file.string());
        }
        QCOMPARE(run(join), cli::exitCode::kFine);
        QCOMPARE(json()["runs"].size(), whole["runs"].size());
        const io::Json joined = json();
        for (const auto& one : whole["runs"])
            QVERIFY(std::find(joined["runs"].begin(), joined["runs"].end(), one) != joined["runs"].end());
        QCOMPARE(run({"rehearse", scene(demo), "--shard", "4/3"}), cli::exitCode::kUsage);
        // Checks are split the same way.
        QCOMPARE(
            run({"check", demo.folder().string(), "--format", "json", "--shard", "1/3", "--min-severity", "error"}),
            cli::exitCode::kCheckErrors);
        const std::size_t scenes = json()["scenes"].size();
        QCOMPARE(scenes, std::size_t(1));
        write(demo.folder() / "c.json", out_);
        QCOMPARE(run({"report", "join", (demo.folder() / "c.json").string(), (demo.folder() / "part1.json").string()}),
                 cli::exitCode::kFailed);
        QVERIFY(err_.find("another kind") != std::string::npos);
    }
    void settlingSaysWhatWouldMoveAndKeepsItAsAStep() {
        test::DemoCopy demo;
        QCOMPARE(run({"settle", scene(demo)}), cli::exitCode::kFine);
        const auto before = test::fileBytes(demo.scenePath());
        QCOMPARE(run({"settle", scene(demo), "--where", "name:\"Stone block 6\"", "--json"}), cli::exitCode::kFine);
        const std::string broken = (demo.folder() / "scenes" / "broken-lock.scene.jsonl").string();
        QCOMPARE(run({"settle", broken}), cli::exitCode::kFindings);
        QVERIFY2(out_.find("“Tipping plank” moves by") != std::string::npos, out_.c_str());
        QCOMPARE(test::fileBytes(demo.scenePath()), before);
        QCOMPARE(run({"settle", broken, "--where", "Tipping plank", "--keep"}), cli::exitCode::kFine);
        QCOMPARE(run({"settle", broken, "--where", "Tipping plank"}), cli::exitCode::kFine);
        QCOMPARE(run({"undo", demo.folder().string()}), cli::exitCode::kFine);
        QCOMPARE(run({"settle", broken, "--where", "Tipping plank"}), cli::exitCode::kFindings);
    }
};

MELLOW_TEST(RehearseCommandTest)
}  // namespace rehearse_command_test
#include "rehearse_command_test.moc"
