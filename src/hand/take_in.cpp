#include "hand/take_in.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <unordered_map>

#include "base/files.h"
#include "base/text.h"
#include "hand/names.h"
#include "model/value_json.h"
#include "ops/objects.h"
#include "ops/records.h"

namespace hand {
namespace {

using base::Transform;
using base::Vec3;

constexpr double kFarthest = 1e7, kSmallest = 1e-6, kLargest = 1e6;

std::optional<double> numberIn(const Value& value) {
    double room = 0;
    if (const double* number = model::asNumber(value, room)) return *number;
    const auto* text = std::get_if<std::string>(&value.data);
    if (text == nullptr) return std::nullopt;
    const std::string_view plain = base::trimmed(*text);
    double number = 0;
    const auto read = std::from_chars(plain.data(), plain.data() + plain.size(), number);
    if (plain.empty() || read.ec != std::errc{} || read.ptr != plain.data() + plain.size()) return std::nullopt;
    return number;
}

/// As a list, or as words with spaces or commas between.
std::vector<double> numbersIn(const Value& value) {
    std::vector<double> numbers;
    const auto take = [&](const Value& one) {
        const auto number = numberIn(one);
        numbers.push_back(number.value_or(std::nan("")));
    };
    if (const auto* list = std::get_if<ValueList>(&value.data)) {
        for (const Value& one : *list) take(one);
    } else if (const auto* text = std::get_if<std::string>(&value.data)) {
        std::string plain = *text;
        std::replace_if(
            plain.begin(), plain.end(), [](char c) { return c == ',' || c == ';' || c == '\t'; }, ' ');
        for (const std::string_view word : base::split(std::string_view(plain), ' '))
            if (!word.empty()) take(Value{std::string(word)});
    } else {
        take(value);
    }
    return numbers;
}

std::string asCell(const Value& value) {
    if (const auto* text = std::get_if<std::string>(&value.data)) return *text;
    if (const auto* truth = std::get_if<bool>(&value.data)) return *truth ? "yes" : "no";
    double room = 0;
    if (const double* number = model::asNumber(value, room)) return base::shortest(*number);
    std::string text;
    if (const auto* list = std::get_if<ValueList>(&value.data)) {
        for (const Value& one : *list) text += (text.empty() ? "" : ", ") + asCell(one);
        return text;
    }
    model::appendJson(text, value, false);
    return text;
}

/// Says a list the same as what would be written?
bool isSame(const Value& written, const Value& read) {
    double room = 0;
    if (const double* number = model::asNumber(written, room)) {
        const auto other = numberIn(read);
        return other && std::abs(*other - *number) <= 1e-12 * std::max(1.0, std::abs(*number));
    }
    if (const auto* truth = std::get_if<bool>(&written.data)) {
        if (const auto* other = std::get_if<bool>(&read.data)) return *other == *truth;
        const std::string text = base::lowered(asCell(read));
        return (text == "true" || text == "yes" || text == "1") == *truth;
    }
    if (const auto* list = std::get_if<ValueList>(&written.data)) {
        const auto* other = std::get_if<ValueList>(&read.data);
        const std::vector<double> a = numbersIn(written), b = numbersIn(read);
        const bool allNumbers = std::none_of(a.begin(), a.end(), [](double x) { return std::isnan(x); });
        if (other == nullptr || allNumbers)
            return a.size() == b.size() && std::equal(a.begin(), a.end(), b.begin(), [](double x, double y) {
                       return std::abs(x - y) <= 1e-12 * std::max(1.0, std::abs(x));
                   });
        return *list == *other;
    }
    return asCell(written) == asCell(read);
}

class Planner {
  public:
    Planner(const Source& source, edit::Session& session, const Recipe& recipe, const ReadList& list)
        : source_(source), scene_(source.scene), session_(session), recipe_(recipe), list_(list) {
        for (const Field& field : recipe.fields) is_.push_back(sourceOf(field));
        for (const auto& [table, names] : recipe.names)
            for (const auto& [ours, theirs] : names) back_[table].emplace(theirs, ours);
        for (const auto& [table, names] : recipe.read)
            for (const auto& [theirs, ours] : names) back_[table][theirs] = ours;
    }

