#include <QtTest>

#include "base/id.h"
#include "edit/codec.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/solid.h"
#include "model/prefab.h"
#include "support/test_main.h"

namespace codec_test {

class CodecTest : public QObject {
    Q_OBJECT
    base::NameTable names_;

    static model::DetailPtr lamp() {
        model::Detail detail;
        detail.edit<model::Light>().unknown.members = "\"flicker\":0.5";
        detail.edit<model::Camera>().unknown.members = "\"blur\":{}";
        detail.unknownKeys = "\"mood\":\"calm\"";
        return std::make_shared<const model::Detail>(std::move(detail));
    }
    edit::StepData sample(std::size_t rows) {
        base::Random random(9);
        model::SetTransforms move;
        model::Existence made;
        for (std::size_t i = 0; i < rows; ++i) {
            move.ids.push_back(random.nextId());
            move.before.push_back({{random.unit(), random.unit(), random.unit()},
                                   base::fromDegrees({0, random.between(0, 360), 0}),
                                   {1, 1, 1}});
            move.after.push_back(move.before.back());
            move.after.back().position.x += 0.1;
            model::ObjectRecord r;
            r.id = random.nextId();
            r.name = names_.intern("Reed " + std::to_string(i));
            r.kind = names_.intern("Plant");
            r.local = move.after.back();
            if (i % 7 == 3) r.detail = lamp();
            made.objects.push_back(r);
        }
        edit::StepData data;
        data.changes.push_back({"lower-basin", {move, made}});
        data.selectionAfter = move.ids;
        return data;
    }

  private Q_SLOTS:
    void aStepReadsBackBitForBit() {
        const edit::StepData data = sample(500);
        base::NameTable others;  // another run: names have other numbers there
        others.intern("something else");
        const auto back = edit::decode(edit::encode(data, names_), others);
        QVERIFY(back.has_value());
        const auto& move = std::get<model::SetTransforms>(data.changes[0].changes[0]);
        const auto& moved = std::get<model::SetTransforms>(back->changes[0].changes[0]);
        QVERIFY(move.ids == moved.ids && move.before == moved.before && move.after == moved.after);
        const auto& made = std::get<model::Existence>(back->changes[0].changes[1]);
        QCOMPARE(std::string(others.text(made.objects[3].name)), std::string("Reed 3"));
        QVERIFY(model::sameDetail(made.objects[3].detail, lamp()));
        QVERIFY(back->selectionAfter == data.selectionAfter);
        QCOMPARE(edit::encode(*back, others), edit::encode(data, names_));
    }
    void instancesWithAllThatDiffersReadBack() {
        auto link = std::make_shared<model::PrefabLink>();
        base::Random random(5);
        link->of = random.nextId();
        model::Difference d;
        d.value.id = random.nextId();
        d.value.local.position = {1, 2, 3};
        d.value.detail = lamp();
        d.parts = model::PartSet(model::part::kPosition | model::part::kProperties).with(model::Light::type());
        d.goneProperties = {"oil"};
        model::put(*link, d, model::PartSet::all());
        link->removed = {random.nextId()};
        model::ObjectRecord added;
        added.id = random.nextId();
        added.name = names_.intern("Added");
        link->added = {added};
        model::Detail detail;
        detail.prefab.link = link;
        detail.put(model::usualSolid(model::Solid::Shape::Stairs, {1, 2, 3}, 7));
        const model::DetailPtr after = std::make_shared<const model::Detail>(detail);
        edit::StepData data;
        data.changes.push_back({"first", {model::SetDetails{{random.nextId()}, {nullptr}, {after}}}});
        const auto back = edit::decode(edit::encode(data, names_), names_);
        QVERIFY(back.has_value());
        const auto& read = std::get<model::SetDetails>(back->changes[0].changes[0]);
        QVERIFY(model::sameDetail(read.after[0], after));
    }
    void bulkIsMuchSmallerThanItsColumns() {
        edit::StepData data = sample(20'000);
        data.changes[0].changes.pop_back();
        data.selectionAfter.clear();
        QVERIFY(edit::encode(data, names_).size() < 20'000 * 168 / 2);
    }
    void everyCutIsNoticed() {
        const std::string bytes = edit::encode(sample(3), names_);
        for (std::size_t n = 0; n < bytes.size(); ++n) {
            base::NameTable others;
            QVERIFY(!edit::decode(std::string_view(bytes).substr(0, n), others));
        }
    }
    void changedBytesNeverCrash() {
        const std::string bytes = edit::encode(sample(2), names_);
        base::Random random(4);
        for (int i = 0; i < 3000; ++i) {
            std::string broken = bytes;
            for (int k = 0; k < 3; ++k) broken[random.next() % broken.size()] = static_cast<char>(random.next());
            base::NameTable others;
            (void)edit::decode(broken, others);
        }
    }
};

MELLOW_TEST(CodecTest)
}  // namespace codec_test
#include "codec_test.moc"
