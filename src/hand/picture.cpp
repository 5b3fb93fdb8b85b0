#include "hand/picture.h"

// Only here, so that nobody else sees its names.
#define STB_IMAGE_IMPLEMENTATION
#define STB_IMAGE_STATIC
#define STBI_NO_STDIO
#define STB_IMAGE_WRITE_IMPLEMENTATION
#define STB_IMAGE_WRITE_STATIC
#define STBI_WRITE_NO_STDIO
#include <stb/stb_image.h>
#include <stb/stb_image_write.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <memory>

#include "hand/names.h"
#include "io/wardrobe.h"
#include "model/scene_fields.h"

namespace hand {
namespace {

using base::Vec2;
using base::Vec3;

constexpr int kFine = 2;  // so many samples across a pixel, and as many down
constexpr double kNear = 0.05;

/// A picture of a mesh, decoded.
struct Texture {
    int width = 0, height = 0;
    std::unique_ptr<stbi_uc, void (*)(void*)> rgba{nullptr, stbi_image_free};
    Vec3 colourAt(double u, double v, double& alpha) const {
        const auto wrapped = [](double t, int n) {
            const int at = static_cast<int>(std::floor((t - std::floor(t)) * n));
            return std::clamp(at, 0, n - 1);
        };
        const stbi_uc* p =
            rgba.get() + 4 * (static_cast<std::ptrdiff_t>(wrapped(v, height)) * width + wrapped(u, width));
        alpha = p[3] / 255.0;
        return {std::pow(p[0] / 255.0, 2.2), std::pow(p[1] / 255.0, 2.2), std::pow(p[2] / 255.0, 2.2)};
    }
};

struct Light {
    Vec3 towards{0.3, 0.8, 0.5};  ///< unit
    Vec3 sun{1.0}, sky{0.62, 0.72, 0.8}, ground{0.36, 0.38, 0.3};
};

struct Corner {
    Vec3 at, normal;  ///< at: as seen, x to the right, y up, z away
    Vec2 uv;
};

class Canvas {
  public:
    Canvas(const PictureView& view, int width, int height, const Light& light)
        : view_(view), light_(light), w_(width * kFine), h_(height * kFine) {
        forward_ = view.to - view.from;
        forward_ = glm::length(forward_) > 1e-9 ? glm::normalize(forward_) : Vec3(0, 0, -1);
        const Vec3 up = std::abs(forward_.y) > 0.9999 ? Vec3(0, 0, -1) : Vec3(0, 1, 0);
        right_ = glm::normalize(glm::cross(forward_, up));
        up_ = glm::cross(right_, forward_);
        const double half =
            view.heightMetres > 0 ? view.heightMetres / 2 : std::tan(base::radians(view.verticalDegrees) / 2);
        scale_ = h_ / 2.0 / half;
        colours_.assign(static_cast<std::size_t>(w_) * static_cast<std::size_t>(h_), light.sky);
        depths_.assign(colours_.size(), 1e300);
    }

    void draw(const shape::Mesh& mesh, const base::Affine& world, const Vec3& tint) {
        const auto turned = base::inverse(world);
        if (!turned) return;
        const base::Mat3 normals = glm::transpose(turned->linear);
        for (const shape::Submesh& part : mesh.submeshes) {
            const shape::Material& material = mesh.materials[part.material];
            const Texture* texture = material.image >= 0 && mesh.texture.size() == mesh.positions.size()
                                         ? textureOf(mesh.images[static_cast<std::size_t>(material.image)])
                                         : nullptr;
            const Surface surface{Vec3(material.baseColour[0], material.baseColour[1], material.baseColour[2]) * tint,
                                  material.emission, texture, material.alphaMask ? material.alphaCutoff : -1.0};
            for (std::uint32_t i = part.firstIndex; i + 2 < part.firstIndex + part.indexCount; i += 3) {
                std::array<Corner, 3> corners;
                for (std::size_t k = 0; k < 3; ++k) {
                    const std::size_t v = mesh.indices[i + k];
                    const Vec3 p =
                        world.point({mesh.positions[v][0], mesh.positions[v][1], mesh.positions[v][2]}) - view_.from;
                    corners[k].at = {glm::dot(p, right_), glm::dot(p, up_), glm::dot(p, forward_)};
                    corners[k].normal = normals * Vec3(mesh.normals[v][0], mesh.normals[v][1], mesh.normals[v][2]);
                    if (texture != nullptr) corners[k].uv = {mesh.texture[v][0], mesh.texture[v][1]};
                }
                clipped(corners, surface);
            }
        }
    }

