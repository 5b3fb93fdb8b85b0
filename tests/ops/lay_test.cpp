// Laying pieces cell by cell, rows side by side, mixes and what goes on in a row.
#include "ops/lay.h"

#include <rapidcheck.h>

#include <QtTest>

#include "ops/assortments.h"
#include "ops/broom.h"
#include "ops/row.h"
#include "support/blocks.h"
#include "support/test_main.h"

namespace lay_test {

using base::ObjectId;
using base::Vec3;
using ops::Cell;

/// Tiles of 2 m: straight north to south, corner north and east, end north, cross, lone; a plank of two cells.
class Yard : public test::Blocks {
  public:
    Yard() {
        for (const char* name : {"straight", "corner", "end", "tee", "cross", "lone"})
            add(name, {{-1, -0.1, -1}, {1, 0, 1}});
        add("plank", {{-1, 0, -2}, {1, 0.1, 2}});
        add("odd", {{-0.7, 0, -1}, {0.7, 1, 1}});
        set.name = "path";
        set.cellMetres = 2;
        set.pieces = {{"straight", model::kNorth | model::kSouth},
                      {"corner", model::kNorth | model::kEast},
                      {"end", model::kNorth},
                      {"tee", model::kNorth | model::kEast | model::kSouth},
                      {"cross", 15},
                      {"lone", 0}};
        index();
    }
    void add(const std::string& name, const base::Aabb& box) { addItem(name, shape::boxMesh(box)); }
    ops::Lattice lattice{2, 0, {}};
    model::PieceSet set;

    base::Result<ops::Ids> layPiece(const ops::LaidPiece& piece, const std::vector<Cell>& cells) {
        edit::Draft draft(session(), "first", "Lay");
        auto plan = ops::planPiece(scene(), index(), session(), lattice, piece, cells);
        if (!plan) return tl::unexpected(plan.error());
        return done(draft, *plan);
    }
    base::Result<ops::Ids> layPath(const std::vector<Cell>& cells) {
        edit::Draft draft(session(), "first", "Lay");
        auto plan = ops::planSet(scene(), index(), session(), lattice, set, cells);
        if (!plan) return tl::unexpected(plan.error());
        unfit = plan->unfit;
        return done(draft, *plan);
    }
    base::Result<ops::Ids> clear(const std::vector<Cell>& cells) {
        edit::Draft draft(session(), "first", "Clear");
        auto plan = ops::planClear(scene(), index(), session(), lattice, &set, cells);
        if (!plan) return tl::unexpected(plan.error());
        return done(draft, *plan);
    }
    std::optional<ops::Laid> at(const Cell& cell) {
        return ops::laidAt(scene(), index(), session().library(), lattice, cell);
    }
    std::uint8_t joins(const Cell& cell) {
        const auto laid = at(cell);
        const auto* piece = laid ? set.pieceOf(laid->piece.item) : nullptr;
        return piece != nullptr ? model::turned(piece->joins, laid->piece.quarters) : std::uint8_t{255};
    }
    std::size_t unfit = 0;

