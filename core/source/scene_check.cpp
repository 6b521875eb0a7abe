#include "source/scene_check.h"

#include <algorithm>
#include <cmath>
#include <type_traits>

namespace ripple::source {

namespace {

constexpr double kLargest = 1e18; // of any length or factor; what is larger overflows when it is squared

/// No early end: so the processor looks at several at a time.
template <typename Numbers>
bool finite(const Numbers& numbers) {
    using Number = std::remove_cvref_t<decltype(*numbers.begin())>;
    constexpr auto kMost = static_cast<Number>(kLargest);
    bool all = true;
    for (const Number x : numbers) {
        all &= std::abs(x) <= kMost; // false for what is no number
    }
    return all;
}

/// All components of vectors, quaternions and matrices that lie one behind another.
template <typename Component, typename T>
bool finiteParts(std::span<const T> values) {
    const auto* begin = reinterpret_cast<const Component*>(values.data());
    return finite(std::span(begin, values.size() * (sizeof(T) / sizeof(Component))));
}
template <typename T>
bool finiteVectors(const std::vector<T>& values) {
    return finiteParts<float>(std::span<const T>(values));
}
template <typename T>
bool finiteDoubles(const T& value) {
    return finiteParts<double>(std::span<const T>(&value, 1));
}

bool nodesAreSound(const std::vector<SceneNode>& nodes) {
    for (std::size_t n = 0; n < nodes.size(); ++n) {
        const SceneNode& node = nodes[n];
        // Parents come first, so that no node is its own ancestor.
        if (node.parent < -1 || node.parent >= static_cast<int>(n) || !finiteDoubles(node.translation) ||
            !finiteDoubles(node.rotation) || !finiteDoubles(node.scale) || !finiteDoubles(node.matrix) ||
            !finite(node.weights)) {
            return false;
        }
    }
    return !nodes.empty();
}

bool meshIsSound(const mesh::Mesh& mesh, std::size_t materials) {
    const std::size_t count = mesh.vertexCount();
    const auto fits = [count](const auto& values) { return values.empty() || values.size() == count; };
    if (count == 0 || count > 0xFFFFFFFFu || mesh.normals.size() != count || !fits(mesh.tangents) ||
        !fits(mesh.colours) || mesh.indices.empty() || mesh.indices.size() % 3 != 0 ||
        !finiteVectors(mesh.positions) || !finiteVectors(mesh.normals)) {
        return false;
    }
    for (const auto& set : mesh.uvSets) {
        if (set.size() != count) {
            return false;
        }
    }
    std::size_t vertex = 0;
    std::size_t index = 0;
    for (const mesh::Part& part : mesh.parts) {
        if (part.material >= materials || part.firstVertex != vertex || part.firstIndex != index ||
            part.vertexCount > count - vertex || part.indexCount > mesh.indices.size() - index ||
            part.indexCount % 3 != 0) {
            return false;
        }
        vertex += part.vertexCount;
        bool inside = true;
        for (std::size_t i = 0; i < part.indexCount; ++i, ++index) {
            inside &= mesh.indices[index] >= part.firstVertex && mesh.indices[index] < vertex;
        }
        if (!inside) {
            return false;
        }
    }
    return vertex == count && index == mesh.indices.size();
}

bool skinsAreSound(const SceneGeometry& geometry, std::size_t nodes) {
    return std::all_of(geometry.skins.begin(), geometry.skins.end(), [&](const SceneSkin& skin) {
        return !skin.joints.empty() && skin.joints.size() <= 0xFFFF &&
               skin.inverseBind.size() == skin.joints.size() &&
               std::all_of(skin.joints.begin(), skin.joints.end(),
                           [&](std::size_t j) { return j < nodes; }) &&
               finiteParts<double>(std::span<const glm::dmat4>(skin.inverseBind));
    });
}

bool weightsAreSound(const ScenePart& part, const SceneGeometry& geometry) {
    if (part.skin < -1 || part.skin >= static_cast<int>(geometry.skins.size())) {
        return false;
    }
    if (part.skin < 0) {
        return true;
    }
    const SkinWeights& weights = part.weights;
    const std::size_t joints = geometry.skins[static_cast<std::size_t>(part.skin)].joints.size();
    return weights.influences >= 1 && weights.influences <= 0xFFFF &&
           weights.weights.size() == std::size_t{part.vertexCount} * weights.influences &&
           weights.joints.size() == weights.weights.size() && finite(weights.weights) &&
           std::all_of(weights.joints.begin(), weights.joints.end(),
                       [joints](std::uint16_t joint) { return joint < joints; });
}

bool partsAreSound(const SceneGeometry& geometry, std::size_t nodes) {
    if (geometry.parts.size() != geometry.mesh.parts.size()) {
        return false;
    }
    for (std::size_t p = 0; p < geometry.parts.size(); ++p) {
        const ScenePart& part = geometry.parts[p];
        const mesh::Part& drawn = geometry.mesh.parts[p];
        const auto fits = [&](const std::vector<glm::vec3>& values) {
            return (values.empty() || values.size() == part.vertexCount) && finiteVectors(values);
        };
        if (part.node >= nodes || part.firstVertex != drawn.firstVertex ||
            part.vertexCount != drawn.vertexCount || !weightsAreSound(part, geometry) ||
            part.restMorphWeights.size() != part.morphs.size() || !finite(part.restMorphWeights) ||
            !std::all_of(part.morphs.begin(), part.morphs.end(), [&](const MorphTarget& morph) {
                return fits(morph.positions) && fits(morph.normals);
            })) {
            return false;
        }
    }
    return true;
}

bool channelIsSound(const SceneChannel& channel, std::size_t nodes) {
    const bool weights = channel.path == ChannelPath::weights;
    const std::size_t width = channel.path == ChannelPath::rotation ? 4 : weights ? channel.width : 3;
    const std::size_t each = channel.interpolation == Interpolation::cubicSpline ? 3 : 1;
    return channel.node < nodes && channel.path <= ChannelPath::weights &&
           channel.interpolation <= Interpolation::cubicSpline && channel.width == width && width > 0 &&
           width <= 0xFFFF && !channel.times.empty() &&
           channel.values.size() == channel.times.size() * width * each && finite(channel.times) &&
           finite(channel.values) &&
           std::adjacent_find(channel.times.begin(), channel.times.end(), std::greater_equal<>()) ==
               channel.times.end();
}

bool materialIsSound(const ImportedMaterial& material) {
    return material.alphaMode <= mesh::AlphaMode::blend && std::isfinite(material.metallic) &&
           std::isfinite(material.roughness) && finiteDoubles(material.emissive) &&
           finiteParts<float>(std::span<const glm::vec4>(&material.baseColour, 1)) &&
           material.textures.size() <= kTextureSlots &&
           std::all_of(material.textures.begin(), material.textures.end(),
                       [](const ImportedTexture& texture) {
                           return texture.slot <= TextureSlot::emissive && texture.uvSet < 64;
                       });
}

} // namespace

bool isSound(const ImportedScene& imported) {
    const Scene& scene = imported.scene;
    const auto known = [](const base::Findings& findings) {
        return std::all_of(findings.begin(), findings.end(), [](const base::Finding& finding) {
            return finding.severity <= base::Severity::broken;
        });
    };
    return scene.space.up <= Axis::z && std::isfinite(scene.space.metresPerUnit) &&
           scene.space.metresPerUnit > 0.0 && known(scene.findings) && known(scene.geometry.findings) &&
           nodesAreSound(scene.nodes) && !imported.materials.empty() &&
           std::all_of(imported.materials.begin(), imported.materials.end(), &materialIsSound) &&
           meshIsSound(scene.geometry.mesh, imported.materials.size()) &&
           skinsAreSound(scene.geometry, scene.nodes.size()) &&
           partsAreSound(scene.geometry, scene.nodes.size()) &&
           std::all_of(scene.animations.begin(), scene.animations.end(),
                       [&](const SceneAnimation& animation) {
                           return std::isfinite(animation.start) && std::isfinite(animation.end) &&
                                  animation.end >= animation.start &&
                                  std::all_of(animation.channels.begin(), animation.channels.end(),
                                              [&](const SceneChannel& channel) {
                                                  return channelIsSound(channel, scene.nodes.size());
                                              });
                       });
}

} // namespace ripple::source
