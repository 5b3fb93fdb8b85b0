#include "app/shell/outside.h"

#include "app/shell/editor.h"
#include "edit/session.h"
#include "io/workspace.h"
#include "script/difference.h"

namespace app {

namespace fs = std::filesystem;
using What = io::OutsideChange::What;

Outside::Outside(Editor& editor) : editor_(editor) {
    settle_.setSingleShot(true);
    settle_.setInterval(250);
    connect(&settle_, &QTimer::timeout, this, &Outside::look);
    for (auto signal : {&QFileSystemWatcher::fileChanged, &QFileSystemWatcher::directoryChanged})
        connect(&watcher_, signal, this, [this] {
            if (!paused_) settle_.start();
        });
    connect(&editor_, &Editor::projectChanged, this, [this] {
        changes_.clear();
        watch();
        Q_EMIT changed();
    });
    connect(&editor_, &Editor::sceneShown, this, &Outside::watch);
}

/// Folders, where files are put in place of others, and files, which others write into.
void Outside::watch() {
    if (const QStringList had = watcher_.files() + watcher_.directories(); !had.isEmpty()) watcher_.removePaths(had);
    if (!editor_.isOpen()) return;
    const fs::path& folder = editor_.workspace().folder();
    QStringList paths;
    auto add = [&](const fs::path& path) { paths << QString::fromStdString(path.string()); };
    if (base::isFolder(folder)) add(folder);
    for (const char* part : {"scenes", "prefabs", "kinds", "records"}) {
        if (!base::isFolder(folder / part)) continue;
        add(folder / part);
        for (const fs::path& file : base::listFolder(folder / part).value_or(std::vector<fs::path>{})) add(file);
    }
    for (const char* file : {"project.json", "surfaces.jsonl", "checks.jsonl"})
        if (base::exists(folder / file)) add(folder / file);
    if (!paths.isEmpty()) watcher_.addPaths(paths);
}

void Outside::setPaused(bool paused) {
    paused_ = paused;
    if (!paused) settle_.start();
}

void Outside::look() {
    if (!editor_.isOpen() || paused_) return;
    if (!editor_.workspace().lock) return;  // opened for looking: it shows what was there
    auto now = io::outsideChanges(editor_.workspace());
    watch();
    if (now == changes_) return;
    changes_ = std::move(now);
    Q_EMIT changed();
}

void Outside::readTheirs() {
    const auto changes = changes_;
    if (!editor_.report(io::readTheirs(editor_.workspace(), changes))) return;
    for (const io::OutsideChange& change : changes)
        if (change.what == What::Gone && !change.prefab && !model::data::isData(change.document) &&
            !model::prefabOf(change.document))
            editor_.say(
                tr("%1 has no file any more; Save writes it again.").arg(editor_.documentName(change.document)));
    editor_.libraryGrown();
    look();
    if (changes_ == changes) {
        changes_.clear();
        Q_EMIT changed();
    }
}

void Outside::keepMine() {
    auto kept = io::keepMine(editor_.workspace(), changes_);
    if (!editor_.report(kept ? base::Status{} : base::Status(tl::unexpected(kept.error())))) return;
    if (!kept->empty())
        editor_.say(tr("Yours stay; theirs is kept beside it: %1")
                        .arg(QString::fromStdString(kept->front().filename().string())));
    std::erase_if(changes_, [](const io::OutsideChange& change) { return change.what != What::New; });
    Q_EMIT changed();
    look();
}

namespace {

QStringList sceneLines(const model::Scene& mine, const model::Scene& theirs) {
    constexpr std::size_t kMostLines = 2000;
    QStringList lines;
    auto all = script::differences(mine, theirs);
    // What lies inside instances follows from other files.
    std::erase_if(all, [&](const script::Difference& d) {
        const model::Slot s = mine.find(d.id);
        return s != model::kNoSlot && mine.instanceAround(s) != model::kNoSlot;
    });
    for (const script::Difference& d : all) {
        if (static_cast<std::size_t>(lines.size()) >= kMostLines) {
            lines << QObject::tr("and %1 more").arg(all.size() - kMostLines);
            break;
        }
        const char* signs[] = {"+", "~", "−"};
        const QString how = d.how.empty() ? QString() : QStringLiteral("  ") + QString::fromStdString(d.how);
        lines << QString("  %1 %2%3")
                     .arg(QString::fromUtf8(signs[static_cast<int>(d.what)]), QString::fromStdString(d.name), how);
    }
    return lines;
}

QStringList entryLines(const model::DataEntries& mine, const model::DataEntries& theirs) {
    QStringList lines;
    auto add = [&](const char* sign, const std::string& key, const QStringList& members = {}) {
        lines << QString("  %1 %2  %3")
                     .arg(QString::fromUtf8(sign), key.empty() ? QObject::tr("itself") : QString::fromStdString(key),
                          members.join(", "));
    };
    auto differing = [](const model::ValueMap& one, const model::ValueMap& other) {
        QStringList members;
        for (const auto* map : {&one, &other})
            for (const auto& [member, value] : *map) {
                const model::Value *a = model::valueOf(one, member), *b = model::valueOf(other, member);
                const QString name = QString::fromStdString(member);
                if ((a == nullptr || b == nullptr || !(*a == *b)) && !members.contains(name)) members << name;
            }
        return members;
    };
    for (const auto& [key, values] : theirs)
        if (const auto own = mine.find(key); own == mine.end())
            add("+", key);
        else if (!(own->second == values))
            add("~", key, differing(own->second, values));
    for (const auto& [key, values] : mine)
        if (!theirs.contains(key)) add("−", key);
    return lines;
}

}  // namespace

QStringList Outside::compare() {
    QStringList lines;
    for (const io::OutsideChange& change : changes_) {
        const QString name = editor_.documentName(change.document);
        if (change.what == What::Gone) {
            lines << tr("%1: the file is gone").arg(name);
            continue;
        }
        if (change.what == What::New) {
            lines << tr("%1: a new file, %2").arg(name, QString::fromStdString(change.file.filename().string()));
            continue;
        }
        lines << tr("%1: theirs against yours").arg(name);
        auto theirs = io::sceneOfTheirs(editor_.workspace(), change);
        const auto mine = editor_.session().scene(change.document);
        if (!theirs || !mine) {
            lines << "  " + QString::fromStdString((theirs ? mine.error() : theirs.error()).message);
            continue;
        }
        const QStringList more = model::data::isData(change.document)
                                     ? entryLines((*mine)->settings().entries(), theirs->settings().entries())
                                     : sceneLines(**mine, *theirs);
        lines << (more.isEmpty() ? QStringList(tr("  nothing but how it is written")) : more);
    }
    return lines;
}

}  // namespace app
