#include "app/walkthrough.h"
#include "app/shell/tools.h"
#include "app/view/gestures/handle.h"
#include "edit/session.h"
#include "render/handle.h"

#include <QDragEnterEvent>
#include <QLineEdit>
#include <QListView>
#include <QMimeData>
#include <QtTest>

namespace test {

using model::Slot;

Walkthrough::Walkthrough(app::MainWindow& window, app::Editor& editor, std::function<void(const QString&)> tell)
    : window_(window), editor_(editor), tell_(std::move(tell)) {}

bool Walkthrough::fetchByTyping() {
    auto* search = window_.findChild<QLineEdit*>("stockSearch");
    search->setFocus();
    search->clear();
    QTest::keyClicks(search, "lan");
    auto* list = window_.findChild<QListView*>("stockList");
    item_ = list->currentIndex().data(app::StockModel::NameRole).toString();
    tell_(QString("typed “lan” in the Stock: %1 found").arg(list->currentIndex().data().toString()));
    return item_ == "lantern-post";
}

bool Walkthrough::dragIntoView() {
    objectsBefore_ = editor_.scene().objectCount();
    app::ViewWidget& view = window_.view();
    const QPoint at(view.width() / 2, view.height() * 2 / 3);
    QMimeData data;
    data.setData(app::kItemMime, item_.toUtf8());
    QDragEnterEvent enter(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&view, &enter);
    QDragMoveEvent move(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&view, &move);
    QDropEvent drop(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&view, &drop);
    if (editor_.selection().size() != 1) return false;
    const Slot s = editor_.scene().find(editor_.selection().front());
    tell_(QString("dragged it into the view: %1 placed, its base at height %2 m")
              .arg(QString::fromStdString(std::string(editor_.scene().nameText(s))))
              .arg(editor_.scene().bounds(s).low.y, 0, 'f', 2));
    return editor_.scene().objectCount() == objectsBefore_ + 1;
}

bool Walkthrough::dragHandle() {
    app::ViewWidget& view = window_.view();
    const Slot s = editor_.scene().find(editor_.selection().front());
    const double before = editor_.scene().world(s).translation.y;
    const auto tip = view.gesture<app::PullHandle>().tip(1);
    if (!tip) return false;
    const QPoint from = tip->toPoint();
    QTest::mouseMove(&view, from);
    QTest::mousePress(&view, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 6; ++i) QTest::mouseMove(&view, from - QPoint(0, 10 * i));
    QTest::mouseRelease(&view, Qt::LeftButton, {}, from - QPoint(0, 60));
    const double rise = editor_.scene().world(s).translation.y - before;
    tell_(QString("dragged the handle up: %1 m, a whole number of steps").arg(rise, 0, 'f', 2));
    const double steps = rise / editor_.tools().step(render::Task::Slide).value;
    return rise > 0.2 && std::abs(steps - std::round(steps)) < 1e-6;
}

bool Walkthrough::typeValue() {
    auto* field = window_.findChild<app::NumberField*>("posePositionX");
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, "-30 + 50 cm");
    QTest::keyClick(field, Qt::Key_Return);
    const Slot s = editor_.scene().find(editor_.selection().front());
    const double x = editor_.scene().local(s).position.x;
    tell_(QString("typed “-30 + 50 cm” for X: it stands at %1 m").arg(x, 0, 'f', 2));
    return std::abs(x + 29.5) < 1e-12;
}

bool Walkthrough::undoAll() {
    int n = 0;
    window_.view().setFocus();
    while (editor_.session().history().undoTarget()) {
        window_.commands().action("edit.undo")->trigger();
        ++n;
    }
    tell_(QString("undid %1 steps").arg(n));
    return n > 0 && editor_.scene().objectCount() == objectsBefore_;
}

bool Walkthrough::redoAll() {
    int n = 0;
    while (editor_.session().history().redoTarget()) {
        window_.commands().action("edit.redo")->trigger();
        ++n;
    }
    tell_(QString("redid %1 steps").arg(n));
    return editor_.scene().objectCount() == objectsBefore_ + 1;
}

bool Walkthrough::save() {
    window_.commands().action("project.save")->trigger();
    window_.finishSaving();
    tell_(QString("saved %1").arg(QString::fromStdString(editor_.sceneName())));
    return !editor_.session().isUnsaved(editor_.sceneName());
}

}  // namespace test
