#pragma once

#include "mesh/mesh.h"
#include "source/gltf_library.h"

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ripple::mesh {

/// A material as glTF 2.0 has it, with every factor, texture and extension. Its texture indices count in
/// `textures`, those of the UV sets as `Material::uvSetNow` says.
struct MaterialDetail {
    struct Texture {
        tinygltf::Texture texture; ///< name, extensions and extras; its source and sampler are not looked at
        bool hasSampler = false;
        tinygltf::Sampler sampler;
        std::shared_ptr<const EncodedImage> image; ///< may be null
        /// Images in other encodings, by the extension that names them ("EXT_texture_webp").
        std::map<std::string, std::shared_ptr<const EncodedImage>> further;

        bool readable() const { return image || !further.empty(); }
    };
    tinygltf::Material material;
    std::shared_ptr<const std::vector<Texture>> textures; ///< several materials share one table
};

} // namespace ripple::mesh

namespace ripple::source {

/// Where a material names a texture: in a field of its own or inside an extension.
struct TextureUse {
    int index = -1;
    int uvSet = 0;
    std::string field; ///< "normalTexture", "clearcoatTexture"
};

/// Calls `change` for every place in which the material names a texture; what it leaves there is written
/// back. A UV set that a texture transform overrides is the one that counts.
void changeTextureUses(tinygltf::Material& material, const std::function<void(TextureUse&)>& change);

/// Sets name, base-colour factor, alpha and double-sidedness as the drawn material has them.
void takePlainParts(const mesh::Material& from, tinygltf::Material& to);

/// The UV set along whose directions the material's normal maps lie, as the mesh has it now; none without
/// any.
std::optional<std::size_t> normalMapUvSet(const mesh::Material& material);

/// Sets what the material says of its textures as a whole: the UV sets read, and whether it has a normal map.
void noteTextureUses(mesh::Material& material);

/// "image/png", "image/jpeg", "image/webp" or "image/ktx2" by the first bytes; empty for anything else.
std::string imageTypeOf(std::span<const std::byte> bytes);

} // namespace ripple::source
