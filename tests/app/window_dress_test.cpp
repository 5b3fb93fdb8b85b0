// Dressing by mouse and keys: outfits of a kind, guises of the scene, berths, models of other formats, settings.
#include <QComboBox>
#include <QFileInfo>
#include <QListWidget>
#include <QTreeWidget>
#include <QUrl>

#include "app/dialogs/guise_card.h"
#include "app/dialogs/item_card.h"
#include "app/dialogs/settings_window.h"
#include "app/look/theme.h"
#include "app/shell/preferences.h"
#include "edit/session.h"
#include "model/facets/outfit.h"
#include "ops/guises.h"
#include "ops/items.h"
#include "ops/outfits.h"
#include "ops/properties.h"
#include "support/test_main.h"
#include "window_fixture.h"

namespace window_dress_test {

using base::Vec3;

class WindowDressTest : public WindowFixture {
    Q_OBJECT
    base::Name key(const char* name) { return session().intern(name); }
    bool setItem(const char* name, const std::function<void(model::ItemFacts&)>& change) {
        return editor_->run("Set item", [&](edit::Draft& draft) {
            model::ItemFacts facts = *session().library().item(key(name));
            change(facts);
            return ops::setItem(draft, key(name), facts);
        });
    }
    /// The first objects of a kind, so many.
    std::vector<base::ObjectId> ofKind(const char* kind, std::size_t most) {
        std::vector<base::ObjectId> ids;
        for (Slot s : scene().ownSubtree(kNoSlot))
            if (scene().kindText(s) == kind && ids.size() < most) ids.push_back(scene().id(s));
        return ids;
    }
    void choose(QComboBox* box, const QString& text) {
        QStringList all;
        for (int i = 0; i < box->count(); ++i) all << box->itemText(i);
        QVERIFY2(box->findText(text) >= 0, qPrintable(text + " of " + all.join(", ")));
        box->setCurrentText(text);
        Q_EMIT box->activated(box->currentIndex());
        test::settle();
    }
    /// From outside, onto the window.
    void dropFile(const std::string& file) {
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(QString::fromStdString(file))});
        QDragEnterEvent enter({300, 300}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(window_.get(), &enter);
        QDropEvent event(QPointF(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(window_.get(), &event);
    }
    double oil(base::ObjectId id) {
        model::Value room;
        const model::Property* p = ops::propertyOf(session().library(), scene(), scene().find(id), "oil");
        double number = 0;
        return p != nullptr ? *model::asNumber(*ops::propertyValue(scene(), scene().find(id), *p, room), number) : -1;
    }
    bool setOil(base::ObjectId id, double oil) {
        return editor_->run("Set oil", [&](edit::Draft& d) {
            return ops::setProperty(d, {&id, 1}, "oil", model::Value{oil});
        });
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-dress-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void anOutfitIsMadeFromOneWornByOthersAndChanged() {
        const auto lanterns = ofKind("Lantern", 3);
        QCOMPARE(lanterns.size(), std::size_t{3});
        const std::string before = bytes();
        QVERIFY(setOil(lanterns[0], 0.25));
        editor_->select({lanterns[0]});
        run("outfit.keep");
        test::settle();
        auto* name = the<QLineEdit>("popoverName");
        QVERIFY(name != nullptr);
        QTest::keyClicks(name, "Nearly dry");
        QTest::keyClick(name, Qt::Key_Return);
        test::settle();
        QVERIFY(session().library().kindNamed("Lantern")->outfit("Nearly dry") != nullptr);
        editor_->select({lanterns[1], lanterns[2]});
        test::settle();
        choose(the<QComboBox>("outfitChoice"), "Nearly dry");
        QCOMPARE(oil(lanterns[2]), 0.25);
        QVERIFY(setOil(lanterns[1], 0.75));
        editor_->select({lanterns[1]});
        test::settle();
        bool told = false;
        for (QLabel* label : window_->findChildren<QLabel*>("differs"))
            told = told || label->text().contains("not as its outfit");
        QVERIFY(told);
        run("outfit.give");
        test::settle();
        QCOMPARE(oil(lanterns[0]), 0.75);
        QCOMPARE(oil(lanterns[2]), 0.75);
        QVERIFY(the<QLabel>("toastText")->text().contains("follow"));
        QVERIFY(setOil(lanterns[1], 0.5));
        run("outfit.again");
        QCOMPARE(oil(lanterns[1]), 0.75);
        run("outfit.select");
        QCOMPARE(editor_->selection().size(), std::size_t{3});
        run("outfit.remove");
        QVERIFY(scene().facet<model::Wears>(scene().find(lanterns[0])) == nullptr);
        QCOMPARE(oil(lanterns[0]), 0.75);
        while (session().undo()) {
        }
        QCOMPARE(bytes(), before);
    }
    void fiveHundredFollowInOneStep() {
        const auto lantern = ofKind("Lantern", 1);
        editor_->select(lantern);
        std::vector<base::ObjectId> all = lantern;
        QVERIFY(editor_->run("Copies", [&](edit::Draft& draft) -> base::Status {
            for (int i = 0; i < 499; ++i) {
                auto made = ops::duplicate(draft, lantern);
                if (!made) return tl::unexpected(made.error());
                all.push_back(made->front());
            }
            return {};
        }));
        QVERIFY(setOil(all[0], 0.3));
        const model::Outfit outfit = ops::outfitOf(session(), scene(), scene().find(all[0]), "Low", false);
        QVERIFY(editor_->run("Keep", [&](edit::Draft& draft) -> base::Status {
            auto put = ops::putOutfit(draft, "Lantern", outfit);
            return put ? ops::wear(draft, all, "Low") : base::Status(tl::unexpected(put.error()));
        }));
        const std::string before = bytes();
        QVERIFY(setOil(all[0], 0.9));
        editor_->select({all[0]});
        run("outfit.give");
        for (const base::ObjectId id : all) QCOMPARE(oil(id), 0.9);
        run("edit.undo");
        run("edit.undo");
        QCOMPARE(bytes(), before);
        QCOMPARE(oil(all[499]), 0.3);
    }
    void aGuiseIsMadeShownAndLeft() {
        const std::string before = bytes();
        const std::string surface = session().library().surfaces().begin()->first;
        const QImage plain = view().drawNow();
        run("guise.card");
        test::settle();
        auto* card = window_->findChild<app::GuiseCard*>();
        QVERIFY(card != nullptr);
        press("guiseNew");
        test::settle();
        auto* name = the<QLineEdit>("popoverName");
        QTest::keyClicks(name, "Flood year");
        QTest::keyClick(name, Qt::Key_Return);
        test::settle();
        QVERIFY(editor_->guise() != nullptr && editor_->guise()->name == "Flood year");
        // Another light, and all lanterns red: the picture is another one, the scene is not.
        typeInto(field("guiseLight", "property.sunStrength"), "0.1");
        choose(the<QComboBox>("guiseWhat"), "tint");
        choose(the<QComboBox>("guiseFrom"), "Structure");
        the<QComboBox>("guiseTo")->setEditText("#ff2000");
        press("guiseAdd");
        test::settle();
        QCOMPARE(the<QTreeWidget>("guiseTable")->topLevelItemCount(), 1);
        QCOMPARE(editor_->guise()->light.size(), std::size_t{1});
        QCOMPARE(bytes(), before);
        const QImage dressed = view().drawNow();
        QVERIFY(dressed != plain);
        // One click: as it is. It is the same picture again.
        auto* list = the<QListWidget>("guiseList");
        list->setCurrentRow(0);
        test::settle();
        QVERIFY(editor_->guise() == nullptr);
        QCOMPARE(view().drawNow(), plain);
        run("guise.next");
        QVERIFY(editor_->guise() != nullptr);
        list->setCurrentRow(1);  // the one that is shown already
        test::settle();
        QCOMPARE(view().drawNow(), dressed);
        QCOMPARE(bytes(), before);
        press("guiseOwn");
        test::settle();
        QCOMPARE(scene().settings().guise, std::string("Flood year"));
        run("guise.own");
        QVERIFY(editor_->guise() != nullptr);
        press("guiseRemove");
        test::settle();
        QVERIFY(scene().settings().guise.empty() && editor_->guise() == nullptr);
        QCOMPARE(bytes(), before);
        QCOMPARE(view().drawNow(), plain);
        while (session().undo()) {
        }
        QVERIFY(session().library().guise("Flood year") == nullptr);
    }
    void whatIsDroppedNearABerthIsInIt() {
        QVERIFY(setItem("bench", [](model::ItemFacts& f) { f.berths = {{"seat", {0.2, 0.5, 0.1}, 90}}; }));
        const QPoint there = lookAtGround();
        QVERIFY(editor_->placeAt("bench", {-40, 0, 40}));
        const base::ObjectId bench = editor_->selection().front();
        const Vec3 seat = scene().world(scene().find(bench)).point({0.2, 0.5, 0.1});
        editor_->select({});
        // By a click of the item in the hand.
        editor_->setPlacing("pear-crate");
        test::settle();
        QTest::mouseMove(&view(), pixel(seat));
        QTest::mouseClick(&view(), Qt::LeftButton, {}, pixel(seat));
        test::settle();
        editor_->setPlacing({});
        QCOMPARE(editor_->selection().size(), std::size_t{1});
        const base::ObjectId crate = editor_->selection().front();
        const auto footOf = [&](base::ObjectId id) {
            return scene().world(scene().find(id)).point(session().library().item(key("pear-crate"))->landingPoint());
        };
        QCOMPARE(scene().parent(scene().find(crate)), scene().find(bench));
        QVERIFY(glm::length(footOf(crate) - seat) < 1e-9);
        run("edit.undo");
        // By carrying one there.
        QVERIFY(editor_->placeAt("pear-crate", {-41.5, 0, 40.6}));
        const base::ObjectId carried = editor_->selection().front();
        run("view.select");
        const std::string before = bytes();
        const QPoint from = pixelOf(scene().find(carried)), foot = pixel(footOf(carried));
        drag(from, from + (pixel(seat) - foot));
        test::settle();
        QCOMPARE(scene().parent(scene().find(carried)), scene().find(bench));
        QVERIFY(glm::length(footOf(carried) - seat) < 1e-9);
        run("edit.undo");
        QCOMPARE(bytes(), before);
        QVERIFY(there.x() > 0);
    }
    void anObjFileInCentimetresIsImportedAndPutRight() {
        QTemporaryDir folder;
        const std::string file = folder.filePath("mooring stone.obj").toStdString();
        test::writeBytes(
            file,
            "v 0 0 0\nv 60 0 0\nv 60 0 60\nv 0 0 60\nv 30 90 30\nf 1 2 3 4\nf 2 1 5\nf 3 2 5\nf 4 3 5\nf 1 4 5\n");
        dropFile(file);
        QTRY_VERIFY2(session().library().item(key("mooring stone")) != nullptr,
                     qPrintable(the<QLabel>("toastText")->text()));
        test::settle();
        auto* card = window_->findChild<app::ItemCard*>();
        QVERIFY(card != nullptr);
        QVERIFY2(the<QLabel>("itemFacts")->text().startsWith("90.00 m high"),
                 qPrintable(the<QLabel>("itemFacts")->text()));
        QVERIFY(editor_->placeAt("mooring stone", {-40, 0, 40}));
        const base::ObjectId stone = editor_->selection().front();
        choose(the<QComboBox>("property.unit", the<QWidget>("itemForm")), "centimetre");
        QVERIFY(std::abs(scene().bounds(scene().find(stone)).size().y - 0.9) < 1e-6);
        QVERIFY(the<QLabel>("itemFacts")->text().startsWith("0.90 m high"));
        // What rays meet is as small as what is seen.
        lookAtGround();
        const auto hit = editor_->surfaceUnder({{-40, 5, 40}, {0, -1, 0}}, false);
        QVERIFY(hit && hit->point.y < 1.0);
        press("berthsAdd");
        test::settle();
        typeInto(field("berthsForm", "property.name"), "ring");
        QCOMPARE(session().library().item(key("mooring stone"))->berths.front().name, std::string("ring"));
        press("berthsRemove");
        test::settle();
        QVERIFY(session().library().item(key("mooring stone"))->berths.empty());
        // A file that is none is refused, and nothing is left of it.
        const std::size_t steps = session().history().steps().size();
        const std::string broken = folder.filePath("broken.ply").toStdString();
        test::writeBytes(broken, "these are words");
        dropFile(broken);
        QTRY_VERIFY(the<QLabel>("toastText")->text().contains("broken.ply"));
        QCOMPARE(session().history().steps().size(), steps);
    }
    void aBerthIsShownRatherThanTyped() {
        QVERIFY(editor_->placeAt("bench", {-40, 0, 40}));
        const base::ObjectId bench = editor_->selection().front();
        QVERIFY(editor_->placeAt("pear-crate", {-39.5, 0.45, 40.1}));
        window_->findChild<app::StockPanel*>()->reveal("bench");
        run("stock.card");
        test::settle();
        press("berthsFromSelection");
        test::settle();
        const model::Item* item = session().library().item(key("bench"));
        QCOMPARE(item->berths.size(), std::size_t{1});
        const Vec3 at = scene().world(scene().find(bench)).point(item->berths[0].at);
        QVERIFY(glm::length(at - Vec3(-39.5, 0.45, 40.1)) < 1e-6);
    }
    void whatOneLikesIsSetAndCarriedElsewhere() {
        QTemporaryDir folder;
        const std::string file = folder.filePath("likes.json").toStdString();
        run("help.settings");
        test::settle();
        auto* settings = window_->findChild<app::SettingsWindow*>();
        QVERIFY(settings != nullptr);
        choose(the<QComboBox>("property.tone", settings), "oat");
        QCOMPARE(editor_->theme().name, QString("oat"));
        auto* plain = the<QAbstractButton>("property.plainColours", settings);
        QTest::mouseClick(plain, Qt::LeftButton, {}, QPoint(8, plain->height() / 2));
        test::settle();
        QVERIFY(editor_->theme().axis[0] != app::oat().axis[0]);
        the<QListWidget>("settingsPages", settings)->setCurrentRow(2);
        test::settle();
        typeInto(the<QWidget>("property.wheelSpeed", settings)->findChild<QLineEdit*>() != nullptr
                     ? the<QWidget>("property.wheelSpeed", settings)->findChild<QLineEdit*>()
                     : the<QLineEdit>("property.wheelSpeed", settings),
                 "2");
        QCOMPARE(editor_->preferences().wheelSpeed, 2.0);
        window_->commands().setShortcut("guise.next", QKeySequence("Ctrl+Alt+7"));
        const app::Preferences likes = editor_->preferences();
        QVERIFY(app::exportPreferences(file, likes, window_->commands()));
        settings->close();
        editor_->setPreferences({});
        window_->commands().resetShortcuts();
        app::Preferences back;
        const auto left = app::importPreferences(file, back, window_->commands());
        QVERIFY2(left && left->empty(), left && !left->empty() ? left->front().c_str() : "");
        QVERIFY(back == likes);
        QCOMPARE(window_->commands().action("guise.next")->shortcut(), QKeySequence("Ctrl+Alt+7"));
        // What cannot be is named, and the rest is taken.
        test::writeBytes(file,
                         R"({"format":"mellow-settings","version":1,"preferences":{"wheelSpeed":900,"glide":false},)"
                         R"("shortcuts":{"no.such":"Ctrl+8","guise.card":"Ctrl+Z"}})");
        const auto told = app::importPreferences(file, back, window_->commands());
        QVERIFY(told.has_value());
        QCOMPARE(told->size(), std::size_t{3});
        QVERIFY(!back.glide && back.wheelSpeed == likes.wheelSpeed);
        test::writeBytes(file, "{");
        QVERIFY(!app::importPreferences(file, back, window_->commands()));
        // It is there at the next start.
        editor_->setPreferences(likes);
        window_->close();
        QTRY_VERIFY(!window_->isVisible());
        closeWindow();
        openWindow();
        QCOMPARE(editor_->preferences().wheelSpeed, 2.0);
        QCOMPARE(editor_->theme().name, QString("oat"));
    }
    void keysAreFoundByPressingThem() {
        run("help.settings");
        test::settle();
        auto* settings = window_->findChild<app::SettingsWindow*>();
        the<QListWidget>("settingsPages", settings)->setCurrentRow(1);
        test::settle();
        auto* pressed = the<QKeySequenceEdit>("keyPressed", settings);
        pressed->setKeySequence(QKeySequence("Ctrl+Z"));
        test::settle();
        QVERIFY(the<QWidget>("key.edit.undo", settings)->isVisible());
        QVERIFY(!the<QWidget>("key.edit.paste", settings)->isVisible());
        settings->close();
    }
};

MELLOW_TEST(WindowDressTest)
}  // namespace window_dress_test
#include "window_dress_test.moc"
