#include "source/obj_sequence.h"

#include "base/parallel.h"
#include "mesh/normals.h"
#include "source/file_sequence.h"
#include "source/obj_parse.h"
#include "source/open.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <map>
#include <optional>
#include <tuple>

#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace ripple::source {

namespace {

constexpr double kDefaultFps = 30.0;

/// Our vertices as corners of the first frame's faces, with what is needed to fill them from any frame.
struct Corners {
    std::vector<ObjCorner> ofVertex;        ///< vertices
    std::vector<std::uint32_t> firstCorner; ///< vertices: where in ObjFile::corners it first stands
    bool hasNormals = true;
};

glm::vec3 unit(glm::vec3 n) {
    const float length = glm::length(n);
    return length > 0.0f ? n / length : glm::vec3(0.0f, 1.0f, 0.0f);
}

/// Splits the file's corners into vertices (one for each position, UV, normal and material) and triangles
/// (fans).
Corners buildTopology(const ObjFile& file, mesh::Mesh& mesh) {
    Corners corners;
    corners.hasNormals =
        std::all_of(file.corners.begin(), file.corners.end(), [](const ObjCorner& c) { return c.vn >= 0; });
    const bool hasUvs =
        std::any_of(file.corners.begin(), file.corners.end(), [](const ObjCorner& c) { return c.vt >= 0; });
    if (hasUvs) {
        mesh.uvSets.resize(1);
    }
    const std::size_t faces = file.faceMaterial.size();
    for (std::uint32_t material = 0; material < file.materialNames.size(); ++material) {
        mesh::Part part;
        part.name = file.materialNames[material];
        part.material = material;
        part.firstVertex = static_cast<std::uint32_t>(corners.ofVertex.size());
        part.firstIndex = static_cast<std::uint32_t>(mesh.indices.size());
        const auto keyOf = [&](std::uint32_t c) {
            const ObjCorner& corner = file.corners[c];
            return std::tuple(corner.v, corner.vt, corners.hasNormals ? corner.vn : -1);
        };
        // In the order of the file's positions, so that a vertex keeps its number wherever it need not be
        // split.
        std::map<std::tuple<int, int, int>, std::uint32_t> first; // to the corner where it first stands
        for (std::size_t f = 0; f < faces; ++f) {
            for (std::uint32_t c = file.faceStart[f];
                 file.faceMaterial[f] == material && c < file.faceStart[f + 1]; ++c) {
                first.try_emplace(keyOf(c), c);
            }
        }
        std::map<std::tuple<int, int, int>, std::uint32_t> vertexOf;
        for (const auto& [key, c] : first) {
            const auto [v, vt, vn] = key;
            vertexOf.emplace(key, static_cast<std::uint32_t>(corners.ofVertex.size()));
            corners.ofVertex.push_back({v, vt, vn});
            corners.firstCorner.push_back(c);
            mesh.smoothGroup.push_back(static_cast<std::uint32_t>(v));
            if (hasUvs) {
                const glm::vec2 uv = vt >= 0 ? file.uvs[static_cast<std::size_t>(vt)] : glm::vec2(0.0f);
                mesh.uvSets[0].push_back({uv.x, 1.0f - uv.y}); // OBJ counts V from the bottom
            }
            if (!file.colours.empty()) {
                mesh.colours.push_back(file.colours[static_cast<std::size_t>(v)]);
            }
        }
        for (std::size_t f = 0; f < faces; ++f) {
            const std::uint32_t begin = file.faceStart[f];
            for (std::uint32_t c = begin + 2; file.faceMaterial[f] == material && c < file.faceStart[f + 1];
                 ++c) {
                mesh.indices.insert(mesh.indices.end(),
                                    {vertexOf[keyOf(begin)], vertexOf[keyOf(c - 1)], vertexOf[keyOf(c)]});
            }
        }
        part.vertexCount = static_cast<std::uint32_t>(corners.ofVertex.size()) - part.firstVertex;
        part.indexCount = static_cast<std::uint32_t>(mesh.indices.size()) - part.firstIndex;
        if (part.indexCount > 0) {
            mesh.parts.push_back(part);
        }
    }
    return corners;
}

std::string frameName(const FileSequence& sequence, std::size_t frame) {
    return sequence.files[frame].filename().string() + " (frame " + std::to_string(frame) + ")";
}

class ObjSequence : public FrameSource {
public:
    ObjSequence(const std::filesystem::path& path, const OpenOptions& options,
                const base::Progress& progress) {
        const FileSequence sequence = findSequence(path);
        ObjFile first = parseObj(base::readFile(sequence.files[0]), frameName(sequence, 0));
        if (first.corners.empty()) {
            base::fail(frameName(sequence, 0), "holds no faces", "export the sequence with its mesh");
        }
        corners_ = buildTopology(first, mesh_);
        objVertices_ = first.positions.size();
        for (const std::string& name : first.materialNames) {
            mesh_.materials.push_back(
                readObjMaterial(sequence.files[0].parent_path(), first.libraries, name, findings_));
        }
        frames_ = sequence.files.size();
        positions_.resize(frames_ * objVertices_);
        if (corners_.hasNormals) {
            vertexNormals_.resize(frames_ * corners_.ofVertex.size());
        } else {
            builder_.emplace(mesh_.indices, corners_.ofVertex.size(), mesh_.smoothGroup);
        }
        load(sequence, first, progress);
        mesh_.positions.resize(corners_.ofVertex.size());
        mesh_.normals.resize(corners_.ofVertex.size());
        fill(0, mesh_.positions, mesh_.normals);
        describe(sequence, options);
    }

