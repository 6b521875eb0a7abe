#pragma once

#include <QOpenGLBuffer>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <QOpenGLVertexArrayObject>

#include <functional>
#include <memory>
#include <span>

#include <glm/vec3.hpp>

namespace ripple::app {

class Linker;

/// What stands about beside the model, in one colour each: the ground that copies stand on, and a ball. All
/// calls need the context to be current.
class Scenery : protected QOpenGLFunctions_3_3_Core {
public:
    void create(Linker& linker);
    void destroy();

    /// Triangles of the ground, with a normal for each vertex; none: there is none but the flat one.
    void setGround(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals,
                   std::span<const std::uint32_t> indices);
    bool coversGround() const { return ground_.count > 0; }
    /// A ball about `middle`; radius 0: none.
    void setBall(const glm::vec3& middle, float radius);
    bool empty() const { return !coversGround() && ballRadius_ <= 0.0f; }

    /// `prepare`: sets the uniforms that all of the scene's programs have in common.
    void draw(const std::function<void(QOpenGLShaderProgram&)>& prepare);
    /// Sets what the ground's grid is drawn with.
    struct Paint {
        glm::vec3 ground{0.05f};
        glm::vec3 line{0.2f};
        glm::vec3 ball{0.8f, 0.3f, 0.2f};
        float cell = 1.0f; ///< metres
    };
    void setPaint(const Paint& paint) { paint_ = paint; }

private:
    struct Body {
        QOpenGLBuffer positions{QOpenGLBuffer::VertexBuffer};
        QOpenGLBuffer normals{QOpenGLBuffer::VertexBuffer};
        QOpenGLBuffer indices{QOpenGLBuffer::IndexBuffer};
        std::unique_ptr<QOpenGLVertexArrayObject> arrays;
        GLsizei count = 0;
    };
    void fill(Body& body, std::span<const glm::vec3> positions, std::span<const glm::vec3> normals,
              std::span<const std::uint32_t> indices);
    void drawBody(Body& body);

    Body ground_;
    Body ball_;
    glm::vec3 ballMiddle_{0.0f};
    float ballRadius_ = 0.0f;
    Paint paint_;
    std::unique_ptr<QOpenGLShaderProgram> program_;
};

} // namespace ripple::app
