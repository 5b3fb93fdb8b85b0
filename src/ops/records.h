#pragma once
// The designer's verbs on records: new, new from another, change, delete; and who refers to one.
#include <map>
#include <string>

#include "ops/prefab.h"

namespace ops {

/// A record type and its record; nulls: there is none of that id.
struct FoundRecord {
    const model::RecordType* type = nullptr;
    const model::Record* record = nullptr;
};
FoundRecord findRecord(const model::Library& library, base::ObjectId id);
/// What is typed for a property, records by their names as well as by their ids. Errors: as the other typedValue();
/// NotFound for a name no record of that type has, or several.
base::Result<model::Value> typedValue(const model::Library& library, const model::Property& property,
                                      std::string_view text, const model::Value& present);
/// What that reads back as the value: records by name where only one is called so.
std::string valueText(const model::Library& library, const model::Property& property, const model::Value& value);
/// The value of a record's property: its own, else the default. `room` is where a default lies.
const model::Value& recordValue(const model::Record& record, const model::Property& property, model::Value& room);

/// A new record of a type, with all that `like` says (zero: nothing). Errors: NotFound; BadInput for an empty name.
base::Result<base::ObjectId> newRecord(edit::Draft& draft, std::string type, std::string name,
                                       base::ObjectId like = {});
/// Errors: NotFound; BadInput for a value that does not fit, or an empty name.
base::Status setRecord(edit::Draft& draft, base::ObjectId id, std::string property, const model::Value& value);
base::Status renameRecord(edit::Draft& draft, base::ObjectId id, std::string name);
/// What links to it keeps the link, which leads nowhere until undo.
base::Status deleteRecord(edit::Draft& draft, base::ObjectId id);
/// The objects that link to a record, in every scene and prefab. Loads every scene. Errors: of reading one.
base::Result<std::vector<Use>> recordUses(edit::Session& session, base::ObjectId id);

/// A type of records without properties. Errors: BadInput for a name that is no file's, or in use.
base::Status newRecordType(edit::Draft& draft, std::string type);
/// What the head of its file says; values of records follow properties that are `renamed`, by their old names.
base::Status setRecordType(edit::Draft& draft, std::string type, const model::ValueMap& head,
                           const std::map<std::string, std::string>& renamed);
/// With all its records; what links to them leads nowhere then.
base::Status removeRecordType(edit::Draft& draft, std::string type);

}  // namespace ops
