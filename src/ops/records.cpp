#include "ops/records.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/text.h"
#include "ops/names.h"
#include "ops/properties.h"

namespace ops {

namespace {

Status usableName(const std::string& name) {
    if (!name.empty() && name.size() <= 200) return {};
    return fail(ErrorCode::BadInput, "A record’s name is not empty and at most 200 bytes long.");
}

Status write(edit::Draft& draft, std::string type, ObjectId id, std::optional<model::ValueMap> values) {
    const std::string key = base::toText(id);
    return draft.setEntries(model::data::recordsDocument(type), {&key, 1}, {&values, 1});
}

Status noRecord(ObjectId id) {
    return fail(ErrorCode::NotFound, fmt::format("There is no record {}.", base::toText(id)));
}

bool leadsToRecord(const Value& value, ObjectId id) {
    if (model::recordIn(value) == id) return true;
    const auto* list = std::get_if<model::ValueList>(&value.data);
    return list != nullptr &&
           std::any_of(list->begin(), list->end(), [&](const Value& v) { return leadsToRecord(v, id); });
}

}  // namespace

FoundRecord findRecord(const model::Library& library, ObjectId id) {
    for (const auto& [name, type] : library.recordTypes())
        if (auto place = type.records.find(id); place != type.records.end()) return {&type, &place->second};
    return {};
}

namespace {

/// The property of one link: itself, or what a list of links holds. Null: it links to no record.
const model::Property* recordPart(const model::Property& property) {
    const bool list = property.type == model::PropertyType::List && !property.element.empty();
    const model::Property& part = list ? property.element[0] : property;
    return part.type == model::PropertyType::Record ? &part : nullptr;
}

/// The ids of the records a property may lead to that are called so.
std::vector<ObjectId> recordsNamed(const model::Library& library, const model::Property& part, std::string_view name) {
    std::vector<ObjectId> ids;
    for (const auto& [key, type] : library.recordTypes()) {
        if (!part.records.empty() && key != part.records) continue;
        for (const auto& [id, record] : type.records)
            if (base::sameFolded(record.name, name)) ids.push_back(id);
    }
    return ids;
}

}  // namespace

Result<Value> typedValue(const model::Library& library, const model::Property& property, std::string_view text,
                         const Value& present) {
    const model::Property* part = recordPart(property);
    if (part == nullptr) return typedValue(property, text, present);
    std::string ids;
    for (const std::string_view name : base::split(text, '|')) {
        if (!ids.empty()) ids += '|';
        const auto parsed = base::parseObjectId(name);
        if (name.empty() || (parsed && findRecord(library, *parsed).record != nullptr)) {
            ids += name;
            continue;
        }
        const auto found = recordsNamed(library, *part, name);
        if (found.size() != 1)
            return fail(ErrorCode::NotFound, found.empty()
                                                 ? fmt::format("{}: there is no record “{}”.", property.label, name)
                                                 : fmt::format("{}: {} records are called “{}”; give the id of one.",
                                                               property.label, found.size(), name));
        ids += base::toText(found[0]);
    }
    return typedValue(property, ids, present);
}

std::string valueText(const model::Library& library, const model::Property& property, const Value& value) {
    const model::Property* part = recordPart(property);
    if (part == nullptr) return model::valueText(property, value);
    if (const auto* list = std::get_if<model::ValueList>(&value.data)) {
        std::string text;
        for (const Value& one : *list) text.append(text.empty() ? "" : " | ").append(valueText(library, *part, one));
        return text;
    }
    const model::Record* record = findRecord(library, model::recordIn(value)).record;
    const bool plain = record != nullptr && record->name.find('|') == std::string::npos &&
                       base::trimmed(record->name) == record->name &&
                       recordsNamed(library, *part, record->name).size() == 1;
    return plain ? record->name : model::valueText(property, value);
}

const Value& recordValue(const model::Record& record, const model::Property& property, Value& room) {
    return *model::valueOr(property, record.values, room);
}

Result<ObjectId> newRecord(edit::Draft& draft, std::string type, std::string name, ObjectId like) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const model::RecordType* known = draft.session().library().recordType(type);
    if (known == nullptr) return fail(ErrorCode::NotFound, fmt::format("There are no records of type “{}”.", type));
    if (Status usable = usableName(name); !usable) return tl::unexpected(usable.error());
    model::ValueMap values = {{"name", {name}}};
    if (like) {
        auto place = known->records.find(like);
        if (place == known->records.end()) return tl::unexpected(noRecord(like).error());
        values = place->second.values;
        model::setValue(values, "name", {name});
    }
    const ObjectId id = draft.session().random().nextId();
    if (Status done = write(draft, type, id, std::move(values)); !done) return tl::unexpected(done.error());
    return id;
}

