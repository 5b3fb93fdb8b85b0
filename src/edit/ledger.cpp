#include "edit/ledger.h"

#include <fmt/format.h>

#include <condition_variable>
#include <deque>
#include <functional>
#include <mutex>
#include <thread>

#include "base/files.h"
#include "base/hash.h"
#include "base/text.h"
#include "edit/ledger_sums.h"
#include "edit/names.h"
#include "edit/sql.h"

namespace edit {
namespace {

constexpr std::size_t kBulkRows = 2000;  // steps larger than this are packed on the worker

/// The scenes of a step stand in one column, a line each.
}  // namespace

struct Ledger::Body {
    std::string file;
    Database db;
    bool readOnly = false;
    int version = kLedgerVersion;     // an older one is only ever read
    std::filesystem::path temporary;  // where a copy lies that is read instead; removed at the end
    std::unique_ptr<Statement> begin, commit, back, insertStep, setRedo, setMeta, insertSave, confirmSave, keep,
        payload;

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
        insertStep = std::make_unique<Statement>(db.get(), "INSERT INTO steps VALUES(?,?,?,?,?,?,?,?,?,?)");
        setRedo = std::make_unique<Statement>(db.get(), "INSERT OR REPLACE INTO redo VALUES(?,?)");
        setMeta = std::make_unique<Statement>(db.get(), "INSERT OR REPLACE INTO meta VALUES(?,?)");
        insertSave = std::make_unique<Statement>(db.get(), "INSERT INTO saves VALUES(NULL,?,?,?,?,?,?,?)");
        confirmSave = std::make_unique<Statement>(
            db.get(), "UPDATE saves SET placed=1 WHERE id=(SELECT max(id) FROM saves WHERE scene=?)");
        keep = std::make_unique<Statement>(db.get(), "INSERT OR REPLACE INTO files VALUES(?,?,?)");
        payload = std::make_unique<Statement>(db.get(), version > 1 ? "SELECT payload,body FROM steps WHERE id=?"
                                                                    : "SELECT payload,NULL FROM steps WHERE id=?");
    }

    /// Where the history stands, with a sum of its own.
    bool writePresent(StepId id) {
        const std::string present = std::to_string(id), sum = std::to_string(presentSum(id));
        return setMeta->bind(1, "present").bind(2, present).run() && setMeta->bind(1, "presentSum").bind(2, sum).run();
    }

