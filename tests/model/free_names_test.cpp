// Names for new objects: nobody has them yet, also after many.
#include "model/free_names.h"
#include "support/test_main.h"

#include <QtTest>
#include <set>

#include "io/templates.h"
#include "model/facets/solid.h"
#include "ops/objects.h"
#include "ops/solid.h"
#include "support/test_project.h"

namespace free_names_test {

using base::ObjectId;

class FreeNamesTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void theNextNumberNobodyHas() {
        test::TestProject p;
        for (const char* name : {"Lamp", "Post 7", "Post 3", "Mile 2 stone"}) p.add(name);
        model::FreeNames names(p.scene());
        QCOMPARE(names.next("Bench"), std::string("Bench"));
        QCOMPARE(names.next("Bench"), std::string("Bench 2"));
        QCOMPARE(names.next("Lamp"), std::string("Lamp 2"));
        QCOMPARE(names.next("Post 3"), std::string("Post 8"));
        QCOMPARE(names.next("Post"), std::string("Post 9"));
        QCOMPARE(names.next("Mile 2 stone"), std::string("Mile 2 stone 2"));
        names.note("Lamp 40");
        QCOMPARE(names.next("Lamp"), std::string("Lamp 41"));
    }
    void aDraftKeepsThemInMindAsOneAskedAnew() {
        test::TestProject p;
        p.add("Box 4");
        edit::Draft draft(p.session(), "first", "Many");
        std::set<std::string> all;
        const model::Solid box;
        for (int i = 0; i < 20; ++i) {
            const auto made = ops::addSolid(draft, box, {}, {});
            QVERIFY(made.has_value());
            const std::string name(p.scene().nameText(p.scene().find(*made)));
            QVERIFY2(all.insert(name).second, name.c_str());
            // One renamed in between counts, too.
            if (i == 10) {
                QVERIFY(ops::rename(draft, *made, "Box 900"));
                all.insert("Box 900");
            }
        }
        QVERIFY(all.contains("Box 5") && all.contains("Box 909"));
        QCOMPARE(model::FreeNames(p.scene()).next("Box"), draft.freeNames().next("Box"));
    }
    void eachSceneHasItsOwn() {
        test::TestProject p;
        p.add("Post 7");
        QVERIFY(test::createScene(p, "second", "empty"));
        edit::Draft draft(p.session(), "first", "Both");
        QCOMPARE(draft.freeNames().next("Post"), std::string("Post 8"));
        QVERIFY(draft.turnTo("second"));
        QCOMPARE(draft.freeNames().next("Post"), std::string("Post"));
        QVERIFY(draft.turnTo("first"));
        QCOMPARE(draft.freeNames().next("Post"), std::string("Post 9"));
    }
};

MELLOW_TEST(FreeNamesTest)
}  // namespace free_names_test
#include "free_names_test.moc"
