#include "app/shell/kept_runs.h"

#include <QDateTime>
#include <algorithm>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/editor.h"
#include "base/files.h"
#include "edit/session.h"
#include "io/local_folder.h"
#include "io/rehearsal_file.h"

namespace app {
namespace {

namespace fs = std::filesystem;

constexpr const char* kInputsEnding = ".inputs";
constexpr const char* kTraceEnding = ".trace.jsonl";
constexpr std::uint64_t kMostTraceBytes = 16'000'000;  // a larger one is there only until the project is closed

}  // namespace

/// Empty: there can be none.
fs::path KeptRuns::folder() const {
    const auto local = io::localFolder(editor_.session().project().folder);
    return local ? *local / "rehearsals" : fs::path();
}

void KeptRuns::keep(rehearse::Inputs inputs, rehearse::Trace trace) {
    const QString when = QDateTime::currentDateTime().toString("yyyy-MM-dd HH.mm.ss");
    KeptRun kept{QString("%1 %2").arg(toQt(inputs.scene), when), std::move(inputs), std::move(trace)};
    // Two in one second are two.
    for (int more = 2; std::any_of(all_.begin(), all_.end(), [&](const KeptRun& r) { return r.name == kept.name; });
         ++more)
        kept.name = QString("%1 %2.%3").arg(toQt(kept.inputs.scene), when).arg(more);
    kept.inputs.name = kept.name.toStdString();
    const fs::path in = folder();
    std::error_code problem;
    if (!in.empty()) fs::create_directories(in, problem);
    if (!in.empty() && !problem) {
        base::Status written =
            base::writeFileWhole(in / (kept.inputs.name + kInputsEnding), rehearse::toText(kept.inputs));
        const std::string text = written ? io::formatTrace(kept.trace) : std::string();
        if (written && text.size() <= kMostTraceBytes)
            written = base::writeFileWhole(in / (kept.inputs.name + kTraceEnding), text);
        if (!written) editor_.say(toQt(written.error().message));
    }
    all_.insert(all_.begin(), std::move(kept));
    while (all_.size() > kMost) forget(all_.size() - 1);
}

void KeptRuns::forget(std::size_t which) {
    if (which >= all_.size()) return;
    const std::string name = all_[which].name.toStdString();
    std::error_code problem;
    const fs::path in = folder();
    if (!in.empty() && base::isFileName(name + kInputsEnding)) {
        fs::remove(in / (name + kInputsEnding), problem);
        fs::remove(in / (name + kTraceEnding), problem);
    }
    all_.erase(all_.begin() + static_cast<std::ptrdiff_t>(which));
}

void KeptRuns::read() {
    if (of_ == editor_.sceneName()) return;
    of_ = editor_.sceneName();
    all_.clear();
    const fs::path in = folder();
    std::error_code problem;
    std::vector<fs::path> files;
    for (fs::directory_iterator at(in, problem), none; !problem && at != none; at.increment(problem))
        if (at->path().string().ends_with(kInputsEnding) && at->is_regular_file(problem)) files.push_back(at->path());
    std::sort(files.rbegin(), files.rend());
    for (const fs::path& file : files) {
        if (all_.size() >= kMost) break;
        const auto text = base::readFile(file, kMostTraceBytes);
        auto inputs = text ? rehearse::inputsFrom(*text) : base::Result<rehearse::Inputs>(tl::unexpected(text.error()));
        if (!inputs || inputs->scene != of_) continue;
        const fs::path traceFile = in / (file.stem().string() + kTraceEnding);
        const auto traceText = base::readFile(traceFile, kMostTraceBytes);
        auto trace = traceText ? io::parseTrace(*traceText, traceFile.filename().string())
                               : base::Result<rehearse::Trace>(tl::unexpected(traceText.error()));
        if (trace) all_.push_back({toQt(file.stem().string()), std::move(*inputs), std::move(*trace)});
    }
}

void KeptRuns::clear() {
    all_.clear();
    of_.clear();
}

}  // namespace app
