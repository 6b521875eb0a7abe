#include "importer/meshes.h"

#include "base/text.h"
#include "base/units.h"
#include "mesh/tangents.h"
#include "mesh/triangulate.h"
#include "source/mesh_choice.h"
#include "importer/animations.h"
#include "source/scene_shape.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include <assimp/mesh.h>
#include <assimp/scene.h>

namespace ripple::importer {

namespace {

using namespace source;

constexpr const char* kAgain = "export the file again";
constexpr std::size_t kMostVertices = 1u << 26;

glm::vec3 vec3(const aiVector3D& v) {
    return {v.x, v.y, v.z};
}

bool finite(const aiVector3D& v) {
    return std::isfinite(v.x) && std::isfinite(v.y) && std::isfinite(v.z);
}

class MeshReading {
public:
    MeshReading(const aiScene& scene, std::span<const SceneNode> nodes, SceneGeometry& out)
        : scene_(scene),
          out_(out) {
        for (std::size_t n = 0; n < nodes.size(); ++n) {
            nodeNamed_.try_emplace(nodes[n].name, n);
        }
    }

    void add(const aiMesh& from, std::size_t node, const std::string& name, const std::string& where) {
        mesh::Mesh& mesh = out_.mesh;
        if (mesh.vertexCount() + from.mNumVertices > kMostVertices) {
            base::fail(where, "the meshes have more than " + base::countText(kMostVertices) + " vertices",
                       "take one mesh by its name");
        }
        mesh::Part drawn;
        drawn.name = name;
        drawn.material = std::min<std::size_t>(from.mMaterialIndex, scene_.mNumMaterials);
        drawn.firstVertex = static_cast<std::uint32_t>(mesh.vertexCount());
        drawn.vertexCount = from.mNumVertices;
        drawn.firstIndex = static_cast<std::uint32_t>(mesh.indices.size());
        reserve(from);
        addTriangles(from, drawn.firstVertex, where);
        drawn.indexCount = static_cast<std::uint32_t>(mesh.indices.size()) - drawn.firstIndex;
        if (drawn.indexCount == 0) {
            return;
        }
        ScenePart part;
        part.node = node;
        part.firstVertex = drawn.firstVertex;
        part.vertexCount = drawn.vertexCount;
        part.hasNormals = from.HasNormals();
        out_.madeNormals = out_.madeNormals || !part.hasNormals;
        addVertices(from, where);
        addSkin(from, part, where);
        addMorphs(from, part);
        mesh.parts.push_back(std::move(drawn));
        out_.parts.push_back(std::move(part));
    }

    void report(const std::string& file) {
        for (auto& set : out_.mesh.uvSets) {
            set.resize(out_.mesh.vertexCount(), glm::vec2(0.0f));
        }
        if (!out_.mesh.colours.empty()) {
            out_.mesh.colours.resize(out_.mesh.vertexCount(), glm::vec4(1.0f));
        }
        mesh::requireWholeTangents(out_.mesh);
        reportWeights(repair_, file, out_.findings);
        if (out_.madeNormals) {
            out_.findings.push_back(
                {"normals-made",
                 base::Severity::note,
                 {file, "has parts without normals",
                  "normals are made from the posed triangles, weighted by area and angle"}});
        }
    }

private:
    /// Room for what most meshes of one file have; more is made as it comes.
    void reserve(const aiMesh& from) {
        mesh::Mesh& mesh = out_.mesh;
        if (mesh.positions.empty()) {
            mesh.positions.reserve(from.mNumVertices);
            mesh.normals.reserve(from.mNumVertices);
            mesh.indices.reserve(std::size_t{3} * from.mNumFaces);
        }
    }

