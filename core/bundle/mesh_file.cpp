#include "bundle/mesh_file.h"

#include "bake/joint_texels.h"
#include "bake/kind.h"
#include "base/problem.h"
#include "base/units.h"
#include "mesh/uv_sets.h"
#include "source/gltf_write.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace ripple::bundle {

std::size_t pivotUvSet(const mesh::Mesh& mesh, std::size_t lookupSet) {
    return std::max(mesh.uvSets.size(), lookupSet + 1);
}

base::Bytes encodeMesh(const mesh::Mesh& mesh, std::span<const glm::vec2> lookup, std::size_t lookupSet,
                       std::span<const std::vector<glm::vec2>> more, const std::string& name) {
    return source::glbBytes(meshModel(mesh, lookup, lookupSet, more, name), name + ".glb");
}

tinygltf::Model meshModel(const mesh::Mesh& mesh, std::span<const glm::vec2> lookup, std::size_t lookupSet,
                          std::span<const std::vector<glm::vec2>> more, const std::string& name) {
    if (lookupSet == mesh.uvSets.size() && more.empty()) {
        return source::gltfModel(mesh, name, lookup);
    }
    mesh::Mesh withLookup = mesh;
    while (withLookup.uvSets.size() <= lookupSet) {
        withLookup.uvSets.emplace_back(mesh.vertexCount(), glm::vec2(0.0f));
    }
    withLookup.uvSets[lookupSet].assign(lookup.begin(), lookup.end());
    withLookup.uvSets.insert(withLookup.uvSets.end(), more.begin(), more.end());
    return source::gltfModel(withLookup, name, {});
}

std::vector<std::vector<glm::vec2>> uvSetsOf(const bake::TextureSet& set,
                                             std::span<const std::uint32_t> columnOfVertex) {
    if (set.joints.inUvs) {
        std::vector<bake::JointInfluences> vertices;
        vertices.reserve(columnOfVertex.size());
        for (const std::uint32_t column : columnOfVertex) {
            vertices.push_back(set.influences[column]);
        }
        return bake::influencesAsUvs(vertices, set.joints.influences);
    }
    std::vector<std::vector<glm::vec2>> sets(1);
    for (const std::uint32_t column : columnOfVertex) {
        sets[0].push_back(set.layout.lookupUv(column));
    }
    if (!set.pivots.empty()) {
        sets.resize(3);
        for (const std::uint32_t piece : columnOfVertex) {
            const glm::vec3& pivot = set.pivots[piece];
            sets[1].push_back({pivot.x, pivot.y});
            sets[2].push_back({pivot.z, static_cast<float>(piece)});
        }
    }
    return sets;
}

namespace {

void takeInfluences(const std::vector<std::vector<glm::vec2>>& sets, const std::string& file,
                    bake::TextureSet& set, std::vector<std::uint32_t>& columnOfVertex) {
    set.influences = bake::influencesOfUvs(sets, set.joints.influences);
    columnOfVertex.resize(set.influences.size());
    std::iota(columnOfVertex.begin(), columnOfVertex.end(), 0u);
    for (std::size_t v = 0; v < set.influences.size(); ++v) {
        float sum = 0.0f;
        bool known = true;
        for (std::size_t i = 0; i < set.joints.influences; ++i) {
            sum += set.influences[v].weights[i];
            known = known &&
                    (set.influences[v].weights[i] == 0.0f || set.influences[v].joints[i] < set.joints.joints);
        }
        if (!known || !(std::abs(sum - 1.0f) < 1e-4f)) {
            base::fail(file, "vertex " + std::to_string(v) + " has no joints and weights in its UV sets",
                       "they were generated again or cut to half precision; write the bundle again");
        }
    }
}

} // namespace

std::size_t extraUvSets(const bake::BakeFormat& format) {
    return format.joints.inUvs ? bake::setsOf(format.joints.influences) - 1 : format.kind->hasPivots ? 2 : 0;
}

void takeUvSets(const mesh::Mesh& mesh, std::size_t lookupSet, const std::string& file, bake::TextureSet& set,
                std::vector<std::uint32_t>& columnOfVertex) {
    const std::size_t more = extraUvSets(set);
    if (more > 0 && set.pivotUvSet + more > mesh.uvSets.size()) {
        base::fail(file,
                   "has " + base::plural(mesh.uvSets.size(), "UV set") + ", the " +
                       (set.joints.inUvs ? "joints of vertices" : "pivots") + " should be in sets " +
                       std::to_string(set.pivotUvSet) + " to " + std::to_string(set.pivotUvSet + more - 1),
                   "the mesh was changed; write the bundle again");
    }
    std::vector<std::vector<glm::vec2>> sets = {mesh.uvSets[lookupSet]};
    for (std::size_t s = 0; s < more; ++s) {
        sets.push_back(mesh.uvSets[set.pivotUvSet + s]);
    }
    if (set.joints.inUvs) {
        takeInfluences(sets, file, set, columnOfVertex);
        return;
    }
    for (std::size_t v = 0; v < mesh.vertexCount(); ++v) {
        const std::size_t column = set.layout.columnAt(sets[0][v]);
        if (column >= set.layout.columns) {
            base::fail(
                file, "vertex " + std::to_string(v) + " has a lookup UV outside the textures' first frame",
                "its UV set " + std::to_string(lookupSet) + " was generated again; write the bundle again");
        }
        columnOfVertex.push_back(static_cast<std::uint32_t>(column));
    }
    set.pivots.assign(set.kind->hasPivots ? set.layout.columns : 0, glm::vec3(0.0f));
    for (std::size_t v = 0; v < columnOfVertex.size() && !set.pivots.empty(); ++v) {
        set.pivots[columnOfVertex[v]] = glm::vec3(sets[1][v], sets[2][v].x);
    }
}

} // namespace ripple::bundle
