#include "app/view/gl_renderer.h"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <cstring>
#include <glm/gtc/matrix_transform.hpp>
#include <string_view>

#include "app/view/gl_values.h"
#include "app/view/shaders.h"

namespace app {
namespace {

constexpr int kShadowPixels = 2048;

// OpenGL takes places within a bound buffer as pointers.
const void* at(std::size_t bytes) {
    return reinterpret_cast<const void*>(bytes);  // NOLINT(performance-no-int-to-ptr)
}

/// A vertex as the card takes it.
struct Vertex {
    float position[3];
    std::int8_t normal[4];
    std::uint8_t colour[4];
    float texture[2];
};

QVector3D linear(const QColor& c) {
    auto square = [](double v) { return static_cast<float>(v * v); };
    return {square(c.redF()), square(c.greenF()), square(c.blueF())};
}
QVector3D plain(const QColor& c) {
    return {c.redF(), c.greenF(), c.blueF()};
}

/// The distance at which haze takes all but a third, metres.
float hazeOf(const Frame& frame) {
    if (frame.camera.isFlat()) return 1e9F;
    const double set = frame.settings.hazeMetres;
    return static_cast<float>(set > 0 ? set : std::max(420.0, frame.focusRadius * 8));
}

std::int8_t signedByte(float v) {
    return static_cast<std::int8_t>(std::lround(std::clamp(v, -1.0F, 1.0F) * 127.0F));
}
std::uint8_t unsignedByte(float v) {
    return static_cast<std::uint8_t>(std::lround(std::clamp(v, 0.0F, 1.0F) * 255.0F));
}

/// Where only the normal differed, faces use one vertex: on a software rasteriser vertices are what costs.
void shareVertices(std::vector<Vertex>& vertices, std::vector<std::uint32_t>& indices) {
    std::unordered_map<std::string_view, std::uint32_t> known;
    std::vector<Vertex> keys = vertices, kept;
    for (Vertex& key : keys) {
        std::fill(key.normal, key.normal + 3, std::int8_t{0});
        key.colour[3] &= 0xE0;  // nearly the same openness is the same
    }
    kept.reserve(vertices.size());
    for (std::uint32_t& index : indices) {
        const std::string_view bytes(reinterpret_cast<const char*>(&keys[index]), sizeof(Vertex));
        const auto [place, isNew] = known.try_emplace(bytes, static_cast<std::uint32_t>(kept.size()));
        if (isNew) kept.push_back(vertices[index]);
        index = place->second;
    }
    vertices = std::move(kept);
}

/// The mean of a mesh's colours by share of its triangles, 0xAABBGGRR, sRGB.
std::uint32_t meanColourOf(const shape::Mesh& mesh) {
    double mean[3] = {0, 0, 0}, total = 0;
    for (const shape::Submesh& part : mesh.submeshes) {
        for (std::size_t k = 0; k < 3; ++k)
            mean[k] += std::sqrt(static_cast<double>(mesh.materials[part.material].baseColour[k])) * part.indexCount;
        total += part.indexCount;
    }
    std::uint32_t colour = 0xFF000000u;
    for (int k = 0; k < 3 && total > 0; ++k)
        colour |= static_cast<std::uint32_t>(unsignedByte(static_cast<float>(mean[k] / total))) << (8 * k);
    return colour;
}

std::unique_ptr<QOpenGLShaderProgram> program(const QByteArray& vertex, const QByteArray& fragment, QString& problem) {
    auto p = std::make_unique<QOpenGLShaderProgram>();
    if (!p->addShaderFromSourceCode(QOpenGLShader::Vertex, vertex) ||
        !p->addShaderFromSourceCode(QOpenGLShader::Fragment, fragment) || !p->link())
        problem = QStringLiteral("The view’s shaders do not compile: ") + p->log();
    return p;
}

}  // namespace

GlRenderer::GlRenderer() {
    QSurfaceFormat format;
    format.setVersion(3, 3);
    format.setProfile(QSurfaceFormat::CoreProfile);
    context_.setFormat(format);
    surface_.setFormat(format);
    surface_.create();
    if (!context_.create() || !context_.makeCurrent(&surface_) || !initializeOpenGLFunctions()) {
        problem_ = QStringLiteral("The view needs OpenGL 3.3, which this display does not offer.");
        return;
    }
    build();
}

GlRenderer::~GlRenderer() {
    if (!context_.isValid() || !context_.makeCurrent(&surface_)) return;
    clearMeshes();
    targets_.clear();
    for (auto& variant : solid_) variant.reset();
    shadow_.reset();
    points_.reset();
    lattice_.reset();
    sky_.reset();
    context_.doneCurrent();
}

bool GlRenderer::build() {
    shadow_ = program(shaders::kShadowVertex, shaders::kShadowFragment, problem_);
    points_ = program(shaders::kPointVertex, shaders::kPointFragment, problem_);
    lattice_ = program(shaders::kLatticeVertex, shaders::kPointFragment, problem_);
    sky_ = program(shaders::kSkyVertex, shaders::kSkyFragment, problem_);
    if (!problem_.isEmpty()) return false;
    glGenBuffers(1, &instanceBuffer_);
    glGenVertexArrays(1, &emptyArray_);
    glGenVertexArrays(1, &pointArray_);
    glGenBuffers(1, &pointBuffer_);
    glBindVertexArray(pointArray_);
    glBindBuffer(GL_ARRAY_BUFFER, pointBuffer_);
    glEnableVertexAttribArray(0);
    glVertexAttribPointer(0, 4, GL_FLOAT, GL_FALSE, sizeof(render::FarPoint), nullptr);
    glEnableVertexAttribArray(1);
    glVertexAttribPointer(1, 4, GL_UNSIGNED_BYTE, GL_TRUE, sizeof(render::FarPoint),
                          at(offsetof(render::FarPoint, colour)));
    glGenTextures(1, &shadowMap_);
    glBindTexture(GL_TEXTURE_2D, shadowMap_);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_DEPTH_COMPONENT24, kShadowPixels, kShadowPixels, 0, GL_DEPTH_COMPONENT,
                 GL_UNSIGNED_INT, nullptr);
    for (auto [key, value] : {std::pair{GL_TEXTURE_MIN_FILTER, GL_LINEAR},
                              {GL_TEXTURE_MAG_FILTER, GL_LINEAR},
                              {GL_TEXTURE_WRAP_S, GL_CLAMP_TO_EDGE},
                              {GL_TEXTURE_WRAP_T, GL_CLAMP_TO_EDGE},
                              {GL_TEXTURE_COMPARE_MODE, GL_COMPARE_REF_TO_TEXTURE},
                              {GL_TEXTURE_COMPARE_FUNC, GL_LEQUAL}})
        glTexParameteri(GL_TEXTURE_2D, static_cast<GLenum>(key), static_cast<GLint>(value));
    glGenFramebuffers(1, &shadowFrame_);
    glBindFramebuffer(GL_FRAMEBUFFER, shadowFrame_);
    glFramebufferTexture2D(GL_FRAMEBUFFER, GL_DEPTH_ATTACHMENT, GL_TEXTURE_2D, shadowMap_, 0);
    glDrawBuffer(GL_NONE);
    glReadBuffer(GL_NONE);
    makeCube();
    return true;
}

