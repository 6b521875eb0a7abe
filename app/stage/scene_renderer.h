#pragma once

#include "app/shell/session.h"
#include "app/shell/theme.h"
#include "app/stage/scene_shaders.h"
#include "emit/glsl_score.h"
#include "motion/vertex_fields.h"

#include <QColor>
#include <QOpenGLBuffer>
#include <QOpenGLFramebufferObject>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <QOpenGLVertexArrayObject>

#include <array>
#include <functional>
#include <memory>
#include <optional>
#include <vector>

#include <glm/mat4x4.hpp>

namespace ripple::app {

constexpr int kShadowSide = 1024; ///< texels of the shadow map

/// What one picture shows.
struct SceneView {
    glm::mat4 viewProjection{1.0f};
    glm::vec3 eye{0.0f};
    int width = 1; ///< device pixels
    int height = 1;
    int curtain = -1;      ///< device pixels from the left: source left of it; below 0: source only
    bool compared = false; ///< right of the curtain: another frame of the source, else what is decoded
    Look look = Look::lit;
    int clip = 0;
    float frame = 0.0f;
    float gridCell = 1.0f; ///< metres
    float groundY = 0.0f;
    mesh::Bounds bounds; ///< of all motion
    /// Quick to draw on the processor: a sample a pixel and hard shadows. For pictures that will be followed
    /// by others at once.
    bool scored = false; ///< the left side is what the score makes of the rest pose at `turn`
    float turn = 0.0f;
    bool draft = false;
    bool operator==(const SceneView&) const = default;
};

/// Draws the model with OpenGL 3.3: the source side from posed vertices, the decoded side from the encoded
/// images by the GLSL that is shipped. All calls need the context to be current.
class SceneRenderer : protected QOpenGLFunctions_3_3_Core {
public:
    /// False when the context cannot do what is needed; then problem() says why.
    bool initialise();
    void release();
    const QString& problem() const { return problem_; }

    void setMesh(const mesh::Mesh& mesh);
    void clearMesh();
    /// Positions and normals of the source side, vertexCount each.
    void setPose(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals);
    /// The other frame that the curtain compares with.
    void setComparedPose(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals);
    /// The UV set that the grid lies on; vertexCount.
    void setGridUvs(std::span<const glm::vec2> uvs);
    /// Colours (sRGB) of the measured looks and of the wire; vertexCount, or empty for none.
    void setShades(std::span<const glm::vec4> shades);
    /// Textures, lookups and the shader for the decoded side; false with problem() if the shipped code does
    /// not compile.
    bool setBake(const bake::Baked& baked, const mesh::Mesh& mesh, const std::string& name);
    void clearBake();
    /// The score that moves the model on the GPU; false where that is not possible (too many inputs, or code
    /// that does not compile, with problem()): then poses of the processor are drawn.
    bool setScore(const emit::ScoreCode& score, const std::string& name, const motion::VertexFields& fields);
    void clearScore();
    bool hasScore() const { return !scoreCode_.empty(); }
    bool hasBake() const { return !decodedCode_.empty(); }

    /// Into the framebuffer that is bound. What was drawn last is shown again if nothing changed since, also
    /// where a draft of it would do. True if what is shown now is a draft.
    bool draw(const SceneView& view);
    /// Drawing is done by the processor.
    bool isSoftware() const { return software_; }

private:
    enum class Side { source, decoded, compared, scored };
    struct DrawnPart {
        GLuint texture = 0;
        glm::vec4 factor{1.0f};
        float cutoff = -1.0f;
        bool twoSided = false;
        GLsizei count = 0;
        std::size_t offset = 0; ///< bytes into the index buffer
    };
    void render(const SceneView& view);

    std::unique_ptr<QOpenGLShaderProgram> link(const std::string& vertex, const std::string& fragment);
    /// Linked when it is first wanted; null if that fails.
    QOpenGLShaderProgram* surfaceProgram(Side side, Finish finish);
    QOpenGLShaderProgram* depthProgram(Side side);
    QOpenGLShaderProgram* flatProgram(Side side);
    void setScoredUniforms(QOpenGLShaderProgram& program, const SceneView& view);
    GLuint uploadImage(const mesh::Material& material);
    GLuint uploadTexture(const image::Image& image);
    void bindAttribute(QOpenGLBuffer& buffer, int location, int width);
    void makeVertexArrays();
    QOpenGLVertexArrayObject* arraysOf(Side side);
    std::vector<QOpenGLBuffer*> buffers();
    void drawShadow(const SceneView& view, const glm::mat4& light, Side side);
    void drawSky(const SceneView& view);
    void drawGround(const SceneView& view, const glm::mat4& light);
    void drawSide(const SceneView& view, const glm::mat4& light, Side side);
    void drawParts(QOpenGLShaderProgram& program, Side side, bool withMaterials);
    void setDecodedUniforms(QOpenGLShaderProgram& program, const SceneView& view);
    float wireStrength() const;
    glm::mat4 lightMatrix(const SceneView& view) const;

