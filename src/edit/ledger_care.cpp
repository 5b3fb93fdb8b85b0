#include "edit/ledger_care.h"

#include <fmt/format.h>

#include <array>
#include <map>
#include <optional>
#include <set>

#include "base/files.h"
#include "base/hash.h"
#include "base/text.h"
#include "edit/codec.h"
#include "edit/ledger.h"
#include "edit/ledger_sums.h"
#include "edit/names.h"
#include "edit/sql.h"

namespace edit {

namespace fs = std::filesystem;

namespace {

constexpr std::size_t kMostProblems = 100;

struct Row {
    StepInfo info;
    std::string payload;
    bool sound = false, hasSum = false;
    bool lost = false;  ///< it was damaged before, and is marked so since a repair
};

/// Is the payload what encode writes? Names are of no interest.
bool decodes(std::string_view payload) {
    base::NameTable names;
    return decode(payload, names).has_value();
}

/// One by one by their numbers, so that a page that cannot be read costs only what is on it.
class Reading {
  public:
    explicit Reading(const fs::path& file) : file_(file) {}

    Status open() {
        auto db = openDatabase(file_, SQLITE_OPEN_READONLY);
        if (!db) return tl::unexpected(db.error());
        db_ = std::move(*db);
        auto version = ledgerVersion(db_.get(), file_);
        if (!version) return tl::unexpected(version.error());
        version_ = *version;
        return {};
    }
    bool isEmpty() const { return version_ == 0; }

    /// The numbers that can be found, from both ends.
    std::set<StepId> ids() {
        std::set<StepId> all;
        for (const char* order : {"SELECT id FROM steps ORDER BY id", "SELECT id FROM steps ORDER BY id DESC"}) {
            Statement each(db_.get(), order);
            while (each.row()) all.insert(each.number(0));
            complete = each.ended();
            if (complete) break;
        }
        if (!complete && !all.empty())
            for (StepId id = 1; id < *all.rbegin(); ++id) all.insert(id);
        std::erase_if(all, [](StepId id) { return id <= 0; });
        return all;
    }
    std::optional<Row> row(StepId id) {
        const char* const sql =
            version_ > 1 ? "SELECT parent,name,scene,time,row_count,barrier,payload,head,body FROM steps WHERE id=?"
                         : "SELECT parent,name,scene,time,row_count,barrier,payload,NULL,NULL FROM steps WHERE id=?";
        Statement one(db_.get(), sql);
        if (!one.bind(1, id).row()) return std::nullopt;
        Row row;
        row.info = {id,
                    one.number(0),
                    one.text(1),
                    base::linesOf(one.text(2)),
                    one.number(3),
                    static_cast<std::size_t>(one.number(4)),
                    one.number(5) != 0,
                    false};
        row.payload = one.blob(6);
        row.hasSum = !one.isNull(7) && !one.isNull(8);
        const bool asWritten =
            !row.hasSum || (one.number(7) == headSum(row.info) && one.number(8) == bodySum(row.payload));
        row.lost = asWritten && row.hasSum && row.payload.empty();
        row.sound = asWritten && base::isValidUtf8(row.info.name) && row.info.parent >= 0 && row.info.parent < id &&
                    (row.lost || decodes(row.payload));
        return row;
    }
    std::vector<SaveMark> saves(std::size_t& dropped) {
        std::vector<SaveMark> all;
        Statement each(db_.get(), version_ > 1 ? "SELECT scene,step,hash,size,time,placed,sum FROM saves ORDER BY id"
                                               : "SELECT scene,step,hash,size,time,1,NULL FROM saves ORDER BY id");
        while (each.row()) {
            SaveMark mark{each.text(0),
                          each.number(1),
                          static_cast<std::uint64_t>(each.number(2)),
                          static_cast<std::uint64_t>(each.number(3)),
                          each.number(4),
                          each.number(5) != 0};
            if (each.isNull(6) || each.number(6) == saveSum(mark))
                all.push_back(std::move(mark));
            else
                ++dropped;
        }
        dropped += each.ended() ? 0 : 1;
        return all;
    }
    /// Nothing: it is not said, or not rightly.
    std::optional<StepId> present() {
        Statement is(db_.get(), "SELECT value FROM meta WHERE key='present'");
        Statement sum(db_.get(), "SELECT value FROM meta WHERE key='presentSum'");
        if (!is.row()) return std::nullopt;
        const StepId id = std::strtoll(is.text(0).c_str(), nullptr, 10);
        if (sum.row() && sum.text(0) != std::to_string(presentSum(id))) return std::nullopt;
        return id;
    }
    std::map<StepId, StepId> redo() {
        std::map<StepId, StepId> all;
        Statement each(db_.get(), "SELECT step,child FROM redo");
        while (each.row()) all[each.number(0)] = each.number(1);
        return all;
    }
    /// What files held, packed, by document and hash.
    std::map<std::pair<std::string, std::uint64_t>, std::string> files() {
        std::map<std::pair<std::string, std::uint64_t>, std::string> all;
        Statement each(db_.get(), "SELECT scene,hash,text FROM files");
        while (version_ > 1 && each.row())
            if (auto text = unpackText(each.blob(2));
                text && static_cast<std::int64_t>(base::hashBytes(*text)) == each.number(1))
                all[{each.text(0), static_cast<std::uint64_t>(each.number(1))}] = each.blob(2);
        return all;
    }
    /// What SQLite itself finds wrong.
    std::vector<std::string> quickCheck() {
        std::vector<std::string> all;
        Statement each(db_.get(), "PRAGMA quick_check(10)");
        while (each.row())
            if (each.text(0) != "ok") all.push_back("SQLite: " + each.text(0));
        return all;
    }

