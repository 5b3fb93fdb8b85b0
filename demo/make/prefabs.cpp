// The demo's prefabs: a market stall with its editions, a row that nests them, a lantern with its glow, a mooring set.
#include "base/math.h"
#include "io/scene_file.h"
#include "model/facets/light.h"
#include "model/prefab.h"
#include "scenes.h"

namespace demo {
namespace {

using base::ObjectId;
using base::Vec3;
using model::Difference;

ObjectId idOf(int prefab, int object) {
    return base::Random(base::mixBits(static_cast<std::uint64_t>(4711 + prefab * 100 + object))).nextId();
}

/// One definition being written; its objects are numbered.
class Definition {
  public:
    Definition(int number, const char* name, const char* folder) : number_(number) {
        prefab_.name = name;
        prefab_.id = idOf(number, 0);
        prefab_.text = "{\"format\":\"mellow-prefab\",\"version\":1,\"id\":\"" + base::toText(prefab_.id) +
                       "\",\"folder\":\"" + folder + "\"}\n";
    }
    ObjectId add(const char* name, const char* kind, const char* item, const Vec3& at, double turn = 0,
                 model::DetailPtr detail = nullptr, ObjectId parent = {}) {
        model::ObjectRecord r;
        r.id = idOf(number_, ++count_);
        r.parent = parent;
        r.name = names_.intern(name);
        r.kind = names_.intern(kind);
        r.item = names_.intern(item);
        r.local.position = at;
        r.local.rotation = base::fromDegrees({0, turn, 0});
        r.detail = std::move(detail);
        io::appendObjectLine(prefab_.text, r, names_);
        prefab_.text += '\n';
        return r.id;
    }
    ObjectId instance(const char* name, ObjectId of, const Vec3& at, double turn = 0,
                      std::vector<Difference> changed = {}, std::vector<ObjectId> removed = {}) {
        auto link = std::make_shared<model::PrefabLink>();
        link->of = of;
        for (Difference& d : changed) model::put(*link, std::move(d), model::PartSet::all());
        link->removed = std::move(removed);
        std::sort(link->removed.begin(), link->removed.end());
        model::Detail detail;
        detail.prefab.link = std::move(link);
        return add(name, "", "", at, turn, std::make_shared<const model::Detail>(std::move(detail)));
    }
    Difference item(ObjectId object, const char* item) {
        Difference d;
        d.value.id = object;
        d.value.item = names_.intern(item);
        d.parts = model::part::kItem;
        return d;
    }
    const DemoPrefab& done() const { return prefab_; }

  private:
    int number_, count_ = 0;
    base::NameTable names_;
    DemoPrefab prefab_;
};

model::DetailPtr glow() {
    auto d = std::make_shared<model::Detail>();
    d->edit<model::Light>();
    d->edit<model::Light>().colour = {1.0, 0.78, 0.42};
    d->edit<model::Light>().reachMetres = 9;
    d->edit<model::Light>().intensity = 30;
    return d;
}

}  // namespace

ObjectId stallRow() {
    return idOf(5, 0);
}

std::vector<DemoPrefab> prefabs() {
    std::vector<DemoPrefab> all;
    Definition stall(1, "Market stall", "Market");
    stall.add("Frame", "Structure", "stall-frame", Vec3(0.0));
    const ObjectId awning = stall.add("Awning", "Structure", "awning-ember", Vec3(0.0));
    std::vector<ObjectId> crates;
    for (int i = 0; i < 3; ++i)
        crates.push_back(stall.add(("Crate of pears " + std::to_string(i + 1)).c_str(), "Loose goods", "pear-crate",
                                   {-0.95 + i * 0.95, 0.93, 0.45}, (i - 1) * 5.0));
    all.push_back(stall.done());
    const ObjectId plain = stall.done().id;

    Definition pears(2, "Stall of pears", "Market");
    pears.instance("Market stall", plain, Vec3(0.0));
    pears.add("Crate below", "Loose goods", "pear-crate", {-0.4, 0, -0.45}, 12);
    pears.add("Crate in front", "Loose goods", "pear-crate", {1.1, 0, 1.4}, -20);
    all.push_back(pears.done());
    Definition cloth(3, "Stall of cloth", "Market");
    cloth.instance("Market stall", plain, Vec3(0.0), 0, {cloth.item(awning, "awning-tide")}, {crates[0], crates[2]});
    cloth.add("Plank", "Loose goods", "plank", {0, 0.93, 0.35}, 90);
    all.push_back(cloth.done());
    Definition candles(4, "Stall of candles", "Market");
    candles.instance("Market stall", plain, Vec3(0.0), 0, {candles.item(awning, "awning-moss")}, {crates[1]});
    all.push_back(candles.done());

    Definition row(5, "Row of stalls", "Market");
    const ObjectId kinds[] = {pears.done().id, cloth.done().id, plain, candles.done().id, pears.done().id};
    const char* names[] = {"Pears", "Cloth", "Market stall", "Candles", "Pears 2"};
    for (int i = 0; i < 5; ++i) row.instance(names[i], kinds[i], {(i - 2) * 4.2, 0, 0}, (i % 2) * 4.0 - 2);
    all.push_back(row.done());

    Definition lantern(6, "Lantern with glow", "Towpath");
    const ObjectId post = lantern.add("Lantern post", "Lantern", "lantern-post", Vec3(0.0));
    lantern.add("Glow", "Lamp", "", {0, 2.28, 0}, 0, glow(), post);
    all.push_back(lantern.done());
    Definition mooring(7, "Mooring set", "Waterworks");
    mooring.add("Bollard", "Structure", "bollard", Vec3(0.0));
    mooring.add("Mooring ring", "Structure", "mooring-ring", {1.2, 0, 0.3});
    mooring.add("Coil of planks", "Loose goods", "plank", {-0.9, 0.04, -0.3}, 65);
    all.push_back(mooring.done());
    return all;
}

}  // namespace demo
