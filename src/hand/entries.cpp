#include "hand/entries.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <set>
#include <unordered_map>

#include "base/text.h"
#include "base/units.h"
#include "hand/catalogue.h"
#include "hand/names.h"
#include "model/facets/act.h"
#include "model/facets/cues.h"
#include "model/facets/solid.h"
#include "ops/acts.h"
#include "ops/facet_members.h"
#include "query/object_filter.h"

namespace hand {
namespace {

using base::Transform;
using base::Vec3;

double rounded(double value, int decimals) {
    const double by = std::pow(10.0, decimals);
    const double r = std::round(value * by) / by;
    return std::isfinite(r) ? (r == 0 ? 0.0 : r) : value;
}

/// Numbers within lists and maps too; what is whole then is said so.
void round(Value& value, int decimals) {
    if (auto* number = std::get_if<double>(&value.data)) {
        *number = rounded(*number, decimals);
        constexpr double kExact = 9007199254740992.0;
        if (const double whole = std::trunc(*number); whole == *number && std::abs(whole) < kExact)
            value = Value{static_cast<std::int64_t>(whole)};
    }
    if (auto* list = std::get_if<ValueList>(&value.data))
        for (Value& one : *list) round(one, decimals);
    if (auto* map = std::get_if<ValueMap>(&value.data))
        for (auto& [key, one] : *map) round(one, decimals);
}

Value listOf(const Vec3& v) {
    return {ValueList{{v.x}, {v.y}, {v.z}}};
}

bool sameNumber(const Value& a, const Value& b) {
    const auto *listA = std::get_if<ValueList>(&a.data), *listB = std::get_if<ValueList>(&b.data);
    if (listA != nullptr && listB != nullptr) return std::ranges::equal(*listA, *listB, sameNumber);
    double roomA = 0, roomB = 0;
    const double *x = model::asNumber(a, roomA), *y = model::asNumber(b, roomB);
    return x != nullptr && y != nullptr ? *x == *y : a == b;
}

bool isNothing(const Value& value) {
    const auto* text = std::get_if<std::string>(&value.data);
    const auto* list = std::get_if<ValueList>(&value.data);
    const auto* map = std::get_if<ValueMap>(&value.data);
    return (text != nullptr && text->empty()) || (list != nullptr && list->empty()) || (map != nullptr && map->empty());
}

std::uint8_t flagOf(Is is) {
    switch (is) {
        case Is::Hidden: return model::flags::kHidden;
        case Is::Protected: return model::flags::kProtected;
        case Is::Unseen: return model::flags::kUnseen;
        case Is::Untouched: return model::flags::kUntouched;
        default: return model::flags::kAbsent;
    }
}

class Gatherer {
  public:
    Gatherer(const Source& source, const Recipe& recipe)
        : source_(source), scene_(source.scene), recipe_(recipe), filter_(recipe.objects) {
        for (const Field& field : recipe.fields) {
            is_.push_back(sourceOf(field));
            posed_ = posed_ || isPose(is_.back());
            members_.push_back(is_.back() == Is::Member ? ops::facetMember(field.is) : ops::FacetMember{});
        }
        for (std::size_t i = 0; i < is_.size(); ++i) posed_ = posed_ || is_[i] == Is::Formula;
    }

    Gathered run() {
        if (recipe_.isCatalogue()) return catalogue();
        auto frame = frameOf(scene_, recipe_);
        if (!frame) {
            out_.remarks.push_back(frame.error().message + " Nothing is written.");
            return std::move(out_);
        }
        frame_ = *frame;
        for (const Slot s : scene_.subtree(model::kNoSlot)) take(s);
        if (sheared_ > 0)
            out_.remarks.push_back(fmt::format("Sheared things stand as near as a pose can: {}.", sheared_));
        for (const auto& [what, n] : missing_)
            out_.remarks.push_back(
                fmt::format("“{}” cannot be worked out for {} of them, and is left out there.", what, n));
        tellUnnamed();
        return std::move(out_);
    }

