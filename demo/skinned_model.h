#pragma once

#include "image/image.h"
#include "mesh/mesh.h"

#include <array>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include <glm/gtc/quaternion.hpp>
#include <glm/vec3.hpp>

namespace ripple::demo {

struct Bone {
    std::string name;
    int parent = -1;
    glm::vec3 rest{0.0f}; ///< where the joint is in the rest pose; no joint is turned there
};

/// Local rotations of all joints, and where one of them goes relative to its parent.
struct SkeletonPose {
    std::vector<glm::quat> rotations; ///< bones
    glm::vec3 translation{0.0f};      ///< of SkinnedModel::moving, metres
};

struct SkinnedClip {
    std::string name;
    float seconds = 1.0f;
    std::function<SkeletonPose(float seconds)> at;
};

/// A mesh that follows joints, with its clips.
struct SkinnedModel {
    std::string name;
    mesh::Mesh mesh;                                 ///< one part
    std::vector<std::array<std::uint8_t, 4>> joints; ///< vertices
    std::vector<std::array<float, 4>> weights;       ///< vertices
    std::vector<Bone> bones;                         ///< parents before children; the first is not moved
    std::size_t moving = 1;                          ///< the bone that is also translated
    std::vector<SkinnedClip> clips;
};

/// Writes it as one GLB: rotations and the one translation at 30 keys a second, linear between them.
void writeSkinned(SkinnedModel model, const image::Image& texture, const std::string& material,
                  const std::filesystem::path& file);

} // namespace ripple::demo
