#pragma once
// A project in a temporary folder, for tests.
#include <QTemporaryDir>
#include <filesystem>
#include <memory>
#include <string>

#include "edit/draft.h"
#include "io/workspace.h"

namespace test {

/// The demo project and the documents of formats, as they lie in the checkout.
std::filesystem::path demoFolder();
std::filesystem::path formatsFolder();
std::filesystem::path dataFolder();

/// A clock that goes on by one second a call, and a fixed seed.
io::Chance chance(std::uint64_t seed = 7);

class TestProject {
  public:
    /// A new project from the "empty" template, with three kinds of our own making.
    TestProject();

    std::filesystem::path folder() const { return folder_; }
    std::filesystem::path scenePath() const { return folder_ / "scenes" / "first.scene.jsonl"; }
    io::Workspace& workspace() { return *workspace_; }
    edit::Session& session() { return *workspace_->session; }
    const model::Scene& scene() { return **session().scene("first"); }
    /// The scene as its file would be.
    std::string bytes();

    void close() { workspace_.reset(); }
    base::Status reopen(io::OpenMode mode = io::OpenMode::Edit);

    /// Creates an object as a step of its own.
    base::ObjectId add(const std::string& name, base::ObjectId parent = {}, base::Transform local = {},
                       const std::string& item = {});
    base::Name name(const std::string& text) { return session().intern(text); }
    model::Slot slot(base::ObjectId id) { return scene().find(id); }

  private:
    QTemporaryDir temporary_;
    std::filesystem::path folder_;
    std::unique_ptr<io::Workspace> workspace_;
    std::uint64_t opened_ = 1;
};

/// Makes a scene from a template, as a step of its own.
base::Status createScene(TestProject& project, const std::string& name, const std::string& templateName);
/// Imports a model, or adds a mesh, as a step of its own.
base::Result<model::Item> importModel(TestProject& project, const std::filesystem::path& file);
base::Result<model::Item> addModel(TestProject& project, const std::string& name, const shape::Mesh& mesh);

/// A copy of the demo project in a temporary folder.
class DemoCopy {
  public:
    DemoCopy();
    std::filesystem::path folder() const { return folder_; }
    std::filesystem::path scenePath() const { return folder_ / "scenes" / "lower-basin.scene.jsonl"; }

  private:
    QTemporaryDir temporary_;
    std::filesystem::path folder_;
};

/// While it lives no file of this process can be written: as on a full disk, every write fails and is told.
class FullDisk {
  public:
    FullDisk();
    ~FullDisk();
    FullDisk(const FullDisk&) = delete;
    FullDisk& operator=(const FullDisk&) = delete;

  private:
    unsigned long before_ = 0;
};

std::string fileBytes(const std::filesystem::path& path);
void writeBytes(const std::filesystem::path& path, const std::string& bytes);

}  // namespace test
