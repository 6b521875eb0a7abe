#pragma once

#include "base/problem.h"
#include "mesh/normals.h"

#include <string>

namespace ripple::source {

/// Says what was wrong with a file's normals, if anything.
void reportNormals(const mesh::NormalFaults& faults, const std::string& file, base::Findings& findings);

} // namespace ripple::source