    TakeInPlan run() {
        plan_.problems = list_.problems;
        auto frame = frameOf(scene_, recipe_);
        if (recipe_.entries != Recipe::Per::Object || !frame) {
            plan_.problems.push_back(
                {0, "", frame ? "A list of groups, acts or cues cannot be taken in." : frame.error().message});
            return std::move(plan_);
        }
        frame_ = *frame;
        present_ = gather(source_, recipe_);
        columns_ = ops::tableColumns(source_.library, scene_);
        index();
        for (const ListProblem& faulty : list_.problems) faulty_.insert(faulty.row);
        for (std::size_t i = 0; i < list_.entries.size(); ++i)
            if (!faulty_.contains(list_.entries[i].row)) take(i);
        for (const Entry& entry : present_.entries)
            if (!met_.contains(entry.id) && goneOnce_.insert(entry.id).second) plan_.gone.push_back(entry.id);
        sortOutGone();
        tell();
        return std::move(plan_);
    }

  private:
    /// Who is who: by id where there is one, else by a name that only one has.
    void index() {
        for (std::size_t i = 0; i < present_.entries.size(); ++i) entryOf_.emplace(present_.entries[i].id, i);
        const auto field = [&](Is is) {
            const auto place = std::find(is_.begin(), is_.end(), is);
            return place == is_.end() ? -1 : place - is_.begin();
        };
        idAt_ = field(Is::Id);
        nameAt_ = field(Is::Name);
        if (nameAt_ < 0) return;
        std::unordered_map<std::string, int> listed;
        for (const ReadEntry& entry : list_.entries)
            if (const auto& name = entry.values[static_cast<std::size_t>(nameAt_)]) ++listed[asCell(*name)];
        for (const Entry& entry : present_.entries) {
            const auto& name = entry.values[static_cast<std::size_t>(nameAt_)];
            if (!name) continue;
            const std::string text = asCell(*name);
            const auto [place, isNew] = byName_.try_emplace(text, entry.id);
            if (!isNew && place->second != entry.id) place->second = ObjectId{};
            if (listed[text] > 1) place->second = ObjectId{};
        }
    }
    ObjectId objectOf(const ReadEntry& entry) {
        if (idAt_ >= 0)
            if (const auto& value = entry.values[static_cast<std::size_t>(idAt_)]) {
                const auto id = base::parseObjectId(asCell(*value));
                if (id && scene_.find(*id) != model::kNoSlot) return *id;
                if (!id) problem(entry, "id", fmt::format("“{}” is no id.", asCell(*value)));
                return {};
            }
        if (nameAt_ < 0) return {};
        const auto& name = entry.values[static_cast<std::size_t>(nameAt_)];
        const auto held = name ? byName_.find(asCell(*name)) : byName_.end();
        return held == byName_.end() ? ObjectId{} : held->second;
    }
    void problem(const ReadEntry& entry, const std::string& field, std::string message) {
        plan_.problems.push_back({entry.row, field, std::move(message)});
    }

    void take(std::size_t at) {
        const ReadEntry& entry = list_.entries[at];
        const std::size_t before = plan_.problems.size();
        const ObjectId id = objectOf(entry);
        if (plan_.problems.size() > before) return;
        if (id.value == 0) return addNew(at);
        if (!met_.insert(id).second) return problem(entry, "", "Its object is in the list already.");
        idOf_[at] = id;
        const auto held = entryOf_.find(id);
        if (held == entryOf_.end())
            return problem(
                entry, "",
                fmt::format("“{}” is none of the objects that the recipe takes.", scene_.nameText(scene_.find(id))));
        change(entry, present_.entries[held->second]);
    }