  private:
    /// In a line for each table: names that it should have, when it has any.
    void tellUnnamed() {
        for (const auto& [table, names] : out_.unnamed) {
            constexpr std::size_t kMostNamed = 5;
            std::string some;
            std::size_t told = 0;
            for (const auto& [name, n] : names)
                if (told++ < kMostNamed) some += fmt::format("{}“{}”", some.empty() ? "" : ", ", name);
            out_.remarks.push_back(
                fmt::format("The table “{}” has no other name for {}{}: they keep their own.", table, some,
                            names.size() > kMostNamed ? fmt::format(" and {} more", names.size() - kMostNamed) : ""));
        }
    }
    /// An entry for each item, kind, outfit or record: fields are columns of the catalogue.
    Gathered catalogue() {
        const auto sort = static_cast<Sort>(static_cast<int>(recipe_.entries) - static_cast<int>(Recipe::Per::Item));
        const auto table = catalogueOf(source_.library, scene_.names(), sort);
        for (std::size_t r = 1; r < table.size(); ++r) {
            Entry entry;
            for (std::size_t i = 0; i < recipe_.fields.size(); ++i) {
                const auto column = std::ranges::find(table[0], recipe_.fields[i].is);
                std::optional<Value> value = recipe_.fields[i].value;
                if (recipe_.fields[i].is == "number") value = numberOf(r - 1);
                if (!value && column != table[0].end())
                    value = cell(table[r][static_cast<std::size_t>(column - table[0].begin())]);
                entry.values.push_back(finished(i, std::move(value)));
            }
            out_.entries.push_back(std::move(entry));
        }
        tellUnnamed();
        return std::move(out_);
    }
    /// A number where one stands; yes and no are what they say.
    static Value cell(const std::string& text) {
        if (text == "yes" || text == "no") return {text == "yes"};
        double number = 0;
        const auto read = std::from_chars(text.data(), text.data() + text.size(), number);
        const bool is = !text.empty() && read.ec == std::errc{} && read.ptr == text.data() + text.size();
        return is ? Value{number} : Value{text};
    }
    void take(Slot s) {
        const bool wanted = recipe_.entries == Recipe::Per::Object  ? !scene_.facet<model::Act>(s)
                            : recipe_.entries == Recipe::Per::Group ? (scene_.flagsOf(s) & model::flags::kWhole) != 0
                            : recipe_.entries == Recipe::Per::Act   ? scene_.facet<model::Act>(s) != nullptr
                                                                    : scene_.facet<model::Cues>(s) != nullptr;
        if (!wanted) return;
        if (!filter_.empty() && !filter_.fits(scene_, s)) {
            ++out_.passedOver;
            return;
        }
        if (recipe_.entries == Recipe::Per::Cue) {
            for (const model::Cue& cue : scene_.facet<model::Cues>(s)->all) {
                cue_ = &cue;
                add(s, recipe_.files == Recipe::Files::Cue ? cue.name : std::string());
            }
            return;
        }
        for (const std::string& part : partsOf(s)) add(s, part);
    }
    /// The files it goes to.
    std::vector<std::string> partsOf(Slot s) const {
        if (recipe_.files == Recipe::Files::Group) {
            const Slot group = outermostGroup(scene_, s);
            return {group == model::kNoSlot ? "others" : std::string(scene_.nameText(group))};
        }
        if (recipe_.files != Recipe::Files::Act) return {""};
        std::vector<std::string> parts;
        for (Slot up = s; up != model::kNoSlot && parts.empty(); up = scene_.parent(up))
            if (const auto* in = scene_.facet<model::InActs>(up))
                for (const model::ActPart& part : in->all)
                    if (const Slot act = scene_.find(part.act);
                        act != model::kNoSlot && part.is == model::ActPart::Is::There)
                        parts.emplace_back(scene_.nameText(act));
        return parts.empty() ? std::vector<std::string>{"always"} : parts;
    }
    void add(Slot s, const std::string& part) {
        Entry entry;
        entry.id = scene_.id(s);
        entry.part = part;
        for (Slot up = scene_.parent(s); up != model::kNoSlot && entry.below < 0; up = scene_.parent(up))
            if (const auto held = entryOf_.find(up); held != entryOf_.end()) entry.below = held->second;
        if (posed_) {
            bool sheared = false;
            theirs_ = toTheirs(recipe_.convention, frame_.poseOf(scene_, s, sheared));
            sheared_ += sheared ? 1 : 0;
        }
        entry.values.reserve(recipe_.fields.size());
        for (std::size_t i = 0; i < recipe_.fields.size(); ++i) entry.values.push_back(fieldOf(s, i));
        entryOf_[s] = static_cast<std::ptrdiff_t>(out_.entries.size());
        out_.entries.push_back(std::move(entry));
    }

