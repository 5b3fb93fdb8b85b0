#include "rehearse/settle.h"

#include <QtTest>

#include "ops/move.h"
#include "support/test_main.h"
#include "support/yard.h"

namespace settle_test {

using base::ObjectId;
using base::Vec3;
using rehearse::Rest;

class SettleTest : public QObject {
    Q_OBJECT

    static std::vector<Rest> settled(test::Yard& y, const std::vector<ObjectId>& ids, double seconds = 10) {
        base::Progress progress;
        auto rests = rehearse::settle(std::make_shared<const model::Scene>(y.scene()),
                                      {y.session().library(), y.shapes(), y.walker, y.craft}, ids, seconds, progress);
        if (!rests) qFatal("%s", rests.error().message.c_str());
        if (std::abs(progress.done() - 1) > 1e-6) qFatal("the progress is not whole");
        return *rests;
    }
    static base::Status keep(test::Yard& y, const std::vector<Rest>& rests) {
        std::vector<ObjectId> ids;
        std::vector<base::Affine> motions;
        for (const Rest& rest : rests) {
            ids.push_back(rest.object);
            motions.push_back(rest.motion);
        }
        edit::Draft draft(y.session(), "first", "Settle");
        if (base::Status moved = ops::moveEach(draft, ids, motions); !moved) return moved;
        auto kept = draft.commit();
        return kept ? base::Status{} : tl::unexpected(kept.error());
    }

  private Q_SLOTS:
    void whatStandsStaysWhatLeansTipsAndWhatHangsFalls() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const auto stands = y.loose("cube", {0, 0, 0});
        const auto hangs = y.loose("cube", {4, 1, 0});
        const auto leans = y.loose("cube", {8, 0, 0}, {0, 0, 50}, {0.3, 2, 0.3});
        const auto lost = y.loose("cube", {60, 0, 0});
        y.put("cube", {-6, 0, 0}, {}, Vec3(2.0));
        const auto inside = y.loose("cube", {-6, 0.5, 0.9});
        const auto rests = settled(y, {stands, hangs, leans, lost, inside}, 30);
        QCOMPARE(rests.size(), std::size_t(5));
        QVERIFY(rests[0].isFine());
        QVERIFY(rests[1].moves() && std::abs(rests[1].metres - 1) < 0.02 && rests[1].rests && !rests[1].tips());
        QVERIFY(rests[2].tips());
        QVERIFY(rests[3].lost);
        QVERIFY(rests[4].inside);
        QVERIFY(rehearse::textOf(rests[1], y.scene()).find("moves by 1.00 m") != std::string::npos);
        QVERIFY(rehearse::textOf(rests[0], y.scene()).empty());
    }
    void theRestsAreKeptAsOneStepAndThenNothingMoves() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        std::vector<ObjectId> ids;
        base::Random random(3);
        for (int i = 0; i < 12; ++i)
            ids.push_back(y.loose("cube", {random.between(-1, 1), 0.5 + i * 0.8, random.between(-1, 1)},
                                  {random.between(0, 90), random.between(-30, 30), 0}, Vec3(random.between(0.4, 0.9))));
        const auto before = y.bytes();
        const auto steps = y.session().history().steps().size();
        QVERIFY(keep(y, settled(y, ids, 20)));
        QCOMPARE(y.session().history().steps().size(), steps + 1);
        for (const Rest& rest : settled(y, ids, 20))
            QVERIFY2(rest.metres < 0.03 && !rest.inside, rehearse::textOf(rest, y.scene()).c_str());
        QVERIFY(y.session().undo());
        QCOMPARE(y.bytes(), before);
    }
    void onlyTheChosenFallAndTheirSizesStay() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const auto other = y.loose("cube", {0, 1, 0});
        const auto chosen = y.loose("cube", {0, 3, 0}, {0, 20, 0}, {0.5, 0.7, 0.9});
        const auto rests = settled(y, {chosen});
        QCOMPARE(rests.size(), std::size_t(1));
        QVERIFY2(std::abs(rests[0].metres - 1) < 0.02,
                 qPrintable(QString::number(rests[0].metres)));  // onto the other, which hangs where it is
        QVERIFY(keep(y, rests));
        QVERIFY(glm::length(y.scene().local(y.slot(chosen)).scale - Vec3(0.5, 0.7, 0.9)) < 1e-12);
        QCOMPARE(y.scene().world(y.slot(other)).translation, Vec3(0, 1, 0));
    }
    void whatLiesInGroupsAndBelowOneAnotherComesToItsOwnPlace() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const auto group = y.add("Group", {}, {{2, 1, 0}, base::fromDegrees({30, 0, 0}), Vec3(2.0)});
        const auto under = y.put("cube", {1, 1, 0}, {}, Vec3(0.5), group);
        const auto on = y.put("cube", {0, 3, 0}, {}, Vec3(0.8), under);
        model::Body body;
        body.role = model::Body::Role::Loose;
        y.give(under, body);
        y.give(on, body);
        const auto rests = settled(y, {under, on});
        QCOMPARE(rests.size(), std::size_t(2));
        std::vector<base::Affine> wanted;
        for (const Rest& rest : rests) wanted.push_back(rest.motion * y.scene().world(y.slot(rest.object)));
        QVERIFY(keep(y, rests));
        for (std::size_t i = 0; i < rests.size(); ++i) {
            const base::Affine is = y.scene().world(y.slot(rests[i].object));
            QVERIFY(glm::length(is.translation - wanted[i].translation) < 1e-6);
            for (int k = 0; k < 3; ++k) QVERIFY(glm::length(is.linear[k] - wanted[i].linear[k]) < 1e-6);
        }
    }
    void aProtectedOneRefusesAndNothingIsMoved() {
        test::Yard y;
        y.put("slab", {0, 0, 0});
        const auto a = y.loose("cube", {0, 2, 0}), b = y.loose("cube", {4, 2, 0});
        {
            edit::Draft draft(y.session(), "first", "Protect");
            QVERIFY(draft.setFlags({&b, 1}, std::vector<std::uint8_t>{model::flags::kProtected}) && draft.commit());
        }
        const auto before = y.bytes();
        QVERIFY(!keep(y, settled(y, {a, b})));
        QCOMPARE(y.bytes(), before);
    }
};

MELLOW_TEST(SettleTest)
}  // namespace settle_test
#include "settle_test.moc"
