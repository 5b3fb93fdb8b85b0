#include "edit/ledger.h"

#include <fmt/format.h>
#include <sqlite3.h>

#include <condition_variable>
#include <deque>
#include <functional>
#include <mutex>
#include <thread>

namespace edit {
namespace {

using base::ErrorCode;
using base::fail;
using base::Status;

constexpr int kSchemaVersion = 1;
constexpr std::size_t kBulkRows = 2000;  // steps larger than this are packed on the worker

constexpr const char* kSchema = R"sql(
CREATE TABLE meta(key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
CREATE TABLE steps(id INTEGER PRIMARY KEY, parent INTEGER NOT NULL, name TEXT NOT NULL, scene TEXT NOT NULL,
                   time INTEGER NOT NULL, row_count INTEGER NOT NULL, barrier INTEGER NOT NULL, payload BLOB NOT NULL);
CREATE TABLE redo(step INTEGER PRIMARY KEY, child INTEGER NOT NULL);
CREATE TABLE saves(id INTEGER PRIMARY KEY, scene TEXT NOT NULL, step INTEGER NOT NULL, hash INTEGER NOT NULL,
                   size INTEGER NOT NULL, time INTEGER NOT NULL);
INSERT INTO meta VALUES('format','mellow-ledger'),('version','1'),('present','0');
)sql";

/// A prepared statement, reset after each use.
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
        sqlite3_bind_blob64(raw_, at, value.data(), value.size(), SQLITE_STATIC);
        return *this;
    }
    bool row() { return raw_ != nullptr && sqlite3_step(raw_) == SQLITE_ROW; }
    bool run() {
        const int code = raw_ != nullptr ? sqlite3_step(raw_) : SQLITE_ERROR;
        sqlite3_reset(raw_);
        return code == SQLITE_DONE;
    }
    void reset() { sqlite3_reset(raw_); }
    std::int64_t number(int column) const { return sqlite3_column_int64(raw_, column); }
    std::string text(int column) const {
        const auto* raw = reinterpret_cast<const char*>(sqlite3_column_text(raw_, column));
        return raw != nullptr ? std::string(raw, static_cast<std::size_t>(sqlite3_column_bytes(raw_, column))) : "";
    }
    std::string_view blob(int column) const {
        return {static_cast<const char*>(sqlite3_column_blob(raw_, column)),
                static_cast<std::size_t>(sqlite3_column_bytes(raw_, column))};
    }

  private:
    sqlite3_stmt* raw_ = nullptr;
};

/// The scenes of a step stand in one column, a line each.
std::vector<std::string> lines(const std::string& text) {
    std::vector<std::string> all;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t end = std::min(text.find('\n', at), text.size());
        all.push_back(text.substr(at, end - at));
        at = end + 1;
    }
    return all;
}

struct CloseDatabase {
    void operator()(sqlite3* db) const { sqlite3_close(db); }
};
using Database = std::unique_ptr<sqlite3, CloseDatabase>;

}  // namespace

struct Ledger::Body {
    std::string file;
    Database db;
    bool readOnly = false;
    std::unique_ptr<Statement> begin, commit, back, insertStep, setRedo, setPresent, insertSave, payload;

    std::mutex mutex;  // guards the connection and the queue
    std::condition_variable changed;
    std::deque<std::function<Status()>> queue;
    bool working = false;
    bool stopping = false;
    Status failure;  // of a bulk step; every later write reports it
    std::thread worker;

    base::Error problem(std::string_view doing) const {
        return {ErrorCode::Io, fmt::format("{}: cannot {}: {}.", file, doing, sqlite3_errmsg(db.get()))};
    }

    void prepare() {
        begin = std::make_unique<Statement>(db.get(), "BEGIN IMMEDIATE");
        commit = std::make_unique<Statement>(db.get(), "COMMIT");
        back = std::make_unique<Statement>(db.get(), "ROLLBACK");
        insertStep = std::make_unique<Statement>(db.get(), "INSERT INTO steps VALUES(?,?,?,?,?,?,?,?)");
        setRedo = std::make_unique<Statement>(db.get(), "INSERT OR REPLACE INTO redo VALUES(?,?)");
        setPresent = std::make_unique<Statement>(db.get(), "UPDATE meta SET value=? WHERE key='present'");
        insertSave = std::make_unique<Statement>(db.get(), "INSERT INTO saves VALUES(NULL,?,?,?,?,?)");
        payload = std::make_unique<Statement>(db.get(), "SELECT payload FROM steps WHERE id=?");
    }

