// Copies: pulled again, mirrored, arrays.
#include <QDockWidget>

#include "app/commands/all.h"
#include "app/commands/arranging.h"
#include "app/names.h"
#include "app/panels/properties_panel.h"
#include "app/shell/asking.h"
#include "app/shell/go_on.h"
#include "app/shell/tools.h"
#include "edit/session.h"
#include "model/facets/array.h"
#include "ops/array.h"
#include "ops/copies.h"
#include "ops/objects.h"
#include "render/handle.h"

namespace app {

namespace {

class CopyCommands : public Arranging {
  public:
    explicit CopyCommands(Shell& shell);

  private:
    void copyAgain();
    void rememberArray();
    void makeArray(model::Array::Shape shape, const std::optional<base::Vec3>& about);
};

CopyCommands::CopyCommands(Shell& shell) : Arranging(shell) {
    verb(
        "edit.goOn", tr("Go on like this"),
        tr("After two like things that were placed or copied: the next of their row, which is shown"), Qt::Key_R,
        [this] { editor_.goOn().take(); }, [this] { return canEdit() && editor_.goOn().offers(); });
    verb(
        "edit.copyAgain", tr("Copy again the same way"),
        tr("One more copy, moved and turned as the last one was pulled (drag with Ctrl)"),
        Qt::CTRL | Qt::SHIFT | Qt::Key_D, [this] { copyAgain(); },
        [this] { return canEdit() && hasSelection() && editor_.lastPull(); });
    const QString mirrors[] = {tr("Mirror left and right (X)"), tr("Mirror top and bottom (Y)"),
                               tr("Mirror front and back (Z)")};
    const char* ids[] = {"edit.mirrorX", "edit.mirrorY", "edit.mirrorZ"};
    for (int axis = 0; axis < 3; ++axis)
        addArranging(
            ids[axis], mirrors[axis], tr("Makes the mirror image, about what stays put in a turn"), {}, tr("Mirror"),
            [this, axis](edit::Draft& draft) -> base::Status {
                auto mover = ops::Mover::begin(draft.scene(), editor_.selection());
                if (!mover) return tl::unexpected(mover.error());
                mover->setPicked(editor_.tools().pickedPivot);
                return ops::mirror(draft, editor_.selection(), axis, mover->pivot(editor_.tools().pivot));
            },
            changes());
    connect(&editor_, &Editor::sceneEdited, this, [this] { rememberArray(); });
    using Shape = model::Array::Shape;
    const std::tuple<const char*, QString, QString, Shape> arrays[] = {
        {"array.row", tr("Row of copies"), tr("Repeats the selection in a line"), Shape::Row},
        {"array.grid", tr("Grid of copies"), tr("Repeats the selection along three axes"), Shape::Grid},
        {"array.ring", tr("Ring of copies"), tr("Repeats the selection round where it stands"), Shape::Ring}};
    for (const auto& [id, text, tip, shape] : arrays)
        verb(
            id, text, tip + tr("; count and spacing are then in Properties, until it is baked"), {},
            [this, wanted = shape] { makeArray(wanted, {}); }, changes());
    verb(
        "array.ringAbout", tr("Ring round a point"),
        tr("Repeats the selection round the point that is clicked next; the original stays where it is"), {},
        [this] {
            editor_.asking().askPoint([this](const base::Vec3& at) {
                editor_.asking().askPoint({});
                makeArray(Shape::Ring, at);
            });
        },
        changes());
    verb(
        "array.alike", tr("Make all copies alike"),
        tr("Every copy of the array becomes like the first one again; deleted ones come back"), {},
        [this] {
            const auto selected = editor_.selection();
            editor_.run("Make copies alike in " + ops::describe(editor_.scene(), selected),
                        [&](edit::Draft& d) { return ops::alikeArray(d, selected); });
        },
        changes());
    connect(&shell_.properties, &PropertiesPanel::alikeAsked, commands_->action("array.alike"), &QAction::trigger);
    verb(
        "array.bake", tr("Bake the array"),
        tr("Makes a plain group of it: its objects stay and can be changed one by one"), {},
        [this] {
            const auto selected = editor_.selection();
            editor_.run("Bake " + ops::describe(editor_.scene(), selected),
                        [&](edit::Draft& d) { return ops::bakeArray(d, selected); });
        },
        changes());
}

/// The one that is selected was made or changed: the next of its shape begins so.
void CopyCommands::rememberArray() {
    if (!editor_.isOpen() || editor_.selection().size() != 1) return;
    const Slot s = editor_.scene().find(editor_.selection().front());
    const model::Array* array = s != kNoSlot ? editor_.scene().facet<model::Array>(s) : nullptr;
    if (array == nullptr) return;
    auto all = editor_.tools().arrays;
    model::Array& kept = all[static_cast<std::size_t>(array->shape)];
    if (kept == *array) return;
    kept = *array;
    kept.unknown = {};
    kept.places.clear();
    editor_.change(&Tools::arrays, all);
}

void CopyCommands::copyAgain() {
    const auto ids = editor_.selection();
    editor_.run("Copy again " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) -> base::Status {
        auto made = ops::copyMoved(draft, ids, *editor_.lastPull());
        if (!made) return tl::unexpected(made.error());
        editor_.session().select(*made);
        return {};
    });
}

/// Side by side to begin with, else like the last one of its shape; Properties then has the numbers.
void CopyCommands::makeArray(model::Array::Shape shape, const std::optional<base::Vec3>& about) {
    const auto ids = editor_.selection();
    base::Aabb box;
    for (base::ObjectId id : ids)
        if (const model::Slot s = editor_.scene().find(id); s != model::kNoSlot)
            box.add(editor_.scene().subtreeBounds(s));
    const base::Vec3 size = glm::max(box.size(), base::Vec3(editor_.tools().step(render::Task::Slide).value));
    model::Array array = editor_.tools().arrays[static_cast<std::size_t>(shape)];
    array.spacing = shape == model::Array::Shape::Row ? base::Vec3(size.x, 0, 0) : size;
    array.radiusMetres = std::max(size.x, size.z) * 1.5;
    const bool done =
        editor_.run("Array of " + ops::describe(editor_.scene(), ids), [&](edit::Draft& d) -> base::Status {
            auto made = ops::makeArray(d, ids, array, about);
            if (!made) return tl::unexpected(made.error());
            editor_.session().select({*made});
            return {};
        });
    if (done) shell_.propertiesDock.show();
}

}  // namespace

RowsPtr copyCommands(Shell& shell) {
    return std::make_unique<CopyCommands>(shell);
}

}  // namespace app
