#include <QtTest>

#include "io/copy_text.h"
#include "ops/objects.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace copy_text_test {

using base::ObjectId;

class CopyTextTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void copiedObjectsPasteWithNewIdsAndTheSamePlace() {
        test::TestProject p;
        const ObjectId group = p.add("Barge", {}, {{10, 0, 0}});
        const ObjectId hull = p.add("Hull", group, {{1, 0, 0}});
        p.add("Lamp", hull, {{0, 2, 0}});
        const std::string text = io::copyText(p.scene(), std::array{hull});
        auto objects = io::parseCopyText(text, p.session().project().names);
        QVERIFY(objects.has_value());
        QCOMPARE(objects->size(), std::size_t{2});
        ops::Ids made;
        {
            edit::Draft draft(p.session(), "first", "Paste");
            auto pasted = ops::insert(draft, *objects, {}, {0, 0, 5});
            QVERIFY(pasted.has_value());
            made = *pasted;
            QVERIFY(draft.commit().has_value());
        }
        QCOMPARE(made.size(), std::size_t{1});
        QVERIFY(made[0] != hull);
        const model::Slot s = p.slot(made[0]);
        QVERIFY(glm::length(p.scene().world(s).translation - base::Vec3(11, 0, 5)) < 1e-12);
        QCOMPARE(std::string(p.scene().nameText(s)), std::string("Hull 2"));
        QVERIFY(p.scene().firstChild(s) != model::kNoSlot);
    }
    void otherTextIsNoObjects() {
        auto names = std::make_shared<base::NameTable>();
        for (const char* text : {"", "hello", "{}", "{\"format\":\"mellow-scene\",\"version\":1}\n{broken\n"})
            QVERIFY(!io::parseCopyText(text, names));
    }
};

MELLOW_TEST(CopyTextTest)
}  // namespace copy_text_test
#include "copy_text_test.moc"
