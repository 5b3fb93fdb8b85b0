// A facet of this file's own, described here and nowhere else, and met everywhere: in files, on the clipboard, in the
// ledger, in history, in what differs in instances, in Properties, in the table and in scripts.
#include <QComboBox>

#include "app/kit/number_field.h"
#include "app/window_fixture.h"
#include "edit/codec.h"
#include "edit/session.h"
#include "io/copy_text.h"
#include "model/facet_builder.h"
#include "ops/facet_members.h"
#include "ops/facets.h"
#include "ops/objects.h"
#include "ops/prefab.h"
#include "ops/properties.h"
#include "ops/surfaces.h"
#include "ops/table.h"
#include "script/engine.h"
#include "support/test_main.h"

namespace window_facet_test {

struct Spot {
    std::string name;
    double deepMetres = 1;
    model::Unknown unknown;
    friend bool operator==(const Spot&, const Spot&) = default;
};

struct Probe {
    enum class Mood { Calm, Rough };
    Mood mood = Mood::Calm;
    double depthMetres = 2;
    bool armed = false;
    base::Vec3 away{0, 1, 0};
    base::ObjectId watches;
    std::vector<Spot> spots;
    model::Unknown unknown;
    static const model::FacetType& type();
    friend bool operator==(const Probe&, const Probe&) = default;
};

const model::FacetType& Probe::type() {
    static const model::Fields spot = [] {
        model::FieldsOf<Spot> f;
        f.text("name", "Name", &Spot::name);
        f.real("deep", "Deep", &Spot::deepMetres, "m", 0, 50);
        return f.done();
    }();
    static const model::FacetType type = [] {
        model::FieldsOf<Probe> f;
        f.word("mood", "Mood", &Probe::mood, {"calm", "rough"});
        f.real("depth", "Depth", &Probe::depthMetres, "m", 0, 50).property.help = "Below the water";
        f.flag("armed", "Armed", &Probe::armed).shown = f.when([](const Probe& p) { return p.depthMetres > 1; });
        f.vector("away", "Away", &Probe::away, "m", -100, 100);
        f.link("watches", "Watches", &Probe::watches);
        f.parts("spots", "Spots", &Probe::spots, spot);
        return model::facetTypeOf<Probe>("test/Probe", "Probe", "Measures the water", f.done());
    }();
    return type;
}

[[maybe_unused]] const bool kAdded = (model::addFacetType(Probe::type()), true);

class WindowFacetTest : public WindowFixture {
    Q_OBJECT
    const Probe* probe(base::ObjectId id) {
        const Slot s = editor_->scene().find(id);
        return s != kNoSlot ? editor_->scene().facet<Probe>(s) : nullptr;
    }
    void give(const std::vector<base::ObjectId>& ids) {
        QVERIFY(editor_->run("Give", [&](edit::Draft& d) { return ops::giveFacet(d, ids, Probe::type()); }));
    }
    bool set(base::ObjectId id, const std::string& path, const std::string& text) {
        return editor_->run("Set", [&](edit::Draft& d) {
            return ops::changeProperty(d, {&id, 1}, path, [&](const model::Property& p, const model::Value& now) {
                return ops::typedValue(p, text, now);
            });
        });
    }
    /// A probe with all it can have, some of it unknown here.
    void put(base::ObjectId id, base::ObjectId watches) {
        QVERIFY(editor_->run("Put", [&](edit::Draft& d) {
            return ops::changeDetails(d, {&id, 1}, [&](Slot, model::Detail& detail) -> base::Status {
                Probe& p = detail.edit<Probe>();
                p.depthMetres = 3.5;
                p.armed = true;
                p.watches = watches;
                p.spots = {{"bow", 2, {}}, {"stern", 1, {"\"lit\":null", {}}}};
                p.unknown = {"\"later\":[1.5,{}]", {{"mood", {std::string("stormy")}}}};
                return {};
            });
        }));
    }
    app::NumberField* field(const char* path) {
        auto* row = window_->findChild<QWidget*>(QString("property.test/Probe.") + path);
        return row != nullptr && row->isVisibleTo(window_.get()) ? row->findChild<app::NumberField*>() : nullptr;
    }
    void type(const char* path, const char* text) {
        app::NumberField* f = field(path);
        QVERIFY(f != nullptr);
        f->setFocus();
        f->selectAll();
        QTest::keyClicks(f, text);
        QTest::keyClick(f, Qt::Key_Return);
    }

