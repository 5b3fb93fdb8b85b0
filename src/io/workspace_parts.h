#pragma once
// What the sources of workspace.h share.
#include "io/workspace.h"

namespace io {

/// A document as its file has it, and what is wrong there.
struct ReadDocument {
    edit::LoadedScene loaded;
    std::vector<Damage> damage;
    base::ObjectId prefab;  ///< of a definition's file
};
/// Reads one from a file, which `shown` names in messages; changes nothing else. Errors: those of reading it.
base::Result<ReadDocument> readDocument(Workspace& workspace, const model::Project& project,
                                        const std::string& document, const std::filesystem::path& file);
/// Where a document's file lies, or would; empty: a definition without one. Errors: Refused (no name of a document,
/// leads out of the project).
base::Result<std::filesystem::path> documentFile(const Workspace& workspace, const model::Project& project,
                                                 const std::string& document);
/// Says how its file is now, so that only what is written later counts as a change of others.
void stamp(Workspace& workspace, const std::string& document, const std::filesystem::path& file);

/// All models of the project, those that wait too.
void loadItems(model::Project& project, Workspace& workspace);
/// Brings the library in line with what is said of items, and with the files that steps brought.
void takeItems(Workspace& workspace, model::Project& project, const model::DataEntries& entries,
               std::vector<std::string>& problems);
/// Only where nothing is overwritten, and never out of the project. Errors: Refused, Io.
base::Status moveFile(const std::filesystem::path& folder, const std::filesystem::path& from,
                      const std::filesystem::path& to);
/// Models of items that are deleted wait beside the ledger; those that are back return.
base::Status moveItemModels(const Workspace& workspace);

}  // namespace io
