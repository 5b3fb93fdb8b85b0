#include "ops/table.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <unordered_set>

#include "base/text.h"
#include "base/tidy.h"
#include "base/units.h"
#include "model/facets/solid.h"
#include "ops/acts.h"
#include "ops/array.h"
#include "ops/facet_members.h"
#include "ops/names.h"
#include "ops/records.h"
#include "query/object_filter.h"

namespace ops {

using What = TableColumn::What;

namespace {

constexpr std::pair<const char*, const char*> kPoseNames[] = {
    {"x", "X"},          {"y", "Y"},          {"z", "Z"},          {"turnX", "Turn X"}, {"turnY", "Turn Y"},
    {"turnZ", "Turn Z"}, {"sizeX", "Size X"}, {"sizeY", "Size Y"}, {"sizeZ", "Size Z"}};

std::string capital(std::string text) {
    if (!text.empty()) text[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(text[0])));
    return text;
}

/// Numbers as cells have them: what rounding left behind a billionth is not shown.
std::string numberText(double value) {
    const double rounded = std::round(base::tidied(value) * 1e9) / 1e9;
    return base::shortest(std::abs(rounded) < 1e15 ? rounded + 0.0 : value);
}

base::Transform seenFrom(const TableSource& source, Slot slot) {
    base::Transform pose = base::toTransform(source.scene.world(slot));
    pose.scale = source.scene.local(slot).scale;
    const Slot from = source.scene.find(source.relativeTo);
    if (from == kNoSlot) return pose;
    const base::Transform frame = base::toTransform(source.scene.world(from));
    const base::Quat back = glm::inverse(frame.rotation);
    pose.position = back * (pose.position - frame.position);
    pose.rotation = glm::normalize(back * pose.rotation);
    return pose;
}

double poseNumber(const base::Transform& pose, PoseField field) {
    const double value = poseField(pose, field);
    const bool turn = field >= PoseField::TurnX && field <= PoseField::TurnZ;
    return turn && value <= -180 ? value + 360 : value;
}

const model::Property* propertyIn(const TableSource& source, Slot slot, const TableColumn& column) {
    return propertyOf(source.library, source.scene, slot, column.key);
}

/// "there", "away"; empty: as it is.
std::string actWord(const model::Scene& scene, Slot slot, ObjectId act) {
    const auto* in = scene.detail(slot) ? scene.facet<model::InActs>(slot) : nullptr;
    const model::ActPart* part = in != nullptr ? in->of(act) : nullptr;
    if (part == nullptr || part->is == model::ActPart::Is::AsItIs) return {};
    return part->is == model::ActPart::Is::There ? "there" : "away";
}

std::optional<bool> truth(std::string_view text) {
    for (std::string_view yes : {"yes", "true", "1"})
        if (base::sameFolded(text, yes)) return true;
    for (std::string_view no : {"no", "false", "0", ""})
        if (base::sameFolded(text, no)) return false;
    return std::nullopt;
}

}  // namespace

