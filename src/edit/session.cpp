#include "edit/session.h"

#include <fmt/format.h>

#include <algorithm>
#include <iterator>

#include "edit/become.h"
#include "edit/names.h"
#include "model/facets/solid.h"

namespace edit {

namespace {

constexpr std::size_t kRecentRows = 400'000;  // payload rows kept in memory for quick undo

std::size_t rowsIn(const StepData& data) {
    std::size_t rows = 1;
    for (const auto& set : data.changes)
        for (const auto& change : set.changes) rows += model::rowCount(change);
    return rows;
}

}  // namespace

Session::Session(model::Project project, std::unique_ptr<Ledger> ledger, Surroundings surroundings)
    : project_(std::move(project)),
      ledger_(std::move(ledger)),
      around_(std::move(surroundings)),
      random_(around_.seed),
      readOnlyReason_(around_.readOnlyReason),
      sources_{project_.library, &definitions_, [this](const model::Solid& solid) { return solidItem(solid); },
               [this] {
                   std::size_t count = 0;
                   for (const auto& [name, open] : scenes_) count += open->scene.objectCount();
                   return count;
               }} {}

Session::~Session() = default;

Result<std::unique_ptr<Session>> Session::open(model::Project project, std::unique_ptr<Ledger> ledger,
                                               Surroundings surroundings) {
    std::unique_ptr<Session> session(new Session(std::move(project), std::move(ledger), std::move(surroundings)));
    auto history = session->ledger_->history();
    if (!history) return tl::unexpected(history.error());
    session->history_ = std::move(*history);
    auto saves = session->ledger_->saves();
    if (!saves) return tl::unexpected(saves.error());
    session->saves_ = std::move(*saves);
    if (Status opened = session->openData(); !opened) return tl::unexpected(opened.error());
    if (Status opened = session->openDefinitions(); !opened) return tl::unexpected(opened.error());
    if (Status taken = session->takeOtherwise(); !taken) return tl::unexpected(taken.error());
    return session;
}

Result<const model::Scene*> Session::scene(const std::string& name) {
    auto open = openScene(name);
    if (!open) return tl::unexpected(open.error());
    if (!draftOpen_)
        if (Status taken = takeOtherwise(); !taken) return tl::unexpected(taken.error());
    return &(*open)->scene;
}

// Which step the file holds: the one noted with its fingerprint. The last save counts, or one that was announced after
// it and perhaps cut; one that equals an older save was set back by others. A file we did not write, of a scene the
// history knows, was changed outside.
Result<Session::Held> Session::heldStep(const std::string& scene, LoadedScene& loaded) {
    bool settled = false, hadFile = false;
    const SaveMark* same = nullptr;
    for (auto mark = saves_.rbegin(); mark != saves_.rend(); ++mark) {
        if (mark->scene != scene) continue;
        const bool known = mark->step == kRoot || history_.step(mark->step) != nullptr;
        if (same == nullptr && known && mark->isOf(loaded.hash, loaded.size)) {
            if (settled) {
                const StepInfo* held = history_.step(mark->step);
                return Held{mark->step, "File as of " + (held != nullptr ? fmt::format("“{}”", held->name)
                                                                         : "before the first step")};
            }
            same = &*mark;
        }
        settled = settled || mark->placed;
        hadFile = hadFile || (mark->placed && mark->hash != 0);
    }
    if (same != nullptr) {
        const Held held{same->step, {}};
        if (!same->placed)
            if (Status noted = note({scene, held.step, loaded.hash, loaded.size, around_.nowMs()}, loaded.text); !noted)
                return tl::unexpected(noted.error());
        return held;
    }
    if (loaded.hash == 0 && !hadFile) return Held{};  // one that was never saved
    const bool touched = std::any_of(history_.steps().begin(), history_.steps().end(),
                                     [&](const StepInfo& info) { return info.touches(scene); });
    if (touched) return changedOutside(scene, loaded);
    if (Status noted = note({scene, kRoot, loaded.hash, loaded.size, 0}, loaded.text); !noted)
        return tl::unexpected(noted.error());
    return Held{};
}

/// Notes what a file is; on disk too, unless nothing may be changed.
Status Session::note(SaveMark mark, const std::string& text) {
    if (readOnlyReason_.empty())
        if (Status noted = ledger_->addSave(mark, packText(text)); !noted) return noted;
    saves_.push_back(std::move(mark));
    return {};
}

/// The scene begins as its file was when we last knew it, so that what others made of it is a step like any other.
Result<Session::Held> Session::changedOutside(const std::string& scene, LoadedScene& loaded) {
    const std::string name = fmt::format("{} changed outside", scene);
    const auto last = std::find_if(saves_.rbegin(), saves_.rend(),
                                   [&](const SaveMark& mark) { return mark.scene == scene && mark.placed; });
    const bool known = last != saves_.rend() && (last->step == kRoot || history_.step(last->step) != nullptr);
    if (known && around_.readScene && readOnlyReason_.empty())
        if (const auto text = ledger_->keptFile(scene, last->hash))
            if (auto before = around_.readScene(project_, scene, *text)) {
                std::swap(*before, loaded.scene);
                otherwise_.insert_or_assign(
                    scene, Otherwise{{std::move(*before), loaded.hash, loaded.size, std::move(loaded.text)}, name});
                return Held{last->step, name};
            }
    return startAnew(scene, loaded,
                     fmt::format("{} was changed outside since its last save: its history starts anew, what came "
                                 "before stays in the ledger.",
                                 model::data::isData(scene) ? model::data::fileOf(scene) : scene));
}

/// The file counts as it is; a barrier says so, and nothing before it can be undone.
Result<Session::Held> Session::startAnew(const std::string& scene, const LoadedScene& loaded,
                                         const std::string& remark) {
    remarks_.push_back(remark);
    if (!readOnlyReason_.empty()) return Held{history_.present(), {}};
    StepInfo info{history_.nextId(),
                  history_.present(),
                  fmt::format("{} changed outside", scene),
                  {scene},
                  around_.nowMs(),
                  0,
                  true,
                  false};
    auto empty = std::make_shared<const StepData>();
    if (Status kept = ledger_->append(info, empty, names()); !kept) return tl::unexpected(kept.error());
    const StepId id = info.id;
    history_.append(std::move(info));
    if (Status noted = note({scene, id, loaded.hash, loaded.size, around_.nowMs()}, loaded.text); !noted)
        return tl::unexpected(noted.error());
    return Held{id, {}};
}

Result<Session::Open*> Session::openScene(const std::string& name) {
    if (auto place = scenes_.find(name); place != scenes_.end()) return place->second.get();
    auto loaded = load(name);
    if (!loaded) return tl::unexpected(loaded.error());
    auto held = heldStep(name, *loaded);
    if (!held) return tl::unexpected(held.error());
    if (!held->otherwise.empty() && !readOnlyReason_.empty()) held = Held{history_.present(), {}};  // shown as it is
    auto open = std::make_unique<Open>(loaded->scene, sources_);
    if (Status done = bringToPresent(*open, held->step); !done) {
        if (auto other = otherwise_.extract(name)) *loaded = std::move(other.mapped().file);
        held = startAnew(name, *loaded,
                         fmt::format("{} is as its file holds it, without the steps since its last save: {}", name,
                                     done.error().message));
        if (!held) return tl::unexpected(held.error());
        open = std::make_unique<Open>(loaded->scene, sources_);
    }
    open->saved = held->step;
    Open* result = open.get();
    scenes_[name] = std::move(open);
    SceneDelta unheard;
    if (!model::prefabOf(name)) result->writer.fill(unheard);  // definitions: all at once, see openDefinitions
    sayUnfilled(name);
    if (!held->otherwise.empty()) otherwise_.try_emplace(name, Otherwise{std::move(*loaded), held->otherwise});
    return result;
}

void Session::sayUnfilled(const std::string& name) {
    if (const std::size_t count = scenes_.at(name)->writer.unfilled(); count > 0)
        remarks_.push_back(fmt::format(
            "{}: {} instances stay empty: they would come to more than {} objects, or what they hold stands elsewhere.",
            model::prefabOf(name) ? "prefab " + prefabName(model::prefabOf(name)) : name, count,
            model::prefabOf(name) ? model::kMostInPrefab : model::kMostObjects));
}

// What others have made of files: what one had is a step away.
Status Session::takeOtherwise() {
    if (otherwise_.empty() || !readOnlyReason_.empty()) return {};
    std::vector<Theirs> files;
    std::string why;
    for (auto& [name, other] : std::exchange(otherwise_, {})) {
        why = other.why;
        remarks_.push_back(fmt::format(
            "{} was changed outside ({}): it is now as its file says, and Undo brings back what you had.", name, why));
        files.push_back({name, std::move(other.file)});
    }
    return takeFiles(files, files.size() == 1 ? why : "Files changed outside");
}

namespace {

/// Visits a step's changes in the order in which they are done, or taken back, until one fails.
template <class Visit>
Status eachChange(const StepData& step, Direction direction, const Visit& visit) {
    const bool forward = direction == Direction::Forward;
    const auto at = [forward](const auto& all, std::size_t i) -> const auto& {
        return all[forward ? i : all.size() - 1 - i];
    };
    for (std::size_t k = 0; k < step.changes.size(); ++k) {
        const model::ChangeSet& set = at(step.changes, k);
        for (std::size_t i = 0; i < set.changes.size(); ++i)
            if (Status done = visit(set.scene, at(set.changes, i)); !done) return done;
    }
    return {};
}

}  // namespace

Status Session::bringToPresent(Open& open, StepId held) {
    const History::Path path = history_.path(held, history_.present());
    SceneDelta unheard;
    open.writer.defer();
    auto apply = [&](StepId id, Direction direction) -> Status {
        const StepInfo& info = *history_.step(id);
        if (info.damaged && (info.scenes.empty() || info.touches(open.scene.name())))
            return fail(ErrorCode::BadLedger, fmt::format("step {} (“{}”) is damaged in the ledger.", id, info.name));
        if (!info.touches(open.scene.name())) return {};
        if (info.barrier) return fail(ErrorCode::BadLedger, fmt::format("“{}” lies between.", info.name));
        auto step = data(id);
        if (!step) return tl::unexpected(step.error());
        return eachChange(**step, direction, [&](const std::string& scene, const model::Change& change) -> Status {
            return scene == open.scene.name() ? open.writer.apply(change, direction, unheard) : Status{};
        });
    };
    for (StepId id : path.back)
        if (Status done = apply(id, Direction::Backward); !done) return done;
    for (StepId id : path.forward)
        if (Status done = apply(id, Direction::Forward); !done) return done;
    return {};
}

Result<std::shared_ptr<const StepData>> Session::data(StepId id) {
    if (auto place = recent_.find(id); place != recent_.end()) return place->second;
    auto loaded = ledger_->load(id, *project_.names);
    if (!loaded) return tl::unexpected(loaded.error());
    auto shared = std::make_shared<const StepData>(std::move(*loaded));
    keep(id, shared);
    return shared;
}

void Session::keep(StepId id, std::shared_ptr<const StepData> step) {
    recentRows_ += rowsIn(*step);
    recent_[id] = std::move(step);
    while (recentRows_ > kRecentRows && recent_.size() > 1) {
        auto oldest = recent_.begin()->first == id ? std::next(recent_.begin()) : recent_.begin();
        recentRows_ -= rowsIn(*oldest->second);
        recent_.erase(oldest);
    }
}

/// All of a step, or nothing of it.
Status Session::applyStep(StepId id, Direction direction, std::map<std::string, SceneDelta>& deltas) {
    auto step = data(id);
    if (!step) return tl::unexpected(step.error());
    const auto kept = *step;  // stays whole while others are loaded
    const bool forward = direction == Direction::Forward;
    std::vector<std::pair<Open*, const model::Change*>> done;
    auto apply = [&](Open& open, const model::Change& change, Direction way) {
        SceneDelta& delta = deltas[open.scene.name()];
        delta.scene = open.scene.name();
        return open.writer.apply(change, way, delta);
    };
    Status all = eachChange(*kept, direction, [&](const std::string& scene, const model::Change& change) -> Status {
        auto open = openScene(scene);
        if (!open) return tl::unexpected(open.error());
        (*open)->writer.defer();
        if (Status fits = apply(**open, change, direction); !fits) return fits;
        done.emplace_back(*open, &change);
        return {};
    });
    if (!all) {
        for (auto back = done.rbegin(); back != done.rend(); ++back)
            (void)apply(*back->first, *back->second, forward ? Direction::Backward : Direction::Forward);
        return all;
    }
    selection_ = forward ? kept->selectionAfter : kept->selectionBefore;
    return {};
}

/// All that lies on the way is loaded and can be read: nothing is begun that cannot be done. Files that others changed
/// come as steps of their own.
Status Session::loadFor(const History::Path& path) {
    auto look = [&](StepId id) -> Status {
        const StepInfo info = *history_.step(id);
        const auto named = [&](const std::string& why) {
            return fail(ErrorCode::BadLedger,
                        fmt::format("Step {}, “{}”: {} Nothing was changed.", id, info.name, why));
        };
        if (info.damaged) return named("its record is damaged.");
        if (!recent_.contains(id))
            if (Status sound = ledger_->verify(id); !sound) return named(sound.error().message);
        for (const std::string& document : info.scenes)
            if (auto open = openScene(document); !open) return tl::unexpected(open.error());
        return {};
    };
    for (const auto* part : {&path.back, &path.forward})
        for (StepId id : *part)
            if (Status fine = look(id); !fine) return fine;
    return takeOtherwise();
}

Status Session::undo() {
    for (;;) {
        const auto target = history_.undoTarget();
        const StepId from = history_.present();
        if (!target) {
            const StepInfo* info = history_.step(from);
            return fail(ErrorCode::Refused, info != nullptr ? info->name + ": nothing before this can be undone."
                                                            : "There is nothing to undo.");
        }
        if (!readOnlyReason_.empty() || draftOpen_) return jumpTo(*target);  // which says so
        if (Status fine = loadFor(history_.path(from, *target)); !fine) return fine;
        if (history_.present() == from) return jumpTo(*target);
        // A file was changed outside: that is the step to be undone.
    }
}

Status Session::redo() {
    auto target = history_.redoTarget();
    if (!target) return fail(ErrorCode::Refused, "There is nothing to redo.");
    return jumpTo(*target);
}

Status Session::jumpTo(StepId step) {
    if (!readOnlyReason_.empty()) return fail(ErrorCode::Refused, readOnlyReason_);
    if (draftOpen_) return fail(ErrorCode::Refused, "Finish what you are doing first.");
    if (step != kRoot && history_.step(step) == nullptr) return fail(ErrorCode::NotFound, "There is no such step.");
    if (Status fine = loadFor(history_.path(history_.present(), step)); !fine) return fine;
    const History::Path path = history_.path(history_.present(), step);
    for (StepId id : path.back)
        if (history_.step(id)->barrier)
            return fail(ErrorCode::Refused, history_.step(id)->name + ": nothing before this can be undone.");
    std::map<std::string, SceneDelta> deltas;
    const StepId from = history_.present();
    Status outcome = travel(path, deltas);
    if (Status kept = ledger_->setPresent(history_); !kept) {
        // Refused: back to where the ledger says that it stands.
        (void)travel(history_.path(history_.present(), from), deltas);
        outcome = kept;
    }
    std::vector<std::string> changed;
    for (const auto& [name, delta] : deltas) changed.push_back(name);
    tell(std::move(deltas));
    refreshPrefabItems(changed);
    selection_ = existing(selection_);
    if (const StepInfo* last = path.forward.empty() ? history_.step(path.back.empty() ? kRoot : path.back.back())
                                                    : history_.step(path.forward.back()))
        travelled.tell(last->scene());
    historyChanged.tell();
    selectionChanged.tell();
    return outcome;
}

/// Takes steps back and does steps again, as far as that goes.
Status Session::travel(const History::Path& path, std::map<std::string, SceneDelta>& deltas) {
    for (StepId id : path.back) {
        if (Status undone = applyStep(id, Direction::Backward, deltas); !undone) return undone;
        history_.moveTo(history_.step(id)->parent);
    }
    for (StepId id : path.forward) {
        if (Status done = applyStep(id, Direction::Forward, deltas); !done) return done;
        history_.moveTo(id);
    }
    return {};
}

std::vector<ObjectId> Session::existing(const std::vector<ObjectId>& ids) const {
    std::vector<ObjectId> result;
    for (ObjectId id : ids)
        for (const auto& [name, open] : scenes_)
            if (open->scene.find(id) != model::kNoSlot) {
                result.push_back(id);
                break;
            }
    return result;
}

void Session::select(std::vector<ObjectId> ids) {
    if (ids == selection_) return;
    selection_ = std::move(ids);
    selectionChanged.tell();
}

Result<StepId> Session::commit(StepInfo info, std::shared_ptr<const StepData> step) {
    info.id = history_.nextId();
    info.parent = history_.present();
    info.timeMs = around_.nowMs();
    if (Status kept = ledger_->append(info, step, names()); !kept) return tl::unexpected(kept.error());
    const StepId id = info.id;
    history_.append(std::move(info));
    keep(id, std::move(step));
    return id;
}

Status Session::noteSave(const std::string& scene, std::uint64_t hash, std::uint64_t size, StepId step) {
    return note({scene, step, hash, size, around_.nowMs(), false}, {});
}

Status Session::markSaved(const std::string& scene, StepId step, std::string_view packed) {
    if (auto place = scenes_.find(scene); place != scenes_.end()) place->second->saved = step;
    const auto mark = std::find_if(saves_.rbegin(), saves_.rend(), [&](const SaveMark& m) { return m.scene == scene; });
    Status confirmed;
    if (mark != saves_.rend()) {
        confirmed = ledger_->confirmSave(*mark, packed);
        mark->placed = true;
    }
    historyChanged.tell();
    return confirmed;
}

const SaveMark* Session::lastSave(const std::string& document) const {
    for (auto mark = saves_.rbegin(); mark != saves_.rend(); ++mark)
        if (mark->scene == document && mark->placed) return mark->hash != 0 ? &*mark : nullptr;
    return nullptr;
}

void Session::markUnsaved(const std::string& document) {
    if (auto place = scenes_.find(document); place != scenes_.end()) place->second->saved = -1;
    historyChanged.tell();
}

std::vector<std::string> Session::openDocuments() const {
    std::vector<std::string> names;
    for (const auto& [name, open] : scenes_) names.push_back(name);
    return names;
}

Status Session::takeFiles(const std::vector<Theirs>& files, const std::string& stepName) {
    if (files.empty()) return {};
    // Nobody else has a say in it: it is what others have written, and nothing more.
    auto say = std::exchange(beforeCommit_, nullptr);
    auto write = [&]() -> Result<StepId> {
        Draft draft(*this, files.front().document, stepName);
        if (!draft.state()) return tl::unexpected(draft.state().error());
        for (const Theirs& theirs : files) {
            if (Status turned = draft.turnTo(theirs.document); !turned) return tl::unexpected(turned.error());
            if (Status done = become(draft, theirs.file.scene); !done) return tl::unexpected(done.error());
        }
        return draft.commit();
    };
    const auto step = write();
    beforeCommit_ = std::move(say);
    if (!step) return tl::unexpected(step.error());
    for (const Theirs& theirs : files) {
        if (Status noted =
                note({theirs.document, *step, theirs.file.hash, theirs.file.size, around_.nowMs()}, theirs.file.text);
            !noted)
            return noted;
        scenes_.at(theirs.document)->saved = *step;
    }
    historyChanged.tell();
    return {};
}

Status Session::takeNewDocument(const std::string& document) {
    if (auto open = openScene(document); !open) return tl::unexpected(open.error());
    if (model::data::isData(document)) {
        takeData(document);
    } else if (model::prefabOf(document)) {
        takeDefinition(document);
    } else if (auto& files = project_.sceneFiles; std::find(files.begin(), files.end(), document) == files.end()) {
        files.insert(std::upper_bound(files.begin(), files.end(), document), document);
        listScenes();
    }
    libraryChanged.tell();
    return takeOtherwise();
}

StepId Session::savedStep(const std::string& scene) const {
    auto place = scenes_.find(scene);
    return place == scenes_.end() ? -1 : place->second->saved;
}

Status Session::openData() {
    std::set<std::string> names(project_.dataDocuments.begin(), project_.dataDocuments.end());
    for (const StepInfo& step : history_.steps())
        for (const std::string& name : step.scenes)
            if (model::data::isData(name)) names.insert(name);
    for (const std::string& name : names) {
        if (auto open = openScene(name); !open) return tl::unexpected(open.error());
        takeData(name);
    }
    return {};
}

void Session::takeData(const std::string& document) {
    if (!around_.takeData) return;
    auto boxes = [&] {
        std::map<std::string, base::Aabb> all;
        for (const model::Item& item : library().items())
            if (!item.bounds.empty()) all[item.name] = item.bounds;
        return all;
    };
    const bool items = document == model::data::kItems;
    const auto before = items ? boxes() : std::map<std::string, base::Aabb>{};
    around_.takeData(project_, document, entries(document));
    if (!items) return;
    listScenes();
    // Objects of an item that went, is back, or is of another size, have another box.
    const auto now = boxes();
    for (const auto& [name, box] : before)
        if (const auto place = now.find(name); place == now.end() || !(place->second == box)) refreshItem(intern(name));
    for (const auto& [name, box] : now)
        if (!before.contains(name)) refreshItem(intern(name));
}

void Session::refreshItem(base::Name item) {
    for (auto& [name, open] : scenes_) {
        SceneDelta delta;
        delta.scene = name;
        open->writer.refreshItem(item, delta);
        if (!delta.empty()) sceneChanged.tell(delta);
    }
}

const model::DataEntries& Session::entries(const std::string& document) const {
    static const model::DataEntries none;
    auto place = scenes_.find(document);
    return place == scenes_.end() ? none : place->second->scene.settings().entries();
}

std::vector<std::string> Session::dataDocuments() const {
    std::vector<std::string> names;
    for (const auto& [name, open] : scenes_)
        if (model::data::isData(name) && !open->scene.settings().entries().empty()) names.push_back(name);
    return names;
}

void Session::putItem(model::Item item) {
    const base::Name key = intern(item.name);
    project_.library.add(key, std::move(item));
    refreshItem(key);
}

}  // namespace edit
