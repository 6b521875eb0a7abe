#include "source/obj_sequence.h"

#include "base/progress.h"
#include "source/frame_topology.h"
#include "source/mesh_sequence.h"
#include "source/mtl.h"
#include "source/obj_topology.h"

#include <algorithm>

#include <glm/geometric.hpp>

namespace ripple::source {

namespace {

glm::vec3 unit(glm::vec3 n) {
    const float length = glm::length(n);
    return length > 0.0f ? n / length : glm::vec3(0.0f, 1.0f, 0.0f);
}

class ObjReader : public FrameReader {
public:
    ObjReader(FileSequence sequence, ObjFile first, const ObjTopology& topology)
        : sequence_(std::move(sequence)),
          first_(std::move(first)),
          ofVertex_(topology.ofVertex),
          firstCorner_(topology.firstCorner),
          hasNormals_(topology.hasNormals) {}

    std::size_t frames() const override { return sequence_.files.size(); }

    void read(std::size_t f, StoredFrame& out) const override {
        const std::string where = frameName(sequence_, f);
        const base::Bytes bytes = base::readFile(sequence_.files[f]);
        std::vector<glm::vec3> positions;
        std::vector<glm::vec3> normals;
        std::vector<ObjCorner> ownCorners;
        const bool same = parseObjFrame(bytes, where, first_.faceText, positions, normals);
        if (!same) {
            ObjFile file = parseObj(bytes, where);
            compareFaces(file, where);
            positions = std::move(file.positions);
            normals = std::move(file.normals);
            ownCorners = std::move(file.corners);
        }
        requireSameCount(first_.positions.size(), positions.size(), where);
        out.positions.resize(ofVertex_.size());
        for (std::size_t v = 0; v < ofVertex_.size(); ++v) {
            out.positions[v] = positions[static_cast<std::size_t>(ofVertex_[v].v)];
        }
        if (hasNormals_) {
            takeNormals(normals, same ? nullptr : &ownCorners, where, out);
        }
    }

private:
    void takeNormals(const std::vector<glm::vec3>& normals, const std::vector<ObjCorner>* corners,
                     const std::string& where, StoredFrame& out) const {
        out.normals.resize(ofVertex_.size());
        for (std::size_t v = 0; v < ofVertex_.size(); ++v) {
            if (ofVertex_[v].vn < 0) {
                out.normals[v] = {0.0f, 1.0f, 0.0f}; // of no face
                continue;
            }
            const std::int32_t vn = corners ? (*corners)[firstCorner_[v]].vn : ofVertex_[v].vn;
            if (vn < 0 || static_cast<std::size_t>(vn) >= normals.size()) {
                base::fail(where, "lacks normals that the first frame has",
                           "export normals in all frames or in none");
            }
            out.normals[v] = unit(normals[static_cast<std::size_t>(vn)]);
        }
    }

    /// The faces must join the same positions and UVs; normals may be numbered anew in each frame.
    void compareFaces(const ObjFile& file, const std::string& where) const {
        requireSameFaces(
            first_.faceStart, file.faceStart,
            [&](std::size_t c) {
                return file.corners[c].v == first_.corners[c].v && file.corners[c].vt == first_.corners[c].vt;
            },
            where);
    }

    FileSequence sequence_;
    ObjFile first_;
    std::vector<ObjCorner> ofVertex_;
    std::vector<std::uint32_t> firstCorner_;
    bool hasNormals_;
};

} // namespace

std::shared_ptr<const FrameSource> openObjSequence(const std::filesystem::path& path,
                                                   const OpenRequest& request,
                                                   const base::Progress& progress) {
    progress.checkpoint();
    FileSequence sequence = findSequence(path);
    ObjFile first = parseObj(base::readFile(sequence.files[0]), frameName(sequence, 0));
    if (first.corners.empty()) {
        base::fail(frameName(sequence, 0), "holds no faces", "export the sequence with its mesh");
    }
    ObjTopology topology = buildTopology(first);
    SequenceParts parts;
    parts.name = sequence.pattern;
    parts.format = sequence.files.size() == 1 ? "OBJ" : "OBJ sequence";
    parts.files = sequence.files;
    parts.findings = sequence.findings;
    parts.mesh = std::move(topology.mesh);
    Companions companions(sequence.files[0], request.trust.followOutside);
    for (const std::string& name : first.materialNames) {
        parts.mesh.materials.push_back(readObjMaterial(companions, first.libraries, name, parts.findings));
    }
    companions.report(parts.findings);
    parts.reader = std::make_unique<ObjReader>(std::move(sequence), std::move(first), topology);
    return playSequence(std::move(parts), request.cacheBytes);
}

} // namespace ripple::source
