#include "ops/kinds.h"

#include "base/files.h"
#include "base/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "ops/entries.h"
#include "ops/names.h"
#include "ops/properties.h"
#include "ops/schema_form.h"

namespace ops {

using model::Kind;

namespace {

constexpr std::size_t kMostLines = 200;

Status usableKindName(const edit::Session& session, const std::string& name) {
    if (name.empty() || name.size() > 100)
        return fail(ErrorCode::BadInput, "A kind’s name is not empty and at most 100 bytes long.");
    for (char c : name)
        if (static_cast<unsigned char>(c) < 0x20)
            return fail(ErrorCode::BadInput, "A kind’s name holds no control characters.");
    if (session.library().kindNamed(name) != nullptr)
        return fail(ErrorCode::BadInput, fmt::format("There is a kind “{}” already.", name));
    return {};
}

/// A kind's name with what is no letter or digit replaced: for its file.
std::string plainName(const std::string& kind, bool small) {
    std::string plain;
    for (const char c : kind) {
        const auto byte = static_cast<unsigned char>(c);
        const bool stays = std::isalnum(byte) != 0 || (c == ' ' && !small);
        plain += !stays ? '-' : small ? static_cast<char>(std::tolower(byte)) : c;
    }
    return plain;
}

/// A document for a kind of that name: called like it, else with a number.
std::string documentFor(const edit::Session& session, const std::string& name) {
    const std::string file = plainName(name, false);
    std::string free = model::data::kindDocument(file);
    for (int n = 2; !session.entries(free).empty(); ++n)
        free = model::data::kindDocument(file + "-" + std::to_string(n));
    return free;
}

/// Where a kind goes that gets another name: a file that is called as the kind is called so afterwards too; one that
/// people named otherwise stays.
std::string documentAfter(const edit::Session& session, const Kind& kind, const std::string& name) {
    const auto called = [](const std::string& as) { return plainName(model::data::kindDocument(as), true); };
    const std::string now = plainName(kind.document, true);
    if (now != called(kind.name) || now == called(name)) return kind.document;
    return documentFor(session, name);
}

Status writeKind(edit::Draft& draft, std::string document, std::optional<ValueMap> own) {
    const std::string key;
    return draft.setEntries(document, {&key, 1}, {&own, 1});
}

Status noKind(const std::string& kind) {
    return fail(ErrorCode::NotFound, fmt::format("There is no kind “{}”.", kind));
}

/// The kind and all that inherit from it.
std::set<std::string> withHeirs(const model::Library& library, const std::string& kind) {
    std::set<std::string> all = {kind};
    for (std::size_t before = 0; before != all.size();) {
        before = all.size();
        for (const Kind& other : library.kinds())
            if (all.contains(other.inherits)) all.insert(other.name);
    }
    return all;
}

/// Do kinds that inherit come round to where they began?
bool isCircle(const model::Library& library, const std::string& kind, const std::string& parent) {
    std::set<std::string> seen = {kind};
    for (std::string at = parent; !at.empty();) {
        if (!seen.insert(at).second) return true;
        const Kind* next = library.kindNamed(at);
        at = next != nullptr ? next->inherits : "";
    }
    return false;
}

/// One object's values under a changed kind.
class Migrator {
  public:
    Migrator(const std::map<std::string, std::string>& renamed, Migration& report)
        : renamed_(renamed), report_(report) {}

    ValueMap moved(const Kind& before, const Kind& now, const ValueMap& values, const std::string& where) {
        ValueMap result;
        for (const auto& [key, value] : values) {
            const auto name = renamed_.find(key);
            const std::string to = name != renamed_.end() ? name->second : key;
            const Property *was = before.property(key), *is = now.property(to);
            if (to != key && is != nullptr) ++report_.renamed;
            if (is == nullptr) {
                if (was != nullptr) aside(where, was->label, *was, value);
                result.emplace_back(key, value);
                continue;
            }
            auto fine = model::fitted(*is, value);
            if (!fine && was != nullptr) {
                fine = model::parsedValue(*is, model::valueText(*was, value));
                if (fine) ++report_.retyped;
            }
            if (fine) {
                if (*fine != model::defaultOf(*is)) result.emplace_back(to, std::move(*fine));
                continue;
            }
            if (was != nullptr) aside(where, is->label, *was, value);
            result.emplace_back(to, value);
        }
        return result;
    }

