#pragma once

#include "app/stage/pieces.h"
#include "app/stage/prepared_mesh.h"

#include <QOpenGLBuffer>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLVertexArrayObject>

#include <array>
#include <span>

#include <glm/vec3.hpp>
#include <glm/vec4.hpp>

namespace ripple::app {

/// What is drawn of the model: posed by the processor, decoded by the shipped code, another frame posed by
/// the processor, or moved by the score's code.
enum class Side { source, decoded, compared, scored };
constexpr std::size_t kSides = 4;

/// How much of a dense mesh is drawn.
enum class Detail { whole, draft, shadow };

/// Triangles of one material.
struct DrawnPart {
    GLuint texture = 0;
    glm::vec4 factor{1.0f};
    float cutoff = -1.0f;
    bool twoSided = false;
    struct Run {
        GLsizei count = 0;
        std::size_t first = 0; ///< in the index buffer of its detail
    };
    std::array<Run, 3> runs; ///< by Detail
    std::vector<Run> levels; ///< of detail, beside the whole: in the index buffer of levels
};

/// What the shipped code reads at each vertex. One element a vertex, or none.
struct ShippedVertices {
    std::vector<glm::vec2> lookups;
    std::vector<glm::vec3> pivots;
    std::span<const glm::vec3> positions; ///< of another pose than the rest pose
    std::span<const glm::vec3> normals;
    std::array<std::vector<glm::vec4>, 3> joints; ///< pairs of joints, weights, more weights
};

/// Where in the decoded side's vertex stage ShippedVertices::joints are.
constexpr int kFirstJointAttribute = 7;

/// Vertices, indices and images of the mesh on the graphics card. All calls need the context to be current.
class MeshOnGpu : protected QOpenGLFunctions_3_3_Core {
public:
    void create();
    void destroy();

    /// Adds the pieces of putting it there; until they are done the mesh is empty. `white`: the texture of
    /// materials that have none. Mesh and what was prepared of it must outlive that.
    void begin(const mesh::Mesh& mesh, const PreparedMesh& prepared, GLuint white, Pieces& pieces);
    void clear();

    bool empty() const { return parts_.empty(); }
    std::size_t vertices() const { return vertices_; }
    std::size_t triangles() const;
    const std::vector<DrawnPart>& parts() const { return parts_; }
    /// There is something coarser than the whole to draw.
    bool hasCoarse() const { return coarse_; }
    /// Some material leaves out what its alpha says.
    bool cutsOut() const { return cutsOut_; }
    /// Vertices have colours of a measured look.
    bool shaded() const { return shaded_; }

    // One element a vertex; of another number they are left as they are.
    void setPose(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals);
    void setComparedPose(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals);
    void setGridUvs(std::span<const glm::vec2> uvs);
    void setShades(std::span<const glm::vec4> shades);
    /// Levels of detail over the same vertices, each with a run for every part; none: the whole alone.
    void setLevels(std::span<const mesh::Coarse> levels);
    QOpenGLBuffer& levelIndices() { return levelIndices_; }
    /// For the decoded side.
    void setShipped(const ShippedVertices& shipped);

    QOpenGLVertexArrayObject* arraysOf(Side side) { return arrays_[static_cast<std::size_t>(side)].get(); }
    /// Into the vertex array that is bound: a buffer of `width` floats a vertex.
    void bindAttribute(QOpenGLBuffer& buffer, int location, int width);
    /// The rest pose and what all sides share, into the vertex array that is bound.
    void bindRest();
    QOpenGLBuffer& indicesOf(Detail detail) { return detail == Detail::whole ? indices_ : coarseIndices_; }

private:
    void addBuffers(const mesh::Mesh& mesh, const PreparedMesh& prepared, Pieces& pieces);
    void addImage(const mesh::Material& material, const std::vector<QImage>& levels, GLuint white,
                  Pieces& pieces);
    void setParts(const mesh::Mesh& mesh, const PreparedMesh& prepared);
    void makeVertexArrays();
    void setCoarse(const mesh::Coarse& coarse, const mesh::Coarse& forShadows);
    void write(QOpenGLBuffer& buffer, const void* values, std::size_t bytes);
    std::vector<QOpenGLBuffer*> buffers();

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
    QOpenGLBuffer shipped_{QOpenGLBuffer::VertexBuffer};
    QOpenGLBuffer shippedNormals_{QOpenGLBuffer::VertexBuffer};
    QOpenGLBuffer joints_[3] = {QOpenGLBuffer(QOpenGLBuffer::VertexBuffer),
                                QOpenGLBuffer(QOpenGLBuffer::VertexBuffer),
                                QOpenGLBuffer(QOpenGLBuffer::VertexBuffer)};
    QOpenGLBuffer indices_{QOpenGLBuffer::IndexBuffer};
    QOpenGLBuffer coarseIndices_{QOpenGLBuffer::IndexBuffer};
    QOpenGLBuffer levelIndices_{QOpenGLBuffer::IndexBuffer};
    std::array<std::unique_ptr<QOpenGLVertexArrayObject>, kSides> arrays_;
    std::vector<DrawnPart> parts_;
    std::vector<GLuint> textures_;         ///< own ones
    std::vector<GLuint> materialTextures_; ///< materials: own or white
    std::size_t vertices_ = 0;
    bool coarse_ = false;
    bool cutsOut_ = false;
    bool shaded_ = false;
};

} // namespace ripple::app