    bool keepFile(const SaveMark& mark, std::string_view packed) {
        if (packed.empty()) return true;
        return keep->bind(1, mark.scene).bind(2, static_cast<std::int64_t>(mark.hash)).bindBlob(3, packed).run();
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
            const std::string scenes = fmt::format("{}", fmt::join(info.scenes, "\n"));
            return insertStep->bind(1, info.id)
                       .bind(2, info.parent)
                       .bind(3, info.name)
                       .bind(4, scenes)
                       .bind(5, info.timeMs)
                       .bind(6, static_cast<std::int64_t>(info.rows))
                       .bind(7, info.barrier ? 1 : 0)
                       .bindBlob(8, bytes)
                       .bind(9, headSum(info))
                       .bind(10, bodySum(bytes))
                       .run() &&
                   setRedo->bind(1, info.parent).bind(2, info.id).run() && writePresent(info.id);
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
    if (body_->worker.joinable()) {
        {
            std::lock_guard lock(body_->mutex);
            body_->stopping = true;
        }
        body_->changed.notify_all();
        body_->worker.join();
    }
    std::error_code ignored;
    if (!body_->temporary.empty()) std::filesystem::remove_all(body_->temporary, ignored);
}

namespace {

namespace fs = std::filesystem;

fs::path logOf(const fs::path& file) {
    fs::path log = file;
    log += "-wal";
    return log;
}

/// A copy of the database and its log in a folder of its own.
base::Result<fs::path> copyAside(const fs::path& file) {
    std::error_code problem;
    std::string name = (fs::temp_directory_path(problem) / "mellow-ledger-XXXXXX").string();
    if (problem || ::mkdtemp(name.data()) == nullptr)
        return fail(ErrorCode::Io, file.string() + ": there is no place for a copy that could be read.");
    const fs::path folder = name;
    fs::copy_file(file, folder / "ledger.db", problem);
    if (!problem && base::exists(logOf(file))) fs::copy_file(logOf(file), folder / "ledger.db-wal", problem);
    if (!problem) return folder;
    fs::remove_all(folder);
    return fail(ErrorCode::Io, fmt::format("{}: cannot be read: {}.", file.string(), problem.message()));
}

/// For reading only, also where SQLite could not put its files beside it: then as one that nobody changes, or, when
/// the log holds something, as a copy.
base::Result<Database> openForReading(const fs::path& file, fs::path& temporary) {
    auto works = [](sqlite3* db) {
        Statement tables(db, "SELECT count(*) FROM sqlite_schema");
        return tables.row() || sqlite3_errcode(db) != SQLITE_CANTOPEN;
    };
    auto plain = openDatabase(file, SQLITE_OPEN_READONLY);
    if (!plain || works(plain->get())) return plain;
    std::error_code none;
    const auto logged = fs::file_size(logOf(file), none);
    if (none || logged == 0) {
        std::string uri = "file:";
        for (const char c : file.string()) uri += fmt::format("%{:02x}", static_cast<unsigned char>(c));
        sqlite3* raw = nullptr;
        const int opened =
            sqlite3_open_v2((uri + "?immutable=1").c_str(), &raw, SQLITE_OPEN_READONLY | SQLITE_OPEN_URI, nullptr);
        Database db(raw);
        if (opened == SQLITE_OK) return db;
        return fail(ErrorCode::Io, file.string() + ": the ledger cannot be opened.");
    }
    auto folder = copyAside(file);
    if (!folder) return tl::unexpected(folder.error());
    temporary = *folder;
    return openDatabase(*folder / "ledger.db", SQLITE_OPEN_READWRITE);
}

}  // namespace

std::unique_ptr<Ledger> Ledger::none() {
    auto ledger = open(":memory:", true);
    return ledger ? std::move(*ledger) : nullptr;
}

base::Result<std::unique_ptr<Ledger>> Ledger::open(const std::filesystem::path& file, bool readOnly) {
    std::unique_ptr<Ledger> ledger(new Ledger);
    Body& body = *ledger->body_;
    body.file = file.string();
    body.readOnly = readOnly;
    constexpr int kMake = SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE;
    auto db = !readOnly            ? openDatabase(file, kMake)
              : base::exists(file) ? openForReading(file, body.temporary)
                                   : openDatabase(":memory:", kMake);
    if (!db) return tl::unexpected(db.error());
    body.db = std::move(*db);
    sqlite3* raw = body.db.get();
    auto version = ledgerVersion(raw, file);
    if (!version) return tl::unexpected(version.error());
    body.version = *version;
    auto run = [&](const char* sql) { return sqlite3_exec(raw, sql, nullptr, nullptr, nullptr) == SQLITE_OK; };
    if (!readOnly && !(run("PRAGMA journal_mode=WAL") && run("PRAGMA synchronous=FULL")))
        return tl::unexpected(body.problem("open the ledger"));
    if (readOnly && *version == 0) {  // nothing is in it: as if it were not there
        auto empty = openDatabase(":memory:", kMake);
        if (!empty) return tl::unexpected(empty.error());
        body.db = std::move(*empty);
        raw = body.db.get();
    }
    if (!readOnly || *version == 0) {
        if (Status done = bringUpToDate(raw, file, *version); !done) return tl::unexpected(done.error());
        body.version = kLedgerVersion;
    }
    body.prepare();
    if (!readOnly) body.worker = std::thread([&body] { body.work(); });
    return ledger;
}

namespace {

/// One whose row is not what was written. What it changed is told by its payload, if that is sound; which step it
/// stands below is believed only when that is the one before it. Else it may have changed anything.
void mendHead(StepInfo& info, StepId before, Statement& payload) {
    info.damaged = true;
    if (!base::isValidUtf8(info.name)) info.name = "A damaged step";
    const bool inOrder = info.parent == before;
    if (info.parent >= info.id || info.parent < 0) info.parent = before;
    info.scenes.clear();
    base::NameTable names;
    if (inOrder && payload.bind(1, info.id).row() && !payload.isNull(1) &&
        payload.number(1) == bodySum(payload.blob(0)))
        if (const auto data = decode(payload.blob(0), names))
            for (const model::ChangeSet& set : data->changes) info.touch(set.scene);
    payload.reset();
}

}  // namespace

base::Result<History> Ledger::history() const {
    auto lock = body_->inTurn();
    sqlite3* db = body_->db.get();
    auto damaged = [&](std::string_view what) {
        return fail(ErrorCode::BadLedger, fmt::format("{}: is damaged: {}.", body_->file, what));
    };
    std::vector<StepInfo> steps;
    std::unordered_map<StepId, StepId> parentOf;
    Statement all(
        db, body_->version > 1
                ? "SELECT id,parent,name,scene,time,row_count,barrier,head,length(payload) FROM steps ORDER BY id"
                : "SELECT id,parent,name,scene,time,row_count,barrier,NULL,length(payload) FROM steps ORDER BY id");
    while (all.row()) {
        StepInfo info{all.number(0),      all.number(1),
                      all.text(2),        base::linesOf(all.text(3)),
                      all.number(4),      static_cast<std::size_t>(all.number(5)),
                      all.number(6) != 0, false};
        const StepId before = steps.empty() ? kRoot : steps.back().id;
        const bool placed = info.parent == kRoot || parentOf.contains(info.parent);
        const bool asWritten = all.isNull(7) || all.number(7) == headSum(info);
        const bool sound =
            base::isValidUtf8(info.name) && std::all_of(info.scenes.begin(), info.scenes.end(), model::isDocument);
        if (!asWritten || !placed || !sound) mendHead(info, before, *body_->payload);
        info.damaged = info.damaged || all.number(8) == 0;
        if (info.id <= 0) return damaged("a step has no number");
        if (info.parent != kRoot && !parentOf.contains(info.parent)) info.parent = before;
        parentOf[info.id] = info.parent;
        steps.push_back(std::move(info));
    }
    if (!all.ended()) return damaged("its steps cannot all be read");
    std::unordered_map<StepId, StepId> redo;
    Statement children(db, "SELECT step,child FROM redo");
    while (children.row()) {
        const auto child = parentOf.find(children.number(1));
        if (child != parentOf.end() && child->second == children.number(0)) redo[children.number(0)] = child->first;
    }
    if (!children.ended()) return damaged("which branches were used last cannot be read");
    Statement present(db, "SELECT value FROM meta WHERE key='present'");
    Statement sum(db, "SELECT value FROM meta WHERE key='presentSum'");
    const StepId at = present.row() ? std::strtoll(present.text(0).c_str(), nullptr, 10) : -1;
    const bool known = at == kRoot || parentOf.contains(at);
    if (!known || (sum.row() ? sum.text(0) != std::to_string(presentSum(at)) : !sum.ended()))
        return damaged("it does not say rightly which step is the present one");
    return History(std::move(steps), at, std::move(redo));
}

base::Result<std::vector<SaveMark>> Ledger::saves() const {
    auto lock = body_->inTurn();
    std::vector<SaveMark> marks;
    Statement all(body_->db.get(), body_->version > 1
                                       ? "SELECT scene,step,hash,size,time,placed,sum FROM saves ORDER BY id"
                                       : "SELECT scene,step,hash,size,time,1,NULL FROM saves ORDER BY id");
    while (all.row()) {
        SaveMark mark{all.text(0),
                      all.number(1),
                      static_cast<std::uint64_t>(all.number(2)),
                      static_cast<std::uint64_t>(all.number(3)),
                      all.number(4),
                      all.number(5) != 0};
        if (all.isNull(6) || all.number(6) == saveSum(mark)) marks.push_back(std::move(mark));
    }
    if (!all.ended())
        return fail(ErrorCode::BadLedger, fmt::format("{}: is damaged: what was saved cannot be read.", body_->file));
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

Status Ledger::appendPacked(const StepInfo& info, std::string_view payload) {
    auto lock = body_->inTurn();
    return body_->write(info, payload);
}

Status Ledger::setPresent(const History& history) {
    auto lock = body_->inTurn();
    Body& body = *body_;
    if (!body.failure) return body.failure;
    return body.transact("keep where the history stands", [&] {
        // Only the step just left can have changed its branch by moving; a jump may pass many.
        for (const StepInfo* info = history.step(history.present()); info != nullptr;
             info = history.step(info->parent)) {
            Statement held(body.db.get(), "SELECT child FROM redo WHERE step=?");
            held.bind(1, info->parent);
            if (held.row() && held.number(0) == info->id) break;
            if (!body.setRedo->bind(1, info->parent).bind(2, info->id).run()) return false;
        }
        return body.writePresent(history.present());
    });
}

Status Ledger::addSave(const SaveMark& mark, std::string_view packed) {
    auto lock = body_->inTurn();
    return body_->transact("note what was saved", [&] {
        return body_->insertSave->bind(1, mark.scene)
                   .bind(2, mark.step)
                   .bind(3, static_cast<std::int64_t>(mark.hash))
                   .bind(4, static_cast<std::int64_t>(mark.size))
                   .bind(5, mark.timeMs)
                   .bind(6, mark.placed ? 1 : 0)
                   .bind(7, saveSum(mark))
                   .run() &&
               body_->keepFile(mark, packed);
    });
}

Status Ledger::confirmSave(const SaveMark& mark, std::string_view packed) {
    auto lock = body_->inTurn();
    return body_->transact("note what was saved", [&] {
        return body_->confirmSave->bind(1, mark.scene).run() && body_->keepFile(mark, packed);
    });
}

base::Result<std::string> Ledger::keptFile(const std::string& scene, std::uint64_t hash) const {
    auto lock = body_->inTurn();
    Statement kept(body_->db.get(), "SELECT text FROM files WHERE scene=? AND hash=?");
    if (body_->version < 2 || !kept.bind(1, scene).bind(2, static_cast<std::int64_t>(hash)).row())
        return body_->version < 2 || kept.ended()
                   ? fail(ErrorCode::NotFound, scene + ": what its file held was not kept.")
                   : fail(ErrorCode::BadLedger, scene + ": what its file held cannot be read in the ledger.");
    auto text = unpackText(kept.blob(0));
    if (text && base::hashBytes(*text) == hash) return text;
    return fail(ErrorCode::BadLedger, scene + ": what its file held is damaged in the ledger.");
}

namespace {

/// The row of a step's payload, read; reset it afterwards. Errors: as of load.
Status findPayload(Statement& payload, StepId id, const std::string& file) {
    if (!payload.bind(1, id).row()) {
        const bool absent = payload.ended();
        payload.reset();
        return absent ? fail(ErrorCode::NotFound, fmt::format("{}: there is no step {}.", file, id))
                      : fail(ErrorCode::BadLedger, fmt::format("{}: step {} cannot be read.", file, id));
    }
    if (payload.isNull(1) || payload.number(1) == bodySum(payload.blob(0))) return {};
    payload.reset();
    return fail(ErrorCode::BadLedger,
                fmt::format("{}: step {}: its record is damaged: it is not what was written.", file, id));
}

}  // namespace

base::Result<StepData> Ledger::load(StepId id, base::NameTable& names) const {
    auto lock = body_->inTurn();
    Statement& payload = *body_->payload;
    if (Status found = findPayload(payload, id, body_->file); !found) return tl::unexpected(found.error());
    auto data = decode(payload.blob(0), names);
    payload.reset();
    if (!data) return fail(ErrorCode::BadLedger, fmt::format("{}: step {}: {}", body_->file, id, data.error().message));
    return data;
}

Status Ledger::verify(StepId id) const {
    auto lock = body_->inTurn();
    Status found = findPayload(*body_->payload, id, body_->file);
    body_->payload->reset();
    return found;
}

Status Ledger::flush() {
    auto lock = body_->inTurn();
    return body_->failure;
}

}  // namespace edit