void GlRenderer::makeCube() {
    static constexpr std::uint32_t kFaces[6][4] = {{0, 4, 6, 2}, {1, 3, 7, 5}, {0, 1, 5, 4},
                                                   {2, 6, 7, 3}, {0, 2, 3, 1}, {4, 5, 7, 6}};
    std::vector<Vertex> vertices(8);
    for (int corner = 0; corner < 8; ++corner)
        for (int i = 0; i < 3; ++i)
            vertices[static_cast<std::size_t>(corner)].position[i] = (corner >> i & 1) != 0 ? 1.0F : 0.0F;
    std::vector<std::uint32_t> indices;
    for (const auto& face : kFaces)
        for (const std::size_t k : {0u, 1u, 2u, 0u, 2u, 3u}) indices.push_back(face[k]);
    const auto* raw = reinterpret_cast<const unsigned char*>(vertices.data());
    cube_ = upload({raw, raw + vertices.size() * sizeof(Vertex)}, indices);
    cube_.flat = true;
    cube_.parts.push_back({0, static_cast<int>(indices.size()), 0, 0});
}

GlRenderer::GpuMesh GlRenderer::upload(const std::vector<unsigned char>& vertices,
                                       const std::vector<std::uint32_t>& indices) {
    GpuMesh gpu;
    glGenVertexArrays(1, &gpu.array);
    glBindVertexArray(gpu.array);
    glGenBuffers(1, &gpu.vertices);
    glBindBuffer(GL_ARRAY_BUFFER, gpu.vertices);
    glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(vertices.size()), vertices.data(), GL_STATIC_DRAW);
    for (GLuint i = 0; i < 9; ++i) glEnableVertexAttribArray(i);
    glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, sizeof(Vertex), at(offsetof(Vertex, position)));
    glVertexAttribPointer(1, 4, GL_BYTE, GL_TRUE, sizeof(Vertex), at(offsetof(Vertex, normal)));
    glVertexAttribPointer(2, 4, GL_UNSIGNED_BYTE, GL_TRUE, sizeof(Vertex), at(offsetof(Vertex, colour)));
    glVertexAttribPointer(3, 2, GL_FLOAT, GL_FALSE, sizeof(Vertex), at(offsetof(Vertex, texture)));
    glBindBuffer(GL_ARRAY_BUFFER, instanceBuffer_);
    for (GLuint row = 0; row < 3; ++row) {
        glVertexAttribPointer(4 + row, 4, GL_FLOAT, GL_FALSE, sizeof(render::Instance), at(std::size_t{row} * 16));
        glVertexAttribDivisor(4 + row, 1);
    }
    glVertexAttribPointer(7, 4, GL_UNSIGNED_BYTE, GL_TRUE, sizeof(render::Instance),
                          at(offsetof(render::Instance, tint)));
    glVertexAttribDivisor(7, 1);
    glVertexAttribPointer(8, 4, GL_UNSIGNED_BYTE, GL_TRUE, sizeof(render::Instance),
                          at(offsetof(render::Instance, shade)));
    glVertexAttribDivisor(8, 1);
    glGenBuffers(1, &gpu.indices);
    glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, gpu.indices);
    glBufferData(GL_ELEMENT_ARRAY_BUFFER, static_cast<GLsizeiptr>(indices.size() * 4), indices.data(), GL_STATIC_DRAW);
    glBindVertexArray(0);
    return gpu;
}

