#pragma once

#include "mesh/mesh.h"

#include <string>

namespace ripple::bundle {

/// The mesh at rest as an SVG element, from a little above and beside: its triangles, of a dense mesh fewer
/// that look like it, lit and drawn from the farthest to the nearest. `label`: what it shows, in HTML.
std::string pictureOf(const mesh::Mesh& mesh, const std::string& label);

} // namespace ripple::bundle
