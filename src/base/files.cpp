#include "base/files.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <signal.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <charconv>
#include <cstring>

#include "base/text.h"

namespace base {
namespace {

ErrorCode codeOf(int number) {
    if (number == ENOENT) return ErrorCode::NotFound;
    return number == EACCES || number == EPERM || number == EROFS ? ErrorCode::Denied : ErrorCode::Io;
}

Error systemError(const std::filesystem::path& path, std::string_view doing) {
    const int number = errno;
    return {codeOf(number), fmt::format("{}: cannot {}: {}.", path.string(), doing, std::strerror(number))};
}

/// A file descriptor that closes itself.
class Descriptor {
  public:
    explicit Descriptor(int fd) : fd_(fd) {}
    ~Descriptor() {
        if (fd_ >= 0) ::close(fd_);
    }
    Descriptor(Descriptor&& other) noexcept : fd_(std::exchange(other.fd_, -1)) {}
    Descriptor& operator=(Descriptor&&) = delete;
    int get() const { return fd_; }
    bool valid() const { return fd_ >= 0; }

  private:
    int fd_;
};

bool writeAll(int fd, std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t n = ::write(fd, bytes.data(), std::min<std::size_t>(bytes.size(), 1 << 26));
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return false;
        bytes.remove_prefix(static_cast<std::size_t>(n));
    }
    return true;
}

}  // namespace

namespace {

/// An open regular file. Opening never waits, as it would for a pipe that nobody writes to.
Result<Descriptor> openFile(const std::filesystem::path& path, struct stat& status) {
    Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK | O_NOCTTY));
    if (!file.valid() || ::fstat(file.get(), &status) != 0) return tl::unexpected(systemError(path, "read it"));
    if (S_ISDIR(status.st_mode)) return fail(ErrorCode::Io, path.string() + ": is a folder, not a file.");
    if (!S_ISREG(status.st_mode))
        return fail(ErrorCode::Io, path.string() + ": is no ordinary file (a device, pipe or socket).");
    return file;
}

/// Fills `bytes` from the file; false: it cannot be read. It may end earlier.
bool fill(int fd, std::string& bytes) {
    std::size_t done = 0;
    while (done < bytes.size()) {
        const ssize_t n = ::read(fd, bytes.data() + done, bytes.size() - done);
        if (n < 0 && errno == EINTR) continue;
        if (n < 0) return false;
        if (n == 0) break;
        done += static_cast<std::size_t>(n);
    }
    bytes.resize(done);
    return true;
}

std::string sized(std::uint64_t bytes) {
    return bytes >= std::uint64_t{1} << 30 ? fmt::format("{} GB", bytes >> 30) : fmt::format("{} MB", bytes >> 20);
}

}  // namespace

Result<std::string> readFile(const std::filesystem::path& path, std::uint64_t atMost) {
    struct stat status {};
    auto file = openFile(path, status);
    if (!file) return tl::unexpected(file.error());
    const auto size = static_cast<std::uint64_t>(status.st_size);
    if (size > atMost)
        return fail(ErrorCode::BadInput,
                    fmt::format("{}: is too large: at most {} are read of such a file.", path.string(), sized(atMost)));
    std::string bytes(size + 1, '\0');  // one more, to see that it did not grow
    if (!fill(file->get(), bytes)) return tl::unexpected(systemError(path, "read it"));
    if (bytes.size() > size) return fail(ErrorCode::Io, path.string() + ": is being written just now.");
    return bytes;
}

Result<std::string> readHead(const std::filesystem::path& path, std::size_t count) {
    struct stat status {};
    auto file = openFile(path, status);
    if (!file) return tl::unexpected(file.error());
    std::string bytes(count, '\0');
    if (!fill(file->get(), bytes)) return tl::unexpected(systemError(path, "read it"));
    return bytes;
}

namespace {

Error failure(const std::filesystem::path& path, std::string_view doing, const std::error_code& code) {
    return {codeOf(code.value()), fmt::format("{}: cannot {}: {}.", path.string(), doing, std::strerror(code.value()))};
}

}  // namespace

bool exists(const std::filesystem::path& path) {
    std::error_code ignored;
    return std::filesystem::exists(path, ignored);
}

std::filesystem::path freeBeside(const std::filesystem::path& file, std::string_view ending) {
    const std::string first = file.string() + std::string(ending);
    std::filesystem::path free = first;
    for (int n = 2; base::exists(free); ++n) free = first + "-" + std::to_string(n);
    return free;
}

