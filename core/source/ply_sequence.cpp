#include "source/ply_sequence.h"

#include "base/progress.h"
#include "mesh/triangulate.h"
#include "source/frame_topology.h"
#include "source/mesh_sequence.h"
#include "source/ply_parse.h"

#include <algorithm>

#include <glm/geometric.hpp>

namespace ripple::source {

namespace {

class PlyReader : public FrameReader {
public:
    PlyReader(FileSequence sequence, PlyFile first, std::span<const std::byte> rest)
        : sequence_(std::move(sequence)),
          first_(std::move(first)),
          rest_(rest.begin(), rest.end()) {}

    std::size_t frames() const override { return sequence_.files.size(); }

    void read(std::size_t f, StoredFrame& out) const override {
        const std::string where = frameName(sequence_, f);
        const base::Bytes bytes = base::readFile(sequence_.files[f]);
        PlyFile file;
        if (!parsePlyFrame(bytes, where, rest_, file)) {
            file = parsePly(bytes, where);
            compareFaces(file, where);
        }
        requireSameCount(first_.positions.size(), file.positions.size(), where);
        if (file.normals.size() != first_.normals.size()) {
            base::fail(where,
                       file.normals.empty() ? "lacks normals that the first frame has"
                                            : "has normals that the first frame lacks",
                       "export normals in all frames or in none");
        }
        out.positions = std::move(file.positions);
        out.normals = std::move(file.normals);
        for (glm::vec3& n : out.normals) {
            const float length = glm::length(n);
            n = length > 0.0f ? n / length : glm::vec3(0.0f, 1.0f, 0.0f);
        }
    }

private:
    void compareFaces(const PlyFile& file, const std::string& where) const {
        requireSameFaces(
            first_.faceStart, file.faceStart,
            [&](std::size_t c) { return file.corners[c] == first_.corners[c]; }, where);
    }

    FileSequence sequence_;
    PlyFile first_;
    base::Bytes rest_; // after the first frame's vertices
};

mesh::Mesh meshOf(const PlyFile& file) {
    mesh::Mesh mesh;
    std::vector<glm::vec3> outline;
    for (std::size_t f = 0; f + 1 < file.faceStart.size(); ++f) {
        const std::uint32_t begin = file.faceStart[f];
        outline.clear();
        for (std::uint32_t c = begin; c < file.faceStart[f + 1]; ++c) {
            outline.push_back(file.positions[file.corners[c]]);
        }
        for (const auto& triangle : mesh::triangulate(outline)) {
            for (const std::uint32_t k : triangle) {
                mesh.indices.push_back(file.corners[begin + k]);
            }
        }
    }
    if (!file.uvs.empty()) {
        mesh.uvSets.resize(1);
        for (const glm::vec2& uv : file.uvs) {
            mesh.uvSets[0].push_back({uv.x, 1.0f - uv.y});
        }
    }
    mesh.colours = file.colours;
    mesh::Part part;
    part.name = "mesh";
    part.vertexCount = static_cast<std::uint32_t>(file.positions.size());
    part.indexCount = static_cast<std::uint32_t>(mesh.indices.size());
    mesh.parts.push_back(part);
    mesh.materials.emplace_back();
    mesh.materials[0].doubleSided = true; // PLY knows no back-face culling
    return mesh;
}

} // namespace

std::shared_ptr<const FrameSource> openPlySequence(const std::filesystem::path& path,
                                                   const OpenRequest& request,
                                                   const base::Progress& progress) {
    progress.checkpoint();
    FileSequence sequence = request.single ? singleFile(path) : findSequence(path);
    const std::string where = frameName(sequence, 0);
    const base::Bytes bytes = base::readFile(sequence.files[0]);
    PlyFile first = parsePly(bytes, where);
    if (first.corners.empty()) {
        base::fail(where,
                   first.stripsLeftOut ? "holds triangle strips, which are not read" : "holds no faces",
                   first.stripsLeftOut ? "export it with faces" : "export the sequence with its mesh");
    }
    SequenceParts parts;
    parts.name = sequence.pattern;
    parts.format = sequence.files.size() == 1 ? "PLY" : "PLY sequence";
    parts.files = sequence.files;
    parts.findings = sequence.findings;
    parts.mesh = meshOf(first);
    parts.reader = std::make_unique<PlyReader>(std::move(sequence), std::move(first), plyRest(bytes, where));
    return playSequence(std::move(parts), request.cacheBytes);
}

} // namespace ripple::source
