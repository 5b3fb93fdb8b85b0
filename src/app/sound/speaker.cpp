#include "app/sound/speaker.h"

#include <AL/al.h>
#include <AL/alc.h>
#include <AL/alext.h>

#include <cstdlib>
#include <filesystem>
#include <map>

namespace app {

namespace {

constexpr const char* kNoSound = "This machine has no sound: nothing is heard.";

/// Only those that have something to talk to are asked: the others wait for a server, or complain on the console.
std::string driversHere() {
    if (const char* given = std::getenv("ALSOFT_DRIVERS")) return given;
    const auto exists = [](const std::string& path) {
        std::error_code none;
        return std::filesystem::exists(path, none);
    };
    const char* runtime = std::getenv("XDG_RUNTIME_DIR");
    const std::string here = runtime != nullptr ? runtime : "";
    std::string drivers;
    if (std::getenv("PULSE_SERVER") != nullptr || exists(here + "/pulse/native")) drivers += "pulse,";
    if (exists(here + "/pipewire-0")) drivers += "pipewire,";
    if (exists("/dev/snd")) drivers += "alsa,";
    if (!drivers.empty()) drivers.pop_back();
    return drivers;
}

}  // namespace

struct Speaker::Own {
    struct Buffers {
        ALuint mono = 0, whole = 0;
    };
    ALCdevice* device = nullptr;
    ALCcontext* context = nullptr;
    LPALCRENDERSAMPLESSOFT render = nullptr;
    std::map<std::string, Buffers> buffers;
    std::map<int, ALuint> sources;
    std::map<int, std::string> names;
    int last = 0;

