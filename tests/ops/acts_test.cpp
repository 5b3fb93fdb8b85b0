// Acts: what is there when, what stands elsewhere in them, and that all of it comes back to the bit.
#include "ops/acts.h"

#include <QtTest>

#include "ops/copies.h"
#include "ops/move.h"
#include "ops/properties.h"
#include "support/blocks.h"
#include "support/test_main.h"

namespace acts_test {

using base::ObjectId;
using base::Vec3;
using Is = model::ActPart::Is;

class Market : public test::Blocks {
  public:
    Market() {
        keep();
        step([&](edit::Draft& d) -> base::Status {
            const std::string key;
            const std::optional<model::ValueMap> values = kind();
            return d.setEntries(model::data::kindDocument("Boat"), {&key, 1}, {&values, 1});
        });
        step([&](edit::Draft& d) { return made(d, "High water", high); });
        step([&](edit::Draft& d) { return made(d, "Market day", market); });
        boat = put("cube", {6, 0, 0}, {0, 30, 10});
        const base::Name boats = name("Boat");
        step([&](edit::Draft& d) { return d.setLabels(model::LabelField::Kind, {&boat, 1}, {&boats, 1}); });
    }
    ~Market() { session().setBeforeCommit(nullptr); }
    void keep() {
        keeper = std::make_unique<ops::ActKeeper>(session());
        session().setBeforeCommit([this](edit::Draft& draft) { return keeper->beforeCommit(draft); });
    }
    bool step(const std::function<base::Status(edit::Draft&)>& verb) {
        error.clear();
        edit::Draft draft(session(), "first", "Step");
        if (auto done = verb(draft); !done) {
            error = done.error().message;
            return false;
        }
        if (auto kept = draft.commit(); !kept) error = kept.error().message;
        return error.empty();
    }
    bool work(ObjectId act) {
        return step([&](edit::Draft& d) { return ops::workIn(d, act); });
    }
    bool move(ObjectId id, const Vec3& by) {
        return step([&](edit::Draft& d) -> base::Status {
            auto mover = ops::Mover::begin(d.scene(), {&id, 1});
            return mover ? mover->moveBy(d, by) : tl::unexpected(mover.error());
        });
    }
    bool set(ObjectId id, const std::string& property, model::Value value) {
        return step([&](edit::Draft& d) { return ops::setProperty(d, {&id, 1}, property, value); });
    }
    bool is(ObjectId id, ObjectId act, Is what) {
        return step([&](edit::Draft& d) { return ops::setInAct(d, {&id, 1}, act, what); });
    }
    Vec3 at(ObjectId id) { return scene().world(slot(id)).translation; }
    const model::ActPart* part(ObjectId id, ObjectId act) {
        const auto* in = scene().facet<model::InActs>(slot(id));
        return in != nullptr ? in->of(act) : nullptr;
    }
    double oil(ObjectId id) {
        model::Value room;
        const auto* is = ops::propertyOf(session().library(), scene(), slot(id), "oil");
        return std::get<double>(ops::propertyValue(scene(), slot(id), *is, room)->data);
    }

    std::unique_ptr<ops::ActKeeper> keeper;
    ObjectId high, market, boat;
    std::string error;

  private:
    static model::ValueMap kind() {
        const model::ValueMap oil = {
            {"name", {std::string("oil")}}, {"type", {std::string("number")}}, {"default", {1.5}}};
        return {{"name", {std::string("Boat")}},
                {"category", {std::string("x")}},
                {"properties", {model::ValueList{{oil}}}}};
    }
    static base::Status made(edit::Draft& draft, const char* name, ObjectId& into) {
        auto id = ops::addAct(draft, name);
        if (!id) return tl::unexpected(id.error());
        into = *id;
        return {};
    }
};

class ActsTest : public QObject {
    Q_OBJECT