    // Of objects that are there.
    void change(const ReadEntry& entry, const Entry& now) {
        const Slot s = scene_.find(now.id);
        const std::size_t changes = plan_.changes.size();
        bool sheared = false;
        TheirPose pose = toTheirs(recipe_.convention, frame_.poseOf(scene_, s, sheared));
        bool moves = false, turns = false;
        for (std::size_t i = 0; i < recipe_.fields.size(); ++i) {
            const Field& field = recipe_.fields[i];
            std::optional<Value> read = said(entry, i);
            if ((is_[i] == Is::Parent || is_[i] == Is::Prefab) && read && now.values[i] &&
                !isSame(*now.values[i], *read))
                ++passedOver_[field.name];
            if (!read || !canRead(i) || is_[i] == Is::Id) continue;
            const Value written = now.values[i]    ? *now.values[i]
                                  : field.leaveOut ? *field.leaveOut
                                                   : Value{std::string()};
            if (isSame(written, *read) || (isAngle(i) && sameAngles(written, *read))) continue;
            if (isPose(is_[i])) {
                if (!putPose(entry, i, *read, pose, turns)) continue;
                moves = true;
            } else if (!putCell(entry, i, *read, now.id)) {
                continue;
            }
            plan_.changes.push_back({now.id, field.name, asCell(written), asCell(*read), entry.row});
        }
        if (turns) pose.rotation = rotationOf(recipe_.convention, pose.turns);
        if (moves) {
            const Transform local = localOf(pose, scene_.parent(s));
            if (!isUsable(local)) {
                problem(entry, "", "Would stand where nothing can stand.");
            } else {
                plan_.written.posed.push_back(now.id);
                plan_.written.poses.push_back(local);
            }
        }
        if (plan_.changes.size() > changes)
            plan_.changed.insert(now.id);
        else
            ++plan_.same;
    }
    /// What an entry says of a field: what is left out stands for what the recipe leaves out.
    std::optional<Value> said(const ReadEntry& entry, std::size_t i) const {
        if (entry.values[i]) return entry.values[i];
        return recipe_.fields[i].leaveOut;
    }
    bool canRead(std::size_t i) {
        const Is is = is_[i];
        if (is == Is::Property || is == Is::Member) return true;
        if (is == Is::Constant || is == Is::Formula) return false;
        const bool reads = fieldSources()[static_cast<std::size_t>(is)].reads;
        return reads && is != Is::Parent && is != Is::Prefab;
    }
    bool isAngle(std::size_t i) const { return is_[i] >= Is::TurnX && is_[i] <= Is::Turn; }
    /// The same but for whole turns.
    bool sameAngles(const Value& written, const Value& read) const {
        const std::vector<double> a = numbersIn(written), b = numbersIn(read);
        if (a.size() != b.size()) return false;
        const double full = recipe_.convention.fullTurn();
        for (std::size_t k = 0; k < a.size(); ++k)
            if (!(std::abs(std::remainder(a[k] - b[k], full)) < 1e-9 * full)) return false;
        return true;
    }

