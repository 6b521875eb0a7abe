#pragma once

#include "base/problem.h"
#include "mesh/mesh.h"
#include "source/companions.h"

#include <span>
#include <string>

namespace ripple::source {

/// The material called `name` of an OBJ file's material libraries (Wavefront MTL, with the widespread keys
/// for physically based shading): Kd, d, Tr, Ke, Ns, Pr, Pm, map_Kd, map_Ke, norm, and map_d as a cut-out.
/// White where the libraries do not hold it. Whatever can't be read becomes a finding, and the rest is taken.
/// Files are found by `companions`, which the caller lets report at the end.
mesh::Material readObjMaterial(Companions& companions, std::span<const std::string> libraries,
                               const std::string& name, base::Findings& findings);

} // namespace ripple::source
