// What hangs about the quay: the fender that boats squeeze, and a pennant of the bunting.

#include "demo/make_demo.h"
#include "demo/noise.h"
#include "demo/surface.h"
#include "image/png.h"
#include "source/gltf_write.h"

#include <cmath>

#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <glm/gtc/constants.hpp>

namespace ripple::demo {

namespace {


glm::vec4 rubber(float u, float v) {
    const float scuff = noise(u * 30.0f, v * 60.0f, 71u);
    const bool ring = std::abs(v - 0.18f) < 0.03f || std::abs(v - 0.82f) < 0.03f;
    const glm::vec3 tone = ring ? glm::vec3(0.86f, 0.83f, 0.74f) : glm::vec3(0.13f, 0.15f, 0.17f);
    return {tone * (0.92f + 0.14f * scuff), 1.0f};
}

glm::vec4 cloth(float u, float v) {
    if (v < 0.08f) { // the rope's strip
        return {glm::vec3(0.78f, 0.70f, 0.54f) * (0.85f + 0.2f * std::sin(u * 160.0f)), 1.0f};
    }
    const bool stripe = u < 0.34f || u > 0.66f;
    const glm::vec3 tone = stripe ? glm::vec3(0.86f, 0.30f, 0.20f) : glm::vec3(0.93f, 0.89f, 0.78f);
    const float weave = 0.95f + 0.05f * std::sin(u * 500.0f) * std::sin(v * 500.0f);
    return {tone * weave, 1.0f};
}

constexpr float kFenderRadius = 0.16f;
constexpr float kFenderHigh = 0.62f;

/// How far one side of the fender is pressed in at a height, 0..1, and round how much of it.
glm::vec3 pressed(const glm::vec3& rest, float from) {
    const float side = rest.x * from > 0.0f ? std::abs(rest.x) / kFenderRadius : 0.0f;
    const float middle = (rest.y - 0.5f * kFenderHigh) / (0.5f * kFenderHigh);
    const float deep = side * side * std::exp(-2.2f * middle * middle);
    return {-from * 0.085f * deep, 0.0f, 0.0f};
}

/// Rubber that is pressed in goes out across.
glm::vec3 bulged(const glm::vec3& rest) {
    const float middle = (rest.y - 0.5f * kFenderHigh) / (0.5f * kFenderHigh);
    const float much = std::exp(-1.6f * middle * middle);
    return {0.0f, 0.05f * (rest.y / kFenderHigh - 0.5f) * much, 0.30f * rest.z * much};
}

SurfaceMesh::Patch fenderSkin() {
    SurfaceMesh::Patch skin;
    skin.columns = 32;
    skin.rows = 24;
    skin.at = [](float u, float v) {
        // A cylinder with round ends; open at its poles by a hair.
        const float cap = 0.16f;
        const float up = 1.0f - v;
        const float end = up < cap ? 1.0f - up / cap : up > 1.0f - cap ? 1.0f - (1.0f - up) / cap : 0.0f;
        const float radius = kFenderRadius * std::sqrt(std::max(1.0f - 0.998f * end * end, 0.0f));
        return glm::vec3(radius * std::cos(glm::two_pi<float>() * u), kFenderHigh * up, -radius * std::sin(glm::two_pi<float>() * u));
    };
    return skin;
}

} // namespace

void makeFender(const std::filesystem::path& file) {
    SurfaceMesh surface;
    surface.add(fenderSkin());
    mesh::Mesh mesh = surface.finish("fender", "SKIN");
    mesh::Material material;
    material.name = "rubber";
    auto image = std::make_shared<mesh::EncodedImage>();
    image->name = "fender.png";
    image->mimeType = "image/png";
    image->bytes = image::encodePng(paint(256, false, rubber));
    material.baseColourImage = std::move(image);
    mesh.materials.push_back(std::move(material));

    tinygltf::Model model = source::gltfModel(mesh, "fender", {});
    source::GltfPacking packing(model);
    // Three shapes: pressed by the boat, pressed by the quay, and out across.
    constexpr std::size_t kShapes = 3;
    for (std::size_t shape = 0; shape < kShapes; ++shape) {
        std::vector<glm::vec3> offsets;
        glm::vec3 low(1e9f);
        glm::vec3 high(-1e9f);
        for (const glm::vec3& p : mesh.positions) {
            offsets.push_back(shape == 0 ? pressed(p, 1.0f) : shape == 1 ? pressed(p, -1.0f) : bulged(p));
            low = glm::min(low, offsets.back());
            high = glm::max(high, offsets.back());
        }
        const int accessor = packing.add(std::span<const glm::vec3>(offsets), TINYGLTF_COMPONENT_TYPE_FLOAT,
                                         TINYGLTF_TYPE_VEC3, TINYGLTF_TARGET_ARRAY_BUFFER);
        for (int c = 0; c < 3; ++c) {
            packing.accessor(accessor).minValues.push_back(static_cast<double>(low[c]));
            packing.accessor(accessor).maxValues.push_back(static_cast<double>(high[c]));
        }
        model.meshes[0].primitives[0].targets.push_back({{"POSITION", accessor}});
        model.meshes[0].weights.push_back(0.0);
    }
    // A swell that pushes the boat against it twice in four seconds, not alike.
    constexpr float kSeconds = 4.0f;
    constexpr int kKeys = 120;
    std::vector<float> times;
    std::vector<float> weights;
    for (int k = 0; k <= kKeys; ++k) {
        const float part = static_cast<float>(k) / kKeys;
        times.push_back(kSeconds * part);
        const float push = std::pow(0.5f - 0.5f * std::cos(2.0f * glm::two_pi<float>() * part), 1.6f) *
                           (0.75f + 0.25f * std::cos(glm::two_pi<float>() * part));
        weights.insert(weights.end(), {push, 0.8f * push, 0.9f * push * push});
    }
    tinygltf::Animation animation;
    animation.name = "nudge";
    tinygltf::AnimationSampler sampler;
    sampler.input =
        packing.add(std::span<const float>(times), TINYGLTF_COMPONENT_TYPE_FLOAT, TINYGLTF_TYPE_SCALAR, 0);
    packing.accessor(sampler.input).minValues = {0.0};
    packing.accessor(sampler.input).maxValues = {static_cast<double>(times.back())};
    sampler.output =
        packing.add(std::span<const float>(weights), TINYGLTF_COMPONENT_TYPE_FLOAT, TINYGLTF_TYPE_SCALAR, 0);
    sampler.interpolation = "LINEAR";
    tinygltf::AnimationChannel channel;
    channel.sampler = 0;
    channel.target_node = 0;
    channel.target_path = "weights";
    animation.samplers.push_back(sampler);
    animation.channels.push_back(channel);
    model.animations.push_back(std::move(animation));
    base::writeFile(file, source::glbBytes(model, file.string()));
}

void makeBunting(const std::filesystem::path& file) {
    SurfaceMesh pennant;
    constexpr float kHigh = 2.2f; // metres above the quay at which the rope runs
    constexpr float kWide = 0.34f;
    constexpr float kLong = 0.46f;
    SurfaceMesh::Patch flag;
    flag.columns = 8;
    flag.rows = 12;
    flag.uvFrom = {0.0f, 0.1f};
    flag.at = [](float u, float v) {
        return glm::vec3(kWide * (u - 0.5f) * (1.0f - 0.96f * v), kHigh - kLong * v, 0.0f);
    };
    pennant.add(flag);
    SurfaceMesh::Patch rope;
    rope.columns = 5;
    rope.rows = 6;
    rope.uvTo = {1.0f, 0.06f};
    rope.at = [](float u, float v) {
        const float angle = -glm::two_pi<float>() * u;
        return glm::vec3(0.40f * (v - 0.5f), kHigh + 0.012f + 0.010f * std::cos(angle),
                         0.010f * std::sin(angle));
    };
    pennant.add(rope);
    writeModel(pennant.finish("bunting", "PART"), "bunting", paint(256, false, cloth), true, file);
}

} // namespace ripple::demo