    void addTriangles(const aiMesh& from, std::uint32_t firstVertex, const std::string& where) {
        std::vector<glm::vec3> outline;
        for (unsigned int f = 0; f < from.mNumFaces; ++f) {
            const aiFace& face = from.mFaces[f];
            outline.clear();
            for (unsigned int i = 0; i < face.mNumIndices; ++i) {
                if (face.mIndices[i] >= from.mNumVertices) {
                    base::fail(where,
                               "face " + std::to_string(f) + " points to vertex " +
                                   std::to_string(face.mIndices[i]) + ", but there are " +
                                   std::to_string(from.mNumVertices),
                               kAgain);
                }
                outline.push_back(vec3(from.mVertices[face.mIndices[i]]));
            }
            if (outline.size() < 3) {
                continue; // points and lines
            }
            for (const auto& triangle : mesh::triangulate(outline)) {
                for (const std::uint32_t k : triangle) {
                    out_.mesh.indices.push_back(firstVertex + face.mIndices[k]);
                }
            }
        }
    }

    void addVertices(const aiMesh& from, const std::string& where) {
        mesh::Mesh& mesh = out_.mesh;
        const std::size_t first = mesh.vertexCount();
        for (unsigned int v = 0; v < from.mNumVertices; ++v) {
            if (!finite(from.mVertices[v])) {
                base::fail(where,
                           "vertex " + std::to_string(v) +
                               " has a position that is not a number (NaN or infinite)",
                           "repair the mesh where it was made and export it again");
            }
            mesh.positions.push_back(vec3(from.mVertices[v]));
            const bool usable = from.HasNormals() && finite(from.mNormals[v]);
            mesh.normals.push_back(usable ? vec3(from.mNormals[v]) : glm::vec3(0.0f));
        }
        for (unsigned int set = 0; set < AI_MAX_NUMBER_OF_TEXTURECOORDS && from.HasTextureCoords(set);
             ++set) {
            if (mesh.uvSets.size() <= set) {
                mesh.uvSets.resize(set + 1);
            }
            mesh.uvSets[set].resize(first, glm::vec2(0.0f));
            for (unsigned int v = 0; v < from.mNumVertices; ++v) {
                const aiVector3D& uv = from.mTextureCoords[set][v];
                mesh.uvSets[set].push_back({uv.x, 1.0f - uv.y}); // the library counts V from the bottom
            }
        }
        if (from.HasTangentsAndBitangents() && from.HasNormals() && mesh.tangents.size() == first) {
            for (unsigned int v = 0; v < from.mNumVertices; ++v) {
                const glm::vec3 tangent = vec3(from.mTangents[v]);
                const glm::vec3 across = glm::cross(vec3(from.mNormals[v]), tangent);
                const float sign = glm::dot(across, vec3(from.mBitangents[v])) < 0.0f ? -1.0f : 1.0f;
                mesh.tangents.push_back(finite(from.mTangents[v]) ? glm::vec4(tangent, sign)
                                                                  : glm::vec4(0.0f, 0.0f, 0.0f, 1.0f));
            }
        }
        if (from.HasVertexColors(0)) {
            mesh.colours.resize(first, glm::vec4(1.0f));
            for (unsigned int v = 0; v < from.mNumVertices; ++v) {
                const aiColor4D& c = from.mColors[0][v];
                mesh.colours.push_back({c.r, c.g, c.b, c.a});
            }
        }
    }