std::vector<TableColumn> tableColumns(const model::Library& library, const model::Scene& scene) {
    std::vector<TableColumn> all;
    auto add = [&](What what, const char* key, const char* label) -> TableColumn& {
        TableColumn column;
        column.what = what;
        column.key = key;
        column.label = label;
        return all.emplace_back(std::move(column));
    };
    add(What::Name, "name", "Name");
    add(What::Kind, "kind", "Kind");
    add(What::Item, "item", "Item");
    add(What::Parent, "parent", "Parent");
    for (std::size_t i = 0; i < std::size(kPoseNames); ++i) {
        TableColumn& column = add(What::Pose, kPoseNames[i].first, kPoseNames[i].second);
        column.field = static_cast<PoseField>(i);
        column.unit = i < 3 ? "m" : i < 6 ? "°" : "";
    }
    for (const auto& [bit, name] : model::flags::kNames) {
        TableColumn& column = add(What::Flag, std::string(name).c_str(), "");
        column.flag = bit;
        column.label = capital(column.key);
    }
    for (const ObjectId act : actsOf(scene)) {
        const std::string name(scene.nameText(scene.find(act)));
        add(What::Act, ("act:" + name).c_str(), ("In " + name).c_str()).act = act;
    }
    add(What::Children, "children", "Children");
    add(What::Id, "id", "Id");
    std::unordered_set<base::Name> kinds;
    std::unordered_set<const model::FacetType*> facets;
    for (Slot s = 0; s < scene.slotEnd(); ++s) {
        if (!scene.alive(s)) continue;
        kinds.insert(scene.kind(s));
        if (scene.detail(s))
            for (const model::Facets::Entry& facet : scene.detail(s)->facets) facets.insert(facet.type);
    }
    std::set<std::string, std::less<>> present, known;
    for (base::Name name : kinds) present.emplace(scene.names().text(name));
    for (const model::Kind& kind : library.kinds()) {
        if (!present.contains(kind.name)) continue;
        for (const model::Property& p : kind.properties) {
            if (p.hidden || !known.insert(p.name).second) continue;
            TableColumn& column = add(What::Property, p.name.c_str(), p.label.c_str());
            column.unit = p.type == model::PropertyType::Angle ? "°" : p.unit;
        }
    }
    for (const std::string& path : facetMemberPaths()) {
        const FacetMember member = facetMember(path);
        const bool isThere = facets.contains(member.type) ||
                             std::any_of(kinds.begin(), kinds.end(),
                                         [&](base::Name kind) { return mayBegin(member, library.kind(kind)); });
        if (!isThere) continue;
        const model::Property& p = propertyOf(member);
        const bool isWhole = member.type->fields.members.size() == 1;
        const std::string label = isWhole ? p.label : member.type->label + ": " + base::lowered(p.label);
        add(What::Property, path.c_str(), label.c_str()).unit = p.unit;
    }
    return all;
}

std::string cellText(const TableSource& source, Slot slot, const TableColumn& column) {
    const model::Scene& scene = source.scene;
    switch (column.what) {
        case What::Id: return base::toText(scene.id(slot));
        case What::Name: return std::string(scene.nameText(slot));
        case What::Kind: return std::string(scene.kindText(slot));
        case What::Item: return scene.facet<model::Solid>(slot) ? "" : std::string(scene.itemText(slot));
        case What::Parent: return scene.parent(slot) == kNoSlot ? "" : std::string(scene.nameText(scene.parent(slot)));
        case What::Flag: return (scene.flagsOf(slot) & column.flag) != 0 ? "yes" : "no";
        case What::Act: return actWord(scene, slot, column.act);
        case What::Pose:
        case What::Children: return numberText(*cellNumber(source, slot, column));
        case What::Property: break;
    }
    const model::Property* property = propertyIn(source, slot, column);
    if (property == nullptr) return {};
    model::Value room;
    return valueText(source.library, *property, *propertyValue(scene, slot, *property, room));
}

std::optional<double> cellNumber(const TableSource& source, Slot slot, const TableColumn& column) {
    const model::Scene& scene = source.scene;
    if (column.what == What::Pose) {
        if (column.field >= PoseField::SizeX) return poseField(scene.local(slot), column.field);
        if (column.field <= PoseField::PositionZ && !source.relativeTo)
            return scene.world(slot).translation[static_cast<int>(column.field)];
        return poseNumber(seenFrom(source, slot), column.field);
    }
    if (column.what == What::Children) {
        double count = 0;
        for (Slot s = scene.firstChild(slot); s != kNoSlot; s = scene.nextSibling(s)) ++count;
        return count;
    }
    if (column.what != What::Property) return std::nullopt;
    const model::Property* property = propertyIn(source, slot, column);
    if (property == nullptr) return std::nullopt;
    model::Value room;
    double number = 0;
    const double* value = model::asNumber(*propertyValue(scene, slot, *property, room), number);
    return value != nullptr ? std::optional(*value) : std::nullopt;
}

namespace {

/// What becomes of one object while its cells are taken.
struct Row {
    std::optional<std::string> name, kind, item;
    std::optional<base::Transform> seen;  ///< as the table sees it
    bool turned = false, moved = false, sized = false;
    std::optional<std::uint8_t> flags;
    std::optional<model::ValueMap> properties;
    std::map<std::string, model::Value> members;  ///< of facets, by their paths
    std::map<ObjectId, model::ActPart::Is> acts;
};

class Planner {
  public:
    /// The cells may come in any order: of an object whose kind the table says, another item does not change that.
    Planner(const TableSource& source, const std::vector<CellInput>& cells) : source_(source), scene_(source.scene) {
        for (const CellInput& cell : cells)
            if (cell.column.what == What::Kind) saidKinds_.insert(cell.id);
    }

