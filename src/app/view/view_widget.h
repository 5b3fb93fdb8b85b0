#pragma once
// The view: draws the scene, and turns mouse and keys into verbs. Drawing is in view_widget.cpp, what lies over the
// picture in view_paint.cpp, input in view_input.cpp.
#include <QElapsedTimer>
#include <QLineEdit>
#include <QMenu>
#include <QTimer>
#include <QWidget>
#include <algorithm>
#include <array>
#include <memory>
#include <optional>
#include <set>
#include <unordered_set>
#include <variant>

#include <QToolButton>
#include "app/shell/editor.h"
#include "app/view/stage.h"
#include "io/image_head.h"
#include "model/facets/array.h"
#include "model/facets/surfaces.h"
#include "ops/array.h"
#include "ops/facets.h"
#include "ops/move.h"
#include "ops/seat.h"
#include "ops/solid.h"
#include "query/catch.h"
#include "query/measure.h"
#include "query/region.h"
#include "render/handle.h"
#include "script/said.h"
#include "shape/solid.h"

namespace app {

/// The kind of thing a drag from the Stock carries: the item's name, UTF-8.
inline constexpr const char* kItemMime = "application/x-mellow-item";

/// What of a box is dragged: -1 the low side, 1 the high one along each axis; two of them an edge, three a corner.
struct Grip {
    std::array<int, 3> way{0, 0, 0};
    int axes() const {
        return static_cast<int>(std::count_if(way.begin(), way.end(), [](int w) { return w != 0; }));
    }
    friend bool operator==(const Grip&, const Grip&) = default;
};

/// Which way a pane looks: Free as one likes, the others orthographic along a world axis.
enum class PaneSide { Free, Top, Front, Back, Left, Right };
QString paneSideName(PaneSide side);

class ViewWidget : public QWidget {
    Q_OBJECT
  public:
    /// `pane` tells it from the others of the stage.
    ViewWidget(Editor& editor, Stage& stage, int pane = 0, QWidget* parent = nullptr);
    ~ViewWidget() override;

    const render::Camera& camera() const { return camera_; }
    void setCamera(const render::Camera& camera);
    /// Goes there in a moment, or at once where that is switched off.
    void jumpTo(const render::Camera& camera);
    render::Viewport viewport() const;
    PaneSide side() const { return side_; }
    /// Looks that way at what it looked at before.
    void setSide(PaneSide side);

    /// Stands at eye height on what is under the pointer and walks with W A S D; again: back to where one looked from.
    void toggleWalk();
    bool isWalking() const { return walk_.has_value(); }
    /// Sees what a camera object sees; its field of view is kept until the next jump.
    /// What a click at a pixel would take.
    model::Slot wholeAt(const QPointF& pixel) const {
        const model::Slot under = objectUnder(pixel);
        return under == model::kNoSlot ? under : editor_.wholeOf(under);
    }
    /// Goes into the one group that is selected; what has nothing in it shows its properties.
    void enterSelected();
    void lookThrough(model::Slot camera);
    /// The point under the pointer, or in the middle of the view.
    std::optional<base::Vec3> pointedAt() const;
    /// All that was measured, as lines of text; empty when nothing was.
    QString measureText() const;
    void clearMeasure() {
        measure_ = {};
        update();
    }
    /// The object under the pointer, else the one that was last; kNoSlot: none.
    model::Slot pointedObject() const;
    /// Shows for a moment what is selected, wherever it is.
    void pulseSelection();
    /// How far away what one looks at is, metres: the surface in the middle of the view, else height zero, else 20 m.
    double focusDistance() const;

