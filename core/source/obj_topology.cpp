#include "source/obj_topology.h"

#include "mesh/triangulate.h"

#include <algorithm>
#include <map>
#include <tuple>

namespace ripple::source {

namespace {

using Key = std::tuple<std::int32_t, std::int32_t, std::int32_t>;

class Builder {
public:
    explicit Builder(const ObjFile& file) : file_(file) {
        const auto& corners = file.corners;
        out_.hasNormals =
            std::all_of(corners.begin(), corners.end(), [](const ObjCorner& c) { return c.vn >= 0; });
        hasUvs_ = std::any_of(corners.begin(), corners.end(), [](const ObjCorner& c) { return c.vt >= 0; });
        if (hasUvs_) {
            out_.mesh.uvSets.resize(1);
        }
    }

    ObjTopology build() {
        for (std::uint32_t material = 0; material < file_.materialNames.size(); ++material) {
            addPart(material);
        }
        addUnused();
        return std::move(out_);
    }

private:
    Key keyOf(std::uint32_t c) const {
        const ObjCorner& corner = file_.corners[c];
        return {corner.v, corner.vt, out_.hasNormals ? corner.vn : -1};
    }

    void addVertex(const Key& key, std::uint32_t corner) {
        const auto [v, vt, vn] = key;
        out_.ofVertex.push_back({v, vt, vn});
        out_.firstCorner.push_back(corner);
        out_.mesh.smoothGroup.push_back(static_cast<std::uint32_t>(v));
        if (hasUvs_) {
            const glm::vec2 uv = vt >= 0 ? file_.uvs[static_cast<std::size_t>(vt)] : glm::vec2(0.0f);
            out_.mesh.uvSets[0].push_back({uv.x, 1.0f - uv.y}); // OBJ counts V from the bottom
        }
        if (!file_.colours.empty()) {
            out_.mesh.colours.push_back(file_.colours[static_cast<std::size_t>(v)]);
        }
    }

    void addPart(std::uint32_t material) {
        mesh::Part part;
        part.name = file_.materialNames[material];
        part.material = material;
        part.firstVertex = static_cast<std::uint32_t>(out_.ofVertex.size());
        part.firstIndex = static_cast<std::uint32_t>(out_.mesh.indices.size());
        std::map<Key, std::uint32_t> first; // to the corner where it first stands
        const std::size_t faces = file_.faceMaterial.size();
        for (std::size_t f = 0; f < faces; ++f) {
            for (std::uint32_t c = file_.faceStart[f];
                 file_.faceMaterial[f] == material && c < file_.faceStart[f + 1]; ++c) {
                first.try_emplace(keyOf(c), c);
            }
        }
        std::map<Key, std::uint32_t> vertexOf;
        for (const auto& [key, corner] : first) {
            vertexOf.emplace(key, static_cast<std::uint32_t>(out_.ofVertex.size()));
            addVertex(key, corner);
        }
        std::vector<glm::vec3> outline;
        for (std::size_t f = 0; f < faces; ++f) {
            if (file_.faceMaterial[f] != material) {
                continue;
            }
            const std::uint32_t begin = file_.faceStart[f];
            outline.clear();
            for (std::uint32_t c = begin; c < file_.faceStart[f + 1]; ++c) {
                outline.push_back(file_.positions[static_cast<std::size_t>(file_.corners[c].v)]);
            }
            for (const auto& triangle : mesh::triangulate(outline)) {
                for (const std::uint32_t k : triangle) {
                    out_.mesh.indices.push_back(vertexOf[keyOf(begin + k)]);
                }
            }
        }
        part.vertexCount = static_cast<std::uint32_t>(out_.ofVertex.size()) - part.firstVertex;
        part.indexCount = static_cast<std::uint32_t>(out_.mesh.indices.size()) - part.firstIndex;
        if (part.indexCount > 0) {
            out_.mesh.parts.push_back(part);
        }
    }

    void addUnused() {
        std::vector<char> used(file_.positions.size(), 0);
        for (const ObjCorner& corner : file_.corners) {
            used[static_cast<std::size_t>(corner.v)] = 1;
        }
        for (std::size_t v = 0; v < used.size(); ++v) {
            if (!used[v] && !out_.mesh.parts.empty()) {
                addVertex({static_cast<std::int32_t>(v), -1, -1}, 0);
                ++out_.mesh.parts.back().vertexCount;
            }
        }
    }

    const ObjFile& file_;
    ObjTopology out_;
    bool hasUvs_ = false;
};

} // namespace

ObjTopology buildTopology(const ObjFile& file) {
    return Builder(file).build();
}

} // namespace ripple::source
