#pragma once
// What is heard: sounds by name, each from a place, through OpenAL. Without a device it plays nothing, says so once,
// and everything else goes on. One thread; one at a time is open.
#include <memory>
#include <string>
#include <vector>

#include "base/math.h"
#include "io/sound_file.h"

namespace app {

/// How one sound is heard.
struct Heard {
    base::Vec3 at{0.0};
    double gain = 1, innerMetres = 1, outerMetres = 20;
    bool loop = false;
    bool everywhere = false;  ///< alike wherever one is
};

class Speaker {
  public:
    /// The machine's own device; `rendersAt` frames a second: none, what would be heard is given by render().
    explicit Speaker(int rendersAt = 0);
    ~Speaker();
    Speaker(const Speaker&) = delete;
    Speaker& operator=(const Speaker&) = delete;

    /// Why nothing is heard; empty: it works.
    const std::string& problem() const { return problem_; }
    /// Known from now on under a name; what plays of that name before stops.
    void load(const std::string& name, const io::SoundData& sound);
    bool knows(const std::string& name) const;
    void forgetAll();
    /// Begins a sound that is known; gives a number for it. 0: nothing is heard.
    int begin(const std::string& name, const Heard& heard);
    void set(int playing, const Heard& heard);
    void stop(int playing);
    void pause(bool paused);
    bool isPlaying(int playing) const;
    /// Where one hears from, and how one's head is turned.
    void listen(const base::Vec3& at, const base::Vec3& ahead, const base::Vec3& up);
    /// So many frames of what is heard, left and right, when it renders.
    std::vector<float> render(std::size_t frames);

  private:
    struct Own;
    std::unique_ptr<Own> own_;
    std::string problem_;
};

}  // namespace app
