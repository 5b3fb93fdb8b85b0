#pragma once
// What all panes share of the scene that is shown: its models on the graphics card, where objects are for drawing,
// which of them have marks, which are selected or in the hand, and what can be in line with what.
#include <QElapsedTimer>
#include <QImage>
#include <QObject>
#include <QTimer>
#include <atomic>
#include <memory>
#include <thread>
#include <unordered_map>
#include <unordered_set>
#include <vector>

#include "app/shell/editor.h"
#include "app/view/gl_renderer.h"
#include "app/view/route_lines.h"
#include "edit/delta.h"
#include "query/flush.h"
#include "query/looks.h"
#include "render/draw_list.h"
#include "script/said.h"

namespace app {

class Stage : public QObject {
    Q_OBJECT
  public:
    /// More objects than this that are tinted are part of the kept picture and not drawn over it.
    static constexpr std::size_t kMostOver = 2000;

    explicit Stage(Editor& editor, QObject* parent = nullptr);
    ~Stage() override;

    GlRenderer& renderer() { return renderer_; }
    const render::DrawCells& cells() const { return cells_; }
    /// Objects with a light, camera or note, or without any mesh.
    const std::vector<model::Slot>& marked() const { return marked_; }
    /// What objects look like by what their properties are, and the words beside them.
    const render::OtherLooks& otherLooks() const { return looks_; }
    RouteLines& routes() { return routes_; }
    const std::unordered_map<model::Slot, std::string>& badges() const { return badges_; }
    /// What behaviours make objects look like, with what they draw.
    const std::unordered_map<model::Slot, script::Look>& scriptLooks() const { return scriptLooks_; }
    /// The selection with all below it.
    const std::unordered_set<model::Slot>& tinted() const { return tinted_; }
    /// What is being dragged: drawn over the kept picture.
    const std::unordered_set<model::Slot>& lively() const { return lively_; }
    /// Is the soft shading of all meshes in the picture? It comes once it is baked.
    bool isShaded() const { return isShaded_; }
    /// In a drag the hand rests: drawn once with all shadows.
    bool paused() const { return paused_; }
    /// The selection is about to be dragged, and no longer is.
    void startLively();
    void endLively();

    /// The mesh that shows what of an item others bump into.
    base::Name bodyOf(base::Name item);
    /// What shows the bodies of objects that have one of their own, and leaves out what is not solid.
    const render::OtherLooks& bodyLooks();

    /// What objects are in line with along `frame`; null while a large level's is being sorted on a worker.
    const query::FlushIndex* flush(const base::Mat3& frame = base::Mat3(1.0));

  Q_SIGNALS:
    /// The picture must be drawn anew; `sceneMoved`: its shadows too.
    void restaged(bool sceneMoved);
    /// Only what is tinted or dragged has changed. `pose`: it was moved.
    void overChanged(bool moved);

  private:
    /// True: some are others than before.
    bool uploadMeshes();
    void forgetBodies();
    void showBody(base::Name name, const query::MeshIndex* body);
    void startShading();
    void takeShading();
    void showScene();
    void sceneEdited(const edit::SceneDelta& delta);
    void rescanMarked();
    void rescanStates();
    /// The same for some objects only.
    void rescanStates(const std::vector<model::Slot>& slots);
    void scanState(model::Slot s);
    void askBehaviours(std::span<const model::Slot> slots);
    bool putInGuise(model::Slot s, model::Appearance& is, base::Name& item);
    base::Name dressed(model::Slot s, base::Name item, const model::Appearance& is);
    QImage pictureOf(const query::SlotShow& show, double aspect) const;
    double clockSeconds() const;
    void tickClock();
    void setClock();
    void dropUnusedDresses();
    void refreshTinted();

    Editor& editor_;
    GlRenderer renderer_;
    std::unordered_map<base::Name, std::shared_ptr<const shape::Mesh>> uploaded_;  // shared with the workspace
    render::DrawCells cells_;
    std::vector<model::Slot> marked_;
    RouteLines routes_;
    render::OtherLooks looks_;
    std::unordered_map<model::Slot, std::string> badges_;
    std::unordered_map<model::Slot, script::Look> scriptLooks_;
    std::unordered_set<model::Slot> tinted_, lively_;
    /// An object whose slots show other surfaces than its mesh's.
    struct Dress {
        model::DetailPtr detail;
        base::Name item;
        base::Vec3 size{1.0};
        base::Name shown;
        std::string surface, image;  ///< by its state
    };
    std::unordered_map<model::Slot, Dress> dresses_;
    std::unordered_set<base::Name> bodies_;  // those made to show collision
    std::optional<render::OtherLooks> bodyLooks_;
    std::unordered_set<base::Name> dressMeshes_;  // those made for them
    std::unordered_map<base::Name, const model::Kind*> stateKinds_;
    std::unique_ptr<const model::Guise> guise_;  // the one that is shown
    bool paused_ = false, isShaded_ = false;
    QElapsedTimer clock_;      // of looks that move; invalid: it stands
    double clockSeconds_ = 0;  // that it has gone before
    QTimer clockTimer_;
    QElapsedTimer tickedAt_;
    std::vector<bool> clockLooks_;  // of the kinds that look otherwise by it: which looks were on
    QTimer pause_;
    QElapsedTimer shadowClock_;
    std::thread shadingWorker_;
    std::atomic<bool> stopShading_{false};
    std::size_t shaded_ = 0;  // meshes that were there when shading was last begun
    std::unordered_map<base::Name, std::vector<std::uint8_t>> shading_;
    std::shared_ptr<const query::FlushIndex> flush_;  // made on a worker
    std::thread flushWorker_;
    bool flushStale_ = true;
    base::Mat3 flushFrame_{1.0};
};

}  // namespace app