Status setRecord(edit::Draft& draft, ObjectId id, std::string name, const Value& value) {
    if (!draft.state()) return draft.state();
    const FoundRecord found = findRecord(draft.session().library(), id);
    if (found.record == nullptr) return noRecord(id);
    const auto& all = found.type->properties;
    const auto property = std::find_if(all.begin(), all.end(), [&](const auto& p) { return p.name == name; });
    if (property == all.end())
        return fail(ErrorCode::NotFound, fmt::format("Records of {} have no property “{}”.", found.type->label, name));
    auto fine = model::fitted(*property, value);
    if (!fine) return tl::unexpected(fine.error());
    model::ValueMap values = found.record->values;
    if (*fine == model::defaultOf(*property))
        model::eraseValue(values, name);
    else
        model::setValue(values, name, std::move(*fine));
    return write(draft, found.type->name, id, std::move(values));
}

Status renameRecord(edit::Draft& draft, ObjectId id, std::string name) {
    if (!draft.state()) return draft.state();
    const FoundRecord found = findRecord(draft.session().library(), id);
    if (found.record == nullptr) return noRecord(id);
    if (Status usable = usableName(name); !usable) return usable;
    model::ValueMap values = found.record->values;
    model::setValue(values, "name", {name});
    return write(draft, found.type->name, id, std::move(values));
}

Status deleteRecord(edit::Draft& draft, ObjectId id) {
    if (!draft.state()) return draft.state();
    const FoundRecord found = findRecord(draft.session().library(), id);
    if (found.record == nullptr) return noRecord(id);
    return write(draft, found.type->name, id, std::nullopt);
}

Result<std::vector<Use>> recordUses(edit::Session& session, ObjectId id) {
    std::vector<Use> all;
    std::vector<std::string> documents = session.project().sceneNames;
    for (const auto& [prefab, scene] : session.definitions()) documents.push_back(scene->name());
    for (const std::string& name : documents) {
        auto scene = session.scene(name);
        if (!scene) return tl::unexpected(scene.error());
        Use use{name, {}};
        for (Slot s : (*scene)->subtree(kNoSlot)) {
            if (!(*scene)->detail(s)) continue;
            for (const auto& [key, value] : (*scene)->detail(s)->properties)
                if (leadsToRecord(value, id)) {
                    use.ids.push_back((*scene)->id(s));
                    break;
                }
        }
        if (!use.ids.empty()) all.push_back(std::move(use));
    }
    return all;
}

Status newRecordType(edit::Draft& draft, std::string type) {
    if (!draft.state()) return draft.state();
    const bool usable = !type.empty() && type.size() <= 60 && std::all_of(type.begin(), type.end(), [](char c) {
        return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '-' || c == '_';
    });
    if (!usable) return fail(ErrorCode::BadInput, "A record type is called with letters, digits and dashes.");
    if (draft.session().library().recordType(type) != nullptr)
        return fail(ErrorCode::BadInput, fmt::format("There is a record type “{}” already.", type));
    const std::string key;
    const std::optional<model::ValueMap> head = model::ValueMap{{"label", {type}}};
    return draft.setEntries(model::data::recordsDocument(type), {&key, 1}, {&head, 1});
}

Status setRecordType(edit::Draft& draft, std::string type, const model::ValueMap& head,
                     const std::map<std::string, std::string>& renamed) {
    if (!draft.state()) return draft.state();
    const model::RecordType* known = draft.session().library().recordType(type);
    if (known == nullptr) return fail(ErrorCode::NotFound, fmt::format("There is no record type “{}”.", type));
    std::vector<std::string> problems;
    model::kindFrom(head, problems);
    if (!problems.empty()) return fail(ErrorCode::BadInput, fmt::format("{}: {}", type, problems.front()));
    std::vector<std::string> keys = {""};
    std::vector<std::optional<model::ValueMap>> values = {head};
    for (const auto& [id, record] : known->records) {
        model::ValueMap after = record.values;
        for (auto& [key, value] : after)
            if (const auto name = renamed.find(key); name != renamed.end()) key = name->second;
        if (after == record.values) continue;
        keys.push_back(base::toText(id));
        values.emplace_back(std::move(after));
    }
    return draft.setEntries(model::data::recordsDocument(type), keys, values);
}

Status removeRecordType(edit::Draft& draft, std::string type) {
    if (!draft.state()) return draft.state();
    const std::string document = model::data::recordsDocument(type);
    std::vector<std::string> keys;
    for (const auto& [key, values] : draft.session().entries(document)) keys.push_back(key);
    if (keys.empty()) return fail(ErrorCode::NotFound, fmt::format("There is no record type “{}”.", type));
    return draft.setEntries(document, keys, std::vector<std::optional<model::ValueMap>>(keys.size()));
}

}  // namespace ops
