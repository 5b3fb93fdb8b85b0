#pragma once
// Files: read whole, written whole or not at all.
#include <filesystem>
#include <string>
#include <string_view>
#include <utility>

#include "base/result.h"

namespace base {

/// The bytes of a file. Errors: NotFound, Io (unreadable, a folder).
Result<std::string> readFile(const std::filesystem::path& path);

/// Replaces `path` by `bytes` so that after a crash or on a full disk either the old or the new file is
/// there, whole: temporary file beside it, fsync, rename, fsync of the folder. Errors: Io.
Status writeFileWhole(const std::filesystem::path& path, std::string_view bytes);

/// The same in two halves, so that the long one can run on a worker: writes `bytes` beside `path`, fsynced, and gives
/// the name of what was written; putInPlace then makes it the file.
Result<std::filesystem::path> writePart(const std::filesystem::path& path, std::string_view bytes);
Status putInPlace(const std::filesystem::path& part, const std::filesystem::path& path);

/// Held while a project is open for editing; the system lets go of it when the process ends, however it ends.
class FileLock {
  public:
    /// Errors: InUse with who holds it; Io.
    static Result<FileLock> take(const std::filesystem::path& file);
    FileLock(FileLock&& other) noexcept : fd_(std::exchange(other.fd_, -1)) {}
    FileLock& operator=(FileLock&&) = delete;
    ~FileLock();

  private:
    explicit FileLock(int fd) : fd_(fd) {}
    int fd_;
};

/// True for a name that is safe as a file name on every system we know: letters, digits, dot, dash,
/// underscore and space; no leading dot, at most 100 bytes.
bool isPlainFileName(std::string_view name);

}  // namespace base
