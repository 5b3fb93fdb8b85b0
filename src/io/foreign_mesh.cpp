#include "io/foreign_mesh.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <poll.h>
#include <signal.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <cstdlib>

#include "base/files.h"
#include "base/text.h"
#include "io/names.h"

extern char** environ;  // NOLINT

namespace io {
namespace {

namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;

/// Beside this program, or where a package puts it; empty: it is not there.
fs::path program() {
    std::error_code problem;
    const fs::path here = fs::read_symlink("/proc/self/exe", problem).parent_path();
    for (const fs::path& place : {here / "mellow-mesh", here.parent_path() / "lib" / "mellow-lattice" / "mellow-mesh"})
        if (base::exists(place)) return place;
    return {};
}

/// A folder that goes with all that is in it.
class Room {
  public:
    Room() {
        std::error_code problem;
        std::string name = (fs::temp_directory_path(problem) / "mellow-mesh-XXXXXX").string();
        if (!problem && mkdtemp(name.data()) != nullptr) path_ = name;
    }
    ~Room() {
        std::error_code ignored;
        if (!path_.empty()) fs::remove_all(path_, ignored);
    }
    Room(const Room&) = delete;
    Room& operator=(const Room&) = delete;
    const fs::path& path() const { return path_; }

  private:
    fs::path path_;
};

/// A program that runs; ended when this goes.
class Child {
  public:
    Child(const fs::path& file, const std::vector<std::string>& arguments, const fs::path& errors) {
        std::vector<std::string> words = {file.string()};
        words.insert(words.end(), arguments.begin(), arguments.end());
        std::vector<char*> argv;
        for (std::string& word : words) argv.push_back(word.data());
        argv.push_back(nullptr);
        posix_spawn_file_actions_t actions;
        posix_spawn_file_actions_init(&actions);
        posix_spawn_file_actions_addopen(&actions, 0, "/dev/null", O_RDONLY, 0);
        posix_spawn_file_actions_addopen(&actions, 1, "/dev/null", O_WRONLY, 0);
        posix_spawn_file_actions_addopen(&actions, 2, errors.c_str(), O_WRONLY | O_CREAT | O_TRUNC, 0600);
        if (posix_spawn(&pid_, file.c_str(), &actions, nullptr, argv.data(), environ) != 0) pid_ = -1;
        posix_spawn_file_actions_destroy(&actions);
    }
    ~Child() {
        if (pid_ <= 0) return;
        kill(pid_, SIGKILL);
        waitpid(pid_, nullptr, 0);
    }
    Child(const Child&) = delete;
    Child& operator=(const Child&) = delete;
    bool runs() const { return pid_ > 0; }
    /// Its state once it has ended; nothing: it has not.
    std::optional<int> ended() {
        int state = 0;
        if (waitpid(pid_, &state, WNOHANG) == 0) return std::nullopt;
        pid_ = -1;
        return state;
    }

  private:
    pid_t pid_ = -1;
};

}  // namespace

bool isForeignMesh(const fs::path& file) {
    const std::string ending = base::lowered(file.extension().string());
    return ending == ".obj" || ending == ".stl" || ending == ".ply";
}

Result<ModelFile> readForeign(const fs::path& file, const base::Progress* progress, double seconds) {
    const std::string shown = base::forTerminal(file.string());
    if (!base::exists(file)) return fail(ErrorCode::NotFound, shown + ": there is no such file.");
    const fs::path reader = program();
    const Room room;
    if (reader.empty() || room.path().empty())
        return fail(ErrorCode::Io, shown + ": the program that reads such models, mellow-mesh, cannot be started.");
    const fs::path out = room.path() / "out.glb", errors = room.path() / "errors";
    Child child(reader, {file.string(), out.string()}, errors);
    if (!child.runs()) return fail(ErrorCode::Io, shown + ": mellow-mesh cannot be started.");
    const auto until = Clock::now() + std::chrono::duration<double>(seconds);
    std::optional<int> state;
    while (!(state = child.ended())) {
        if (progress != nullptr && progress->cancelled())
            return fail(ErrorCode::Cancelled, shown + ": reading it was called off.");
        if (Clock::now() > until)
            return fail(ErrorCode::BadInput,
                        fmt::format("{}: reading it takes longer than {:.0f} s, and was ended.", shown, seconds));
        poll(nullptr, 0, 4);
    }
    if (WIFSIGNALED(*state))
        return fail(ErrorCode::BadInput, shown + ": is no usable model: reading it took too long, or too much memory.");
    if (WEXITSTATUS(*state) != 0) {
        std::string why = base::readFile(errors, 4096).value_or("");
        while (!why.empty() && (why.back() == '\n' || why.back() == '.')) why.pop_back();
        return fail(ErrorCode::BadInput,
                    fmt::format("{}: is no usable model: {}.", shown,
                                why.empty() ? "nothing in it can be read" : base::forTerminal(why)));
    }
    auto model = readModel(out, room.path());
    auto bytes = base::readFile(out, base::most::kModel);
    if (!model || !bytes) return fail(ErrorCode::BadInput, shown + ": is no usable model: nothing in it can be shown.");
    return ModelFile{file.stem().string(), std::move(*bytes), std::move(*model)};
}

}  // namespace io