    /// Brings the selection (or, without one, the whole scene) into view; again: back.
    void bringIntoView();
    /// The same, but never back.
    void showSelection();
    /// Where an item placed from the keyboard lands: on what the middle of the view shows.
    base::Vec3 placeInFront() const;
    /// Where the pointer would place something: the surface under it, else the lattice.
    std::optional<base::Vec3> landingUnder(const QPointF& pixel) const;
    bool pointerInside() const { return underMouse(); }
    QPointF pointer() const { return pointer_; }
    /// Does what the active handle does, by one step along (or about) the axis nearest a direction on the screen.
    void nudge(Qt::Key key, Qt::KeyboardModifiers modifiers);
    /// Opens the field of the readout: an exact amount for the active axis, in a drag too.
    void typeAmount();
    /// What the present drag is in line with.
    const std::vector<query::Flush>& inLine() const { return flush_; }
    bool isDragging() const {
        return drag_ != nullptr || carry_.has_value() || boxFrom_.has_value() || drawing_ != nullptr ||
               sweeping_ != nullptr || arrayPull_ != nullptr || facetPull_ != nullptr || !zoneCorners_.empty();
    }
    /// Takes back what the mouse is doing. False when it does nothing.
    bool cancel();
    /// The handle's place on the screen: pixel of an axis' end (Turn: of the middle of its ring's front), for tests
    /// and help.
    std::optional<QPointF> handleTip(int axis, render::Task task = render::Task::Slide) const;
    /// The pixel of a side's grip (axis * 2, and 1 for the high side), with the fit handle.
    std::optional<QPointF> sideGrip(int side) const;
    /// Where grips of the selected box have room and are shown.
    std::vector<QPointF> shownGripPixels() const;
    /// What is told at the top of the view of the drag that ended last.
    const QStringList& told() const { return flushAfter_; }
    /// Where copies of the selected array that were changed by hand are marked.
    std::vector<QPointF> oddCopyMarks() const;
    /// The pixel of a grip of the selected array, in the order of ops::arrayGrips().
    std::optional<QPointF> arrayGripPixel(const ops::ArrayGrip& grip) const;
    /// The pixel of a point, a zone's grip or a script's handle of the selected object, in that order.
    std::optional<QPointF> facetGripPixel(std::size_t index) const;
    double lastFrameMs() const { return lastFrameMs_; }
    std::size_t lastDrawn() const { return list_.drawn; }
    /// Draws now, whatever is pending; for pictures and measurements.
    QImage drawNow();

  Q_SIGNALS:
    void cameraChanged();
    /// Someone works in this pane.
    void activated();
    /// The menu of the caption is about to open.
    void captionMenu(QMenu* menu);

  protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void enterEvent(QEnterEvent* event) override;
    void leaveEvent(QEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void keyReleaseEvent(QKeyEvent*) override;
    void focusOutEvent(QFocusEvent*) override;
    bool event(QEvent*) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dragMoveEvent(QDragMoveEvent*) override;
    void dragLeaveEvent(QDragLeaveEvent*) override;
    void dropEvent(QDropEvent*) override;

  private:
    struct Mark {
        model::Slot slot;
        QPointF at;
        double distance;
    };
    struct Ghost {
        std::string item;
        base::Vec3 position;
    };
    /// The selection in the hand: it slides over what is there and stays seated by its lowest points.
    struct Carry {
        QPointF fromPointer;       ///< from the pointer to where its base appeared, pixels
        query::FallingBody body;   ///< where it stood; of one with very many triangles only the lowest
        query::FallingBody whole;  ///< all of such a one
        base::Vec3 offset{0.0};
        double radians = 0, raised = 0;  ///< by wheel, with Shift
        base::Mat3 turn{1.0};            ///< what came of it
        bool seated = false;
        Qt::KeyboardModifiers modifiers;  ///< of the last move of the mouse: those of the wheel mean something else
    };
    /// A solid on its way: its footprint, and once that stands, its height.
    struct Drawing {
        std::unique_ptr<edit::Draft> draft;
        base::ObjectId id;
        ops::SolidDrawing what;
        bool rising = false;
    };
    /// The broom from press to release.
    struct Sweeping {
        std::unique_ptr<edit::Draft> draft;
        std::unique_ptr<ops::Broom> broom;
        std::optional<base::Vec3> last;
    };
    /// An array's grip in the hand.
    struct ArrayPull {
        base::ObjectId id;
        ops::ArrayGrip grip;
        model::Array now;
        std::optional<model::Scene> before;  ///< a snapshot from when it was taken
        std::unique_ptr<edit::Draft> draft;
    };
    /// One that a behaviour gives an object: its number among them.
    struct ScriptHandle {
        std::size_t index = 0;
        friend bool operator==(const ScriptHandle&, const ScriptHandle&) = default;
    };
    /// A point, part of a zone, or a script's handle, that can be dragged.
    struct FacetGrip {
        std::variant<std::size_t, ops::ZoneGrip, ScriptHandle> what;
        base::Vec3 at{0.0};
        bool isPoint() const { return std::holds_alternative<std::size_t>(what); }
        friend bool operator==(const FacetGrip&, const FacetGrip&) = default;
    };
    /// A slot of an object's mesh, under what is dragged in from elsewhere.
    struct SlotUnder {
        model::Slot object;
        std::size_t slot;
    };
    struct FacetPull {
        base::ObjectId id;
        FacetGrip grip;
        std::optional<model::Scene> before;  ///< a snapshot from when it was taken
        std::unique_ptr<edit::Draft> draft;
    };
    enum class Mouse { Idle, Orbit, Pan, Look };

    void showScene();
    void sceneEdited();
    /// The picture must be drawn anew; `sceneMoved`: its shadows too.
    void restage(bool sceneMoved);
    /// Only what is tinted, hovered, dragged or a ghost has changed.
    void restageOver();
    render::Detail detail() const;
    void collectOver(const render::Detail& detail);
    void cameraMoved();
    void drawFrame();
    void adapt();
    std::vector<DrawnLight> lights() const;
    std::optional<DrawnLight> lampOnSelection() const;
    std::vector<Mark> visibleMarks() const;
    const ops::Mover* idleMover() const;
    std::optional<render::Handle> handle() const;
    render::HandlePart typedPart() const;
    double viewDepthOf(const base::Vec3& p) const;

    void paintBrackets(QPainter& p) const;
    void paintBracketsOf(QPainter& p, const base::Aabb& box, const QColor& colour, const QString& name) const;
    void paintMarks(QPainter& p) const;
    void paintHandle(QPainter& p) const;
    void paintRings(QPainter& p, const render::Handle& h, const render::HandlePart& active) const;
    void paintPlanes(QPainter& p, const render::Handle& h, const render::HandlePart& active) const;
    void paintAxis(QPainter& p, const render::Handle& h, render::Task task, int axis,
                   const render::HandlePart& active) const;
    base::Vec3 placeNow(const base::Vec3& together) const;
    QString amountText() const;
    void paintReadout(QPainter& p) const;
    void paintShape(QPainter& p) const;
    void paintDirections(QPainter& p) const;
    void paintScaleBar(QPainter& p) const;
    void paintReach(QPainter& p) const;
    void paintLabels(QPainter& p) const;
    void paintPulse(QPainter& p) const;
    QString labelOf(model::Slot slot) const;
    void paintInset(QPainter& p);
    void drawInset();
    model::Slot insetCamera() const;
    std::array<QColor, 3> sky() const;
    void refreshCaption();
    void glideOn();
    void walkOn(double seconds);
    render::Camera cameraOf(model::Slot slot) const;

    void hover(const QPointF& pixel);
    model::Slot objectUnder(const QPointF& pixel) const;
    /// What a click selects: what is under it; once more at the same place: what lies behind that.
    model::Slot clickedObject(const QPointF& pixel);
    void press(QMouseEvent* event);
    bool startHandle(const render::Handle& handle, const render::HandlePart& part);
    void dragHandle(const QPointF& pixel, Qt::KeyboardModifiers modifiers);
    base::Status applyAmount(edit::Draft& draft, const ops::Mover& mover, const render::HandlePart& part,
                             const render::HandleAmount& amount);
    base::Result<render::HandleAmount> typedAmount(const QString& text) const;
    base::Status leanOnto(const query::CatchPoint& caught);
    void openAmountField(const QString& what, const QPointF& at);
    void acceptTyped();
    void wrapPointer();
    base::Mat3 viewAxes() const;
    std::string taskName(const render::HandlePart& part, const ops::Mover& mover) const;
    void finishHandle();
    bool beginDrag(const std::string& verb);
    std::optional<base::Affine> sideBox() const;
    std::optional<QPointF> gripPixel(const Grip& grip) const;
    struct ShownGrip {
        Grip grip;
        QPointF at;
        double depth;
    };
    std::vector<ShownGrip> shownGrips() const;
    std::optional<Grip> gripUnder(const QPointF& pixel) const;
    bool startGrip(const Grip& grip);
    void dragGrip(const QPointF& pixel, Qt::KeyboardModifiers modifiers);
    void lineUpGrip(base::Vec3& offset);
    QString gripText() const;
    void paintSides(QPainter& p) const;
    std::optional<base::Vec3> measurePoint(const QPointF& pixel) const;
    void measureHover(const QPointF& pixel);
    void addMeasurePoint(const QPointF& pixel);
    void paintMeasure(QPainter& p) const;
    std::optional<base::Vec3> onDrawingPlane(const QPointF& pixel) const;
    double leastDrawn() const;
    std::optional<base::Vec3> wallAt(const base::Vec3& place) const;
    std::optional<double> raisedTo(const QPointF& pixel) const;
    base::Status closeCorners(Drawing& drawing) const;
    void typeDrawing();
    void acceptDrawing();
    bool startDrawing(const QPointF& pixel);
    bool applyDrawing();
    void moveDrawing(const QPointF& pixel, Qt::KeyboardModifiers modifiers);
    void releaseDrawing(const QPointF& pixel);
    void finishDrawing();
    void paintDrawing(QPainter& p) const;
    std::vector<ops::ArrayGrip> arrayGrips() const;
    mutable std::optional<std::vector<base::ObjectId>> oddCopies_;  ///< of the selected array; nothing: not looked yet
    std::optional<ops::ArrayGrip> arrayGripUnder(const QPointF& pixel) const;
    void startArrayPull(const ops::ArrayGrip& grip);
    std::optional<base::Vec3> arrayPoint(const QPointF& pixel) const;
    void moveArrayPull(const QPointF& pixel, Qt::KeyboardModifiers modifiers);
    void finishArrayPull();
    void paintArray(QPainter& p) const;
    std::vector<FacetGrip> facetGrips() const;
    std::optional<FacetGrip> facetGripUnder(const QPointF& pixel) const;
    void startFacetPull(const FacetGrip& grip);
    std::optional<base::Vec3> facetPlace(const QPointF& pixel);
    void moveFacetPull(const QPointF& pixel, Qt::KeyboardModifiers modifiers);
    void finishFacetPull();
    void placePoint(const QPointF& pixel);
    void placeZoneCorner(const QPointF& pixel);
    void finishZone();
    void worldPath(QPainter& p, const std::vector<base::Vec3>& points) const;
    /// Collision shapes are those of the items themselves.
    const render::OtherLooks& looksIn(Paint paint) const {
        static const render::OtherLooks none;
        return paint == Paint::Collision ? none : stage_.otherLooks();
    }
    std::optional<SlotUnder> slotUnder(const QPointF& pixel) const;
    void dropOnSlot(const SlotUnder& on, bool all, const std::string& what,
                    const std::function<void(model::SlotSurface&)>& edit,
                    const std::function<base::Status(edit::Draft&)>& first = {});
    void dropImage(const SlotUnder& on, bool all, const QString& file);
    void useImage(base::ObjectId object, std::size_t slot, bool all, const QString& file,
                  const base::Result<std::string>& bytes);
    void useSmallerCopy(base::ObjectId object, std::size_t slot, bool all, const QString& file,
                        const io::ImageHead& head);
    void paintDropOn(QPainter& p) const;
    void paintFacets(QPainter& p) const;
    void paintScripts(QPainter& p) const;
    void paintFindings(QPainter& p) const;
    void paintMark(QPainter& p, const script::Mark& mark) const;
    void collectScriptGhosts();
    void appendScriptHandles(std::vector<FacetGrip>& grips) const;
    void paintZone(QPainter& p, model::Slot s, bool chosen) const;
    void paintPoints(QPainter& p, model::Slot s, bool chosen) const;
    void paintBody(QPainter& p, model::Slot s) const;
    void paintFacetGrips(QPainter& p) const;
    void paintZoneDrawing(QPainter& p) const;
    base::Vec3 linkEnd(model::Slot slot) const;
    model::Slot linkTargetUnder(const QPointF& pixel) const;
    void hoverLink(const QPointF& pixel);
    std::vector<ops::Link> shownLinks() const;
    void paintLinks(QPainter& p) const;
    void paintBadges(QPainter& p) const;
    void paintLinkTargets(QPainter& p) const;
    void startSweep();
    void sweepOn();
    void finishSweep();
    void hoverBroom(const QPointF& pixel);
    void wheelBroom(double notches, Qt::KeyboardModifiers modifiers);
    void paintBroom(QPainter& p) const;
    double hiddenShare(const render::Camera& camera, const base::Aabb& box) const;
    render::Camera cameraRound(const base::Aabb& box) const;
    void paintBasePoint(QPainter& p) const;
    void paintLetter(QPainter& p, const QPointF& at, int axis, const QColor& ink) const;
    void paintDrops(QPainter& p);
    /// A short text on a quiet ground, its bottom left corner at a pixel.
    void paintNote(QPainter& p, const QPointF& at, const QString& text) const;
    /// What a drag may be caught on: others, hidden and protected ones as set.
    query::SlotFilter caughtOn() const;
    bool catches() const;
    bool startCarry();
    void dragCarry(const QPointF& pixel, Qt::KeyboardModifiers modifiers);
    std::optional<double> fallOfCarried(const query::FallingBody& body) const;
    void settleCarried();
    base::Result<ops::Mover> beginPull();
    void wheelCarry(double notches, Qt::KeyboardModifiers modifiers);
    QString seatedText() const;
    void collectFeatures();
    void lineUp(base::Vec3& offset, const std::array<bool, 3>& along);
    void setLineFrame(const base::Mat3& axes);
    base::Aabb boxInFrame() const;
    QString flushText(const query::Flush& flush, int decimals) const;
    void rememberFlush();
    void forgetFlush();
    void worldLine(QPainter& p, base::Vec3 a, base::Vec3 b) const;
    void paintFlush(QPainter& p) const;
    void paintPierced(QPainter& p) const;
    void paintRing(QPainter& p, const query::SceneHit& hit, const QColor& ink) const;
    std::optional<query::CatchPoint> catchUnder(const QPointF& pixel) const;
    /// The offset that puts the selection's nearest feature on what is caught, as far as the part allows.
    base::Vec3 caughtOffset(const base::Vec3& raw, const render::HandlePart& part, const base::Mat3& axes) const;
    render::Steps dragSteps(Qt::KeyboardModifiers modifiers) const;
    void dragAgain();
    void paintCaught(QPainter& p) const;
    void click(const QPointF& pixel, Qt::KeyboardModifiers modifiers);
    QPolygonF drawnShape() const;
    std::unordered_set<model::Slot> seenIn(const query::Region& region) const;
    std::vector<base::ObjectId> wholesOf(const std::vector<model::Slot>& inside) const;
    void openAt(const QPointF& pixel);
    bool groupSelected() const;
    std::vector<base::ObjectId> objectsIn(const query::Region& region) const;
    void finishShape(Qt::KeyboardModifiers modifiers);
    void fly();
    void updateHint();
    void setGhost(std::optional<Ghost> ghost);

    Editor& editor_;
    Stage& stage_;
    int pane_;
    PaneSide side_ = PaneSide::Free;
    QToolButton* caption_;
    render::Camera camera_, free_;  // `free_`: the last one of this pane in perspective
    render::Camera glideFrom_, glideTo_;
    QTimer glideTimer_;
    QElapsedTimer glideClock_;
    std::optional<render::Camera> walk_;  // where one looked from before walking
    QImage inset_;
    bool insetStale_ = true;
    QElapsedTimer pulse_;
    QTimer pulseTimer_;
    std::optional<render::Camera> cameraBefore_;
    std::vector<base::ObjectId> brought_;  // the selection that was brought into view from there
    render::DrawList list_, over_;
    QImage image_;
    bool stale_ = true;
    bool shadowsChanged_ = true;
    bool stillKept_ = false;  // the renderer has a picture of list_ from this camera
    bool moving_ = false;
    double bias_ = 1.0;        // coarseness of detail while the camera moves
    double resolution_ = 1.0;  // share of the view's pixels, each way, drawn while the camera moves
    double lastFrameMs_ = 0;
    QTimer rest_;
    model::Slot hovered_ = model::kNoSlot;
    base::ObjectId lastPointed_;  // the last one that was hovered
    render::HandlePart hoveredPart_, lastPart_{render::Task::Slide, 0};

    Mouse mouse_ = Mouse::Idle;
    QPointF pointer_, pressedAt_;
    std::vector<model::Slot> cycle_;  // all under the last click, nearest first
    QPointF cycleAt_{-1e9, -1e9};
    std::size_t cycleNext_ = 0;
    base::Vec3 pivot_{0.0};
    std::optional<QPointF> boxFrom_;
    QPolygonF lasso_;
    bool pressed_ = false;
    std::unique_ptr<edit::Draft> draft_;
    std::unique_ptr<render::HandleDrag> drag_;
    std::optional<render::Camera> follows_;  // the camera travels along: where it was when the drag began
    std::optional<ops::Mover> mover_;
    render::HandleAmount amount_;
    base::Vec3 startUp_{0, 1, 0};      // of the object selected last, when a drag began
    std::optional<Grip> grip_;         // being dragged; the opposite one stays
    std::optional<Grip> hoveredGrip_;  // under the pointer
    base::Vec3 gripLengths_{0.0};      // of the box when the drag began, metres
    query::Measure measure_;
    std::optional<base::Vec3> measureNext_;
    std::array<std::vector<ops::SeatDrop>, 2> drops_;  // of the selection: as one sees it, and by collision shapes
    bool dropsKnown_ = false;
    std::optional<Carry> carry_;
    std::set<int> heldKeys_;                   // digits: what to catch; G: off the steps
    std::optional<query::CatchPoint> caught_;  // what the drag is caught on
    bool pulls_ = false;                       // pressed with Ctrl: a copy is dragged
    bool dragged_ = false;                     // this press moved far enough to mean a drag
    std::optional<std::pair<std::vector<base::ObjectId>, base::Affine>> pulledFrom_;  // originals, where the first is
    base::Mat3 lineFrame_{1.0};        // the directions lines are looked for along
    base::Aabb lineBox_;               // of what is dragged when it began, along them
    std::vector<query::Flush> flush_;  // what is in line in this drag
    QStringList flushAfter_;           // and after it, for a few seconds
    QTimer flushFade_;
    std::vector<base::Vec3> features_;  // of the selection when the drag began: what may land on it
    QPointF wrapped_;                   // how far the pointer was set back at the view's edges
    bool atLimit_ = false;              // sizing has come to a kind's limit
    QLineEdit* amountField_ = nullptr;
    mutable std::optional<ops::Mover> idleMover_;  // of the selection as it stands; made when asked for
    mutable std::optional<base::Affine> idleBox_;  // with the fit handle: whose sides can be dragged
    mutable bool idleKnown_ = false;
    std::optional<Ghost> ghost_;
    std::unique_ptr<Drawing> drawing_;
    std::unique_ptr<Sweeping> sweeping_;
    std::unique_ptr<ArrayPull> arrayPull_;
    std::optional<ops::ArrayGrip> hoveredArrayGrip_;
    std::unique_ptr<FacetPull> facetPull_;
    std::optional<FacetGrip> hoveredFacet_;
    std::optional<SlotUnder> dropOn_;
    mutable std::unordered_map<base::Name, shape::Mesh> hulls_;  // of bodies that were looked at
    std::vector<base::Vec3> zoneCorners_;                        // of a polygon on its way
    std::optional<base::Vec3> broomAt_;
    std::set<int> flyKeys_;
    double flySpeed_ = 8.0;
    QTimer flyTimer_;
    QElapsedTimer flyClock_;
};

}  // namespace app