    Picture finish() const {
        Picture picture;
        picture.width = w_ / kFine;
        picture.height = h_ / kFine;
        picture.rgb.reserve(static_cast<std::size_t>(picture.width) * static_cast<std::size_t>(picture.height) * 3);
        for (int y = 0; y < picture.height; ++y)
            for (int x = 0; x < picture.width; ++x) {
                Vec3 sum(0.0);
                for (int dy = 0; dy < kFine; ++dy)
                    for (int dx = 0; dx < kFine; ++dx)
                        sum += glm::clamp(colours_[at(x * kFine + dx, y * kFine + dy)], 0.0, 1.0);
                sum /= kFine * kFine;
                for (int k = 0; k < 3; ++k)
                    picture.rgb.push_back(static_cast<std::uint8_t>(std::lround(255 * std::pow(sum[k], 1 / 2.2))));
            }
        return picture;
    }

  private:
    struct Surface {
        Vec3 colour;
        double emission = 0;
        const Texture* texture = nullptr;
        double cutoff = -1;
    };
    std::size_t at(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(w_) + static_cast<std::size_t>(x);
    }
    const Texture* textureOf(const shape::Image& image) {
        const auto [place, isNew] = textures_.try_emplace(image.bytes);
        if (isNew) {
            int channels = 0;
            place->second.rgba.reset(stbi_load_from_memory(reinterpret_cast<const stbi_uc*>(image.bytes.data()),
                                                           static_cast<int>(image.bytes.size()), &place->second.width,
                                                           &place->second.height, &channels, 4));
        }
        return place->second.rgba ? &place->second : nullptr;
    }
    /// What lies in front of the eye of it.
    void clipped(const std::array<Corner, 3>& corners, const Surface& surface) {
        if (view_.heightMetres > 0) return triangle(corners[0], corners[1], corners[2], surface);
        std::vector<Corner> kept;
        for (std::size_t k = 0; k < 3; ++k) {
            const Corner &a = corners[k], &b = corners[(k + 1) % 3];
            if (a.at.z >= kNear) kept.push_back(a);
            if ((a.at.z >= kNear) != (b.at.z >= kNear)) {
                const double t = (kNear - a.at.z) / (b.at.z - a.at.z);
                kept.push_back({glm::mix(a.at, b.at, t), glm::mix(a.normal, b.normal, t), glm::mix(a.uv, b.uv, t)});
            }
        }
        for (std::size_t k = 2; k < kept.size(); ++k) triangle(kept[0], kept[k - 1], kept[k], surface);
    }
    Vec2 pixel(const Vec3& p) const {
        const double by = view_.heightMetres > 0 ? scale_ : scale_ / p.z;
        return {w_ / 2.0 + p.x * by, h_ / 2.0 - p.y * by};
    }
    void triangle(const Corner& a, const Corner& b, const Corner& c, const Surface& surface) {
        const Vec2 pa = pixel(a.at), pb = pixel(b.at), pc = pixel(c.at);
        const double area = base::cross(pb - pa, pc - pa);
        if (!(std::abs(area) > 1e-12)) return;
        const auto low = [](double x, double y, double z, int most) {
            return static_cast<int>(std::clamp(std::floor(std::min({x, y, z})), 0.0, static_cast<double>(most)));
        };
        const auto high = [](double x, double y, double z, int most) {
            return static_cast<int>(std::clamp(std::ceil(std::max({x, y, z})), 0.0, static_cast<double>(most)));
        };
        const bool flat = view_.heightMetres > 0;
        const double za = flat ? 1 : 1 / a.at.z, zb = flat ? 1 : 1 / b.at.z, zc = flat ? 1 : 1 / c.at.z;
        for (int y = low(pa.y, pb.y, pc.y, h_); y < high(pa.y, pb.y, pc.y, h_); ++y)
            for (int x = low(pa.x, pb.x, pc.x, w_); x < high(pa.x, pb.x, pc.x, w_); ++x) {
                const Vec2 p(x + 0.5, y + 0.5);
                double wa = base::cross(pb - p, pc - p) / area, wb = base::cross(pc - p, pa - p) / area,
                       wc = 1 - wa - wb;
                if (wa < 0 || wb < 0 || wc < 0) continue;
                const double over = wa * za + wb * zb + wc * zc;
                wa *= za / over;
                wb *= zb / over;
                wc *= zc / over;
                const double depth = wa * a.at.z + wb * b.at.z + wc * c.at.z;
                if (!(depth < depths_[at(x, y)])) continue;
                Vec3 colour = surface.colour;
                if (surface.texture != nullptr) {
                    double alpha = 1;
                    const Vec2 uv = wa * a.uv + wb * b.uv + wc * c.uv;
                    colour *= surface.texture->colourAt(uv.x, uv.y, alpha);
                    if (alpha < surface.cutoff) continue;
                }
                depths_[at(x, y)] = depth;
                colours_[at(x, y)] = lit(colour, wa * a.normal + wb * b.normal + wc * c.normal, surface.emission);
            }
    }
    Vec3 lit(const Vec3& colour, Vec3 normal, double emission) const {
        const double length = glm::length(normal);
        normal = length > 1e-12 ? normal / length : Vec3(0, 1, 0);
        const double sky = 0.5 + 0.5 * normal.y;
        const Vec3 around = glm::mix(light_.ground, light_.sky, sky) * 0.55;
        const Vec3 sun = light_.sun * std::max(0.0, glm::dot(normal, light_.towards)) * 0.85;
        return colour * (around + sun) + colour * emission;
    }