  private:
    void aside(const std::string& where, const std::string& label, const Property& was, const Value& value) {
        ++report_.aside;
        if (report_.lines.size() < kMostLines)
            report_.lines.push_back(fmt::format("{}: {} was {}", where, label, model::valueText(was, value)));
    }
    const std::map<std::string, std::string>& renamed_;
    Migration& report_;
};

/// Objects of these kinds, in every document, have their values brought in line.
Status migrate(edit::Draft& draft, const std::map<std::string, Kind>& before, Migrator& migrator) {
    edit::Session& session = draft.session();
    for (const std::string& document : allDocuments(session)) {
        if (Status turned = draft.turnTo(document); !turned) return turned;
        const model::Scene& scene = draft.scene();
        Ids ids;
        std::vector<model::DetailPtr> details;
        for (Slot s : scene.ownSubtree(kNoSlot)) {
            const auto was = before.find(std::string(scene.kindText(s)));
            if (was == before.end() || !scene.detail(s) || scene.detail(s)->properties.empty()) continue;
            const Kind* now = session.library().kind(scene.kind(s));
            const std::string where = fmt::format("{} › {}", document, scene.nameText(s));
            ValueMap values = now != nullptr ? migrator.moved(was->second, *now, scene.detail(s)->properties, where)
                                             : scene.detail(s)->properties;
            if (values == scene.detail(s)->properties) continue;
            model::Detail detail = *scene.detail(s);
            detail.properties = std::move(values);
            ids.push_back(scene.id(s));
            details.push_back(detail.empty() ? nullptr : std::make_shared<const model::Detail>(std::move(detail)));
        }
        if (ids.empty()) continue;
        if (Status done = draft.setDetails(ids, details); !done) return done;
    }
    return {};
}

/// Puts another name for a kind where lists of kinds name it.
bool renameIn(Value& value, const std::string& from, const std::string& to, bool inKinds) {
    bool any = false;
    if (auto* text = std::get_if<std::string>(&value.data); text != nullptr && inKinds && *text == from)
        *text = to, any = true;
    if (auto* list = std::get_if<model::ValueList>(&value.data))
        for (Value& one : *list) any = renameIn(one, from, to, inKinds) || any;
    if (auto* map = std::get_if<ValueMap>(&value.data))
        for (auto& [key, one] : *map) any = renameIn(one, from, to, key == "kinds") || any;
    return any;
}

}  // namespace

Status newKind(edit::Draft& draft, std::string name, std::string like) {
    if (!draft.state()) return draft.state();
    const edit::Session& session = draft.session();
    if (Status usable = usableKindName(session, name); !usable) return usable;
    ValueMap own;
    if (!like.empty()) {
        const Kind* known = session.library().kindNamed(like);
        if (known == nullptr) return noKind(like);
        own = known->own;
        model::eraseValue(own, "needed");
    }
    model::eraseValue(own, "name");
    own.insert(own.begin(), {"name", Value{name}});
    return writeKind(draft, documentFor(session, name), std::move(own));
}

Status newKindOf(edit::Draft& draft, std::string name, std::string parent) {
    if (!draft.state()) return draft.state();
    if (Status usable = usableKindName(draft.session(), name); !usable) return usable;
    if (draft.session().library().kindNamed(parent) == nullptr) return noKind(parent);
    return writeKind(draft, documentFor(draft.session(), name), ValueMap{{"name", {name}}, {"inherits", {parent}}});
}

namespace {

using Renamed = std::map<std::string, std::string>;

/// A condition with the new name of the property it asks for: "!lit", "oil > 3".
std::string conditionWith(std::string_view condition, const Renamed& renamed) {
    constexpr std::string_view kBefore = " !", kAfter = " =!<>";
    const std::size_t from = std::min(condition.find_first_not_of(kBefore), condition.size());
    const std::size_t to = std::min(condition.find_first_of(kAfter, from), condition.size());
    const auto place = renamed.find(std::string(condition.substr(from, to - from)));
    if (place == renamed.end()) return std::string(condition);
    return std::string(condition.substr(0, from)) + place->second + std::string(condition.substr(to));
}

/// What else in a kind's file names properties goes along with their new names: conditions of properties and
/// appearances, choices that depend on one, buttons, facts.
ValueMap carriedAlong(ValueMap own, const Renamed& renamed) {
    auto change = [&](ValueMap& entry, const char* key, bool condition) {
        const std::string text = model::textOf(entry, key);
        if (text.empty()) return;
        const auto place = renamed.find(text);
        const std::string now = condition                ? conditionWith(text, renamed)
                                : place != renamed.end() ? place->second
                                                         : text;
        if (now != text) model::setValue(entry, key, {now});
    };
    for (const char* key : {"properties", "appearances", "buttons"}) {
        auto list = listOf(own, key);
        const auto before = list;
        for (ValueMap& entry : list) {
            change(entry, "shownIf", true);
            change(entry, "when", true);
            change(entry, "choicesBy", false);
            change(entry, "property", false);
        }
        if (list != before) own = withList(own, key, list);
    }
    auto outfits = listOf(own, "outfits");
    for (ValueMap& outfit : outfits) {
        const Value* values = model::valueOf(outfit, "values");
        const auto* map = values != nullptr ? std::get_if<ValueMap>(&values->data) : nullptr;
        if (map == nullptr) continue;
        ValueMap along = *map;
        for (auto& [key, value] : along)
            if (const auto place = renamed.find(key); place != renamed.end()) key = place->second;
        model::setValue(outfit, "values", {std::move(along)});
    }
    if (!outfits.empty()) own = withList(own, "outfits", outfits);
    if (const Value* facts = model::valueOf(own, "facts"); facts != nullptr) {
        Value after = *facts;
        if (auto* list = std::get_if<model::ValueList>(&after.data))
            for (Value& one : *list)
                if (auto* text = std::get_if<std::string>(&one.data))
                    if (const auto place = renamed.find(*text); place != renamed.end()) *text = place->second;
        model::setValue(own, "facts", std::move(after));
    }
    return own;
}

/// What one entry of a kind's lists names that is not there. Empty: all is well.
std::string wrongIn(const model::Library& library, const Kind& kind, const ValueMap& entry) {
    const std::string label = model::textOf(entry, "label", model::textOf(entry, "name"));
    const auto noProperty = [&](const std::string& name) {
        return fmt::format("{}there is no property “{}”.", label.empty() ? "" : label + ": ", name);
    };
    for (const char* key : {"shownIf", "when"}) {
        const std::string text = model::textOf(entry, key);
        if (text.empty()) continue;
        const auto condition = model::parseCondition(text);
        if (!condition) return condition.error().message;
        if (kind.property(condition->property) == nullptr) return noProperty(condition->property);
    }
    for (const char* key : {"choicesBy", "property"})
        if (const std::string name = model::textOf(entry, key); !name.empty() && kind.property(name) == nullptr)
            return noProperty(name);
    if (const Value* kinds = model::valueOf(entry, "kinds"))
        if (const auto* list = std::get_if<model::ValueList>(&kinds->data))
            for (const Value& one : *list)
                if (const auto* name = std::get_if<std::string>(&one.data);
                    name != nullptr && library.kindNamed(*name) == nullptr && *name != kind.name)
                    return fmt::format("{}: there is no kind “{}” to lead to.", label, *name);
    if (const std::string type = model::textOf(entry, "records"); !type.empty() && library.recordType(type) == nullptr)
        return fmt::format("{}: there are no records of type “{}”.", label, type);
    if (const Value* of = model::valueOf(entry, "of"))
        if (const auto* element = std::get_if<ValueMap>(&of->data))
            if (std::string wrong = wrongIn(library, kind, *element); !wrong.empty()) return wrong;
    const Property* property = kind.property(model::textOf(entry, "name"));
    if (const Value* usual = model::valueOf(entry, "default"); usual != nullptr && property != nullptr)
        if (auto fits = model::fitted(*property, *usual); !fits) return "Default: " + fits.error().message;
    return {};
}

/// Entries that were changed must name what there is; those that stand as they did are let be.
Status changedEntriesFit(const model::Library& library, const Kind& whole, const ValueMap& before,
                         const ValueMap& now) {
    for (const char* key : {"properties", "appearances", "buttons"}) {
        const auto old = listOf(before, key);
        for (const ValueMap& entry : listOf(now, key)) {
            if (std::find(old.begin(), old.end(), entry) != old.end()) continue;
            if (const std::string wrong = wrongIn(library, whole, entry); !wrong.empty())
                return fail(ErrorCode::BadInput, wrong);
        }
    }
    return {};
}

/// With what it inherits.
Kind wholeKind(const model::Library& library, const ValueMap& own) {
    std::vector<std::string> ignored;
    const Kind* parent = library.kindNamed(model::textOf(own, "inherits"));
    return model::kindFrom(parent != nullptr ? model::inherited(model::toValues(*parent), own) : own, ignored);
}

}  // namespace

Result<Migration> setKind(edit::Draft& draft, std::string kind, const ValueMap& asked,
                          const std::map<std::string, std::string>& renamed) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    edit::Session& session = draft.session();
    const Kind* known = session.library().kindNamed(kind);
    if (known == nullptr) return tl::unexpected(noKind(kind).error());
    const ValueMap own = renamed.empty() ? asked : carriedAlong(asked, renamed);
    if (model::textOf(own, "name") != kind)
        return fail(ErrorCode::BadInput, "A kind’s name is changed by renaming it, for its objects must follow.");
    std::vector<std::string> problems;
    const Kind read = model::kindFrom(own, problems);
    if (!problems.empty()) return fail(ErrorCode::BadInput, fmt::format("{}: {}", kind, problems.front()));
    if (!read.inherits.empty() && session.library().kindNamed(read.inherits) == nullptr)
        return tl::unexpected(noKind(read.inherits).error());
    if (isCircle(session.library(), kind, read.inherits))
        return fail(ErrorCode::BadInput, fmt::format("{} would inherit from itself.", kind));
    if (Status fit = changedEntriesFit(session.library(), wholeKind(session.library(), own), known->own, own); !fit)
        return tl::unexpected(fit.error());
    for (const auto& [from, to] : renamed)
        if (read.property(to) == nullptr)
            return fail(ErrorCode::BadInput,
                        fmt::format("{}: “{}” cannot become “{}”, which is no property.", kind, from, to));
    std::map<std::string, Kind> before;
    for (const std::string& name : withHeirs(session.library(), kind))
        before[name] = *session.library().kindNamed(name);
    const std::string here = draft.scene().name();
    if (Status written = writeKind(draft, known->document, own); !written) return tl::unexpected(written.error());
    if (!renamed.empty())
        for (const auto& [heir, was] : before)
            if (const ValueMap along = carriedAlong(was.own, renamed); heir != kind && along != was.own)
                if (Status written = writeKind(draft, was.document, along); !written)
                    return tl::unexpected(written.error());
    Migration report;
    Migrator migrator(renamed, report);
    if (Status done = migrate(draft, before, migrator); !done) return tl::unexpected(done.error());
    if (Status back = draft.turnTo(here); !back) return tl::unexpected(back.error());
    return report;
}

