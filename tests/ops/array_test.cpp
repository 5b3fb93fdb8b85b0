#include <QtTest>

#include "io/scene_file.h"
#include "model/facets/array.h"
#include "model/facets/tint.h"
#include "ops/array.h"
#include "ops/copies.h"
#include "ops/group.h"
#include "support/steps.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace array_test {

using base::Vec3;
using model::Array;
using test::asStep;

class ArrayTest : public QObject {
    Q_OBJECT
    static base::ObjectId make(test::TestProject& p, base::ObjectId id, const Array& array) {
        auto made = asStep(p, [&](edit::Draft& d) { return ops::makeArray(d, {&id, 1}, array); });
        if (!made) qFatal("%s", made.error().message.c_str());
        return *made;
    }
    static ops::Ids children(test::TestProject& p, base::ObjectId id) {
        ops::Ids all;
        for (auto s = p.scene().firstChild(p.slot(id)); s != model::kNoSlot; s = p.scene().nextSibling(s))
            all.push_back(p.scene().id(s));
        return all;
    }
    static Vec3 at(test::TestProject& p, base::ObjectId id) { return p.scene().world(p.slot(id)).translation; }

  private Q_SLOTS:
    void aRowGrowsAndShrinksAndWhatStaysKeepsItsId() {
        test::TestProject p;
        const auto post = p.add("Post 1", {}, {{4, 1, -2}, base::fromDegrees({0, 20, 0}), Vec3(1, 2, 1)}, "post");
        const auto before = p.scene().world(p.slot(post));
        Array a;
        a.counts[0] = 4;
        a.spacing = {1.5, 0.25, 0};
        const auto row = make(p, post, a);
        auto all = children(p, row);
        QCOMPARE(all.size(), std::size_t{4});
        QCOMPARE(all[0], post);
        QVERIFY(glm::length(at(p, post) - before.translation) < 1e-12);
        for (std::size_t i = 0; i < 4; ++i)
            QVERIFY(glm::length(at(p, all[i]) - before.translation - Vec3(1.5, 0.25, 0) * double(i)) < 1e-9);
        QCOMPARE(p.scene().nameText(p.slot(all[1])), std::string_view("Post 2"));
        a.counts[0] = 2;
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setArray(d, row, a); }).has_value());
        QCOMPARE(children(p, row), (ops::Ids{all[0], all[1]}));
        a.counts[0] = 6;
        a.spacing = {3, 0, 0};
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setArray(d, row, a); }).has_value());
        QCOMPARE(children(p, row).size(), std::size_t{6});
        QVERIFY(glm::length(at(p, children(p, row)[5]) - before.translation - Vec3(15, 0, 0)) < 1e-9);
    }
    void movingTheFirstOneAndChangingANumberMovesAllOfThem() {
        test::TestProject p;
        const auto post = p.add("Post", {}, {{0, 0, 0}}, "post");
        Array a;
        const auto row = make(p, post, a);
        const base::Transform moved{{0, 5, 0}};
        QVERIFY(asStep(p, [&](edit::Draft& d) { return d.setTransforms({&post, 1}, {&moved, 1}); }).has_value());
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setArray(d, row, a); }).has_value());
        for (auto id : children(p, row)) QVERIFY(std::abs(at(p, id).y - 5) < 1e-9);
    }
    void aGridFillsThreeAxes() {
        test::TestProject p;
        Array a;
        a.shape = Array::Shape::Grid;
        a.counts = {3, 2, 4};
        a.spacing = {1, 10, 100};
        const auto grid = make(p, p.add("Block", {}, {}, "block"), a);
        QCOMPARE(children(p, grid).size(), std::size_t{24});
        std::set<std::array<int, 3>> places;
        for (auto id : children(p, grid)) {
            const Vec3 v = at(p, id);
            places.insert({int(std::lround(v.x)), int(std::lround(v.y)), int(std::lround(v.z))});
        }
        QCOMPARE(places.size(), std::size_t{24});
        QVERIFY(places.contains({2, 10, 300}) && places.contains({0, 0, 0}));
    }
    void aRingStandsRoundItsMiddleAndFacesOutwards() {
        test::TestProject p;
        Array a;
        a.shape = Array::Shape::Ring;
        a.counts[0] = 8;
        a.radiusMetres = 5;
        const auto ring = make(p, p.add("Seat", {}, {{7, 0, 7}}, "seat"), a);
        for (auto id : children(p, ring)) {
            const base::Affine& world = p.scene().world(p.slot(id));
            QVERIFY(std::abs(glm::length(world.translation - Vec3(7, 0, 7)) - 5) < 1e-9);
            QVERIFY(glm::length(glm::normalize(world.translation - Vec3(7, 0, 7)) - world.linear[2]) < 1e-9);
        }
        // A quarter of one: from the first to the last.
        a.sweepDegrees = 90;
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setArray(d, ring, a); }).has_value());
        const auto all = children(p, ring);
        QVERIFY(glm::length(at(p, all.back()) - Vec3(12, 0, 7)) < 1e-9);
        QVERIFY(glm::length(at(p, all.front()) - Vec3(7, 0, 12)) < 1e-9);
    }
    void stepsOfSizeAreNamedAndChanceIsTheSameForTheSameSeed() {
        test::TestProject p;
        Array a;
        a.counts[0] = 5;
        a.size = 1.2;
        const auto row = make(p, p.add("Pear 3", {}, {}, "pear"), a);
        const auto all = children(p, row);
        QCOMPARE(p.scene().nameText(p.slot(all[2])), std::string_view("Pear ×1.44"));
        QVERIFY(std::abs(p.scene().local(p.slot(all[2])).scale.x - 1.44) < 1e-12);
        a.size = 1;
        a.jitterMetres = 0.5;
        a.jitterDegrees = 30;
        a.jitterSize = 0.2;
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setArray(d, row, a); }).has_value());
        const std::string once = p.bytes();
        const Vec3 first = at(p, all[0]);
        a.seed = 9;
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setArray(d, row, a); }).has_value());
        QVERIFY(p.bytes() != once);
        QCOMPARE(at(p, all[0]), first);
        a.seed = 1;
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setArray(d, row, a); }).has_value());
        QCOMPARE(p.bytes(), once);
    }
    void anArraySurvivesTheFileAndARestartWithItsHistory() {
        test::TestProject p;
        Array a;
        a.shape = Array::Shape::Ring;
        a.jitterSize = 0.25;
        a.seed = 77;
        const auto ring = make(p, p.add("Seat", {}, {}, "seat"), a);
        const std::string bytes = p.bytes();
        QVERIFY(bytes.find("\"array\":{\"shape\":\"ring\",\"counts\":[3,1,1]") != std::string::npos);
        base::Progress progress;
        auto names = p.session().project().names;
        auto read = io::parseScene("first", bytes, "first", names, p.session().library(), progress);
        QVERIFY(read.has_value() && read->damage.empty());
        QCOMPARE(io::formatScene(read->scene), bytes);
        p.close();
        QVERIFY(p.reopen().has_value());
        QCOMPARE(p.bytes(), bytes);
        QVERIFY(*p.scene().facet<model::Array>(p.slot(ring)) == a);
        QVERIFY(p.session().undo().has_value() && p.session().redo().has_value());
        QCOMPARE(p.bytes(), bytes);
    }
    void copiesFollowAllOfTheOriginalInTheSameStep() {
        test::TestProject p;
        const auto post = p.add("Post", {}, {{0, 0, 0}}, "post");
        const auto row = make(p, post, Array{});
        const std::string before = p.bytes();
        const auto all = children(p, row);
        model::Detail detail;
        detail.put(model::Tint{Vec3(0.2, 0.4, 0.6)});
        model::setValue(detail.properties, "oil", model::Value(0.5));
        const model::DetailPtr value = std::make_shared<const model::Detail>(detail);
        const base::Transform turned{{0, 1, 0}, base::fromDegrees({0, 30, 0}), Vec3(2, 1, 1)};
        const base::Name item = p.session().intern("block");
        QVERIFY(asStep(p, [&](edit::Draft& d) -> base::Status {
            if (auto s = d.setDetails({&post, 1}, {&value, 1}); !s) return s;
            if (auto s = d.setLabels(model::LabelField::Item, {&post, 1}, {&item, 1}); !s) return s;
            return d.setTransforms({&post, 1}, {&turned, 1});
        }));
        for (std::size_t i = 0; i < all.size(); ++i) {
            const auto s = p.slot(all[i]);
            QVERIFY(model::sameDetail(p.scene().detail(s), value));
            QCOMPARE(p.scene().item(s), item);
            QVERIFY(glm::length(p.scene().local(s).position - p.scene().local(p.slot(post)).position -
                                Vec3(2 * double(i), 0, 0)) < 1e-9);
            QVERIFY(p.scene().local(s).scale == Vec3(2, 1, 1));
        }
        const std::string after = p.bytes();
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
        QVERIFY(p.session().redo());
        QCOMPARE(p.bytes(), after);
    }
    void whatWasChangedByHandInACopyIsKeptUntilAllAreMadeAlike() {
        test::TestProject p;
        const auto post = p.add("Post", {}, {{0, 0, 0}}, "post");
        Array a;
        a.counts[0] = 5;
        const auto row = make(p, post, a);
        const auto all = children(p, row);
        auto tint = [&](base::ObjectId id, const Vec3& colour) {
            model::Detail detail;
            detail.put(model::Tint{colour});
            const model::DetailPtr value = std::make_shared<const model::Detail>(detail);
            return asStep(p, [&](edit::Draft& d) { return d.setDetails({&id, 1}, {&value, 1}); }).has_value();
        };
        auto colour = [&](base::ObjectId id) { return p.scene().facet<model::Tint>(p.slot(id))->colour; };
        QVERIFY(tint(all[1], {1, 0, 0}));  // one red, one moved, one gone
        base::Transform moved = p.scene().local(p.slot(all[2]));
        moved.position.z += 3;
        QVERIFY(asStep(p, [&](edit::Draft& d) { return d.setTransforms({&all[2], 1}, {&moved, 1}); }));
        QVERIFY(asStep(p, [&](edit::Draft& d) { return d.remove({&all[3], 1}); }));
        const auto odd = ops::arrayOddities(p.scene(), p.slot(row));
        QCOMPARE(odd.changed, (ops::Ids{all[1], all[2]}));
        QCOMPARE(odd.missing, 1);
        QVERIFY(ops::isOddCopy(p.scene(), p.slot(all[1])) && !ops::isOddCopy(p.scene(), p.slot(all[4])));

        QVERIFY(tint(post, {0, 0, 1}));
        QCOMPARE(colour(all[1]), Vec3(1, 0, 0));
        QCOMPARE(colour(all[2]), Vec3(0, 0, 1));
        a.spacing = {4, 0, 0};
        a.counts[0] = 7;
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setArray(d, row, a); }));
        const auto more = children(p, row);
        QCOMPARE(more.size(), std::size_t{6});
        QVERIFY(p.scene().local(p.slot(all[2])) == moved);
        const Vec3 first = at(p, post);
        QVERIFY(glm::length(at(p, all[4]) - first - Vec3(16, 0, 0)) < 1e-9);
        QVERIFY(glm::length(at(p, more[5]) - first - Vec3(24, 0, 0)) < 1e-9);

        const std::string before = p.bytes();
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::alikeArray(d, {&row, 1}); }));
        QCOMPARE(children(p, row).size(), std::size_t{7});
        QCOMPARE(colour(all[1]), Vec3(0, 0, 1));
        QVERIFY(glm::length(at(p, all[2]) - first - Vec3(8, 0, 0)) < 1e-9);
        QVERIFY(ops::arrayOddities(p.scene(), p.slot(row)).changed.empty());
        QCOMPARE(ops::arrayOddities(p.scene(), p.slot(row)).missing, 0);
        const std::string after = p.bytes();
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);
        QVERIFY(p.session().redo());
        QCOMPARE(p.bytes(), after);
        p.close();
        QVERIFY(p.reopen());
        QCOMPARE(p.bytes(), after);
    }
    void whatComesAndGoesBelowTheOriginalDoesSoInCopies() {
        test::TestProject p;
        const auto stall = p.add("Stall", {}, {{0, 0, 0}}, "block");
        const auto lamp = p.add("Lamp", stall, {{0, 1, 0}}, "post");
        const auto row = make(p, stall, Array{});
        const auto copies = children(p, row);
        const auto below = [&](std::size_t i) { return children(p, copies[i]); };
        QCOMPARE(below(2).size(), std::size_t{1});
        // One copy's lamp stands elsewhere.
        const base::ObjectId own = below(1)[0];
        const base::Transform elsewhere{{0.5, 1, 0}};
        QVERIFY(asStep(p, [&](edit::Draft& d) { return d.setTransforms({&own, 1}, {&elsewhere, 1}); }));
        const base::Transform higher{{0, 2, 0}};
        QVERIFY(asStep(p, [&](edit::Draft& d) { return d.setTransforms({&lamp, 1}, {&higher, 1}); }));
        QVERIFY(p.scene().local(p.slot(below(2)[0])) == higher);
        QVERIFY(p.scene().local(p.slot(own)) == elsewhere);
        const auto hook = p.add("Hook", stall, {{0, 0.5, 0}}, "post");
        QCOMPARE(below(0), (ops::Ids{lamp, hook}));
        QCOMPARE(below(2).size(), std::size_t{2});
        QCOMPARE(below(1), (ops::Ids{own}));  // different: left alone
        QVERIFY(asStep(p, [&](edit::Draft& d) { return d.remove({&lamp, 1}); }));
        QCOMPARE(below(2).size(), std::size_t{1});
        QCOMPARE(p.scene().nameText(p.slot(below(2)[0])), std::string_view("Hook"));
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::alikeArray(d, {&row, 1}); }));
        QCOMPARE(below(1).size(), std::size_t{1});
        QCOMPARE(p.scene().nameText(p.slot(below(1)[0])), std::string_view("Hook"));
    }
    void anArrayOfAnArrayFollowsAllTheWay() {
        test::TestProject p;
        const auto post = p.add("Post", {}, {{0, 0, 0}}, "post");
        const auto row = make(p, post, Array{});
        Array across;
        across.spacing = {0, 0, 5};
        const auto rows = make(p, row, across);
        const base::Transform tall{{0, 0, 0}, {}, Vec3(1, 3, 1)};
        base::Transform pose = p.scene().local(p.slot(post));
        pose.scale = tall.scale;
        QVERIFY(asStep(p, [&](edit::Draft& d) { return d.setTransforms({&post, 1}, {&pose, 1}); }));
        int high = 0;
        for (auto each : children(p, rows))
            for (auto id : children(p, each)) high += p.scene().local(p.slot(id)).scale.y == 3 ? 1 : 0;
        QCOMPARE(high, 9);
    }
    void aRingGoesRoundAPointAndTheFirstOneStays() {
        test::TestProject p;
        const base::Transform pose{{5, 2, 3}, base::fromDegrees({0, 40, 0}), Vec3(1)};
        const auto seat = p.add("Seat", {}, pose, "seat");
        Array a;
        a.shape = Array::Shape::Ring;
        a.counts[0] = 6;
        auto made = asStep(p, [&](edit::Draft& d) {
            return ops::makeArray(d, {&seat, 1}, a, std::optional(Vec3(1, 9, 3)));
        });
        QVERIFY(made.has_value());
        QVERIFY(glm::length(at(p, seat) - pose.position) < 1e-9);
        QVERIFY(std::abs(p.scene().facet<model::Array>(p.slot(*made))->radiusMetres - 4) < 1e-9);
        for (auto id : children(p, *made)) {
            QVERIFY(std::abs(glm::length(at(p, id) - Vec3(1, 2, 3)) - 4) < 1e-9);
        }
        QVERIFY(!asStep(p, [&](edit::Draft& d) {
            return ops::makeArray(d, {&seat, 1}, a, std::optional(at(p, seat)));
        }));
    }
    void theSizeInTheNameIsTheSizeItHas() {
        test::TestProject p;
        Array a;
        a.counts[0] = 4;
        a.size = 1.1;
        a.jitterSize = 0.3;
        const auto row = make(p, p.add("Pear", {}, {}, "pear"), a);
        const auto all = children(p, row);
        for (std::size_t i = 1; i < all.size(); ++i) {
            const QString name = QString::fromUtf8(p.scene().nameText(p.slot(all[i])).data());
            const QString size = QString::number(p.scene().local(p.slot(all[i])).scale.x, 'f', 2);
            QVERIFY2(name.startsWith("Pear ×" + size), qPrintable(name + " is " + size));
        }
        const base::Name own = p.session().intern("The tall one");
        QVERIFY(asStep(p, [&](edit::Draft& d) {
            return d.setLabels(model::LabelField::Name, {&all[2], 1}, {&own, 1});
        }));
        a.seed = 5;
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setArray(d, row, a); }));
        QCOMPARE(p.scene().nameText(p.slot(all[2])), std::string_view("The tall one"));
    }
    void badNumbersProtectedCopiesAndWhatIsNoArrayAreRefused() {
        test::TestProject p;
        const auto row = make(p, p.add("Post", {}, {}, "post"), Array{});
        auto refused = [&](const Array& a) {
            return !asStep(p, [&](edit::Draft& d) { return ops::setArray(d, row, a); }).has_value();
        };
        for (auto spoil : std::initializer_list<void (*)(Array&)>{
                 [](Array& a) { a.counts[0] = 0; }, [](Array& a) { a.counts[0] = 20'000; },
                 [](Array& a) { a.spacing.x = std::nan(""); }, [](Array& a) { a.size = 0; },
                 [](Array& a) { a.counts[0] = 100, a.size = 5; }, [](Array& a) { a.jitterSize = 1; }}) {
            Array a;
            spoil(a);
            QVERIFY(refused(a));
        }
        const auto plain = p.add("Plain");
        QVERIFY(!asStep(p, [&](edit::Draft& d) { return ops::setArray(d, plain, Array{}); }));
        const auto last = children(p, row).back();
        QVERIFY(asStep(p, [&](edit::Draft& d) {
                    return ops::setFlag(d, {&last, 1}, model::flags::kProtected, true);
                }).has_value());
        QVERIFY(refused(Array{}));
    }
    void bakingLeavesAPlainGroupThatCanBeUngrouped() {
        test::TestProject p;
        const auto row = make(p, p.add("Post", {}, {}, "post"), Array{});
        const auto all = children(p, row);
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::bakeArray(d, {&row, 1}); }).has_value());
        QVERIFY(!p.scene().detail(p.slot(row)));
        QVERIFY(!asStep(p, [&](edit::Draft& d) { return ops::bakeArray(d, {&row, 1}); }));
        QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::ungroup(d, {&row, 1}); }).has_value());
        for (auto id : all) QCOMPARE(p.scene().parent(p.slot(id)), model::kNoSlot);
    }
    void aCopyIsPulledTheSameWayAgain() {
        test::TestProject p;
        const auto area = p.add("Area", {}, {{0, 0, 0}, base::fromDegrees({0, 90, 0}), Vec3(2)});
        const auto a = p.add("Post 1", area, {{1, 0, 0}}, "post");
        const base::Affine from = p.scene().world(p.slot(a));
        base::Affine to = from;
        to.linear = glm::mat3_cast(base::fromDegrees({0, 30, 0})) * from.linear;
        to.translation += Vec3(0, 0, 3);
        const base::Affine motion = ops::motionBetween(from, to);
        auto made = asStep(p, [&](edit::Draft& d) { return ops::copyMoved(d, {&a, 1}, motion); });
        QVERIFY(made.has_value());
        const base::Affine got = p.scene().world(p.slot(made->front()));
        QVERIFY(glm::length(got.translation - to.translation) < 1e-9);
        for (int c = 0; c < 3; ++c) QVERIFY(glm::length(got.linear[c] - to.linear[c]) < 1e-9);
    }
    void mirroringTwiceGivesThePlaceBackAndMirrorsAnyPoint() {
        test::TestProject p;
        const auto area = p.add("Area", {}, {{3, 0, 1}, base::fromDegrees({0, 50, 0}), Vec3(1)});
        const auto a = p.add("Post", area, {{1, 2, 0}, base::fromDegrees({10, 20, 30}), Vec3(1, 2, 3)}, "post");
        const base::Affine before = p.scene().world(p.slot(a));
        const Vec3 about(1, 0, 0);
        auto once = [&](int axis) {
            return asStep(p, [&](edit::Draft& d) { return ops::mirror(d, {&a, 1}, axis, about); });
        };
        for (int axis = 0; axis < 3; ++axis) {
            QVERIFY(once(axis).has_value());
            const Vec3 own(0.3, -0.7, 1.1);
            Vec3 image = before.point(own);
            image[axis] = 2 * about[axis] - image[axis];
            QVERIFY(glm::length(p.scene().world(p.slot(a)).point(own) - image) < 1e-9);
            QVERIFY(once(axis).has_value());
            QVERIFY(glm::length(p.scene().world(p.slot(a)).point(own) - before.point(own)) < 1e-9);
        }
    }
    void pulledByItsGripsAnArrayGrowsSpreadsAndTurns() {
        test::TestProject p;
        const auto post = p.add("Post", {}, {{4, 0, -2}}, "post");
        Array a;
        a.counts[0] = 3;
        a.spacing = {2, 0, 0};
        const auto row = make(p, post, a);
        const auto grips = ops::arrayGrips(p.scene(), p.slot(row));
        QCOMPARE(grips.size(), std::size_t{2});
        auto pulled = [&](std::size_t grip, const Vec3& by, double step) {
            return ops::pulledArray(p.scene(), p.slot(row), grips[grip], grips[grip].at + by, step);
        };
        QVERIFY(glm::length(grips[0].at - Vec3(10, 0, -2)) < 1e-9);  // where the fourth would stand
        QVERIFY(pulled(0, Vec3(0.0), 0.25).counts[0] == 3);
        QCOMPARE(pulled(0, {5, 0, 0}, 0.25).counts[0], 6);
        QCOMPARE(pulled(0, {-50, 0, 0}, 0.25).counts[0], 1);
        QCOMPARE(pulled(0, {1e9, 0, 0}, 0.25).counts[0], ops::kMostCopies);
        QVERIFY(glm::length(pulled(1, {0.6, 0, 0}, 0.25).spacing - Vec3(2.5, 0, 0)) < 1e-9);
        QVERIFY(glm::length(pulled(1, {-2, 0, 3}, 0.25).spacing - Vec3(0, 0, 3)) < 1e-9);
        QVERIFY(pulled(1, {-2, 0, 0}, 0.25) == a);  // onto the first: no direction to go
    }
    void eachAxisOfAGridIsPulledByItself() {
        test::TestProject p;
        const auto post = p.add("Post", {}, {{0, 0, 0}}, "post");
        Array a;
        a.shape = Array::Shape::Grid;
        a.counts = {3, 1, 2};
        a.spacing = {2, 1, -3};
        const auto grid = make(p, post, a);
        const auto grips = ops::arrayGrips(p.scene(), p.slot(grid));
        QCOMPARE(grips.size(), std::size_t{5});  // up there is but one: nothing to spread
        for (const ops::ArrayGrip& grip : grips) {
            const Array more = ops::pulledArray(p.scene(), p.slot(grid), grip,
                                                grip.at + grip.along * std::abs(a.spacing[grip.axis]), 0.5);
            const auto axis = std::size_t(grip.axis);
            if (grip.pulls == ops::ArrayGrip::Pulls::Count)
                QCOMPARE(more.counts[axis], a.counts[axis] + 1);
            else
                QCOMPARE(more.spacing[grip.axis], 2 * a.spacing[grip.axis]);
            QVERIFY(asStep(p, [&](edit::Draft& d) { return ops::setArray(d, grid, more); }).has_value());
            QVERIFY(p.session().undo());
        }
    }
    void aRingIsPulledWiderAndCloser() {
        test::TestProject p;
        const auto post = p.add("Post", {}, {{7, 0, 1}}, "post");
        Array a;
        a.shape = Array::Shape::Ring;
        a.counts[0] = 8;
        a.radiusMetres = 4;
        const auto ring = make(p, post, a);
        const Vec3 middle = p.scene().world(p.slot(ring)).translation;
        const auto grips = ops::arrayGrips(p.scene(), p.slot(ring));
        QCOMPARE(grips.size(), std::size_t{2});
        QCOMPARE(ops::pulledArray(p.scene(), p.slot(ring), grips[0], middle + Vec3(0, 0, 6.1), 0.5).radiusMetres, 6.0);
        const double angle = base::radians(30);
        const Vec3 nearer = middle + Vec3(std::sin(angle), 0, std::cos(angle)) * 4.0;
        QCOMPARE(ops::pulledArray(p.scene(), p.slot(ring), grips[1], nearer, 0.5).counts[0], 12);
    }
    void whatIsNoArrayHasNoGrips() {
        test::TestProject p;
        const auto post = p.add("Post");
        QVERIFY(ops::arrayGrips(p.scene(), p.slot(post)).empty());
        QVERIFY(ops::arrayGrips(p.scene(), model::kNoSlot).empty());
    }
};

MELLOW_TEST(ArrayTest)
}  // namespace array_test
#include "array_test.moc"
