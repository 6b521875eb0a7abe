#include "mesh/places.h"

#include <meshoptimizer.h>

namespace ripple::mesh {

std::vector<std::uint32_t> placesOf(std::span<const glm::vec3> points) {
    std::vector<std::uint32_t> places(points.size());
    meshopt_generateVertexRemap(places.data(), nullptr, points.size(), points.data(), points.size(),
                                sizeof(glm::vec3));
    return places;
}

std::vector<std::uint32_t> firstInPlace(std::span<const glm::vec3> points) {
    std::vector<std::uint32_t> found = placesOf(points);
    std::vector<std::uint32_t> first; // of each place
    for (std::uint32_t v = 0; v < found.size(); ++v) {
        if (found[v] == first.size()) {
            first.push_back(v);
        }
        found[v] = first[found[v]];
    }
    return found;
}

} // namespace ripple::mesh