namespace {

/// Tints of guises are by kind.
Status renameInGuises(edit::Draft& draft, const std::string& from, const std::string& to) {
    const model::Library::Guises guises = draft.session().library().guises();
    for (const auto& [name, guise] : guises) {
        const auto tint = guise.tints.find(from);
        if (tint == guise.tints.end()) continue;
        model::Guise after = guise;
        after.tints.erase(from);
        after.tints[to] = tint->second;
        const Status put = putEntry(draft, std::string(model::data::kGuises), name, model::toValues(after));
        if (!put) return put;
    }
    return {};
}

}  // namespace

Status renameKind(edit::Draft& draft, std::string kind, std::string name) {
    if (!draft.state()) return draft.state();
    edit::Session& session = draft.session();
    const Kind* known = session.library().kindNamed(kind);
    if (known == nullptr) return noKind(kind);
    if (Status usable = usableKindName(session, name); !usable) return usable;
    const std::string here = draft.scene().name();
    const std::string was = known->document, becomes = documentAfter(session, *known, name);
    std::vector<std::pair<std::string, ValueMap>> changed;
    for (const Kind& other : session.library().kinds()) {
        Value own{other.own};
        bool any = renameIn(own, kind, name, false);
        auto& map = std::get<ValueMap>(own.data);
        if (other.name == kind) model::setValue(map, "name", {name}), any = true;
        if (other.inherits == kind) model::setValue(map, "inherits", {name}), any = true;
        if (any) changed.emplace_back(other.name == kind ? becomes : other.document, std::move(map));
    }
    if (becomes != was)
        if (Status gone = writeKind(draft, was, std::nullopt); !gone) return gone;
    for (auto& [document, own] : changed)
        if (Status written = writeKind(draft, document, std::move(own)); !written) return written;
    const std::string items(model::data::kItems);
    std::vector<std::string> keys;
    std::vector<std::optional<ValueMap>> values;
    for (const auto& [key, entry] : session.entries(items)) {
        if (key.empty() || model::textOf(entry, "kind") != kind) continue;
        ValueMap after = entry;
        model::setValue(after, "kind", {name});
        keys.push_back(key);
        values.emplace_back(std::move(after));
    }
    if (!keys.empty())
        if (Status written = draft.setEntries(items, keys, values); !written) return written;
    if (Status tinted = renameInGuises(draft, kind, name); !tinted) return tinted;
    const base::Name from = session.intern(kind), to = session.intern(name);
    for (const std::string& document : allDocuments(session)) {
        if (Status turned = draft.turnTo(document); !turned) return turned;
        Ids ids;
        for (Slot s : draft.scene().ownSubtree(kNoSlot))
            if (draft.scene().kind(s) == from) ids.push_back(draft.scene().id(s));
        const std::vector<base::Name> names(ids.size(), to);
        if (ids.empty()) continue;
        if (Status done = draft.setLabels(model::LabelField::Kind, ids, names); !done) return done;
    }
    return draft.turnTo(here);
}

