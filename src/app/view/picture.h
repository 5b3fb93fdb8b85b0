#pragma once
// The picture of the scene in a view: drawn when it is stale, coarser while the camera moves, kept while it rests. What
// is tinted, hovered, dragged or a ghost is drawn over a picture that may have been kept.
#include <QImage>
#include <QTimer>
#include <array>
#include <vector>

#include "app/view/gl_renderer.h"
#include "app/view/looks.h"
#include "app/view/view_context.h"
#include "render/draw_list.h"

namespace app {

class Picture : public QObject {
    Q_OBJECT
  public:
    /// `pane` tells it from those of other views.
    Picture(ViewContext& view, int pane);

    /// The picture as it is now.
    const QImage& image();
    /// Draws now, whatever is pending; for pictures and measurements.
    const QImage& draw();
    /// The picture must be drawn anew; `sceneMoved`: its shadows too.
    void restage(bool sceneMoved);
    /// Only what is over it has changed.
    void restageOver(bool moved = false);
    void cameraMoved();
    double lastMs() const { return lastMs_; }
    std::size_t lastDrawn() const { return list_.drawn; }

    static std::array<QColor, 3> sky(const Editor& editor);

  private:
    render::Detail detail() const;
    void collectAll(const render::Detail& detail, bool apart);
    void collectGhost(const Ghost& ghost);
    void collectOver(const render::Detail& detail);
    std::vector<DrawnLight> lights() const;
    std::optional<DrawnLight> lampOnSelection() const;
    void adapt();

    ViewContext& view_;
    Editor& editor_;
    Stage& stage_;
    int pane_;
    render::DrawList list_, over_;
    QImage image_;
    bool stale_ = true;
    bool shadowsChanged_ = true;
    bool stillKept_ = false;  ///< the renderer has a picture of list_ from this camera
    bool moving_ = false;
    double bias_ = 1.0;        ///< coarseness of detail while the camera moves
    double resolution_ = 1.0;  ///< share of the view's pixels, each way, drawn while the camera moves
    double lastMs_ = 0;
    QTimer rest_;
};

}  // namespace app