    /// Errors: BadInput, Refused, NotFound, for people.
    Status take(Slot slot, const CellInput& cell) {
        Row& row = rows_[slot];
        const bool isProtect = cell.column.flag == model::flags::kProtected && cell.column.what == What::Flag;
        if (scene_.protectedInTree(slot) && !isProtect)
            return fail(ErrorCode::Refused, fmt::format("“{}” is protected.", scene_.nameText(slot)));
        switch (cell.column.what) {
            case What::Name: return takeName(row, cell.text);
            case What::Kind: return takeKind(row, cell.text);
            case What::Item: return takeItem(row, slot, cell.text);
            case What::Pose: {
                const ObjectId id = scene_.id(slot);
                if (Status free = refuseMoving(scene_, {&id, 1}, "moved"); !free) return free;
                return takePose(row, slot, cell);
            }
            case What::Flag: return takeFlag(row, slot, cell);
            case What::Act: return takeAct(row, slot, cell);
            case What::Property: return takeProperty(row, slot, cell);
            default: return fail(ErrorCode::Refused, fmt::format("{} cannot be changed here.", cell.column.label));
        }
    }
    void finish(CellPlan& plan) const {
        for (const auto& [slot, row] : rows_) {
            const ObjectId id = scene_.id(slot);
            CellPlan::Written& w = plan.written;
            if (row.name) w.named.push_back(id), w.names.push_back(*row.name);
            if (row.kind) w.kindred.push_back(id), w.kinds.push_back(*row.kind);
            if (row.item) w.replaced.push_back(id), w.items.push_back(*row.item);
            if (row.seen) w.posed.push_back(id), w.poses.push_back(localOf(slot, row));
            if (row.flags) w.flagged.push_back(id), w.flags.push_back(*row.flags);
            for (const auto& [act, is] : row.acts) w.acts[{act, is}].push_back(id);
            for (const auto& [path, value] : row.members) {
                auto& [ids, values] = w.members[path];
                ids.push_back(id);
                values.push_back(value);
            }
            if (row.properties) {
                model::Detail detail = scene_.detail(slot) ? *scene_.detail(slot) : model::Detail{};
                detail.properties = *row.properties;
                w.detailed.push_back(id);
                w.details.push_back(detail.empty() ? nullptr : std::make_shared<const model::Detail>(detail));
            }
        }
    }

