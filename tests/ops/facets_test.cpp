// Bodies, points, zones and surfaces: verbs, files, the history, prefabs, what is refused.
#include "ops/facets.h"
#include "base/text.h"
#include "support/test_main.h"

#include <rapidcheck.h>

#include <QtTest>

#include "io/copy_text.h"
#include "io/scene_file.h"
#include "model/facets/body.h"
#include "model/facets/points.h"
#include "model/facets/surfaces.h"
#include "model/facets/zone.h"
#include "ops/copies.h"
#include "ops/prefab.h"
#include "ops/surfaces.h"
#include "query/collision.h"
#include "support/blocks.h"
#include "support/steps.h"

namespace facets_test {

using base::ObjectId;
using base::Vec3;
using test::asStep;

struct Facets : test::Blocks {
    ObjectId cube = put("cube", {2, 0, 0}, {0, 90, 0});
    const model::Detail& detail(ObjectId id) { return *scene().detail(slot(id)); }
    void addKind(const char* kind, const model::ValueMap& more) {
        const std::string key;
        model::ValueMap values = {{"name", {std::string(kind)}}};
        values.insert(values.end(), more.begin(), more.end());
        const std::optional<model::ValueMap> entry = values;
        edit::Draft draft(session(), "first", "Kind");
        if (!draft.setEntries(model::data::kindDocument(kind), {&key, 1}, {&entry, 1}) || !draft.commit())
            qFatal("no kind");
    }
    void makeKind(ObjectId id, const char* kind) {
        edit::Draft draft(session(), "first", "Kind of");
        const base::Name value = name(kind);
        if (!draft.setLabels(model::LabelField::Kind, {&id, 1}, {&value, 1}) || !draft.commit()) qFatal("no kind");
    }
    void surface(const char* key, const Vec3& colour) {
        model::Surface s;
        s.name = key;
        s.label = key;
        s.colour = colour;
        if (!asStep(*this, [&](edit::Draft& d) { return ops::putSurface(d, s); })) qFatal("no surface");
    }
    base::Status slotShows(ObjectId id, const std::string& slot,
                           const std::function<void(model::SlotSurface&)>& change) {
        return asStep(*this, [&](edit::Draft& d) { return ops::setSlot(d, {&id, 1}, slot, change); });
    }
};

std::string firstSlot(Facets& p, ObjectId id) {
    const model::Item* item = p.session().library().item(p.scene().item(p.slot(id)));
    return item->slots.at(0);
}

model::Detail randomFacets() {
    model::Detail d;
    auto real = [](int low, int high) { return *rc::gen::inRange(low, high) / 8.0; };
    auto vec = [&] { return Vec3(real(-80, 80), real(-80, 80), real(-80, 80)); };
    auto size = [&] { return Vec3(real(1, 80), real(1, 80), real(1, 80)); };
    auto colour = [&] { return Vec3(real(0, 8), real(0, 8), real(0, 8)); };
    const auto word = rc::gen::element<std::string>("a", "quay", "…", "\"x\"", "two words");
    if (*rc::gen::arbitrary<bool>()) {
        model::Body& b = d.edit<model::Body>();
        b.role = static_cast<model::Body::Role>(*rc::gen::inRange(0, 3));
        b.wakes = static_cast<model::Body::Wakes>(*rc::gen::inRange(0, 3));
        b.shape = static_cast<model::Body::Shape>(*rc::gen::inRange(0, 5));
        b.fitted = *rc::gen::arbitrary<bool>();
        b.centre = vec();
        b.size = size();
        b.massKilograms = real(0, 800);
        if (*rc::gen::arbitrary<bool>()) b.unknown.members = "\"heft\":" + base::shortest(real(0, 8));
    }
    if (*rc::gen::arbitrary<bool>()) {
        model::PointSet& set = d.edit<model::PointSet>();
        set.stays = *rc::gen::arbitrary<bool>();
        set.colour = colour();
        for (int n = *rc::gen::inRange(0, 6); n > 0; --n) {
            model::PlacePoint p;
            p.name = *word;
            p.at = vec();
            if (*rc::gen::arbitrary<bool>()) p.turnDegrees = real(-1000, 1000);
            p.radiusMetres = real(0, 40);
            if (*rc::gen::arbitrary<bool>()) p.colour = colour();
            set.points.push_back(std::move(p));
        }
    }
    if (*rc::gen::arbitrary<bool>()) {
        model::Zone& z = d.edit<model::Zone>();
        z.shape = static_cast<model::Zone::Shape>(*rc::gen::inRange(0, 3));
        z.size = size();
        if (z.shape == model::Zone::Shape::Polygon) z.corners = {{0, 0}, {real(1, 40), 0}, {0, real(1, 40)}};
        z.colour = colour();
    }
    if (*rc::gen::arbitrary<bool>()) {
        model::SlotSurface s;
        s.slot = *word;
        s.surface = *word;
        if (*rc::gen::arbitrary<bool>()) s.tint = colour();
        s.image = *word;
        s.fit = static_cast<model::ImageFit>(*rc::gen::inRange(0, 4));
        d.edit<model::Surfaces>().slots = {s};
    }
    return d;
}

class FacetsTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void initTestCase() { qputenv("RC_PARAMS", "max_success=30"); }  // each opens a project three times
    void anyFacetComesBackFromFilesAndTheHistory() {
        const bool held = rc::check("facets come back", [] {
            Facets p;
            model::Detail facets = randomFacets();
            const ObjectId id = p.cube;
            RC_ASSERT(bool(asStep(p, [&](edit::Draft& d) {
                return ops::changeDetails(d, {&id, 1}, [&](model::Slot, model::Detail& detail) -> base::Status {
                    detail = facets;
                    return {};
                });
            })));
            RC_ASSERT((facets.empty() ? !p.scene().detail(p.slot(id)) : p.detail(id) == facets));
            const std::string bytes = p.bytes();
            // Through the clipboard.
            auto copied = io::parseCopyText(io::copyText(p.scene(), {&id, 1}), p.session().project().names);
            RC_ASSERT(bool(copied));
            RC_ASSERT(model::sameDetail(copied->front().detail, p.scene().detail(p.slot(id))));
            RC_ASSERT(bool(p.reopen()));  // from the ledger
            RC_ASSERT(p.bytes() == bytes);
            RC_ASSERT(bool(io::saveScene(p.workspace(), "first")));
            RC_ASSERT(bool(p.reopen()));  // from the file
            RC_ASSERT(p.bytes() == bytes);
            RC_ASSERT(p.workspace().damage.empty());
            RC_ASSERT(bool(p.session().undo()));
        });
        QVERIFY(held);
    }
    void anyFacetDiffersInAnInstance() {
        const bool held = rc::check("facets differ", [] {
            Facets p;
            const ObjectId id = p.cube;
            ops::MakePrefab made;
            made.name = "Cube";
            ObjectId instance;
            RC_ASSERT(bool(asStep(p, [&](edit::Draft& d) -> base::Status {
                auto prefab = ops::makePrefab(d, {&id, 1}, made);
                if (!prefab) return tl::unexpected(prefab.error());
                instance = prefab->instance;
                return {};
            })));
            const model::Slot inner = p.scene().firstChild(p.slot(instance));
            RC_ASSERT(inner != model::kNoSlot);
            const ObjectId inside = p.scene().id(inner);
            const model::Detail facets = randomFacets();
            RC_ASSERT(bool(asStep(p, [&](edit::Draft& d) {
                return ops::changeDetails(d, {&inside, 1}, [&](model::Slot, model::Detail& detail) -> base::Status {
                    detail = facets;
                    return {};
                });
            })));
            const std::string bytes = p.bytes();
            RC_ASSERT(bool(io::saveScene(p.workspace(), "first")));
            for (const auto& [prefab, scene] : p.session().definitions())
                RC_ASSERT(bool(io::saveScene(p.workspace(), scene->name())));
            RC_ASSERT(bool(p.reopen()));
            RC_ASSERT(p.bytes() == bytes);
        });
        QVERIFY(held);
    }
    void whatCannotBeIsNamed() {
        for (const auto& [text, key] : std::vector<std::pair<std::string, std::string>>{
                 {R"("body":{"role":"floating"})", "body.role"},
                 {R"("body":{"size":[1,0,1]})", "body.size"},
                 {R"("body":7)", "body"},
                 {R"("points":{"points":[{"name":"x"}]})", "points.points.1.at"},
                 {R"("points":{"points":[{"at":[0,0,0],"radius":-1}]})", "points.points.1.radius"},
                 {R"("zone":{"shape":"polygon","corners":[[0,0],[1,0]]})", "zone.corners"},
                 {R"("zone":{"size":"large"})", "zone.size"},
                 {R"("surfaces":{"Wood":{"fit":"loose"}})", "surfaces.Wood.fit"},
                 {R"("surfaces":{"Wood":3})", "surfaces.Wood"},
                 {R"("unseen":1)", "unseen"}}) {
            Facets p;
            QVERIFY(io::saveScene(p.workspace(), "first"));
            p.close();
            std::string file = test::fileBytes(p.scenePath());
            file += R"({"id":"00000000000000ff","name":"X",)" + text + "}\n";
            test::writeBytes(p.scenePath(), file);
            QVERIFY(p.reopen(io::OpenMode::ReadOnly));
            (void)p.scene();
            QCOMPARE(p.workspace().damage.size(), std::size_t{1});
            QCOMPARE(p.workspace().damage[0].key, key);
        }
    }
    void aLooseBodyNeedsAKindThatIsMoved() {
        Facets p;
        p.addKind("Wall", {});
        p.addKind("Crate", {{"isMoved", {true}}});
        model::Body body;
        body.role = model::Body::Role::Loose;
        auto set = [&] { return asStep(p, [&](edit::Draft& d) { return ops::setBody(d, {&p.cube, 1}, body); }); };
        p.makeKind(p.cube, "Wall");
        QVERIFY(!set());
        p.makeKind(p.cube, "Crate");
        QVERIFY(set());
        QVERIFY(p.detail(p.cube).get<model::Body>()->role == model::Body::Role::Loose);
        body.massKilograms = -1;
        QVERIFY(!set());
        const query::BodyBox fitted = query::bodyBox(*p.detail(p.cube).get<model::Body>(), {{-1, 0, -1}, {1, 3, 1}});
        QVERIFY(fitted.centre == Vec3(0, 1.5, 0) && fitted.size == Vec3(2, 3, 2));
    }
    void pointsGoWithTheirOwnerOrStay() {
        Facets p;
        const ObjectId id = p.cube;
        for (const Vec3& at : {Vec3(2, 0, 5), Vec3(4, 0, 0)})
            QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::addPoint(d, id, at); }));
        auto point = [&](std::size_t i) {
            return ops::pointInWorld(p.scene(), p.slot(id), p.detail(id).get<model::PointSet>()->points[i]);
        };
        QVERIFY(glm::length(point(0) - Vec3(2, 0, 5)) < 1e-9);
        auto move = [&](double x) {
            base::Transform pose = p.scene().local(p.slot(id));
            pose.position.x += x;
            return asStep(p, [&](edit::Draft& d) { return d.setTransforms({&id, 1}, {&pose, 1}); });
        };
        QVERIFY(move(3));
        QVERIFY(glm::length(point(0) - Vec3(5, 0, 5)) < 1e-9);
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setPointsStay(d, id, true); }));
        QVERIFY(glm::length(point(0) - Vec3(5, 0, 5)) < 1e-9);
        QVERIFY(move(3));
        QVERIFY(glm::length(point(0) - Vec3(5, 0, 5)) < 1e-9);
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::movePoint(d, id, 1, {9, 9, 9}); }));
        QVERIFY(glm::length(point(1) - Vec3(9, 9, 9)) < 1e-9);
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::reorderPoint(d, id, 1, 0); }));
        QVERIFY(glm::length(point(0) - Vec3(9, 9, 9)) < 1e-9);
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::removePoints(d, id, {0}); }));
        QCOMPARE(p.detail(id).get<model::PointSet>()->points.size(), std::size_t{1});
        QVERIFY(!asStep(p, [&](edit::Draft& d) { return ops::removePoints(d, id, {1}); }));
    }
    void pointsAreNamedOnwards() {
        Facets p;
        model::PointSet set;
        set.points.resize(1);
        set.points[0].name = "Stop 4";
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setPoints(d, p.cube, set); }));
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::addPoint(d, p.cube, {0, 0, 0}); }));
        QCOMPARE(p.detail(p.cube).get<model::PointSet>()->points[1].name, std::string("Stop 5"));
    }
    void objectsBecomePointsAndComeBack() {
        Facets p;
        const ObjectId other = p.put("cube", {6, 1, 3}, {0, 30, 0});
        ObjectId owner;
        const std::vector<ObjectId> both = {p.cube, other};
        QVERIFY(asStep(p, [&](edit::Draft& d) -> base::Status {
            auto made = ops::collectPoints(d, both);
            if (!made) return tl::unexpected(made.error());
            owner = *made;
            return {};
        }));
        QCOMPARE(p.slot(other), model::kNoSlot);
        QCOMPARE(p.detail(owner).get<model::PointSet>()->points.size(), std::size_t{2});
        ops::Ids made;
        QVERIFY(asStep(p, [&](edit::Draft& d) -> base::Status {
            auto spread = ops::spreadPoints(d, owner, p.name("cube"));
            if (!spread) return tl::unexpected(spread.error());
            made = *spread;
            return {};
        }));
        QCOMPARE(p.slot(owner), model::kNoSlot);
        QCOMPARE(made.size(), std::size_t{2});
        QVERIFY(glm::length(p.scene().world(p.slot(made[1])).translation - Vec3(6, 1, 3)) < 1e-9);
        QVERIFY(std::abs(base::toDegrees(p.scene().local(p.slot(made[1])).rotation).y - 30) < 1e-9);
    }
    void zonesArePulledByTheirSides() {
        Facets p;
        ObjectId id;
        model::Zone box;
        QVERIFY(asStep(p, [&](edit::Draft& d) -> base::Status {
            auto made = ops::addZone(d, box, {10, 0, 0}, {});
            if (!made) return tl::unexpected(made.error());
            id = *made;
            return {};
        }));
        auto pull = [&](int axis, int way, const Vec3& to) {
            for (const ops::ZoneGrip& grip : ops::zoneGrips(p.scene(), p.slot(id)))
                if (grip.axis == axis && grip.way == way) {
                    const ops::PulledZone pulled = ops::pulledZone(p.scene(), p.slot(id), grip, to, 0.25);
                    return bool(asStep(p, [&](edit::Draft& d) -> base::Status {
                        if (base::Status moved = d.setTransforms({&id, 1}, {&pulled.local, 1}); !moved) return moved;
                        return ops::setZone(d, {&id, 1}, pulled.zone);
                    }));
                }
            return false;
        };
        QVERIFY(pull(0, 1, {15, 0, 0}));  // from 8..12 to 8..15
        QCOMPARE(p.detail(id).get<model::Zone>()->size.x, 7.0);
        QCOMPARE(p.scene().local(p.slot(id)).position.x, 11.5);
        QVERIFY(pull(1, -1, {0, -1, 0}));  // its base goes down, its top stays
        QCOMPARE(p.detail(id).get<model::Zone>()->size.y, 4.0);
        QCOMPARE(p.scene().local(p.slot(id)).position.y, -1.0);
        QVERIFY(ops::isInZone(p.scene(), p.slot(id), {14.9, 2.9, 1.9}));
        QVERIFY(!ops::isInZone(p.scene(), p.slot(id), {15.1, 2.9, 1.9}));
        QVERIFY(!ops::isInZone(p.scene(), p.slot(id), {14.9, 3.1, 1.9}));
    }
    void aPolygonIsDrawnAndCannotCrossItself() {
        Facets p;
        const std::vector<Vec3> corners = {{0, 1, 0}, {6, 0, 0}, {6, 0, 6}, {0, 0, 6}};
        const ops::DrawnZone drawn = ops::drawnZone(corners, 2.5);
        QCOMPARE(drawn.at, Vec3(3, 0, 3));
        ObjectId id;
        QVERIFY(asStep(p, [&](edit::Draft& d) -> base::Status {
            auto made = ops::addZone(d, drawn.zone, drawn.at, {});
            if (made) id = *made;
            return made ? base::Status{} : base::Status(tl::unexpected(made.error()));
        }));
        QVERIFY(ops::isInZone(p.scene(), p.slot(id), {5, 2, 5}));
        QVERIFY(!ops::isInZone(p.scene(), p.slot(id), {7, 2, 5}));
        model::Zone crossed = drawn.zone;
        std::swap(crossed.corners[1], crossed.corners[2]);
        QVERIFY(!asStep(p, [&](edit::Draft& d) { return ops::setZone(d, {&id, 1}, crossed); }));
        // A corner that would cross stays where it is.
        for (const ops::ZoneGrip& grip : ops::zoneGrips(p.scene(), p.slot(id)))
            if (grip.corner == 0)
                QVERIFY(ops::pulledZone(p.scene(), p.slot(id), grip, {9, 0, 3.5}, 0).zone == drawn.zone);
    }
    void slotsTakeSurfacesOfTheLibrary() {
        Facets p;
        p.surface("oak", {0.4, 0.25, 0.1});
        const std::string slot = firstSlot(p, p.cube);
        QVERIFY(p.slotShows(p.cube, slot, [](model::SlotSurface& s) { s.surface = "oak"; }));
        QCOMPARE(ops::slotOf(p.scene(), p.slot(p.cube), slot).surface, std::string("oak"));
        QVERIFY(!p.slotShows(p.cube, slot, [](model::SlotSurface& s) { s.surface = "gold"; }));
        QVERIFY(!p.slotShows(p.cube, "no such slot", [](model::SlotSurface& s) { s.surface = "oak"; }));
        QCOMPARE(ops::showing(p.scene(), "oak"), (ops::Ids{p.cube}));
        const ObjectId other = p.put("slab", {9, 0, 0});
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::copySurfaces(d, p.cube, {&other, 1}); }));
        QCOMPARE(ops::slotOf(p.scene(), p.slot(other), firstSlot(p, other)).surface, std::string("oak"));
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::clearSlot(d, {&other, 1}, firstSlot(p, other)); }));
        QVERIFY(!p.scene().detail(p.slot(other)));
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::removeSurface(d, "oak"); }));
        QVERIFY(!asStep(p, [&](edit::Draft& d) { return ops::removeSurface(d, "oak"); }));
    }
    void surfacesAreKeptDroppedOrMappedWhenAnItemIsReplaced() {
        model::Surfaces given;
        for (const char* slot : {"Wood", "Iron", "Glass"}) {
            model::SlotSurface one;
            one.slot = slot;
            one.surface = slot;
            given.slots.push_back(one);
        }
        const model::Surfaces mapped = ops::mappedSurfaces(given, {"Wood", "Iron", "Glass"}, {"Cloth", "Iron"});
        QCOMPARE(mapped.slots.size(), std::size_t{2});
        QCOMPARE(mapped.slots[0].slot, std::string("Cloth"));
        QCOMPARE(mapped.slots[0].surface, std::string("Wood"));
        QCOMPARE(mapped.slots[1].surface, std::string("Iron"));
        for (const auto& [go, left] :
             {std::pair{ops::SurfacesGo::Keep, true}, {ops::SurfacesGo::Drop, false}, {ops::SurfacesGo::Map, true}}) {
            Facets p;
            p.surface("oak", {0.4, 0.25, 0.1});
            QVERIFY(p.slotShows(p.cube, firstSlot(p, p.cube), [](model::SlotSurface& s) { s.surface = "oak"; }));
            QVERIFY(asStep(p, [&, way = go](edit::Draft& d) {
                return ops::replaceItem(d, {&p.cube, 1}, p.name("beam"), way);
            }));
            const auto& detail = p.scene().detail(p.slot(p.cube));
            QCOMPARE(detail && detail->get<model::Surfaces>() != nullptr, left);
        }
    }
    void kindsSayWhatTakesImagesAndTints() {
        Facets p;
        const std::string slot = firstSlot(p, p.cube);
        p.addKind("Sign", {{"takesImages", {true}}, {"imageSlots", {model::ValueList{{slot}}}}, {"tints", {false}}});
        p.addKind("Wall", {});
        auto image = [](model::SlotSurface& s) { s.image = "notice.png"; };
        auto tint = [](model::SlotSurface& s) { s.tint = Vec3(0.5); };
        p.makeKind(p.cube, "Wall");
        QVERIFY(!p.slotShows(p.cube, slot, image));
        QVERIFY(p.slotShows(p.cube, slot, tint));
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::clearSlot(d, {&p.cube, 1}, slot); }));
        p.makeKind(p.cube, "Sign");
        QVERIFY(p.slotShows(p.cube, slot, image));
        QVERIFY(!p.slotShows(p.cube, slot, tint));
        QVERIFY(!asStep(p, [&](edit::Draft& d) { return ops::setTint(d, {&p.cube, 1}, Vec3(0.5)); }));
    }
    void surfacesOfTheProjectSurviveARestartAndASave() {
        Facets p;
        p.surface("oak", {0.4, 0.25, 0.1});
        QVERIFY(p.reopen());
        QVERIFY(p.session().library().surfaces().contains("oak"));
        QVERIFY(io::saveScene(p.workspace(), std::string(model::data::kSurfaces)));
        QVERIFY(p.reopen());
        QCOMPARE(p.session().library().surfaces().at("oak").colour, Vec3(0.4, 0.25, 0.1));
        QVERIFY(p.session().undo());
        QVERIFY(!p.session().library().surfaces().contains("oak"));
    }
};

MELLOW_TEST(FacetsTest)
}  // namespace facets_test
#include "facets_test.moc"
