// A ledger as each version of payloads wrote it, kept as it was: what they hold is what was put into them.
#include <QTemporaryDir>
#include <QtTest>

#include "edit/codec.h"
#include "edit/codec_parts.h"
#include "edit/ledger.h"
#include "model/facets/array.h"
#include "model/facets/body.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/note.h"
#include "model/facets/points.h"
#include "model/facets/solid.h"
#include "model/facets/surfaces.h"
#include "model/facets/tint.h"
#include "model/facets/zone.h"
#include "model/prefab.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace golden_test {

using base::ObjectId;

model::Light light(int version) {
    model::Light light;
    light.shape = model::Light::Shape::Spot;
    light.colour = {0.5, 0.25, 1};
    light.intensity = 12.5;
    light.outerDegrees = 40;
    if (version >= 2) light.unknown.members = "\"flicker\":0.5";
    return light;
}

model::Array ring() {
    model::Array a;
    a.shape = model::Array::Shape::Ring;
    a.counts = {7, 1, 1};
    a.radiusMetres = 4.5;
    a.jitterSize = 0.25;
    a.seed = 77;
    a.unknown.members = "\"wave\":2";
    return a;
}

model::Body body(int version) {
    model::Body b;
    b.role = model::Body::Role::Loose;
    b.wakes = model::Body::Wakes::WhenBumped;
    b.shape = model::Body::Shape::Capsule;
    b.fitted = false;
    b.centre = {0, 1, 0};
    b.size = {1, 2, 1};
    b.massKilograms = 12;
    // What bodies of then did not know; those that were kept member by member are read as today's.
    if (version < 9)
        b.bounce = 0.5;
    else
        b.unknown.members = "\"bounce\":0.5";
    return b;
}

model::PointSet points() {
    model::PlacePoint p;
    p.name = "Mooring";
    p.at = {1, 0, -2};
    p.turnDegrees = 90;
    p.colour = base::Vec3(1, 0, 0);
    model::PointSet set;
    set.stays = true;
    set.points = {p, model::PlacePoint{}};
    return set;
}

model::Surfaces surfaces() {
    model::SlotSurface s;
    s.slot = "oak";
    s.surface = "stone";
    s.tint = base::Vec3(0.5);
    s.image = "notice.png";
    s.fit = model::ImageFit::Fill;
    return {{s}};
}

std::shared_ptr<const model::PrefabLink> link(base::NameTable& names) {
    auto link = std::make_shared<model::PrefabLink>();
    link->of = ObjectId{0xabc};
    model::Difference c;
    c.value.id = ObjectId{0x51};
    c.value.local.position = {1, 2, 3};
    model::Detail differs;
    differs.edit<model::Light>().reachMetres = 3;
    differs.properties = {{"oil", {1.5}}};
    c.value.detail = std::make_shared<const model::Detail>(differs);
    c.parts = model::PartSet(model::part::kPosition | model::part::kProperties);
    c.parts.add(model::Light::type());
    c.parts.add(model::Note::type());
    c.goneProperties = {"lit"};
    link->changed = {c};
    link->removed = {ObjectId{0x52}};
    model::ObjectRecord r;
    r.id = ObjectId{0x53};
    r.name = names.intern("Added");
    link->added = {r};
    link->unknownKeys = "\"later\":1";
    return link;
}

/// All facets that a version knew.
model::DetailPtr detail(int version, base::NameTable& names, bool isInstance) {
    model::Detail d;
    d.put(light(version));
    model::Camera& camera = d.edit<model::Camera>();
    camera.farMetres = 250;
    if (version >= 2) camera.unknown.members = "\"blur\":{}";
    d.put(model::Note{"Mind the step"});
    if (version >= 4) {
        d.put(model::Tint{base::Vec3(0.2, 0.4, 0.6)});
        d.put(ring());
    }
    if (version >= 5) {
        model::Solid stairs = model::usualSolid(model::Solid::Shape::Stairs, {1, 2, 3}, 7);
        stairs.unknown = {"\"bend\":true", {}};
        d.put(std::move(stairs));
    }
    if (version >= 7) {
        d.put(body(version));
        d.put(points());
        model::Zone& z = d.edit<model::Zone>();
        z.shape = model::Zone::Shape::Polygon;
        z.corners = {{0, 0}, {4, 0}, {4, 5}};
        d.put(surfaces());
    }
    d.properties = {
        {"oil", {2.5}}, {"lit", {true}}, {"crew", {model::ValueList{{std::string("Ada Reed")}, {std::int64_t{3}}}}}};
    d.unknownKeys = "\"mood\":\"calm\"";
    if (version >= 5 && isInstance) d.prefab.link = link(names);
    return std::make_shared<const model::Detail>(d);
}

