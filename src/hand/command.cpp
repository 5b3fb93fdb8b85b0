#include "hand/command.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <poll.h>
#include <signal.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <array>
#include <cerrno>
#include <chrono>
#include <cstring>

#include "base/files.h"
#include "base/text.h"
#include "hand/names.h"
#include "model/value_reader.h"

extern char** environ;  // NOLINT

namespace hand {
namespace {

namespace fs = std::filesystem;

/// A program in a group of its own, so that what it begins is stopped with it.
class Child {
  public:
    Child(const std::string& program, std::vector<std::string> words, std::vector<std::string> environment,
          const fs::path& folder) {
        int ends[2] = {-1, -1};
        if (pipe2(ends, O_CLOEXEC) != 0) return;
        out_ = ends[0];
        posix_spawn_file_actions_t actions;
        posix_spawn_file_actions_init(&actions);
        posix_spawn_file_actions_addopen(&actions, 0, "/dev/null", O_RDONLY, 0);
        posix_spawn_file_actions_adddup2(&actions, ends[1], 1);
        posix_spawn_file_actions_adddup2(&actions, ends[1], 2);
        posix_spawn_file_actions_addchdir_np(&actions, folder.c_str());
        posix_spawnattr_t how;
        posix_spawnattr_init(&how);
        posix_spawnattr_setflags(&how, POSIX_SPAWN_SETPGROUP);
        problem_ =
            posix_spawnp(&pid_, program.c_str(), &actions, &how, pointers(words).data(), pointers(environment).data());
        if (problem_ != 0) pid_ = -1;
        posix_spawnattr_destroy(&how);
        posix_spawn_file_actions_destroy(&actions);
        close(ends[1]);
    }
    ~Child() {
        if (out_ >= 0) close(out_);
        if (pid_ <= 0) return;
        kill(-pid_, SIGKILL);
        waitpid(pid_, nullptr, 0);
    }
    Child(const Child&) = delete;
    Child& operator=(const Child&) = delete;
    bool runs() const { return pid_ > 0; }
    int problem() const { return problem_; }
    int out() const { return out_; }
    void signal(int which) const { kill(-pid_, which); }
    /// Its state once it has ended.
    std::optional<int> ended() {
        int state = 0;
        if (waitpid(pid_, &state, WNOHANG) != pid_) return std::nullopt;
        pid_ = -1;
        return state;
    }

  private:
    static std::vector<char*> pointers(std::vector<std::string>& words) {
        std::vector<char*> all;
        for (std::string& word : words) all.push_back(word.data());
        all.push_back(nullptr);
        return all;
    }
    pid_t pid_ = -1;
    int out_ = -1, problem_ = 0;
};

/// What is said, in lines; what has none for long is cut.
class Lines {
  public:
    explicit Lines(const std::function<void(const std::string&)>& to) : to_(to) {}
    void add(std::string_view bytes) {
        constexpr std::size_t kLongest = 4000;
        for (const char c : bytes) {
            if (c == '\n' || held_.size() >= kLongest) flush();
            if (c != '\n' && c != '\r') held_ += c;
        }
    }
    void finish() {
        if (!held_.empty()) flush();
    }

