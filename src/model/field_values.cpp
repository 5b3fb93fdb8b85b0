#include "model/field_values.h"

#include <fmt/format.h>

namespace model {
namespace {

const ValueMap* mapOf(const Value& value) {
    return std::get_if<ValueMap>(&value.data);
}

/// What an earlier list says of the part that is called as this one; empty: nothing.
ValueMap earlier(const Value* list, const Member& name, const void* part) {
    const auto* all = list != nullptr ? std::get_if<ValueList>(&list->data) : nullptr;
    for (const Value& one : all != nullptr ? *all : ValueList{}) {
        const ValueMap* map = mapOf(one);
        const Value* called = map != nullptr ? valueOf(*map, name.property.name) : nullptr;
        if (called != nullptr && name.get(part) == *called) return *map;
    }
    return {};
}

ValueList partsOver(const Member& member, const void* thing, const Value* before) {
    ValueList list;
    for (std::size_t i = 0; i < member.parts.size(thing); ++i) {
        const void* part = member.parts.at(thing, i);
        ValueMap one = earlier(before, member.parts.fields->members.front(), part);
        putValues(*member.parts.fields, part, one);
        list.push_back({std::move(one)});
    }
    return list;
}

void takeParts(const Member& member, void* thing, const Value& value, std::vector<std::string>& problems) {
    const std::string& key = member.property.name;
    const auto* list = std::get_if<ValueList>(&value.data);
    if (list == nullptr) return problems.push_back(key + ": is no list."), void();
    member.parts.clear(thing);
    for (std::size_t i = 0; i < list->size(); ++i) {
        const ValueMap* map = mapOf((*list)[i]);
        if (map == nullptr) {
            problems.push_back(fmt::format("{}[{}]: is no object.", key, i));
            continue;
        }
        std::vector<std::string> own;
        takeValues(*member.parts.fields, member.parts.add(thing), *map, own);
        for (const std::string& problem : own) problems.push_back(fmt::format("{}[{}].{}", key, i, problem));
    }
}

}  // namespace

void takeValues(const Fields& fields, void* thing, const ValueMap& map, std::vector<std::string>& problems) {
    for (const Member& member : fields.members) {
        const Value* given = valueOf(map, member.property.name);
        if (given == nullptr || !member.stored) continue;
        if (member.parts.fields != nullptr)
            takeParts(member, thing, *given, problems);
        else if (auto set = setMember(fields, thing, member, *given); !set)
            problems.push_back(member.property.name + ": " + set.error().message);
    }
}

void putValues(const Fields& fields, const void* thing, ValueMap& map) {
    for (const Member& member : fields.members) {
        if (!member.stored) continue;
        const std::string& key = member.property.name;
        const Value* before = valueOf(map, key);
        const bool usual = isUsual(member, thing);
        if (usual && before != nullptr && member.parts.fields == nullptr && !fitted(member.property, *before)) continue;
        if (usual && !member.always)
            eraseValue(map, key);
        else if (member.parts.fields != nullptr)
            setValue(map, key, {partsOver(member, thing, before)});
        else if (const auto now = member.get(thing))
            setValue(map, key, *now);
    }
}

Value partsValue(const Member& member, const void* thing) {
    return {partsOver(member, thing, nullptr)};
}

base::Status setParts(const Member& member, void* thing, const Value& value) {
    const Value before = partsValue(member, thing);
    std::vector<std::string> problems;
    takeParts(member, thing, value, problems);
    if (problems.empty()) return {};
    std::vector<std::string> none;
    takeParts(member, thing, before, none);
    return base::fail(base::ErrorCode::BadInput, problems.front());
}

}  // namespace model
