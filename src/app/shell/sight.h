#pragma once
// Where the things of the scene that is shown are: what rays meet and what one bumps into. The index of a large scene
// is built on a worker, from a snapshot; what changes meanwhile is looked up again when it is ready.
#include <QObject>
#include <map>
#include <memory>
#include <string>
#include <thread>
#include <unordered_map>
#include <vector>

#include "edit/delta.h"
#include "io/workspace.h"
#include "ops/berths.h"
#include "query/collision.h"
#include "query/scene_index.h"

namespace app {

class Sight : public QObject {
    Q_OBJECT
  public:
    Sight() = default;
    ~Sight() override;

    /// A project's meshes, without a scene yet.
    void open(io::Workspace& workspace);
    /// A scene of it is shown.
    void show(const model::Scene& scene);
    void close();
    /// What is said of items may be otherwise. True when meshes are others than before.
    bool takeLibrary();
    void touch(const edit::SceneDelta& delta);
    /// The same objects in another copy of the scene: what is elsewhere is told by touch().
    void look(const model::Scene& copy) { scene_ = &copy; }
    /// Solids bring meshes of their own. True when there are some that were not there before.
    bool takeMeshes(const edit::SceneDelta& delta);

    /// Null while a large scene's is still being built.
    const query::SceneIndex* index() const { return index_.get(); }
    /// Where things can be put into others, at present.
    const std::vector<ops::Berth>& berths();
    const query::MeshIndex* meshIndex(base::Name item) const;
    /// For this thread: they follow what is made meanwhile.
    const query::Shapes& shapesHere() const { return shapes_; }
    /// All of them as they are now; what it gives can be asked on any thread while the project is open.
    query::MeshLookup meshes() const;
    /// The same, with what is bumped into.
    query::Shapes shapes() const;

  private:
    void takeIndex();

    io::Workspace* workspace_ = nullptr;
    const model::Scene* scene_ = nullptr;
    std::unordered_map<base::Name, std::unique_ptr<query::MeshIndex>> meshes_;
    query::ItemCollisions collide_;                           ///< when that was last looked at
    query::Shapes shapes_;                                    ///< for this thread: follows what is made meanwhile
    std::vector<std::unique_ptr<query::MeshIndex>> retired_;  ///< a check that still runs may hold them
    std::unique_ptr<query::SceneIndex> index_, built_;
    std::unique_ptr<model::Scene> snapshot_;
    std::optional<std::vector<ops::Berth>> berths_;  ///< once they were asked for
    std::vector<model::Slot> touched_;               ///< while one is being built
    std::thread worker_;
};

}  // namespace app
