#include <QtTest>

#include "query/frustum.h"
#include "query/measure.h"
#include "query/object_filter.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace filter_test {

class FilterTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void everyWordMustFit_data() {
        QTest::addColumn<QString>("filter");
        QTest::addColumn<bool>("fits");
        QTest::newRow("nothing") << "" << true;
        QTest::newRow("part of the name") << "tern" << true;
        QTest::newRow("two words") << "lantern 7" << true;
        QTest::newRow("pattern is for the whole") << "*post" << false;
        QTest::newRow("pattern") << "lan*7" << true;
        QTest::newRow("kind") << "kind:lantern" << true;
        QTest::newRow("item pattern") << "item:*-post" << true;
        QTest::newRow("one does not fit") << "lantern kind:Barge" << false;
        QTest::newRow("quoted") << "\"post 7\"" << true;
        QTest::newRow("quoted in another order") << "\"7 post\"" << false;
    }
    void everyWordMustFit() {
        QFETCH(QString, filter);
        QFETCH(bool, fits);
        test::TestProject p;
        const auto id = p.add("Lantern post 7", {}, {}, "lantern-post");
        {
            edit::Draft draft(p.session(), "first", "Kind");
            const base::Name kind = p.name("Lantern");
            QVERIFY(draft.setLabels(model::LabelField::Kind, {&id, 1}, {&kind, 1}).has_value());
            QVERIFY(draft.commit().has_value());
        }
        QCOMPARE(query::ObjectFilter(filter.toStdString()).fits(p.scene(), p.slot(id)), fits);
    }
    void namesOfAnyScriptAreFoundInEitherCase() {
        test::TestProject p;
        const auto id = p.add("Écluse SÜD 4");
        for (const char* filter : {"écluse", "süd 4", "*süd*", "?CLUSE*"})
            QVERIFY2(query::ObjectFilter(filter).fits(p.scene(), p.slot(id)), filter);
        QVERIFY(!query::ObjectFilter("ecluse").fits(p.scene(), p.slot(id)));
    }
    void whatIsHiddenOrProtectedIsAskedForByThatWord() {
        test::TestProject p;
        const auto group = p.add("Yard"), post = p.add("The hidden post", group, {}, "lantern-post");
        auto fits = [&](const char* filter) { return query::ObjectFilter(filter).fits(p.scene(), p.slot(post)); };
        QVERIFY(!fits("hidden") && !fits("protected") && fits("\"hidden\""));  // quoted: of the name
        const std::uint8_t flags = model::flags::kHidden | model::flags::kProtected;
        edit::Draft draft(p.session(), "first", "Hide");
        QVERIFY(draft.setFlags({&group, 1}, {&flags, 1}) && draft.commit());
        QVERIFY(fits("hidden") && fits("Protected post"));  // with what it lies in
    }
    void propertiesAreAskedFor_data() {
        QTest::addColumn<QString>("filter");
        QTest::addColumn<bool>("fits");
        for (const auto& [filter, fits] : {std::pair{"oil=3.5", true},
                                           {"oil>3", true},
                                           {"oil>3.5", false},
                                           {"Oil<9 lantern", true},
                                           {"state=Open", true},
                                           {"state=op*", true},
                                           {"state=op", false},
                                           {"lit=true", true},
                                           {"crew>1", true},
                                           {"crew=2", true},
                                           {"colour=red", false},
                                           {"state>3", false},
                                           {"\"oil=3.5\"", false}})
            QTest::newRow(filter) << QString(filter) << fits;
    }
    void propertiesAreAskedFor() {
        QFETCH(QString, filter);
        QFETCH(bool, fits);
        test::TestProject p;
        const auto id = p.add("Lantern post 7");
        model::Detail detail;
        detail.properties = {
            {"oil", {3.5}}, {"state", {std::string("open")}}, {"lit", {true}}, {"crew", {std::int64_t{2}}}};
        const model::DetailPtr shared = std::make_shared<const model::Detail>(detail);
        edit::Draft draft(p.session(), "first", "Properties");
        QVERIFY(draft.setDetails({&id, 1}, {&shared, 1}).has_value());
        QCOMPARE(query::ObjectFilter(filter.toStdString()).fits(p.scene(), p.slot(id)), fits);
    }
    void measuresAreExact() {
        const query::Measure m{{{0, 0, 0}, {3, 0, 4}, {3, 5, 4}, {3, 10, 4}}};
        QCOMPARE(m.length(0), 5.0);
        QCOMPARE(m.total(), 15.0);
        QCOMPARE(m.degreesAt(1), 90.0);
        QCOMPARE(m.degreesAt(2), 180.0);
        QCOMPARE(m.slopeDegrees(0), 0.0);
        QCOMPARE(m.slopeDegrees(1), 90.0);
    }
    void wordsThatTheAskerKnowsFitHisObjects() {
        test::TestProject p;
        const base::ObjectId one = p.add("Post 1"), other = p.add("Post 2");
        const auto known = std::make_shared<const query::ObjectFilter::Known>(
            query::ObjectFilter::Known{{"unseated", {one}}, {"findings", {}}});
        auto fits = [&](const char* text, base::ObjectId id) {
            return query::ObjectFilter(text, known).fits(p.scene(), p.slot(id));
        };
        QVERIFY(fits("unseated", one) && !fits("unseated", other));
        QVERIFY(fits("Unseated post", one) && !fits("unseated 2", one));
        QVERIFY(!fits("findings", one));
        QVERIFY(!fits("\"unseated\"", one));  // in quotes it is a name
        QVERIFY(query::ObjectFilter("unseated", known).asksKnown() && !query::ObjectFilter("post", known).asksKnown());
        QVERIFY(!query::ObjectFilter("unseated").fits(p.scene(), p.slot(one)));  // nobody knows: part of a name
    }
    void aTriangleThatReachesInTouches() {
        query::Frustum f;  // the unit cube without a far side
        f.planes = {query::Plane{{1, 0, 0}, 0}, query::Plane{{-1, 0, 0}, 1}, query::Plane{{0, 1, 0}, 0},
                    query::Plane{{0, -1, 0}, 1}, query::Plane{{0, 0, 1}, 0}};
        shape::Mesh mesh;
        mesh.positions = {{-5, 0.5F, 0.5F}, {5, 0.5F, 0.5F}, {5, 0.6F, 0.5F}};
        mesh.indices = {0, 1, 2};
        QVERIFY(query::touches(f, mesh, {}));
        base::Affine up;
        up.translation = {0, 2, 0};
        QVERIFY(!query::touches(f, mesh, up));
        QVERIFY(query::sideOf(f, {{0.2, 0.2, 0.2}, {0.8, 0.8, 0.8}}) == query::Side::Inside);
        QVERIFY(query::sideOf(f, {{-1, 0.2, 0.2}, {0.8, 0.8, 0.8}}) == query::Side::Crossing);
        QVERIFY(query::sideOf(f, {{3, 0, 0}, {4, 1, 1}}) == query::Side::Outside);
    }
};

MELLOW_TEST(FilterTest)
}  // namespace filter_test
#include "filter_test.moc"
