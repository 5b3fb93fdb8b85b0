// Solids and the broom: which tool is in the hand.
#include "app/dialogs/broom_card.h"
#include "app/shell/main_window.h"
#include "model/facets/solid.h"
#include "ops/solid.h"

namespace app {

void MainWindow::addDrawCommands() {
    using Shape = model::Solid::Shape;
    const std::tuple<const char*, Shape, QString> shapes[] = {
        {"draw.box", Shape::Box, tr("Drag its footprint on any surface, then its height")},
        {"draw.wedge", Shape::Wedge, tr("A ramp that rises away from where the drag begins")},
        {"draw.cylinder", Shape::Cylinder, tr("Round, as wide and deep as is dragged")},
        {"draw.cone", Shape::Cone, tr("A point over a round footprint")},
        {"draw.sphere", Shape::Sphere, tr("As large as its footprint")},
        {"draw.plane", Shape::Plane, tr("Flat, for grounds and water")},
        {"draw.stairs", Shape::Stairs, tr("Rise away from where the drag begins; steps of about 18 cm")},
        {"draw.wall", Shape::Wall, tr("From where the drag begins to where it ends, 20 cm thick")}};
    for (const auto& [id, shape, tip] : shapes)
        commands_->add(
            {id,
             QString::fromUtf8(ops::solidLabel(shape).data()),
             tip,
             {},
             [this, shape = shape] {
                 editor_.change(&Tools::solid, shape);
                 editor_.setTool(Tool::Solid);
                 view_->setFocus();
             },
             [this] { return canEdit(); },
             [this, shape = shape] { return editor_.tools().tool == Tool::Solid && editor_.tools().solid == shape; }});
    commands_->add({"draw.on",
                    tr("Go on drawing"),
                    tr("After one solid the tool stays in the hand for the next"),
                    {},
                    [this] { editor_.change(&Tools::drawsOn, !editor_.tools().drawsOn); },
                    {},
                    [this] { return editor_.tools().drawsOn; }});
    commands_->add({"draw.broom", tr("Broom"),
                    tr("Sweep to scatter, remove, vary, seat, hide, protect or select; wheel: radius, with Shift: "
                       "strength"),
                    Qt::ALT | Qt::Key_B,
                    [this] {
                        broomCard_->setItem(stock_->current().toStdString());
                        editor_.setTool(editor_.tools().tool == Tool::Broom ? Tool::Slide : Tool::Broom);
                        view_->setFocus();
                    },
                    [this] { return canEdit(); }, [this] { return editor_.tools().tool == Tool::Broom; }});
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
        commands_->add({turn.id, turn.text, turn.tip, turn.keys,
                        [this, turn] {
                            ops::BroomSettings s = editor_.tools().broom;
                            s.radiusMetres = std::clamp(s.radiusMetres * turn.radius, 0.1, 200.0);
                            s.strength = std::clamp(s.strength + turn.strength, 0.05, 1.0);
                            editor_.change(&Tools::broom, s);
                        },
                        [this] { return editor_.tools().tool == Tool::Broom; }});
    broomCard_ = new BroomCard(panes_, editor_);
    connect(stock_, &StockPanel::currentChanged, this, [this](const QString& item) {
        if (editor_.tools().tool == Tool::Broom) broomCard_->setItem(item.toStdString());
    });
}

}  // namespace app
