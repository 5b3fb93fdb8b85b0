// Lasting relations: kept in the step that moves what they go by, or told.
#include "ops/relations.h"

#include <rapidcheck.h>

#include <QtTest>

#include "ops/copies.h"
#include "ops/move.h"
#include "ops/seat.h"
#include "ops/standing.h"
#include "support/blocks.h"
#include "support/test_main.h"

namespace relations_test {

using base::ObjectId;
using base::Vec3;
using What = model::Relation::What;

class Yard : public test::Blocks {
  public:
    Yard() : keeper(session(), [this](const model::Scene& of) { return &of == &scene() ? &index() : nullptr; }) {
        keeper.say = [this](const std::string& text) { told.push_back(text); };
        session().setBeforeCommit([this](edit::Draft& draft) { return keeper.beforeCommit(draft); });
        index();
    }
    ~Yard() { session().setBeforeCommit(nullptr); }
    bool step(const std::function<base::Status(edit::Draft&)>& verb) {
        edit::Draft draft(session(), "first", "Step");
        if (auto done = verb(draft); !done) {
            error = done.error().message;
            return false;
        }
        return draft.commit().has_value();
    }
    bool relate(ObjectId id, What what, ObjectId to = {}) {
        return step([&](edit::Draft& d) { return ops::relate(d, index(), id, what, to); });
    }
    bool move(ObjectId id, const Vec3& by) {
        return step([&](edit::Draft& d) -> base::Status {
            auto mover = ops::Mover::begin(d.scene(), {&id, 1});
            return mover ? mover->moveBy(d, by) : tl::unexpected(mover.error());
        });
    }
    bool turn(ObjectId id, double degrees) {
        return step([&](edit::Draft& d) -> base::Status {
            auto mover = ops::Mover::begin(d.scene(), {&id, 1});
            return mover->turnBy(d, {0, 1, 0}, base::radians(degrees), ops::PivotMode::Base);
        });
    }
    Vec3 at(ObjectId id) { return scene().world(slot(id)).translation; }
    /// Does it touch the side of another, or lie in it? Then several could carry it, and which is a matter of taste.
    bool isBesideOrIn(ObjectId id, const std::vector<ObjectId>& others) {
        base::Aabb box = bounds(id);
        box.low += Vec3(-0.05, 0.02, -0.05), box.high += Vec3(0.05, -0.02, 0.05);
        return std::any_of(others.begin(), others.end(),
                           [&](ObjectId other) { return other != id && bounds(other).overlaps(box); });
    }

    ops::RelationKeeper keeper;
    std::vector<std::string> told;
    std::string error;
};

class RelationsTest : public QObject {
    Q_OBJECT
    static bool near(const Vec3& a, const Vec3& b, double within = 1e-6) { return glm::length(a - b) < within; }