  private Q_SLOTS:
    void theFirstActBeginsAndOthersDoNot() {
        Market m;
        QVERIFY(m.scene().facet<model::Act>(m.slot(m.high))->begins);
        QVERIFY(!m.scene().facet<model::Act>(m.slot(m.market))->begins);
        QCOMPARE(ops::actsOf(m.scene()), (ops::Ids{m.high, m.market}));
    }
    void whoIsThereWhen() {
        Market m;
        const ObjectId below = m.put("cube", {1, 0, 0}, {}, Vec3(1.0), m.boat), away = m.put("cube", {9, 0, 0});
        QVERIFY(m.is(m.boat, m.high, Is::There) && m.is(away, m.market, Is::Away));
        const auto there = [&](std::set<ObjectId> on, ObjectId id) -> bool {
            return ops::thereIn(m.scene(), on)[m.slot(id)];
        };
        QVERIFY(!there({}, m.boat));
        QVERIFY(there({m.high}, m.boat));
        QVERIFY(!there({m.market}, m.boat));
        QVERIFY(!there({}, below) && there({m.high, m.market}, below));
        QVERIFY(there({}, away) && !there({m.high, m.market}, away));
        QVERIFY(m.is(m.boat, m.market, Is::There));  // in two
        QVERIFY(there({m.market}, m.boat) && there({m.high}, m.boat));
        const ops::ActSums sums = ops::sumsOf(m.scene(), m.session().library(), m.market);
        QCOMPARE(sums.adds, 1u);
        QCOMPARE(sums.takes, 1u);
        QCOMPARE(sums.objects, 2u);
        QCOMPARE(sums.triangles, 24u);
    }
    void whatSaysNothingAnyMoreHasNoFacet() {
        Market m;
        const std::string before = m.bytes();
        QVERIFY(m.is(m.boat, m.high, Is::There) && m.is(m.boat, m.high, Is::AsItIs));
        QCOMPARE(m.bytes(), before);
    }
    void whatIsChangedInAnActIsSoThereOnly() {
        Market m;
        const Vec3 low = m.at(m.boat);
        const std::string before = m.bytes();
        QVERIFY(m.work(m.high));
        QVERIFY(m.move(m.boat, {0, 2.4, 0}) && m.move(m.boat, {0, 0.1, 0}) && m.set(m.boat, "oil", 3.0));
        QVERIFY(m.part(m.boat, m.high)->posed);
        QCOMPARE(m.part(m.boat, m.high)->at, low);
        const Vec3 up = m.at(m.boat);
        QVERIFY(m.work({}));
        QCOMPARE(m.at(m.boat), low);
        QCOMPARE(m.oil(m.boat), 1.5);
        QCOMPARE(m.part(m.boat, m.high)->at, up);
        const std::string out = m.bytes();
        for (int again = 0; again < 3; ++again) QVERIFY(m.work(m.high) && m.work({}));
        QCOMPARE(m.bytes(), out);  // to the bit
        QVERIFY(m.work(m.high));
        QCOMPARE(m.at(m.boat), up);
        QCOMPARE(m.oil(m.boat), 3.0);
        QVERIFY(m.step([&](edit::Draft& d) { return ops::dropFromAct(d, {&m.boat, 1}, m.high); }));
        QVERIFY(m.work({}));
        QCOMPARE(m.bytes(), before);
    }
    void fromOneActToAnother() {
        Market m;
        const Vec3 low = m.at(m.boat);
        QVERIFY(m.work(m.high) && m.move(m.boat, {0, 2, 0}));
        QVERIFY(m.work(m.market));
        QCOMPARE(m.at(m.boat), low);
        QVERIFY(m.move(m.boat, {5, 0, 0}));
        QVERIFY(m.work(m.high));
        QCOMPARE(m.at(m.boat), low + Vec3(0, 2, 0));
        QVERIFY(m.work(m.market));
        QCOMPARE(m.at(m.boat), low + Vec3(5, 0, 0));
        QVERIFY(m.work({}));
        QCOMPARE(m.at(m.boat), low);
    }
    void allOfItIsUndoneAndRedone() {
        Market m;
        std::vector<std::string> bytes = {m.bytes()};
        const auto then = [&](bool done) { return bytes.push_back(m.bytes()), done; };
        QVERIFY(then(m.work(m.high)) && then(m.move(m.boat, {0, 2, 0})) && then(m.set(m.boat, "oil", 4.0)) &&
                then(m.work(m.market)) && then(m.is(m.boat, m.market, Is::Away)) && then(m.work({})));
        for (std::size_t i = bytes.size() - 1; i-- > 0;) {
            QVERIFY(m.session().undo());
            QCOMPARE(m.bytes(), bytes[i]);
        }
        for (std::size_t i = 1; i < bytes.size(); ++i) {
            QVERIFY(m.session().redo());
            QCOMPARE(m.bytes(), bytes[i]);
        }
    }
    void itIsAllThereAfterSavingAndOpening() {
        Market m;
        QVERIFY(m.work(m.high) && m.move(m.boat, {0, 2, 0}) && m.set(m.boat, "oil", 4.0));
        const std::string bytes = m.bytes();
        for (const std::string& document : m.session().unsavedScenes())
            if (document.front() != '#') QVERIFY(io::saveScene(m.workspace(), document));
        m.session().setBeforeCommit(nullptr);
        m.keeper.reset();
        QVERIFY(m.reopen());
        QCOMPARE(m.bytes(), bytes);
        m.keep();
        QVERIFY(m.move(m.boat, {1, 0, 0}) && m.work({}));
        QCOMPARE(m.at(m.boat), Vec3(6, 0, 0));
    }
    void whatIsPlacedInAnActBelongsToIt() {
        Market m;
        QVERIFY(m.work(m.market));
        const ObjectId stall = m.put("cube", {2, 0, 2}), below = m.put("cube", {1, 0, 0}, {}, Vec3(0.5), stall);
        QCOMPARE(m.part(stall, m.market)->is, Is::There);
        QVERIFY(m.part(below, m.market) == nullptr);  // it goes with what it lies below
        QVERIFY(m.work({}));
        const ObjectId free = m.put("cube", {4, 0, 2});
        QVERIFY(m.part(free, m.market) == nullptr);
    }
    void aCopyOfWhatStandsElsewhereStandsWhereItWasPut() {
        Market m;
        QVERIFY(m.work(m.high) && m.move(m.boat, {0, 2, 0}));
        ObjectId copy;
        QVERIFY(m.step([&](edit::Draft& d) -> base::Status {
            auto made = ops::duplicate(d, {&m.boat, 1});
            if (!made) return tl::unexpected(made.error());
            copy = made->front();
            auto mover = ops::Mover::begin(d.scene(), {&copy, 1});
            return mover->moveBy(d, {3, 0, 0});
        }));
        const Vec3 at = m.at(copy);
        QVERIFY(m.work({}));
        QCOMPARE(m.at(copy), at);
        QCOMPARE(m.part(copy, m.high)->is, Is::There);
    }
    void anActThatIsRemovedGivesBackWhatItChanged() {
        Market m;
        const Vec3 low = m.at(m.boat);
        QVERIFY(m.work(m.high) && m.move(m.boat, {0, 2, 0}) && m.set(m.boat, "oil", 4.0));
        const std::string before = m.bytes();
        QVERIFY(m.step([&](edit::Draft& d) { return ops::remove(d, {&m.high, 1}); }));
        QCOMPARE(m.at(m.boat), low);
        QCOMPARE(m.oil(m.boat), 1.5);
        QVERIFY(m.session().undo());
        QCOMPARE(m.bytes(), before);
        QVERIFY(m.work({}));
        QCOMPARE(m.at(m.boat), low);
    }
    void underAnotherParentItStaysWhereItIsInTheActToo() {
        Market m;
        QVERIFY(m.work(m.high) && m.move(m.boat, {0, 2, 0}));
        const Vec3 up = m.at(m.boat);
        const ObjectId quay = m.put("cube", {10, 1, -4}, {0, 90, 0}, Vec3(2.0));
        QVERIFY(m.work({}));
        const Vec3 low = m.at(m.boat);
        QVERIFY2(m.step([&](edit::Draft& d) { return ops::reparent(d, {&m.boat, 1}, quay, {}); }), m.error.c_str());
        QVERIFY(glm::length(m.at(m.boat) - low) < 1e-9);
        QVERIFY(m.work(m.high));
        QVERIFY(glm::length(m.at(m.boat) - up) < 1e-9);
    }
    void whatIsProtectedComesAlong() {
        Market m;
        QVERIFY(m.work(m.high) && m.move(m.boat, {0, 2, 0}) && m.work({}));
        QVERIFY(m.step([&](edit::Draft& d) { return ops::setFlag(d, {&m.boat, 1}, model::flags::kProtected, true); }));
        const std::string before = m.bytes();
        QVERIFY(m.work(m.high));
        QCOMPARE(m.at(m.boat), Vec3(6, 2, 0));
        QVERIFY(!m.is(m.boat, m.high, Is::Away));
        QVERIFY2(m.error.find("protected") != std::string::npos, m.error.c_str());
        QVERIFY(m.work({}));
        QCOMPARE(m.bytes(), before);
    }
    void whatIsNoActIsRefused() {
        Market m;
        const std::string before = m.bytes();
        QVERIFY(!m.work(m.boat) && !m.is(m.boat, m.boat, Is::There) && !m.is(m.high, m.market, Is::There));
        QVERIFY(m.error.find("act itself") != std::string::npos);
        QVERIFY(!m.work(ObjectId{12345}));
        QCOMPARE(m.bytes(), before);
    }
};

MELLOW_TEST(ActsTest)
}  // namespace acts_test
#include "acts_test.moc"