  private:
    void flush() {
        if (to_) to_(base::forTerminal(held_));
        held_.clear();
    }
    const std::function<void(const std::string&)>& to_;
    std::string held_;
};

fs::path besideThis(const std::string& name) {
    std::error_code ignored;
    return fs::read_symlink("/proc/self/exe", ignored).parent_path() / name;
}

std::vector<std::string> environmentOf(const Command& command, const Words& words) {
    std::vector<std::string> all;
    for (char** one = environ; *one != nullptr; ++one) {
        const std::string_view entry(*one);
        if (!command.environment.contains(std::string(entry.substr(0, entry.find('='))))) all.emplace_back(entry);
    }
    for (const auto& [name, value] : command.environment) all.push_back(name + "=" + withWords(value, words));
    return all;
}

}  // namespace

Command commandFrom(const std::string& name, const ValueMap& map, std::vector<std::string>& problems) {
    const model::ValueReader read{map, problems};
    Command command;
    command.name = command.label = name;
    read.text("label", command.label);
    read.text("help", command.help);
    read.text("program", command.program);
    read.text("folder", command.folder);
    read.text("handOver", command.handOver);
    command.arguments = model::textsOf(map, "arguments");
    if (const Value* own = model::valueOf(map, "environment")) {
        const auto* all = std::get_if<ValueMap>(&own->data);
        if (all == nullptr) read.say("environment", "is no object.");
        for (const auto& [key, value] : all != nullptr ? *all : ValueMap{})
            if (const auto* text = std::get_if<std::string>(&value.data))
                command.environment[key] = *text;
            else
                read.say("environment", "“" + key + "” is no text.");
    }
    if (command.program.empty()) read.say("program", "is missing.");
    return command;
}

std::optional<Command> commandNamed(const model::Library& library, const std::string& name,
                                    std::vector<std::string>& problems) {
    const auto held = library.commands.find(name);
    if (held == library.commands.end()) return std::nullopt;
    return commandFrom(name, held->second, problems);
}

std::string commandLine(const Command& command, const Words& words) {
    std::string line = withWords(command.program, words);
    for (const std::string& one : command.arguments) {
        const std::string word = withWords(one, words);
        line += word.find_first_of(" \"'$\\") == std::string::npos && !word.empty() ? " " + word : " \"" + word + "\"";
    }
    return line;
}

Result<CommandEnd> run(const Command& command, const fs::path& project, const Words& words,
                       const std::function<void(const std::string&)>& line, const base::Progress& progress) {
    std::string program = withWords(command.program, words);
    if (program.find('/') != std::string::npos)
        program = (project / program).lexically_normal().string();
    else if (const fs::path beside = besideThis(program); base::exists(beside))
        program = beside.string();
    const fs::path folder = (project / withWords(command.folder, words)).lexically_normal();
    if (!base::isFolder(folder))
        return fail(ErrorCode::NotFound,
                    fmt::format("{}: its folder {} is not there.", command.label, folder.string()));
    std::vector<std::string> arguments = {program};
    for (const std::string& one : command.arguments) arguments.push_back(withWords(one, words));
    Child child(program, std::move(arguments), environmentOf(command, words), folder);
    if (!child.runs())
        return fail(
            child.problem() == ENOENT ? ErrorCode::NotFound : ErrorCode::Io,
            fmt::format("{}: {} cannot be started: {}.", command.label, program, std::strerror(child.problem())));
    using Clock = std::chrono::steady_clock;
    Lines lines(line);
    CommandEnd end;
    std::optional<int> state;
    std::optional<Clock::time_point> asked;  // to end
    const auto take = [&] {
        std::array<char, 4096> bytes{};
        pollfd on = {child.out(), POLLIN, 0};
        while (poll(&on, 1, state ? 0 : 50) > 0 && (on.revents & (POLLIN | POLLHUP)) != 0) {
            const ssize_t n = ::read(child.out(), bytes.data(), bytes.size());
            if (n <= 0) return false;
            lines.add({bytes.data(), static_cast<std::size_t>(n)});
            if (progress.cancelled() && !asked) return true;
        }
        return true;
    };
    bool open = true;
    while (!state) {
        if (open)
            open = take();
        else
            poll(nullptr, 0, 20);
        if (progress.cancelled() && !asked) {
            asked = Clock::now();
            end.stopped = true;
            child.signal(SIGTERM);
        }
        if (asked && Clock::now() - *asked > std::chrono::seconds(2)) child.signal(SIGKILL);
        state = child.ended();
    }
    if (open) take();
    lines.finish();
    end.code = WIFSIGNALED(*state) ? 128 + WTERMSIG(*state) : WEXITSTATUS(*state);
    return end;
}

}  // namespace hand
