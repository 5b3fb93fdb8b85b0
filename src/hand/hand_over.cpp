#include "hand/hand_over.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "base/files.h"
#include "base/hash.h"
#include "base/text.h"
#include "hand/enter.h"
#include "hand/names.h"
#include "hand/write.h"
#include "io/json_text.h"
#include "io/local_folder.h"
#include "ops/scenes.h"

namespace hand {
namespace {

namespace fs = std::filesystem;
using io::Json;

std::uint64_t hashOf(std::string_view bytes) {
    return base::hashBytes(bytes);
}

class PlanMaker {
  public:
    PlanMaker(const io::Workspace& workspace, const model::Scene& scene, Receiver receiver)
        : workspace_(workspace), scene_(scene), receiver_(std::move(receiver)) {}

    Result<HandOverPlan> run() {
        plan_.receiver = receiver_.name;
        plan_.scene = scene_.name();
        project_ = fs::absolute(workspace_.folder()).lexically_normal();
        folder_ = placed(receiver_.folder);
        for (const Given& given : receiver_.gives)
            if (Status made = given.recipe.empty() ? model(given) : list(given); !made)
                return tl::unexpected(made.error());
        const std::size_t own = plan_.files.size();
        words();
        for (const Enter& enter : receiver_.enter)
            if (Status done = enterInto(enter); !done) return tl::unexpected(done.error());
        for (const std::string& to : receiver_.copy)
            for (std::size_t i = 0; i < own; ++i)
                if (Status done = add(placed(to) / plan_.files[i].file.lexically_relative(folder_),
                                      plan_.files[i].bytes, "copied");
                    !done)
                    return tl::unexpected(done.error());
        for (const std::string& name : receiver_.run) {
            std::vector<std::string> problems;
            auto command = commandNamed(workspace_.session->library(), name, problems);
            if (!command)
                return fail(ErrorCode::NotFound, fmt::format("{}: there is no command “{}”.", receiver_.name, name));
            if (!problems.empty())
                return fail(ErrorCode::BadInput, fmt::format("The command {}: {}", name, problems.front()));
            plan_.commands.push_back(std::move(*command));
        }
        return std::move(plan_);
    }

