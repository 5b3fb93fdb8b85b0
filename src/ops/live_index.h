#pragma once
// Where the objects of one scene of a session are, kept up to date while drafts change it. Threads: the session's.
#include "edit/session.h"
#include "query/collision.h"
#include "query/scene_index.h"

namespace ops {

class LiveIndex {
  public:
    /// Of a scene that is loaded; both must outlive it.
    LiveIndex(edit::Session& session, const model::Scene& scene, query::Shapes shapes)
        : session_(session), index_(scene, std::move(shapes)) {
        token_ = session_.sceneChanged.listen([this, &scene](const edit::SceneDelta& delta) {
            if (delta.scene != scene.name()) return;
            for (const auto* slots : {&delta.created, &delta.removed, &delta.moved, &delta.relabelled})
                index_.touch(*slots);
            index_.touch(query::withBody(scene, delta.detailed));
        });
    }
    ~LiveIndex() { session_.sceneChanged.forget(token_); }
    LiveIndex(const LiveIndex&) = delete;
    LiveIndex& operator=(const LiveIndex&) = delete;

    const query::SceneIndex& get() const { return index_; }

  private:
    edit::Session& session_;
    query::SceneIndex index_;
    edit::Signal<const edit::SceneDelta&>::Token token_ = 0;
};

}  // namespace ops
