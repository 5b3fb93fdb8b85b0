#pragma once
// Files: read whole, written whole or not at all; and where a name that comes from outside may lead. Nothing here
// throws.
#include <cstdint>
#include <filesystem>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "base/result.h"

namespace base {

/// The most that is read of a file, in bytes.
namespace most {
constexpr std::uint64_t kSmall = std::uint64_t{16} << 20;   ///< project.json, kinds, surfaces, checks, scripts
constexpr std::uint64_t kTable = std::uint64_t{256} << 20;  ///< records, CSV, images
constexpr std::uint64_t kModel = std::uint64_t{1} << 30;
constexpr std::uint64_t kScene = std::uint64_t{4} << 30;  ///< scenes and prefabs
}  // namespace most

/// The bytes of a regular file: never of a device or a pipe, which may have no end. Errors: NotFound; Io (unreadable,
/// not a file); BadInput (more than `atMost` bytes, with the limit named).
Result<std::string> readFile(const std::filesystem::path& path, std::uint64_t atMost = most::kScene);
/// Its first bytes, fewer when it is shorter. Errors: as above.
Result<std::string> readHead(const std::filesystem::path& path, std::size_t bytes);

/// Is there something? False also for what cannot be a path.
bool exists(const std::filesystem::path& path);
bool isFolder(const std::filesystem::path& path);
/// What lies directly in a folder, in the order of names; empty when there is no such folder. Errors: Io (unreadable).
Result<std::vector<std::filesystem::path>> listFolder(const std::filesystem::path& folder);
Status makeFolder(const std::filesystem::path& folder);
/// It is no failure when there is none.
Status removeFile(const std::filesystem::path& path);
Status renameFile(const std::filesystem::path& from, const std::filesystem::path& to);

/// The first free name beside a file: NAME.theirs, NAME.theirs-2.
std::filesystem::path freeBeside(const std::filesystem::path& file, std::string_view ending);

/// Where a relative name leads that came from outside: from a file, the ledger, a script, an argument. Its parts are
/// file names and its real place, links followed, is within `folder`. Errors: Refused.
Result<std::filesystem::path> inside(const std::filesystem::path& folder, const std::filesystem::path& name);

/// Replaces `path` by `bytes` so that after a crash or on a full disk either the old or the new file is
/// there, whole: temporary file beside it, fsync, rename, fsync of the folder. Errors: Io.
Status writeFileWhole(const std::filesystem::path& path, std::string_view bytes);

/// The same in two halves, so that the long one can run on a worker: writes `bytes` beside `path`, fsynced, and gives
/// the name of what was written ("NAME.part-PID"); putInPlace then makes it the file.
Result<std::filesystem::path> writePart(const std::filesystem::path& path, std::string_view bytes);
Status putInPlace(const std::filesystem::path& part, const std::filesystem::path& path);
/// Removes the parts in a folder that processes left which are not there any more.
void removeStrayParts(const std::filesystem::path& folder);

/// Held while a project is open for editing; the system lets go of it when the process ends, however it ends.
class FileLock {
  public:
    /// Never follows a link, and changes nothing before it is held. Errors: InUse with who holds it; Io.
    static Result<FileLock> take(const std::filesystem::path& file);
    FileLock(FileLock&& other) noexcept : fd_(std::exchange(other.fd_, -1)) {}
    FileLock& operator=(FileLock&&) = delete;
    ~FileLock();

  private:
    explicit FileLock(int fd) : fd_(fd) {}
    int fd_;
};

/// True for a name that is safe as a file name on every system we know: letters, digits, dot, dash,
/// underscore and space; no leading dot, at most 100 bytes. What is made here is called so.
bool isPlainFileName(std::string_view name);
/// The nearest plain name: accents go, what else cannot be becomes a dash. “model” when nothing is left.
std::string plainFileName(std::string_view text);
/// Can it be one part of a path that stays where it is put? UTF-8 without slashes and control characters, no leading
/// dot, at most 200 bytes. What others made may be called so.
bool isFileName(std::string_view name);

}  // namespace base