  private Q_SLOTS:
    void initTestCase() { useOwnSettings("window-facet-test"); }
    void init() { openFreshCopy(); }
    void cleanup() { closeWindow(); }

    void itIsInTheFileWithWhatIsUnknown() {
        const auto bench = idOf("Bench 1"), other = idOf("Bench 2");
        put(bench, other);
        const std::string text = bytes();
        const std::string said =
            "\"test/Probe\":{\"mood\":\"stormy\",\"depth\":3.5,\"armed\":true,\"watches\":{\"object\":\"" +
            base::toText(other) +
            "\"},\"spots\":[{\"name\":\"bow\",\"deep\":2},{\"name\":\"stern\",\"lit\":null}],"
            "\"later\":[1.5,{}]}";
        QVERIFY2(text.find(said) != std::string::npos, said.c_str());
        const auto read =
            io::parseScene("lower-basin", text, "x", std::make_shared<base::NameTable>(), editor_->session().library());
        QVERIFY(read.has_value());
        QVERIFY(read->damage.empty());
        QCOMPARE(io::formatScene(read->scene), text);
        QCOMPARE(read->unknown.size(), std::size_t{1});  // the word that is unknown here
        QVERIFY(QString::fromStdString(read->unknown[0].message).contains("stormy"));
        // A word that one sets takes its place.
        QVERIFY(set(bench, "test/Probe.mood", "rough"));
        QVERIFY(bytes().find("\"mood\":\"rough\"") != std::string::npos && bytes().find("stormy") == std::string::npos);
        QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), text);
    }
    void aWrongMemberIsToldAndTheRestIsRead() {
        const std::string line =
            R"({"id":"00000000000000bb","test/Probe":{"depth":99,"away":[1,2],"armed":3,"spots":{}}})";
        const auto read = io::parseScene("x", "{\"format\":\"mellow-scene\",\"version\":1}\n" + line + "\n", "x",
                                         std::make_shared<base::NameTable>(), editor_->session().library());
        QVERIFY(read.has_value());
        QStringList keys;
        for (const io::Damage& d : read->damage) keys << QString::fromStdString(d.key);
        QCOMPARE(keys, QStringList({"test/Probe.depth", "test/Probe.away", "test/Probe.armed", "test/Probe.spots"}));
        QVERIFY(*read->scene.facet<Probe>(read->scene.find(base::ObjectId{0xbb})) == Probe{});
    }
    void itGoesByTheClipboard() {
        const auto bench = idOf("Bench 1");
        put(bench, {});
        const auto names = std::make_shared<base::NameTable>();
        const auto back = io::parseCopyText(io::copyText(editor_->scene(), {&bench, 1}), names);
        QVERIFY(back.has_value());
        QVERIFY(back->front().detail && *back->front().detail->get<Probe>() == *probe(bench));
    }
    void itIsInTheLedgerAndComesBackAfterARestart() {
        const auto bench = idOf("Bench 1");
        const std::string before = bytes();
        put(bench, idOf("Bench 2"));
        QVERIFY(set(bench, "test/Probe.depth", "4"));
        const std::string after = bytes();
        closeWindow();
        openWindow();
        QCOMPARE(bytes(), after);
        QVERIFY(editor_->session().undo());
        QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), before);
        QVERIFY(editor_->session().redo());
        QVERIFY(editor_->session().redo());
        QCOMPARE(bytes(), after);
    }
    void copiesLinkAmongThemselves() {
        const auto bench = idOf("Bench 1"), other = idOf("Bench 2");
        put(bench, other);
        put(other, bench);
        const auto links = ops::links(editor_->scene());
        QVERIFY(std::any_of(links.begin(), links.end(), [&](const ops::Link& l) {
            return l.from == bench && l.to == other && l.property == "test/Probe";
        }));
        editor_->select({bench, other});
        run("edit.duplicate");
        QTRY_VERIFY(editor_->selection().size() == 2 && editor_->selection()[0] != bench);
        const auto copies = editor_->selection();
        QCOMPARE(probe(copies[0])->watches, copies[1]);
        QCOMPARE(probe(copies[1])->watches, copies[0]);
    }
    void itDiffersInAnInstanceIsGivenAndTakenBack() {
        Slot instance = kNoSlot, inner = kNoSlot;
        for (Slot s : editor_->scene().subtree(kNoSlot))
            if (editor_->scene().isInstance(s) && editor_->scene().firstChild(s) != kNoSlot) instance = s;
        QVERIFY(instance != kNoSlot);
        inner = editor_->scene().firstChild(instance);
        const auto id = editor_->scene().id(inner);
        const auto whole = editor_->scene().id(editor_->scene().instanceAround(inner));
        for (const bool gives : {false, true}) {
            give({id});
            const auto& link = *editor_->scene().detail(editor_->scene().find(whole))->prefab;
            std::vector<ops::DifferenceEntry> mine;
            for (const auto& entry : ops::differences(editor_->session(), link))
                if (entry.facet == &Probe::type()) mine.push_back(entry);
            QCOMPARE(mine.size(), std::size_t{1});
            QCOMPARE(mine[0].label(), std::string("Probe"));
            QCOMPARE(mine[0].key(), std::string("test/Probe"));
            QVERIFY(editor_->run("Settle", [&](edit::Draft& d) {
                return gives ? ops::giveToDefinition(d, whole, mine) : ops::takeBack(d, whole, mine);
            }));
            QCOMPARE(probe(id) != nullptr, gives);
            for (const auto& entry :
                 ops::differences(editor_->session(), *editor_->scene().detail(editor_->scene().find(whole))->prefab))
                QVERIFY(entry.facet != &Probe::type());
        }
    }
    void itsCardIsTypedInForOneAndForMany() {
        const auto bench = idOf("Bench 1"), other = idOf("Bench 2");
        const std::string before = bytes();
        give({bench, other});
        editor_->select({bench});
        test::settle();
        QVERIFY(field("depth") != nullptr);
        type("depth", "7.5");
        QCOMPARE(probe(bench)->depthMetres, 7.5);
        QCOMPARE(probe(other)->depthMetres, 2.0);
        type("depth", "99");  // out of its range: said, not written
        QCOMPARE(probe(bench)->depthMetres, 7.5);
        editor_->select({bench, other});
        test::settle();
        type("depth", "+= 50 cm");
        QCOMPARE(probe(bench)->depthMetres, 8.0);
        QCOMPARE(probe(other)->depthMetres, 2.5);
        // One number of three, each object's others stay.
        QVERIFY(set(bench, "test/Probe.away", "5, 5, 5"));
        test::settle();
        type("away", "*2");
        QVERIFY(probe(bench)->away == base::Vec3(10, 5, 5) && probe(other)->away == base::Vec3(0, 1, 0));
        // What hangs on another member goes and comes with it.
        auto* armed = window_->findChild<QWidget*>("property.test/Probe.armed");
        QVERIFY(armed != nullptr && armed->isVisibleTo(window_.get()));
        type("depth", "0.5");
        test::settle();
        armed = window_->findChild<QWidget*>("property.test/Probe.armed");
        QVERIFY(armed == nullptr || !armed->isVisibleTo(window_.get()));
        auto* rows = window_->findChild<app::PropertyRows*>("facetRows.test/Probe");
        Q_EMIT rows->resetAsked("test/Probe.depth");
        QCOMPARE(probe(bench)->depthMetres, 2.0);
        while (editor_->session().undo()) {
        }
        QCOMPARE(bytes(), before);
    }
    void itIsGivenAndTakenByTheMenu() {
        editor_->select({idOf("Bench 1")});
        auto* button = window_->findChild<QToolButton*>("facetAdd");
        auto press = [&] {
            Q_EMIT button->menu()->aboutToShow();
            for (QAction* action : button->menu()->actions())
                if (action->text() == "Probe") return action->trigger();
            QFAIL("not in the menu");
        };
        press();
        QVERIFY(probe(idOf("Bench 1")) != nullptr);
        press();
        QVERIFY(probe(idOf("Bench 1")) == nullptr);
    }
    void itHasColumnsInTheTable() {
        const auto bench = idOf("Bench 1");
        give({bench});
        const ops::TableSource source{editor_->session().library(), editor_->scene(), {}};
        const auto columns = ops::tableColumns(source.library, source.scene);
        const auto column =
            std::find_if(columns.begin(), columns.end(), [](const auto& c) { return c.key == "test/Probe.depth"; });
        QVERIFY(column != columns.end());
        const Slot slot = editor_->scene().find(bench);
        QCOMPARE(ops::cellText(source, slot, *column), std::string("2"));
        QCOMPARE(ops::cellText(source, named("Bench 2"), *column), std::string());
        const ops::CellPlan plan = ops::planCells(source, {{bench, *column, "12", 1}});
        QVERIFY(plan.problems.empty());
        QVERIFY(editor_->run("Cells", [&](edit::Draft& d) { return ops::apply(d, plan); }));
        QCOMPARE(probe(bench)->depthMetres, 12.0);
        QVERIFY(!ops::planCells(source, {{bench, *column, "500", 1}}).problems.empty());
    }
    void scriptsReadAndSetIt() {
        const auto bench = idOf("Bench 1");
        give({bench});
        script::Source source;
        source.name = "probe.lua";
        source.text = R"(
            local b = find("Bench 1")[1]
            assert(b:has("test/Probe.depth") and not b:has("test/Probe.none"))
            assert(b:get("test/Probe.mood") == "calm")
            b:set("test/Probe.depth", b:get("test/Probe.depth") * 3)
            b:set("test/Probe.mood", "rough")
            b:set("test/Probe.away", vec(1, 2, 3))
            assert(not pcall(b.set, b, "test/Probe.depth", 1000))
            assert(b:facet("test/Probe") and not b:facet("light"))
            b:facet("light", true)
            b:set("light.intensity", 25)
            b:facet("note", true)
            b:facet("note", false)
            assert(not b:facet("note") and not pcall(b.facet, b, "solid", true) and not pcall(b.facet, b, "none"))
        )";
        const std::string before = bytes();
        edit::Draft draft(editor_->session(), editor_->sceneName(), "Script");
        const script::Outcome outcome = script::run(draft, source, {});
        QVERIFY2(outcome.done(), outcome.message.c_str());
        QVERIFY(draft.commit().has_value());
        QCOMPARE(probe(bench)->depthMetres, 6.0);
        QVERIFY(probe(bench)->mood == Probe::Mood::Rough && probe(bench)->away == base::Vec3(1, 2, 3));
        QVERIFY(editor_->session().undo());
        QCOMPARE(bytes(), before);
    }
    void whatASlotShowsIsChosenForAllThatAreSelected() {
        QVERIFY(editor_->placeAt("bench", {-40, 0, 40}));
        const base::ObjectId one = editor_->selection()[0];
        QVERIFY(editor_->placeAt("bench", {-44, 0, 40}));
        const base::ObjectId two = editor_->selection()[0];
        editor_->select({two});
        test::settle();
        auto* list = the<QTreeWidget>("slotList");
        QVERIFY(list != nullptr && list->isVisible() && list->topLevelItemCount() > 0);
        const std::string slot = list->currentItem()->text(0).toStdString();
        const auto shown = [&](base::ObjectId id) { return ops::slotOf(scene(), scene().find(id), slot); };
        const auto pick = [&](const char* property, const std::string& value) {
            auto* combo = the<QComboBox>(property, the<QWidget>("slotForm"));
            const int at = combo->findData(QString::fromStdString(value));
            combo->setCurrentIndex(at);
            Q_EMIT combo->activated(at);
            test::settle();
        };
        const std::string before = bytes();
        pick("property.surface", "ice");
        QCOMPARE(shown(two).surface, std::string("ice"));
        QCOMPARE(shown(one).surface, std::string());
        QVERIFY(list->currentItem()->text(1).contains("Ice"));
        editor_->select({one, two});
        test::settle();
        QCOMPARE(the<QComboBox>("property.surface", the<QWidget>("slotForm"))->currentIndex(), -1);  // mixed
        typeInto(WindowFixture::field("slotForm", "property.tint"), "#804020");
        QVERIFY(shown(one).tint && shown(two).tint);
        QCOMPARE(shown(two).surface, std::string("ice"));  // what else they show stays
        QVERIFY(shown(one).surface.empty());
        pick("property.surface", "");
        QVERIFY(shown(two).surface.empty() && shown(two).tint);
        for (int i = 0; i < 3; ++i) run("edit.undo");
        QCOMPARE(bytes(), before);
        // Protected: nothing may be changed.
        editor_->select({two});
        run("edit.protect");
        editor_->select({two});
        test::settle();
        QVERIFY(!the<QWidget>("slotForm")->isEnabled());
    }
};

MELLOW_TEST(WindowFacetTest)
}  // namespace window_facet_test
#include "window_facet_test.moc"
