// Random verbs of ops, one step each: what is refused changes nothing, what is done comes back by undo and redo, byte
// for byte, also after the project was closed and opened again.
#include <rapidcheck.h>

#include <QtTest>

#include "ops/aim.h"
#include "ops/align.h"
#include "ops/keep.h"
#include "ops/move.h"
#include "ops/seat.h"
#include "query/walk.h"
#include "support/blocks.h"
#include "support/test_main.h"

namespace random_verbs_test {

using base::ObjectId;
using base::Status;
using base::Vec3;

template <class T>
Status statusOf(const tl::expected<T, base::Error>& result) {
    return result ? Status{} : tl::unexpected(result.error());
}

double anyMetres() {
    return *rc::gen::inRange(-80, 81) * 0.125;
}
Vec3 anyPoint() {
    return {anyMetres(), std::abs(anyMetres()), anyMetres()};
}
base::Transform anyPose() {
    const double size = *rc::gen::inRange(1, 5) * 0.5;
    const Vec3 turn(*rc::gen::inRange(-60, 61), *rc::gen::inRange(0, 360), *rc::gen::inRange(-60, 61));
    return {anyPoint(), base::fromDegrees(turn), *rc::gen::arbitrary<bool>() ? Vec3(size) : Vec3(size, 1, -size)};
}

class Verbs {
  public:
    explicit Verbs(test::Blocks& blocks) : b_(blocks) {}

    /// One verb with random arguments.
    Status any(edit::Draft& draft) {
        const std::vector<ObjectId> ids = some();
        switch (*rc::gen::inRange(0, 15)) {
            case 0: return ops::align(draft, ids, axis(), query::BoxSide::Centre, {leader(ids)});
            case 1: return ops::distribute(draft, ids, axis(), ops::Spacing::Gaps);
            case 2: return ops::match(draft, ids, static_cast<ops::PosePart>(*rc::gen::inRange(0, 4)), leader(ids));
            case 3: return ops::reset(draft, ids, static_cast<ops::PosePart>(*rc::gen::inRange(0, 4)));
            case 4: return ops::snapToLattice(draft, ids, 0.25);
            case 5: return ops::swapWithPrevious(draft, ids);
            case 6: return ops::aim(draft, ids, anyPoint());
            case 7: {
                ops::SeatOptions options;
                options.tilt = *rc::gen::arbitrary<bool>();
                options.sinkMetres = 0.05;
                options.out = *rc::gen::arbitrary<bool>() ? query::Way::Up : query::Way::Down;
                return statusOf(ops::seat(draft, b_.index(), ids, options));
            }
            case 8:
                return statusOf(
                    ops::replaceItem(draft, ids, b_.name(*rc::gen::element<std::string>("cube", "beam", "no such"))));
            case 9:
                return ops::keepView(draft, {"View " + std::to_string(*rc::gen::inRange(0, 4)), anyPoint(), {}, 0, {}});
            case 10: return ops::keepSelection(draft, {"Some", ids, {}});
            case 11: return ops::dropKept(draft, ops::Kept::Views, "View 1");
            case 12: return ops::setFlag(draft, ids, model::flags::kProtected, *rc::gen::inRange(0, 4) == 0);
            case 13: return statusOf(ops::duplicate(draft, ids));
            default: return moved(draft, ids);
        }
    }

  private:
    std::vector<ObjectId> all() const {
        std::vector<ObjectId> ids;
        for (model::Slot s : b_.scene().subtree(model::kNoSlot)) ids.push_back(b_.scene().id(s));
        return ids;
    }
    std::vector<ObjectId> some() const {
        const auto ids = all();
        std::vector<ObjectId> chosen;
        for (ObjectId id : ids)
            if (*rc::gen::inRange(0, 3) == 0) chosen.push_back(id);
        return chosen.empty() ? std::vector<ObjectId>{ids.front()} : chosen;
    }
    static int axis() { return *rc::gen::inRange(0, 3); }
    ObjectId leader(const std::vector<ObjectId>& ids) const {
        return *rc::gen::arbitrary<bool>() ? ids.back() : *rc::gen::elementOf(all());
    }
    static Status moved(edit::Draft& draft, const std::vector<ObjectId>& ids) {
        auto mover = ops::Mover::begin(draft.scene(), ids);
        if (!mover) return tl::unexpected(mover.error());
        const auto pivot = static_cast<ops::PivotMode>(*rc::gen::inRange(0, 3));
        switch (*rc::gen::inRange(0, 4)) {
            case 0: return mover->moveBy(draft, anyPoint());
            case 1: return mover->turnBy(draft, {0, 1, 0}, anyMetres(), pivot);
            case 2: return statusOf(mover->sizeBy(draft, {1.5, 1, 0.75}, pivot));
            default: return mover->carryTo(draft, anyPoint(), glm::mat3_cast(base::fromDegrees({20, 30, 0})));
        }
    }