GLuint GlRenderer::textureOf(const shape::Image& image) {
    QImage decoded =
        QImage::fromData(reinterpret_cast<const uchar*>(image.bytes.data()), static_cast<int>(image.bytes.size()));
    if (decoded.isNull()) return 0;
    decoded = decoded.convertToFormat(QImage::Format_RGBA8888);
    GLuint texture = 0;
    glGenTextures(1, &texture);
    glBindTexture(GL_TEXTURE_2D, texture);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_RGBA8, decoded.width(), decoded.height(), 0, GL_RGBA, GL_UNSIGNED_BYTE,
                 decoded.constBits());
    glGenerateMipmap(GL_TEXTURE_2D);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_LINEAR_MIPMAP_LINEAR);
    return texture;
}

void GlRenderer::setMesh(base::Name item, const shape::Mesh& mesh, const std::vector<std::uint8_t>& occlusion) {
    if (!problem_.isEmpty()) return;
    context_.makeCurrent(&surface_);
    if (auto old = meshes_.find(item); old != meshes_.end()) release(old->second);
    std::vector<Vertex> vertices(mesh.positions.size());
    for (const shape::Submesh& part : mesh.submeshes) {
        const shape::Material& m = mesh.materials[part.material];
        for (std::uint32_t i = part.firstIndex; i < part.firstIndex + part.indexCount; ++i) {
            const std::uint32_t at = mesh.indices[i];
            Vertex& v = vertices[at];
            std::copy(mesh.positions[at].begin(), mesh.positions[at].end(), v.position);
            for (std::size_t k = 0; k < 3; ++k) v.normal[k] = signedByte(mesh.normals[at][k]);
            v.normal[3] = signedByte(m.emission > 0 ? m.emission : -m.gloss);
            for (std::size_t k = 0; k < 3; ++k) v.colour[k] = unsignedByte(m.baseColour[k]);
            v.colour[3] = occlusion.empty() ? 235 : occlusion[at];
            if (!mesh.texture.empty()) std::copy(mesh.texture[at].begin(), mesh.texture[at].end(), v.texture);
        }
    }
    const bool flat = shape::isFlat(mesh);
    std::vector<std::uint32_t> indices = mesh.indices;
    if (flat) shareVertices(vertices, indices);
    const auto* raw = reinterpret_cast<const unsigned char*>(vertices.data());
    GpuMesh gpu = upload({raw, raw + vertices.size() * sizeof(Vertex)}, indices);
    gpu.flat = flat;
    gpu.mean = meanColourOf(mesh);
    // Neighbouring parts without an image of their own are one draw call.
    for (const shape::Submesh& part : mesh.submeshes) {
        const shape::Material& m = mesh.materials[part.material];
        Part p{static_cast<int>(part.firstIndex), static_cast<int>(part.indexCount), 0,
               m.alphaMask ? m.alphaCutoff : 0.0F};
        gpu.hasImages = gpu.hasImages || m.image >= 0;
        if (m.image >= 0) p.texture = textureOf(mesh.images[static_cast<std::size_t>(m.image)]);
        Part* last = gpu.parts.empty() ? nullptr : &gpu.parts.back();
        if (last != nullptr && p.texture == 0 && last->texture == 0 && last->first + last->count == p.first)
            last->count += p.count;
        else
            gpu.parts.push_back(p);
    }
    meshes_[item] = gpu;
}

