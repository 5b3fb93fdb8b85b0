#pragma once
// The designer's verbs on kinds: made, changed, renamed, deleted; objects follow in every scene and definition of the
// project, within the same step. Names come as copies: they may be those of the library, which changes meanwhile.
#include <map>
#include <string>

#include "model/item.h"
#include "ops/prefab.h"

namespace ops {

/// What came of the objects when a kind changed.
struct Migration {
    std::size_t renamed = 0;  ///< values that stand under a new name
    std::size_t retyped = 0;  ///< values read anew as another type
    std::size_t aside = 0;    ///< values that no property of the kind takes any more; they stay with their objects
    std::vector<std::string> lines;  ///< the first of those set aside: "lower-basin › Lantern post 7: oil was 3"
};

/// A new kind, beginning as `like` is (empty: with nothing). Errors: BadInput for a name that cannot be or is in use;
/// NotFound for `like`.
base::Status newKind(edit::Draft& draft, std::string name, std::string like);
/// A new kind that inherits from another.
base::Status newKindOf(edit::Draft& draft, std::string name, std::string parent);

/// Makes a kind say this (as its file has it), and brings its objects, and those of kinds that inherit from it, in
/// line. `renamed`: properties by their old names; conditions, choices, appearances, buttons and facts that name them
/// follow, in heirs too. Errors: NotFound; BadInput naming what the file would be wrong in, or what an entry that is
/// new in it names that is not there.
base::Result<Migration> setKind(edit::Draft& draft, std::string kind, const model::ValueMap& own,
                                const std::map<std::string, std::string>& renamed = {});
/// Objects, items, kinds that inherit and links that ask for it follow.
base::Status renameKind(edit::Draft& draft, std::string kind, std::string name);
/// The objects of a kind, in every scene and prefab. Loads every scene. Errors: of reading one.
base::Result<std::vector<Use>> kindUses(edit::Session& session, const std::string& kind);
/// Objects stay, of a kind that is not there. Errors: NotFound; Refused while others inherit from it.
base::Status removeKind(edit::Draft& draft, std::string kind);

/// Objects become of another kind (empty: of none). Values that it takes stay; the others stay with them by name, set
/// aside; gives how many those are. Errors: NotFound.
base::Result<std::size_t> changeKind(edit::Draft& draft, std::span<const base::ObjectId> ids, std::string kind);
/// The kind can be placed: the item of this key (empty: a new one after the kind's name), in the Stock's folder that
/// the kind names; without a model, unless one of that name comes. What `facts` says of its model is kept. Gives the
/// key. Errors: NotFound.
base::Result<std::string> putInStock(edit::Draft& draft, const std::string& kind, std::string key = {},
                                     model::ItemFacts facts = {});

/// Values of an object that its kind does not take: of a property that went, or that was of another type.
model::ValueMap setAside(const model::Kind& kind, const model::ValueMap& values);

/// What a kind that must exist is missing or has too many of in a scene: "There is no Level start, and exactly one is
/// needed." Empty: nothing.
std::vector<std::string> missingKinds(const model::Library& library, const model::Scene& scene);

/// A button of a kind is pressed: objects of it change as the button says.
base::Status press(edit::Draft& draft, std::span<const base::ObjectId> ids, const model::KindButton& button);

}  // namespace ops