    bool complete = false;

  private:
    fs::path file_;
    Database db_;
    int version_ = 0;
};

std::uint64_t sizeOf(const fs::path& file) {
    std::error_code ignored;
    const auto size = fs::file_size(file, ignored);
    return ignored ? 0 : size;
}

/// Where a step is put whose own word for it cannot be trusted.
StepId parentFor(const StepInfo& info, const std::set<StepId>& known) {
    if (info.parent == kRoot || (info.parent > 0 && info.parent < info.id && known.contains(info.parent)))
        return info.parent;
    const auto after = known.lower_bound(info.id);
    return after == known.begin() ? kRoot : *std::prev(after);
}

}  // namespace

Result<LedgerReport> checkLedger(const fs::path& file) {
    Reading reading(file);
    if (Status opened = reading.open(); !opened) return tl::unexpected(opened.error());
    LedgerReport report;
    report.bytes = sizeOf(file);
    if (reading.isEmpty()) return report;
    auto say = [&](std::string problem) {
        if (report.problems.size() < kMostProblems) report.problems.push_back(std::move(problem));
    };
    for (std::string& problem : reading.quickCheck()) say(std::move(problem));
    const std::set<StepId> ids = reading.ids();
    if (!reading.complete) say("Not all steps can be listed.");
    for (StepId id : ids) {
        const auto row = reading.row(id);
        if (!row) {
            ++report.missing;
            say(fmt::format("Step {} cannot be read.", id));
            continue;
        }
        ++report.steps;
        report.withSum += row->hasSum ? 1 : 0;
        report.lost += row->lost ? 1 : 0;
        const bool placed = row->info.parent == kRoot || ids.contains(row->info.parent);
        if (row->sound && placed) continue;
        ++report.damaged;
        say(fmt::format("Step {}, “{}”, is damaged.", id, base::forTerminal(row->info.name)));
    }
    std::size_t dropped = 0;
    report.saves = reading.saves(dropped).size();
    if (dropped > 0) say(fmt::format("{} records of saves are damaged.", dropped));
    const auto present = reading.present();
    report.present = present.value_or(-1);
    if (!present || (*present != kRoot && !ids.contains(*present)))
        say("It does not say rightly which step is the present one.");
    return report;
}

namespace {

/// Writes what was read into a new ledger. Gives how many steps were taken over, and how many marked.
Result<std::pair<std::size_t, std::size_t>> copyInto(Ledger& ledger, Reading& reading) {
    const std::set<StepId> ids = reading.ids();
    const base::NameTable none;
    std::size_t kept = 0, marked = 0;
    std::vector<StepInfo> infos;
    for (StepId id : ids) {
        auto row = reading.row(id);
        StepInfo info = row ? row->info : StepInfo{};
        info.id = id;
        info.parent = parentFor(info, ids);
        if (row && row->sound) {
            if (Status done = ledger.appendPacked(info, row->payload); !done) return tl::unexpected(done.error());
            kept += row->lost ? 0 : 1;
            marked += row->lost ? 1 : 0;
        } else {
            info.name = row && base::isValidUtf8(row->info.name) && !row->info.name.empty()
                            ? fmt::format("{} (damaged)", row->info.name)
                            : "A damaged step";
            std::erase_if(info.scenes, [](const std::string& scene) { return !model::isDocument(scene); });
            info.rows = 0;
            if (Status done = ledger.appendPacked(info, {}); !done) return tl::unexpected(done.error());
            ++marked;
        }
        infos.push_back(std::move(info));
    }
    std::size_t dropped = 0;
    const auto saves = reading.saves(dropped);
    const auto files = reading.files();
    for (const SaveMark& mark : saves) {
        const auto file = files.find({mark.scene, mark.hash});
        if (Status done = ledger.addSave(mark, file == files.end() ? "" : file->second); !done)
            return tl::unexpected(done.error());
    }
    // The present: what it says; else the last save; else the last step.
    StepId present = infos.empty() ? kRoot : infos.back().id;
    for (const SaveMark& mark : saves)
        if (mark.step == kRoot || ids.contains(mark.step)) present = mark.step;
    if (const auto said = reading.present(); said && (*said == kRoot || ids.contains(*said))) present = *said;
    std::unordered_map<StepId, StepId> redo;
    std::map<StepId, StepId> parentOf;
    for (const StepInfo& info : infos) parentOf[info.id] = info.parent;
    for (const auto& [step, child] : reading.redo())
        if (const auto place = parentOf.find(child); place != parentOf.end() && place->second == step)
            redo[step] = child;
    if (Status done = ledger.setPresent(History(std::move(infos), present, std::move(redo))); !done)
        return tl::unexpected(done.error());
    if (Status done = ledger.flush(); !done) return tl::unexpected(done.error());
    return std::pair{kept, marked};
}

}  // namespace

namespace {

constexpr std::array<const char*, 3> kFiles{"-wal", "-shm", ""};  // the database last: until then its name is taken

/// Beside the ledger: what a repair has made whole, and what it is making.
fs::path repaired(const fs::path& file) {
    return file.parent_path() / "ledger-new.db";
}
fs::path inTheMaking(const fs::path& file) {
    return file.parent_path() / "ledger-part.db";
}

}  // namespace

Result<fs::path> setLedgerAside(const fs::path& file) {
    fs::path aside;
    for (int n = 1; n == 1 || base::exists(aside); ++n) aside = file.parent_path() / fmt::format("ledger-{}.db", n);
    for (const char* ending : kFiles) {
        const fs::path from = file.string() + ending;
        if (!base::exists(from)) continue;
        if (Status moved = base::renameFile(from, aside.string() + ending); !moved)
            return tl::unexpected(moved.error());
    }
    return aside;
}

Result<fs::path> finishRepair(const fs::path& file) {
    if (!base::exists(repaired(file))) return fs::path();
    auto aside = setLedgerAside(file);
    if (!aside) return aside;
    if (Status placed = base::renameFile(repaired(file), file); !placed) return tl::unexpected(placed.error());
    return aside;
}

Result<LedgerRepair> repairLedger(const fs::path& file) {
    Reading reading(file);
    if (Status opened = reading.open(); !opened) return tl::unexpected(opened.error());
    const fs::path part = inTheMaking(file);
    const auto clear = [&]() -> Status {
        for (const char* ending : kFiles)
            if (Status gone = base::removeFile(part.string() + ending); !gone) return gone;
        return {};
    };
    if (Status cleared = clear(); !cleared) return tl::unexpected(cleared.error());
    LedgerRepair repair;
    {
        auto ledger = Ledger::open(part, false);
        if (!ledger) return tl::unexpected(ledger.error());
        auto copied = copyInto(**ledger, reading);
        if (!copied) return tl::unexpected(copied.error());
        repair.kept = copied->first;
        repair.marked = copied->second;
    }
    // Closing takes the log into the database; where the log is still there, not all of it found room.
    if (base::exists(part.string() + "-wal")) {
        if (Status cleared = clear(); !cleared) return tl::unexpected(cleared.error());
        return fail(ErrorCode::Io, file.string() + ": the new history finds no room on the disk.");
    }
    if (Status whole = base::renameFile(part, repaired(file)); !whole) return tl::unexpected(whole.error());
    auto aside = finishRepair(file);
    if (!aside) return tl::unexpected(aside.error());
    repair.old = *aside;
    auto report = checkLedger(file);
    if (!report) return tl::unexpected(report.error());
    repair.report = std::move(*report);
    return repair;
}

}  // namespace edit
