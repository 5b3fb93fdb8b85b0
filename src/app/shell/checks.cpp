#include "app/shell/checks.h"

#include <QCoreApplication>
#include <QEventLoop>

#include "app/names.h"
#include "app/shell/editor.h"
#include "app/shell/scripts.h"
#include "app/shell/sight.h"
#include "check/gather.h"
#include "check/verbs.h"
#include "edit/delta.h"
#include "edit/session.h"
#include "hand/receiver.h"
#include "io/media_facts.h"
#include "ops/scenes.h"
#include "script/rules.h"

namespace app {

using check::Finding;

Checks::Checks(Editor& editor) : editor_(editor), rules_(check::withRules()) {
    tell_.setInterval(100);
    connect(&tell_, &QTimer::timeout, this, &Checks::progressed);
    connect(&editor_.scripts(), &Scripts::shelfChanged, this, &Checks::takeRules);
    settle_.setSingleShot(true);
    settle_.setInterval(0);
    connect(&settle_, &QTimer::timeout, this, [this] {
        if (!editor_.isOpen()) return;
        if (factsAreOld()) gather(false);
        post(touched_.size() > kMostAgain);
    });
    connect(&editor_, &Editor::projectChanged, this, [this] {
        facts_.reset();
        lastCounts_.clear();
        setReceiver({});
    });
    connect(&editor_, &Editor::sceneShown, this, [this] {
        current_.reset();
        findings_.clear();
        accepted_.clear();
        worst_.clear();
        touched_.clear();
        known_ = false;
        gather(false);
        const bool isScratch = ops::isScratch(editor_.session(), editor_.sceneName());
        if (editor_.scene().objectCount() <= kMostUnasked && !isScratch) post(true);
        Q_EMIT changed();
        Q_EMIT currentChanged();
    });
    connect(&editor_, &Editor::sceneEdited, this, [this](const edit::SceneDelta& delta) {
        if (editor_.showsLive()) return;  // nothing was edited
        for (const auto* slots : {&delta.created, &delta.removed, &delta.moved, &delta.relabelled, &delta.detailed})
            touched_.insert(touched_.end(), slots->begin(), slots->end());
    });
    connect(&editor_, &Editor::libraryChanged, this, [this] {
        if (!editor_.isOpen()) return;
        gather(false);
        if (known_ || pending_ > 0) post(true);
    });
    // After a step, not while something is being dragged.
    connect(&editor_, &Editor::historyChanged, this, [this] {
        if (!editor_.isOpen() || editor_.showsLive()) return;
        if (!receiver_.empty()) takeRules();
        const bool isLive = known_ || pending_ > 0;
        if (editor_.session().entries(std::string(model::data::kChecks)) != settings_ ||
            editor_.scene().settings().level != level_) {
            gather(false);
            return isLive ? post(true) : changed();
        }
        if (!isLive) return;
        // A step over very much of a very large scene: one asks again when one wants to know.
        if (touched_.size() > kMostAgain && editor_.scene().objectCount() > kMostUnasked) {
            cancel();
            known_ = false;
            touched_.clear();
            findings_.clear();
            worst_.clear();
            Q_EMIT changed();
            return;
        }
        settle_.start();
    });
    worker_ = std::thread([this] { work(); });
}

Checks::~Checks() {
    {
        const std::lock_guard held(lock_);
        stop_ = true;
        if (progress_) progress_->cancel();
    }
    wake_.notify_one();
    worker_.join();
}

void Checks::setReceiver(const std::string& name) {
    receiver_ = name;
    takeRules();
}

void Checks::takeRules() {
    const script::Shelf& shelf = editor_.scripts().shelf();
    // All files count: one that brings a check may require any of the others.
    std::vector<std::string> sources;
    if (!shelf.checks().empty())
        for (const script::Script& one : shelf.scripts()) sources.push_back(one.name + "\n" + one.text);
    model::Library::Papers papers;  // what the receiver’s limits follow from
    if (!receiver_.empty() && editor_.hasProject()) {
        papers = editor_.session().library().recipes;
        const auto& receivers = editor_.session().library().receivers;
        if (const auto held = receivers.find(receiver_); held != receivers.end())
            papers["@" + receiver_] = held->second;
    }
    if (sources == sources_ && papers == papers_) return;
    sources_ = std::move(sources);
    papers_ = std::move(papers);
    std::vector<check::Rule> more = script::rulesOf(shelf);
    if (!papers_.empty()) {
        std::vector<std::string> ignored;  // told where one hands over
        const model::Library& library = editor_.session().library();
        if (const auto receiver = hand::receiverNamed(library, receiver_, ignored))
            for (check::Rule& limit : hand::limitRules(library, *receiver)) more.push_back(std::move(limit));
    }
    rules_ = check::withRules(std::move(more));
    if (!editor_.isOpen()) return;
    gather(false);
    if (known_ || pending_ > 0) post(true);
}

/// Things came since, with a step: a solid’s mesh, an image.
bool Checks::factsAreOld() const {
    return facts_ == nullptr || facts_->library.items().size() != editor_.session().library().items().size() ||
           mediaAt_ != io::mediaStamp(editor_.session());
}

void Checks::gather(bool uses) {
    settings_ = editor_.session().entries(std::string(model::data::kChecks));
    level_ = editor_.scene().settings().level;
    mediaAt_ = io::mediaStamp(editor_.session());
    facts_ = check::gatherFacts(editor_.session(), rules_, editor_.sight().shapes(), io::mediaFacts(editor_.session()),
                                uses, facts_.get());
    if (!facts_->problems.empty()) editor_.say(tr("checks.jsonl: %1").arg(QString::fromStdString(facts_->problems[0])));
}

void Checks::post(bool all, bool asked) {
    if (!editor_.isOpen() || facts_ == nullptr) return;
    if (all) cancel();  // what is under way is of no use any more
    progress_ = std::make_shared<base::Progress>();
    ++pending_;
    tell_.start();
    // What nobody waits for leaves a core to who works.
    const std::size_t cores = std::max(1U, std::thread::hardware_concurrency());
    const std::size_t threads = asked ? cores : std::max<std::size_t>(1, cores - 1);
    {
        const std::lock_guard held(lock_);
        jobs_.push_back({editor_.scene(), facts_, progress_, std::exchange(touched_, {}), all, threads, ++posted_});
    }
    wake_.notify_one();
    Q_EMIT changed();
}

/// On the worker: jobs that wait are done together, on the latest snapshot.
void Checks::work() {
    std::unique_ptr<check::Checker> checker;
    for (;;) {
        std::vector<Job> jobs;
        {
            std::unique_lock held(lock_);
            wake_.wait(held, [this] { return stop_ || !jobs_.empty(); });
            if (stop_) return;
            jobs.swap(jobs_);
        }
        Job& last = jobs.back();
        bool all = checker == nullptr;
        std::vector<Slot> touched;
        for (const Job& job : jobs) {
            all = all || job.all;
            touched.insert(touched.end(), job.touched.begin(), job.touched.end());
        }
        if (all) {
            checker = std::make_unique<check::Checker>(last.facts, last.threads);
            checker->checkAll(last.scene, last.progress.get());
        } else {
            checker->take(last.facts);
            checker->update(last.scene, touched, last.progress.get());
        }
        if (last.progress->cancelled()) checker.reset();  // half of it is nothing to go on from
        auto findings = checker ? checker->findings(last.scene) : std::vector<Finding>{};
        auto accepted = checker ? checker->accepted(last.scene) : std::vector<Finding>{};
        QMetaObject::invokeMethod(
            this,
            [this, n = last.number, done = static_cast<int>(jobs.size()), cancelled = !checker,
             findings = std::move(findings), accepted = std::move(accepted)]() mutable {
                pending_ -= done;
                if (pending_ == 0) tell_.stop();
                known_ = !cancelled;
                take(n, std::move(findings), std::move(accepted));
            },
            Qt::QueuedConnection);
    }
}

void Checks::take(int number, std::vector<Finding> findings, std::vector<Finding> accepted) {
    if (number < shown_) return;
    shown_ = number;
    findings_ = std::move(findings);
    accepted_ = std::move(accepted);
    lastCounts_[editor_.sceneName()] = findings_.size();
    worst_.clear();
    for (const Finding& f : findings_)
        if (f.object) {
            check::Severity& worst = worst_.try_emplace(f.object, f.severity).first->second;
            worst = std::max(worst, f.severity);
        }
    if (current_) {
        const auto same = std::find_if(findings_.begin(), findings_.end(), [this](const Finding& f) {
            return f.rule == current_->rule && f.object == current_->object && f.other == current_->other &&
                   f.part == current_->part;
        });
        const bool stays = std::find(accepted_.begin(), accepted_.end(), *current_) != accepted_.end();
        if (same != findings_.end())
            current_ = *same;
        else if (!stays)
            current_.reset();
        Q_EMIT currentChanged();
    }
    Q_EMIT changed();
}

std::size_t Checks::count(check::Severity severity) const {
    return static_cast<std::size_t>(
        std::count_if(findings_.begin(), findings_.end(), [&](const Finding& f) { return f.severity == severity; }));
}

void Checks::checkAll() {
    if (!editor_.isOpen()) return;
    gather(true);
    post(true, true);
}

void Checks::cancel() {
    if (progress_) progress_->cancel();
}

void Checks::wait() {
    while (pending_ > 0 || settle_.isActive()) QCoreApplication::processEvents(QEventLoop::AllEvents, 10);
}

void Checks::setCurrent(std::optional<Finding> finding) {
    current_ = std::move(finding);
    Q_EMIT currentChanged();
}

void Checks::go(int by) {
    if (findings_.empty()) return editor_.say(isKnown() ? tr("Nothing was found.") : tr("Nothing was looked at yet."));
    const int n = static_cast<int>(findings_.size());
    int at = by > 0 ? -1 : 0;
    for (int i = 0; current_ && i < n; ++i)
        if (findings_[static_cast<std::size_t>(i)] == *current_) at = i;
    setCurrent(findings_[static_cast<std::size_t>(((at + by) % n + n) % n)]);
}

std::vector<Finding> Checks::ofRule(const std::string& rule) const {
    std::vector<Finding> all;
    for (const Finding& f : findings_)
        if (f.rule == rule) all.push_back(f);
    return all;
}

namespace {

std::string mendName(const Checks& checks, const std::vector<Finding>& findings) {
    const check::Rule* rule = findings.empty() ? nullptr : checks.rule(findings.front().rule);
    const std::string what = rule != nullptr ? rule->fixLabel : "Fix";
    return findings.size() == 1 ? what : what + ", " + std::to_string(findings.size());
}

}  // namespace

void Checks::mend(const std::vector<Finding>& findings) {
    if (editor_.sight().index() == nullptr) return editor_.say(tr("The scene is still being taken in."));
    std::vector<std::string> helpless;
    const bool done = editor_.run(mendName(*this, findings), [&](edit::Draft& draft) -> base::Status {
        auto mended = check::mend(draft, rules(), findings, *editor_.sight().index(), facts_.get());
        if (!mended) return tl::unexpected(mended.error());
        helpless = std::move(mended->helpless);
        return {};
    });
    if (done && !helpless.empty())
        editor_.say(helpless.size() == 1 ? QString::fromStdString(helpless[0])
                                         : tr("%1 fixes did not help and were taken back; the first: %2")
                                               .arg(helpless.size())
                                               .arg(QString::fromStdString(helpless[0])));
}

void Checks::previewMending(const std::vector<Finding>& findings) {
    editor_.scripts().previewVerb(
        QString::fromStdString(mendName(*this, findings)), [this, findings](edit::Draft& draft) -> base::Status {
            if (editor_.sight().index() == nullptr)
                return base::fail(base::ErrorCode::Refused, "The scene is still being taken in.");
            auto done = check::mend(draft, rules(), findings, *editor_.sight().index());
            return done ? base::Status{} : base::Status(tl::unexpected(done.error()));
        });
}

}  // namespace app
