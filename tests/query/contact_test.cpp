// Falling onto a scene, against falling onto every triangle there is, one by one.
#include "query/contact.h"
#include "support/test_main.h"

#include <rapidcheck.h>

#include <QtTest>

#include "support/blocks.h"

namespace contact_test {

using base::Vec3;
using model::Slot;

class ContactTest : public QObject {
    Q_OBJECT

    /// All triangles of all others.
    static std::vector<query::Triangle> othersOf(test::Blocks& p, Slot body) {
        std::vector<query::Triangle> all;
        for (Slot s : p.scene().subtree(model::kNoSlot)) {
            const query::MeshIndex* mesh = p.lookup()(p.scene().item(s));
            if (s == body || mesh == nullptr) continue;
            for (std::size_t t = 0; t < mesh->mesh().triangleCount(); ++t) {
                query::Triangle triangle;
                for (std::size_t k = 0; k < 3; ++k)
                    triangle[k] = p.scene().world(s).point(shape::cornerOf(mesh->mesh(), t, k));
                all.push_back(triangle);
            }
        }
        return all;
    }

  private Q_SLOTS:
    void itFallsAsOntoAllThereIs() {
        qputenv("RC_PARAMS", "max_success=150");
        const bool held = rc::check("fall", [] {
            test::Blocks p;
            const auto number = [](int low, int high) { return *rc::gen::inRange(low, high) / 10.0; };
            // Many, so that they are looked up by columns too.
            const int count = *rc::gen::elementOf(std::vector<int>{0, 1, 3, 40});
            for (int i = 0; i < count; ++i) {
                const char* item = *rc::gen::elementOf(std::vector<const char*>{"cube", "beam", "ramp"});
                p.put(item, {number(-30, 30), number(-60, 30), number(-30, 30)}, {number(0, 900), number(0, 3600), 0},
                      Vec3(number(3, 20)));
            }
            if (*rc::gen::arbitrary<bool>()) p.put("slab", {0, -7, 0});
            const auto falling = p.put("cube", {number(-20, 20), number(-10, 60), number(-20, 20)},
                                       {number(0, 300), number(0, 3600), 0}, Vec3(number(5, 25)));
            const Slot slot = p.slot(falling);
            const query::SceneIndex index(p.scene(), p.lookup());
            const query::FallingBody body = query::fallingBody(p.scene(), index, slot);
            const query::SlotFilter others = [&](Slot s) { return s != slot; };
            std::optional<double> wanted;
            for (const query::Triangle& one : othersOf(p, slot))
                if (const auto fall = query::fallOnto(body, {&one, 1}, wanted.value_or(query::kFarthestFall)))
                    wanted = fall;
            const auto found = query::fallOntoScene(body, p.scene(), index, others);
            RC_ASSERT(found.has_value() == wanted.has_value());
            if (found) RC_ASSERT(std::abs(*found - *wanted) < 1e-9);
            // Who only asks whether it is more than so much hears the same of more, and no more of less.
            const double enough = number(-10, 30);
            const auto roughly = query::fallOntoScene(body, p.scene(), index, others, query::kFarthestFall, enough);
            RC_ASSERT(roughly.has_value() == wanted.has_value());
            if (wanted && *wanted > enough) RC_ASSERT(std::abs(*roughly - *wanted) < 1e-9);
            if (wanted && *wanted <= enough) RC_ASSERT(*roughly <= enough);
        });
        QVERIFY(held);
    }
};

MELLOW_TEST(ContactTest)
}  // namespace contact_test
#include "contact_test.moc"