    // Poses.
    bool putPose(const ReadEntry& entry, std::size_t i, const Value& read, TheirPose& pose, bool& turns) {
        const Field& field = recipe_.fields[i];
        const std::vector<double> numbers = numbersIn(read);
        const auto wants = [&](std::size_t n) {
            const bool fine = numbers.size() == n &&
                              std::all_of(numbers.begin(), numbers.end(), [](double x) { return std::isfinite(x); });
            if (!fine)
                problem(entry, field.name,
                        fmt::format("“{}”: {} expected.", asCell(read),
                                    n == 1 ? "a number was" : fmt::format("{} numbers were", n)));
            return fine;
        };
        const auto three = [&](Vec3& to) {
            for (std::size_t k = 0; k < 3; ++k) to[static_cast<int>(k)] = numbers[k];
        };
        switch (is_[i]) {
            case Is::X:
            case Is::Y:
            case Is::Z:
                if (!wants(1)) return false;
                pose.position[static_cast<int>(is_[i]) - static_cast<int>(Is::X)] = numbers[0];
                return true;
            case Is::Position:
                if (!wants(3)) return false;
                three(pose.position);
                return true;
            case Is::TurnX:
            case Is::TurnY:
            case Is::TurnZ:
                if (!wants(1)) return false;
                pose.turns[static_cast<int>(is_[i]) - static_cast<int>(Is::TurnX)] = inTurn(numbers[0]);
                return turns = true;
            case Is::Turn:
                if (!wants(3)) return false;
                for (std::size_t k = 0; k < 3; ++k) pose.turns[static_cast<int>(k)] = inTurn(numbers[k]);
                return turns = true;
            case Is::Rotation: {
                if (!wants(4)) return false;
                const base::Quat q(numbers[3], numbers[0], numbers[1], numbers[2]);
                if (!(glm::length(q) > 1e-6)) return problem(entry, field.name, "This is no rotation."), false;
                pose.rotation = glm::normalize(q);
                return true;
            }
            case Is::SizeX:
            case Is::SizeY:
            case Is::SizeZ:
                if (!wants(1)) return false;
                pose.size[static_cast<int>(is_[i]) - static_cast<int>(Is::SizeX)] = numbers[0];
                return true;
            case Is::Size:
                if (numbers.size() != 1 && !wants(3)) return false;
                if (numbers.size() == 1 && !wants(1)) return false;
                if (numbers.size() == 1) pose.size = Vec3(numbers[0]);
                if (numbers.size() == 3) three(pose.size);
                return true;
            default: return wants(16) && putMatrix(entry, field, numbers, pose);
        }
    }
    bool putMatrix(const ReadEntry& entry, const Field& field, const std::vector<double>& m, TheirPose& pose) {
        base::Affine a;
        for (std::size_t c = 0; c < 3; ++c)
            for (std::size_t r = 0; r < 3; ++r) a.linear[static_cast<int>(c)][static_cast<int>(r)] = m[c * 4 + r];
        a.translation = {m[12], m[13], m[14]};
        if (!base::inverse(a)) return problem(entry, field.name, "This matrix flattens what stands there."), false;
        if (base::hasShear(a)) ++sheared_;
        const Transform t = base::toTransform(a);
        pose.position = t.position;
        pose.rotation = t.rotation;
        pose.size = t.scale;
        return true;
    }
    /// An angle of many turns comes into range, and is told.
    double inTurn(double angle) {
        const double in = inRange(recipe_.convention, angle);
        if (std::abs(in - angle) > 1e-9 * recipe_.convention.fullTurn() &&
            std::abs(angle) > recipe_.convention.fullTurn())
            ++wound_;
        return in;
    }
    Transform localOf(const TheirPose& pose, Slot parent) const {
        const Transform ours = toOurs(recipe_.convention, pose);
        if (frame_.fromParent) return ours;
        base::Affine world = frame_.world * base::toAffine(ours);
        if (parent != model::kNoSlot)
            if (const auto back = base::inverse(scene_.world(parent))) world = *back * world;
        return base::toTransform(world);
    }
    static bool isUsable(const Transform& t) {
        if (!base::isFinite(t.position) || !base::isFinite(t.rotation) || !base::isFinite(t.scale)) return false;
        for (int k = 0; k < 3; ++k)
            if (std::abs(t.position[k]) > kFarthest || std::abs(t.scale[k]) < kSmallest ||
                std::abs(t.scale[k]) > kLargest)
                return false;
        return true;
    }

    // What stands in a cell of the table.
    const ops::TableColumn* columnOf(std::size_t i) const {
        const std::string& is = recipe_.fields[i].is;
        const auto column = std::ranges::find(columns_, is, &ops::TableColumn::key);
        return column == columns_.end() ? nullptr : &*column;
    }
    /// Their name for something as ours.
    std::string nameBack(std::size_t i, const std::string& theirs) const {
        const auto table = back_.find(recipe_.fields[i].names);
        if (table == back_.end()) return theirs;
        const auto ours = table->second.find(theirs);
        return ours == table->second.end() ? theirs : ours->second;
    }
    bool isItem(const std::string& name) const { return source_.library.item(scene_.names().find(name)) != nullptr; }
    bool knowsItem(const ReadEntry& entry, std::size_t i, const std::string& name) {
        if (name.empty() || isItem(name)) return true;
        ++plan_.unknown[recipe_.fields[i].names][name];
        problem(entry, recipe_.fields[i].name, fmt::format("There is no item “{}”.", name));
        return false;
    }
    bool putCell(const ReadEntry& entry, std::size_t i, const Value& read, ObjectId id) {
        const ops::TableColumn* column = columnOf(i);
        const std::string text = nameBack(i, asCell(read));
        if (is_[i] == Is::Item && !knowsItem(entry, i, text)) return false;
        if (column == nullptr) {
            ++passedOver_[recipe_.fields[i].name];
            return false;
        }
        const ops::CellInput cell{id, *column, text, entry.row};
        const ops::CellPlan plan = ops::planCells({source_.library, scene_, {}}, {cell});
        for (const ops::CellProblem& p : plan.problems) problem(entry, recipe_.fields[i].name, p.message);
        if (!plan.problems.empty() || plan.changes.empty()) return false;
        plan_.written.cells.push_back(cell);
        return true;
    }