  private Q_SLOTS:
    void aBenchFollowsThePlatformItStandsOn() {
        Yard y;
        y.put("slab", {0, 0, 0});
        const ObjectId platform = y.put("cube", {0, 0, 0}, {}, {6, 1, 6}),
                       bench = y.put("cube", {2, 1, 1}, {}, Vec3(0.5));
        QVERIFY2(y.relate(bench, What::Seated), y.error.c_str());
        const std::string before = y.bytes();
        QVERIFY(y.move(platform, {3, 0.5, -2}));
        QVERIFY(near(y.at(bench), {5, 1.5, -1}));
        QVERIFY(y.turn(platform, 90));
        QVERIFY2(near(y.at(bench), {4, 1.5, -4}), qPrintable(QString("%1 %2").arg(y.at(bench).x).arg(y.at(bench).z)));
        QVERIFY(y.told.empty());
        QVERIFY(y.session().undo().has_value() && y.session().undo().has_value());
        QCOMPARE(y.bytes(), before);  // each was one step
        QVERIFY(y.session().redo().has_value());
        QVERIFY(near(y.at(bench), {5, 1.5, -1}));
    }
    void movedByHandItStaysSeatedOnWhatIsBelowItThen() {
        Yard y;
        const ObjectId ground = y.put("slab", {0, 0, 0}), platform = y.put("cube", {0, 0, 0}, {}, {6, 1, 6}),
                       bench = y.put("cube", {2, 1, 1}, {}, Vec3(0.5));
        QVERIFY(y.relate(bench, What::Seated));
        QVERIFY(y.move(bench, {6, 0.7, 0}));  // off the platform, in the air
        QVERIFY2(near(y.at(bench), {8, 0, 1}), qPrintable(QString::number(y.at(bench).y)));
        QVERIFY(y.move(platform, {0, 5, 0}));
        QVERIFY(near(y.at(bench), {8, 0, 1}));  // it stands on the ground by now
        QVERIFY(y.scene().facet<model::Relations>(y.slot(bench))->all[0].to == ground);
        QVERIFY(y.move(bench, {90, 0, 0}));  // nothing is there
        QVERIFY(y.told.size() == 1 && y.told[0].find("nothing is below it") != std::string::npos);
        QVERIFY(near(y.at(bench), {98, 0, 1}));
    }
    void flushItGoesAlongAndOnlyAlongItsAxis() {
        Yard y;
        const ObjectId wall = y.put("cube", {0, 0, 0}, {}, {4, 3, 1}), shelf = y.put("cube", {2.5, 1, 0.2});
        QVERIFY(y.relate(shelf, What::Flush, wall));  // its left side at the wall's right one
        QVERIFY(y.move(wall, {1, 0, 7}));
        QVERIFY(near(y.at(shelf), {3.5, 1, 0.2}));
        QVERIFY(y.move(shelf, {0, 1, 2}));
        QVERIFY(near(y.at(shelf), {3.5, 2, 2.2}));
        QVERIFY(y.move(shelf, {5, 0, 0}));  // away from it: it stays flush
        QVERIFY(near(y.at(shelf), {3.5, 2, 2.2}));
    }
    void atADistanceAndFacing() {
        Yard y;
        const ObjectId fire = y.put("cube", {0, 0, 0}), seat = y.put("cube", {3, 0, 4});
        QVERIFY(y.relate(seat, What::Distance, fire));
        QVERIFY(y.relate(seat, What::Facing, fire));
        QVERIFY(y.move(fire, {3, 0, 0}));
        QVERIFY2(std::abs(glm::length(y.at(seat) - y.at(fire)) - 5) < 1e-6, qPrintable(QString::number(y.at(seat).z)));
        const Vec3 front = glm::normalize(y.scene().world(y.slot(seat)).linear * Vec3(0, 0, -1)),
                   way = glm::normalize(y.at(fire) - y.at(seat));
        QVERIFY(glm::dot(front, way) > 0.98);
    }
    void chainsFollowInOrderAndCirclesAreRefused() {
        Yard y;
        y.put("slab", {0, 0, 0});
        const ObjectId table = y.put("cube", {0, 0, 0}, {}, {4, 1, 4}), box = y.put("cube", {1, 1, 0}),
                       cup = y.put("cube", {1, 2, 0}, {}, Vec3(0.2));
        QVERIFY(y.relate(cup, What::Seated) && y.relate(box, What::Seated));
        QVERIFY(y.move(table, {2, 1, 3}));
        QVERIFY(near(y.at(box), {3, 2, 3}) && near(y.at(cup), {3, 3, 3}));
        QVERIFY(!y.relate(table, What::Facing, cup));
        QVERIFY(y.error.find("circle") != std::string::npos);
        QVERIFY(!y.relate(table, What::Facing, table));
    }
    void whatCannotBeKeptSaysSoAndStays() {
        Yard y;
        const ObjectId a = y.put("cube", {0, 0, 0}), b = y.put("cube", {9, 0, 0}), mine = y.put("cube", {4, 0, 0});
        QVERIFY(y.relate(mine, What::Distance, a) && y.relate(mine, What::Distance, b));
        QVERIFY(y.move(a, {-3, 0, 0}));  // 4 from one and 5 from the other: no more
        QVERIFY2(y.told.size() == 1 && y.told[0].find("stays where it is") != std::string::npos,
                 y.told.empty() ? "" : y.told[0].c_str());
        QVERIFY(near(y.at(mine), {4, 0, 0}));
        y.told.clear();
        QVERIFY(y.step([&](edit::Draft& d) { return ops::setFlag(d, {&mine, 1}, model::flags::kProtected, true); }));
        QVERIFY(y.move(a, {1, 0, 0}));
        QVERIFY(y.told.size() == 1 && y.told[0].find("protected") != std::string::npos);
        y.told.clear();
        QVERIFY(y.step([&](edit::Draft& d) { return ops::setFlag(d, {&mine, 1}, model::flags::kProtected, false); }));
        QVERIFY(y.step([&](edit::Draft& d) { return ops::remove(d, {&a, 1}); }));
        QVERIFY(!y.told.empty() && y.told.back().find("gone") != std::string::npos);
    }
    void oneByOneTheyAreBroken() {
        Yard y;
        const ObjectId a = y.put("cube", {0, 0, 0}), mine = y.put("cube", {4, 0, 0});
        QVERIFY(y.relate(mine, What::Distance, a) && y.relate(mine, What::Facing, a));
        QVERIFY(y.step([&](edit::Draft& d) { return ops::unrelate(d, mine, 0); }));
        QCOMPARE(y.scene().facet<model::Relations>(y.slot(mine))->all.size(), std::size_t{1});
        QVERIFY(!y.step([&](edit::Draft& d) { return ops::unrelate(d, mine, 1); }));
        QVERIFY(y.step([&](edit::Draft& d) { return ops::unrelate(d, mine, 0); }));
        QVERIFY(!y.scene().facet<model::Relations>(y.slot(mine)));
    }
    void movedWithItsGroupNothingChangesBetweenThem() {
        Yard y;
        y.put("slab", {0, 0, 0});
        const ObjectId group = y.add("group"), table = y.put("cube", {0, 0, 0}, {}, Vec3(1.0), group),
                       cup = y.put("cube", {0, 1, 0}, {}, Vec3(0.2), group);
        QVERIFY(y.relate(cup, What::Seated));
        QVERIFY(y.move(group, {1, 2, 3}));
        QVERIFY(near(y.at(cup), {1, 3, 3}) && near(y.at(table), {1, 2, 3}));
        QVERIFY(y.told.empty());
    }
    void copiesKeepToTheSameUnlessThatIsCopiedToo() {
        Yard y;
        y.put("slab", {0, 0, 0});
        const ObjectId table = y.put("cube", {0, 0, 0}, {}, {2, 1, 2}), cup = y.put("cube", {0, 1, 0}, {}, Vec3(0.2));
        QVERIFY(y.relate(cup, What::Seated));
        std::vector<ObjectId> made;
        QVERIFY(y.step([&](edit::Draft& d) -> base::Status {
            const std::vector<ObjectId> both = {table, cup};
            base::Affine by;
            by.translation = {6, 0, 0};
            auto copies = ops::copyMoved(d, both, by);
            if (!copies) return tl::unexpected(copies.error());
            made = *copies;
            return {};
        }));
        QCOMPARE(made.size(), std::size_t{2});
        QVERIFY(y.scene().facet<model::Relations>(y.slot(made[1]))->all[0].to == made[0]);
        QVERIFY(y.move(made[0], {0, 1, 0}));
        QVERIFY(near(y.at(made[1]), {6, 2, 0}) && near(y.at(cup), {0, 1, 0}));
    }
    void itSurvivesARestart() {
        Yard y;
        y.put("slab", {0, 0, 0});
        const ObjectId cup = y.put("cube", {0, 0, 0});
        QVERIFY(y.relate(cup, What::Seated));
        const std::string before = y.bytes();
        y.session().setBeforeCommit(nullptr);
        test::TestProject& project = y;
        QVERIFY(io::saveScene(project.workspace(), "first").has_value());
        QCOMPARE(y.bytes(), before);
        QVERIFY(test::fileBytes(y.scenePath()).find("\"relations\":[{\"what\":\"seated\"") != std::string::npos);
    }
    void whateverIsDoneTheyHoldOrItWasTold() {
        const bool holds = rc::check("random edits", [] {
            Yard y;
            y.put("slab", {0, 0, 0});
            std::vector<ObjectId> ids;
            for (int i = 0; i < 5; ++i) ids.push_back(y.put("cube", {i * 2.0 - 4, 0, 0}, {}, Vec3(1 + i * 0.1)));
            for (int i = 1; i < 5; ++i) {
                const auto what = *rc::gen::element(What::Seated, What::Flush, What::Distance);
                (void)y.relate(ids[static_cast<std::size_t>(i)], what,
                               ids[static_cast<std::size_t>(*rc::gen::inRange(0, i))]);
            }
            bool wasTold = false;  // of something that could not be kept, and hangs where it is since
            for (int i = 0; i < 12; ++i) {
                const std::string before = y.bytes();
                y.told.clear();
                const ObjectId id = ids[static_cast<std::size_t>(*rc::gen::inRange(0, 5))];
                const Vec3 by(*rc::gen::inRange(-20, 21) * 0.1, *rc::gen::inRange(0, 11) * 0.1,
                              *rc::gen::inRange(-20, 21) * 0.1);
                const bool turned = *rc::gen::arbitrary<bool>();
                std::vector<Vec3> were;
                for (ObjectId one : ids) were.push_back(y.at(one));
                RC_ASSERT((turned ? y.turn(id, 90 * *rc::gen::inRange(-2, 3)) : y.move(id, by)));
                wasTold = wasTold || !y.told.empty();
                if (y.told.empty())
                    for (std::size_t k = 0; k < ids.size(); ++k) {
                        const ObjectId one = ids[k];
                        const auto& relations = y.scene().facet<model::Relations>(y.slot(one));
                        if (!relations) continue;
                        const bool seated = std::any_of(relations->all.begin(), relations->all.end(),
                                                        [](const auto& r) { return r.what == What::Seated; });
                        for (const model::Relation& r : relations->all) {
                            if (r.what == What::Seated && were[k] != y.at(one) && !wasTold && !y.isBesideOrIn(one, ids))
                                RC_ASSERT(std::abs(ops::seatDrops(y.scene(), y.index(), {&one, 1}, {}).front().metres) <
                                          1e-4);
                            if (r.what != What::Distance) continue;
                            Vec3 way = y.at(one) - y.at(r.to);
                            if (seated) way.y = 0;
                            RC_ASSERT(std::abs(glm::length(way) - r.metres) < 1e-4);
                        }
                    }
                const std::string after = y.bytes();
                if (after == before) continue;
                RC_ASSERT(y.session().undo().has_value());
                RC_ASSERT(y.bytes() == before);
                RC_ASSERT(y.session().redo().has_value());
                RC_ASSERT(y.bytes() == after);
            }
        });
        QVERIFY(holds);
    }
    void whatStandsOnAThingAndOnThatInTurn() {
        Yard y;
        const ObjectId ground = y.put("slab", {0, 0, 0}), table = y.put("cube", {0, 0, 0}, {}, {4, 1, 4}),
                       box = y.put("cube", {1, 1, 0}), cup = y.put("cube", {1, 2, 0}, {}, Vec3(0.2)),
                       beside = y.put("cube", {2.5, 0, 0}), above = y.put("cube", {-1, 1.2, 0}, {}, Vec3(0.3));
        const auto on = ops::standingOn(y.scene(), y.index(), {&table, 1});
        QCOMPARE(on.size(), std::size_t{2});
        QVERIFY(std::find(on.begin(), on.end(), box) != on.end() && std::find(on.begin(), on.end(), cup) != on.end());
        QVERIFY(ops::supportOf(y.scene(), y.index(), y.slot(cup)) == box);
        QVERIFY(ops::supportOf(y.scene(), y.index(), y.slot(beside)) == ground);
        QVERIFY(!ops::supportOf(y.scene(), y.index(), y.slot(above)));
    }
};

MELLOW_TEST(RelationsTest)
}  // namespace relations_test
#include "relations_test.moc"