    std::optional<Value> fieldOf(Slot s, std::size_t i) {
        const Field& field = recipe_.fields[i];
        return finished(i, field.value ? field.value : raw(s, i));
    }
    /// Renamed, rounded, left out, as the field says.
    std::optional<Value> finished(std::size_t i, std::optional<Value> value) {
        const Field& field = recipe_.fields[i];
        if (!value || (isNothing(*value) && !field.always)) value = field.otherwise;
        if (!value) return std::nullopt;
        if (!field.names.empty()) rename(field, *value);
        if (!field.value) round(*value, decimalsOf(i));
        if (is_[i] == Is::Position || (is_[i] >= Is::X && is_[i] <= Is::Z)) noteRounding(i, *value);
        if (field.leaveOut && sameNumber(*field.leaveOut, *value)) return std::nullopt;
        if (field.asText) value = Value{textOf(*value)};
        return value;
    }
    int decimalsOf(std::size_t i) const {
        const Field& field = recipe_.fields[i];
        if (field.decimals) return *field.decimals;
        if (is_[i] == Is::Rotation || is_[i] == Is::Matrix) return std::max(6, recipe_.decimals);
        return is_[i] >= Is::TurnX && is_[i] <= Is::Turn ? recipe_.angleDecimals : recipe_.decimals;
    }
    void noteRounding(std::size_t i, const Value& value) {
        const auto off = [&](const Value& one, int axis) {
            double room = 0;
            if (const double* number = model::asNumber(one, room))
                out_.farthestRounded = std::max(out_.farthestRounded,
                                                std::abs(*number - theirs_.position[axis]) * recipe_.convention.metres);
        };
        if (const auto* list = std::get_if<ValueList>(&value.data)) {
            for (std::size_t k = 0; k < list->size() && k < 3; ++k) off((*list)[k], static_cast<int>(k));
        } else if (is_[i] != Is::Position) {
            off(value, static_cast<int>(is_[i]) - static_cast<int>(Is::X));
        }
    }
    void rename(const Field& field, Value& value) {
        auto* text = std::get_if<std::string>(&value.data);
        const auto table = recipe_.names.find(field.names);
        if (text == nullptr || text->empty() || table == recipe_.names.end() || table->second.empty()) return;
        if (const auto other = table->second.find(*text); other != table->second.end())
            *text = other->second;
        else
            ++out_.unnamed[field.names][*text];
    }
    static std::string textOf(const Value& value) {
        if (const auto* text = std::get_if<std::string>(&value.data)) return *text;
        if (const auto* truth = std::get_if<bool>(&value.data)) return *truth ? "true" : "false";
        double room = 0;
        if (const double* number = model::asNumber(value, room)) return base::shortest(*number);
        return {};
    }