model::SetSettings settings(int version, ObjectId one, ObjectId two) {
    auto before = std::make_shared<model::SceneSettings>(), after = std::make_shared<model::SceneSettings>();
    after->sunStrength = 1.5;
    if (version > 9) {
        after->hazeMetres = 300;
        after->notes = "The basin before the flood.";
    }
    after->unknownKeys = "\"fog\":1";
    if (version >= 3) {
        after->bookmarks = {{"Quay", {1, 2, 3}, {}, 12, {}}};
        after->selections = {{"Lamps", {one}, {}}};
    }
    if (version >= 5) {
        after->prefab.emplace();
        after->prefab->name = "stall";
        after->prefab->folder = "market";
    }
    if (version >= 8) {
        model::RuleOff off;
        off.rule = "buried";
        off.object = one;
        after->rulesOff = {off};
        model::AcceptedFinding fine;
        fine.rule = "floating";
        fine.object = two;
        fine.reason = "A kite";
        after->accepted = {fine};
    }
    return {before, after};
}

/// One step with every kind of change.
edit::StepData everything(int version, base::NameTable& names) {
    model::ObjectRecord one;
    one.id = ObjectId{0x11};
    one.local.position = {1, 2.5, -3};
    one.name = names.intern("Lamp");
    one.kind = names.intern("Lantern");
    one.item = names.intern("lantern");
    one.flags = 1;
    one.detail = detail(version, names, true);
    model::ObjectRecord two;
    two.id = ObjectId{0x12};
    two.parent = one.id;
    model::Existence made;
    made.created = true;
    made.objects = {one, two};
    model::ChangeSet set{
        "first",
        {made, model::SetTransforms{{one.id}, {one.local}, {two.local}},
         model::SetLabels{model::LabelField::Name, {one.id}, {one.name}, {names.intern("Harbour lamp")}},
         model::SetFlags{{one.id}, {1}, {2}},
         model::SetDetails{{one.id, two.id}, {one.detail, nullptr}, {nullptr, detail(version, names, false)}},
         model::MoveInTree{{two.id}, {{one.id, {}}}, {{{}, one.id}}}, settings(version, one.id, two.id)}};
    if (version >= 6)
        set.changes.emplace_back(model::SetEntries{{"", "0000000000000099"},
                                                   {std::nullopt, model::ValueMap{{"name", {std::string("Ada")}}}},
                                                   {model::ValueMap{{"name", {std::string("Crew")}}}, std::nullopt}});
    return {{set}, {one.id}, {two.id, one.id}};
}

class GoldenTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void everyVersionsLedgerOpens_data() {
        QTest::addColumn<int>("version");
        for (int version = 1; version <= edit::kPayloadVersion; ++version)
            QTest::newRow(qPrintable(QString::number(version))) << version;
    }
    void everyVersionsLedgerOpens() {
        QFETCH(int, version);
        QTemporaryDir folder;
        const auto kept = test::dataFolder() / "ledgers" / ("payload-" + std::to_string(version) + ".db");
        QVERIFY2(std::filesystem::exists(kept), "each version of payloads has a ledger of its own here");
        const auto file = std::filesystem::path(folder.path().toStdString()) / "ledger.db";
        std::filesystem::copy_file(kept, file);
        auto ledger = edit::Ledger::open(file, false);
        QVERIFY2(ledger.has_value(), ledger ? "" : ledger.error().message.c_str());
        const auto history = (*ledger)->history();
        QVERIFY(history.has_value());
        QCOMPARE(history->steps().size(), std::size_t{1});
        base::NameTable names;
        const auto step = (*ledger)->load(history->steps().front().id, names);
        QVERIFY2(step.has_value(), step ? "" : step.error().message.c_str());
        // In today's form both say the same.
        QCOMPARE(edit::encode(*step, names), edit::encode(everything(version, names), names));
    }
    void theFormOfTodayIsTheKeptOne() {
        base::NameTable names;
        const edit::StepData step = everything(edit::kPayloadVersion, names);
        const QByteArray wanted = qgetenv("MELLOW_GOLDEN");  // a file to write the kept one to
        QTemporaryDir folder;
        const std::filesystem::path file(
            (wanted.isEmpty() ? folder.filePath("ledger.db") : QString::fromUtf8(wanted)).toStdString());
        auto ledger = edit::Ledger::open(file, false);
        QVERIFY(ledger.has_value());
        edit::StepInfo info;
        info.id = edit::StepId{1};
        info.name = "Everything there is";
        info.timeMs = 1'700'000'000'000;
        QVERIFY((*ledger)->append(info, std::make_shared<const edit::StepData>(step), names).has_value());
        QVERIFY((*ledger)->flush().has_value());
        base::NameTable others;
        const auto back = (*ledger)->load(info.id, others);
        QVERIFY(back.has_value());
        QCOMPARE(edit::encode(*back, others), edit::encode(step, names));
    }
};

MELLOW_TEST(GoldenTest)
}  // namespace golden_test
#include "golden_test.moc"
