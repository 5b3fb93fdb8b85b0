#include "ops/chance.h"

#include "ops/assortments.h"

#include <algorithm>

#include "base/text.h"

namespace ops {

std::vector<std::string> variationsOf(const model::Library& library, const std::string& item) {
    std::vector<std::string> all;
    const auto own = base::splitNumber(item);
    if (own.number >= 0)
        for (const model::Item& other : library.items())
            if (const auto split = base::splitNumber(other.name); split.number >= 0 && split.stem == own.stem)
                all.push_back(other.name);
    std::sort(all.begin(), all.end());
    return all.empty() ? std::vector<std::string>{item} : all;
}

base::Vec3 tintByChance(base::Random& random, double share) {
    const double least = 1 - std::clamp(share, 0.0, 1.0);
    const double brightness = random.between(least, 1);
    base::Vec3 tint;
    constexpr double kColour = 0.4;  // of what is taken away, this much differs between the three
    for (int k = 0; k < 3; ++k) tint[k] = std::clamp(brightness - (1 - least) * kColour * random.unit(), 0.0, 1.0);
    return tint;
}

void vary(edit::Session& session, Placement& placement, const Chances& chances, base::Random& random) {
    const std::string wanted(session.names().text(placement.item));
    const auto all = chances.variations ? variationsOf(session.library(), wanted) : std::vector<std::string>{wanted};
    const auto which = static_cast<std::size_t>(random.unit() * static_cast<double>(all.size())) % all.size();
    placement.item = session.intern(all[which]);
    if (const auto mix = session.library().mixes().find(chances.mix); mix != session.library().mixes().end())
        if (const std::string drawn = drawFrom(session.library(), mix->second, random); !drawn.empty())
            placement.item = session.intern(drawn);
    const double turn = base::radians(random.between(-chances.turnDegrees, chances.turnDegrees));
    placement.rotation = placement.rotation * glm::angleAxis(turn, base::Vec3(0, 1, 0));
    placement.size *= random.between(chances.smallest, chances.largest);
}

base::Result<base::ObjectId> placeByChance(edit::Draft& draft, Placement placement, const Chances& chances,
                                           base::Random& random) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    vary(draft.session(), placement, chances, random);
    auto id = place(draft, placement);
    if (!id || chances.tint <= 0 || !takesTint(draft.session(), draft.scene(), draft.scene().find(*id))) return id;
    if (auto tinted = setTint(draft, {&*id, 1}, tintByChance(random, chances.tint)); !tinted)
        return tl::unexpected(tinted.error());
    return id;
}

}  // namespace ops
