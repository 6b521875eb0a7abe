#pragma once

#include "base/files.h"
#include "base/problem.h"
#include "mesh/mesh.h"

#include <cstdint>
#include <filesystem>
#include <span>
#include <string>
#include <vector>

#include <glm/vec2.hpp>
#include <glm/vec3.hpp>
#include <glm/vec4.hpp>

namespace ripple::source {

/// One corner of a face; 0-based, -1 where the file gives none.
struct ObjCorner {
    std::int32_t v = -1;
    std::int32_t vt = -1;
    std::int32_t vn = -1;
    bool operator==(const ObjCorner&) const = default;
};

/// A Wavefront OBJ file's polygons as it holds them.
struct ObjFile {
    std::vector<glm::vec3> positions;
    std::vector<glm::vec3> normals;
    std::vector<glm::vec2> uvs;              ///< origin at the bottom left, as in the file
    std::vector<glm::vec4> colours;          ///< of positions, linear as written; empty when there are none
    std::vector<ObjCorner> corners;          ///< all faces' corners in order
    std::vector<std::uint32_t> faceStart{0}; ///< faces + 1, into corners
    std::vector<std::uint32_t> faceMaterial; ///< faces, into materialNames
    std::vector<std::string> materialNames;  ///< in order of first use; "" before any usemtl
    std::vector<std::string> libraries;      ///< mtllib
    std::string faceText; ///< all face and usemtl lines, joined: equal text is equal topology
};

/// Parses a whole file. Throws base::Failure with `where` and the line.
ObjFile parseObj(std::span<const std::byte> bytes, const std::string& where);

/// The quick way for a sequence's further frames: takes positions and normals, and only compares the faces
/// with `faceText`. False when they differ (then parseObj tells how). The vectors are emptied first.
bool parseObjFrame(std::span<const std::byte> bytes, const std::string& where, const std::string& faceText,
                   std::vector<glm::vec3>& positions, std::vector<glm::vec3>& normals);

} // namespace ripple::source
