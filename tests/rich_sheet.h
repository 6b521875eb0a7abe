#pragma once

#include "analytic_source.h"
#include "mesh/test_shapes.h"

#include <memory>
#include <utility>

namespace ripple::tests {

/// A sheet with UVs, colours and a stored value.
inline mesh::Mesh richSheet() {
    mesh::Mesh mesh = mesh::makeTestShape({"sheet", 1.0, 12, 12});
    mesh::StoredValue age{"age", {}};
    for (const glm::vec3& p : mesh.positions) {
        mesh.colours.push_back({0.5f + 0.4f * p.x, 0.3f, 0.6f - 0.3f * p.z, 1.0f});
        age.values.push_back(0.5f + 0.5f * p.z);
    }
    mesh.stored = {age};
    return mesh;
}

/// A mesh that does not move by itself.
inline std::shared_ptr<const source::FrameSource> still(mesh::Mesh mesh) {
    auto source = std::make_shared<AnalyticSource>(2, source::Clip(),
                                                   [](const glm::vec3& rest, double) { return rest; });
    source->editMesh() = std::move(mesh);
    return source;
}

} // namespace ripple::tests
