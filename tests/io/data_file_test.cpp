// Project data as documents of the history: kinds, records and items are read, changed as steps, saved, taken back, and
// survive a restart.
#include "io/data_file.h"
#include "support/test_main.h"

#include <QtTest>

#include "ops/items.h"
#include "support/blocks.h"

namespace data_file_test {

namespace data = model::data;
using model::Value;
using model::ValueMap;

class DataFileTest : public QObject {
    Q_OBJECT
    static void step(test::TestProject& p, const std::string& document, const std::string& key,
                     std::optional<ValueMap> value) {
        edit::Draft draft(p.session(), "first", "Data");
        if (!draft.setEntries(document, {&key, 1}, {&value, 1}) || !draft.commit()) qFatal("no step");
    }
    static ValueMap kind(const char* name, ValueMap more = {}) {
        ValueMap map = {{"name", {std::string(name)}}, {"category", {std::string("Towpath")}}};
        map.insert(map.end(), more.begin(), more.end());
        return map;
    }
    static const model::Kind* kindOf(test::TestProject& p, const char* name) {
        return p.session().library().kindNamed(name);
    }

  private Q_SLOTS:
    void aKindIsMadeChangedTakenBackAndSaved() {
        test::TestProject p;
        const std::string document = data::kindDocument("Buoy");
        step(p, document, "", kind("Buoy", {{"cost", {2.0}}}));
        QVERIFY(kindOf(p, "Buoy") && kindOf(p, "Buoy")->cost == 2);
        step(p, document, "", kind("Buoy", {{"cost", {5.0}}, {"later", {std::string("kept")}}}));
        QCOMPARE(kindOf(p, "Buoy")->cost, 5.0);
        QVERIFY(p.session().undo());
        QCOMPARE(kindOf(p, "Buoy")->cost, 2.0);
        QVERIFY(p.session().redo());
        QVERIFY(io::saveScene(p.workspace(), document));
        const auto file = p.folder() / "kinds" / "Buoy.kind.json";
        const std::string bytes = test::fileBytes(file);
        QVERIFY(bytes.find("\"later\": \"kept\"") != std::string::npos);
        p.close();
        QVERIFY(p.reopen());
        QCOMPARE(kindOf(p, "Buoy")->cost, 5.0);
        QVERIFY(p.session().unsavedScenes().empty());
        QVERIFY(p.session().undo() && p.session().undo());
        QVERIFY(kindOf(p, "Buoy") == nullptr);
        QVERIFY(io::saveScene(p.workspace(), document));
        QVERIFY(!std::filesystem::exists(file));
        QVERIFY(p.session().redo() && p.session().redo());
        QVERIFY(io::saveScene(p.workspace(), document));
        QCOMPARE(test::fileBytes(file), bytes);
    }
    void whatWasNotSavedIsThereAfterAKill() {
        test::TestProject p;
        step(p, data::kindDocument("Buoy"), "", kind("Buoy"));
        step(p, data::recordsDocument("crew"), "", ValueMap{{"label", {std::string("Crew")}}});
        step(p, data::recordsDocument("crew"), "5a0c4be19d0f3a01", ValueMap{{"name", {std::string("Otter")}}});
        p.close();
        QVERIFY(p.reopen());
        QVERIFY(kindOf(p, "Buoy") != nullptr);
        const model::RecordType* crew = p.session().library().recordType("crew");
        QVERIFY(crew && crew->records.size() == 1 && crew->records.begin()->second.name == "Otter");
        QVERIFY(p.session().library().record(base::ObjectId{0x5a0c4be19d0f3a01}) != nullptr);
    }
    void aKindTakesFromAnotherWhatItDoesNotSay() {
        test::TestProject p;
        const ValueMap oil = {{"name", {std::string("oil")}}, {"type", {std::string("number")}}, {"default", {1.5}}};
        const ValueMap lit = {{"name", {std::string("lit")}}, {"type", {std::string("bool")}}};
        step(p, data::kindDocument("Lantern"), "",
             kind("Lantern", {{"cost", {3.0}},
                              {"needed", {std::string("one")}},
                              {"properties", {model::ValueList{{oil}, {lit}}}}}));
        ValueMap more = oil;
        model::setValue(more, "default", {4.0});
        step(p, data::kindDocument("Beacon"), "",
             kind("Beacon", {{"inherits", {std::string("Lantern")}}, {"properties", {model::ValueList{{more}}}}}));
        const model::Kind* beacon = kindOf(p, "Beacon");
        QCOMPARE(beacon->cost, 3.0);
        QCOMPARE(beacon->properties.size(), std::size_t{2});
        QVERIFY(beacon->property("oil")->fallback == Value{4.0});
        QVERIFY(beacon->needed == model::Needed::Any);
        // What the other says anew is said of this one, too.
        step(p, data::kindDocument("Lantern"), "",
             kind("Lantern", {{"cost", {7.0}}, {"inherits", {std::string("Beacon")}}}));
        QCOMPARE(kindOf(p, "Beacon")->cost, 7.0);  // a circle is cut, not followed for ever
    }
    void recordsAreALineEachAndOneChangedIsOneLine() {
        test::TestProject p;
        const std::string document = data::recordsDocument("crew");
        step(p, document, "", ValueMap{{"label", {std::string("Crew")}}});
        for (int i = 1; i <= 3; ++i)
            step(p, document, "5a0c4be19d0f3a0" + std::to_string(i), ValueMap{{"name", {"Crew " + std::to_string(i)}}});
        QVERIFY(io::saveScene(p.workspace(), document));
        const auto file = p.folder() / "records" / "crew.records.jsonl";
        const QStringList before = QString::fromStdString(test::fileBytes(file)).split('\n');
        step(p, document, "5a0c4be19d0f3a02", ValueMap{{"name", {std::string("Teal")}}});
        QVERIFY(io::saveScene(p.workspace(), document));
        const QStringList after = QString::fromStdString(test::fileBytes(file)).split('\n');
        QCOMPARE(after.size(), before.size());
        int other = 0;
        for (int i = 0; i < after.size(); ++i) other += after[i] != before[i] ? 1 : 0;
        QCOMPARE(other, 1);
    }
    void damagedLinesAreNamedAndTheFileIsKept() {
        test::TestProject p;
        p.close();
        std::filesystem::create_directories(p.folder() / "records");
        const auto file = p.folder() / "records" / "crew.records.jsonl";
        test::writeBytes(file,
                         "{\"format\":\"mellow-records\",\"version\":1,\"label\":\"Crew\"}\n{\"id\":\"x\"}\n{oops\n"
                         "{\"id\":\"5a0c4be19d0f3a01\",\"name\":\"Otter\"}\n");
        QVERIFY(p.reopen());
        QCOMPARE(p.workspace().damage.size(), std::size_t{2});
        QCOMPARE(p.workspace().damage[0].line, 2);
        QCOMPARE(p.session().library().recordType("crew")->records.size(), std::size_t{1});
        const std::string bytes = test::fileBytes(file);
        step(p, data::recordsDocument("crew"), "5a0c4be19d0f3a01", ValueMap{{"name", {std::string("Teal")}}});
        QVERIFY(io::saveScene(p.workspace(), data::recordsDocument("crew")));
        auto kept = file;
        kept += ".damaged";
        QCOMPARE(test::fileBytes(kept), bytes);
    }
    void anItemIsCalledOtherwiseAndKeepsItsObjects() {
        test::Blocks p;
        const auto cube = p.put("cube", {0, 0, 0});
        edit::Draft draft(p.session(), "first", "Rename");
        QVERIFY(ops::renameItem(draft, p.name("cube"), "Crate", "Goods"));
        QVERIFY(!ops::renameItem(draft, p.name("cube"), "", "Goods"));
        QVERIFY(draft.commit().has_value());
        const model::Item* item = p.session().library().item(p.name("cube"));
        QVERIFY(item->label == "Crate" && item->folder == "Goods");
        QVERIFY(p.scene().item(p.slot(cube)) == p.name("cube") && !p.bounds(cube).empty());
        QVERIFY(p.session().undo());
        QVERIFY(p.session().library().item(p.name("cube"))->label != "Crate");
    }
    void aDeletedItemGoesAtTheSaveAndComesBackWithUndo() {
        test::TestProject p;
        const auto model = p.folder() / "items" / "slab-model.glb";
        QVERIFY(test::addModel(p, "slab-model", shape::boxMesh({base::Vec3(-1), base::Vec3(1)})).has_value());
        QVERIFY(io::saveScene(p.workspace(), std::string(data::kAdded)).has_value());
        const auto slab = p.add("Slab", {}, {}, "slab-model");
        const std::string bytes = test::fileBytes(model);
        {
            edit::Draft draft(p.session(), "first", "Delete");
            QVERIFY(ops::deleteItem(draft, p.name("slab-model"), {}));
            QVERIFY(draft.commit().has_value());
        }
        QVERIFY(p.session().library().item(p.name("slab-model")) == nullptr);
        QVERIFY(p.scene().bounds(p.slot(slab)).empty());
        QVERIFY(std::filesystem::exists(model));
        QVERIFY(io::saveScene(p.workspace(), std::string(data::kItems)) && io::saveScene(p.workspace(), "first"));
        QVERIFY(!std::filesystem::exists(model));
        p.close();
        QVERIFY(p.reopen());
        QVERIFY(p.session().library().item(p.name("slab-model")) == nullptr);
        QVERIFY(p.session().undo());
        QVERIFY(p.session().library().item(p.name("slab-model")) != nullptr);
        QCOMPARE(p.scene().bounds(p.slot(slab)).size().x, 2.0);
        QVERIFY(io::saveScene(p.workspace(), std::string(data::kItems)));
        QCOMPARE(test::fileBytes(model), bytes);
    }
    void aDeletedItemsObjectsAreSwapped() {
        test::Blocks p;
        const auto cube = p.put("cube", {0, 0, 0});
        edit::Draft draft(p.session(), "first", "Delete");
        QVERIFY(ops::deleteItem(draft, p.name("cube"), {ops::DeleteItem::Objects::Swap, p.name("slab")}));
        QVERIFY(draft.commit().has_value());
        QCOMPARE(p.scene().itemText(p.slot(cube)), std::string_view("slab"));
        auto unused = ops::unusedItems(p.session());
        QVERIFY(unused && std::find(unused->begin(), unused->end(), p.name("slab")) == unused->end());
    }
};

MELLOW_TEST(DataFileTest)
}  // namespace data_file_test
#include "data_file_test.moc"