    QString problem_;
    bool software_ = false;
    /// 4 samples a pixel, resolved into the other one, which a draft is drawn into.
    std::unique_ptr<QOpenGLFramebufferObject> sampled_;
    std::unique_ptr<QOpenGLFramebufferObject> picture_;
    std::optional<SceneView> drawnView_; ///< what the picture shows; none: it is out of date
    ThemeKind drawnTheme_ = ThemeKind::dusk;
    /// Whose shadow the map holds, and from where; none: it is out of date.
    std::optional<std::pair<Side, glm::mat4>> shadowOf_;
    /// By Finish.
    std::array<std::unique_ptr<QOpenGLShaderProgram>, 2> source_;
    std::array<std::unique_ptr<QOpenGLShaderProgram>, 2> decoded_;
    std::unique_ptr<QOpenGLShaderProgram> sourceFlat_;
    std::unique_ptr<QOpenGLShaderProgram> sourceDepth_;
    std::unique_ptr<QOpenGLShaderProgram> decodedFlat_;
    std::unique_ptr<QOpenGLShaderProgram> sky_;
    std::unique_ptr<QOpenGLShaderProgram> ground_;
    std::array<std::unique_ptr<QOpenGLShaderProgram>, 2> scored_;
    std::unique_ptr<QOpenGLShaderProgram> scoredFlat_;
    std::unique_ptr<QOpenGLShaderProgram> scoredDepth_;
    std::function<std::string(Finish)> scoredVertex_;
    std::string scoreCode_; ///< empty without a score
    std::string scoreArray_;
    std::vector<float> scoreNumbers_;
    std::vector<std::unique_ptr<QOpenGLBuffer>> scoreInputs_;
    bool scoreCuts_ = false;
    std::unique_ptr<QOpenGLVertexArrayObject> scoredArrays_;
    std::string decodedCode_;                          ///< the shipped reader; empty without a bake
    std::function<std::string(Finish)> decodedVertex_; ///< the shader made of it
    QOpenGLBuffer rest_{QOpenGLBuffer::VertexBuffer};
    QOpenGLBuffer unposedNormals_{QOpenGLBuffer::VertexBuffer};
    QOpenGLBuffer posed_{QOpenGLBuffer::VertexBuffer};
    QOpenGLBuffer posedNormals_{QOpenGLBuffer::VertexBuffer};
    QOpenGLBuffer compared_{QOpenGLBuffer::VertexBuffer};
    QOpenGLBuffer comparedNormals_{QOpenGLBuffer::VertexBuffer};
    QOpenGLBuffer shades_{QOpenGLBuffer::VertexBuffer};
    QOpenGLBuffer gridUvs_{QOpenGLBuffer::VertexBuffer};
    QOpenGLBuffer uvs_{QOpenGLBuffer::VertexBuffer};
    QOpenGLBuffer lookups_{QOpenGLBuffer::VertexBuffer};
    QOpenGLBuffer pivots_{QOpenGLBuffer::VertexBuffer};
    QOpenGLBuffer indices_{QOpenGLBuffer::IndexBuffer};
    std::unique_ptr<QOpenGLVertexArrayObject> sourceArrays_;
    std::unique_ptr<QOpenGLVertexArrayObject> decodedArrays_;
    std::unique_ptr<QOpenGLVertexArrayObject> comparedArrays_;
    bool shaded_ = false;
    bool cutsOut_ = false; ///< some material leaves out what its alpha says
    std::unique_ptr<QOpenGLVertexArrayObject> noArrays_;
    std::vector<DrawnPart> parts_;
    std::vector<GLuint> materialTextures_;
    std::size_t vertices_ = 0;
    GLuint white_ = 0;
    GLuint grid_ = 0;
    GLuint shadow_ = 0;
    GLuint shadowTarget_ = 0;
    std::vector<GLuint> bakeTextures_;      ///< in the order of the baked set
    std::vector<std::string> bakeSamplers_; ///< their names in the shipped code
};

} // namespace ripple::app
