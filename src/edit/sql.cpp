#include "edit/sql.h"

#include <fmt/format.h>

#include "base/files.h"
#include "edit/names.h"

namespace edit {

namespace fs = std::filesystem;

const char* const kLedgerSchema = R"sql(
CREATE TABLE meta(key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
CREATE TABLE steps(id INTEGER PRIMARY KEY, parent INTEGER NOT NULL, name TEXT NOT NULL, scene TEXT NOT NULL,
                   time INTEGER NOT NULL, row_count INTEGER NOT NULL, barrier INTEGER NOT NULL, payload BLOB NOT NULL,
                   head INTEGER, body INTEGER);
CREATE TABLE redo(step INTEGER PRIMARY KEY, child INTEGER NOT NULL);
CREATE TABLE saves(id INTEGER PRIMARY KEY, scene TEXT NOT NULL, step INTEGER NOT NULL, hash INTEGER NOT NULL,
                   size INTEGER NOT NULL, time INTEGER NOT NULL, placed INTEGER NOT NULL DEFAULT 1, sum INTEGER);
CREATE TABLE files(scene TEXT PRIMARY KEY, hash INTEGER NOT NULL, text BLOB NOT NULL);
INSERT INTO meta VALUES('format','mellow-ledger'),('version','2'),('present','0');
)sql";

namespace {

constexpr const char* kFromOne = R"sql(
ALTER TABLE steps ADD COLUMN head INTEGER;
ALTER TABLE steps ADD COLUMN body INTEGER;
ALTER TABLE saves ADD COLUMN placed INTEGER NOT NULL DEFAULT 1;
ALTER TABLE saves ADD COLUMN sum INTEGER;
CREATE TABLE files(scene TEXT PRIMARY KEY, hash INTEGER NOT NULL, text BLOB NOT NULL);
UPDATE meta SET value='2' WHERE key='version';
)sql";

/// The database and what SQLite puts beside it: each an ordinary file, or not there.
bool isPlainOrMissing(const fs::path& file) {
    for (const char* ending : {"", "-wal", "-shm", "-journal"}) {
        fs::path beside = file;
        beside += ending;
        std::error_code ignored;
        const fs::file_status status = fs::symlink_status(beside, ignored);
        if (fs::exists(status) && !fs::is_regular_file(status)) return false;
    }
    return true;
}

}  // namespace

Result<Database> openDatabase(const fs::path& file, int flags) {
    if (!isPlainOrMissing(file))
        return fail(ErrorCode::BadLedger, file.string() + ": is no ledger of ours: an ordinary file was expected.");
    sqlite3* raw = nullptr;
    const int opened = sqlite3_open_v2(file.c_str(), &raw, flags, nullptr);
    Database db(raw);
    if (opened != SQLITE_OK)
        return fail(ErrorCode::Io,
                    fmt::format("{}: cannot open the ledger: {}.", file.string(), sqlite3_errmsg(db.get())));
    sqlite3_busy_timeout(raw, 5000);
    for (const int unwanted :
         {SQLITE_DBCONFIG_ENABLE_TRIGGER, SQLITE_DBCONFIG_ENABLE_VIEW, SQLITE_DBCONFIG_TRUSTED_SCHEMA})
        sqlite3_db_config(raw, unwanted, 0, nullptr);
    sqlite3_db_config(raw, SQLITE_DBCONFIG_DEFENSIVE, 1, nullptr);
    return db;
}

Result<int> ledgerVersion(sqlite3* db, const fs::path& file) {
    auto damaged = [&] {
        const int code = sqlite3_errcode(db);
        if (code == SQLITE_CANTOPEN || code == SQLITE_READONLY || code == SQLITE_FULL || code == SQLITE_IOERR ||
            code == SQLITE_BUSY)
            return fail(ErrorCode::Io,
                        fmt::format("{}: cannot read the ledger: {}.", file.string(), sqlite3_errmsg(db)));
        return fail(ErrorCode::BadLedger, file.string() + ": is damaged, or no ledger of ours.");
    };
    Statement tables(db, "SELECT count(*) FROM sqlite_schema");
    if (!tables.row()) return damaged();
    if (tables.number(0) == 0) return 0;
    Statement format(db, "SELECT value FROM meta WHERE key='format'");
    Statement version(db, "SELECT value FROM meta WHERE key='version'");
    if (!format.row() || format.text(0) != "mellow-ledger" || !version.row()) return damaged();
    const std::string is = version.text(0);
    for (int known = 1; known <= kLedgerVersion; ++known)
        if (is == std::to_string(known)) return known;
    return fail(ErrorCode::BadLedger, fmt::format("{}: is a ledger of version {}; this program reads version {}.",
                                                  file.string(), is.substr(0, 20), kLedgerVersion));
}

Status bringUpToDate(sqlite3* db, const fs::path& file, int version) {
    if (version == kLedgerVersion) return {};
    const char* const steps = version == 0 ? kLedgerSchema : kFromOne;
    const std::string whole = fmt::format("BEGIN IMMEDIATE;{}COMMIT;", steps);
    if (sqlite3_exec(db, whole.c_str(), nullptr, nullptr, nullptr) == SQLITE_OK) return {};
    base::Error error{ErrorCode::Io, fmt::format("{}: cannot make the ledger: {}.", file.string(), sqlite3_errmsg(db))};
    sqlite3_exec(db, "ROLLBACK", nullptr, nullptr, nullptr);
    return tl::unexpected(error);
}

}  // namespace edit