    test::Blocks& b_;
};

class RandomVerbsTest : public QObject {
    Q_OBJECT
    static bool holds(const char* what, const std::function<void()>& property) { return rc::check(what, property); }
  private Q_SLOTS:
    void everyVerbIsRefusedWholeOrUndoneToTheSameBytes() {
        QVERIFY(holds("verbs, undone and redone", [] {
            test::Blocks b;
            b.put("slab", {0, 0, 0});
            std::vector<ObjectId> made;
            for (int i = *rc::gen::inRange(2, 7); i > 0; --i) {
                const base::Transform pose = anyPose();
                const ObjectId parent = !made.empty() && *rc::gen::arbitrary<bool>() ? made.front() : ObjectId{};
                made.push_back(b.add("cube", parent, pose, *rc::gen::element<std::string>("cube", "beam", "")));
            }
            const auto start = b.session().history().present();
            std::vector<std::string> bytes = {b.bytes()};
            for (int i = *rc::gen::inRange(1, 14); i > 0; --i) {
                edit::Draft draft(b.session(), "first", "Random");
                const Status done = Verbs(b).any(draft);
                if (!done) {
                    RC_ASSERT(!done.error().message.empty());
                    draft.rollback();
                    RC_ASSERT(b.bytes() == bytes.back());
                    continue;
                }
                const auto before = b.session().history().present();
                RC_ASSERT(draft.commit().has_value());
                if (b.session().history().present() != before)
                    bytes.push_back(b.bytes());
                else
                    RC_ASSERT(b.bytes() == bytes.back());
                for (model::Slot s : b.scene().subtree(model::kNoSlot)) {
                    const base::Transform& t = b.scene().local(s);
                    RC_ASSERT(base::isFinite(t.position) && base::isFinite(t.rotation) && base::isFinite(t.scale));
                    RC_ASSERT(std::abs(glm::length(t.rotation) - 1) < 1e-9);
                }
            }
            for (std::size_t i = bytes.size(); i-- > 0;) {
                RC_ASSERT(b.bytes() == bytes[i]);
                if (i > 0) RC_ASSERT(b.session().undo().has_value());
            }
            RC_ASSERT(b.session().history().present() == start);
            b.close();
            RC_ASSERT(b.reopen().has_value());
            for (std::size_t i = 0; i < bytes.size(); ++i) {
                RC_ASSERT(b.bytes() == bytes[i]);
                if (i + 1 < bytes.size()) RC_ASSERT(b.session().redo().has_value());
            }
        }));
    }
    void feetAreAlwaysOnTheGround() {
        QVERIFY(holds("walks", [] {
            test::Blocks b;
            b.put("slab", {0, 0, 0});
            for (int i = *rc::gen::inRange(0, 8); i > 0; --i) {
                const Vec3 at(anyMetres(), 0, anyMetres());
                b.put(*rc::gen::element<std::string>("cube", "ramp"), at, {0, double(*rc::gen::inRange(0, 360)), 0},
                      Vec3(*rc::gen::inRange(1, 4), *rc::gen::inRange(1, 12) * 0.2, *rc::gen::inRange(1, 4)));
            }
            const model::Walker walker;
            auto feet = query::floorBelow(b.scene(), b.index(), {anyMetres(), 30, anyMetres()}, walker, 100, {});
            if (!feet) return;  // over ground that is too steep
            for (int i = *rc::gen::inRange(1, 12); i > 0; --i) {
                const Vec3 by(anyMetres() * 0.4, 0, anyMetres() * 0.4);
                const Vec3 to = query::walk(b.scene(), b.index(), *feet, by, walker, {});
                RC_ASSERT(base::isFinite(to));
                RC_ASSERT(std::hypot(to.x - feet->x, to.z - feet->z) <= glm::length(by) + 1e-6);
                if (to != *feet) {
                    const auto ground = b.index().pick(b.scene(), {to + Vec3(0, 0.01, 0), {0, -1, 0}}, {});
                    RC_ASSERT(ground && std::abs(ground->distance - 0.01) < 1e-3);
                }
                feet = to;
            }
        }));
    }
};

MELLOW_TEST(RandomVerbsTest)
}  // namespace random_verbs_test
#include "random_verbs_test.moc"
