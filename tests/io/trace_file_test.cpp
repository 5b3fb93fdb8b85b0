// Traces of rehearsals as files.
#include <QtTest>

#include "io/rehearsal_file.h"
#include "support/test_main.h"

namespace trace_file_test {

using rehearse::Trace;
using rehearse::What;

Trace chanceTrace(base::Random& random) {
    Trace trace;
    trace.scene = "lower-basin";
    trace.steps = static_cast<int>(random.next() % 5000);
    const auto place = [&] {
        return base::Vec3(random.between(-99, 99), random.between(-9, 9), random.between(-99, 99));
    };
    for (int i = 0; i < 20; ++i) {
        rehearse::Entry e;
        e.step = i * 7;
        e.what = static_cast<What>(random.next() % 20);
        if (random.next() % 2 == 0) e.object = random.nextId();
        if (random.next() % 2 == 0) e.other = random.nextId();
        e.at = place();
        if (random.next() % 2 == 0) e.amount = random.between(0, 9);
        if (random.next() % 2 == 0) e.note = "“Crate”\n\"3\"";
        trace.entries.push_back(e);
        trace.path.push_back({i * 12, place(), random.between(-180, 180), random.between(-89, 89)});
    }
    rehearse::Track track;
    track.object = random.nextId();
    track.first.at = place();
    for (int i = 1; i < 9; ++i) track.keys.push_back({i * 6, {place(), base::fromDegrees(place())}});
    trace.tracks.push_back(track);
    return trace;
}

class TraceFileTest : public QObject {
    Q_OBJECT

  private Q_SLOTS:
    void whatIsWrittenReadsAsTheSame() {
        for (std::uint64_t seed = 1; seed <= 40; ++seed) {
            base::Random random(seed);
            const Trace trace = chanceTrace(random);
            const auto read = io::parseTrace(io::formatTrace(trace), "run");
            QVERIFY2(read.has_value(), read ? "" : read.error().message.c_str());
            QCOMPARE(read->scene, trace.scene);
            QCOMPARE(read->steps, trace.steps);
            QCOMPARE(read->entries, trace.entries);
            QCOMPARE(read->path, trace.path);
            QVERIFY(rehearse::compare(*read, trace).alike());
        }
    }
    void anyDamageIsNamedByLineAndNeverCrashes() {
        base::Random random(9);
        const std::string good = io::formatTrace(chanceTrace(random));
        for (int i = 0; i < 3000; ++i) {
            std::string bad = good;
            for (int k = 0; k < 3; ++k) bad[random.next() % bad.size()] = static_cast<char>(random.next() % 128);
            if (random.next() % 4 == 0) bad.resize(random.next() % bad.size());
            const auto read = io::parseTrace(bad, "run");
            if (!read) QVERIFY(read.error().message.find("run") != std::string::npos);
        }
        QVERIFY(io::parseTrace("{\"format\":\"mellow-trace\",\"version\":2}\n", "run").error().code ==
                base::ErrorCode::Unsupported);
        QVERIFY(!io::parseTrace("", "run"));
    }
};

MELLOW_TEST(TraceFileTest)
}  // namespace trace_file_test
#include "trace_file_test.moc"
