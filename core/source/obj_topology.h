#pragma once

#include "source/obj_parse.h"

#include <cstdint>
#include <vector>

namespace ripple::source {

/// Our vertices as corners of an OBJ file's faces.
struct ObjTopology {
    mesh::Mesh mesh;                        ///< without positions and normals
    std::vector<ObjCorner> ofVertex;        ///< vertices
    std::vector<std::uint32_t> firstCorner; ///< vertices: where in ObjFile::corners it first stands
    bool hasNormals = true;                 ///< every corner has one
};

/// Splits the file's corners into vertices (one for each position, UV, normal and material) and cuts its
/// polygons. Vertices come in the order of the file's positions, so that one keeps its number wherever it
/// need not be split. Positions that no face uses come last in the last part, so that none is lost.
ObjTopology buildTopology(const ObjFile& file);

} // namespace ripple::source