    void addSkin(const aiMesh& from, ScenePart& part, const std::string& where) {
        if (!from.HasBones()) {
            return;
        }
        SceneSkin skin;
        std::vector<std::vector<std::pair<std::uint16_t, float>>> ofVertex(from.mNumVertices);
        std::size_t most = 4;
        for (unsigned int b = 0; b < from.mNumBones && b < 0xFFFF; ++b) {
            const aiBone& bone = *from.mBones[b];
            const auto node = nodeNamed_.find(base::likelyUtf8(bone.mName.C_Str()));
            const bool there = node != nodeNamed_.end();
            if (!there) {
                out_.findings.push_back(
                    {"joint-missing",
                     base::Severity::look,
                     {where,
                      "follows joint \"" + base::likelyUtf8(bone.mName.C_Str()) + "\", which does not exist",
                      "its vertices move with the mesh's own node; export it with all joints"}});
            }
            const auto joint = static_cast<std::uint16_t>(skin.joints.size());
            skin.joints.push_back(there ? node->second : part.node);
            skin.inverseBind.push_back(there ? matrixOf(bone.mOffsetMatrix) : glm::dmat4(1.0));
            for (unsigned int w = 0; w < bone.mNumWeights; ++w) {
                const aiVertexWeight& weight = bone.mWeights[w];
                if (weight.mVertexId < from.mNumVertices && weight.mWeight > 0.0f) {
                    ofVertex[weight.mVertexId].emplace_back(joint, weight.mWeight);
                    most = std::max(most, ofVertex[weight.mVertexId].size());
                }
            }
        }
        part.weights.influences = most <= 4 ? 4 : most <= 8 ? 8 : most;
        part.weights.joints.assign(ofVertex.size() * part.weights.influences, 0);
        part.weights.weights.assign(ofVertex.size() * part.weights.influences, 0.0f);
        for (std::size_t v = 0; v < ofVertex.size(); ++v) {
            for (std::size_t i = 0; i < ofVertex[v].size(); ++i) {
                part.weights.joints[v * part.weights.influences + i] = ofVertex[v][i].first;
                part.weights.weights[v * part.weights.influences + i] = ofVertex[v][i].second;
            }
        }
        repair_.add(normaliseWeights(part.weights));
        part.skin = static_cast<int>(out_.skins.size());
        out_.skins.push_back(std::move(skin));
    }

    /// The library holds targets as whole shapes; ours are differences.
    static void addMorphs(const aiMesh& from, ScenePart& part) {
        for (unsigned int t = 0; t < from.mNumAnimMeshes; ++t) {
            const aiAnimMesh& target = *from.mAnimMeshes[t];
            MorphTarget morph;
            morph.name = base::likelyUtf8(target.mName.C_Str());
            for (unsigned int v = 0; target.HasPositions() && v < from.mNumVertices; ++v) {
                morph.positions.push_back(vec3(target.mVertices[v] - from.mVertices[v]));
            }
            for (unsigned int v = 0; target.HasNormals() && from.HasNormals() && v < from.mNumVertices; ++v) {
                morph.normals.push_back(vec3(target.mNormals[v] - from.mNormals[v]));
            }
            part.morphs.push_back(std::move(morph));
            part.restMorphWeights.push_back(static_cast<double>(target.mWeight));
        }
    }

    const aiScene& scene_;
    SceneGeometry& out_;
    std::unordered_map<std::string, std::size_t> nodeNamed_;
    WeightRepair repair_;
};

} // namespace

SceneGeometry readSceneMeshes(const aiScene& scene, const std::string& file, std::span<const SceneNode> nodes,
                              std::span<const aiNode* const> originals, std::span<const std::string> wanted) {
    SceneGeometry geometry;
    MeshReading reading(scene, nodes, geometry);
    MeshChoice choice(wanted);
    for (std::size_t n = 0; n < nodes.size(); ++n) {
        const aiNode* node = originals[n];
        if (!node || node->mNumMeshes == 0) {
            continue;
        }
        MeshEntry entry;
        entry.name = nodes[n].name.empty() ? "mesh " + std::to_string(n) : nodes[n].name;
        entry.included = choice.takes(entry.name);
        for (unsigned int m = 0; m < node->mNumMeshes; ++m) {
            const aiMesh& mesh = *scene.mMeshes[node->mMeshes[m]];
            entry.vertices += mesh.mNumVertices;
            for (unsigned int f = 0; f < mesh.mNumFaces; ++f) {
                entry.triangles += mesh.mFaces[f].mNumIndices > 2 ? mesh.mFaces[f].mNumIndices - 2 : 0;
            }
            if (entry.included) {
                reading.add(mesh, n, entry.name, file + ": mesh \"" + entry.name + "\"");
            }
        }
        geometry.entries.push_back(std::move(entry));
    }
    choice.requireAllFound(geometry.entries, file);
    if (geometry.mesh.indices.empty()) {
        base::fail(file, "holds no triangles", "export it with its mesh");
    }
    reading.report(file);
    return geometry;
}

} // namespace ripple::importer
