#include "model/data.h"

#include <algorithm>

#include "base/files.h"
#include "base/id.h"

namespace model {
namespace data {

const Foldered* folderOf(std::string_view document) {
    for (const Foldered* folder : kFoldered)
        if (document.starts_with(folder->prefix)) return folder;
    return nullptr;
}
std::string_view nameIn(const Foldered& folder, std::string_view document) {
    return document.starts_with(folder.prefix) ? document.substr(folder.prefix.size()) : std::string_view{};
}
std::string fileOf(std::string_view document) {
    if (const Foldered* folder = folderOf(document))
        return std::string(folder->folder).append("/").append(nameIn(*folder, document)).append(folder->ending);
    if (document == kAdded) return ".mellow/added.jsonl";
    return isNamed(document) || document == kChecks ? std::string(document.substr(1)) + ".jsonl" : "project.json";
}
std::string documentIn(const Foldered& folder, std::string_view name) {
    return std::string(folder.prefix).append(name);
}

}  // namespace data

bool isDocument(std::string_view name) {
    if (name.starts_with('#')) return base::parseObjectId(name.substr(1)).has_value();
    if (!data::isData(name)) return base::isFileName(name);
    if (data::isNamed(name) || name == data::kItems || name == data::kChecks || name == data::kAdded) return true;
    const data::Foldered* folder = data::folderOf(name);
    return folder != nullptr && base::isFileName(data::nameIn(*folder, name));
}

const Value* valueOf(const ValueMap& map, std::string_view key) {
    for (const auto& [name, value] : map)
        if (name == key) return &value;
    return nullptr;
}

void setValue(ValueMap& map, std::string_view key, Value value) {
    for (auto& [name, held] : map)
        if (name == key) {
            held = std::move(value);
            return;
        }
    map.emplace_back(std::string(key), std::move(value));
}

void eraseValue(ValueMap& map, std::string_view key) {
    std::erase_if(map, [&](const auto& entry) { return entry.first == key; });
}

std::string textOf(const ValueMap& map, std::string_view key, std::string otherwise) {
    const Value* value = valueOf(map, key);
    const auto* text = value != nullptr ? std::get_if<std::string>(&value->data) : nullptr;
    return text != nullptr ? *text : otherwise;
}

const double* asNumber(const Value& value, double& room) {
    if (const auto* whole = std::get_if<std::int64_t>(&value.data)) return room = static_cast<double>(*whole), &room;
    return std::get_if<double>(&value.data);
}

double numberOf(const ValueMap& map, std::string_view key, double otherwise) {
    const Value* value = valueOf(map, key);
    double room = 0;
    const double* number = value != nullptr ? asNumber(*value, room) : nullptr;
    return number != nullptr ? *number : otherwise;
}

bool boolOf(const ValueMap& map, std::string_view key, bool otherwise) {
    const Value* value = valueOf(map, key);
    const auto* flag = value != nullptr ? std::get_if<bool>(&value->data) : nullptr;
    return flag != nullptr ? *flag : otherwise;
}

std::vector<std::string> textsOf(const ValueMap& map, std::string_view key) {
    std::vector<std::string> texts;
    const Value* value = valueOf(map, key);
    if (const auto* list = value != nullptr ? std::get_if<ValueList>(&value->data) : nullptr)
        for (const Value& one : *list)
            if (const auto* text = std::get_if<std::string>(&one.data)) texts.push_back(*text);
    return texts;
}

}  // namespace model