    /// Runs `work` as one transaction; what it wrote is on disk when this returns without an error.
    Status transact(std::string_view doing, const std::function<bool()>& work) {
        if (readOnly) return fail(ErrorCode::Refused, file + ": is opened for reading only.");
        if (begin->run() && work() && commit->run()) return {};
        base::Error error = problem(doing);
        back->run();
        return tl::unexpected(error);
    }

    Status write(const StepInfo& info, std::string_view bytes) {
        return transact("keep this step", [&] {
            const std::string present = std::to_string(info.id);
            const std::string scenes = fmt::format("{}", fmt::join(info.scenes, "\n"));
            return insertStep->bind(1, info.id)
                       .bind(2, info.parent)
                       .bind(3, info.name)
                       .bind(4, scenes)
                       .bind(5, info.timeMs)
                       .bind(6, static_cast<std::int64_t>(info.rows))
                       .bind(7, info.barrier ? 1 : 0)
                       .bindBlob(8, bytes)
                       .run() &&
                   setRedo->bind(1, info.parent).bind(2, info.id).run() && setPresent->bind(1, present).run();
        });
    }

    void work() {
        std::unique_lock lock(mutex);
        for (;;) {
            changed.wait(lock, [&] { return stopping || !queue.empty(); });
            if (queue.empty()) return;
            auto job = std::move(queue.front());
            queue.pop_front();
            working = true;
            lock.unlock();
            Status done = job();
            lock.lock();
            if (!done && failure) failure = done;
            working = false;
            changed.notify_all();
        }
    }

    /// Waits for the worker and returns with the lock held, so that what follows comes after all before it.
    std::unique_lock<std::mutex> inTurn() {
        std::unique_lock lock(mutex);
        changed.wait(lock, [&] { return queue.empty() && !working; });
        return lock;
    }
};

Ledger::Ledger() : body_(std::make_unique<Body>()) {}

Ledger::~Ledger() {
    if (!body_->worker.joinable()) return;
    {
        std::lock_guard lock(body_->mutex);
        body_->stopping = true;
    }
    body_->changed.notify_all();
    body_->worker.join();
}

base::Result<std::unique_ptr<Ledger>> Ledger::open(const std::filesystem::path& file, bool readOnly) {
    std::unique_ptr<Ledger> ledger(new Ledger);
    Body& body = *ledger->body_;
    body.file = file.string();
    body.readOnly = readOnly;
    const bool isNew = !std::filesystem::exists(file);
    const std::string target = readOnly && isNew ? ":memory:" : file.string();
    const int mode = readOnly && !isNew ? SQLITE_OPEN_READONLY : SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE;
    sqlite3* raw = nullptr;
    const int opened = sqlite3_open_v2(target.c_str(), &raw, mode, nullptr);
    body.db.reset(raw);
    if (opened != SQLITE_OK) return tl::unexpected(body.problem("open the ledger"));
    sqlite3_busy_timeout(raw, 5000);
    auto run = [&](const char* sql) { return sqlite3_exec(raw, sql, nullptr, nullptr, nullptr) == SQLITE_OK; };
    if (!readOnly && !(run("PRAGMA journal_mode=WAL") && run("PRAGMA synchronous=FULL")))
        return tl::unexpected(body.problem("open the ledger"));
    if (isNew && !run(fmt::format("BEGIN;{}COMMIT;", kSchema).c_str()))
        return tl::unexpected(body.problem("make the ledger"));
    {
        Statement version(raw, "SELECT value FROM meta WHERE key='version'");
        if (!version.row()) {
            if (sqlite3_errcode(raw) == SQLITE_NOTADB || sqlite3_errcode(raw) == SQLITE_CORRUPT)
                return fail(ErrorCode::BadInput, body.file + ": is damaged, or no ledger of ours.");
            return tl::unexpected(body.problem("read the ledger"));
        }
        if (version.text(0) != std::to_string(kSchemaVersion))
            return fail(ErrorCode::Unsupported,
                        fmt::format("{}: is a ledger of version {}; this program reads version {}.", body.file,
                                    version.text(0), kSchemaVersion));
    }
    body.prepare();
    if (!readOnly) body.worker = std::thread([&body] { body.work(); });
    return ledger;
}

