#include "model/item.h"

#include "model/facet_builder.h"
#include "model/field_values.h"

namespace model {
namespace {

const Fields& placeFields() {
    static const Fields fields = [] {
        FieldsOf<ItemPlace> f;
        f.text("name", "Name", &ItemPlace::name).always = true;
        f.vector("at", "Place", &ItemPlace::at, "m", -kLargestMetres, kLargestMetres).always = true;
        f.angle("turn", "Turn", &ItemPlace::turnDegrees, -360, 360).property.help = "About up, from its front";
        return f.done();
    }();
    return fields;
}

constexpr const char *kFolder = "folder", *kFolderInFiles = "category";

ValueMap renamed(const ValueMap& entry, const char* from, const char* to) {
    ValueMap other = entry;
    for (auto& [key, value] : other)
        if (key == from) key = to;
    return other;
}

}  // namespace

const Fields& itemFields() {
    static const Fields fields = [] {
        FieldsOf<ItemFacts> f;
        f.text("label", "Name", &ItemFacts::label).always = true;
        f.text(kFolder, "Folder", &ItemFacts::folder).always = true;
        f.last().help = "Where the Stock lists it; a new name makes one, and “/” one within another";
        f.text("kind", "Kind", &ItemFacts::kind).property.help =
            "What an object is that is placed of it; empty: of none";
        f.word("collision", "Collision", &ItemFacts::collision,
               {"mesh", "box", "hull", "sphere", "capsule", "part", "none"})
            .property.help = "What bumps into others. Part: a node of its file, which is not shown then";
        f.text("collisionPart", "Its node", &ItemFacts::collisionPart).shown =
            f.when([](const ItemFacts& i) { return i.collision == CollisionShape::Part; });
        f.last().help = "The node of its file that others bump into";
        f.word("unit", "File in", &ItemFacts::unit, {"metre", "centimetre", "millimetre", "inch", "foot"})
            .property.help = "What one unit of its file is";
        f.word("up", "File’s up", &ItemFacts::up, {"y", "z", "x"}).property.help = "Which axis of its file points up";
        f.vector("basePoint", "Base point", &ItemFacts::basePoint, "m", -kLargestMetres, kLargestMetres).property.help =
            "What lands on the surface; without one, the point below its origin";
        f.real("smallestSize", "Smallest size", &ItemFacts::smallestSize, "", 1e-3, 1e4).property.help =
            "Times its own; without one, as its kind says";
        f.real("largestSize", "Largest size", &ItemFacts::largestSize, "", 1e-3, 1e4).property.help =
            "Times its own; without one, as its kind says";
        f.real("cost", "Cost", &ItemFacts::cost, "", 0, 1e9).property.help =
            "Of the level’s budget; without one, as its kind says";
        f.flag("offered", "For use", &ItemFacts::offered).property.help =
            "Off: it stays where it is placed, and the Stock offers it no more";
        f.flag("favourite", "Favourite", &ItemFacts::favourite).property.help =
            "Listed under ★ for everybody in this project";
        f.parts("uses", "Points of use", &ItemFacts::uses, placeFields()).always = false;
        f.last().help = "Where one stands, and the way one faces, to use it";
        f.last().unit = "point";
        f.parts("berths", "Berths", &ItemFacts::berths, placeFields()).always = false;
        f.last().help = "Where other things go: one that is dropped near is put there and belongs to it";
        f.last().unit = "berth";
        return f.done();
    }();
    return fields;
}

base::Quat turnOf(const ItemPlace& place) {
    return glm::angleAxis(base::radians(place.turnDegrees), base::Vec3(0, 1, 0));
}

ItemFacts itemFactsFrom(const ValueMap& entry, std::vector<std::string>& problems) {
    ItemFacts facts;
    takeValues(itemFields(), &facts, renamed(entry, kFolderInFiles, kFolder), problems);
    if (facts.smallestSize && facts.largestSize && *facts.smallestSize > *facts.largestSize) {
        problems.emplace_back("smallestSize: is above largestSize.");
        facts.smallestSize.reset();
    }
    return facts;
}

void putFacts(ValueMap& entry, const ItemFacts& facts) {
    ValueMap named = renamed(entry, kFolderInFiles, kFolder);
    putValues(itemFields(), &facts, named);
    entry = renamed(named, kFolder, kFolderInFiles);
}

base::Affine correctionOf(const ItemFacts& facts) {
    constexpr double kMetres[] = {1, 0.01, 0.001, 0.0254, 0.3048};  // by FileUnit
    base::Affine map;
    const double metres = kMetres[static_cast<std::size_t>(facts.unit)];
    // Columns: where the file's own axes go. Each is a turn, so nothing is mirrored.
    if (facts.up == FileUp::Z) map.linear = base::Mat3(1, 0, 0, 0, 0, -1, 0, 1, 0);
    if (facts.up == FileUp::X) map.linear = base::Mat3(0, 1, 0, -1, 0, 0, 0, 0, 1);
    map.linear *= metres;
    return map;
}

}  // namespace model
