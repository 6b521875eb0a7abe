#include "bundle/page_picture.h"

#include "base/srgb.h"
#include "base/units.h"
#include "mesh/bounds.h"
#include "mesh/drawing.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include <glm/geometric.hpp>

namespace ripple::bundle {

namespace {

constexpr std::size_t kTriangles = 1500;
constexpr float kWidth = 800.0f; // of the picture, in its own units
constexpr float kHeight = 500.0f;

struct Triangle {
    std::array<glm::vec3, 3> corners; ///< x to the right, y up, z towards the eye
    std::string colour;
};

std::string hexOf(const glm::vec3& linear) {
    std::string text = "#";
    for (int c = 0; c < 3; ++c) {
        const float value = std::clamp(base::toSrgb(linear[c]), 0.0f, 1.0f);
        const auto byte = static_cast<unsigned>(std::lround(255.0f * value));
        constexpr const char* kDigits = "0123456789abcdef";
        text += kDigits[byte >> 4];
        text += kDigits[byte & 15];
    }
    return text;
}

/// Of a material, or of the vertex colours that stand in for it.
glm::vec3 colourOf(const mesh::Mesh& mesh, std::size_t material, std::uint32_t vertex) {
    glm::vec3 colour(mesh.materials[material].baseColour);
    if (!mesh.colours.empty()) {
        colour *= glm::vec3(mesh.colours[vertex]);
    }
    return mesh.materials[material].baseColourImage ? 0.6f * colour : colour; // images are not read here
}

} // namespace

std::string pictureOf(const mesh::Mesh& mesh, const std::string& label) {
    const mesh::Coarse coarse = mesh::coarsen(mesh, kTriangles, mesh::Borders::mayThin);
    const float turn = 0.6f;
    const float tilt = 0.25f;
    const auto seen = [&](const glm::vec3& p) {
        const float side = std::cos(turn) * p.x - std::sin(turn) * p.z;
        const float depth = std::sin(turn) * p.x + std::cos(turn) * p.z;
        return glm::vec3(side, std::cos(tilt) * p.y - std::sin(tilt) * depth,
                         std::sin(tilt) * p.y + std::cos(tilt) * depth);
    };
    std::vector<Triangle> triangles;
    mesh::Bounds box;
    const glm::vec3 light = glm::normalize(glm::vec3(0.3f, 0.8f, 0.6f));
    for (std::size_t part = 0; part < coarse.parts.size(); ++part) {
        const std::size_t material = mesh.parts[part].material;
        const mesh::Coarse::Range& range = coarse.parts[part];
        for (std::uint32_t i = 0; i + 2 < range.indexCount; i += 3) {
            const std::uint32_t* index = &coarse.indices[range.firstIndex + i];
            Triangle made;
            for (std::size_t k = 0; k < 3; ++k) {
                made.corners[k] = seen(mesh.positions[index[k]]);
                box.add(made.corners[k]);
            }
            const glm::vec3 across =
                glm::cross(made.corners[1] - made.corners[0], made.corners[2] - made.corners[0]);
            if (!(glm::length(across) > 0.0f)) {
                continue;
            }
            // Of a sheet either side is looked at.
            const glm::vec3 facing = glm::normalize(across.z < 0.0f ? -across : across);
            const float lit = 0.35f + 0.65f * std::max(glm::dot(facing, light), 0.0f);
            made.colour = hexOf(lit * colourOf(mesh, material, index[0]));
            triangles.push_back(std::move(made));
        }
    }
    std::stable_sort(triangles.begin(), triangles.end(), [](const Triangle& a, const Triangle& b) {
        return a.corners[0].z + a.corners[1].z + a.corners[2].z <
               b.corners[0].z + b.corners[1].z + b.corners[2].z;
    });
    const glm::vec3 size = glm::max(box.size(), glm::vec3(1e-6f));
    const float scale = 0.85f * std::min(kWidth / size.x, kHeight / size.y);
    std::string text = "<svg viewBox=\"0 0 800 500\" role=\"img\" aria-label=\"" + label + "\">\n";
    for (const Triangle& triangle : triangles) {
        text += "<path d=\"M";
        for (const glm::vec3& corner : triangle.corners) {
            const glm::vec3 at = scale * (corner - box.centre());
            text += base::decimalText(static_cast<double>(0.5f * kWidth + at.x), 1) + " " +
                    base::decimalText(static_cast<double>(0.5f * kHeight - at.y), 1) + " ";
        }
        // A thin line of its own colour hides the gaps between triangles.
        text += "Z\" fill=\"" + triangle.colour + "\" stroke=\"" + triangle.colour +
                "\" stroke-width=\"0.7\"/>\n";
    }
    return text + "</svg>";
}

} // namespace ripple::bundle
