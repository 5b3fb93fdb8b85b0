#include "io/wardrobe.h"

#include <fmt/format.h>

#include "io/image_head.h"
#include "io/names.h"
#include "model/facets/tint.h"

namespace io {

using model::Slot;

Wardrobe::Wardrobe(const ExportSource& source, bool states) : source_(source), states_(states) {
    const std::string& name = source.scene.settings().guise;
    guise_ = name.empty() ? nullptr : source.library.guise(name);
}

model::Appearance Wardrobe::appearanceOf(Slot s) const {
    const model::Kind* kind = states_ ? source_.library.kind(source_.scene.kind(s)) : nullptr;
    if (kind == nullptr || kind->appearances.empty()) return {};
    const model::ValueMap none;
    const auto& detail = source_.scene.detail(s);
    return model::appearanceOf(*kind, detail ? detail->properties : none, 0);
}

std::optional<Wardrobe::Worn> Wardrobe::of(Slot s) {
    const model::Scene& scene = source_.scene;
    model::Appearance is = appearanceOf(s);
    if (is.moves()) ++moving_;
    const auto meshOf = [&](const std::string& item) { return source_.meshOf(scene.names().find(item)); };
    Worn worn;
    worn.item = is.item.empty() ? std::string(scene.itemText(s)) : is.item;
    if (guise_ != nullptr)
        worn.item =
            query::itemInGuise(*guise_, scene, s, is, [&](const std::string& item) { return meshOf(item) != nullptr; });
    if (worn.item.empty()) return std::nullopt;
    worn.mesh = meshOf(worn.item);
    if (worn.mesh == nullptr || worn.mesh->submeshes.empty()) {
        lostItems_.insert(worn.item);
        return std::nullopt;
    }
    const auto* own = scene.facet<model::Tint>(s);
    worn.tint = (own != nullptr ? own->colour : base::Vec3(1.0)) * is.tint.value_or(base::Vec3(1.0));
    const auto names = shape::slotNames(*worn.mesh);
    const auto shows = query::slotShows(source_.library, names, query::surfacesOf(scene, s, names, is, guise_));
    const base::Vec3 size = scene.local(s).scale;
    worn.key = worn.item + query::keyOf(shows, size);
    if (!shows.empty()) {
        auto& dress = dresses_[worn.key];
        if (!dress) dress = dressed(*worn.mesh, shows, size);
        worn.mesh = dress.get();
    }
    worn.key = fmt::format("{},{},{}|{}", worn.tint.x, worn.tint.y, worn.tint.z, worn.key);
    return worn;
}

/// A slot that shows a surface is called after that.
std::unique_ptr<const shape::Mesh> Wardrobe::dressed(const shape::Mesh& mesh, const std::vector<query::SlotShow>& shows,
                                                     const base::Vec3& size) {
    std::vector<shape::SlotLook> looks;
    for (const query::SlotShow& show : shows) {
        shape::SlotLook& look = looks.emplace_back(show.look);
        if (show.missing) {
            missingSurfaces_.insert(show.surface);
        } else if (!show.image.empty()) {
            if (auto image = imageOf(show.image)) look.image = std::move(*image);
            if (look.stretched && show.fit != model::ImageFit::Stretch) ++shaped_;
        }
    }
    auto made = std::make_unique<shape::Mesh>(shape::dressed(mesh, looks, size));
    for (const query::SlotShow& show : shows)
        if (!show.surface.empty()) made->materials[show.look.slot].name = show.surface;
    return made;
}

std::optional<shape::Image> Wardrobe::imageOf(const std::string& name) {
    const auto [place, isNew] = images_.try_emplace(name);
    if (!isNew) return place->second;
    auto bytes = source_.imageOf ? source_.imageOf(name)
                                 : base::Result<std::string>(fail(ErrorCode::NotFound, "There are no images."));
    if (!bytes) {
        lost_.push_back(fmt::format("The image “{}” is left out: {}", name, bytes.error().message));
    } else if (auto head = imageHeadOf(*bytes, name); !head) {
        lost_.push_back(fmt::format("The image “{}” is left out: {}", name, head.error().message));
    } else {
        const char* type = bytes->starts_with("\xFF\xD8") ? "image/jpeg" : "image/png";
        place->second = shape::Image{type, std::move(*bytes)};
    }
    return place->second;
}

std::vector<std::string> Wardrobe::report() const {
    std::vector<std::string> all = lost_;
    for (const std::string& item : lostItems_)
        all.push_back("The model of item “" + item +
                      "” could not be read, so its objects are exported without a mesh.");
    for (const std::string& surface : missingSurfaces_)
        all.push_back(
            fmt::format("The surface “{}” is not in the library: what wears it has its own colours.", surface));
    if (shaped_ > 0)
        all.push_back(fmt::format("Images that fit or fill their face are stretched over it: {} {}.", shaped_,
                                  shaped_ == 1 ? "look" : "looks"));
    if (moving_ > 0)
        all.push_back(fmt::format("Looks that move on a clock stand as they begin: {} {}.", moving_,
                                  moving_ == 1 ? "object" : "objects"));
    return all;
}

}  // namespace io