  private:
    static Status takeName(Row& row, const std::string& text) {
        auto name = usableName(text);
        if (!name) return tl::unexpected(name.error());
        row.name = *name;
        return {};
    }
    Status takeKind(Row& row, const std::string& text) const {
        const auto& kinds = source_.library.kinds();
        const auto place = std::find_if(kinds.begin(), kinds.end(),
                                        [&](const model::Kind& k) { return base::sameFolded(k.name, text); });
        if (!text.empty() && place == kinds.end())
            return fail(ErrorCode::NotFound, fmt::format("There is no kind “{}”.", text));
        row.kind = text.empty() ? std::string() : place->name;
        return {};
    }
    /// By its name, or by what people call it. With another item goes the item's kind, unless the table says one.
    Status takeItem(Row& row, Slot slot, const std::string& text) const {
        if (scene_.isInstance(slot) || (scene_.facet<model::Solid>(slot)))
            return fail(ErrorCode::Refused, "What an instance or a solid shows is no item.");
        if (text.empty()) return row.item = "", Status{};
        const auto& items = source_.library.items();
        const auto usable = [](const model::Item& item) { return !item.isSolid && !item.prefab; };
        auto place =
            std::find_if(items.begin(), items.end(), [&](const model::Item& i) { return usable(i) && i.name == text; });
        if (place == items.end())
            place = std::find_if(items.begin(), items.end(),
                                 [&](const model::Item& i) { return usable(i) && base::sameFolded(i.label, text); });
        if (place == items.end()) return fail(ErrorCode::NotFound, fmt::format("There is no item “{}”.", text));
        row.item = place->name;
        if (!place->kind.empty() && !saidKinds_.contains(scene_.id(slot))) row.kind = place->kind;
        return {};
    }
    Status takePose(Row& row, Slot slot, const CellInput& cell) {
        const PoseField field = cell.column.field;
        const base::Transform pose = row.seen ? *row.seen : seenFrom(source_, slot);
        const auto quantity = field <= PoseField::PositionZ ? base::Quantity::Length
                              : field <= PoseField::TurnZ   ? base::Quantity::Angle
                                                            : base::Quantity::Factor;
        auto value = base::evaluateQuantity(cell.text, quantity, poseNumber(pose, field));
        if (!value) return tl::unexpected(value.error());
        if (std::abs(*value) > 1e7) return fail(ErrorCode::BadInput, "That is beyond 10,000 km.");
        const auto sizes = sizesOf(source_.library, scene_, slot);
        if (field >= PoseField::SizeX && sizes && !sizes->allows(*value))
            return fail(ErrorCode::Refused, sizesText(source_.library, scene_, slot) + ".");
        auto changed = withPoseField(pose, field, *value);
        if (!changed) return tl::unexpected(changed.error());
        if (scene_.parent(slot) != kNoSlot && !base::inverse(scene_.world(scene_.parent(slot))))
            return fail(ErrorCode::Refused, "What it lies in has no usable size.");
        row.seen = *changed;
        (field <= PoseField::PositionZ ? row.moved : field <= PoseField::TurnZ ? row.turned : row.sized) = true;
        return {};
    }
    Status takeFlag(Row& row, Slot slot, const CellInput& cell) {
        const auto on = truth(cell.text);
        if (!on) return fail(ErrorCode::BadInput, fmt::format("“{}”: yes or no was expected.", cell.text));
        const std::uint8_t flags = row.flags.value_or(scene_.flagsOf(slot));
        row.flags = static_cast<std::uint8_t>(*on ? flags | cell.column.flag : flags & ~cell.column.flag);
        return {};
    }
    Status takeAct(Row& row, Slot slot, const CellInput& cell) const {
        if (scene_.facet<model::Act>(slot) != nullptr)
            return fail(ErrorCode::Refused, fmt::format("“{}” is an act itself.", scene_.nameText(slot)));
        const bool there = base::sameFolded(cell.text, "there"), away = base::sameFolded(cell.text, "away");
        if (!there && !away && !cell.text.empty())
            return fail(ErrorCode::BadInput, fmt::format("“{}”: there, away or nothing was expected.", cell.text));
        using Is = model::ActPart::Is;
        row.acts[cell.column.act] = there ? Is::There : away ? Is::Away : Is::AsItIs;
        return {};
    }
    Status takeProperty(Row& row, Slot slot, const CellInput& cell) {
        const model::Property* property = propertyIn(source_, slot, cell.column);
        if (property == nullptr)
            return fail(ErrorCode::NotFound, fmt::format("The kind {} has no such property.", scene_.kindText(slot)));
        model::Value room;
        auto value = typedValue(source_.library, *property, cell.text, *propertyValue(scene_, slot, *property, room));
        if (value) value = checkedValue(scene_, *property, *value);
        if (!value) return tl::unexpected(value.error());
        if (facetMember(property->name) && property == &propertyOf(facetMember(property->name)))
            return row.members[property->name] = *value, Status{};
        if (!row.properties) row.properties = scene_.detail(slot) ? scene_.detail(slot)->properties : model::ValueMap{};
        if (*value == model::defaultOf(*property))
            model::eraseValue(*row.properties, property->name);
        else
            model::setValue(*row.properties, property->name, std::move(*value));
        return {};
    }
    /// What of the pose was not changed stays as it is to the last bit.
    base::Transform localOf(Slot slot, const Row& row) const {
        base::Transform local = scene_.local(slot);
        base::Transform world = *row.seen;
        if (const Slot from = scene_.find(source_.relativeTo); from != kNoSlot) {
            const base::Transform frame = base::toTransform(scene_.world(from));
            world.position = frame.position + frame.rotation * world.position;
            world.rotation = glm::normalize(frame.rotation * world.rotation);
        }
        const Slot parent = scene_.parent(slot);
        const base::Affine around = parent == kNoSlot ? base::Affine{} : scene_.world(parent);
        const base::Affine back = base::inverse(around).value_or(base::Affine{});
        if (row.moved) local.position = back.point(world.position);
        if (row.turned)
            local.rotation = glm::normalize(glm::inverse(base::toTransform(around).rotation) * world.rotation);
        if (row.sized) local.scale = world.scale;
        return local;
    }