    PictureView view_;
    Light light_;
    int w_, h_;
    Vec3 forward_, right_, up_;
    double scale_ = 1;
    std::vector<Vec3> colours_;
    std::vector<double> depths_;
    std::map<std::string, Texture> textures_;  // by their bytes
};

Light lightOf(model::SceneSettings settings, const model::Guise* guise) {
    if (guise != nullptr) settings = model::inGuise(std::move(settings), *guise);
    return {-glm::normalize(settings.sunDirection), settings.sunColour * settings.sunStrength, settings.skyColour,
            settings.groundColour};
}

void appendBytes(void* to, void* data, int size) {
    static_cast<std::string*>(to)->append(static_cast<const char*>(data), static_cast<std::size_t>(size));
}

}  // namespace

std::string pngOf(const Picture& picture) {
    std::string bytes;
    stbi_write_png_to_func(appendBytes, &bytes, picture.width, picture.height, 3, picture.rgb.data(),
                           picture.width * 3);
    return bytes;
}

Picture pictureOf(const io::ExportSource& source, const PictureView& view, int width, int height) {
    io::Wardrobe wardrobe(source, true);
    const model::Scene& scene = source.scene;
    Canvas canvas(view, width, height, lightOf(scene.settings(), wardrobe.guise()));
    constexpr std::uint8_t kOut = model::flags::kHidden | model::flags::kAbsent | model::flags::kUnseen;
    std::vector<bool> out(scene.slotEnd(), false);
    for (const Slot s : scene.subtree(model::kNoSlot)) {
        out[s] = (scene.flagsOf(s) & kOut) != 0 || (scene.parent(s) != model::kNoSlot && out[scene.parent(s)]);
        if (out[s]) continue;
        if (const auto worn = wardrobe.of(s)) canvas.draw(*worn->mesh, scene.world(s), worn->tint);
    }
    return canvas.finish();
}

Picture turningRow(const shape::Mesh& mesh, int sides, int pixels) {
    Picture row;
    row.width = sides * pixels;
    row.height = pixels;
    row.rgb.resize(static_cast<std::size_t>(row.width) * static_cast<std::size_t>(row.height) * 3);
    const Vec3 middle = mesh.bounds.centre();
    const double round = std::max(1e-3, glm::length(mesh.bounds.size()) / 2);
    for (int i = 0; i < sides; ++i) {
        const double angle = 2 * base::kPi * i / sides;
        PictureView view;
        view.verticalDegrees = 35;
        view.to = middle;
        const double away = round / std::sin(base::radians(view.verticalDegrees) / 2) * 1.02;
        view.from = middle + away * glm::normalize(Vec3(std::sin(angle), 0.45, std::cos(angle)));
        Light light;
        light.towards = glm::normalize(Vec3(0.4, 0.8, 0.45));
        light.sky = {0.82, 0.8, 0.74};
        Canvas canvas(view, pixels, pixels, light);
        canvas.draw(mesh, {}, Vec3(1.0));
        const Picture one = canvas.finish();
        for (int y = 0; y < pixels; ++y)
            std::copy_n(one.rgb.begin() + static_cast<std::ptrdiff_t>(y) * pixels * 3, pixels * 3,
                        row.rgb.begin() + (static_cast<std::ptrdiff_t>(y) * row.width + i * pixels) * 3);
    }
    return row;
}

}  // namespace hand
