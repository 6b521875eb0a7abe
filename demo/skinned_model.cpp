#include "demo/skinned_model.h"

#include "image/png.h"
#include "source/gltf_write.h"

#include <cmath>

#include <glm/mat4x4.hpp>

namespace ripple::demo {

namespace {

constexpr float kKeysPerSecond = 30.0f;

void addSkin(tinygltf::Model& model, source::GltfPacking& packing, const SkinnedModel& of, int firstJoint) {
    constexpr int kVertices = TINYGLTF_TARGET_ARRAY_BUFFER;
    tinygltf::Primitive& primitive = model.meshes[0].primitives[0];
    primitive.attributes["JOINTS_0"] =
        packing.add(std::span<const std::array<std::uint8_t, 4>>(of.joints),
                    TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE, TINYGLTF_TYPE_VEC4, kVertices);
    primitive.attributes["WEIGHTS_0"] =
        packing.add(std::span<const std::array<float, 4>>(of.weights), TINYGLTF_COMPONENT_TYPE_FLOAT,
                    TINYGLTF_TYPE_VEC4, kVertices);
    tinygltf::Skin skin;
    std::vector<glm::mat4> inverseBind;
    for (std::size_t j = 0; j < of.bones.size(); ++j) {
        skin.joints.push_back(firstJoint + static_cast<int>(j));
        glm::mat4 inverse(1.0f); // joints are unturned at rest
        inverse[3] = glm::vec4(-of.bones[j].rest, 1.0f);
        inverseBind.push_back(inverse);
    }
    skin.inverseBindMatrices = packing.add(std::span<const glm::mat4>(inverseBind),
                                           TINYGLTF_COMPONENT_TYPE_FLOAT, TINYGLTF_TYPE_MAT4, 0);
    skin.skeleton = firstJoint;
    model.skins.push_back(skin);
}

void addJoints(tinygltf::Model& model, const SkinnedModel& of, int firstJoint) {
    for (std::size_t j = 0; j < of.bones.size(); ++j) {
        tinygltf::Node node;
        node.name = of.bones[j].name;
        const int parent = of.bones[j].parent;
        const glm::vec3 from =
            parent >= 0 ? of.bones[static_cast<std::size_t>(parent)].rest : glm::vec3(0.0f);
        const glm::vec3 offset = of.bones[j].rest - from;
        node.translation = {static_cast<double>(offset.x), static_cast<double>(offset.y),
                            static_cast<double>(offset.z)};
        model.nodes.push_back(node);
        if (parent >= 0) {
            model.nodes[static_cast<std::size_t>(firstJoint + parent)].children.push_back(
                firstJoint + static_cast<int>(j));
        }
    }
}

void addClip(tinygltf::Model& model, source::GltfPacking& packing, const SkinnedModel& of,
             const SkinnedClip& clip, int firstJoint) {
    const auto steps = static_cast<std::size_t>(std::lround(clip.seconds * kKeysPerSecond));
    std::vector<float> times;
    std::vector<SkeletonPose> poses;
    for (std::size_t k = 0; k <= steps; ++k) {
        times.push_back(clip.seconds * static_cast<float>(k) / static_cast<float>(steps));
        poses.push_back(clip.at(times.back()));
    }
    tinygltf::Animation animation;
    animation.name = clip.name;
    const int input =
        packing.add(std::span<const float>(times), TINYGLTF_COMPONENT_TYPE_FLOAT, TINYGLTF_TYPE_SCALAR, 0);
    packing.accessor(input).minValues = {static_cast<double>(times.front())};
    packing.accessor(input).maxValues = {static_cast<double>(times.back())};
    const auto channel = [&](std::size_t joint, const char* path, int output) {
        tinygltf::AnimationSampler sampler;
        sampler.input = input;
        sampler.output = output;
        sampler.interpolation = "LINEAR";
        tinygltf::AnimationChannel target;
        target.sampler = static_cast<int>(animation.samplers.size());
        target.target_node = firstJoint + static_cast<int>(joint);
        target.target_path = path;
        animation.samplers.push_back(sampler);
        animation.channels.push_back(target);
    };
    for (std::size_t j = 1; j < of.bones.size(); ++j) {
        std::vector<glm::vec4> rotations;
        for (const SkeletonPose& pose : poses) {
            const glm::quat& q = pose.rotations[j];
            rotations.emplace_back(q.x, q.y, q.z, q.w);
        }
        channel(j, "rotation",
                packing.add(std::span<const glm::vec4>(rotations), TINYGLTF_COMPONENT_TYPE_FLOAT,
                            TINYGLTF_TYPE_VEC4, 0));
    }
    std::vector<glm::vec3> places;
    for (const SkeletonPose& pose : poses) {
        places.push_back(pose.translation);
    }
    channel(of.moving, "translation",
            packing.add(std::span<const glm::vec3>(places), TINYGLTF_COMPONENT_TYPE_FLOAT, TINYGLTF_TYPE_VEC3,
                        0));
    model.animations.push_back(std::move(animation));
}

} // namespace

void writeSkinned(SkinnedModel of, const image::Image& texture, const std::string& materialName,
                  const std::filesystem::path& file) {
    mesh::Material material;
    material.name = materialName;
    auto image = std::make_shared<mesh::EncodedImage>();
    image->name = of.name + ".png";
    image->mimeType = "image/png";
    image->bytes = image::encodePng(texture);
    material.baseColourImage = std::move(image);
    of.mesh.materials.push_back(std::move(material));
    tinygltf::Model model = source::gltfModel(of.mesh, of.name, {});
    source::GltfPacking packing(model);
    const int firstJoint = static_cast<int>(model.nodes.size());
    addJoints(model, of, firstJoint);
    addSkin(model, packing, of, firstJoint);
    model.nodes[0].skin = 0;
    model.scenes[0].nodes.push_back(firstJoint);
    for (const SkinnedClip& clip : of.clips) {
        addClip(model, packing, of, clip, firstJoint);
    }
    base::writeFile(file, source::glbBytes(model, file.string()));
}

} // namespace ripple::demo