  private:
    fs::path placed(const std::string& name) const { return (project_ / name).lexically_normal(); }
    Status list(const Given& given) {
        std::vector<std::string> problems;
        auto recipe = recipeNamed(workspace_.session->library(), given.recipe, problems);
        if (!recipe)
            return fail(ErrorCode::NotFound, fmt::format("{}: there is no recipe “{}”.", receiver_.name, given.recipe));
        if (!problems.empty())
            return fail(ErrorCode::BadInput, fmt::format("The recipe {}: {}", given.recipe, problems.front()));
        if (!given.file.empty()) recipe->file = given.file;
        if (const std::string why = unusable(*recipe); !why.empty())
            return fail(ErrorCode::BadInput, fmt::format("The recipe {}: {}", given.recipe, why));
        const Source source{scene_, workspace_.session->library(),
                            [&](base::ObjectId id) { return workspace_.session->prefabName(id); }};
        Written written = write(source, *recipe);
        for (const std::string& remark : written.remarks) plan_.remarks.push_back(given.recipe + ": " + remark);
        if (written.passedOver > 0) plan_.passedOver[given.recipe] = written.passedOver;
        if (written.farthestRounded > 1e-9)
            plan_.remarks.push_back(
                fmt::format("{}: places are rounded, by {:.2g} m at most.", given.recipe, written.farthestRounded));
        for (WrittenFile& file : written.files) {
            if (receiver_.limits.fileBytes &&
                static_cast<std::int64_t>(file.coded.size()) > *receiver_.limits.fileBytes)
                plan_.remarks.push_back(fmt::format("{} has {} bytes; {} are taken.", file.name, file.coded.size(),
                                                    *receiver_.limits.fileBytes));
            const std::size_t entries = file.spans.size();
            if (Status done = add(folder_ / file.name, std::move(file.coded), given.recipe, entries); !done)
                return done;
        }
        return {};
    }
    Status model(const Given& given) {
        const fs::path file = folder_ / withWords(given.file, {{"scene", scene_.name()}});
        io::ExportOptions options = given.gltf;
        options.asText = file.extension() == ".gltf";
        options.stem = file.stem().string();
        io::ExportedScene exported = io::exportScene(io::sourceOf(workspace_, scene_), options);
        for (const std::string& lost : exported.lost) plan_.remarks.push_back("glTF: " + lost);
        for (io::FileBeside& one : exported.beside)
            if (Status done = add(file.parent_path() / one.name, std::move(one.bytes), "glTF"); !done) return done;
        return add(file, std::move(exported.bytes), "glTF", exported.objects);
    }
    /// The first file is what {file} stands for; of glTF the one that others belong to.
    void words() {
        plan_.words = {{"scene", scene_.name()}, {"project", project_.string()}, {"folder", folder_.string()}};
        for (const Delivery& one : plan_.files)
            if (one.entries > 0 && !plan_.words.contains("file")) {
                plan_.words["file"] = one.file.string();
                name_ = one.file.lexically_relative(folder_).string();
            }
        if (plan_.files.empty() || plan_.words.contains("file")) return;
        plan_.words["file"] = plan_.files.front().file.string();
        name_ = plan_.files.front().file.lexically_relative(folder_).string();
    }
    Status enterInto(const Enter& enter) {
        const fs::path file = placed(enter.file);
        std::string text;
        const auto held = std::ranges::find(plan_.files, file, &Delivery::file);
        if (held != plan_.files.end()) {
            text = held->bytes;
        } else {
            auto bytes = base::readFile(file, base::most::kTable);
            if (!bytes) return fail(bytes.error().code, fmt::format("{}: {}", receiver_.name, bytes.error().message));
            text = std::move(*bytes);
        }
        auto with = entered(text, enter, withWords(enter.value, {{"scene", scene_.name()}, {"file", name_}}));
        if (!with) return tl::unexpected(with.error());
        if (held == plan_.files.end()) return add(file, std::move(*with), "entered");
        held->bytes = std::move(*with);
        return {};
    }
    /// A project's own files are no receiver's.
    Status refuseOwn(const fs::path& file) {
        const fs::path within = file.lexically_relative(project_);
        const std::string first = within.empty() ? ".." : within.begin()->string();
        if (first == "..") {
            plan_.outside.push_back(file);
            return {};
        }
        constexpr std::string_view own[] = {"scenes",  "prefabs", "kinds",   "records", "items",     "media",
                                            "scripts", "walks",   "recipes", ".mellow", "receivers", ".git"};
        const bool atTop = std::next(within.begin()) == within.end();
        if (std::ranges::find(own, first) != std::end(own) ||
            (atTop && (first == "project.json" || file.extension() == ".jsonl")))
            return fail(ErrorCode::Refused,
                        fmt::format("{}: {} belongs to the project itself.", receiver_.name, within.string()));
        auto safe = base::inside(project_, within);
        return safe ? Status{} : Status(tl::unexpected(safe.error()));
    }
    Status add(const fs::path& at, std::string bytes, std::string from, std::size_t entries = 0) {
        const fs::path file = at.lexically_normal();
        if (Status fine = refuseOwn(file); !fine) return fine;
        if (!taken_.insert(file).second)
            return fail(ErrorCode::BadInput,
                        fmt::format("{}: {} would be written twice.", receiver_.name, file.string()));
        Delivery one{file, std::move(bytes), Delivery::State::New, std::move(from), entries};
        if (base::exists(file)) {
            auto present = base::readFile(file, base::most::kScene);
            if (!present) return tl::unexpected(present.error());
            one.state = *present == one.bytes ? Delivery::State::Same : Delivery::State::Changed;
        }
        plan_.files.push_back(std::move(one));
        return {};
    }