void GlRenderer::removeMesh(base::Name item) {
    auto place = meshes_.find(item);
    if (!problem_.isEmpty() || place == meshes_.end()) return;
    context_.makeCurrent(&surface_);
    release(place->second);
    meshes_.erase(place);
}

void GlRenderer::release(GpuMesh& gpu) {
    glDeleteVertexArrays(1, &gpu.array);
    glDeleteBuffers(1, &gpu.vertices);
    glDeleteBuffers(1, &gpu.indices);
    for (const Part& part : gpu.parts)
        if (part.texture != 0) glDeleteTextures(1, &part.texture);
}

void GlRenderer::clearMeshes() {
    if (!problem_.isEmpty()) return;
    context_.makeCurrent(&surface_);
    for (auto& [item, gpu] : meshes_) release(gpu);
    meshes_.clear();
}

std::uint32_t GlRenderer::meanColour(base::Name item) const {
    auto place = meshes_.find(item);
    return place == meshes_.end() ? 0xFF808080u : place->second.mean;
}

void GlRenderer::ensureTarget(std::unique_ptr<QOpenGLFramebufferObject>& target, const QSize& size) {
    if (target && target->size() == size) return;
    target = std::make_unique<QOpenGLFramebufferObject>(size, QOpenGLFramebufferObject::CombinedDepthStencil,
                                                        GL_TEXTURE_2D, GL_RGBA8);
}

