#include "base/files.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>

namespace base {
namespace {

Error systemError(const std::filesystem::path& path, std::string_view doing) {
    const int number = errno;
    const ErrorCode code = number == ENOENT ? ErrorCode::NotFound : ErrorCode::Io;
    return {code, fmt::format("{}: cannot {}: {}.", path.string(), doing, std::strerror(number))};
}

/// A file descriptor that closes itself.
class Descriptor {
  public:
    explicit Descriptor(int fd) : fd_(fd) {}
    ~Descriptor() {
        if (fd_ >= 0) ::close(fd_);
    }
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;
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

Result<std::string> readFile(const std::filesystem::path& path) {
    Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC));
    struct stat status {};
    if (!file.valid() || ::fstat(file.get(), &status) != 0) return tl::unexpected(systemError(path, "read it"));
    if (S_ISDIR(status.st_mode)) return fail(ErrorCode::Io, path.string() + ": is a folder, not a file.");
    std::string bytes(static_cast<std::size_t>(status.st_size), '\0');
    std::size_t done = 0;
    for (;;) {
        if (done == bytes.size()) bytes.resize(done + 4096);  // room to see the end, or a file that grew
        const ssize_t n = ::read(file.get(), bytes.data() + done, bytes.size() - done);
        if (n < 0 && errno == EINTR) continue;
        if (n < 0) return tl::unexpected(systemError(path, "read it"));
        if (n == 0) break;
        done += static_cast<std::size_t>(n);
    }
    bytes.resize(done);
    return bytes;
}

Result<std::filesystem::path> writePart(const std::filesystem::path& path, std::string_view bytes) {
    std::filesystem::path part = path;
    part += fmt::format(".part-{}", ::getpid());
    Descriptor file(::open(part.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644));
    if (file.valid() && writeAll(file.get(), bytes) && ::fsync(file.get()) == 0) return part;
    Error error = systemError(path, "write it");
    ::unlink(part.c_str());
    return tl::unexpected(error);
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
    const int fd = ::open(file.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0644);
    if (fd < 0) return tl::unexpected(systemError(file, "make the lock"));
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

bool isPlainFileName(std::string_view name) {
    if (name.empty() || name.size() > 100 || name.front() == '.' || name.front() == ' ' || name.back() == ' ')
        return false;
    for (char c : name) {
        const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '.' ||
                           c == '-' || c == '_' || c == ' ';
        if (!plain) return false;
    }
    return true;
}

}  // namespace base