base::Result<History> Ledger::history() const {
    auto lock = body_->inTurn();
    sqlite3* db = body_->db.get();
    std::vector<StepInfo> steps;
    Statement all(db, "SELECT id,parent,name,scene,time,row_count,barrier FROM steps ORDER BY id");
    while (all.row()) {
        StepInfo info{all.number(0),      all.number(1), all.text(2),
                      lines(all.text(3)), all.number(4), static_cast<std::size_t>(all.number(5)),
                      all.number(6) != 0};
        if (info.parent >= info.id || info.parent < 0)
            return fail(ErrorCode::BadInput, fmt::format("{}: step {} has no valid parent.", body_->file, info.id));
        steps.push_back(std::move(info));
    }
    std::unordered_map<StepId, StepId> redo;
    Statement children(db, "SELECT step,child FROM redo");
    while (children.row()) redo[children.number(0)] = children.number(1);
    Statement present(db, "SELECT value FROM meta WHERE key='present'");
    const StepId at = present.row() ? std::strtoll(present.text(0).c_str(), nullptr, 10) : kRoot;
    History history(std::move(steps), at, std::move(redo));
    if (at != kRoot && history.step(at) == nullptr)
        return fail(ErrorCode::BadInput, fmt::format("{}: the present step {} is missing.", body_->file, at));
    return history;
}

std::vector<SaveMark> Ledger::saves() const {
    auto lock = body_->inTurn();
    std::vector<SaveMark> marks;
    Statement all(body_->db.get(), "SELECT scene,step,hash,size,time FROM saves ORDER BY id");
    while (all.row())
        marks.push_back({all.text(0), all.number(1), static_cast<std::uint64_t>(all.number(2)),
                         static_cast<std::uint64_t>(all.number(3)), all.number(4)});
    return marks;
}

Status Ledger::append(const StepInfo& info, std::shared_ptr<const StepData> data, const base::NameTable& names) {
    Body& body = *body_;
    if (info.rows > kBulkRows) {
        std::lock_guard lock(body.mutex);
        if (!body.failure) return body.failure;
        if (body.readOnly) return fail(ErrorCode::Refused, body.file + ": is opened for reading only.");
        body.queue.push_back([&body, info, data = std::move(data), &names] {
            const std::string bytes = encode(*data, names);
            return body.write(info, bytes);
        });
        body.changed.notify_all();
        return {};
    }
    const std::string bytes = encode(*data, names);
    auto lock = body.inTurn();
    if (!body.failure) return body.failure;
    return body.write(info, bytes);
}

Status Ledger::setPresent(const History& history) {
    auto lock = body_->inTurn();
    Body& body = *body_;
    if (!body.failure) return body.failure;
    const std::string present = std::to_string(history.present());
    return body.transact("keep where the history stands", [&] {
        // Only the step just left can have changed its branch by moving; a jump may pass many.
        for (const StepInfo* info = history.step(history.present()); info != nullptr;
             info = history.step(info->parent)) {
            Statement held(body.db.get(), "SELECT child FROM redo WHERE step=?");
            held.bind(1, info->parent);
            if (held.row() && held.number(0) == info->id) break;
            if (!body.setRedo->bind(1, info->parent).bind(2, info->id).run()) return false;
        }
        return body.setPresent->bind(1, present).run();
    });
}

Status Ledger::addSave(const SaveMark& mark) {
    auto lock = body_->inTurn();
    return body_->transact("note what was saved", [&] {
        return body_->insertSave->bind(1, mark.scene)
            .bind(2, mark.step)
            .bind(3, static_cast<std::int64_t>(mark.hash))
            .bind(4, static_cast<std::int64_t>(mark.size))
            .bind(5, mark.timeMs)
            .run();
    });
}

base::Result<StepData> Ledger::load(StepId id, base::NameTable& names) const {
    auto lock = body_->inTurn();
    Statement& payload = body_->payload->bind(1, id);
    if (!payload.row()) {
        payload.reset();
        return fail(ErrorCode::NotFound, fmt::format("{}: there is no step {}.", body_->file, id));
    }
    auto data = decode(payload.blob(0), names);
    payload.reset();
    if (!data) return fail(data.error().code, fmt::format("{}: step {}: {}", body_->file, id, data.error().message));
    return data;
}

Status Ledger::flush() {
    auto lock = body_->inTurn();
    return body_->failure;
}

std::uint64_t Ledger::bytesOnDisk() const {
    std::error_code ignored;
    const auto size = std::filesystem::file_size(body_->file, ignored);
    return ignored ? 0 : size;
}

}  // namespace edit
