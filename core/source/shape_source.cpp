#include "source/shape_source.h"

#include "source/adjusted.h"

#include <algorithm>

namespace ripple::source {

namespace {

class ShapeSource : public FrameSource {
public:
    explicit ShapeSource(const mesh::TestShape& shape) : mesh_(mesh::makeTestShape(shape)) {
        entry_ = {mesh_.parts[0].name, mesh_.vertexCount(), mesh_.triangleCount(), true};
        clip_.name = "rest";
    }

    const mesh::Mesh& mesh() const override { return mesh_; }
    std::span<const Clip> clips() const override { return {&clip_, 1}; }
    std::span<const MeshEntry> meshes() const override { return {&entry_, 1}; }
    std::span<const base::Finding> findings() const override { return {}; }
    std::string format() const override { return "test shape"; }
    Space space() const override { return {1.0, Axis::y, true}; }
    void sample(std::size_t, double, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        std::copy(mesh_.positions.begin(), mesh_.positions.end(), positions.begin());
        std::copy_n(mesh_.normals.begin(), normals.size(), normals.begin());
    }

private:
    mesh::Mesh mesh_;
    MeshEntry entry_;
    Clip clip_;
};

} // namespace

std::shared_ptr<const FrameSource> openTestShape(const mesh::TestShape& shape, const Reading& reading) {
    auto source = subdivideFrames(std::make_shared<ShapeSource>(shape), reading.subdivisions);
    return adjust(std::move(source), reading);
}

} // namespace ripple::source
