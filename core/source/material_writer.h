#pragma once

#include "source/gltf_write.h"
#include "source/material_detail.h"

#include <map>

namespace ripple::source {

/// Materials, textures and images of a model, each written once.
class MaterialWriter {
public:
    MaterialWriter(tinygltf::Model& model, GltfPacking& packing) : model_(model), packing_(packing) {}

    /// Index of the material in the model; −1 for one that no part names. Textures whose image could not be
    /// read are left out.
    int add(const mesh::Material& from);

private:
    tinygltf::Material plain(const mesh::Material& from);
    tinygltf::Material detailed(const mesh::Material& from);
    int addTexture(const mesh::MaterialDetail::Texture& from);
    int addImage(const std::shared_ptr<const mesh::EncodedImage>& from);
    int addSampler(const tinygltf::Sampler& sampler);
    void useExtensions(const tinygltf::ExtensionMap& extensions);
    void useNested(const tinygltf::Value& value);

    tinygltf::Model& model_;
    GltfPacking& packing_;
    std::map<const mesh::EncodedImage*, int> images_;
};

} // namespace ripple::source