QOpenGLShaderProgram& GlRenderer::solid(int variant) {
    auto& made = solid_[static_cast<std::size_t>(variant)];
    if (!made) {
        QByteArray start = "#version 330 core\n";
        for (const auto& [bit, name] :
             {std::pair{Textured, "TEXTURED"}, {Lit, "LIT"}, {Shadowed, "SHADOWED"}, {Flat, "FLAT"}, {Plain, "PLAIN"}})
            if ((variant & bit) != 0) start += QByteArray("#define ") + name + "\n";
        made = program(start + shaders::kSolidVertex, start + shaders::kSolidFragment, problem_);
    }
    made->bind();
    return *made;
}

void GlRenderer::drawInstances(QOpenGLShaderProgram& shader, const GpuMesh& mesh,
                               const std::vector<render::Instance>& instances, bool textured) {
    if (instances.empty() || (textured && !mesh.hasImages)) return;
    glBindVertexArray(mesh.array);
    glBindBuffer(GL_ARRAY_BUFFER, instanceBuffer_);
    glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(instances.size() * sizeof(render::Instance)),
                 instances.data(), GL_STREAM_DRAW);
    for (const Part& part : mesh.parts) {
        if ((part.texture != 0) != textured) continue;
        if (textured) {
            glActiveTexture(GL_TEXTURE0);
            glBindTexture(GL_TEXTURE_2D, part.texture);
            shader.setUniformValue("cutoff", part.cutoff);
        }
        glDrawElementsInstanced(GL_TRIANGLES, part.count, GL_UNSIGNED_INT, at(static_cast<std::size_t>(part.first) * 4),
                                static_cast<GLsizei>(instances.size()));
    }
}

void GlRenderer::setScene(QOpenGLShaderProgram& shader, const Frame& frame, const base::Mat4& clip) {
    const model::SceneSettings& s = frame.settings;
    const base::Mat4 half = glm::scale(glm::translate(base::Mat4(1.0), base::Vec3(0.5)), base::Vec3(0.5));
    shader.setUniformValue("clip", toQt(clip));
    shader.setUniformValue("shadow", toQt(half * shadowMatrix_ * glm::translate(base::Mat4(1.0), frame.camera.eye)));
    shader.setUniformValue("toSun", toQt(-glm::normalize(s.sunDirection)));
    shader.setUniformValue("sunColour", toQt(s.sunColour * s.sunStrength * 1.15));
    shader.setUniformValue("skyColour", toQt(s.skyColour * 0.85));
    shader.setUniformValue("groundColour", toQt(s.groundColour * 0.6));
    shader.setUniformValue("haze", linear(frame.sky[1]));
    shader.setUniformValue("hazeAt", hazeOf(frame));
    shader.setUniformValue("image", 0);
    shader.setUniformValue("shadowMap", 1);
    shader.setUniformValue("tintIsColour", false);
    shader.setUniformValue("wire", frame.paint == Paint::Wire);
    shader.setUniformValue("ink", linear(frame.ink));
    shader.setUniformValue("tintLit", frame.paint == Paint::ByKind);
    shader.setUniformValue("sight", toQt(frame.camera.isFlat() ? frame.camera.forward() * 1e6 : base::Vec3(0.0)));
    glActiveTexture(GL_TEXTURE1);
    glBindTexture(GL_TEXTURE_2D, shadowMap_);
    setLights(shader, frame);
}

void GlRenderer::drawSolid(const Frame& frame, const render::DrawList& list, const base::Mat4& clip) {
    const int lighting =
        frame.paint == Paint::Contrast ? Plain : (frame.lights.empty() ? 0 : Lit) | (frame.shadows ? Shadowed : 0);
    for (const int variant : {Flat | 0, 0, Flat | Textured, 0 | Textured}) {
        QOpenGLShaderProgram* shader = nullptr;  // made ready for the first mesh that needs it
        auto ready = [&]() -> QOpenGLShaderProgram& {
            if (shader == nullptr) setScene(*(shader = &solid(variant | lighting)), frame, clip);
            return *shader;
        };
        for (const auto& [item, instances] : list.meshes) {
            auto place = meshes_.find(item);
            if (instances.empty() || place == meshes_.end() || place->second.flat != ((variant & Flat) != 0)) continue;
            const bool textured = (variant & Textured) != 0;
            if (!textured || place->second.hasImages) drawInstances(ready(), place->second, instances, textured);
        }
        if (variant != Flat || list.boxes.empty()) continue;
        ready().setUniformValue("tintIsColour", true);
        drawInstances(ready(), cube_, list.boxes, false);
    }
}