    const TableSource& source_;
    const model::Scene& scene_;
    std::map<Slot, Row> rows_;
    std::unordered_set<ObjectId> saidKinds_;
};

/// Does the text say what is there already?
bool isSame(const TableSource& source, Slot slot, const CellInput& cell, const std::string& present) {
    if (cell.text == present) return true;
    if (cell.column.what == What::Flag) return truth(cell.text) == truth(present);
    char* end = nullptr;
    const double typed = std::strtod(cell.text.c_str(), &end);
    if (cell.text.empty() || *end != '\0' || cell.text[0] == '+') return false;
    const auto now = cellNumber(source, slot, cell.column);
    return now && std::abs(*now - typed) <= 1e-9 * std::max(1.0, std::abs(typed));
}

}  // namespace

CellPlan planCells(const TableSource& source, const std::vector<CellInput>& cells) {
    CellPlan plan;
    Planner planner(source, cells);
    for (const CellInput& cell : cells) {
        const Slot slot = source.scene.find(cell.id);
        if (slot == kNoSlot) {
            plan.problems.push_back({cell.row, cell.column.key, "This object is gone."});
            continue;
        }
        const std::string present = cellText(source, slot, cell.column);
        if (isSame(source, slot, cell, present)) continue;
        // A cell left empty where there is no such property says nothing.
        if (cell.text.empty() && cell.column.what == What::Property && propertyIn(source, slot, cell.column) == nullptr)
            continue;
        if (Status taken = planner.take(slot, cell); !taken)
            plan.problems.push_back({cell.row, cell.column.key, taken.error().message});
        else
            plan.changes.push_back({cell.id, cell.column.key, present, cell.text});
    }
    planner.finish(plan);
    return plan;
}

CellPlan planRows(const TableSource& source, const std::vector<std::vector<std::string>>& rows) {
    CellPlan none;
    if (rows.empty()) {
        none.problems.push_back({1, "", "The table is empty; a head line was expected."});
        return none;
    }
    const std::vector<TableColumn> known = tableColumns(source.library, source.scene);
    std::vector<const TableColumn*> columns;
    std::size_t idAt = rows[0].size(), nameAt = rows[0].size();
    for (std::size_t c = 0; c < rows[0].size(); ++c) {
        const auto place = std::find_if(known.begin(), known.end(),
                                        [&](const TableColumn& column) { return column.key == rows[0][c]; });
        columns.push_back(place == known.end() ? nullptr : &*place);
        if (rows[0][c] == "id") idAt = c;
        if (rows[0][c] == "name") nameAt = c;
        if (std::find(rows[0].begin(), rows[0].begin() + static_cast<std::ptrdiff_t>(c), rows[0][c]) !=
            rows[0].begin() + static_cast<std::ptrdiff_t>(c))
            none.problems.push_back({1, rows[0][c], fmt::format("Two columns are called “{}”.", rows[0][c])});
        if (place == known.end())
            none.problems.push_back({1, rows[0][c], fmt::format("“{}” is no column of this table.", rows[0][c])});
    }
    if (idAt == rows[0].size() && nameAt == rows[0].size())
        none.problems.push_back(
            {1, "", "Neither “id” nor “name” is among the columns; one is needed to know the objects."});
    if (!none.problems.empty()) return none;
    std::multimap<std::string, ObjectId, std::less<>> byName;
    if (idAt == rows[0].size())
        for (Slot s = 0; s < source.scene.slotEnd(); ++s)
            if (source.scene.alive(s)) byName.emplace(source.scene.nameText(s), source.scene.id(s));
    std::vector<CellInput> cells;
    std::map<std::size_t, std::size_t> passedOver;  // by column: cells that say something else
    for (std::size_t r = 1; r < rows.size(); ++r) {
        auto problem = [&](const char* column, std::string message) {
            none.problems.push_back({r + 1, column, std::move(message)});
        };
        if (rows[r].size() != rows[0].size()) {
            problem("", fmt::format("Has {} cells; the head has {}.", rows[r].size(), rows[0].size()));
            continue;
        }
        ObjectId id;
        if (idAt < rows[r].size()) {
            const auto parsed = base::parseObjectId(rows[r][idAt]);
            if (parsed && source.scene.find(*parsed) != kNoSlot)
                id = *parsed;
            else
                problem("id", fmt::format("There is no object {} in this scene.", rows[r][idAt]));
        } else {
            const std::size_t count = byName.count(rows[r][nameAt]);
            if (count == 1)
                id = byName.find(rows[r][nameAt])->second;
            else
                problem("name", count == 0 ? fmt::format("No object is called “{}”.", rows[r][nameAt])
                                           : fmt::format("{} objects are called “{}”.", count, rows[r][nameAt]));
        }
        if (!id) continue;
        for (std::size_t c = 0; c < columns.size(); ++c)
            if (!columns[c]->editable()) {
                if (c != idAt && rows[r][c] != cellText(source, source.scene.find(id), *columns[c])) ++passedOver[c];
            } else if (idAt < rows[r].size() || c != nameAt) {
                cells.push_back({id, *columns[c], rows[r][c], r + 1});
            }
    }
    CellPlan plan = planCells(source, cells);
    for (const auto& [c, count] : passedOver)
        plan.remarks.push_back(
            fmt::format("{} cannot be changed by a table; what {} of its cells say otherwise was passed over.",
                        columns[c]->label, count));
    plan.problems.insert(plan.problems.begin(), none.problems.begin(), none.problems.end());
    std::stable_sort(plan.problems.begin(), plan.problems.end(),
                     [](const CellProblem& a, const CellProblem& b) { return a.row < b.row; });
    return plan;
}