    // New ones.
    void addNew(std::size_t at) {
        const ReadEntry& entry = list_.entries[at];
        const std::size_t problems = plan_.problems.size();
        model::ObjectRecord r;
        r.id = session_.random().nextId();
        Slot parent = model::kNoSlot;
        if (entry.below >= 0)
            if (const auto above = idOf_.find(static_cast<std::size_t>(entry.below)); above != idOf_.end()) {
                r.parent = above->second;
                parent = scene_.find(r.parent);
            }
        TheirPose pose;
        bool turns = false;
        std::vector<ops::CellInput> cells;
        base::ObjectId prefab;
        std::string item;
        for (std::size_t i = 0; i < recipe_.fields.size(); ++i) {
            const std::optional<Value> value = said(entry, i);
            if (!value) continue;
            const std::string text = nameBack(i, asCell(*value));
            switch (is_[i]) {
                case Is::Name: r.name = session_.intern(text); break;
                case Is::Kind:
                    if (!text.empty() && source_.library.kindNamed(text) == nullptr)
                        problem(entry, recipe_.fields[i].name, fmt::format("There is no kind “{}”.", text));
                    r.kind = session_.intern(text);
                    break;
                case Is::Item:
                    if (knowsItem(entry, i, text)) item = text;
                    break;
                case Is::Prefab:
                    prefab = text.empty() ? base::ObjectId{} : session_.prefabNamed(text);
                    if (!text.empty() && prefab.value == 0)
                        problem(entry, recipe_.fields[i].name, fmt::format("There is no prefab “{}”.", text));
                    break;
                case Is::Parent:
                    if (const auto id = base::parseObjectId(text); id && scene_.find(*id) != model::kNoSlot) {
                        r.parent = *id;
                        parent = scene_.find(*id);
                    }
                    break;
                default:
                    if (isPose(is_[i])) {
                        putPose(entry, i, *value, pose, turns);
                    } else if (canRead(i)) {
                        if (const ops::TableColumn* column = columnOf(i))
                            cells.push_back({r.id, *column, text, entry.row});
                        else if (!recipe_.fields[i].leaveOut)
                            ++passedOver_[recipe_.fields[i].name];
                    }
            }
        }
        if (turns) pose.rotation = rotationOf(recipe_.convention, pose.turns);
        r.local = localOf(pose, parent);
        if (!isUsable(r.local)) problem(entry, "", "Would stand where nothing can stand.");
        dress(r, item, prefab);
        if (plan_.problems.size() > problems) return;
        idOf_[at] = r.id;
        ++plan_.added;
        plan_.written.records.push_back(std::move(r));
        plan_.written.cells.insert(plan_.written.cells.end(), cells.begin(), cells.end());
    }
    /// What an item, or a prefab, that is placed starts with.
    void dress(model::ObjectRecord& r, const std::string& name, base::ObjectId prefab) {
        const model::Item* item = source_.library.item(scene_.names().find(name));
        if (item != nullptr && !r.kind) r.kind = session_.intern(item->kind);
        if (item != nullptr && !item->bounds.empty() && item->prefab.value == 0) r.item = session_.intern(name);
        if (item != nullptr && prefab.value == 0) prefab = item->prefab;
        if (const model::Kind* kind = source_.library.kind(r.kind)) r.detail = kind->facets;
        if (prefab.value != 0) r.detail = ops::instanceOf(prefab);
        if (!r.name) r.name = session_.intern(item != nullptr ? item->label : "Thing");
    }

    /// What the list still has is not taken along with what it has no more.
    void sortOutGone() {
        std::size_t staying = 0;
        std::set<ObjectId> along;
        for (const ObjectId id : plan_.gone) {
            const std::vector<Slot> below = scene_.subtree(scene_.find(id));
            if (std::ranges::any_of(below, [&](Slot s) { return met_.contains(scene_.id(s)); })) {
                ++staying;
                continue;
            }
            plan_.removable.push_back(id);
            for (const Slot s : below)
                if (!entryOf_.contains(scene_.id(s))) along.insert(scene_.id(s));
        }
        if (staying > 0)
            plan_.told.push_back(
                fmt::format("Not in the list, but what it has lies below them: {}. They stay in any case.", staying));
        if (!along.empty())
            plan_.told.push_back(fmt::format(
                "Below what is not in the list lie things that the recipe does not take: {}.", along.size()));
    }
    void tell() {
        if (wound_ > 0)
            plan_.told.push_back(fmt::format("Angles of more than a full turn were brought into range: {}.", wound_));
        if (looksLikeRadians(recipe_, list_))
            plan_.told.push_back(recipe_.convention.angles == AngleUnit::Radians
                                     ? "Angles are read as radians."
                                     : "The angles look like radians; “turns” in the recipe says that they are not.");
        if (sheared_ > 0) plan_.told.push_back(fmt::format("Sheared matrices became the nearest pose: {}.", sheared_));
        for (const auto& [field, n] : passedOver_)
            plan_.told.push_back(
                fmt::format("“{}” cannot be changed by a list; {} of its values were passed over.", field, n));
        if (!list_.others.empty()) {
            std::string names;
            for (const std::string& name : list_.others) names += (names.empty() ? "“" : ", “") + name + "”";
            plan_.told.push_back(fmt::format("The recipe has no fields for {}: they are not read.", names));
        }
    }