// An orthographic picture from the sun, round the focus. Kept until the focus has left its middle or something moved.
void GlRenderer::drawShadows(const Frame& frame) {
    const double off = glm::length(frame.focus - shadowFocus_) / std::max(shadowRadius_, 1.0);
    const double ratio = frame.focusRadius / std::max(shadowRadius_, 1.0);
    const bool near = frame.keepShadows ? off < 0.8 && ratio < 3 : off < 0.3 && ratio < 1.4 && ratio > 0.6;
    if (near && (frame.keepShadows || !frame.shadowsChanged)) return;
    if (!near) {
        shadowFocus_ = frame.focus;
        shadowRadius_ = frame.focusRadius;
    }
    const base::Vec3 direction = glm::normalize(frame.settings.sunDirection);
    const base::Vec3 up = std::abs(direction.y) > 0.99 ? base::Vec3(1, 0, 0) : base::Vec3(0, 1, 0);
    const double r = shadowRadius_;
    const base::Mat4 view = glm::lookAt(shadowFocus_ - direction * (r * 2 + 60), shadowFocus_, up);
    shadowMatrix_ = glm::ortho(-r, r, -r, r, 1.0, r * 4 + 120) * view;
    const base::Mat4 fromEye = shadowMatrix_ * glm::translate(base::Mat4(1.0), frame.camera.eye);
    glBindFramebuffer(GL_FRAMEBUFFER, shadowFrame_);
    glViewport(0, 0, kShadowPixels, kShadowPixels);
    glClear(GL_DEPTH_BUFFER_BIT);
    glEnable(GL_DEPTH_TEST);
    glDepthMask(GL_TRUE);
    glEnable(GL_POLYGON_OFFSET_FILL);
    glPolygonOffset(1.5F, 2.0F);
    shadow_->bind();
    shadow_->setUniformValue("shadow", toQt(fromEye));
    for (const auto& [item, instances] : frame.list->meshes) {
        auto place = meshes_.find(item);
        if (place == meshes_.end()) continue;
        for (bool textured : {false, true}) drawInstances(*shadow_, place->second, instances, textured);
    }
    glDisable(GL_POLYGON_OFFSET_FILL);
}

void GlRenderer::setLights(QOpenGLShaderProgram& shader, const Frame& frame) {
    const int count = std::min<int>(8, static_cast<int>(frame.lights.size()));
    QVector4D place[8], cone[8];
    QVector3D colour[8];
    float inner[8] = {};
    for (int i = 0; i < count; ++i) {
        const DrawnLight& l = frame.lights[static_cast<std::size_t>(i)];
        place[i] = QVector4D(toQt(l.position - frame.camera.eye), static_cast<float>(std::max(l.reach, 0.01)));
        colour[i] = toQt(l.colour);
        cone[i] = QVector4D(toQt(l.direction), static_cast<float>(l.cosOuter));
        inner[i] = static_cast<float>(l.cosInner);
    }
    shader.setUniformValue("lightCount", count);
    shader.setUniformValueArray("lightPlace", place, 8);
    shader.setUniformValueArray("lightColour", colour, 8);
    shader.setUniformValueArray("lightCone", cone, 8);
    shader.setUniformValueArray("lightInner", inner, 8, 1);
}

