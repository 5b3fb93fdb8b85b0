// Acts in the real window: looked at by the strip over the view, worked in with the usual tools, and left again.
#include <QTreeWidget>

#include "app/panels/act_strip.h"
#include "app/shell/acts.h"
#include "app/shell/rehearsal.h"
#include "app/window_fixture.h"
#include "model/facets/act.h"
#include "support/test_main.h"

namespace window_acts_test {

class WindowActsTest : public WindowFixture {
    Q_OBJECT

    std::string document() { return io::formatScene(**session().scene(editor_->sceneName())); }
    /// By its words, without the mark that it is on.
    QToolButton* chip(const QString& text) {
        for (auto* button : window_->findChild<app::ActStrip*>()->findChildren<QToolButton*>())
            if (button->text().remove("✓ ").startsWith(text) && button->isVisibleTo(window_.get())) return button;
        return nullptr;
    }
    void click(const QString& text, Qt::KeyboardModifiers modifiers = {}) {
        QVERIFY2(chip(text) != nullptr, qPrintable(text));
        // What a click asks the keyboard for is what is really held down there: the button is told.
        if (modifiers == Qt::NoModifier) return QTest::mouseClick(chip(text), Qt::LeftButton), test::settle();
        QTest::keyPress(window_.get(), Qt::Key_Control);
        QTest::mouseClick(chip(text), Qt::LeftButton, modifiers);
        QTest::keyRelease(window_.get(), Qt::Key_Control);
        test::settle();
    }
    bool isHidden(const char* name) { return editor_->isHidden(named(name)); }
    base::Vec3 at(const char* name) { return scene().world(named(name)).translation; }
    const model::ActPart* part(const char* object, const char* act) {
        const auto* in = scene().facet<model::InActs>(named(object));
        return in != nullptr ? in->of(idOf(act)) : nullptr;
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-acts-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }
    void theStripIsAsWideAsItsActsWhenTheProjectIsOpened() {
        const auto* all = the<QToolButton>("actsAll");
        const auto* strip = all->parentWidget();
        QVERIFY(strip->isVisible());
        QVERIFY2(strip->width() >= strip->sizeHint().width() && all->width() >= all->sizeHint().width(),
                 qPrintable(QString("%1 of %2").arg(strip->width()).arg(strip->sizeHint().width())));
    }

    void lookingAtAnActHidesWhatIsNotInItAndChangesNothing() {
        const std::string before = document();
        QVERIFY(!isHidden("Stall 1") && !isHidden("Upper market"));
        click("High water");
        QVERIFY(isHidden("Stall 1") && isHidden("Upper market") && !isHidden("Barge 1"));
        QVERIFY(chip("High water")->isChecked() && !chip("All")->isChecked());
        click("Market day", Qt::ControlModifier);
        QVERIFY(!isHidden("Stall 1"));
        QCOMPARE(editor_->acts().shown().size(), std::size_t(2));
        click("All");
        QVERIFY(editor_->acts().shown().empty());
        for (const char* act : {"Low water", "High water", "Market day"}) {
            run("acts.next");
            QCOMPARE(editor_->acts().only(), idOf(act));
        }
        run("acts.next");
        QVERIFY(editor_->acts().shown().empty());
        QCOMPARE(document(), before);
        QVERIFY(session().history().steps().empty());
    }
    void whatIsMovedWhileOneWorksInAnActIsThereOnly() {
        const std::string before = document();
        const base::Vec3 barge = at("Barge 1"), water = at("Chamber water");
        click("High water");
        click("Work in it");
        QCOMPARE(at("Chamber water").y, water.y + 1.4);
        editor_->select({idOf("Barge 1")});
        view().setFocus();
        QTest::keyClick(&view(), Qt::Key_PageUp);
        test::settle();
        const base::Vec3 up = at("Barge 1");
        QVERIFY(up.y > barge.y);
        QVERIFY(part("Barge 1", "High water")->posed);
        click("Working in it");
        QCOMPARE(at("Barge 1"), barge);
        QCOMPARE(at("Chamber water"), water);
        click("Work in it");
        QCOMPARE(at("Barge 1"), up);
        // Another act is looked at: one is out of the first.
        click("Low water");
        QCOMPARE(at("Barge 1"), barge);
        QVERIFY(!editor_->acts().worked());
        run("acts.next");
        QCOMPARE(editor_->acts().only(), idOf("High water"));
        editor_->select({idOf("Barge 1")});
        run("acts.putBack");
        QVERIFY(part("Barge 1", "High water") == nullptr);
        while (session().history().present() > 0) run("edit.undo");
        QCOMPARE(document(), before);
    }
    void whatIsPutInAnActComesAndGoesWithIt() {
        run("acts.add");
        const base::ObjectId act = editor_->acts().only();
        QVERIFY(act);
        QCOMPARE(editor_->selection(), std::vector<base::ObjectId>{act});
        editor_->select({idOf("Bench 1"), idOf("Bench 2")});
        run("acts.there");
        editor_->select({idOf("Barge 2")});
        run("acts.away");
        QVERIFY(!isHidden("Bench 1") && isHidden("Barge 2"));
        click("Low water");
        QVERIFY(isHidden("Bench 1") && !isHidden("Barge 2"));
        editor_->acts().show({act});
        run("acts.members");
        QCOMPARE(editor_->selection().size(), std::size_t(3));
        run("acts.unbound");
        QVERIFY(!isHidden("Barge 2"));
        run("edit.undo");
        QVERIFY(isHidden("Barge 2"));
        // The act goes: what was bound to it is there again, and is bound again when it comes back.
        editor_->select({act});
        run("edit.delete");
        QVERIFY(!isHidden("Barge 2") && editor_->acts().shown().empty());
        run("edit.undo");
        QVERIFY(editor_->acts().all().size() == 4);
    }
    void whatAThingIsInActsStandsInItsProperties() {
        click("High water");
        editor_->select({idOf("Barge 1")});
        run("acts.away");
        auto* list = the<QWidget>("list.acts")->findChild<QTreeWidget*>();
        QTRY_COMPARE(list->topLevelItemCount(), 1);
        QCOMPARE(list->topLevelItem(0)->text(0), QString("High water · away"));
        run("edit.undo");
        QTRY_VERIFY(!the<QWidget>("facetList.acts")->isVisibleTo(window_.get()));
    }
    void inARehearsalThereIsNoStripAndTheLevelDecides() {
        click("High water");
        QVERIFY(isHidden("Stall 1"));
        run("rehearse.start");
        QVERIFY(editor_->rehearsal().isPlayed());
        QVERIFY(!isHidden("Stall 1"));  // market day goes on from the start
        QVERIFY(!window_->findChild<app::ActStrip*>()->isVisibleTo(window_.get()));
        run("rehearse.end");
        QVERIFY(isHidden("Stall 1"));
        QVERIFY(window_->findChild<app::ActStrip*>()->isVisibleTo(window_.get()));
    }
};

MELLOW_TEST(WindowActsTest)
}  // namespace window_acts_test
#include "window_acts_test.moc"
