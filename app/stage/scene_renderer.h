#pragma once

#include "app/shell/session.h"
#include "app/stage/scene_shaders.h"

#include <QColor>
#include <QOpenGLBuffer>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <QOpenGLVertexArrayObject>

#include <memory>
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
    bool hasBake() const { return decoded_ != nullptr; }

    void draw(const SceneView& view);

private:
    struct DrawnPart {
        GLuint texture = 0;
        glm::vec4 factor{1.0f};
        float cutoff = -1.0f;
        bool twoSided = false;
        GLsizei count = 0;
        std::size_t offset = 0; ///< bytes into the index buffer
    };
    enum class Side { source, decoded, compared };

    std::unique_ptr<QOpenGLShaderProgram> link(const std::string& vertex, const char* fragment);
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
    std::unique_ptr<QOpenGLShaderProgram> source_;
    std::unique_ptr<QOpenGLShaderProgram> sourceFlat_;
    std::unique_ptr<QOpenGLShaderProgram> sourceDepth_;
    std::unique_ptr<QOpenGLShaderProgram> decoded_;
    std::unique_ptr<QOpenGLShaderProgram> decodedFlat_;
    std::unique_ptr<QOpenGLShaderProgram> sky_;
    std::unique_ptr<QOpenGLShaderProgram> ground_;
    std::string decodedCode_;
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
