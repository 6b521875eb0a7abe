#include "source/gltf_mesh.h"

#include "base/units.h"
#include "mesh/tangents.h"
#include "source/gltf_library.h"
#include "source/gltf_materials.h"
#include "source/gltf_skins.h"
#include "source/mesh_choice.h"
#include "source/scene_shape.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <map>

namespace ripple::source {

namespace {

constexpr std::size_t kMostVertices = 1u << 26;
constexpr std::size_t kMostJointSets = 16;

struct GeometryBuilder {
    const GltfDocument& document;
    SceneGeometry& out;
    std::size_t skippedPrimitives = 0;
    WeightRepair repair;
};

std::vector<glm::vec3> vec3s(const GltfNumbers& numbers) {
    std::vector<glm::vec3> values(numbers.count);
    for (std::size_t i = 0; i < numbers.count; ++i) {
        values[i] = {numbers.values[3 * i], numbers.values[3 * i + 1], numbers.values[3 * i + 2]};
    }
    return values;
}

int attribute(const std::map<std::string, int>& attributes, const std::string& name) {
    const auto found = attributes.find(name);
    return found == attributes.end() ? -1 : found->second;
}

/// Triangles of a primitive whatever its mode; indices are checked against vertexCount.
std::vector<std::uint32_t> triangles(const GeometryBuilder& builder, const tinygltf::Primitive& primitive,
                                     std::size_t vertexCount, const std::string& where) {
    std::vector<std::uint32_t> source;
    if (primitive.indices >= 0) {
        source = readIntegers(builder.document, primitive.indices, 1);
    } else {
        source.resize(vertexCount);
        for (std::size_t i = 0; i < vertexCount; ++i) {
            source[i] = static_cast<std::uint32_t>(i);
        }
    }
    for (std::size_t i = 0; i < source.size(); ++i) {
        if (source[i] >= vertexCount) {
            base::fail(where,
                       "index " + std::to_string(i) + " points to vertex " + std::to_string(source[i]) +
                           ", but there are " + std::to_string(vertexCount),
                       kExportAgain);
        }
    }
    if (primitive.mode == TINYGLTF_MODE_TRIANGLES) {
        source.resize(source.size() / 3 * 3);
        return source;
    }
    std::vector<std::uint32_t> list;
    for (std::size_t i = 2; i < source.size(); ++i) {
        const bool fan = primitive.mode == TINYGLTF_MODE_TRIANGLE_FAN;
        const std::uint32_t a = fan ? source[0] : source[i - 2];
        const std::uint32_t b = source[i - 1];
        const std::uint32_t c = source[i];
        const bool swapped = !fan && i % 2 == 1; // every second triangle of a strip turns the other way
        list.insert(list.end(), {swapped ? b : a, swapped ? a : b, c});
    }
    return list;
}

void readWeights(GeometryBuilder& builder, const tinygltf::Primitive& primitive, ScenePart& part,
                 const std::string& where) {
    std::size_t sets = 1;
    while (sets < kMostJointSets && attribute(primitive.attributes, "JOINTS_" + std::to_string(sets)) >= 0) {
        ++sets;
    }
    part.weights.influences = 4 * sets;
    part.weights.joints.assign(part.vertexCount * part.weights.influences, 0);
    part.weights.weights.assign(part.vertexCount * part.weights.influences, 0.0f);
    const std::size_t jointCount = builder.out.skins[static_cast<std::size_t>(part.skin)].joints.size();
    for (std::size_t set = 0; set < sets; ++set) {
        const std::string suffix = std::to_string(set);
        const auto joints =
            readIntegers(builder.document, attribute(primitive.attributes, "JOINTS_" + suffix), 4);
        const auto weights =
            readNumbers(builder.document, attribute(primitive.attributes, "WEIGHTS_" + suffix), 4);
        if (joints.size() != std::size_t{part.vertexCount} * 4 || weights.count != part.vertexCount) {
            base::fail(where, "has another number of skin weights than of vertices", kExportAgain);
        }
        for (std::size_t v = 0; v < part.vertexCount; ++v) {
            for (std::size_t i = 0; i < 4; ++i) {
                const std::uint32_t joint = joints[4 * v + i];
                const float weight = weights.values[4 * v + i];
                const std::size_t slot = v * part.weights.influences + set * 4 + i;
                if (joint < jointCount) {
                    part.weights.joints[slot] = static_cast<std::uint16_t>(joint);
                    part.weights.weights[slot] = weight;
                } else if (weight != 0.0f) {
                    base::fail(where,
                               "vertex " + std::to_string(v) + " follows joint " + std::to_string(joint) +
                                   ", but its skin has " + std::to_string(jointCount),
                               kExportAgain);
                }
            }
        }
    }
    builder.repair.add(normaliseWeights(part.weights));
}

/// The name of a morph target, as exporters keep it in the mesh's extras; empty if they do not.
std::string targetName(const tinygltf::Mesh& mesh, std::size_t target) {
    if (!mesh.extras.IsObject() || !mesh.extras.Has("targetNames")) {
        return {};
    }
    const tinygltf::Value& names = mesh.extras.Get("targetNames");
    const bool there =
        names.IsArray() && target < names.ArrayLen() && names.Get(static_cast<int>(target)).IsString();
    return there ? names.Get(static_cast<int>(target)).Get<std::string>() : std::string();
}

void readMorphs(const GeometryBuilder& builder, const tinygltf::Mesh& mesh,
                const tinygltf::Primitive& primitive, ScenePart& part, const std::string& where) {
    for (const auto& target : primitive.targets) {
        MorphTarget morph;
        morph.name = targetName(mesh, part.morphs.size());
        if (const int a = attribute(target, "POSITION"); a >= 0) {
            morph.positions = vec3s(readNumbers(builder.document, a, 3));
        }
        if (const int a = attribute(target, "NORMAL"); a >= 0) {
            morph.normals = vec3s(readNumbers(builder.document, a, 3));
        }
        if ((!morph.positions.empty() && morph.positions.size() != part.vertexCount) ||
            (!morph.normals.empty() && morph.normals.size() != part.vertexCount)) {
            base::fail(where, "a morph target has another number of vertices than the mesh", kExportAgain);
        }
        part.morphs.push_back(std::move(morph));
    }
}

void readUvSets(GeometryBuilder& builder, const tinygltf::Primitive& primitive, const ScenePart& part,
                const std::string& where) {
    auto& sets = builder.out.mesh.uvSets;
    for (std::size_t set = 0;; ++set) {
        const int a = attribute(primitive.attributes, "TEXCOORD_" + std::to_string(set));
        if (a < 0) {
            break;
        }
        const GltfNumbers uv = readNumbers(builder.document, a, 2);
        if (uv.count != part.vertexCount) {
            base::fail(where, "has another number of UVs than of vertices", kExportAgain);
        }
        if (sets.size() <= set) {
            sets.resize(set + 1);
        }
        sets[set].resize(part.firstVertex);
        for (std::size_t v = 0; v < uv.count; ++v) {
            sets[set].push_back({uv.values[2 * v], uv.values[2 * v + 1]});
        }
    }
}

void readColours(GeometryBuilder& builder, const tinygltf::Primitive& primitive, const ScenePart& part) {
    const int a = attribute(primitive.attributes, "COLOR_0");
    if (a < 0 || static_cast<std::size_t>(a) >= builder.document.model->accessors.size()) {
        return;
    }
    const bool alpha =
        builder.document.model->accessors[static_cast<std::size_t>(a)].type == TINYGLTF_TYPE_VEC4;
    const std::size_t width = alpha ? 4 : 3;
    const GltfNumbers colours = readNumbers(builder.document, a, width);
    auto& out = builder.out.mesh.colours;
    out.resize(part.firstVertex, glm::vec4(1.0f));
    for (std::size_t v = 0; v < std::min<std::size_t>(colours.count, part.vertexCount); ++v) {
        const float* c = colours.values.data() + v * width;
        out.push_back({c[0], c[1], c[2], alpha ? c[3] : 1.0f});
    }
}

/// Numbers under names of the file's own, which begin with an underscore (glTF 2.0, section 3.7.2.1). Parts
/// that lack one have zeros.
void readStored(GeometryBuilder& builder, const tinygltf::Primitive& primitive, const ScenePart& part) {
    auto& out = builder.out.mesh.stored;
    for (const auto& [name, a] : primitive.attributes) {
        const bool known = a >= 0 && static_cast<std::size_t>(a) < builder.document.model->accessors.size();
        if (name.size() < 2 || name[0] != '_' || !known ||
            builder.document.model->accessors[static_cast<std::size_t>(a)].type != TINYGLTF_TYPE_SCALAR) {
            continue;
        }
        const std::string own = name.substr(1);
        auto stored = std::find_if(out.begin(), out.end(),
                                   [&](const mesh::StoredValue& value) { return value.name == own; });
        if (stored == out.end()) {
            stored = out.insert(out.end(), mesh::StoredValue{own, {}});
        }
        const GltfNumbers numbers = readNumbers(builder.document, a, 1);
        stored->values.resize(part.firstVertex, 0.0f);
        for (std::size_t v = 0; v < std::min<std::size_t>(numbers.count, part.vertexCount); ++v) {
            stored->values.push_back(std::isfinite(numbers.values[v]) ? numbers.values[v] : 0.0f);
        }
    }
}

/// Tangents of a part that lie end to end with those of the parts before; else none of all is kept.
void readTangents(GeometryBuilder& builder, const tinygltf::Primitive& primitive, const ScenePart& part) {
    const int a = attribute(primitive.attributes, "TANGENT");
    auto& out = builder.out.mesh.tangents;
    if (a < 0 || attribute(primitive.attributes, "NORMAL") < 0 || out.size() != part.firstVertex) {
        return;
    }
    const GltfNumbers tangents = readNumbers(builder.document, a, 4);
    for (std::size_t v = 0; v < std::min<std::size_t>(tangents.count, part.vertexCount); ++v) {
        const float* t = tangents.values.data() + 4 * v;
        const bool finite = std::isfinite(t[0]) && std::isfinite(t[1]) && std::isfinite(t[2]);
        out.push_back(finite ? glm::vec4(t[0], t[1], t[2], t[3] < 0.0f ? -1.0f : 1.0f)
                             : glm::vec4(0.0f, 0.0f, 0.0f, 1.0f));
    }
}

void requireFinite(std::span<const glm::vec3> values, const std::string& where) {
    for (std::size_t v = 0; v < values.size(); ++v) {
        if (!std::isfinite(values[v].x) || !std::isfinite(values[v].y) || !std::isfinite(values[v].z)) {
            base::fail(where,
                       "vertex " + std::to_string(v) +
                           " has a position that is not a number (NaN or infinite)",
                       "repair the mesh where it was made and export it again");
        }
    }
}

void readPrimitive(GeometryBuilder& builder, const tinygltf::Mesh& from, const tinygltf::Primitive& primitive,
                   std::size_t nodeIndex, const SceneNode& node, const std::string& where, MeshEntry& entry,
                   bool include) {
    const int mode = primitive.mode < 0 ? TINYGLTF_MODE_TRIANGLES : primitive.mode;
    const int positionAccessor = attribute(primitive.attributes, "POSITION");
    if (mode < TINYGLTF_MODE_TRIANGLES || positionAccessor < 0) {
        builder.skippedPrimitives += include;
        return;
    }
    tinygltf::Primitive whole = primitive;
    whole.mode = mode;
    const std::vector<glm::vec3> positions = vec3s(readNumbers(builder.document, positionAccessor, 3));
    const std::vector<std::uint32_t> indices = triangles(builder, whole, positions.size(), where);
    entry.vertices += positions.size();
    entry.triangles += indices.size() / 3;
    if (!include || positions.empty()) {
        return;
    }
    mesh::Mesh& mesh = builder.out.mesh;
    if (mesh.positions.size() + positions.size() > kMostVertices) {
        base::fail(where, "the meshes have more than " + base::countText(kMostVertices) + " vertices in all",
                   "open one mesh by its name");
    }
    requireFinite(positions, where);
    ScenePart part;
    part.node = nodeIndex;
    part.firstVertex = static_cast<std::uint32_t>(mesh.positions.size());
    part.vertexCount = static_cast<std::uint32_t>(positions.size());
    readUvSets(builder, whole, part, where);
    readColours(builder, whole, part);
    readTangents(builder, whole, part);
    readStored(builder, whole, part);
    readMorphs(builder, from, whole, part, where);
    part.restMorphWeights = node.weights;
    const bool weighted =
        attribute(whole.attributes, "JOINTS_0") >= 0 && attribute(whole.attributes, "WEIGHTS_0") >= 0;
    if (node.skin >= 0 && weighted) {
        if (static_cast<std::size_t>(node.skin) >= builder.out.skins.size()) {
            base::fail(where, "names skin " + std::to_string(node.skin) + ", which does not exist", kExportAgain);
        }
        part.skin = node.skin;
        readWeights(builder, whole, part, where);
    }
    std::vector<glm::vec3> normals(positions.size(), glm::vec3(0.0f));
    const int normalAccessor = attribute(whole.attributes, "NORMAL");
    if (normalAccessor >= 0) {
        normals = vec3s(readNumbers(builder.document, normalAccessor, 3));
        if (normals.size() != positions.size()) {
            base::fail(where, "has another number of normals than of vertices", kExportAgain);
        }
    } else {
        part.hasNormals = false;
        builder.out.madeNormals = true;
    }
    mesh::Part drawn;
    drawn.name = entry.name;
    drawn.material =
        primitive.material >= 0 && static_cast<std::size_t>(primitive.material) < mesh.materials.size()
            ? static_cast<std::size_t>(primitive.material)
            : mesh.materials.size() - 1;
    drawn.firstVertex = part.firstVertex;
    drawn.vertexCount = part.vertexCount;
    drawn.firstIndex = static_cast<std::uint32_t>(mesh.indices.size());
    drawn.indexCount = static_cast<std::uint32_t>(indices.size());
    for (const std::uint32_t index : indices) {
        mesh.indices.push_back(index + part.firstVertex);
    }
    mesh.positions.insert(mesh.positions.end(), positions.begin(), positions.end());
    mesh.normals.insert(mesh.normals.end(), normals.begin(), normals.end());
    mesh.parts.push_back(std::move(drawn));
    builder.out.parts.push_back(std::move(part));
}

void reportReading(GeometryBuilder& builder) {
    const std::string& file = builder.document.file;
    auto& findings = builder.out.findings;
    reportWeights(builder.repair, file, findings);
    if (builder.out.madeNormals) {
        findings.push_back({"normals-made",
                            base::Severity::note,
                            {file, "has parts without normals",
                             "normals are made from the posed triangles, weighted by area and angle"}});
    }
    if (builder.skippedPrimitives > 0) {
        findings.push_back(
            {"primitives-skipped",
             base::Severity::note,
             {file, base::plural(builder.skippedPrimitives, "part") + " of points or lines left out",
              "only triangles are baked"}});
    }
}

} // namespace

SceneGeometry readGeometry(const GltfDocument& document, std::span<const SceneNode> nodes,
                           std::span<const std::string> wanted) {
    SceneGeometry geometry;
    GeometryBuilder builder{document, geometry, 0, {}};
    geometry.mesh.materials = readGltfMaterials(document, geometry.findings);
    geometry.skins = readSkins(document, nodes);
    const tinygltf::Model& model = *document.model;
    const std::vector<char> inside = nodesInScene(document, nodes);
    MeshChoice choice(wanted);
    for (std::size_t n = 0; n < nodes.size(); ++n) {
        const SceneNode& node = nodes[n];
        if (node.mesh < 0 || !inside[n]) {
            continue;
        }
        if (static_cast<std::size_t>(node.mesh) >= model.meshes.size()) {
            base::fail(document.at("node", n),
                       "names mesh " + std::to_string(node.mesh) + ", which does not exist", kExportAgain);
        }
        const tinygltf::Mesh& from = model.meshes[static_cast<std::size_t>(node.mesh)];
        MeshEntry entry;
        entry.name = from.name.empty() ? node.name : from.name;
        entry.included = choice.takes(entry.name, node.name);
        SceneNode withWeights = node;
        if (withWeights.weights.empty()) {
            withWeights.weights = from.weights;
        }
        for (std::size_t p = 0; p < from.primitives.size(); ++p) {
            const std::string where =
                document.file + ": mesh \"" + entry.name + "\", primitive " + std::to_string(p);
            readPrimitive(builder, from, from.primitives[p], n, withWeights, where, entry, entry.included);
        }
        geometry.entries.push_back(entry);
    }
    choice.requireAllFound(geometry.entries, document.file);
    if (geometry.mesh.indices.empty()) {
        base::fail(document.file, "holds no triangles", "export it with its mesh");
    }
    for (auto& set : geometry.mesh.uvSets) {
        if (set.size() < geometry.mesh.vertexCount()) {
            set.resize(geometry.mesh.vertexCount(), glm::vec2(0.0f));
        }
    }
    if (!geometry.mesh.colours.empty()) {
        geometry.mesh.colours.resize(geometry.mesh.vertexCount(), glm::vec4(1.0f));
    }
    mesh::requireWholeTangents(geometry.mesh);
    for (mesh::StoredValue& stored : geometry.mesh.stored) {
        stored.values.resize(geometry.mesh.vertexCount(), 0.0f);
    }
    reportReading(builder);
    return geometry;
}

} // namespace ripple::source