void GlRenderer::drawSky(const Frame& frame) {
    glDisable(GL_DEPTH_TEST);
    sky_->bind();
    // An orthographic picture looks one way only: one colour behind everything.
    const bool flat = frame.camera.isFlat();
    sky_->setUniformValue("pitch", flat ? -1.0F : static_cast<float>(base::radians(frame.camera.pitchDegrees)));
    sky_->setUniformValue("fieldOfView", flat ? 0.0F : static_cast<float>(base::radians(frame.camera.verticalDegrees)));
    // What is up in the picture, wide as it is; its rows run downwards.
    const double roll = base::radians(frame.camera.rollDegrees), wide = double(frame.width) / frame.height;
    sky_->setUniformValue("upright", static_cast<float>(std::sin(roll) * wide), static_cast<float>(-std::cos(roll)));
    sky_->setUniformValue("top", plain(frame.sky[0]));
    sky_->setUniformValue("horizon", plain(frame.sky[1]));
    sky_->setUniformValue("bottom", plain(frame.sky[2]));
    glBindVertexArray(emptyArray_);
    glDrawArrays(GL_TRIANGLES, 0, 3);
    glEnable(GL_DEPTH_TEST);
}

void GlRenderer::drawPoints(const Frame& frame, const render::DrawList& list, const base::Mat4& clip) {
    if (list.points.empty()) return;
    const model::SceneSettings& s = frame.settings;
    points_->bind();
    points_->setUniformValue("clip", toQt(clip));
    const bool flat = frame.camera.isFlat();
    points_->setUniformValue("flatView", flat);
    points_->setUniformValue(
        "pixelsAtOne",
        static_cast<float>(flat ? 2 * frame.height / frame.camera.heightMetres
                                : frame.height / std::tan(base::radians(frame.camera.verticalDegrees) / 2)));
    points_->setUniformValue("lit", toQt(s.sunColour * s.sunStrength * 0.6 + s.skyColour * 0.6));
    points_->setUniformValue("haze", linear(frame.sky[1]));
    points_->setUniformValue("hazeAt", hazeOf(frame));
    glBindVertexArray(pointArray_);
    glBindBuffer(GL_ARRAY_BUFFER, pointBuffer_);
    glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(list.points.size() * sizeof(render::FarPoint)),
                 list.points.data(), GL_STREAM_DRAW);
    glDrawArrays(GL_POINTS, 0, static_cast<GLsizei>(list.points.size()));
}

// On height zero; in an orthographic picture in the plane of the picture, over everything, finer as one comes nearer.
void GlRenderer::drawLattice(const Frame& frame, const base::Mat4& clip) {
    const bool flat = frame.camera.isFlat();
    base::Vec3 along(1, 0, 0), across(0, 0, 1), zero(0.0, 0.015, 0.0);
    double spacing = 0;
    if (flat) {
        along = frame.camera.right();
        across = frame.camera.up();
        zero = frame.camera.forward() * glm::dot(frame.camera.eye, frame.camera.forward());
        spacing = render::latticeSpacing(frame.camera.heightMetres / frame.height);
    } else {
        const double height = std::max(std::abs(frame.camera.eye.y), 1.0);
        spacing = height < 25 ? 1 : height < 120 ? 5 : height < 600 ? 25 : 125;
    }
    const base::Vec3 middle = flat ? frame.camera.eye : frame.focus;
    const int side = flat ? 241 : 121;
    lattice_->bind();
    lattice_->setUniformValue("clip", toQt(clip));
    lattice_->setUniformValue("from", toQt(zero - frame.camera.eye));
    lattice_->setUniformValue("along", toQt(along));
    lattice_->setUniformValue("across", toQt(across));
    lattice_->setUniformValue(
        "focus", QVector2D(static_cast<float>(glm::dot(middle, along)), static_cast<float>(glm::dot(middle, across))));
    lattice_->setUniformValue("spacing", static_cast<float>(spacing));
    lattice_->setUniformValue("side", side);
    lattice_->setUniformValue("fadeAt", flat ? 1e9F : static_cast<float>(spacing * side / 2));
    lattice_->setUniformValue("colour", QVector4D(plain(frame.dots), flat ? 0.6F : 0.85F));
    glEnable(GL_BLEND);
    glBlendFunc(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA);
    glDepthMask(GL_FALSE);
    if (flat) glDisable(GL_DEPTH_TEST);
    glBindVertexArray(emptyArray_);
    glDrawArrays(GL_POINTS, 0, side * side);
    glEnable(GL_DEPTH_TEST);
    glDepthMask(GL_TRUE);
    glDisable(GL_BLEND);
}