Status removeKind(edit::Draft& draft, std::string kind) {
    if (!draft.state()) return draft.state();
    const model::Library& library = draft.session().library();
    const Kind* known = library.kindNamed(kind);
    if (known == nullptr) return noKind(kind);
    for (const Kind& other : library.kinds())
        if (other.inherits == kind)
            return fail(ErrorCode::Refused,
                        fmt::format("{} inherits from {}, which therefore stays.", other.name, kind));
    return writeKind(draft, known->document, std::nullopt);
}

Result<std::size_t> changeKind(edit::Draft& draft, std::span<const ObjectId> ids, std::string kind) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const Kind* becomes = kind.empty() ? nullptr : draft.session().library().kindNamed(kind);
    if (!kind.empty() && becomes == nullptr) return tl::unexpected(noKind(kind).error());
    std::size_t aside = 0;
    for (const ObjectId id : ids) {
        const Slot s = draft.scene().find(id);
        if (s == kNoSlot) return tl::unexpected(edit::Draft::noObject(id).error());
        const auto& detail = draft.scene().detail(s);
        if (detail && becomes != nullptr) aside += setAside(*becomes, detail->properties).size();
    }
    const std::vector<base::Name> names(ids.size(), draft.session().intern(kind));
    if (Status done = draft.setLabels(model::LabelField::Kind, ids, names); !done) return tl::unexpected(done.error());
    return aside;
}

