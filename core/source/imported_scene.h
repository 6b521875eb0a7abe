#pragma once

#include "base/files.h"
#include "mesh/mesh.h"
#include "source/scene_source.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace ripple::source {

// What the import program hands over: a scene of a file that the import library read. The program runs apart
// from this one, since the library may fail in any way on a damaged file (docs/architecture.md), and is
// believed nothing: whatever comes is checked.

/// What a texture of an imported material is for.
enum class TextureSlot : std::uint8_t { baseColour, normal, occlusion, emissive };
constexpr std::size_t kTextureSlots = 4;

/// An image by the name that the file gives it, or as it lies inside the file.
struct ImportedTexture {
    TextureSlot slot = TextureSlot::baseColour;
    std::string name; ///< as the file has it, in its own encoding
    std::uint32_t uvSet = 0;
    base::Bytes inside; ///< an encoded image; empty: in a file called `name`
};

struct ImportedMaterial {
    std::string name;
    glm::vec4 baseColour{1.0f};
    mesh::AlphaMode alphaMode = mesh::AlphaMode::opaque;
    bool doubleSided = false;
    double metallic = 0.0;
    double roughness = 1.0;
    glm::dvec3 emissive{0.0};
    std::vector<ImportedTexture> textures; ///< one for each slot at most
};

/// The scene without materials' images, its files and its name: those are the reader's.
struct ImportedScene {
    Scene scene;
    std::vector<ImportedMaterial> materials; ///< those that parts count in; at least one
};

/// Writes to an open file what the import program found: a scene, or what is wrong. Throws base::Failure
/// where it can't be written.
void sendScene(int file, const ImportedScene& scene);
void sendProblem(int file, const base::Problem& problem);

/// The other way. `where`: the source's file, for problems. Throws base::Failure: the problem that was sent,
/// or that the bytes are none of the above, or hold a scene that can't be (ranges that reach outside, nodes
/// that are their own ancestors, keys out of order, numbers that are not finite).
ImportedScene receiveScene(std::span<const std::byte> bytes, const std::string& where);

} // namespace ripple::source
