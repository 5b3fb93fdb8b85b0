#include "hand/catalogue.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "base/text.h"
#include "hand/names.h"
#include "ops/records.h"

namespace hand {
namespace {

using Table = std::vector<std::vector<std::string>>;

std::string yes(bool is) {
    return is ? "yes" : "no";
}

std::string number(double value) {
    return base::shortest(std::round(value * 1e4) / 1e4);
}

Table items(const model::Library& library, const base::NameTable& names) {
    Table table = {{"item", "label", "folder", "kind", "triangles", "materials", "width", "height", "depth", "cost",
                    "smallest", "largest", "slots", "offered", "problem"}};
    library.eachItem([&](base::Name key, const model::Item& item) {
        if (item.isSolid) return;
        const model::Kind* kind = library.kindNamed(item.kind);
        const model::SizeLimits limits = model::sizesOf(kind, &item);
        const base::Vec3 size = item.bounds.size();
        std::string slots;
        for (const std::string& slot : item.slots) slots += (slots.empty() ? "" : ", ") + slot;
        table.push_back({std::string(names.text(key)), item.label, item.folder, item.kind,
                         std::to_string(item.triangles), std::to_string(item.materials), number(size.x), number(size.y),
                         number(size.z), number(model::costOf(kind, &item)), number(limits.low), number(limits.high),
                         slots, yes(item.offered), item.problem});
    });
    return table;
}

Table kinds(const model::Library& library) {
    Table table = {{"kind", "category", "help", "cost", "moving cost", "smallest", "largest", "tints", "mirrors",
                    "takes images", "moved", "outfits", "properties"}};
    for (const model::Kind& kind : library.kinds()) {
        std::string properties;
        for (const model::Property& property : kind.properties)
            properties +=
                fmt::format("{}{} ({})", properties.empty() ? "" : ", ", property.name, model::typeName(property.type));
        table.push_back({kind.name, kind.category, kind.help, number(kind.cost), number(kind.movingCost),
                         number(kind.smallestSize), number(kind.largestSize), yes(kind.tints), yes(kind.mirrors),
                         yes(kind.takesImages), yes(kind.isMoved), std::to_string(kind.outfits.size()), properties});
    }
    return table;
}

Table outfits(const model::Library& library) {
    Table table = {{"kind", "outfit", "item", "surfaces", "values"}};
    for (const model::Kind& kind : library.kinds())
        for (const model::Outfit& outfit : kind.outfits) {
            std::string surfaces, values;
            for (const auto& [slot, surface] : outfit.surfaces)
                surfaces += fmt::format("{}{}: {}", surfaces.empty() ? "" : ", ", slot, surface);
            for (const auto& [name, value] : outfit.values)
                if (const model::Property* property = kind.property(name))
                    values += fmt::format("{}{}: {}", values.empty() ? "" : ", ", name,
                                          ops::valueText(library, *property, value));
            table.push_back({kind.name, outfit.name, outfit.item, surfaces, values});
        }
    return table;
}

/// One table for all types: a column for every property that any of them has.
Table records(const model::Library& library) {
    std::vector<std::string> columns;
    for (const auto& [name, type] : library.recordTypes())
        for (const model::Property& property : type.properties)
            if (std::ranges::find(columns, property.name) == columns.end()) columns.push_back(property.name);
    Table table = {{"type", "id", "name"}};
    table.front().insert(table.front().end(), columns.begin(), columns.end());
    for (const auto& [name, type] : library.recordTypes())
        for (const auto& [id, record] : type.records) {
            auto& row = table.emplace_back(std::vector<std::string>{name, base::toText(id), record.name});
            for (const std::string& column : columns) {
                const auto property = std::ranges::find(type.properties, column, &model::Property::name);
                model::Value room;
                row.push_back(property == type.properties.end()
                                  ? ""
                                  : ops::valueText(library, *property, ops::recordValue(record, *property, room)));
            }
        }
    return table;
}

}  // namespace

Table catalogueOf(const model::Library& library, const base::NameTable& names, Sort sort) {
    Table table = sort == Sort::Items     ? items(library, names)
                  : sort == Sort::Kinds   ? kinds(library)
                  : sort == Sort::Outfits ? outfits(library)
                                          : records(library);
    std::sort(table.begin() + 1, table.end());
    return table;
}

}  // namespace hand
