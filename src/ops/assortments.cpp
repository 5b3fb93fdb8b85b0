#include "ops/assortments.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/units.h"
#include "ops/entries.h"
#include "ops/names.h"

namespace ops {
namespace {

const std::string kMixes(model::data::kMixes), kSets(model::data::kSets);

bool isItem(const model::Library& library, std::string_view name) {
    return std::any_of(library.items().begin(), library.items().end(),
                       [&](const model::Item& item) { return item.name == name && !item.isSolid; });
}

Status usableNameOf(const std::string& what, const std::string& name) {
    if (!name.empty() && name.size() <= 100) return {};
    return fail(ErrorCode::BadInput, fmt::format("The name of {} is not empty and at most 100 bytes long.", what));
}

Status noItem(const std::string& name) {
    return fail(ErrorCode::NotFound, fmt::format("There is no item “{}”.", name));
}

}  // namespace

Status putMix(edit::Draft& draft, const model::Mix& mix) {
    if (!draft.state()) return draft.state();
    if (Status named = usableNameOf("a mix", mix.name); !named) return named;
    if (mix.shares.empty()) return fail(ErrorCode::BadInput, "A mix is of at least one item.");
    for (const auto& [item, share] : mix.shares) {
        if (!isItem(draft.session().library(), item)) return noItem(item);
        if (!(share > 0 && share <= 1e6))
            return fail(ErrorCode::BadInput, fmt::format("The share of “{}” is above 0 and at most 1,000,000.", item));
    }
    return putEntry(draft, kMixes, mix.name, model::toValues(mix));
}

Status putSet(edit::Draft& draft, const model::PieceSet& set) {
    if (!draft.state()) return draft.state();
    if (Status named = usableNameOf("a set of pieces", set.name); !named) return named;
    if (!(set.cellMetres >= 0.01 && set.cellMetres <= 1000))
        return fail(ErrorCode::BadInput, "A cell is from 1 cm to 1,000 m wide.");
    if (set.pieces.empty()) return fail(ErrorCode::BadInput, "A set is of at least one piece.");
    for (const auto& piece : set.pieces)
        if (!isItem(draft.session().library(), piece.item)) return noItem(piece.item);
    return putEntry(draft, kSets, set.name, model::toValues(set));
}

Status removeMix(edit::Draft& draft, const std::string& name) {
    if (!draft.state()) return draft.state();
    if (!draft.session().library().mixes().contains(name))
        return fail(ErrorCode::NotFound, fmt::format("There is no mix “{}”.", name));
    return putEntry(draft, kMixes, name, std::nullopt);
}

Status removeSet(edit::Draft& draft, const std::string& name) {
    if (!draft.state()) return draft.state();
    if (!draft.session().library().sets().contains(name))
        return fail(ErrorCode::NotFound, fmt::format("There is no set of pieces “{}”.", name));
    return putEntry(draft, kSets, name, std::nullopt);
}

base::Result<model::Mix> parseMix(const std::string& name, std::span<const std::string> shares) {
    model::Mix mix;
    mix.name = name;
    for (const std::string& text : shares) {
        const auto at = text.rfind('=');
        const auto share =
            base::evaluateQuantity(at == std::string::npos ? "" : text.substr(at + 1), base::Quantity::Factor, 0.0);
        if (at == 0 || !share || !(*share > 0))
            return fail(ErrorCode::BadInput, fmt::format("“{}”: an item, =, and a share above 0 were expected.", text));
        mix.shares[text.substr(0, at)] = *share;
    }
    return mix;
}

std::string drawFrom(const model::Library& library, const model::Mix& mix, base::Random& random) {
    double sum = 0;
    for (const auto& [item, share] : mix.shares)
        if (isItem(library, item)) sum += share;
    double at = random.unit() * sum;
    std::string last;
    for (const auto& [item, share] : mix.shares) {
        if (!isItem(library, item)) continue;
        last = item;
        if ((at -= share) < 0) break;
    }
    return last;
}

base::Result<std::size_t> remake(edit::Draft& draft, std::span<const base::ObjectId> ids, const std::string& name,
                                 std::uint64_t seed) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const model::Library& library = draft.session().library();
    const auto found = library.mixes().find(name);
    if (found == library.mixes().end()) return fail(ErrorCode::NotFound, fmt::format("There is no mix “{}”.", name));
    const model::Mix mix = found->second;
    if (Status free = refuseProtected(draft.scene(), ids, "replaced"); !free) return tl::unexpected(free.error());
    std::map<std::string, Ids> by;
    for (base::ObjectId id : ids) {
        base::Random random(base::mixBits(seed) ^ base::mixBits(id.value));
        const std::string item = drawFrom(library, mix, random);
        if (item.empty()) return fail(ErrorCode::NotFound, fmt::format("No item of the mix “{}” is there.", name));
        if (draft.scene().itemText(draft.scene().find(id)) != item) by[item].push_back(id);
    }
    std::size_t count = 0;
    const edit::Draft::Mark mark = draft.mark();
    for (const auto& [item, those] : by) {
        if (auto done = replaceItem(draft, those, draft.session().intern(item), SurfacesGo::Map); !done) {
            draft.rollbackTo(mark);
            return tl::unexpected(done.error());
        }
        count += those.size();
    }
    return count;
}

}  // namespace ops