    std::optional<Value> raw(Slot s, std::size_t i) {
        const Field& field = recipe_.fields[i];
        const Slot parent = scene_.parent(s);
        const auto name = [&](Slot of) { return std::string(of == model::kNoSlot ? "" : scene_.nameText(of)); };
        switch (is_[i]) {
            case Is::Id: return base::toText(scene_.id(s));
            case Is::Name: return name(s);
            case Is::Kind: return std::string(scene_.kindText(s));
            case Is::Item:
                return scene_.facet<model::Solid>(s) != nullptr ? std::string() : std::string(scene_.itemText(s));
            case Is::Prefab:
                return scene_.isInstance(s) && source_.prefabName
                           ? source_.prefabName(scene_.detail(s)->prefab.link->of)
                           : std::string();
            case Is::Parent: return parent == model::kNoSlot ? std::string() : base::toText(scene_.id(parent));
            case Is::ParentName: return name(parent);
            case Is::Path: return pathOf(s);
            case Is::Group: return name(outermostGroup(scene_, s));
            case Is::Scene: return scene_.name();
            case Is::Number: return numberOf(out_.entries.size());
            case Is::Acts: return actsOf(s);
            case Is::X: return theirs_.position.x;
            case Is::Y: return theirs_.position.y;
            case Is::Z: return theirs_.position.z;
            case Is::Position: return listOf(theirs_.position);
            case Is::TurnX: return theirs_.turns.x;
            case Is::TurnY: return theirs_.turns.y;
            case Is::TurnZ: return theirs_.turns.z;
            case Is::Turn: return listOf(theirs_.turns);
            case Is::Rotation: {
                const base::Quat& q = theirs_.rotation;
                return Value{ValueList{{q.x}, {q.y}, {q.z}, {q.w}}};
            }
            case Is::SizeX: return theirs_.size.x;
            case Is::SizeY: return theirs_.size.y;
            case Is::SizeZ: return theirs_.size.z;
            case Is::Size: return sizeOf(recipe_.decimals);
            case Is::Matrix: return matrix();
            case Is::Width: return extent(s, 0);
            case Is::Depth: return extent(s, 1);
            case Is::Height: return extent(s, 2);
            case Is::Hidden:
            case Is::Protected:
            case Is::Unseen:
            case Is::Untouched:
            case Is::Absent: return (scene_.flagsOf(s) & flagOf(is_[i])) != 0;
            case Is::Properties: return scene_.detail(s) ? Value{scene_.detail(s)->properties} : Value{ValueMap{}};
            case Is::Cue: return cue_ != nullptr ? std::optional<Value>(cue_->name) : std::nullopt;
            case Is::When: return cue_ != nullptr ? std::optional<Value>(model::whenText(*cue_, scene_)) : std::nullopt;
            case Is::Then: return cue_ != nullptr ? std::optional<Value>(model::thenText(*cue_, scene_)) : std::nullopt;
            case Is::Armed: return cue_ != nullptr ? std::optional<Value>(cue_->armed) : std::nullopt;
            case Is::Count: return countOf(s);
            case Is::Property: return property(s, field.is);
            case Is::Member: return member(s, i);
            case Is::Formula: return formula(s, field);
            case Is::Constant: break;
        }
        return std::nullopt;
    }
    Value numberOf(std::size_t index) const {
        const auto number = static_cast<std::int64_t>(index) + recipe_.firstNumber;
        if (recipe_.numberDigits <= 1) return {number};
        return {fmt::format("{:0{}}", number, recipe_.numberDigits)};
    }
    Value sizeOf(int decimals) const {
        const Vec3& size = theirs_.size;
        const bool same = rounded(size.x, decimals) == rounded(size.y, decimals) &&
                          rounded(size.y, decimals) == rounded(size.z, decimals);
        return same ? Value{size.x} : listOf(size);
    }
    Value matrix() const {
        const glm::dmat3 turned = glm::mat3_cast(theirs_.rotation);
        ValueList list;
        for (int c = 0; c < 3; ++c) {
            for (int r = 0; r < 3; ++r) list.emplace_back(turned[c][r] * theirs_.size[c]);
            list.emplace_back(0.0);
        }
        for (int r = 0; r < 3; ++r) list.emplace_back(theirs_.position[r]);
        list.emplace_back(1.0);
        return {std::move(list)};
    }
    Value extent(Slot s, std::size_t axis) const {
        return {scene_.bounds(s).size()[recipe_.convention.axis[axis]] / recipe_.convention.metres};
    }
    std::string pathOf(Slot s) const {
        std::string path(scene_.nameText(s));
        for (Slot up = scene_.parent(s); up != model::kNoSlot; up = scene_.parent(up))
            path = std::string(scene_.nameText(up)) + "/" + path;
        return path;
    }
    Value actsOf(Slot s) const {
        ValueList names;
        if (const auto* in = scene_.facet<model::InActs>(s))
            for (const model::ActPart& part : in->all)
                if (const Slot act = scene_.find(part.act);
                    act != model::kNoSlot && part.is == model::ActPart::Is::There)
                    names.emplace_back(std::string(scene_.nameText(act)));
        return {std::move(names)};
    }
    Value countOf(Slot s) const {
        if (scene_.facet<model::Act>(s) == nullptr) return {static_cast<std::int64_t>(scene_.subtree(s).size()) - 1};
        return {static_cast<std::int64_t>(ops::sumsOf(scene_, source_.library, scene_.id(s)).adds)};
    }
    std::optional<Value> property(Slot s, const std::string& name) const {
        const model::Kind* kind = source_.library.kind(scene_.kind(s));
        const ValueMap none;
        const ValueMap& own = scene_.detail(s) ? scene_.detail(s)->properties : none;
        const model::Property* property = kind != nullptr ? kind->property(name) : nullptr;
        Value room;
        const Value* value = property != nullptr ? model::valueOr(*property, own, room) : model::valueOf(own, name);
        if (value == nullptr) return std::nullopt;
        if (const ObjectId object = model::objectIn(*value); object.value != 0) return Value{base::toText(object)};
        if (const ObjectId record = model::recordIn(*value); record.value != 0) {
            const model::Record* found = source_.library.record(record);
            return Value{found != nullptr ? found->name : base::toText(record)};
        }
        return *value;
    }
    std::optional<Value> member(Slot s, std::size_t i) const {
        auto value = ops::memberValue(scene_, s, members_[i]);
        if (value)
            if (const ObjectId object = model::objectIn(*value); object.value != 0) return Value{base::toText(object)};
        return value;
    }
    /// "= oil * 2 + x": names are properties, members of facets, and numbers of the pose.
    std::optional<Value> formula(Slot s, const Field& field) {
        const auto called = [&](std::string_view name) { return number(s, name); };
        auto value = base::evaluateQuantity(std::string_view(field.is).substr(1), base::Quantity::Factor, 0, called);
        if (value) return Value{*value};
        ++missing_[field.is];
        return std::nullopt;
    }
    std::optional<double> number(Slot s, std::string_view name) {
        const std::pair<std::string_view, double> pose[] = {
            {"x", theirs_.position.x},  {"y", theirs_.position.y},
            {"z", theirs_.position.z},  {"turnX", theirs_.turns.x},
            {"turnY", theirs_.turns.y}, {"turnZ", theirs_.turns.z},
            {"sizeX", theirs_.size.x},  {"sizeY", theirs_.size.y},
            {"sizeZ", theirs_.size.z},  {"number", static_cast<double>(out_.entries.size()) + recipe_.firstNumber}};
        for (const auto& [word, value] : pose)
            if (word == name) return value;
        std::optional<Value> value = property(s, std::string(name));
        if (const auto member = ops::facetMember(name); !value && member) value = ops::memberValue(scene_, s, member);
        if (!value) return std::nullopt;
        if (const auto* truth = std::get_if<bool>(&value->data)) return *truth ? 1.0 : 0.0;
        double room = 0;
        const double* found = model::asNumber(*value, room);
        return found != nullptr ? std::optional<double>(*found) : std::nullopt;
    }

