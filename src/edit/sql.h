#pragma once
// SQLite as the ledger's sources use it. For this room's sources.
#include <sqlite3.h>

#include <filesystem>
#include <memory>
#include <string>
#include <string_view>

#include "base/result.h"

namespace edit {

/// A prepared statement, reset after each use. One that could not be prepared gives no row and does not run.
class Statement {
  public:
    Statement(sqlite3* db, const char* sql) {
        sqlite3_prepare_v3(db, sql, -1, SQLITE_PREPARE_PERSISTENT, &raw_, nullptr);
    }
    ~Statement() { sqlite3_finalize(raw_); }
    Statement(const Statement&) = delete;
    Statement& operator=(const Statement&) = delete;

    Statement& bind(int at, std::int64_t value) {
        sqlite3_bind_int64(raw_, at, value);
        return *this;
    }
    Statement& bind(int at, std::string_view value) {
        sqlite3_bind_text(raw_, at, value.data(), static_cast<int>(value.size()), SQLITE_STATIC);
        return *this;
    }
    Statement& bindBlob(int at, std::string_view value) {
        sqlite3_bind_blob64(raw_, at, value.empty() ? "" : value.data(), value.size(), SQLITE_STATIC);
        return *this;
    }
    bool row() {
        code_ = raw_ != nullptr ? sqlite3_step(raw_) : SQLITE_ERROR;
        return code_ == SQLITE_ROW;
    }
    bool run() {
        code_ = raw_ != nullptr ? sqlite3_step(raw_) : SQLITE_ERROR;
        sqlite3_reset(raw_);
        return code_ == SQLITE_DONE;
    }
    /// After the last row: did they end because there are no more, and not because one cannot be read?
    bool ended() const { return code_ == SQLITE_DONE; }
    void reset() { sqlite3_reset(raw_); }
    bool isNull(int column) const { return sqlite3_column_type(raw_, column) == SQLITE_NULL; }
    std::int64_t number(int column) const { return sqlite3_column_int64(raw_, column); }
    std::string text(int column) const {
        const auto* raw = reinterpret_cast<const char*>(sqlite3_column_text(raw_, column));
        return raw != nullptr ? std::string(raw, static_cast<std::size_t>(sqlite3_column_bytes(raw_, column))) : "";
    }
    std::string_view blob(int column) const {
        const void* bytes = sqlite3_column_blob(raw_, column);
        return {static_cast<const char*>(bytes), static_cast<std::size_t>(sqlite3_column_bytes(raw_, column))};
    }

  private:
    sqlite3_stmt* raw_ = nullptr;
    int code_ = SQLITE_OK;
};

struct CloseDatabase {
    void operator()(sqlite3* db) const { sqlite3_close(db); }
};
using Database = std::unique_ptr<sqlite3, CloseDatabase>;

/// An open database that trusts nothing in the file: no triggers, no views, no functions of its schema. Links are not
/// followed. Errors: BadLedger (no file of its own), Io.
base::Result<Database> openDatabase(const std::filesystem::path& file, int flags);

/// The tables of the present version, and what they start with.
extern const char* const kLedgerSchema;
constexpr int kLedgerVersion = 2;
/// The version a database says; 0: it is empty. Errors: BadLedger (none of ours, newer, damaged).
base::Result<int> ledgerVersion(sqlite3* db, const std::filesystem::path& file);
/// Brings an older one, or an empty one, to the present version in one transaction. Errors: Io.
base::Status bringUpToDate(sqlite3* db, const std::filesystem::path& file, int version);

}  // namespace edit
