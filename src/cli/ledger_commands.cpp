#include "cli/ledger_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <ostream>

#include "base/files.h"
#include "cli/names.h"
#include "cli/verbs.h"
#include "edit/ledger_care.h"
#include "io/json_text.h"
#include "io/local_folder.h"

namespace cli {
namespace {

namespace fs = std::filesystem;

struct Arguments {
    std::string path;
    bool asJson = false;
};

fs::path projectOf(const fs::path& given) {
    return given.filename() == "project.json" ? given.parent_path() : given;
}
base::Result<fs::path> ledgerOf(const fs::path& path) {
    auto local = io::localFolder(projectOf(path));
    if (!local) return local;
    return *local / "ledger.db";
}

void tell(const edit::LedgerReport& report, const Arguments& a, const Streams& io) {
    if (a.asJson)
        io.out << io::toText(Json{{"steps", report.steps},
                                  {"withSum", report.withSum},
                                  {"damaged", report.damaged},
                                  {"missing", report.missing},
                                  {"lost", report.lost},
                                  {"saves", report.saves},
                                  {"bytes", report.bytes},
                                  {"present", report.present},
                                  {"problems", report.problems}})
               << "\n";
    else
        io.out << fmt::format("{} steps ({} with a sum), {} damaged, {} missing, {} lost before, {} saves, {} bytes\n",
                              report.steps, report.withSum, report.damaged, report.missing, report.lost, report.saves,
                              report.bytes);
    if (!a.asJson)
        for (const std::string& problem : report.problems) io.err << "mellow: " << problem << "\n";
}

int check(const Arguments& a, const Verbs& v) {
    const auto ledger = ledgerOf(a.path);
    if (!ledger) return v.io.fail(ledger.error());
    const fs::path& file = *ledger;
    if (!base::exists(file)) return v.io.fail({base::ErrorCode::NotFound, a.path + ": has no history."});
    auto report = edit::checkLedger(file);
    if (!report) return v.io.fail(report.error());
    tell(*report, a, v.io);
    return report->problems.empty() ? exitCode::kFine : exitCode::kFindings;
}

int repair(const Arguments& a, const Verbs& v) {
    const auto ledger = ledgerOf(a.path);
    if (!ledger) return v.io.fail(ledger.error());
    const fs::path& file = *ledger;
    if (!base::exists(file.parent_path())) return v.io.fail({base::ErrorCode::NotFound, a.path + ": has no history."});
    auto lock = base::FileLock::take(file.parent_path() / "lock");
    if (!lock) return v.io.fail(lock.error());
    if (auto finished = edit::finishRepair(file); !finished) return v.io.fail(finished.error());
    if (!base::exists(file)) return v.io.fail({base::ErrorCode::NotFound, a.path + ": has no history."});
    auto repaired = edit::repairLedger(file);
    if (!repaired) return v.io.fail(repaired.error());
    tell(repaired->report, a, v.io);
    v.io.err << fmt::format("mellow: {} steps were taken over, {} are marked as damaged; the old history is {}\n",
                            repaired->kept, repaired->marked, repaired->old.string());
    return exitCode::kFine;
}

int renew(const Arguments& a, const Verbs& v) {
    auto aside = io::setHistoryAside(projectOf(a.path));
    if (!aside) return v.io.fail(aside.error());
    v.io.out << aside->string() << "\n";
    return exitCode::kFine;
}

}  // namespace

void addLedgerCommands(CLI::App& app, const Verbs& verbs) {
    auto arguments = std::make_shared<Arguments>();  // shared by the callbacks, which run while parsing
    CLI::App& ledger = addGroup(app, "ledger", "The history: check, repair, renew");
    auto add = [&](const char* name, const char* help, int (*run)(const Arguments&, const Verbs&)) {
        return addVerb(ledger, name, help, "PROJECT", arguments, verbs, run);
    };
    add("check", "Looks every record through; exit code 1 if any is damaged", check)
        ->add_flag("--json", arguments->asJson, "As JSON");
    add("repair", "Takes over what can be read into a new ledger, marks what cannot, and keeps the old one", repair)
        ->add_flag("--json", arguments->asJson, "As JSON");
    add("renew", "Starts a new history with the next edit, and keeps the old one beside it", renew);
}

}  // namespace cli