Result<std::string> putInStock(edit::Draft& draft, const std::string& kind, std::string key, model::ItemFacts facts) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const Kind* known = draft.session().library().kindNamed(kind);
    if (known == nullptr) return tl::unexpected(noKind(kind).error());
    const std::string stem = base::plainFileName(base::lowered(kind));
    const auto& entries = draft.session().entries(std::string(model::data::kItems));
    const auto isTaken = [&] {
        return entries.contains(key) || draft.session().library().item(draft.session().intern(key)) != nullptr;
    };
    if (key.empty()) {
        key = stem;
        for (int n = 2; isTaken(); ++n) key = fmt::format("{} {}", stem, n);
    }
    facts.label = kind;
    facts.folder = known->category.empty() ? kind : known->category;
    facts.kind = kind;
    facts.offered = true;
    facts.favourite = false;
    std::optional<ValueMap> said = ValueMap();
    model::putFacts(*said, facts);
    if (Status done = draft.setEntries(std::string(model::data::kItems), {&key, 1}, {&said, 1}); !done)
        return tl::unexpected(done.error());
    return key;
}

ValueMap setAside(const Kind& kind, const ValueMap& values) {
    ValueMap aside;
    for (const auto& [key, value] : values) {
        const Property* property = kind.property(key);
        if (property == nullptr || !model::fitted(*property, value)) aside.emplace_back(key, value);
    }
    return aside;
}

