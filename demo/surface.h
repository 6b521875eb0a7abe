#pragma once

#include "image/image.h"
#include "mesh/mesh.h"

#include <filesystem>
#include <functional>
#include <string>

namespace ripple::demo {

/// Builds a mesh of surfaces over (u, v) in 0..1 each, V downward; one part, one material.
class SurfaceMesh {
public:
    using At = std::function<glm::vec3(float u, float v)>;
    struct Patch {
        std::size_t columns = 1; ///< cells along u
        std::size_t rows = 1;    ///< cells along v
        At at;                   ///< metres; seen with u to the right and v down, faces look at the viewer
        glm::vec2 uvFrom{0.0f};  ///< where the patch lies in the texture
        glm::vec2 uvTo{1.0f};
        glm::vec4 colour{1.0f}; ///< linear vertex colour
        float stored = 0.0f;    ///< the value stored at all its vertices
    };

    void add(const Patch& patch);
    /// Normals from the triangles; patches that meet at the same places share theirs.
    mesh::Mesh finish(const std::string& name, const std::string& storedName);

private:
    mesh::Mesh mesh_;
    std::vector<float> stored_;
};

/// Paints an image of sRGB colours, 0..1 each; alpha below 1 makes it one of four channels.
image::Image paint(std::size_t side, bool alpha, const std::function<glm::vec4(float u, float v)>& colour);

/// Writes mesh and texture as one GLB without animation.
void writeModel(mesh::Mesh mesh, const std::string& name, const image::Image& texture, bool twoSided,
                const std::filesystem::path& file);

} // namespace ripple::demo
