// Sounds in the real window: listed with what they are, placed, brought in and taken back; a machine without sound
// says so once and goes on.
#include <QTableWidget>

#include "app/panels/sounds_panel.h"
#include "app/shell/listening.h"
#include "app/shell/rehearsal.h"
#include "app/window_fixture.h"
#include "model/facets/sound.h"
#include "support/test_main.h"

namespace window_sounds_test {

class WindowSoundsTest : public WindowFixture {
    Q_OBJECT

    std::string document() { return io::formatScene(**session().scene(editor_->sceneName())); }
    QTableWidget& table() { return *the<QTableWidget>("soundTable"); }
    int rowOf(const QString& file) {
        for (int row = 0; row < table().rowCount(); ++row)
            if (table().item(row, 0)->text() == file) return row;
        return -1;
    }
    QString cell(const char* file, int column) { return table().item(rowOf(file), column)->text(); }

  private Q_SLOTS:
    void initTestCase() {
        qputenv("ALSOFT_DRIVERS", "none");  // a machine without sound, whatever this one has
        useOwnSettings("window-sounds-test");
    }
    void init() {
        openFreshCopy();
        run("desk.sounds");
    }
    void cleanup() { closeWindow(); }

    void theyAreListedWithLengthAndUse() {
        QCOMPARE(table().rowCount(), 3);
        QTRY_COMPARE(cell("bell.wav", 2), QString("1.80 s"));
        QTRY_COMPARE(cell("weir.wav", 2), QString("2.00 s"));
        QVERIFY(cell("weir.wav", 3).endsWith(" dB"));
        QCOMPARE(cell("weir.wav", 5), QString("1"));
    }
    void oneIsPlacedSeenAndTakenBack() {
        const std::string before = document();
        table().selectRow(rowOf("weir.wav"));
        press("soundPlace");
        const Slot made = scene().find(editor_->selection().front());
        QCOMPARE(scene().facet<model::Sound>(made)->file, std::string("weir.wav"));
        QCOMPARE(std::string(scene().nameText(made)), std::string("Weir"));
        QCOMPARE(cell("weir.wav", 5), QString("2"));
        run("edit.undo");
        QCOMPARE(document(), before);
        QCOMPARE(cell("weir.wav", 5), QString("1"));
    }
    void oneIsDraggedToWhereItIsHeard() {
        const std::string before = document();
        const base::Vec3 place(-40, 0, 40);
        const QPoint at = lookAtGround(place);
        auto* mime = table().model()->mimeData({table().model()->index(rowOf("bell.wav"), 1)});
        QVERIFY(mime->hasFormat(app::kSoundMime));
        drop(mime, at);
        const Slot made = scene().find(editor_->selection().front());
        QCOMPARE(scene().facet<model::Sound>(made)->file, std::string("bell.wav"));
        const base::Vec3 stands = scene().world(made).translation;
        QVERIFY2(std::abs(stands.x + 40) < 1 && std::abs(stands.z - 40) < 1, qPrintable(QString::number(stands.z)));
        const auto ground = editor_->surfaceUnder({stands + base::Vec3(0, 20, 0), {0, -1, 0}}, false);
        QVERIFY(!ground || std::abs(stands.y - ground->point.y - 1) < 1e-6);
        run("edit.undo");
        QCOMPARE(document(), before);
    }
    void filesAreBroughtInAndOnlySounds() {
        QTemporaryDir folder;
        const auto file = [&](const char* name) { return folder.filePath(name); };
        const std::string bytes = test::fileBytes(demo_->folder() / "media" / "bell.wav");
        test::writeBytes(file("gong.wav").toStdString(), bytes + "x");
        test::writeBytes(file("broken.wav").toStdString(), "nothing");
        auto* panel = window_->findChild<app::SoundsPanel*>();
        panel->add({file("gong.wav"), file("broken.wav")});  // all or nothing
        QCOMPARE(table().rowCount(), 3);
        panel->add({file("gong.wav")});
        QCOMPARE(table().rowCount(), 4);
        QTRY_COMPARE(cell("gong.wav", 2), QString("1.80 s"));
        QCOMPARE(cell("gong.wav", 5), QString("nothing"));
        run("edit.undo");
        QTRY_COMPARE(table().rowCount(), 3);
        run("edit.redo");
        QTRY_COMPARE(table().rowCount(), 4);
    }
    void withoutADeviceItIsSaidOnceAndAllGoesOn() {
        std::vector<QString> said;
        connect(editor_.get(), &app::Editor::message, this, [&](const QString& text, bool) { said.push_back(text); });
        table().selectRow(rowOf("bell.wav"));
        table().setFocus();
        for (int i = 0; i < 3; ++i) QTest::keyClick(&table(), Qt::Key_Space);
        run("rehearse.start");
        QVERIFY(editor_->rehearsal().isPlayed());
        QTest::qWait(200);
        run("rehearse.end");
        const auto silent =
            std::count_if(said.begin(), said.end(), [](const QString& t) { return t.contains("no sound"); });
        QCOMPARE(silent, 1);
    }
};

MELLOW_TEST(WindowSoundsTest)
}  // namespace window_sounds_test
#include "window_sounds_test.moc"
