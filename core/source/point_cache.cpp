#include "source/point_cache.h"

#include "base/files.h"
#include "base/progress.h"
#include "base/units.h"
#include "source/mesh_sequence.h"
#include "source/mtl.h"
#include "source/obj_topology.h"
#include "source/ply_parse.h"
#include "source/ply_sequence.h"
#include "source/point_cache_file.h"

#include <algorithm>
#include <array>

namespace ripple::source {

namespace {

constexpr std::array kMeshExtensions = {".obj", ".glb", ".gltf", ".ply"};

bool isMesh(const std::filesystem::path& file) {
    const std::string extension = base::extensionOf(file);
    return std::find(kMeshExtensions.begin(), kMeshExtensions.end(), extension) != kMeshExtensions.end();
}

/// The mesh file that belongs to a cache.
std::filesystem::path meshFileOf(const std::filesystem::path& cache) {
    for (const char* extension : kMeshExtensions) {
        std::filesystem::path beside = cache;
        beside.replace_extension(extension);
        if (base::exists(beside)) {
            return beside;
        }
    }
    const std::filesystem::path folder = cache.has_parent_path() ? cache.parent_path() : ".";
    std::vector<std::filesystem::path> meshes;
    std::error_code error;
    for (std::filesystem::directory_iterator it(folder, error), end; !error && it != end;
         it.increment(error)) {
        if (isMesh(it->path())) {
            meshes.push_back(it->path());
        }
    }
    if (meshes.size() != 1) {
        const std::string stem = cache.stem().string();
        base::fail(cache.filename().string(),
                   meshes.empty() ? "holds points only, and its mesh is not beside it"
                                  : "holds points only, and several meshes lie beside it",
                   "put the mesh it was made from beside it as " + stem + ".obj or " + stem + ".glb");
    }
    return meshes[0];
}

/// Topology, and which point of the cache each of its vertices takes.
struct Binding {
    mesh::Mesh mesh;
    std::vector<std::uint32_t> pointOfVertex; ///< vertices
    std::size_t points = 0;                   ///< that the mesh expects
};

Binding bindObj(const std::filesystem::path& file, const OpenRequest& request, base::Findings& findings) {
    const ObjFile obj = parseObj(base::readFile(file), file.filename().string());
    if (obj.corners.empty()) {
        base::fail(file.filename().string(), "holds no faces", "export the mesh with its faces");
    }
    ObjTopology topology = buildTopology(obj);
    Binding binding{std::move(topology.mesh), {}, obj.positions.size()};
    for (const ObjCorner& corner : topology.ofVertex) {
        binding.pointOfVertex.push_back(static_cast<std::uint32_t>(corner.v));
    }
    Companions companions(file, request.trust.followOutside);
    for (const std::string& name : obj.materialNames) {
        binding.mesh.materials.push_back(readObjMaterial(companions, obj.libraries, name, findings));
    }
    companions.report(findings);
    return binding;
}

/// Any other mesh: point for vertex, in the order of the file.
Binding bindWhole(const std::filesystem::path& file, const OpenRequest& request,
                  const base::Progress& progress, base::Findings& findings) {
    Reading reading;
    reading.meshes = request.reading.meshes;
    // A mesh whose name ends in a number is no frame of a sequence here.
    const auto source =
        base::extensionOf(file) == ".ply"
            ? openPlySequence(file, {reading, request.cacheBytes, true, request.trust}, progress)
            : open(file, reading, progress, request.cacheBytes, request.trust);
    for (const base::Finding& finding : source->findings()) {
        // That the mesh itself has no motion is what the cache is for.
        if (finding.id != "no-animation" && finding.id != "single-frame") {
            findings.push_back(finding);
        }
    }
    Binding binding{source->mesh(), {}, source->mesh().vertexCount()};
    for (std::uint32_t v = 0; v < binding.points; ++v) {
        binding.pointOfVertex.push_back(v);
    }
    return binding;
}

class CacheReader : public FrameReader {
public:
    CacheReader(std::shared_ptr<const PointCacheFile> file, std::vector<std::uint32_t> pointOfVertex)
        : file_(std::move(file)),
          pointOfVertex_(std::move(pointOfVertex)) {
        for (std::size_t v = 0; v < pointOfVertex_.size(); ++v) {
            straight_ = straight_ && pointOfVertex_[v] == v;
        }
        straight_ = straight_ && pointOfVertex_.size() == file_->points();
    }

    std::size_t frames() const override { return file_->frames(); }
    bool quick() const override { return true; }
    void read(std::size_t frame, StoredFrame& out) const override {
        out.positions.resize(pointOfVertex_.size());
        if (straight_) {
            file_->read(frame, out.positions);
            return;
        }
        base::RawVector<glm::vec3> points(file_->points());
        file_->read(frame, points);
        for (std::size_t v = 0; v < pointOfVertex_.size(); ++v) {
            out.positions[v] = points[pointOfVertex_[v]];
        }
    }

private:
    std::shared_ptr<const PointCacheFile> file_;
    std::vector<std::uint32_t> pointOfVertex_;
    bool straight_ = true;
};

} // namespace

std::shared_ptr<const FrameSource> openPointCache(const std::filesystem::path& path,
                                                  const OpenRequest& request,
                                                  const base::Progress& progress) {
    progress.checkpoint();
    const auto cache = std::make_shared<const PointCacheFile>(path);
    const std::filesystem::path meshFile = meshFileOf(path);
    SequenceParts parts;
    parts.findings = cache->findings();
    Binding binding = base::extensionOf(meshFile) == ".obj"
                          ? bindObj(meshFile, request, parts.findings)
                          : bindWhole(meshFile, request, progress, parts.findings);
    const std::string name = path.filename().string();
    if (binding.points != cache->points()) {
        base::fail(name,
                   "holds " + base::countText(cache->points()) + " points, its mesh " +
                       meshFile.filename().string() + " has " + base::countText(binding.points) + " vertices",
                   "write the cache and the mesh from the same object, without splitting vertices");
    }
    parts.name = name;
    parts.format = base::extensionOf(path) == ".mdd" ? "MDD point cache" : "PC2 point cache";
    parts.clip = "whole cache";
    parts.rate = cache->rate();
    parts.files = {path, meshFile};
    parts.mesh = std::move(binding.mesh);
    parts.reader = std::make_unique<CacheReader>(cache, std::move(binding.pointOfVertex));
    return playSequence(std::move(parts), request.cacheBytes);
}

} // namespace ripple::source