bool isFolder(const std::filesystem::path& path) {
    std::error_code ignored;
    return std::filesystem::is_directory(path, ignored);
}

Result<std::vector<std::filesystem::path>> listFolder(const std::filesystem::path& folder) {
    std::vector<std::filesystem::path> all;
    std::error_code problem;
    std::filesystem::directory_iterator it(folder, problem);
    for (const std::filesystem::directory_iterator end; !problem && it != end; it.increment(problem))
        all.push_back(it->path());
    if (problem && problem != std::errc::no_such_file_or_directory)
        return tl::unexpected(failure(folder, "look into it", problem));
    std::sort(all.begin(), all.end());
    return all;
}

Status makeFolder(const std::filesystem::path& folder) {
    std::error_code problem;
    std::filesystem::create_directories(folder, problem);
    if (problem) return tl::unexpected(failure(folder, "make the folder", problem));
    return {};
}

Status removeFile(const std::filesystem::path& path) {
    std::error_code problem;
    std::filesystem::remove(path, problem);
    if (problem) return tl::unexpected(failure(path, "remove it", problem));
    return {};
}

Status renameFile(const std::filesystem::path& from, const std::filesystem::path& to) {
    std::error_code problem;
    std::filesystem::rename(from, to, problem);
    if (problem) return tl::unexpected(failure(from, fmt::format("move it to {}", to.string()), problem));
    return {};
}

Result<std::filesystem::path> inside(const std::filesystem::path& folder, const std::filesystem::path& name) {
    auto refuse = [&](std::string_view why) -> Result<std::filesystem::path> {
        return fail(ErrorCode::Refused, fmt::format("“{}” {}.", forTerminal(name.string()), why));
    };
    if (name.empty() || name.is_absolute()) return refuse("is no name of a file in the project");
    for (const auto& part : name)
        if (part != ".mellow" && part != ".gitignore" && !isFileName(part.string()))
            return refuse("cannot be the name of a file in the project");
    std::error_code problem;
    const std::filesystem::path root = std::filesystem::weakly_canonical(folder, problem);
    const std::filesystem::path real = std::filesystem::weakly_canonical(folder / name, problem);
    if (problem) return refuse(fmt::format("cannot be followed: {}", std::strerror(problem.value())));
    if (std::mismatch(root.begin(), root.end(), real.begin(), real.end()).first != root.end())
        return refuse("leads out of the project, through a link");
    return folder / name;
}

Result<std::filesystem::path> writePart(const std::filesystem::path& path, std::string_view bytes) {
    std::filesystem::path part = path;
    part += fmt::format(".part-{}", ::getpid());
    ::unlink(part.c_str());  // of a process that had this number before
    Descriptor file(::open(part.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, 0644));
    if (file.valid() && writeAll(file.get(), bytes) && ::fsync(file.get()) == 0) return part;
    Error error = systemError(path, "write it");
    if (file.valid()) ::unlink(part.c_str());
    return tl::unexpected(error);
}

void removeStrayParts(const std::filesystem::path& folder) {
    for (const auto& file : listFolder(folder).value_or(std::vector<std::filesystem::path>{})) {
        const std::string name = file.filename().string();
        const std::size_t at = name.rfind(".part-");
        if (at == std::string::npos) continue;
        int process = 0;
        const char* const end = name.data() + name.size();
        if (std::from_chars(name.data() + at + 6, end, process).ptr != end || process <= 0) continue;
        const bool isThere = process != ::getpid() && (::kill(process, 0) == 0 || errno == EPERM);
        if (!isThere) ::unlink(file.c_str());
    }
}