    const Source& source_;
    const model::Scene& scene_;
    edit::Session& session_;
    const Recipe& recipe_;
    const ReadList& list_;
    std::vector<Is> is_;
    Frame frame_;
    Gathered present_;
    std::vector<ops::TableColumn> columns_;
    std::unordered_map<base::ObjectId, std::size_t> entryOf_;
    std::unordered_map<std::string, ObjectId> byName_;
    std::ptrdiff_t idAt_ = -1, nameAt_ = -1;
    std::set<ObjectId> met_, goneOnce_;
    std::set<std::size_t> faulty_;                    // rows that could not be read whole
    std::unordered_map<std::size_t, ObjectId> idOf_;  // by entry of the list
    std::map<std::string, Recipe::Names> back_;       // by table: theirs, ours
    std::map<std::string, std::size_t> passedOver_;
    std::size_t wound_ = 0, sheared_ = 0;
    TakeInPlan plan_;
};

}  // namespace

TakeInPlan planTakeIn(const Source& source, edit::Session& session, const Recipe& recipe, const ReadList& list) {
    return Planner(source, session, recipe, list).run();
}

Status putPaper(edit::Draft& draft, const model::data::Foldered& folder, const std::string& name,
                std::optional<ValueMap> values) {
    if (!base::isPlainFileName(name))
        return fail(ErrorCode::BadInput,
                    fmt::format("“{}” can be no name of a file: letters, digits, - and _ can.", name));
    const std::string key;
    return draft.setEntries(model::data::documentIn(folder, name), {&key, 1}, {&values, 1});
}

Status putRecipe(edit::Draft& draft, const std::string& name, std::optional<ValueMap> values) {
    return putPaper(draft, model::data::kRecipes, name, std::move(values));
}

Status remember(edit::Draft& draft, const std::string& recipe, const std::string& table, const Recipe::Names& names) {
    const auto& all = draft.session().library().recipes;
    const auto held = all.find(recipe);
    if (held == all.end()) return fail(ErrorCode::NotFound, fmt::format("There is no recipe “{}”.", recipe));
    return putRecipe(draft, recipe, withRead(held->second, table, names));
}

Status takeIn(edit::Draft& draft, const TakeInPlan& plan, const TakeInChoice& choice) {
    if (!draft.state()) return draft.state();
    if (!choice.despiteProblems && !plan.problems.empty()) {
        const ListProblem& first = plan.problems.front();
        return fail(ErrorCode::BadInput,
                    fmt::format("{}{}{}", first.row > 0 ? fmt::format("Entry {}", first.row) : "The list",
                                first.field.empty() ? ": " : ", " + first.field + ": ", first.message));
    }
    const TakeInPlan::Written& w = plan.written;
    if (!w.records.empty())
        if (Status made = draft.create(w.records); !made) return made;
    if (Status free = ops::refuseProtected(draft.scene(), w.posed, "moved"); !free) return free;
    if (!w.posed.empty())
        if (Status moved = draft.setTransforms(w.posed, w.poses); !moved) return moved;
    ops::CellPlan cells = ops::planCells({draft.session().library(), draft.scene(), {}}, w.cells);
    if (choice.despiteProblems) cells.problems.clear();
    if (Status set = ops::apply(draft, cells); !set) return set;
    if (!choice.removeGone || plan.removable.empty()) return {};
    return ops::remove(draft, plan.removable);
}

}  // namespace hand