    const mesh::Mesh& mesh() const override { return mesh_; }
    std::span<const Clip> clips() const override { return {&clip_, 1}; }
    std::span<const MeshEntry> meshes() const override { return {&entry_, 1}; }
    std::span<const base::Finding> findings() const override { return findings_; }
    std::string format() const override { return "OBJ sequence"; }

    void sample(std::size_t, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        const double last = static_cast<double>(frames_ - 1);
        // A frame's own time may come a rounding away from it; it must give that frame exactly.
        double frame = std::clamp(seconds * clip_.fps, 0.0, last);
        if (std::abs(frame - std::round(frame)) < 1e-6) {
            frame = std::round(frame);
        }
        const auto f = static_cast<std::size_t>(frame);
        const auto t = static_cast<float>(frame - static_cast<double>(f));
        fill(f, positions, normals);
        if (t > 0.0f) {
            std::vector<glm::vec3> nextPositions(positions.size());
            std::vector<glm::vec3> nextNormals(normals.size());
            fill(f + 1, nextPositions, nextNormals);
            for (std::size_t v = 0; v < positions.size(); ++v) {
                positions[v] = glm::mix(positions[v], nextPositions[v], t);
                normals[v] = unit(glm::mix(normals[v], nextNormals[v], t));
            }
        }
    }

private:
    void load(const FileSequence& sequence, const ObjFile& first, const base::Progress& progress) {
        std::vector<std::optional<base::Problem>> problems(frames_);
        std::atomic<std::size_t> done{0};
        base::parallelFor(frames_, 1, [&](std::size_t begin, std::size_t end) {
            std::vector<glm::vec3> positions;
            std::vector<glm::vec3> normals;
            for (std::size_t f = begin; f < end; ++f) {
                try {
                    loadFrame(sequence, first, f, positions, normals);
                } catch (const base::Failure& failure) {
                    problems[f] = failure.problem();
                }
                progress.report(static_cast<double>(++done) / static_cast<double>(frames_));
            }
        });
        // The first bad frame is named whatever the order in which threads came upon them.
        for (const auto& problem : problems) {
            if (problem) {
                throw base::Failure(*problem);
            }
        }
    }

