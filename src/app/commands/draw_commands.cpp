// Drawing solids, and the broom.
#include <QPointer>

#include "app/commands/all.h"
#include "app/dialogs/broom_card.h"
#include "app/dialogs/lay_card.h"
#include "app/dialogs/set_card.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/panels/stock_panel.h"
#include "app/shell/tools.h"
#include "app/view/panes.h"
#include "app/view/view_widget.h"
#include "model/facets/solid.h"
#include "ops/solid.h"

namespace app {

namespace {

class DrawCommands : public Rows {
  public:
    explicit DrawCommands(Shell& shell);

  private:
    void shapeRow(const char* id, const QString& text, const QString& tip, model::Solid::Shape shape, bool winds);
    QPointer<SetCard> setCard_;
};

void DrawCommands::shapeRow(const char* id, const QString& text, const QString& tip, model::Solid::Shape shape,
                            bool winds) {
    toggle(
        id, text, tip, {},
        [this, shape, winds] {
            editor_.change(&Tools::solid, shape);
            editor_.change(&Tools::winds, winds);
            editor_.setTool(Tool::Solid);
            view().setFocus();
        },
        [this, shape, winds] {
            const Tools& t = editor_.tools();
            return t.tool == Tool::Solid && t.solid == shape &&
                   (shape != model::Solid::Shape::Arch || t.winds == winds);
        },
        edits());
}

DrawCommands::DrawCommands(Shell& shell) : Rows(shell) {
    using Shape = model::Solid::Shape;
    const std::tuple<const char*, Shape, QString> shapes[] = {
        {"draw.box", Shape::Box, tr("Drag its footprint on any surface, then its height")},
        {"draw.wedge", Shape::Wedge, tr("A ramp that rises away from where the drag begins")},
        {"draw.cylinder", Shape::Cylinder, tr("Round, as wide and deep as is dragged")},
        {"draw.cone", Shape::Cone, tr("A point over a round footprint")},
        {"draw.sphere", Shape::Sphere, tr("As large as its footprint")},
        {"draw.plane", Shape::Plane, tr("Flat, for grounds and water")},
        {"draw.stairs", Shape::Stairs, tr("Rise away from where the drag begins; steps of about 18 cm")},
        {"draw.wall", Shape::Wall, tr("From where the drag begins to where it ends, 20 cm thick")},
        {"draw.arch", Shape::Arch, tr("Stands over its footprint; its thickness and its pieces are numbers")},
        {"draw.curvedWall", Shape::CurvedWall, tr("A quarter of a ring that lies; its sweep is a number")},
        {"draw.frustum", Shape::Frustum, tr("A box, or with more sides something round, with a smaller top")},
        {"draw.ramp", Shape::Ramp, tr("A slab on a slope: one can go below it")},
        {"draw.torus", Shape::Torus, tr("A ring, or a part of one")},
        {"draw.pipe", Shape::Pipe, tr("Round and open at both ends")},
        {"draw.prism", Shape::Prism, tr("Its footprint is clicked corner by corner")},
        {"draw.room", Shape::Room, tr("A hollow box: floor, ceiling and four walls")}};
    for (const auto& [id, shape, tip] : shapes) shapeRow(id, toQt(ops::solidLabel(shape)), tip, shape, false);
    shapeRow("draw.winding", tr("Winding stairs"), tr("Steps that go round; how far and how high are numbers"),
             Shape::Arch, true);
    toggle("draw.dressed", tr("Draw with the chosen surface"),
           tr("Solids that are drawn get the surface chosen in the Surfaces page"), {}, &Tools::drawsDressed);
    toggle("draw.on", tr("Go on drawing"), tr("After one solid the tool stays in the hand for the next"), {},
           &Tools::drawsOn);
    toggle(
        "draw.broom", tr("Broom"),
        tr("Sweep to scatter, remove, vary, seat, hide, protect or select; wheel: radius, with Shift: "
           "strength"),
        Qt::ALT | Qt::Key_B,
        [this] {
            shell_.broomCard.setItem(shell_.stock.current().toStdString());
            editor_.setTool(editor_.tools().tool == Tool::Broom ? Tool::Slide : Tool::Broom);
            view().setFocus();
        },
        [this] { return editor_.tools().tool == Tool::Broom; }, edits());
    struct Turn {
        const char* id;
        QString text, tip;
        QKeySequence keys;
        double radius, strength;
    };
    const Turn turns[] = {
        {"draw.broomSmaller", tr("Smaller broom"), tr("Its radius; also the wheel"), Qt::ALT | Qt::Key_Minus, 0.8, 0},
        {"draw.broomLarger", tr("Larger broom"), tr("Its radius; also the wheel"), Qt::ALT | Qt::Key_Plus, 1.25, 0},
        {"draw.broomWeaker", tr("Weaker broom"), tr("What share it takes; also Shift+wheel"), Qt::ALT | Qt::Key_Comma,
         1, -0.1},
        {"draw.broomStronger", tr("Stronger broom"), tr("What share it takes; also Shift+wheel"),
         Qt::ALT | Qt::Key_Period, 1, 0.1}};
    for (const Turn& turn : turns)
        verb(
            turn.id, turn.text, turn.tip, turn.keys,
            [this, turn] {
                ops::BroomSettings s = editor_.tools().broom;
                s.radiusMetres = std::clamp(s.radiusMetres * turn.radius, 0.1, 200.0);
                s.strength = std::clamp(s.strength + turn.strength, 0.05, 1.0);
                editor_.change(&Tools::broom, s);
            },
            [this] { return editor_.tools().tool == Tool::Broom; });
    toggle(
        "draw.lay", tr("Lay"),
        tr("Pieces cell by cell: click, drag a rectangle, with Shift a line; Ctrl+click picks up what lies there"),
        Qt::Key_L,
        [this] {
            const bool on = editor_.tools().tool != Tool::Lay;
            editor_.setTool(on ? Tool::Lay : Tool::Slide);
            if (on && editor_.tools().laying.set.empty()) shell_.layCard.setItem(shell_.stock.current().toStdString());
            view().setFocus();
        },
        [this] { return editor_.tools().tool == Tool::Lay; }, edits());
    verb(
        "draw.sets", tr("Sets of pieces…"),
        tr("Which pieces go together when they are laid, and at which sides each goes on"), {},
        [this] { openCard(setCard_, shell_.panes, editor_, shell_.stock.current()); }, edits());
    connect(&shell_.stock, &StockPanel::currentChanged, this, [this](const QString& item) {
        if (editor_.tools().tool == Tool::Broom) shell_.broomCard.setItem(item.toStdString());
        if (setCard_ != nullptr) setCard_->setItem(item.toStdString());
        if (editor_.tools().tool == Tool::Lay) shell_.layCard.setItem(item.toStdString());
    });
}

}  // namespace

RowsPtr drawCommands(Shell& shell) {
    return std::make_unique<DrawCommands>(shell);
}

}  // namespace app
