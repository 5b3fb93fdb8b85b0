#pragma once
// What a script can call, as plain functions over values: no Lua in here, so that an error may unwind.
#include <string>
#include <variant>
#include <vector>

#include "edit/draft.h"
#include "script/engine.h"

namespace script {

struct Nothing {};
/// An argument or a result; lists are of objects.
using Datum = std::variant<Nothing, bool, double, std::string, base::ObjectId, std::vector<base::ObjectId>>;
using Data = std::vector<Datum>;

/// What ends a call: shown to the script as its error.
struct Trouble {
    std::string message;
    bool refused = false;  ///< a verb refused
};

struct Context {
    edit::Draft& draft;
    const Settings& settings;
    std::vector<std::string> said;
    base::Random random;
    base::ObjectId atHand;  ///< the last object a function was given
};

/// A function as scripts see it.
struct Binding {
    Function about;
    bool onObject = false;  ///< a method: the first argument is an object that is there
    Data (*call)(Context&, const Data&) = nullptr;
};
/// Those of objects are called object:name(...).
const std::vector<Binding>& bindings();

}  // namespace script