std::vector<std::string> missingKinds(const model::Library& library, const model::Scene& scene) {
    std::vector<std::string> lines;
    for (const Kind& kind : library.kinds()) {
        if (kind.needed == model::Needed::Any) continue;
        std::size_t count = 0;
        for (Slot s = 0; s < scene.slotEnd(); ++s)
            if (scene.alive(s) && scene.kindText(s) == kind.name) ++count;
        const bool one = kind.needed == model::Needed::ExactlyOne;
        if (count == 0)
            lines.push_back(
                fmt::format("There is no {}, and {} is needed.", kind.name, one ? "exactly one" : "at least one"));
        else if (one && count > 1)
            lines.push_back(fmt::format("There are {} of {}, and exactly one is needed.", count, kind.name));
    }
    return lines;
}

Status press(edit::Draft& draft, std::span<const ObjectId> ids, const model::KindButton& button) {
    if (!draft.state()) return draft.state();
    if (button.does == model::KindButton::Does::Reset) {
        if (!button.property.empty()) return resetProperty(draft, ids, button.property);
        std::set<std::string> names;
        for (ObjectId id : ids)
            if (const Kind* kind = draft.session().library().kind(draft.scene().kind(draft.scene().find(id))))
                for (const Property& p : kind->properties) names.insert(p.name);
        for (const std::string& name : names)
            if (Status done = resetProperty(draft, ids, name); !done) return done;
        return {};
    }
    return changeProperty(
        draft, ids, button.property, [&](const Property& property, const Value& present) -> Result<Value> {
            if (property.type == model::PropertyType::Bool)
                return Value{!(std::holds_alternative<bool>(present.data) && std::get<bool>(present.data))};
            if (property.type == model::PropertyType::Choice && !property.choices.empty()) {
                const auto* text = std::get_if<std::string>(&present.data);
                std::size_t at = 0;
                while (at < property.choices.size() && (text == nullptr || property.choices[at].value != *text)) ++at;
                return Value{property.choices[(at + 1) % property.choices.size()].value};
            }
            double room = 0;
            const double* number = model::asNumber(present, room);
            if (number == nullptr)
                return fail(ErrorCode::BadInput, fmt::format("{} has no next value.", property.label));
            double next = *number + property.step.value_or(1);
            if (property.high && next > *property.high + 1e-9) next = property.low.value_or(0);
            return property.type == model::PropertyType::Integer ? Value{static_cast<std::int64_t>(std::llround(next))}
                                                                 : Value{next};
        });
}

}  // namespace ops
