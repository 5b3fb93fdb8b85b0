// Routes in the real window: drawn by clicks, points dragged and put in, closed, stops made, things put along it.
#include <QElapsedTimer>
#include <QTableWidget>

#include "app/panels/route_panel.h"
#include "app/shell/tools.h"
#include "app/view/gestures/handle.h"
#include "app/window_fixture.h"
#include "edit/draft.h"
#include "ops/array.h"
#include "ops/kinds.h"
#include "ops/routes.h"
#include "support/test_main.h"

namespace window_routes_test {

using base::ObjectId;
using base::Vec3;

class WindowRoutesTest : public WindowFixture {
    Q_OBJECT

    std::string document() { return io::formatScene(**session().scene(editor_->sceneName())); }
    void lookDown() {
        view().setCamera(render::Camera::looking({-40, 22, 58}, {-40, 0, 40}));
        test::settle();
    }
    QPoint on(double x, double z) {
        const auto ground = editor_->surfaceUnder({{x, 60, z}, {0, -1, 0}}, false);
        return pixel(ground ? ground->point : Vec3(x, 0, z));
    }
    void click(const QPoint& at, Qt::KeyboardModifiers modifiers = {}) {
        QTest::mouseMove(&view(), at - QPoint(2, 2));
        QTest::mouseMove(&view(), at);
        QTest::mouseClick(&view(), Qt::LeftButton, modifiers, at);
    }
    const model::Route& route() { return *scene().facet<model::Route>(scene().find(editor_->selection().front())); }
    shape::Curve curveOf(ObjectId id) { return query::curveOf(scene(), scene().find(id)); }
    shape::Curve curve() { return query::curveOf(scene(), scene().find(editor_->selection().front())); }
    /// Drawn through four places.
    void drawOne() {
        lookDown();
        run("route.draw");
        for (const auto& [x, z] : {std::pair(-46.0, 38.0), {-42.0, 43.0}, {-38.0, 38.0}, {-34.0, 43.0}})
            click(on(x, z));
    }
    /// One is drawn, with a bollard as its stop; gives the route.
    ObjectId drawOneWithAStop() {
        drawOne();
        const ObjectId id = editor_->selection().front();
        QTest::keyClick(&view(), Qt::Key_Escape);
        if (!editor_->placeAt("bollard", curveOf(id).at(curveOf(id).length() * 0.2))) qFatal("no bollard");
        editor_->select({editor_->selection().front(), id});
        run("route.addStops");
        return id;
    }
    /// Taken in the hand where it stands and brought to a place of the route, with keys held.
    void carry(const Vec3& from, const Vec3& to, std::initializer_list<Qt::Key> keys) {
        const QPoint at = pixel(from), there = pixel(to);
        QTest::mouseMove(&view(), at);
        QTest::mousePress(&view(), Qt::LeftButton, {}, at);
        QTest::mouseMove(&view(), at + QPoint(8, 8));
        QTest::mouseMove(&view(), at + QPoint(14, 10));
        for (const Qt::Key key : keys) QTest::keyPress(&view(), key);
        QTest::mouseMove(&view(), there + QPoint(6, 3));
        QTest::mouseMove(&view(), there + QPoint(3, 2));
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, there + QPoint(3, 2));
        for (const Qt::Key key : keys) QTest::keyRelease(&view(), key);
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-routes-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void oneIsDrawnPointByPointAndTakenBack() {
        const std::string before = document();
        drawOne();
        QCOMPARE(route().points.size(), std::size_t(4));
        QVERIFY(curve().length() > 15);
        QVERIFY(std::abs(curve().at(0).x + 46) < 0.3);
        QCOMPARE(session().history().steps().size(), std::size_t(3));  // the first two points are one
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(editor_->tools().tool != app::Tool::Route);
        for (int i = 0; i < 3; ++i) run("edit.undo");
        QCOMPARE(document(), before);
    }
    void aPointIsDraggedAndOnePutInOnTheCurve() {
        drawOne();
        const std::string drawn = document();
        const double length = curve().length();
        const QPoint grip = on(-38, 38);
        drag(grip, grip + QPoint(-20, 50));
        QCOMPARE(route().points.size(), std::size_t(4));
        QVERIFY(document() != drawn && std::abs(curve().length() - length) > 0.1);
        run("edit.undo");
        QCOMPARE(document(), drawn);
        const Vec3 place = curve().at(curve().metresOf(1) * 0.5);
        click(pixel(place));
        QCOMPARE(route().points.size(), std::size_t(5));
        QVERIFY(editor_->chosenPoint() == std::size_t(1));
        QVERIFY(glm::length(curve().at(curve().metresOf(1)) - place) < 0.3);
        // Held and let go by Esc: nothing.
        const std::string put = document();
        const QPoint last = on(-34, 43);
        QTest::mouseMove(&view(), last);
        QTest::mousePress(&view(), Qt::LeftButton, {}, last);
        QTest::mouseMove(&view(), last + QPoint(30, 30));
        QTest::mouseMove(&view(), last + QPoint(40, 30));
        QTest::keyClick(&view(), Qt::Key_Escape);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, last + QPoint(40, 30));
        QCOMPARE(document(), put);
    }
    void theFirstPointClosesItAndItIsDrawnOnAtBothEnds() {
        drawOne();
        click(on(-46, 38));  // its first point
        click(on(-48, 44));
        QCOMPARE(route().points.size(), std::size_t(5));
        QVERIFY(std::abs(curve().at(0).x + 48) < 0.3);
        click(on(-48, 44), Qt::ControlModifier);
        QVERIFY(route().closed);
        const std::string closed = document();
        click(on(-30, 36));  // it has no end any more
        QCOMPARE(document(), closed);
    }
    void aClickOnItsLineSelectsIt() {
        drawOne();
        const ObjectId id = editor_->selection().front();
        const Vec3 place = curve().at(curve().length() * 0.6);
        QTest::keyClick(&view(), Qt::Key_Escape);
        editor_->setTool(app::Tool::Select);
        editor_->select({});
        click(pixel(place));
        QCOMPARE(editor_->selection(), std::vector<ObjectId>{id});
    }
    void aGateDroppedBetweenTwoIsPassedBetweenThem() {
        drawOne();
        const ObjectId id = editor_->selection().front();
        QTest::keyClick(&view(), Qt::Key_Escape);
        std::vector<ObjectId> gates;
        for (const double share : {0.1, 0.9, 0.5}) {
            const Vec3 place = curveOf(id).at(curve().length() * share);
            QVERIFY(editor_->placeAt("bollard", place));
            const ObjectId gate = editor_->selection().front();
            gates.push_back(gate);
            editor_->select({gate, id});
            run("route.addStops");
            editor_->select({id});
        }
        const auto& stops = route().stops;
        QCOMPARE(stops.size(), std::size_t(3));
        QCOMPARE(stops[0].object, gates[0]);
        QCOMPARE(stops[1].object, gates[2]);
        QCOMPARE(stops[2].object, gates[1]);
        auto* list = the<QTreeWidget>("stopsList", the<QWidget>("facetList.route"));
        QVERIFY(list->isVisibleTo(window_.get()));
        QCOMPARE(list->topLevelItemCount(), 3);
        list->setCurrentItem(list->topLevelItem(2));
        the<QToolButton>("listUp", the<QWidget>("facetList.route"))->click();
        QCOMPARE(route().stops[1].object, gates[1]);
        QCOMPARE(list->indexOfTopLevelItem(list->currentItem()), 1);
        run("edit.undo");
        QCOMPARE(route().stops[1].object, gates[2]);
        editor_->select({gates[2]});
        run("edit.delete");
        editor_->select({id});
        QVERIFY(list->topLevelItem(1)->text(0).contains("gone"));
        run("edit.undo");
        editor_->select({id});
        QVERIFY(!list->topLevelItem(1)->text(0).contains("gone"));
    }
    void whatIsCarriedOntoItWithFiveStandsOnItAndIsAStop() {
        drawOne();
        const ObjectId id = editor_->selection().front();
        QTest::keyClick(&view(), Qt::Key_Escape);
        const auto way = [&] { return curveOf(id); };
        std::vector<ObjectId> gates;
        for (const double share : {0.1, 0.9}) {
            QVERIFY(editor_->placeAt("bollard", way().at(way().length() * share)));
            gates.push_back(editor_->selection().front());
        }
        QVERIFY(editor_->placeAt("bollard", {-44, 0, 34}));
        const ObjectId third = editor_->selection().front();
        const auto stands = [&](ObjectId of) { return scene().world(scene().find(of)).translation; };
        const std::string before = document();
        // Without stops it is a way like any other: what is put on it is none.
        carry(stands(third) + Vec3(0, 0.3, 0), way().at(way().length() * 0.5), {Qt::Key_5});
        QVERIFY2(way().nearest(stands(third)).away < 1e-6,
                 qPrintable(QString::number(way().nearest(stands(third)).away)));
        QVERIFY(scene().facet<model::Route>(scene().find(id))->stops.empty());
        run("edit.undo");
        QCOMPARE(document(), before);
        editor_->select({gates[0], gates[1], id});
        run("route.addStops");
        editor_->select({third});
        const std::string two = document();
        carry(stands(third) + Vec3(0, 0.3, 0), way().at(way().length() * 0.5), {Qt::Key_5});
        const auto& stops = scene().facet<model::Route>(scene().find(id))->stops;
        QCOMPARE(stops.size(), std::size_t(3));
        QCOMPARE(stops[1].object, third);
        QVERIFY(way().nearest(stands(third)).away < 1e-6);
        QVERIFY(std::abs(way().nearest(stands(third)).metres - way().length() * 0.5) < 0.6);
        run("edit.undo");  // one step
        QCOMPARE(document(), two);
        // Let go by Esc, it is neither there nor a stop.
        const QPoint at = pixel(stands(third) + Vec3(0, 0.3, 0)), there = pixel(way().at(way().length() * 0.5));
        QTest::mousePress(&view(), Qt::LeftButton, {}, at);
        QTest::keyPress(&view(), Qt::Key_5);
        QTest::mouseMove(&view(), at + QPoint(14, 10));
        QTest::mouseMove(&view(), there);
        QTest::keyClick(&view(), Qt::Key_Escape);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, there);
        QTest::keyRelease(&view(), Qt::Key_5);
        QCOMPARE(document(), two);
    }
    void whatIsOnlyRaisedWithFiveIsNoStop() {
        const ObjectId id = drawOneWithAStop();
        const auto way = [&] { return curveOf(id); };
        QVERIFY(editor_->placeAt("bollard", {-44, 0, 34}));
        const ObjectId beside = editor_->selection().front();
        const auto tip = view().gesture<app::PullHandle>().tip(1);
        QVERIFY(tip);
        const QPoint at = tip->toPoint(), there = pixel(way().at(way().length() * 0.5));
        QTest::mouseMove(&view(), at);
        QTest::mousePress(&view(), Qt::LeftButton, {}, at);
        QTest::mouseMove(&view(), at - QPoint(0, 12));
        QTest::keyPress(&view(), Qt::Key_5);
        QTest::mouseMove(&view(), there + QPoint(2, 2));
        QTest::mouseMove(&view(), there);
        QTest::mouseRelease(&view(), Qt::LeftButton, {}, there);
        QTest::keyRelease(&view(), Qt::Key_5);
        QCOMPARE(scene().facet<model::Route>(scene().find(id))->stops.size(), std::size_t(1));
        const Vec3 stands = scene().world(scene().find(beside)).translation;
        QVERIFY(std::abs(stands.x + 44) < 1e-6 && std::abs(stands.z - 34) < 1e-6);
    }
    void anItemPlacedOnItWithFiveIsAStopToo() {
        const ObjectId id = drawOneWithAStop();
        const auto way = [&] { return curveOf(id); };
        const std::string before = document();
        editor_->setPlacing("lantern-post");
        view().setFocus();
        const QPoint there = pixel(way().at(way().length() * 0.7));
        QTest::keyPress(&view(), Qt::Key_5);
        QTest::mouseMove(&view(), there - QPoint(4, 3));
        QTest::mouseMove(&view(), there);
        QTest::mouseClick(&view(), Qt::LeftButton, {}, there);
        QTest::keyRelease(&view(), Qt::Key_5);
        QTest::keyClick(&view(), Qt::Key_Escape);
        const auto& stops = scene().facet<model::Route>(scene().find(id))->stops;
        QCOMPARE(stops.size(), std::size_t(2));
        QVERIFY(way().nearest(scene().world(scene().find(stops[1].object)).translation).away < 1e-6);
        run("edit.undo");
        QCOMPARE(document(), before);
    }
    void itIsBentByTheTangentOfItsChosenPoint() {
        drawOne();
        QTest::keyClick(&view(), Qt::Key_Escape);
        editor_->setChosenPoint(1);
        const std::string before = document();
        const double at = curve().metresOf(1);
        const Vec3 point = curve().at(at), ahead = point + curve().direction(at) * std::min(curve().length() / 8, 2.0);
        drag(pixel(ahead), pixel(point + Vec3(0, 0, 3)));
        QVERIFY(route().points[1].tangent.has_value());
        QCOMPARE(editor_->chosenPoint(), std::size_t(1));
        const Vec3 way = glm::normalize(*route().points[1].tangent);
        QVERIFY2(way.z > 0.9, qPrintable(QString("%1 %2 %3").arg(way.x).arg(way.y).arg(way.z)));
        QVERIFY(!route().points[0].tangent && !route().points[2].tangent);
        run("edit.undo");
        QCOMPARE(document(), before);
    }
    void whereItStandsIsTyped() {
        drawOne();
        const ObjectId id = editor_->selection().front();
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(editor_->placeAt("bench", curve().at(1)));
        const ObjectId bench = editor_->selection().front();
        run("desk.route");
        editor_->select({bench, id});
        auto* at = the<QLineEdit>("alongAt");
        QVERIFY(at->isEnabled() && at->isVisible());
        const auto metres = [&] { return curveOf(id).nearest(scene().world(scene().find(bench)).translation).metres; };
        const std::string before = document();
        typeInto(at, "half way");
        QVERIFY(std::abs(metres() - curve().length() / 2) < 1e-3 || editor_->selection().back() == id);
        const double half = curveOf(id).length() / 2;
        QVERIFY2(std::abs(metres() - half) < 1e-3, qPrintable(QString::number(metres())));
        typeInto(at, "+1.5 m");
        QVERIFY(std::abs(metres() - half - 1.5) < 1e-3);
        const std::string there = document();
        typeInto(at, "900 m");  // refused, and said
        QCOMPARE(document(), there);
        run("edit.undo");
        run("edit.undo");
        QCOMPARE(document(), before);
        editor_->select({id});
        QVERIFY(!at->isEnabled());
    }
    void itForksToAnotherAndTheForkIsListed() {
        drawOne();
        const ObjectId first = editor_->selection().front();
        QTest::keyClick(&view(), Qt::Key_Escape);
        editor_->select({});
        run("route.draw");
        for (const auto& [x, z] : {std::pair(-44.0, 34.0), {-36.0, 34.0}}) click(on(x, z));
        const ObjectId other = editor_->selection().front();
        QVERIFY(other != first);
        QTest::keyClick(&view(), Qt::Key_Escape);
        editor_->select({other, first});
        editor_->setChosenPoint(2);
        const std::string before = document();
        run("route.fork");
        const auto& forks = scene().facet<model::Route>(scene().find(first))->forks;
        QCOMPARE(forks.size(), std::size_t(1));
        QCOMPARE(forks[0].point, std::int64_t(3));
        QCOMPARE(forks[0].to, other);
        editor_->select({first});
        auto* list = the<QTreeWidget>("forksList", the<QWidget>("facetList.route.forks"));
        QCOMPARE(list->topLevelItemCount(), 1);
        QVERIFY(list->topLevelItem(0)->text(0).contains("from point 3"));
        run("edit.undo");
        QCOMPARE(document(), before);
    }
    void copiesThatStayAlongItFollowADraggedPoint() {
        drawOne();
        const ObjectId id = editor_->selection().front();
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(editor_->placeAt("bollard", {-50, 0, 50}));
        const ObjectId bollard = editor_->selection().front();
        run("desk.route");
        editor_->select({bollard, id});
        typeInto(field("alongForm", "property.spacing"), "2");
        const std::string before = document();
        run("route.array");
        const ObjectId array = editor_->selection().front();
        QVERIFY(scene().facet<model::Array>(scene().find(array)) != nullptr);
        const auto count = [&] { return scene().subtree(scene().find(array)).size() - 1; };
        const auto way = [&] { return curveOf(id); };
        QCOMPARE(count(), static_cast<std::size_t>(way().length() / 2) + 1);
        editor_->select({id});
        const std::string laid = document();
        const QPoint grip = on(-34, 43);
        drag(grip, grip + QPoint(60, 30));
        QVERIFY(way().length() > 1);
        QCOMPARE(count(), static_cast<std::size_t>(way().length() / 2) + 1);
        for (Slot s = scene().firstChild(scene().find(array)); s != kNoSlot; s = scene().nextSibling(s))
            QVERIFY(way().nearest(scene().world(s).translation).away < 1e-6);
        run("edit.undo");
        QCOMPARE(document(), laid);
        run("edit.undo");
        QCOMPARE(document(), before);
    }
    void itsStopsAreShownWaitingNextAndPassed() {
        drawOne();
        const ObjectId id = editor_->selection().front();
        QTest::keyClick(&view(), Qt::Key_Escape);
        run("group.ride");  // it tells no stops anything: said, and nothing begins
        QVERIFY(!editor_->rehearsal().isOn());
        std::vector<ObjectId> gates;
        for (const double share : {0.2, 0.5, 0.8}) {
            const Vec3 place = curveOf(id).at(curve().length() * share);
            QVERIFY(editor_->placeAt("lantern-post", place));
            gates.push_back(editor_->selection().front());
            editor_->select({id});
        }
        const auto sets = [&](edit::Draft& d) -> base::Status {
            model::Property is;
            is.name = "is";
            is.type = model::PropertyType::Choice;
            for (const char* word : {"waiting", "next", "passed"}) is.choices.push_back({word, word});
            model::Kind kind = *session().library().kind(scene().kind(scene().find(gates[0])));
            kind.properties.push_back(is);
            if (auto done = ops::setKind(d, kind.name, model::toValues(kind)); !done)
                return tl::unexpected(done.error());
            if (auto done = ops::addStops(d, id, gates); !done) return done;
            return ops::changeRoute(d, id, [](Slot, model::Route& r) -> base::Status {
                r.tells = "is";
                return {};
            });
        };
        QVERIFY(editor_->run("Gates", sets));
        const std::string before = document();
        run("group.ride");
        QVERIFY(editor_->rehearsal().isOn());
        const auto words = [&] {
            QStringList all;
            for (const ObjectId gate : gates) {
                const model::Slot s = editor_->scene().find(gate);
                const model::Value* value =
                    editor_->scene().detail(s) ? model::valueOf(editor_->scene().detail(s)->properties, "is") : nullptr;
                const auto* word = value != nullptr ? std::get_if<std::string>(&value->data) : nullptr;
                all << (word != nullptr ? QString::fromStdString(*word) : QString("waiting"));
            }
            return all.join(' ');
        };
        QStringList seen;
        QElapsedTimer clock;
        clock.start();
        while (clock.elapsed() < 15'000 && !(seen.contains("passed passed passed") && seen.size() > 3)) {
            QTest::qWait(30);
            if (seen.isEmpty() || seen.back() != words()) seen << words();
        }
        const QStringList wanted = {"next waiting waiting", "passed next waiting", "passed passed next",
                                    "passed passed passed"};
        for (const QString& one : wanted) QVERIFY2(seen.contains(one), qPrintable(seen.join(" | ")));
        view().setFocus();
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(!editor_->rehearsal().isOn());
        QCOMPARE(document(), before);
    }
    void benchesStandEveryTwoMetresAlongIt() {
        drawOne();
        const ObjectId id = editor_->selection().front();
        const double length = curve().length();
        QTest::keyClick(&view(), Qt::Key_Escape);
        QVERIFY(editor_->placeAt("bench", {-50, 0, 50}));
        const ObjectId bench = editor_->selection().front();
        run("desk.route");
        editor_->select({bench, id});
        auto* facts = the<QLabel>("routeFacts");
        QVERIFY(facts->isVisible() && facts->text().contains(editor_->length(length)));
        typeInto(field("alongForm", "property.spacing"), "2");
        const std::string before = document();
        press("alongCopy");
        const auto expected = static_cast<std::size_t>(length / 2) + 1;
        std::vector<Vec3> places;
        const shape::Curve way = curveOf(id);
        for (Slot s : scene().subtree(kNoSlot))
            if (scene().itemText(s) == "bench" && way.nearest(scene().world(s).translation).away < 1e-6)
                places.push_back(scene().world(s).translation);
        QCOMPARE(places.size(), expected);
        run("edit.undo");
        QCOMPARE(document(), before);
        typeInto(field("alongForm", "property.spacing"), "0.000001");
        press("alongCopy");  // refused, and said
        QCOMPARE(document(), before);
    }
    void thePointsFieldsAreOfTheChosenOne() {
        drawOne();
        QTest::keyClick(&view(), Qt::Key_Escape);
        editor_->setChosenPoint(1);
        QCOMPARE(the<QLabel>("routePoint")->text(), QString("Point 2 of 4"));
        press("routePointAfter");
        QCOMPARE(the<QLabel>("routePoint")->text(), QString("Point 3 of 4"));
        typeInto(field("routePointForm", "property.speed"), "5");
        QCOMPARE(route().points[2].speed, 5.0);
        QCOMPARE(route().points[1].speed, 0.0);
        run("edit.undo");
        QCOMPARE(route().points[2].speed, 0.0);
    }
    void itIsTurnedAboutSplitAndJoined() {
        drawOne();
        const std::string drawn = document();
        QTest::keyClick(&view(), Qt::Key_Escape);
        run("route.reverse");
        QVERIFY(std::abs(curve().at(0).x + 34) < 0.3);
        run("edit.undo");
        QCOMPARE(document(), drawn);
        const ObjectId id = editor_->selection().front();
        editor_->setChosenPoint(2);
        run("route.split");
        const ObjectId rest = editor_->selection().front();
        QVERIFY(rest != id);
        editor_->select({id, rest});
        run("route.join");
        QCOMPARE(editor_->selection(), std::vector<ObjectId>{id});
        QCOMPARE(route().points.size(), std::size_t(4));
        QCOMPARE(scene().find(rest), kNoSlot);
    }
};

MELLOW_TEST(WindowRoutesTest)
}  // namespace window_routes_test
#include "window_routes_test.moc"