Status putInPlace(const std::filesystem::path& part, const std::filesystem::path& path) {
    if (::rename(part.c_str(), path.c_str()) != 0) {
        Error error = systemError(path, "put the new version in place");
        ::unlink(part.c_str());
        return tl::unexpected(error);
    }
    Descriptor folder(
        ::open(path.parent_path().empty() ? "." : path.parent_path().c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
    if (folder.valid()) ::fsync(folder.get());
    return {};
}

Status writeFileWhole(const std::filesystem::path& path, std::string_view bytes) {
    auto part = writePart(path, bytes);
    if (!part) return tl::unexpected(part.error());
    return putInPlace(*part, path);
}

Result<FileLock> FileLock::take(const std::filesystem::path& file) {
    const int fd = ::open(file.c_str(), O_RDWR | O_CREAT | O_CLOEXEC | O_NOFOLLOW | O_NONBLOCK, 0644);
    if (fd < 0) return tl::unexpected(systemError(file, "make the lock"));
    struct stat status {};
    if (::fstat(fd, &status) != 0 || !S_ISREG(status.st_mode) || status.st_nlink > 1) {
        ::close(fd);
        return fail(ErrorCode::Io, file.string() + ": is no lock of ours: an ordinary file of its own was expected.");
    }
    if (::flock(fd, LOCK_EX | LOCK_NB) != 0) {
        char who[32] = {};
        const ssize_t n = ::read(fd, who, sizeof who - 1);
        ::close(fd);
        std::string process(who, n > 0 ? static_cast<std::size_t>(n) : 0);
        while (!process.empty() && process.back() == '\n') process.pop_back();
        return fail(ErrorCode::InUse, fmt::format("{} is open in another window (process {}).",
                                                  file.parent_path().parent_path().filename().string(), process));
    }
    const std::string own = fmt::format("{}\n", ::getpid());
    if (::ftruncate(fd, 0) != 0 || !writeAll(fd, own)) {
        Error error = systemError(file, "write the lock");
        ::close(fd);
        return tl::unexpected(error);
    }
    return FileLock(fd);
}

FileLock::~FileLock() {
    if (fd_ >= 0) ::close(fd_);
}

namespace {

bool isPlain(char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '.' || c == '-' ||
           c == '_' || c == ' ';
}

/// The letter without its accent, of Latin letters up to U+017F; nothing: there is none.
std::string_view unaccented(char32_t code) {
    // Unicode's decompositions, in order; those that have none are written as they are usually spelt out.
    static constexpr std::string_view kLatin1[] = {"A", "A", "A", "A", "A",  "A",  "AE", "C", "E", "E", "E",  "E", "I",
                                                   "I", "I", "I", "D", "N",  "O",  "O",  "O", "O", "O", "",   "O", "U",
                                                   "U", "U", "U", "Y", "Th", "ss", "a",  "a", "a", "a", "a",  "a", "ae",
                                                   "c", "e", "e", "e", "e",  "i",  "i",  "i", "i", "d", "n",  "o", "o",
                                                   "o", "o", "o", "",  "o",  "u",  "u",  "u", "u", "y", "th", "y"};
    static constexpr std::string_view kExtended =
        "AaAaAaCcCcCcCcDdDdEeEeEeEeEeGgGgGgGgHhHhIiIiIiIiIiIjJjKkkLlLlLlLlLlNnNnNnnNnOoOoOoOoRrRrRrSsSsSsSsTtTtTt"
        "UuUuUuUuUuUuWwYyYZzZzZzs";
    static_assert(kExtended.size() == 0x80);
    if (code >= 0xC0 && code <= 0xFF) return kLatin1[code - 0xC0];
    if (code >= 0x100 && code - 0x100 < kExtended.size()) return kExtended.substr(code - 0x100, 1);
    return {};
}

}  // namespace

bool isPlainFileName(std::string_view name) {
    return !name.empty() && name.size() <= 100 && name.front() != '.' && name.front() != ' ' && name.back() != ' ' &&
           std::all_of(name.begin(), name.end(), isPlain);
}

std::string plainFileName(std::string_view text) {
    std::string name;
    for (std::size_t i = 0; i < text.size();) {
        const auto [code, length] = codePointAt(text, i);
        i += length;
        if (code < 0x80 && isPlain(static_cast<char>(code)))
            name += static_cast<char>(code);
        else if (const std::string_view plain = unaccented(code); !plain.empty())
            name += plain;
        else if (!name.empty() && name.back() != '-')
            name += '-';
    }
    name.resize(std::min<std::size_t>(name.size(), 90));  // room for a number
    const std::size_t from = name.find_first_not_of(". -"), to = name.find_last_not_of(" -.");
    return from == std::string::npos ? "model" : name.substr(from, to - from + 1);
}

bool isFileName(std::string_view name) {
    return !name.empty() && name.size() <= 200 && name.front() != '.' && name.find('/') == std::string_view::npos &&
           isValidUtf8(name) && !hasControl(name) && name.find_first_of("\n\t") == std::string_view::npos;
}

}  // namespace base