    void drop(int playing) {
        const auto source = sources.find(playing);
        if (source == sources.end()) return;
        alSourceStop(source->second);
        alDeleteSources(1, &source->second);
        sources.erase(source);
        names.erase(playing);
    }
    /// Those that have come to their end.
    void tidy() {
        std::vector<int> over;
        for (const auto& [playing, source] : sources) {
            ALint state = AL_STOPPED;
            alGetSourcei(source, AL_SOURCE_STATE, &state);
            if (state == AL_STOPPED) over.push_back(playing);
        }
        for (const int playing : over) drop(playing);
    }
    static void put(ALuint source, const Heard& heard) {
        const auto f = [](double v) { return static_cast<float>(v); };
        alSourcef(source, AL_GAIN, f(heard.gain));
        alSourcei(source, AL_LOOPING, heard.loop ? AL_TRUE : AL_FALSE);
        alSourcei(source, AL_SOURCE_RELATIVE, heard.everywhere ? AL_TRUE : AL_FALSE);
        if (heard.everywhere) {
            alSource3f(source, AL_POSITION, 0, 0, 0);
            alSourcef(source, AL_ROLLOFF_FACTOR, 0);
            return;
        }
        alSource3f(source, AL_POSITION, f(heard.at.x), f(heard.at.y), f(heard.at.z));
        alSourcef(source, AL_ROLLOFF_FACTOR, 1);
        alSourcef(source, AL_REFERENCE_DISTANCE, f(heard.innerMetres));
        alSourcef(source, AL_MAX_DISTANCE, f(std::max(heard.outerMetres, heard.innerMetres + 1e-3)));
        alSourcef(source, AL_MAX_GAIN, 16);
    }
};

Speaker::Speaker(int rendersAt) : own_(std::make_unique<Own>()) {
    if (rendersAt > 0) {
        const auto open =
            reinterpret_cast<LPALCLOOPBACKOPENDEVICESOFT>(alcGetProcAddress(nullptr, "alcLoopbackOpenDeviceSOFT"));
        own_->render = reinterpret_cast<LPALCRENDERSAMPLESSOFT>(alcGetProcAddress(nullptr, "alcRenderSamplesSOFT"));
        own_->device = open != nullptr && own_->render != nullptr ? open(nullptr) : nullptr;
    } else {
        const std::string drivers = driversHere();
        if (drivers.empty()) {
            problem_ = kNoSound;
            return;
        }
        setenv("ALSOFT_DRIVERS", drivers.c_str(), 0);
        own_->device = alcOpenDevice(nullptr);
    }
    if (own_->device == nullptr) {
        problem_ = kNoSound;
        return;
    }
    const ALCint loopback[] = {
        ALC_FORMAT_CHANNELS_SOFT, ALC_STEREO_SOFT, ALC_FORMAT_TYPE_SOFT, ALC_FLOAT_SOFT, ALC_FREQUENCY, rendersAt, 0};
    own_->context = alcCreateContext(own_->device, rendersAt > 0 ? loopback : nullptr);
    if (own_->context == nullptr || alcMakeContextCurrent(own_->context) == ALC_FALSE) {
        problem_ = "The sound of this machine does not work: nothing is heard.";
        return;
    }
    alDistanceModel(AL_LINEAR_DISTANCE_CLAMPED);
}

Speaker::~Speaker() {
    if (own_->context != nullptr) {
        forgetAll();
        alcMakeContextCurrent(nullptr);
        alcDestroyContext(own_->context);
    }
    if (own_->device != nullptr) alcCloseDevice(own_->device);
}

void Speaker::load(const std::string& name, const io::SoundData& sound) {
    if (!problem_.empty()) return;
    std::vector<int> old;
    for (const auto& [playing, is] : own_->names)
        if (is == name) old.push_back(playing);
    for (const int playing : old) own_->drop(playing);
    Own::Buffers& buffers = own_->buffers[name];
    if (buffers.mono == 0) {
        alGenBuffers(1, &buffers.mono);
        alGenBuffers(1, &buffers.whole);
    }
    const auto fill = [&](ALuint buffer, ALenum format, const std::vector<float>& samples) {
        alBufferData(buffer, format, samples.data(), static_cast<ALsizei>(samples.size() * sizeof(float)), sound.rate);
    };
    fill(buffers.mono, AL_FORMAT_MONO_FLOAT32, sound.mono());
    if (sound.channels == 2)
        fill(buffers.whole, AL_FORMAT_STEREO_FLOAT32, sound.samples);
    else
        fill(buffers.whole, AL_FORMAT_MONO_FLOAT32, sound.mono());
}

bool Speaker::knows(const std::string& name) const {
    return own_->buffers.contains(name);
}

void Speaker::forgetAll() {
    while (!own_->sources.empty()) own_->drop(own_->sources.begin()->first);
    for (auto& [name, buffers] : own_->buffers) {
        alDeleteBuffers(1, &buffers.mono);
        alDeleteBuffers(1, &buffers.whole);
    }
    own_->buffers.clear();
}

int Speaker::begin(const std::string& name, const Heard& heard) {
    const auto known = own_->buffers.find(name);
    if (!problem_.empty() || known == own_->buffers.end()) return 0;
    own_->tidy();
    ALuint source = 0;
    alGetError();
    alGenSources(1, &source);
    if (alGetError() != AL_NO_ERROR) return 0;  // as many as can be heard at once are
    alSourcei(source, AL_BUFFER, static_cast<ALint>(heard.everywhere ? known->second.whole : known->second.mono));
    Own::put(source, heard);
    alSourcePlay(source);
    own_->sources[++own_->last] = source;
    own_->names[own_->last] = name;
    return own_->last;
}

void Speaker::set(int playing, const Heard& heard) {
    if (const auto source = own_->sources.find(playing); source != own_->sources.end()) Own::put(source->second, heard);
}

void Speaker::stop(int playing) {
    own_->drop(playing);
}

void Speaker::pause(bool paused) {
    for (const auto& [playing, source] : own_->sources) {
        ALint state = AL_STOPPED;
        alGetSourcei(source, AL_SOURCE_STATE, &state);
        if (paused && state == AL_PLAYING) alSourcePause(source);
        if (!paused && state == AL_PAUSED) alSourcePlay(source);
    }
}

bool Speaker::isPlaying(int playing) const {
    const auto source = own_->sources.find(playing);
    if (source == own_->sources.end()) return false;
    ALint state = AL_STOPPED;
    alGetSourcei(source->second, AL_SOURCE_STATE, &state);
    return state == AL_PLAYING || state == AL_PAUSED;
}

void Speaker::listen(const base::Vec3& at, const base::Vec3& ahead, const base::Vec3& up) {
    if (!problem_.empty()) return;
    const auto f = [](double v) { return static_cast<float>(v); };
    alListener3f(AL_POSITION, f(at.x), f(at.y), f(at.z));
    const float turned[] = {f(ahead.x), f(ahead.y), f(ahead.z), f(up.x), f(up.y), f(up.z)};
    alListenerfv(AL_ORIENTATION, turned);
}

std::vector<float> Speaker::render(std::size_t frames) {
    std::vector<float> heard(frames * 2, 0.0F);
    if (problem_.empty() && own_->render != nullptr)
        own_->render(own_->device, heard.data(), static_cast<ALCsizei>(frames));
    return heard;
}

}  // namespace app