  private:
    base::Result<ops::Ids> done(edit::Draft& draft, const ops::LayPlan& plan) {
        auto made = ops::lay(draft, plan);
        if (!made) return made;
        if (auto step = draft.commit(); !step) return tl::unexpected(step.error());
        return made;
    }
};

class LayTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void sidesTurnToTheLeft() {
        QCOMPARE(int(model::turned(model::kEast, 1)), int(model::kNorth));
        QCOMPARE(int(model::turned(model::kNorth, 1)), int(model::kWest));
        QCOMPARE(int(model::turned(model::kNorth | model::kEast, 2)), model::kSouth | model::kWest);
        QCOMPARE(int(model::turned(5, 4)), 5);
        QCOMPARE(int(model::turned(model::kNorth, -1)), int(model::kEast));
    }
    void aPieceLiesExactlyInItsCellHoweverItIsTurned() {
        Yard y;
        for (int q = 0; q < 4; ++q)
            for (const bool mirrored : {false, true}) {
                const auto made = y.layPiece({"plank", q, mirrored}, {{3, -2}});
                QVERIFY2(made.has_value(), made ? "" : made.error().message.c_str());
                const base::Aabb box = y.bounds(made->front());
                const double wide = q % 2 == 0 ? 2 : 4, deep = q % 2 == 0 ? 4 : 2;
                QVERIFY(glm::length(box.low - Vec3(6, 0, -4)) < 1e-6);
                QVERIFY(std::abs(box.size().x - wide) < 1e-6 && std::abs(box.size().z - deep) < 1e-6);
                const auto laid = y.at({3, -2});
                QVERIFY(laid && laid->id == made->front() && laid->piece.quarters == q &&
                        laid->piece.mirrored == mirrored);
            }
        std::size_t planks = 0;  // each has taken the place of the one before
        for (model::Slot s = 0; s < y.scene().slotEnd(); ++s)
            planks += y.scene().alive(s) && y.scene().itemText(s) == "plank" ? 1 : 0;
        QCOMPARE(planks, std::size_t{1});
    }
    void whatIsNoWholeNumberOfCellsIsRefused() {
        Yard y;
        const std::string before = y.bytes();
        const auto made = y.layPiece({"odd", 0, false}, {{0, 0}});
        QVERIFY(!made && made.error().message.find("no whole number of cells") != std::string::npos);
        QVERIFY(!y.layPiece({"nothing", 0, false}, {{0, 0}}));
        QCOMPARE(y.bytes(), before);
        QCOMPARE(*ops::cellOf(*y.session().library().item(y.name("plank"))), 2.0);
        QVERIFY(ops::footprintOf(*y.session().library().item(y.name("plank")), 2) == (ops::Footprint{1, 2}));
    }
    void aRectangleLaidTwiceIsLaidOnceAndUndoneToTheByte() {
        const bool holds = rc::check("any rectangle", [] {
            Yard y;
            const std::string before = y.bytes();
            const Cell from{*rc::gen::inRange(-9, 9), *rc::gen::inRange(-9, 9)},
                to{*rc::gen::inRange(-9, 9), *rc::gen::inRange(-9, 9)};
            const int quarters = *rc::gen::inRange(0, 4);
            const bool plank = *rc::gen::arbitrary<bool>();
            const auto cells = ops::rectangle(from, to);
            const auto made = y.layPiece({plank ? "plank" : "cross", quarters, false}, cells);
            RC_ASSERT(made.has_value());
            if (!plank) RC_ASSERT(made->size() == cells.size());
            const std::string laid = y.bytes();
            const auto again = y.layPiece({plank ? "plank" : "cross", quarters, false}, cells);
            RC_ASSERT(again.has_value());
            RC_ASSERT(again->empty());
            RC_ASSERT(y.bytes() == laid);
            if (!made->empty()) RC_ASSERT(y.session().undo().has_value());
            RC_ASSERT(y.bytes() == before);
        });
        QVERIFY(holds);
    }
    void aDrawnPathClosesRoundACornerAndAtItsEnds() {
        Yard y;
        QVERIFY(y.layPath({{0, 0}, {1, 0}, {2, 0}, {2, 1}, {2, 2}}).has_value());
        QCOMPARE(y.unfit, std::size_t{0});
        QCOMPARE(int(y.joins({0, 0})), int(model::kEast));
        QCOMPARE(int(y.joins({1, 0})), model::kEast | model::kWest);
        QCOMPARE(int(y.joins({2, 0})), model::kWest | model::kSouth);
        QCOMPARE(int(y.joins({2, 2})), int(model::kNorth));
        // Drawn on from its middle: the middle becomes a tee, without being drawn itself.
        QVERIFY(y.layPath({{1, -1}}).has_value());
        QCOMPARE(int(y.joins({1, 0})), model::kEast | model::kWest | model::kNorth);
        QCOMPARE(int(y.joins({1, -1})), int(model::kSouth));
        // And taken away again its neighbours close.
        QVERIFY(y.clear({{1, 0}}).has_value());
        QCOMPARE(int(y.joins({0, 0})), 0);
        QCOMPARE(int(y.joins({1, -1})), 0);
        QCOMPARE(int(y.joins({2, 0})), int(model::kSouth));
    }
    void anyPathFitsItselfEverywhereWhateverWasThereBefore() {
        const bool holds = rc::check("any cells", [] {
            Yard y;
            std::set<Cell> all;
            for (int round = 0; round < 3; ++round) {
                std::vector<Cell> cells;
                for (int i = *rc::gen::inRange(1, 12); i > 0; --i)
                    cells.push_back({*rc::gen::inRange(0, 5), *rc::gen::inRange(0, 5)});
                const bool away = round == 1 && *rc::gen::arbitrary<bool>();
                for (const Cell& cell : cells) away ? (void)all.erase(cell) : (void)all.insert(cell);
                RC_ASSERT((away ? y.clear(cells) : y.layPath(cells)).has_value());
            }
            for (std::int64_t x = -1; x <= 5; ++x)
                for (std::int64_t z = -1; z <= 5; ++z) {
                    if (!all.contains({x, z})) {
                        RC_ASSERT(!y.at({x, z}));
                        continue;
                    }
                    int wanted = 0;
                    if (all.contains({x, z - 1})) wanted |= model::kNorth;
                    if (all.contains({x + 1, z})) wanted |= model::kEast;
                    if (all.contains({x, z + 1})) wanted |= model::kSouth;
                    if (all.contains({x - 1, z})) wanted |= model::kWest;
                    RC_ASSERT(int(y.joins({x, z})) == wanted);
                }
        });
        QVERIFY(holds);
    }
    void whatIsProtectedDoesNotGiveWay() {
        Yard y;
        const auto made = y.layPiece({"cross", 0, false}, {{0, 0}});
        edit::Draft draft(y.session(), "first", "Protect");
        QVERIFY(ops::setFlag(draft, *made, model::flags::kProtected, true).has_value() && draft.commit());
        const std::string before = y.bytes();
        QVERIFY(!y.layPiece({"lone", 0, false}, {{0, 0}, {1, 0}}));
        QCOMPARE(y.bytes(), before);
    }
    void whatStandsOnAFloorDoesNotGiveWayToAnotherFloorNorDoesTheGround() {
        Yard y;
        const ObjectId ground = y.put("slab", {0, 0.5, 0});  // 20 cells wide, at the same height
        QVERIFY(y.layPiece({"cross", 0, false}, {{0, 0}}).has_value());
        const ObjectId bench = y.put("cube", {1, 0, 1});
        QVERIFY(y.layPiece({"lone", 0, false}, {{0, 0}}).has_value());
        QVERIFY(y.slot(bench) != model::kNoSlot && y.slot(ground) != model::kNoSlot);
        QCOMPARE(y.at({0, 0})->piece.item, std::string("lone"));
    }
    void atAnotherHeightNothingGivesWay() {
        Yard y;
        QVERIFY(y.layPiece({"cross", 0, false}, {{0, 0}}).has_value());
        y.lattice.heightMetres = 3;
        QVERIFY(!y.at({0, 0}));
        const auto made = y.layPiece({"cross", 0, false}, {{0, 0}});
        QVERIFY(std::abs(y.bounds(made->front()).high.y - 3.1) < 1e-6 ||
                std::abs(y.bounds(made->front()).low.y - 3) < 1e-6);
        y.lattice.heightMetres = 0;
        QVERIFY(y.at({0, 0}).has_value());
    }
    void piecesSideBySideHaveNoGap() {
        Yard y;
        const model::Item& plank = *y.session().library().item(y.name("plank"));
        for (const double turn : {0.0, 30.0, 90.0, 217.0}) {
            ops::Placement first;
            first.item = y.name("plank");
            first.position = {3, 1, 4};
            first.rotation = base::fromDegrees({0, turn, 0});
            first.size = 1.3;
            const Vec3 along = first.rotation * Vec3(0, 0, 1);
            const auto row = ops::sideBySide(plank, first, along * 30.0 + Vec3(0.5, 0, 0));
            QCOMPARE(row.size(), std::size_t{7});  // 30 m at 5.2 each, and the first
            for (std::size_t i = 1; i < row.size(); ++i)
                QVERIFY(glm::length(row[i].position - row[i - 1].position - along * 5.2) < 1e-6);
        }
    }
    void theNextOfARowComesAsTheSecondCameFromTheFirst() {
        test::Blocks b;
        const ObjectId a = b.put("cube", {0, 0, 0}), c = b.put("cube", {2, 0, 0}, {0, 30, 0}),
                       other = b.put("beam", {9, 0, 0}), large = b.put("cube", {4, 0, 0}, {}, Vec3(2.0));
        const auto motion = ops::motionOfRow(b.scene(), {&a, 1}, {&c, 1});
        QVERIFY(motion);
        const Vec3 next = motion->point(b.scene().world(b.slot(c)).translation);
        QVERIFY(glm::length(next - Vec3(2 + 2 * std::cos(base::radians(30.0)), 0, -2 * std::sin(base::radians(30.0)))) <
                1e-9);
        QVERIFY(!ops::motionOfRow(b.scene(), {&a, 1}, {&other, 1}));
        QVERIFY(!ops::motionOfRow(b.scene(), {&a, 1}, {&large, 1}));
        QVERIFY(!ops::motionOfRow(b.scene(), {&a, 1}, {&a, 1}));
        QVERIFY(!ops::motionOfRow(b.scene(), {}, {}));
    }
    void aMixIsDrawnByItsSharesAndSurvivesARestart() {
        Yard y;
        {
            edit::Draft draft(y.session(), "first", "Mix");
            QVERIFY(!ops::putMix(draft, {"", {{"cube", 1}}, {}}));
            QVERIFY(!ops::putMix(draft, {"bank", {{"nothing", 1}}, {}}));
            QVERIFY(!ops::putMix(draft, {"bank", {}, {}}));
            QVERIFY(!ops::putMix(draft, {"bank", {{"cube", -1}}, {}}));
            QVERIFY(ops::putMix(draft, {"bank", {{"cube", 3}, {"beam", 1}}, {}}).has_value());
            QVERIFY(draft.commit().has_value());
        }
        const model::Mix mix = y.session().library().mixes().at("bank");
        base::Random random(4);
        int cubes = 0;
        for (int i = 0; i < 4000; ++i) cubes += ops::drawFrom(y.session().library(), mix, random) == "cube" ? 1 : 0;
        QVERIFY2(std::abs(cubes - 3000) < 150, qPrintable(QString::number(cubes)));
        QVERIFY(y.session().undo().has_value());
        QVERIFY(y.session().library().mixes().empty());
        QVERIFY(y.session().redo().has_value());
        y.close();
        QVERIFY(y.reopen());
        QVERIFY(y.session().library().mixes().at("bank") == mix);
    }
    void objectsAreRemadeOfAMixAndComeBack() {
        Yard y;
        std::vector<ObjectId> ids;
        for (int i = 0; i < 40; ++i) ids.push_back(y.put("cube", {i * 2.0, 0, 0}));
        {
            edit::Draft draft(y.session(), "first", "Mix");
            QVERIFY(ops::putMix(draft, {"bank", {{"cube", 1}, {"beam", 1}}, {}}).has_value() && draft.commit());
        }
        const std::string before = y.bytes();
        edit::Draft draft(y.session(), "first", "Remake");
        const auto count = ops::remake(draft, ids, "bank", 7);
        QVERIFY(count && *count > 8 && *count < 32);
        QVERIFY(!ops::remake(draft, ids, "nothing", 7));
        QVERIFY(draft.commit().has_value());
        QVERIFY(y.session().undo().has_value());
        QCOMPARE(y.bytes(), before);
    }
    void theBroomKeepsAwayStandsWhereItMayAndFacesOneWay() {
        Yard y;
        y.put("slab", {0, 0, 0});
        const ObjectId tree = y.put("beam", {0, 0, 0});
        y.put("cross", {9, 0.3, 0}, {}, {2, 1, 2});
        ops::BroomSettings settings;
        settings.item = "cube";
        settings.radiusMetres = 12;
        settings.density = 1;
        settings.chances.turnDegrees = 0;
        settings.headingDegrees = 90;
        settings.apartFrom = "item:beam";
        settings.apartMetres = 3;
        settings.onto = "item:slab";
        edit::Draft draft(y.session(), "first", "Sweep");
        ops::Broom broom(draft, y.index(), settings);
        QVERIFY(broom.sweep({0, 0, 0}).has_value());
        QVERIFY2(broom.count() > 100, qPrintable(QString::number(broom.count())));
        const base::Aabb away = y.bounds(tree);
        for (ObjectId id : broom.met()) {
            const Vec3 at = y.scene().world(y.slot(id)).translation, nearest = glm::clamp(at, away.low, away.high);
            QVERIFY(std::hypot(at.x - nearest.x, at.z - nearest.z) > 3 - 1e-6);
            QVERIFY(std::abs(at.y) < 1e-3);  // not on the tile
            QVERIFY(glm::length(y.scene().world(y.slot(id)).linear * Vec3(0, 0, -1) - Vec3(-1, 0, 0)) < 1e-9);
        }
        // Turned round, and made something else, by other brooms.
        ops::BroomSettings align = settings;
        align.verb = ops::BroomVerb::Align;
        align.filter = "item:cube";
        align.headingDegrees = 0;
        ops::Broom turning(draft, y.index(), align);
        QVERIFY(turning.sweep({0, 0, 0}).has_value());
        QVERIFY(turning.count() > 100);
        for (ObjectId id : turning.met())
            QVERIFY(glm::length(y.scene().world(y.slot(id)).linear * Vec3(0, 0, -1) - Vec3(0, 0, -1)) < 1e-9);
        align.verb = ops::BroomVerb::Replace;
        align.item = "odd";
        ops::Broom replacing(draft, y.index(), align);
        QVERIFY(replacing.sweep({0, 0, 0}).has_value());
        for (ObjectId id : replacing.met()) QCOMPARE(y.scene().itemText(y.slot(id)), std::string_view("odd"));
    }
};

MELLOW_TEST(LayTest)
}  // namespace lay_test
#include "lay_test.moc"
