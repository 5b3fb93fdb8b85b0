#pragma once
// What everything that works in one view has of it: where one looks from, where the pointer is, what lies under it,
// what a drag is caught on and in line with. The view itself keeps the frame and the list of gestures.
#include <QCoreApplication>
#include <QObject>
#include <QPainter>
#include <QPointF>
#include <QWidget>
#include <optional>
#include <string>
#include <vector>

#include "app/shell/editor.h"
#include "app/shell/ghost.h"
#include "app/view/amount_field.h"
#include "app/view/at_rest.h"
#include "app/view/catcher.h"
#include "app/view/sightlines.h"
#include "app/view/stage.h"
#include "render/camera.h"

namespace app {

class ViewContext : public QObject {
    Q_OBJECT
  public:
    ViewContext(Editor& editor, Stage& stage, QWidget& widget);

    Editor& editor;
    Stage& stage;
    QWidget& widget;
    render::Camera camera;  ///< after a change: Q_EMIT cameraMoved()
    QPointF pointer;        ///< pixels, as `pressedAt`: where a button went down
    QPointF pressedAt;
    bool busy = false;  ///< something is in the hand
    Catcher catcher;
    Sightlines lines;
    AtRest rest;
    AmountField amount;

    render::Viewport viewport() const;
    /// A place on the screen; nothing: behind the eye.
    std::optional<QPointF> pixelOf(const base::Vec3& place) const;
    /// Its pixel if that lies in the view, or as far outside as `margin` says.
    std::optional<QPointF> pixelInside(const base::Vec3& place, int margin = 0) const;
    base::Ray rayAt(const QPointF& pixel) const;
    double metresPerPixel(const base::Vec3& at) const { return camera.metresPerPixel(at, viewport()); }

    /// Where something would be placed, and the surface's normal.
    struct Landing {
        base::Vec3 point;
        base::Vec3 normal{0, 1, 0};
    };
    std::optional<Landing> landingAt(const QPointF& pixel) const;
    /// Where something would be placed: the surface under a pixel, else the lattice.
    std::optional<base::Vec3> landingUnder(const QPointF& pixel) const;
    /// What is caught there, else where something would be placed.
    std::optional<base::Vec3> caughtOrLanding(const QPointF& pixel);
    /// How far away what one looks at is, metres: the surface in the middle of the view, else height zero, else 20 m.
    double focusDistance() const;
    /// The object that can be picked under a pixel, a mark before what is behind it; kNoSlot: none.
    model::Slot objectUnder(const QPointF& pixel) const;
    /// What is neither selected nor hidden.
    query::SlotFilter others() const;

    /// A sign of an object without a mesh.
    struct Mark {
        model::Slot slot;
        QPointF at;
        double distance;
        std::size_t others = 0;  ///< so many more lie under it on the screen
    };
    /// The nearer ones go before; those that would lie on one another are one, with their count.
    std::vector<Mark> visibleMarks() const;

    /// The object that lights up because the pointer is on it.
    model::Slot lit() const { return lit_; }
    void light(model::Slot slot);
    const std::optional<Ghost>& ghost() const { return ghost_; }
    /// An item as it would be put down at a place: in the berth near it, if there is one; else turned, sized, raised
    /// and leant on the surface there as is set.
    Ghost ghostAt(const std::string& item, const Landing& at);
    void setGhost(std::optional<Ghost> ghost);
    /// More of them: those of a row.
    const std::vector<Ghost>& moreGhosts() const { return moreGhosts_; }
    void setMoreGhosts(std::vector<Ghost> ghosts);
    /// The object under the pointer, else the one that was last; kNoSlot: none.
    model::Slot pointedObject() const;
    void setPointed(model::Slot slot) { lastPointed_ = editor.scene().id(slot); }

    /// A dotted line in the world, cut off at the eye.
    void line(QPainter& p, base::Vec3 a, base::Vec3 b) const;
    void path(QPainter& p, const std::vector<base::Vec3>& points) const;
    /// A closed circle about `centre`, along two half axes.
    void ring(QPainter& p, const base::Vec3& centre, const base::Vec3& a, const base::Vec3& b) const;
    /// The twelve edges of a box of somebody's own axes.
    void box(QPainter& p, const base::Affine& world, const base::Aabb& box) const;
    /// A short text on a quiet ground, its bottom left corner at a pixel.
    void note(QPainter& p, const QPointF& at, const QString& text) const;

    void update() { widget.update(); }

  Q_SIGNALS:
    void cameraMoved();
    /// What is tinted, hovered or a ghost has changed.
    void overStale();
    /// Something else would act now.
    void hintStale();

  private:
    model::Slot lit_ = model::kNoSlot;
    base::ObjectId lastPointed_;
    std::optional<Ghost> ghost_;
    std::vector<Ghost> moreGhosts_;
};

/// Has the view that it works in at hand.
class InView {
    Q_DECLARE_TR_FUNCTIONS(InView)
  public:
    explicit InView(ViewContext& view) : view_(view), editor_(view.editor), stage_(view.stage) {}

  protected:
    const Theme& theme() const { return editor_.theme(); }
    ViewContext& view_;
    Editor& editor_;
    Stage& stage_;
};

/// Words on a ground of their own, `alpha` of 255 thick.
void paintWords(QPainter& p, const QRectF& box, const QString& text, const Theme& theme, int alpha);
/// The painter writes with letters of this size from now on.
void setLetters(QPainter& p, int pixels, QFont::Weight weight = QFont::Normal);

}  // namespace app
