#pragma once

#include "mesh/bounds.h"

#include <array>

namespace ripple::app {

/// The corners of a box: bits 0, 1 and 2 of a corner's number say whether it is at the far end of X, Y and Z.
inline std::array<glm::vec3, 8> boxCorners(const mesh::Bounds& box) {
    std::array<glm::vec3, 8> corners;
    for (unsigned c = 0; c < corners.size(); ++c) {
        corners[c] = {(c & 1 ? box.max : box.min).x, (c & 2 ? box.max : box.min).y,
                      (c & 4 ? box.max : box.min).z};
    }
    return corners;
}

} // namespace ripple::app
