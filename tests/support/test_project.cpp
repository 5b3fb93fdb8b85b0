#include "support/test_project.h"

#include <signal.h>
#include <sys/resource.h>

#include <QtTest>
#include <fstream>

#include "io/scene_file.h"
#include "io/templates.h"

namespace test {

namespace fs = std::filesystem;

fs::path demoFolder() {
    return fs::path(MELLOW_CHECKOUT) / "demo" / "heron-lock";
}

fs::path formatsFolder() {
    return fs::path(MELLOW_CHECKOUT) / "docs" / "formats";
}

fs::path dataFolder() {
    return fs::path(MELLOW_CHECKOUT) / "tests" / "data";
}

io::Chance chance(std::uint64_t seed) {
    auto now = std::make_shared<std::int64_t>(1'700'000'000'000);
    return {[now] { return *now += 1000; }, seed};
}

TestProject::TestProject() : folder_(fs::path(temporary_.path().toStdString()) / "lock") {
    if (!io::createProject(folder_, "empty", 3)) qFatal("the test project cannot be made");
    if (!reopen()) qFatal("the test project cannot be opened");
}

base::Status TestProject::reopen(io::OpenMode mode) {
    workspace_.reset();
    auto opened = io::openWorkspace(folder_, mode, chance(++opened_));
    if (!opened) return tl::unexpected(opened.error());
    workspace_ = std::move(*opened);
    auto scene = session().scene("first");
    if (!scene) return tl::unexpected(scene.error());
    return {};
}

std::string TestProject::bytes() {
    return io::formatScene(scene());
}

base::ObjectId TestProject::add(const std::string& text, base::ObjectId parent, base::Transform local,
                                const std::string& item) {
    model::ObjectRecord r;
    r.id = session().random().nextId();
    r.parent = parent;
    r.name = name(text);
    r.item = name(item);
    r.local = local;
    edit::Draft draft(session(), "first", "Add " + text);
    if (!draft.create({&r, 1}) || !draft.commit()) qFatal("cannot add");
    return r.id;
}

namespace {

template <class Verb>
base::Result<model::Item> asStep(TestProject& project, const Verb& verb) {
    edit::Draft draft(project.session(), "first", "Import");
    auto item = verb(draft);
    if (!item) return item;
    if (auto step = draft.commit(); !step) return tl::unexpected(step.error());
    return item;
}

}  // namespace

base::Status createScene(TestProject& p, const std::string& name, const std::string& templateName) {
    edit::Draft draft(p.session(), "first", "New scene " + name);
    if (base::Status made = io::createScene(p.workspace(), draft, name, templateName); !made) return made;
    auto step = draft.commit();
    return step ? base::Status{} : base::Status(tl::unexpected(step.error()));
}
base::Result<model::Item> importModel(TestProject& p, const fs::path& file) {
    return asStep(p, [&](edit::Draft& draft) { return io::importModel(p.workspace(), draft, file); });
}
base::Result<model::Item> addModel(TestProject& p, const std::string& name, const shape::Mesh& mesh) {
    return asStep(p, [&](edit::Draft& draft) { return io::addModel(p.workspace(), draft, name, mesh); });
}

DemoCopy::DemoCopy() : folder_(fs::path(temporary_.path().toStdString()) / "heron-lock") {
    fs::copy(demoFolder(), folder_, fs::copy_options::recursive);
    fs::remove_all(folder_ / ".mellow");
}

FullDisk::FullDisk() {
    signal(SIGXFSZ, SIG_IGN);
    rlimit limit{};
    getrlimit(RLIMIT_FSIZE, &limit);
    before_ = limit.rlim_cur;
    limit.rlim_cur = 0;
    setrlimit(RLIMIT_FSIZE, &limit);
}
FullDisk::~FullDisk() {
    rlimit limit{};
    getrlimit(RLIMIT_FSIZE, &limit);
    limit.rlim_cur = before_;
    setrlimit(RLIMIT_FSIZE, &limit);
}

std::string fileBytes(const fs::path& path) {
    std::ifstream in(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

void writeBytes(const fs::path& path, const std::string& bytes) {
    std::ofstream out(path, std::ios::binary | std::ios::trunc);
    out << bytes;
}

}  // namespace test