Status apply(edit::Draft& draft, const CellPlan& plan) {
    if (!draft.state()) return draft.state();
    if (!plan.problems.empty()) {
        const CellProblem& first = plan.problems.front();
        return fail(ErrorCode::BadInput, fmt::format("Row {}, {}: {}", first.row, first.column, first.message));
    }
    const CellPlan::Written& w = plan.written;
    std::vector<base::Name> names;
    for (const std::string& name : w.names) names.push_back(draft.session().intern(name));
    if (!names.empty())
        if (Status done = draft.setLabels(model::LabelField::Name, w.named, names); !done) return done;
    for (const auto& [field, ids, texts] : {std::tuple(model::LabelField::Item, &w.replaced, &w.items),
                                            {model::LabelField::Kind, &w.kindred, &w.kinds}}) {
        std::vector<base::Name> labels;
        for (const std::string& text : *texts) labels.push_back(draft.session().intern(text));
        if (labels.empty()) continue;
        if (Status done = draft.setLabels(field, *ids, labels); !done) return done;
    }
    if (!w.posed.empty())
        if (Status done = draft.setTransforms(w.posed, w.poses); !done) return done;
    if (!w.flagged.empty())
        if (Status done = draft.setFlags(w.flagged, w.flags); !done) return done;
    if (!w.detailed.empty())
        if (Status done = draft.setDetails(w.detailed, w.details); !done) return done;
    if (Status laid = followRoutes(draft, w.detailed); !laid) return laid;
    for (const auto& [act, ids] : w.acts)
        if (Status done = setInAct(draft, ids, act.first, act.second); !done) return done;
    for (const auto& [path, column] : w.members)
        if (Status done = setMembers(draft, column.first, facetMember(path), column.second); !done) return done;
    return {};
}

std::vector<std::string> series(const std::vector<std::string>& first, std::size_t count) {
    std::vector<std::string> all = first;
    if (first.empty()) return all;
    auto number = [](const std::string& text) -> std::optional<double> {
        char* end = nullptr;
        const double value = std::strtod(text.c_str(), &end);
        return !text.empty() && *end == '\0' ? std::optional(value) : std::nullopt;
    };
    const auto from = number(first[0]), next = first.size() > 1 ? number(first[1]) : std::optional<double>();
    const base::NumberedName named = base::splitNumber(first.back());
    for (std::size_t i = first.size(); i < count; ++i) {
        if (from && (next || first.size() == 1))
            all.push_back(numberText(*from + (next ? *next - *from : 1.0) * static_cast<double>(i)));
        else if (named.number >= 0)
            all.push_back(named.stem + std::to_string(named.number + static_cast<int>(i - first.size() + 1)));
        else
            all.push_back(first[i % first.size()]);
    }
    all.resize(count);
    return all;
}

}  // namespace ops