void GlRenderer::drawStill(const Frame& frame, const base::Mat4& clip) {
    glDepthMask(GL_TRUE);
    glClear(GL_DEPTH_BUFFER_BIT);
    drawSky(frame);
    glPolygonMode(GL_FRONT_AND_BACK, frame.paint == Paint::Wire ? GL_LINE : GL_FILL);
    drawSolid(frame, *frame.list, clip);
    glPolygonMode(GL_FRONT_AND_BACK, GL_FILL);
    drawPoints(frame, *frame.list, clip);
    if (frame.lattice) drawLattice(frame, clip);
}

QImage GlRenderer::draw(const Frame& frame) {
    if (!problem_.isEmpty()) return {};
    context_.makeCurrent(&surface_);
    const QSize size(frame.width, frame.height);
    Targets& pane = targets_[frame.pane];
    ensureTarget(pane.shown, size);
    const bool reuse = frame.reuse == Reuse::Still && pane.still && pane.still->size() == size;
    if (frame.shadows && !reuse) drawShadows(frame);
    // Drawn upside down, so that the rows read back are in the image's order.
    render::Camera atOrigin = frame.camera;
    atOrigin.eye = base::Vec3(0.0);
    const render::Viewport viewport{static_cast<double>(frame.width), static_cast<double>(frame.height)};
    const base::Mat4 clip =
        glm::scale(base::Mat4(1.0), base::Vec3(1, -1, 1)) * atOrigin.projection(viewport) * atOrigin.viewMatrix();
    glViewport(0, 0, frame.width, frame.height);
    glDisable(GL_BLEND);
    glEnable(GL_DEPTH_TEST);
    glDepthFunc(GL_LEQUAL);  // what is tinted is drawn again, at the very same depth
    glEnable(GL_PROGRAM_POINT_SIZE);
    if (frame.reuse != Reuse::Nothing) {
        if (!reuse) {
            ensureTarget(pane.still, size);
            pane.still->bind();
            drawStill(frame, clip);
        }
        glBindFramebuffer(GL_READ_FRAMEBUFFER, pane.still->handle());
        glBindFramebuffer(GL_DRAW_FRAMEBUFFER, pane.shown->handle());
        glBlitFramebuffer(0, 0, frame.width, frame.height, 0, 0, frame.width, frame.height,
                          GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT | GL_STENCIL_BUFFER_BIT, GL_NEAREST);
        pane.shown->bind();
    } else {
        pane.shown->bind();
        drawStill(frame, clip);
    }
    if (frame.over != nullptr) {
        glPolygonMode(GL_FRONT_AND_BACK, frame.paint == Paint::Wire ? GL_LINE : GL_FILL);
        drawSolid(frame, *frame.over, clip);
        glPolygonMode(GL_FRONT_AND_BACK, GL_FILL);
        drawPoints(frame, *frame.over, clip);
    }
    return readBack(frame.width, frame.height);
}

QImage GlRenderer::readBack(int width, int height) {
    QImage image(width, height, QImage::Format_RGB32);
    glPixelStorei(GL_PACK_ALIGNMENT, 4);
    glReadPixels(0, 0, width, height, GL_BGRA, GL_UNSIGNED_BYTE, image.bits());
    return image;
}

}  // namespace app
