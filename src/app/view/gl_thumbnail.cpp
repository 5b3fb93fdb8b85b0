// One item, or a prefab, in a small picture: for the Stock.
#include <QOpenGLFramebufferObject>
#include <algorithm>
#include <glm/gtc/matrix_transform.hpp>

#include "app/view/gl_renderer.h"
#include "app/view/gl_values.h"

namespace app {

QImage GlRenderer::thumbnail(const std::vector<Piece>& pieces, const base::Aabb& bounds, int pixels) {
    const bool any =
        std::any_of(pieces.begin(), pieces.end(), [this](const Piece& p) { return meshes_.contains(p.item); });
    if (!problem_.isEmpty() || !any || bounds.empty()) return {};
    context_.makeCurrent(&surface_);
    const int large = pixels * 2;  // drawn at twice the size and shrunk, for smooth edges
    QOpenGLFramebufferObject target(large, large, QOpenGLFramebufferObject::CombinedDepthStencil, GL_TEXTURE_2D,
                                    GL_RGBA8);
    target.bind();
    glViewport(0, 0, large, large);
    glDisable(GL_BLEND);
    glEnable(GL_DEPTH_TEST);
    glDepthMask(GL_TRUE);
    glClearColor(0, 0, 0, 0);
    glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    render::Camera camera = render::Camera::looking({0.75, 0.55, 1.0}, {0, 0, 0});
    camera.verticalDegrees = 28;
    const render::Viewport viewport{static_cast<double>(large), static_cast<double>(large)};
    camera.frame(bounds, viewport);
    render::Camera atOrigin = camera;
    atOrigin.eye = base::Vec3(0.0);
    atOrigin.nearMetres = 0.01;
    const base::Mat4 clip =
        glm::scale(base::Mat4(1.0), base::Vec3(1, -1, 1)) * atOrigin.projection(viewport) * atOrigin.viewMatrix();
    std::unordered_map<base::Name, std::vector<render::Instance>> instances;
    for (const Piece& piece : pieces)
        instances[piece.item].push_back(render::instanceOf(piece.pose, camera.eye, 0, piece.shade));
    for (int variant : {0, int(Textured), int(Flat), Textured | Flat}) {
        QOpenGLShaderProgram& shader = solid(variant);
        shader.setUniformValue("clip", toQt(clip));
        shader.setUniformValue("toSun", toQt(glm::normalize(base::Vec3(0.2, 0.8, 0.65))));
        shader.setUniformValue("sunColour", QVector3D(1.05F, 1.0F, 0.92F));
        shader.setUniformValue("skyColour", QVector3D(0.6F, 0.62F, 0.66F));
        shader.setUniformValue("groundColour", QVector3D(0.3F, 0.28F, 0.24F));
        shader.setUniformValue("hazeAt", 1e9F);
        shader.setUniformValue("sight", QVector3D());
        shader.setUniformValue("image", 0);
        shader.setUniformValue("tintIsColour", false);
        shader.setUniformValue("wire", false);
        shader.setUniformValue("tintLit", false);
        for (const auto& [item, all] : instances)
            if (auto place = meshes_.find(item);
                place != meshes_.end() && place->second.flat == ((variant & Flat) != 0))
                drawInstances(shader, place->second, all, (variant & Textured) != 0);
    }
    QImage image(large, large, QImage::Format_ARGB32);
    glReadPixels(0, 0, large, large, GL_BGRA, GL_UNSIGNED_BYTE, image.bits());
    return image.scaled(pixels, pixels, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
}

}  // namespace app
