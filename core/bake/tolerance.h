#pragma once

#include "mesh/mesh.h"

#include <optional>
#include <string>
#include <string_view>

namespace ripple::bake {

/// How far off a bake may be: a share of the asset's size, or a length.
struct Tolerance {
    double share = 0.001;         ///< of the size; over 0
    std::optional<double> length; ///< metres, over 0; counts instead of the share

    /// Metres, for an asset of `size` metres.
    double metres(double size) const { return length ? *length : share * size; }
    bool operator==(const Tolerance&) const = default;
};

/// An asset's size: the diagonal of its rest pose's bounds, metres. 0 for a mesh of one point.
double assetSize(const mesh::Mesh& mesh);

/// Of "0.5 mm", "0.1 %" or "0.002" (metres). Nothing if it is neither a length nor a share, or not over 0.
std::optional<Tolerance> parseTolerance(std::string_view text);

} // namespace ripple::bake