    const Source& source_;
    const model::Scene& scene_;
    const Recipe& recipe_;
    query::ObjectFilter filter_;
    std::vector<Is> is_;
    std::vector<ops::FacetMember> members_;
    bool posed_ = false;
    Frame frame_;
    TheirPose theirs_;
    const model::Cue* cue_ = nullptr;
    std::unordered_map<Slot, std::ptrdiff_t> entryOf_;
    std::map<std::string, std::size_t> missing_;
    std::size_t sheared_ = 0;
    Gathered out_;
};

}  // namespace

Is sourceOf(const Field& field) {
    if (field.value) return Is::Constant;
    if (field.is.starts_with("=")) return Is::Formula;
    const auto& all = fieldSources();
    for (std::size_t i = 0; i < all.size(); ++i)
        if (field.is == all[i].key) return static_cast<Is>(i);
    return ops::facetMember(field.is) ? Is::Member : Is::Property;
}

Slot outermostGroup(const model::Scene& scene, Slot slot) {
    Slot group = model::kNoSlot;
    for (Slot up = slot; up != model::kNoSlot; up = scene.parent(up))
        if ((scene.flagsOf(up) & model::flags::kWhole) != 0) group = up;
    return group;
}

Transform Frame::poseOf(const model::Scene& scene, Slot slot, bool& sheared) const {
    if (fromParent) return scene.local(slot);
    const base::Affine pose = back * scene.world(slot);
    sheared = base::hasShear(pose);
    return base::toTransform(pose);
}

Result<Frame> frameOf(const model::Scene& scene, const Recipe& recipe) {
    Frame frame;
    frame.fromParent = recipe.relative == Recipe::Relative::Parent;
    if (recipe.relative != Recipe::Relative::Object) return frame;
    for (const Slot s : scene.subtree(model::kNoSlot)) {
        if (scene.nameText(s) != recipe.relativeTo) continue;
        frame.world = scene.world(s);
        if (const auto back = base::inverse(frame.world)) {
            frame.back = *back;
            return frame;
        }
    }
    return fail(ErrorCode::NotFound, fmt::format("There is no “{}” from which places are counted.", recipe.relativeTo));
}

Gathered gather(const Source& source, const Recipe& recipe) {
    return Gatherer(source, recipe).run();
}

}  // namespace hand
