#pragma once
// Prefabs expanded the plain way: from what each document itself holds, anew each time. What the scene keeps up to
// date step by step is compared with this.
#include <map>

#include "support/test_project.h"

namespace test {

struct NaiveRow {
    base::ObjectId id, parent;
    model::ObjectRecord record;
};

/// All objects of a scene or definition, in no particular order.
std::vector<NaiveRow> naiveRows(edit::Session& session, const std::string& document);

/// Empty when the document's rows are those; else the first that is not.
std::string differsFromNaive(edit::Session& session, const std::string& document);

/// Every scene and definition that exists, as their files would be.
std::map<std::string, std::string> documentBytes(edit::Session& session);

/// Every object of a document with all its fields, in tree order, one a line.
std::string rowsText(edit::Session& session, const std::string& document);

}  // namespace test
