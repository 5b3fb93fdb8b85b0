#include "app/shell/listening.h"

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/rehearsal.h"
#include "edit/session.h"
#include "io/added.h"
#include "io/sound_file.h"

namespace app {

Listening::Listening(Editor& editor, QObject* parent) : QObject(parent), editor_(editor) {
    connect(&timer_, &QTimer::timeout, this, [this] {
        if (playing_.empty()) return timer_.stop();
        if (share() >= 1) stop();
        Q_EMIT changed();
    });
    connect(&editor_.rehearsal(), &Rehearsal::advanced, this, &Listening::follow);
    connect(&editor_.rehearsal(), &Rehearsal::changed, this, &Listening::follow);
    connect(&editor_, &Editor::projectChanged, this, [this] {
        stop();
        silence();
        if (speaker_) speaker_->forgetAll();
        lengths_.clear();
    });
}

Speaker* Listening::speaker() {
    if (!speaker_) {
        speaker_ = std::make_unique<Speaker>();
        if (!speaker_->problem().empty()) editor_.say(toQt(speaker_->problem()));
    }
    return speaker_->problem().empty() ? speaker_.get() : nullptr;
}

bool Listening::load(const std::string& file) {
    if (speaker_->knows(file)) return true;
    const auto path = io::projectFile(editor_.session().project().folder, "media/" + file);
    const auto sound = path ? io::readSound(*path) : base::Result<io::SoundData>(tl::unexpected(path.error()));
    if (!sound) return editor_.report(tl::unexpected(sound.error()));
    speaker_->load(file, *sound);
    lengths_[file] = sound->seconds();
    return true;
}

void Listening::toggle(const std::string& file) {
    const bool same = playing_ == file;
    stop();
    if (same) return;
    Speaker* heard = speaker();
    if (heard == nullptr || !load(file)) return;
    Heard plain;
    plain.everywhere = true;
    playingAs_ = heard->begin(file, plain);
    if (playingAs_ == 0) return;
    playing_ = file;
    clock_.start();
    timer_.start(50);
    Q_EMIT changed();
}

void Listening::stop() {
    if (playing_.empty()) return;
    if (speaker_) speaker_->stop(playingAs_);
    playing_.clear();
    timer_.stop();
    Q_EMIT changed();
}

double Listening::share() const {
    const auto length = lengths_.find(playing_);
    return length != lengths_.end() ? static_cast<double>(clock_.elapsed()) / 1000 / length->second : 1;
}

void Listening::setMuted(bool muted) {
    muted_ = muted;
    if (muted) stop();
    follow();
    Q_EMIT changed();
}

void Listening::silence() {
    for (const auto& [sound, is] : heard_)
        if (speaker_) speaker_->stop(is.second);
    heard_.clear();
}

/// Those that sound by now begin, move along, and end; one hears from where one looks.
void Listening::follow() {
    const Rehearsal& rehearsal = editor_.rehearsal();
    const rehearse::Run* run = rehearsal.run();
    if (muted_ || run == nullptr || !rehearsal.isPlayed()) return silence();
    const auto& sounds = rehearsal.level()->sounds;
    if (sounds.empty()) return;
    Speaker* heard = speaker();
    if (heard == nullptr) return;
    const render::Camera camera = rehearsal.camera();
    heard->listen(camera.eye, camera.forward(), camera.up());
    for (std::size_t i = 0; i < sounds.size(); ++i) {
        const rehearse::SoundAt& at = sounds[i];
        const int since = run->soundSince(i);
        const bool there = at.thing < 0 || run->isThere(static_cast<std::size_t>(at.thing));
        const auto known = heard_.find(i);
        if (known != heard_.end() && (since != known->second.first || !there)) {
            heard->stop(known->second.second);
            heard_.erase(known);
        }
        if (since < 0 || !there || at.sound.file.empty()) continue;
        const Heard is{run->soundAt(i),      at.sound.gain, at.sound.innerMetres,
                       at.sound.outerMetres, at.sound.loop, at.sound.is == model::Sound::Is::Music};
        if (const auto now = heard_.find(i); now != heard_.end())
            heard->set(now->second.second, is);
        else
            heard_[i] = {since, load(at.sound.file) ? heard->begin(at.sound.file, is) : 0};
    }
    heard->pause(rehearsal.mode() == Rehearsal::Mode::Paused);
}

}  // namespace app
