// The open scene as the window sees it, without a window: tools, what is asked for, what is kept from one start to the
// next.
#include <QSettings>
#include <QSignalSpy>
#include <QtTest>

#include "app/shell/asking.h"
#include "app/shell/editor.h"
#include "app/shell/kept_place.h"
#include "app/shell/kept_settings.h"
#include "app/shell/preferences.h"
#include "app/shell/sight.h"
#include "app/shell/tool_fields.h"
#include "app/shell/tools.h"
#include "edit/session.h"
#include "ops/items.h"
#include "ops/surfaces.h"
#include "render/handle.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace shell_test {

using app::Tool;
using app::Tools;
using render::Task;

class ShellTest : public QObject {
    Q_OBJECT
    QTemporaryDir settings_;

  private Q_SLOTS:
    void initTestCase() {
        QCoreApplication::setOrganizationName("mellow-lattice-test");
        QCoreApplication::setApplicationName("shell-test");
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, settings_.path());
    }
    void init() { QSettings().clear(); }

    void aChangeOfToolsIsToldOnce() {
        app::Editor editor(test::chance());
        QSignalSpy told(&editor, &app::Editor::toolChanged);
        editor.change(&Tools::uniform, true);
        QCOMPARE(told.count(), 1);
        QVERIFY(editor.tools().uniform && !editor.tools().followSlopes);
        editor.setStep(Task::Turn, {30, false});
        QCOMPARE(told.count(), 2);
        QCOMPARE(editor.tools().step(Task::Turn).value, 30.0);
        QCOMPARE(editor.tools().step(Task::Slide).value, 0.25);
    }
    void whatIsPlacedIsPutAwayByAnotherToolAndNotByAnOption() {
        app::Editor editor(test::chance());
        editor.setPlacing("bollard");
        editor.change(&Tools::catchFlush, true);
        QCOMPARE(editor.placing(), std::string("bollard"));
        editor.change(&Tools::tool, Tool::Measure);
        QVERIFY(editor.placing().empty());
        editor.setPlacing("bollard");
        editor.setTool(Tool::Measure);  // the same one again: the hand is for it
        QVERIFY(editor.placing().empty());
    }
    void stepsAreThoseThatAreOn() {
        Tools tools;
        tools.steps = {{{0.5, true}, {15, false}, {0.1, true}}};
        QCOMPARE(tools.activeSteps().metres, 0.5);
        QCOMPARE(tools.activeSteps().degrees, 0.0);
        QCOMPARE(tools.activeSteps(0.1).metres, 0.05);
        tools.fineness = app::Fineness::Fine;
        QCOMPARE(tools.activeSteps(0.1).factor, 0.1 * 0.1 * 0.1);
        QCOMPARE(&tools.step(Task::None), &tools.steps[0]);
        tools.tool = Tool::Dial;
        QCOMPARE(tools.activeTask(), Task::Turn);
        tools.tool = Tool::Broom;
        QCOMPARE(tools.activeTask(), Task::Slide);
    }
    void aPickedPivotIsTheOneThatIsUsed() {
        app::Editor editor(test::chance());
        QSignalSpy told(&editor, &app::Editor::toolChanged);
        editor.pickPivot({1, 2, 3});
        QCOMPARE(told.count(), 1);
        QVERIFY(editor.tools().pivot == ops::PivotMode::Picked);
        QVERIFY(editor.tools().pickedPivot == base::Vec3(1, 2, 3));
    }
    void whatIsSetIsThereAtTheNextStart() {
        Tools set;
        set.uniform = set.onLattice = set.seatAsSeen = set.catching.hidden = true;
        set.catching.protectedOnes = set.selecting.through = false;
        set.axes = ops::AxesMode::View;
        set.selecting.shape = app::SelectShape::Lasso;
        set.steps[1] = {7.5, false};
        {
            app::Editor editor(test::chance());
            editor.setTools(set);
            app::rememberSettings(editor);
        }
        app::Editor editor(test::chance());
        app::restoreSettings(editor);
        const Tools& now = editor.tools();
        QVERIFY(now.uniform && now.onLattice && now.seatAsSeen && now.catching.hidden);
        QVERIFY(!now.catching.protectedOnes && !now.selecting.through && !now.followSlopes);
        QVERIFY(now.axes == ops::AxesMode::View && now.selecting.shape == app::SelectShape::Lasso);
        QCOMPARE(now.steps[1].value, 7.5);
        QVERIFY(!now.steps[1].on && now.steps[0].on);
    }
    void oneThatIsMissingOrAbsurdLeavesTheOthers() {
        {
            app::Editor editor(test::chance());
            editor.change(&Tools::uniform, true);
            editor.change(&Tools::followSlopes, true);
            app::rememberSettings(editor);
        }
        QSettings().remove("drag/followSlopes");
        QSettings().setValue("view/axes", -7);
        QSettings().setValue("select/shape", 900);
        QSettings().setValue("looks/handleSize", 1e9);
        QSettings().setValue("of/a/newer/version", "anything");
        app::Editor editor(test::chance());
        app::restoreSettings(editor);
        QVERIFY(editor.tools().uniform && !editor.tools().followSlopes);
        QVERIFY(editor.tools().axes == ops::AxesMode::World);
        QVERIFY(editor.tools().selecting.shape == app::SelectShape::Lasso);
        QCOMPARE(editor.preferences().handleSize, 1.0);  // what cannot be is as usual
    }
    void toolsAreRememberedWithAProjectAndWhatCannotBeIsAsUsual() {
        QTemporaryDir folder;
        const std::filesystem::path project(folder.path().toStdString());
        std::filesystem::create_directories(project / ".mellow");
        Tools tools;
        tools.steps[0] = {0.125, false};
        tools.pivot = ops::PivotMode::Centre;
        tools.varying.on = true;
        tools.varying.smallest = 0.5;
        tools.broom.verb = ops::BroomVerb::Seat;
        tools.broom.filter = "kind:Plant";
        tools.outfit = "Put out";
        tools.arrays[1].counts = {2, 3, 4};
        tools.arrays[2].sweepDegrees = 90;
        app::KeptPlace kept;
        kept.takeTools(tools);
        kept.scene = "lower-basin";
        kept.desk = "Table";
        kept.filters["rosterFilter"] = "lan \"tern\"";
        kept.recentItems = {"bench", "bollard"};
        kept.prefab = {"Market", "Stall ##", 2, 7};
        kept.looks["lower-basin"] = {render::Camera::looking({1, 2, 3}, {0, 0, 0}), true};
        kept.write(project);
        const app::KeptPlace back = app::KeptPlace::read(project);
        Tools now;
        back.giveTools(now);
        QCOMPARE(now.steps[0].value, 0.125);
        QVERIFY(!now.steps[0].on && now.pivot == ops::PivotMode::Centre && now.varying.on);
        QVERIFY(now.broom.verb == ops::BroomVerb::Seat && now.broom.filter == "kind:Plant" && now.outfit == "Put out");
        QVERIFY(now.arrays == tools.arrays);
        QCOMPARE(back.filters.at("rosterFilter"), std::string("lan \"tern\""));
        QCOMPARE(back.recentItems, kept.recentItems);
        QVERIFY(back.prefab.name == "Stall ##" && back.prefab.height == 2 && back.prefab.place == 7);
        QVERIFY(back.looks.at("lower-basin").fourPanes &&
                back.looks.at("lower-basin").camera == kept.looks.at("lower-basin").camera);
        test::writeBytes(
            project / ".mellow" / "window.json",
            R"({"tools":{"slideStep":-4,"pivot":"sideways","varySmallest":9,"varyLargest":2,"broom":7,)"
            R"("uniform":true,"array0":{"shape":"ring"},"array1":{"shape":"grid","counts":[9999,9999,9999]},"array2":[]},"deskHeight":-1e99,"prefab":{"height":900},"recentItems":"none","filters":[1]})");
        Tools odd;
        const app::KeptPlace broken = app::KeptPlace::read(project);
        broken.giveTools(odd);
        QVERIFY(odd.steps[0].value == Tools{}.steps[0].value && odd.pivot == Tools{}.pivot && odd.uniform);
        QVERIFY(odd.varying.smallest <= odd.varying.largest);
        QVERIFY(odd.arrays == Tools{}.arrays);
        QCOMPARE(broken.deskHeight, 0);
        QVERIFY(broken.prefab.height <= 3 && broken.recentItems.empty() && broken.filters.empty());
    }
    void everyToolThatIsRememberedKeepsItsValue() {
        Tools tools;
        for (const model::Member& member : app::toolFields().members) {
            const auto value = member.get(&tools);
            QVERIFY2(value && model::setMember(app::toolFields(), &tools, member, *value),
                     member.property.name.c_str());
            QVERIFY(member.get(&tools) == value);
        }
    }
    void whoIsGivenAPointMayAskForAnotherOrForNoMore() {
        app::Asking asking;
        std::vector<int> given;
        std::function<void(const base::Vec3&)> second = [&](const base::Vec3&) {
            given.push_back(2);
            asking.askPoint({});
        };
        asking.askPoint([&](const base::Vec3&) {
            given.push_back(1);
            asking.askPoint(second);
        });
        for (int i = 0; i < 4; ++i) asking.givePoint({});
        QCOMPARE(given, (std::vector<int>{1, 2}));
        QVERIFY(!asking.asks());
    }
    void onlyAnObjectThatFitsIsGivenAndOnlyOne() {
        test::TestProject p;
        const auto first = p.add("First"), other = p.add("Other");
        app::Asking asking;
        QSignalSpy changed(&asking, &app::Asking::changed);
        std::vector<base::ObjectId> given;
        const auto ask = [&] {
            asking.askObject([&](model::Slot s) { return s == p.slot(first); },
                             [&](base::ObjectId id) { given.push_back(id); });
        };
        ask();
        asking.giveObject(p.scene(), p.slot(other));
        QVERIFY(given.empty() && asking.asksObject());
        asking.giveObject(p.scene(), p.slot(first));
        asking.giveObject(p.scene(), p.slot(first));
        QCOMPARE(given, std::vector{first});
        QVERIFY(!asking.asks() && !asking.objectFits(p.slot(first)));
        ask();
        asking.stop();
        asking.giveObject(p.scene(), p.slot(first));
        QCOMPARE(given.size(), std::size_t{1});
        QVERIFY(changed.count() >= 4);
    }
    void askingPutsAwayWhatIsPlaced() {
        app::Editor editor(test::chance());
        editor.setPlacing("bollard");
        editor.asking().askPoint([](const base::Vec3&) {});
        QVERIFY(editor.placing().empty());
        editor.asking().stop();
        QVERIFY(!editor.asking().asks());
    }
    void whatOneBumpsIntoIsMadeAnewOnlyWhenItChanged() {
        test::DemoCopy demo;
        app::Editor editor(test::chance());
        QVERIFY(editor.openProject(demo.folder(), io::OpenMode::Edit, "lower-basin"));
        QVERIFY(editor.placeAt("bench", {-40, 0, 40}));
        edit::Session& session = editor.session();
        const base::Name bench = session.intern("bench");
        const auto bumps = [&] {
            const auto hit = editor.sight().index()->solid().pick(editor.scene(), {{-40, 9, 40}, {0, -1, 0}});
            return hit && editor.scene().item(hit->slot) == bench;
        };
        QVERIFY(bumps());
        const query::SceneIndex* before = editor.sight().index();
        QVERIFY(editor.run("Surface", [&](edit::Draft& draft) {
            model::Surface surface = session.library().surfaces().begin()->second;
            surface.label += " again";
            return ops::putSurface(draft, surface);
        }));
        QCOMPARE(editor.sight().index(), before);
        const auto collide = [&](model::CollisionShape shape) {
            return editor.run("Collision", [&](edit::Draft& draft) {
                model::ItemFacts facts = *session.library().item(bench);
                facts.collision = shape;
                return ops::setItem(draft, bench, facts);
            });
        };
        QVERIFY(collide(model::CollisionShape::None));
        QVERIFY(!bumps());
        QVERIFY(collide(model::CollisionShape::Box));
        QVERIFY(bumps());
        QVERIFY(session.undo() && !bumps());
        QVERIFY(session.undo() && bumps());
    }
};

MELLOW_TEST(ShellTest)
}  // namespace shell_test
#include "shell_test.moc"
