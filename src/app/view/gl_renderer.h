#pragma once
// Draws a scene with OpenGL 3.3 core into an image, off screen: on a software rasteriser reading the frame back and
// painting it is several times faster than a GL widget, and on a graphics card it costs a millisecond or two.
#include <QImage>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <QOpenGLFramebufferObject>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <array>
#include <memory>
#include <unordered_map>
#include <vector>

#include <QColor>

#include "app/view/piece.h"
#include "render/camera.h"
#include "render/draw_list.h"
#include "shape/mesh.h"

namespace app {

/// A light as the shader takes it.
struct DrawnLight {
    base::Vec3 position;
    base::Vec3 colour;  ///< times intensity
    base::Vec3 direction{0, -1, 0};
    double reach = 0;
    double cosOuter = -2, cosInner = -1;  ///< -2: shines all round
};

/// What of the last picture can be used again when the camera stands still.
enum class Reuse {
    Nothing,  ///< draw all
    Keep,     ///< draw all, and keep what `list` shows for the next frames
    Still,    ///< `list` has not changed since Keep: take it from there
};

/// How solid things are painted.
enum class Paint { Shaded, ByKind, Collision, Wire, Contrast };

struct Frame {
    int pane = 0;  ///< whose pictures are kept apart
    Paint paint = Paint::Shaded;
    QColor dots;                ///< of the lattice
    QColor ink;                 ///< what lines of a wire picture come near to
    std::array<QColor, 3> sky;  ///< above, at the horizon (and the haze), below
    render::Camera camera;
    int width = 1, height = 1;
    Reuse reuse = Reuse::Nothing;
    const render::DrawList* list = nullptr;
    const render::DrawList* over =
        nullptr;  ///< drawn after `list`, where nothing lies in front: what moves or is tinted
    model::SceneSettings settings;
    std::vector<DrawnLight> lights;
    base::Vec3 focus{0.0};  ///< where shadows are sharp
    double focusRadius = 60;
    bool lattice = true;
    bool shadows = true;
    bool shadowsChanged = true;  ///< what casts them moved
    bool keepShadows = false;    ///< the camera moves: draw them anew only once they are far off
};

class GlRenderer : protected QOpenGLFunctions_3_3_Core {
  public:
    GlRenderer();
    ~GlRenderer() override;

    /// Why there is no drawing; empty when all is well.
    QString problem() const { return problem_; }

    /// Gives an item's mesh to the card; `occlusion` holds one byte a vertex, or is empty.
    void setMesh(base::Name item, const shape::Mesh& mesh, const std::vector<std::uint8_t>& occlusion);
    bool hasMesh(base::Name item) const { return meshes_.contains(item); }
    void clearMeshes();
    void removeMesh(base::Name item);
    /// An item from afar: its mean colour, 0xAABBGGRR, sRGB.
    std::uint32_t meanColour(base::Name item) const;

    QImage draw(const Frame& frame);
    /// Some meshes alone, from the front and above, on nothing; seen from farther round by `turnedDegrees`.
    QImage thumbnail(const std::vector<Piece>& pieces, const base::Aabb& bounds, int pixels);

  private:
    struct Part {
        int first = 0, count = 0;
        GLuint texture = 0;
        float cutoff = 0;
    };
    struct GpuMesh {
        GLuint array = 0, vertices = 0, indices = 0;
        std::vector<Part> parts;
        std::uint32_t mean = 0xFF808080u;
        bool hasImages = false;
        bool flat = false;  ///< every face has its own normal: the shader finds it, and faces share vertices
    };
    enum Variant { Textured = 1, Lit = 2, Shadowed = 4, Flat = 8, Plain = 16 };
    /// What a pane shows, and what of it is kept while its camera stands still.
    struct Targets {
        std::unique_ptr<QOpenGLFramebufferObject> shown, still;
    };
    QOpenGLShaderProgram& solid(int variant);
    bool build();
    void makeCube();
    void ensureTarget(std::unique_ptr<QOpenGLFramebufferObject>& target, const QSize& size);
    void drawShadows(const Frame& frame);
    void drawStill(const Frame& frame, const base::Mat4& clip);
    void drawSky(const Frame& frame);
    void drawPoints(const Frame& frame, const render::DrawList& list, const base::Mat4& clip);
    void drawLattice(const Frame& frame, const base::Mat4& clip);
    void drawSolid(const Frame& frame, const render::DrawList& list, const base::Mat4& clip);
    void setScene(QOpenGLShaderProgram& program, const Frame& frame, const base::Mat4& clip);
    /// The parts of a mesh with an image, or those without.
    void drawInstances(QOpenGLShaderProgram& program, const GpuMesh& mesh,
                       const std::vector<render::Instance>& instances, bool textured);
    void setLights(QOpenGLShaderProgram& program, const Frame& frame);
    GLuint textureOf(const shape::Image& image);
    void release(GpuMesh& gpu);
    GpuMesh upload(const std::vector<unsigned char>& vertices, const std::vector<std::uint32_t>& indices);
    QImage readBack(int width, int height);

    QOffscreenSurface surface_;
    QOpenGLContext context_;
    QString problem_;
    std::unordered_map<int, Targets> targets_;
    std::unique_ptr<QOpenGLShaderProgram> shadow_, points_, lattice_, sky_;
    std::array<std::unique_ptr<QOpenGLShaderProgram>, 32> solid_;  // by Variant bits, built when first used
    std::unordered_map<base::Name, GpuMesh> meshes_;
    GpuMesh cube_;
    GLuint instanceBuffer_ = 0, pointBuffer_ = 0, pointArray_ = 0, emptyArray_ = 0;
    GLuint shadowFrame_ = 0, shadowMap_ = 0;
    base::Mat4 shadowMatrix_{1.0};  // from the world
    base::Vec3 shadowFocus_{1e30};
    double shadowRadius_ = 0;
};

}  // namespace app