    void loadFrame(const FileSequence& sequence, const ObjFile& first, std::size_t f,
                   std::vector<glm::vec3>& positions, std::vector<glm::vec3>& normals) {
        const std::string where = frameName(sequence, f);
        const base::Bytes bytes = base::readFile(sequence.files[f]);
        const char* advice = "every frame needs the same mesh; export the sequence with a fixed topology";
        std::vector<ObjCorner> ownCorners;
        const bool same = parseObjFrame(bytes, where, first.faceText, positions, normals);
        if (!same) {
            ObjFile file = parseObj(bytes, where);
            compareFaces(first, file, where, advice);
            positions = std::move(file.positions);
            normals = std::move(file.normals);
            ownCorners = std::move(file.corners);
        }
        if (positions.size() != objVertices_) {
            base::fail(where,
                       "has " + std::to_string(positions.size()) + " vertices, the first frame has " +
                           std::to_string(objVertices_),
                       advice);
        }
        std::copy(positions.begin(), positions.end(),
                  positions_.begin() + static_cast<std::ptrdiff_t>(f * objVertices_));
        if (!corners_.hasNormals) {
            return;
        }
        for (std::size_t v = 0; v < corners_.ofVertex.size(); ++v) {
            const std::int32_t vn = same ? corners_.ofVertex[v].vn : ownCorners[corners_.firstCorner[v]].vn;
            if (vn < 0 || static_cast<std::size_t>(vn) >= normals.size()) {
                base::fail(where, "lacks normals that the first frame has",
                           "export normals in all frames or in none");
            }
            vertexNormals_[f * corners_.ofVertex.size() + v] = unit(normals[static_cast<std::size_t>(vn)]);
        }
    }

    /// The faces must join the same positions and UVs; normals may be numbered anew in each frame.
    static void compareFaces(const ObjFile& first, const ObjFile& file, const std::string& where,
                             const char* advice) {
        if (file.faceStart != first.faceStart) {
            base::fail(where,
                       "has " + std::to_string(file.faceStart.size() - 1) + " faces of " +
                           std::to_string(file.corners.size()) + " corners, the first frame has " +
                           std::to_string(first.faceStart.size() - 1) + " of " +
                           std::to_string(first.corners.size()),
                       advice);
        }
        for (std::size_t c = 0; c < file.corners.size(); ++c) {
            if (file.corners[c].v != first.corners[c].v || file.corners[c].vt != first.corners[c].vt) {
                const auto face = std::upper_bound(file.faceStart.begin(), file.faceStart.end(),
                                                   static_cast<std::uint32_t>(c)) -
                                  file.faceStart.begin();
                base::fail(where,
                           "face " + std::to_string(face) + " joins other vertices than in the first frame",
                           advice);
            }
        }
    }

    void fill(std::size_t frame, std::span<glm::vec3> positions, std::span<glm::vec3> normals) const {
        const glm::vec3* own = positions_.data() + frame * objVertices_;
        for (std::size_t v = 0; v < positions.size(); ++v) {
            positions[v] = own[corners_.ofVertex[v].v];
        }
        if (builder_) {
            builder_->build(positions, normals);
        } else {
            const auto from = vertexNormals_.begin() + static_cast<std::ptrdiff_t>(frame * normals.size());
            std::copy_n(from, normals.size(), normals.begin());
        }
    }

    void describe(const FileSequence& sequence, const OpenOptions& options) {
        clip_.name = "whole sequence";
        clip_.frames = frames_;
        clip_.fps = options.fps > 0.0 ? options.fps : kDefaultFps;
        clip_.duration = static_cast<double>(frames_ - 1) / clip_.fps;
        entry_ = {sequence.pattern, mesh_.vertexCount(), mesh_.triangleCount(), true};
        if (frames_ == 1) {
            findings_.push_back({"single-frame",
                                 base::Severity::look,
                                 {sequence.pattern, "is a single frame: nothing moves",
                                  "name the files of a sequence with frame numbers, as awning_0001.obj"}});
        }
        if (builder_) {
            findings_.push_back({"normals-made",
                                 base::Severity::note,
                                 {sequence.pattern, "has no normals",
                                  "they are made from the posed triangles, weighted by area and angle"}});
        }
    }

    mesh::Mesh mesh_;
    Corners corners_;
    std::size_t objVertices_ = 0;
    std::size_t frames_ = 0;
    std::vector<glm::vec3> positions_;     // frames × objVertices
    std::vector<glm::vec3> vertexNormals_; // frames × vertices, where the files give normals
    std::optional<mesh::NormalBuilder> builder_;
    Clip clip_;
    MeshEntry entry_;
    base::Findings findings_;
};

} // namespace

std::shared_ptr<const FrameSource> openObjSequence(const std::filesystem::path& path,
                                                   const OpenOptions& options,
                                                   const base::Progress& progress) {
    return std::make_shared<ObjSequence>(path, options, progress);
}

} // namespace ripple::source