    const io::Workspace& workspace_;
    const model::Scene& scene_;
    Receiver receiver_;
    fs::path project_, folder_;
    std::string name_;  // of the first file, from the receiver's folder
    std::set<fs::path> taken_;
    HandOverPlan plan_;
};

Result<fs::path> keptFolder(const io::Workspace& workspace, const std::string& receiver) {
    auto local = io::localFolder(workspace.folder());
    if (!local) return tl::unexpected(local.error());
    return *local / "handover" / base::plainFileName(receiver);
}

/// What was there before, and what was written: enough to put it back, and to know whether it still is ours.
Status keep(const fs::path& folder, const HandOverPlan& plan) {
    std::error_code problem;
    fs::remove_all(folder, problem);
    fs::create_directories(folder, problem);
    if (problem) return fail(ErrorCode::Io, fmt::format("{}: {}", folder.string(), problem.message()));
    Json files = Json::array();
    for (std::size_t i = 0; i < plan.files.size(); ++i) {
        const Delivery& one = plan.files[i];
        if (one.state == Delivery::State::Same) continue;
        Json entry = {{"file", one.file.string()}, {"written", fmt::format("{:016x}", hashOf(one.bytes))}};
        if (one.state == Delivery::State::Changed) {
            auto present = base::readFile(one.file, base::most::kScene);
            if (!present) return tl::unexpected(present.error());
            entry["kept"] = fmt::format("{}.kept", i);
            if (Status kept = base::writeFileWhole(folder / entry["kept"].get<std::string>(), *present); !kept)
                return kept;
        }
        files.push_back(std::move(entry));
    }
    return base::writeFileWhole(folder / "files.json", io::toText({{"files", files}}, 1) + "\n");
}

Result<Json> keptFiles(const fs::path& folder) {
    auto text = base::readFile(folder / "files.json", base::most::kTable);
    if (!text) return fail(ErrorCode::NotFound, "There is no hand-over whose files could be put back.");
    auto all = io::parseJson(*text, (folder / "files.json").string());
    if (!all) return tl::unexpected(all.error());
    if (!all->is_object() || !all->contains("files") || !(*all)["files"].is_array())
        return fail(ErrorCode::BadInput, (folder / "files.json").string() + ": is none of ours.");
    return (*all)["files"];
}

/// Is it a file of the project's folder, wherever links lead?
bool isInside(const fs::path& project, const fs::path& file) {
    const fs::path within = file.lexically_normal().lexically_relative(fs::absolute(project).lexically_normal());
    return !within.empty() && *within.begin() != ".." && base::inside(project, within).has_value();
}

Result<std::vector<std::string>> restore(const fs::path& folder, const fs::path& project, bool outsideIsFine) {
    auto files = keptFiles(folder);
    if (!files) return tl::unexpected(files.error());
    std::vector<std::string> left;
    bool outside = false;
    for (const Json& one : *files) {
        const fs::path file = one.value("file", std::string());
        const std::string kept = one.value("kept", std::string());
        if (!outsideIsFine && !isInside(project, file)) {
            left.push_back(base::forTerminal(file.string()) + ": lies outside of the project; it stays.");
            outside = true;
            continue;
        }
        auto present = base::readFile(file, base::most::kScene);
        if (!present && kept.empty()) continue;  // it was never there, or is gone
        if (!present || fmt::format("{:016x}", hashOf(*present)) != one.value("written", std::string())) {
            left.push_back(file.string() + ": others have written it since; it stays.");
            continue;
        }
        if (kept.empty()) {
            std::error_code problem;
            fs::remove(file, problem);
            if (problem) return fail(ErrorCode::Io, fmt::format("{}: {}", file.string(), problem.message()));
            continue;
        }
        if (!base::isPlainFileName(kept)) return fail(ErrorCode::BadInput, "What was kept is none of ours.");
        auto bytes = base::readFile(folder / kept, base::most::kScene);
        if (!bytes) return tl::unexpected(bytes.error());
        if (Status written = base::writeFileWhole(file, *bytes); !written) return tl::unexpected(written.error());
    }
    std::error_code ignored;
    if (!outside) fs::remove_all(folder, ignored);
    return left;
}

}  // namespace

Result<HandOverPlan> planHandOver(const io::Workspace& workspace, const model::Scene& scene, const std::string& name) {
    if (ops::isScratch(*workspace.session, scene.name()))
        return fail(ErrorCode::Refused, fmt::format("{} is a scratch scene: it is never handed over.", scene.name()));
    std::vector<std::string> problems;
    auto receiver = receiverNamed(workspace.session->library(), name, problems);
    if (!receiver) return fail(ErrorCode::NotFound, fmt::format("There is no receiver “{}”.", name));
    if (!problems.empty()) return fail(ErrorCode::BadInput, fmt::format("The receiver {}: {}", name, problems.front()));
    return PlanMaker(workspace, scene, std::move(*receiver)).run();
}

Status deliver(const io::Workspace& workspace, const HandOverPlan& plan, bool outsideIsFine) {
    if (!plan.outside.empty() && !outsideIsFine)
        return fail(ErrorCode::Refused, fmt::format("{} lies outside of the project: that has to be allowed first.",
                                                    plan.outside.front().string()));
    const bool changes =
        std::ranges::any_of(plan.files, [](const Delivery& one) { return one.state != Delivery::State::Same; });
    if (!changes) return {};  // and what was kept before is kept
    auto kept = keptFolder(workspace, plan.receiver);
    if (!kept) return tl::unexpected(kept.error());
    if (Status safe = keep(*kept, plan); !safe) return safe;
    for (const Delivery& one : plan.files) {
        if (one.state == Delivery::State::Same) continue;
        std::error_code problem;
        fs::create_directories(one.file.parent_path(), problem);
        Status written =
            problem
                ? Status(fail(ErrorCode::Io, fmt::format("{}: {}", one.file.parent_path().string(), problem.message())))
                : base::writeFileWhole(one.file, one.bytes);
        if (written) continue;
        const auto back = restore(*kept, workspace.folder(), true);
        return fail(written.error().code,
                    written.error().message +
                        (back ? " Nothing else was changed."
                              : " What was written before it could not be put back: " + back.error().message));
    }
    return {};
}

Result<std::vector<std::string>> putBack(const io::Workspace& workspace, const std::string& receiver,
                                         bool outsideIsFine) {
    auto kept = keptFolder(workspace, receiver);
    if (!kept) return tl::unexpected(kept.error());
    return restore(*kept, workspace.folder(), outsideIsFine);
}

std::string keptMark(const io::Workspace& workspace, const std::string& receiver) {
    const auto kept = keptFolder(workspace, receiver);
    const auto text = kept ? base::readFile(*kept / "files.json", base::most::kTable)
                           : Result<std::string>(tl::unexpected(kept.error()));
    return text ? fmt::format("{:016x}", hashOf(kept->string() + *text)) : std::string();
}

bool canPutBack(const io::Workspace& workspace, const std::string& receiver) {
    const auto kept = keptFolder(workspace, receiver);
    return kept && base::exists(*kept / "files.json");
}

}  // namespace hand
