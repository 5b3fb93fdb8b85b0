// What is roughed out by hand: rooms of walls, heights from above, typed sizes, arrays with exceptions, editions.
#include <QAbstractButton>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QTreeWidget>

#include "app/dialogs/kinds_window.h"
#include "app/shell/asking.h"
#include "app/shell/tools.h"
#include "app/view/gestures/pull_array.h"
#include "app/window_fixture.h"
#include "edit/session.h"
#include "model/facets/array.h"
#include "model/facets/solid.h"
#include "model/facets/surfaces.h"
#include "ops/array.h"
#include "ops/objects.h"
#include "ops/prefab.h"
#include "support/test_main.h"

namespace window_build_test {

using base::ObjectId;
using base::Vec3;

class WindowBuildTest : public WindowFixture {
    Q_OBJECT
    const model::Scene& scene() { return editor_->scene(); }
    edit::Session& session() { return editor_->session(); }
    ObjectId selected() { return editor_->selection().size() == 1 ? editor_->selection()[0] : ObjectId{}; }
    const model::Solid& solid(ObjectId id) { return *scene().facet<model::Solid>(scene().find(id)); }
    base::Aabb box(ObjectId id) { return scene().bounds(scene().find(id)); }
    template <class W>
    W* child(const char* name) {
        return window_->findChild<W*>(name);
    }
    /// Types into the field in the view and accepts.
    void typeInView(const char* text) {
        QTest::keyClick(&view(), Qt::Key_Tab);
        auto* field = child<QLineEdit>("amountField");
        QVERIFY(field != nullptr && field->isVisible() && window_->focusWidget() == field);
        QTest::keyClicks(field, text);
        QTest::keyClick(field, Qt::Key_Return);
    }
    /// A wall between two places, its height given by the mouse above the last one.
    ObjectId wall(const QPoint& from, const QPoint& to) {
        run("draw.wall");
        drag(from, to);
        QTest::mouseMove(&view(), to - QPoint(0, 50));
        QTest::mouseClick(&view(), Qt::LeftButton, {}, to - QPoint(0, 80));
        return selected();
    }
    ObjectId row(ObjectId of) {
        editor_->select({of});
        run("array.row");
        return selected();
    }
    ops::Ids children(ObjectId id) {
        ops::Ids all;
        for (Slot s = scene().firstChild(scene().find(id)); s != kNoSlot; s = scene().nextSibling(s))
            all.push_back(scene().id(s));
        return all;
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-build-test"); }
    void init() {
        openFreshCopy();
        QTest::keyClick(window_.get(), Qt::Key_Escape);
    }
    void cleanup() { closeWindow(); }

    void aRoomOfWallsClosesAtItsCorners() {
        const std::string before = bytes();
        lookAtGround();
        const Vec3 a(-42, 0, 41), b(-38, 0, 41), c(-38, 0, 38);
        const ObjectId first = wall(pixel(a), pixel(b));
        QVERIFY(first && solid(first).shape == model::Solid::Shape::Wall);
        const base::Aabb was = box(first);
        QVERIFY(was.size().y > 0.5);
        // Begun on its top, near its end: the new one stands on the same floor, and closes the corner.
        const double along = (was.low.z + was.high.z) / 2;
        const Vec3 top(was.high.x - 0.05, was.high.y, along);
        const ObjectId second = wall(pixel(top), pixel(c));
        QVERIFY(second && second != first);
        QVERIFY(std::abs(box(second).low.y - was.low.y) < 1e-5);
        QVERIFY(std::abs(box(second).high.z - was.high.z) < 1e-5);
        QVERIFY(std::abs(box(second).high.x - was.high.x - 0.1) < 1e-5);
        QCOMPARE(box(first).low, was.low);
        // Led to the other end of the first one.
        const ObjectId third = wall(pixel({-42, 0, 38}), pixel({was.low.x + 0.03, was.low.y, along - 0.03}));
        QVERIFY(std::abs(box(third).high.z - was.high.z) < 1e-5);
        for (int i = 0; i < 3; ++i) QVERIFY(session().undo());
        QCOMPARE(bytes(), before);
    }
    void heightIsDraggedAwayFromTheFootprintInTheTopPane() {
        view().eye().setSide(app::PaneSide::Top);
        view().setCamera(render::Camera::flat({-40, 40, 40}, 0, -90, 24));
        test::settle();
        run("draw.box");
        drag(pixel({-41, 0, 39}), pixel({-39, 0, 41}));
        QTest::mouseMove(&view(), pixel({-38, 0, 40}));
        QTest::mouseMove(&view(), pixel({-37, 0, 40}));
        QTest::mouseClick(&view(), Qt::LeftButton, {}, pixel({-37, 0, 40}));
        QVERIFY(std::abs(solid(selected()).size.y - 2) < 0.3);
        QVERIFY(std::abs(solid(selected()).size.x - 2) < 0.3);
    }
    void sizesAreTypedWhileDrawing() {
        const QPoint from = lookAtGround();
        run("draw.box");
        QTest::mousePress(&view(), Qt::LeftButton, {}, from);
        for (int i = 1; i < 5; ++i) QTest::mouseMove(&view(), from + QPoint(12, 6) * i);
        typeInView("4 x 3");
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, from + QPoint(48, 24));
        QTest::mouseMove(&view(), from + QPoint(60, -20));
        typeInView("250 cm");
        QVERIFY(selected());
        QVERIFY2(solid(selected()).size == Vec3(4, 2.5, 3), qPrintable(QString::number(solid(selected()).size.y)));
        QCOMPARE(editor_->tools().tool, app::Tool::Slide);
        QCOMPARE(window_->focusWidget(), &view());
        // What is no size leaves the field as it is, and says so.
        run("draw.wall");
        QTest::mousePress(&view(), Qt::LeftButton, {}, from + QPoint(0, 60));
        for (int i = 1; i < 5; ++i) QTest::mouseMove(&view(), from + QPoint(0, 60) + QPoint(12, 2) * i);
        QTest::keyClick(&view(), Qt::Key_Tab);
        auto* field = child<QLineEdit>("amountField");
        QTest::keyClicks(field, "four");
        QTest::keyClick(field, Qt::Key_Return);
        QVERIFY(field->isVisible());
        QTest::keyClick(field, Qt::Key_Escape);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, from);
        QVERIFY(!view().isDragging());
    }
    void copiesFollowTheirOriginalAndExceptionsAreKept() {
        QVERIFY(editor_->placeAt("bollard", {-40, 40, 10}));
        const ObjectId post = selected();
        const std::string before = bytes();
        const ObjectId array = row(post);
        const ops::Ids all = children(array);
        QCOMPARE(all.size(), std::size_t{6});
        auto* odd = child<QLabel>("arrayOddities");
        QVERIFY(!odd->isVisible());
        // One copy is turned by hand, one is deleted; then the original is.
        editor_->select({all[2]});
        view().setFocus();
        run("edit.halfTurn");
        const base::Transform turned = scene().local(scene().find(all[2]));
        editor_->select({all[4]});
        run("edit.delete");
        editor_->select({post});
        view().setFocus();
        QTest::keyClick(&view(), Qt::Key_PageUp);
        const double up = scene().local(scene().find(post)).position.y;
        QVERIFY(std::abs(scene().local(scene().find(all[1])).position.y - up) < 1e-9);
        QVERIFY(scene().local(scene().find(all[2])) == turned);
        editor_->select({array});
        QVERIFY(odd->isVisible());
        QVERIFY2(odd->text().contains("1 copy changed") && odd->text().contains("1 copy deleted"),
                 qPrintable(odd->text()));
        QCOMPARE(view().gesture<app::PullArray>().oddCopies().size(),
                 std::size_t{1});  // and it is marked where it stands
        QTest::mouseClick(child<QAbstractButton>("arraySelectOdd"), Qt::LeftButton);
        QCOMPARE(editor_->selection(), (std::vector<ObjectId>{all[2]}));
        editor_->select({array});
        QTest::mouseClick(child<QAbstractButton>("arrayAlike"), Qt::LeftButton);
        QCOMPARE(children(array).size(), std::size_t{6});
        QVERIFY(!odd->isVisible() && view().gesture<app::PullArray>().oddCopies().empty());
        for (int i = 0; i < 5; ++i) QVERIFY(session().undo());
        QCOMPARE(bytes(), before);
    }
    void aRingGoesRoundThePointThatIsClicked() {
        lookAtGround();
        QVERIFY(editor_->placeAt("bollard", {-40, 0, 40}));
        const Vec3 stands = scene().world(scene().find(selected())).translation;
        run("array.ringAbout");
        QVERIFY(editor_->asking().asksPoint());
        QTest::mouseClick(&view(), Qt::LeftButton, {}, pixel({-38, 0, 40}));
        const ObjectId ring = selected();
        QVERIFY(scene().facet<model::Array>(scene().find(ring)));
        QCOMPARE(scene().facet<model::Array>(scene().find(ring))->shape, model::Array::Shape::Ring);
        QVERIFY(glm::length(scene().world(scene().firstChild(scene().find(ring))).translation - stands) < 1e-6);
        QVERIFY(std::abs(scene().facet<model::Array>(scene().find(ring))->radiusMetres - 2) < 0.2);
        // Esc asks no more.
        run("array.ringAbout");
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(!editor_->asking().asksPoint());
    }
    void theStockCountsInstancesAndAnEditionAsksForItsName() {
        editor_->select({idOf("Stall 8")});
        run("prefab.make");
        auto* name = child<QLineEdit>("property.name");
        name->selectAll();
        QTest::keyClicks(name, "Booth");
        QTest::mouseClick(child<QAbstractButton>("prefabMake"), Qt::LeftButton);
        test::settle();
        const ObjectId first = selected();
        const ObjectId prefab = scene().detail(scene().find(first))->prefab->of;
        for (int i = 0; i < 2; ++i) run("edit.duplicate");
        auto* stock = child<app::StockPanel>("stock");
        if (stock == nullptr) stock = window_->findChild<app::StockPanel*>();
        stock->reveal(QString::fromStdString(model::definitionKey(prefab)));
        QStringList facts;
        for (QLabel* l : stock->findChildren<QLabel*>()) facts << l->text();
        const auto at = facts.indexOf("In this scene");
        QVERIFY(at >= 0);
        QCOMPARE(facts[at + 1], QString("3"));
        // What differs in the selected instance is what the edition begins with.
        for (Slot s : scene().subtree(scene().find(first)))
            if (scene().id(s) != first && scene().item(s)) {
                editor_->select({scene().id(s)});
                break;
            }
        view().setFocus();
        QTest::keyClick(&view(), Qt::Key_PageUp);
        QCOMPARE(scene().detail(scene().find(first))->prefab->changed.size(), std::size_t{1});
        editor_->select({first});
        run("prefab.edition");
        auto* asked = child<QLineEdit>("popoverName");
        QVERIFY(asked != nullptr && window_->focusWidget() == asked);
        QTest::keyClicks(asked, "Booth raised");
        QTest::keyClick(asked, Qt::Key_Return);
        const ObjectId edition = session().prefabNamed("Booth raised");
        QVERIFY(edition);
        QCOMPARE(editor_->sceneName(), model::definitionKey(edition));
        const model::Scene& definition = *session().definitions().at(edition);
        QCOMPARE(definition.detail(definition.firstChild(kNoSlot))->prefab->changed.size(), std::size_t{1});
    }
    void aMorningOfWorkIsUndoneToTheByte() {
        const std::string before = bytes();
        const edit::StepId start = session().history().present();
        // A kind is made, called something, given to two objects, and called something else.
        run("kinds.open");
        auto* kinds = window_->findChild<app::KindsWindow*>();
        QVERIFY(kinds != nullptr && QTest::qWaitForWindowExposed(kinds));
        auto call = [&](const char* name) {
            auto* field = kinds->findChild<QLineEdit*>("kindName");
            field->setFocus();
            field->selectAll();
            QTest::keyClicks(field, name);
            QTest::keyClick(field, Qt::Key_Return);
        };
        QTest::mouseClick(kinds->findChild<QAbstractButton*>("kindNew"), Qt::LeftButton);
        call("Bell");
        QVERIFY(session().library().kindNamed("Bell") != nullptr);
        const std::vector<ObjectId> bells = {idOf("Bollard 1"), idOf("Bollard 2")};
        const std::vector<base::Name> labels(2, session().intern("Bell"));
        QVERIFY(
            editor_->run("Give", [&](edit::Draft& d) { return d.setLabels(model::LabelField::Kind, bells, labels); }));
        call("Great bell");
        for (ObjectId bell : bells) QCOMPARE(scene().kindText(scene().find(bell)), std::string_view("Great bell"));
        QVERIFY(scene().kindText(scene().find(idOf("Bollard 3"))) != "Great bell");
        // Its objects are asked about before it goes.
        QTest::mouseClick(kinds->findChild<QAbstractButton*>("kindDelete"), Qt::LeftButton);
        auto* uses = kinds->findChild<QTreeWidget*>("usesList");
        QVERIFY(uses != nullptr && uses->topLevelItemCount() == 1);
        QTest::keyClick(kinds->findChild<QWidget*>("deleteUsed")->parentWidget(), Qt::Key_Escape);
        QVERIFY(session().library().kindNamed("Great bell") != nullptr);
        kinds->close();
        // A corner of walls.
        lookAtGround();
        const ObjectId first = wall(pixel({-42, 0, 41}), pixel({-38, 0, 41}));
        const base::Aabb was = box(first);
        const ObjectId second = wall(pixel({was.high.x - 0.03, was.low.y, was.high.z}), pixel({-38, 0, 38}));
        QVERIFY(second && second != first);
        // A stall out of the ground, twice the same.
        const ObjectId stall = idOf("Stall 8");
        editor_->select({stall});
        run("edit.seat");
        const base::Transform stands = scene().local(scene().find(stall));
        base::Transform sunk = stands;
        sunk.position.y -= 1.2;
        QVERIFY(editor_->run("Sink", [&](edit::Draft& d) { return d.setTransforms({&stall, 1}, {&sunk, 1}); }));
        for (int twice = 0; twice < 2; ++twice) {
            run("edit.seat");
            QVERIFY(std::abs(scene().local(scene().find(stall)).position.y - stands.position.y) < 1e-4);
        }
        // A row of copies, one of them turned.
        const ObjectId array = row(idOf("Bollard 3"));
        editor_->select({children(array)[2]});
        run("edit.halfTurn");
        QCOMPARE(ops::arrayOddities(scene(), scene().find(array)).changed.size(), std::size_t{1});
        while (session().history().present() != start) QVERIFY(session().undo());
        QCOMPARE(bytes(), before);
        QVERIFY(session().library().kindNamed("Bell") == nullptr);
    }
    void aVeryLargeImageIsTakenAsASmallerCopy() {
        const QString file = settings_.filePath("quay-map.png");
        {
            QImage large(12000, 9000, QImage::Format_Grayscale8);
            large.fill(90);
            QVERIFY(large.save(file));
        }
        run("draw.box");
        const QPoint at = lookAtGround();
        QTest::mouseClick(&view(), Qt::LeftButton, {}, at);
        const ObjectId drawn = selected();
        view().eye().showSelection();
        test::settle();
        auto* mime = new QMimeData;
        mime->setUrls({QUrl::fromLocalFile(file)});
        drop(mime, pixelOf(scene().find(drawn)));
        auto* question = view().findChild<QMessageBox*>("largeImage");
        QVERIFY(question != nullptr);
        QCOMPARE(question->buttons().size(), 2);  // too large to be used as it is
        QTest::mouseClick(question->defaultButton(), Qt::LeftButton);
        QTRY_VERIFY_WITH_TIMEOUT(scene().facet<model::Surfaces>(scene().find(drawn)) != nullptr, 30000);
        const QDir media(QString::fromStdString((demo_->folder() / "media").string()));
        run("project.save");
        QTRY_VERIFY_WITH_TIMEOUT(QFile::exists(media.filePath("quay-map.png")), 10000);
        QCOMPARE(QImageReader(media.filePath("quay-map.png")).size(), QSize(2048, 1536));
    }
};

MELLOW_TEST(WindowBuildTest)
}  // namespace window_build_test
#include "window_build_test.moc"
