// What is heard, rendered without a device: nearer is louder, left is left, and what stops is silent.
#include "app/sound/speaker.h"

#include <QtTest>

#include <cmath>

#include "support/test_main.h"

namespace speaker_test {

using app::Heard;
using app::Speaker;
using base::Vec3;

constexpr int kRate = 44'100;

io::SoundData tone(double seconds, int channels = 1) {
    io::SoundData sound;
    sound.channels = channels;
    sound.rate = kRate;
    for (int f = 0; f < static_cast<int>(seconds * kRate); ++f)
        for (int c = 0; c < channels; ++c) sound.samples.push_back(0.5F * static_cast<float>(std::sin(f * 0.06)));
    return sound;
}
struct Both {
    double left = 0, right = 0;
    double sum() const { return left + right; }
};
/// How loud it is on each side.
Both loudness(const std::vector<float>& heard) {
    Both is;
    for (std::size_t i = 0; i + 1 < heard.size(); i += 2) {
        is.left += static_cast<double>(heard[i]) * heard[i];
        is.right += static_cast<double>(heard[i + 1]) * heard[i + 1];
    }
    const double n = std::max<double>(1, static_cast<double>(heard.size()) / 2);
    return {std::sqrt(is.left / n), std::sqrt(is.right / n)};
}
Both heardFrom(const Vec3& at, double inner = 2, double outer = 20) {
    Speaker speaker(kRate);
    speaker.load("tone", tone(2));
    speaker.listen({0, 0, 0}, {0, 0, -1}, {0, 1, 0});
    Heard heard{at, 1, inner, outer, false, false};
    if (speaker.begin("tone", heard) == 0) return {-1, -1};
    speaker.render(kRate / 10);  // until it has begun
    return loudness(speaker.render(kRate / 4));
}

class SpeakerTest : public QObject {
    Q_OBJECT

  private Q_SLOTS:
    void leftIsLeftAndRightIsRight() {
        const Both left = heardFrom({-2, 0, 0}), right = heardFrom({2, 0, 0}), ahead = heardFrom({0, 0, -2});
        QVERIFY2(left.left > 2 * left.right && right.right > 2 * right.left,
                 qPrintable(QString("%1 %2").arg(left.left).arg(left.right)));
        QVERIFY(std::abs(ahead.left - ahead.right) < 0.01 * ahead.sum());
    }
    void itIsHeardFullUpToTheInnerDistanceAndNotBeyondTheOuterOne() {
        const double full = heardFrom({0, 0, -1}).sum();
        QVERIFY(full > 0.1);
        QVERIFY(std::abs(heardFrom({0, 0, -2}).sum() - full) < 0.02 * full);
        const double half = heardFrom({0, 0, -11}).sum();  // half way from 2 to 20
        QVERIFY2(std::abs(half - full / 2) < 0.05 * full, qPrintable(QString::number(half / full)));
        QVERIFY(heardFrom({0, 0, -20}).sum() < 1e-3 && heardFrom({0, 0, -60}).sum() < 1e-3);
    }
    void musicIsAlikeEverywhere() {
        Speaker speaker(kRate);
        speaker.load("tone", tone(2, 2));
        speaker.listen({500, 0, 0}, {0, 0, -1}, {0, 1, 0});
        Heard music;
        music.everywhere = true;
        QVERIFY(speaker.begin("tone", music) != 0);
        speaker.render(kRate / 10);
        const Both is = loudness(speaker.render(kRate / 4));
        QVERIFY(is.left > 0.1 && std::abs(is.left - is.right) < 0.01);
    }
    void itEndsUnlessItIsRepeated() {
        for (const bool loop : {false, true}) {
            Speaker speaker(kRate);
            speaker.load("tone", tone(0.3));
            Heard heard{{0, 0, -1}, 1, 2, 20, loop, false};
            const int is = speaker.begin("tone", heard);
            QVERIFY(speaker.isPlaying(is));
            speaker.render(kRate);
            QCOMPARE(speaker.isPlaying(is), loop);
            QCOMPARE(loudness(speaker.render(kRate / 10)).sum() > 0.05, loop);
            speaker.stop(is);
            speaker.render(kRate / 10);
            QVERIFY(loudness(speaker.render(kRate / 10)).sum() < 1e-3);
            speaker.stop(is);  // twice does nothing
        }
    }
    void pausedItGoesOnWhereItWas() {
        Speaker speaker(kRate);
        speaker.load("tone", tone(1));
        const int is = speaker.begin("tone", {{0, 0, -1}, 1, 2, 20, false, false});
        speaker.render(kRate / 4);
        speaker.pause(true);
        speaker.render(kRate / 10);
        QVERIFY(loudness(speaker.render(2 * kRate)).sum() < 1e-3);
        QVERIFY(speaker.isPlaying(is));
        speaker.pause(false);
        speaker.render(kRate / 10);
        QVERIFY(loudness(speaker.render(kRate / 10)).sum() > 0.05);
    }
    void whatIsRenderedIsTheSameEachTime() {
        const auto all = [] {
            Speaker speaker(kRate);
            speaker.load("tone", tone(1));
            speaker.begin("tone", {{3, 1, -4}, 0.7, 2, 20, true, false});
            return speaker.render(kRate / 2);
        };
        QVERIFY(all() == all());
    }
    void whatIsNotKnownIsNotHeardAndWhatIsLoadedAnewStops() {
        Speaker speaker(kRate);
        QCOMPARE(speaker.begin("none", {}), 0);
        speaker.load("tone", tone(1));
        const int is = speaker.begin("tone", {});
        speaker.load("tone", tone(0.5));
        QVERIFY(!speaker.isPlaying(is));
        int last = 1;
        for (int i = 0; i < 2000 && last != 0; ++i) last = speaker.begin("tone", {});  // more than can be heard at once
        speaker.forgetAll();
        QVERIFY(!speaker.knows("tone"));
    }
};

MELLOW_TEST(SpeakerTest)
}  // namespace speaker_test
#include "speaker_test.moc"
