// Sounds read from files: what they are, and what becomes of those that are broken.
#include "io/sound_file.h"

#include <sndfile.h>

#include <QtTest>

#include <cmath>

#include "support/test_main.h"
#include "support/test_project.h"

namespace sound_file_test {

using io::SoundData;

SoundData tone(int channels, int rate, double seconds, float loud) {
    SoundData sound;
    sound.channels = channels;
    sound.rate = rate;
    for (int f = 0; f < static_cast<int>(seconds * rate); ++f)
        for (int c = 0; c < channels; ++c)
            sound.samples.push_back(loud * static_cast<float>(std::sin(f * 0.2)) * (c == 0 ? 1.0F : -1.0F));
    return sound;
}

class SoundFileTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    std::filesystem::path file(const char* name) { return std::filesystem::path(folder_.path().toStdString()) / name; }

  private Q_SLOTS:
    void whatWasWrittenIsReadAgain() {
        const SoundData sound = tone(2, 8000, 0.5, 0.8F);
        test::writeBytes(file("a.wav"), io::wavOf(sound));
        const auto read = io::readSound(file("a.wav"));
        QVERIFY(read);
        QCOMPARE(read->channels, 2);
        QCOMPARE(read->rate, 8000);
        QCOMPARE(read->frames(), sound.frames());
        for (std::size_t i = 0; i < sound.samples.size(); ++i)
            QVERIFY(std::abs(read->samples[i] - sound.samples[i]) < 1e-4F);
        const std::vector<float> mono = read->mono();  // the second channel is the first one turned about
        QVERIFY(std::all_of(mono.begin(), mono.end(), [](float v) { return std::abs(v) < 1e-4F; }));
    }
    void flacAndOggAreReadToo() {
        const SoundData sound = tone(1, 22'050, 0.6, 0.5F);
        for (const auto& [name, format] :
             {std::pair("a.flac", SF_FORMAT_FLAC | SF_FORMAT_PCM_16), {"a.ogg", SF_FORMAT_OGG | SF_FORMAT_VORBIS}}) {
            SF_INFO info{};
            info.channels = 1;
            info.samplerate = sound.rate;
            info.format = format;
            SNDFILE* out = sf_open(file(name).c_str(), SFM_WRITE, &info);
            QVERIFY(out != nullptr);
            sf_writef_float(out, sound.samples.data(), static_cast<sf_count_t>(sound.frames()));
            sf_close(out);
            const auto read = io::readSound(file(name));
            QVERIFY2(read, name);
            QVERIFY(std::abs(read->seconds() - 0.6) < 0.01);
            // Cut anywhere it is shorter or refused, never endless.
            const std::string bytes = test::fileBytes(file(name));
            for (std::size_t keep = 0; keep < bytes.size(); keep += bytes.size() / 23 + 1) {
                test::writeBytes(file("cut"), bytes.substr(0, keep));
                const auto cut = io::readSound(file("cut"));
                QVERIFY(!cut || cut->seconds() <= 0.7);
            }
        }
    }
    void itsFactsAreWhatItSays() {
        const io::SoundFacts facts = io::factsOf(tone(1, 10'000, 2, 0.5F));
        QVERIFY(std::abs(facts.seconds - 2) < 1e-9);
        QVERIFY(std::abs(facts.peak - 0.5) < 1e-3);
        QVERIFY(std::abs(facts.loudness - 20 * std::log10(0.5 / std::sqrt(2.0))) < 0.05);
        QCOMPARE(facts.high.size(), io::SoundFacts::kWaves);
        for (std::size_t i = 0; i < facts.high.size(); ++i) QVERIFY(facts.low[i] < -0.45F && facts.high[i] > 0.45F);
        SoundData silent = tone(1, 100, 0.05, 0);
        QCOMPARE(io::factsOf(silent).loudness, -120.0);
        QCOMPARE(io::factsOf(silent).high.size(), silent.frames());
    }
    void whatIsNoSoundIsRefusedAndNamed() {
        QCOMPARE(io::readSound(file("none.wav")).error().code, base::ErrorCode::NotFound);
        for (const std::string& bytes : {std::string(), std::string("RIFF"), std::string("no sound at all"),
                                         io::wavOf(tone(1, 8000, 0, 0)), std::string(5000, '\xff')}) {
            test::writeBytes(file("bad.wav"), bytes);
            const auto read = io::readSound(file("bad.wav"));
            QVERIFY(!read);
            QVERIFY2(read.error().message.find("bad.wav") != std::string::npos, read.error().message.c_str());
        }
        // A head that claims an hour, with nothing behind it.
        std::string claims = io::wavOf(tone(1, 8000, 0.1, 0.5F));
        for (const std::size_t at : {4u, 40u}) claims.replace(at, 4, "\xff\xff\xff\x7f");
        test::writeBytes(file("claims.wav"), claims);
        const auto read = io::readSound(file("claims.wav"));
        QVERIFY(!read || read->seconds() < 0.2);
    }
    void namesSayWhatIsASound() {
        for (const char* yes : {"a.wav", "A.WAV", "b.flac", "c.ogg", "d.oga"}) QVERIFY(io::isSoundName(yes));
        for (const char* no : {"a.png", "wav", ".wav", "a.wav.txt", "mp3"}) QVERIFY(!io::isSoundName(no));
    }
};

MELLOW_TEST(SoundFileTest)
}  // namespace sound_file_test
#include "sound_file_test.moc"
