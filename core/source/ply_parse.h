#pragma once

#include "base/raw_vector.h"
#include "source/ply_header.h"

#include <cstdint>
#include <span>
#include <vector>

#include <glm/vec2.hpp>
#include <glm/vec3.hpp>
#include <glm/vec4.hpp>

namespace ripple::source {

/// A PLY file's mesh. Arrays other than positions are empty when the file has none.
struct PlyFile {
    base::RawVector<glm::vec3> positions;
    base::RawVector<glm::vec3> normals;
    std::vector<glm::vec2> uvs;              ///< as in the file
    std::vector<glm::vec4> colours;          ///< 0..1
    std::vector<std::uint32_t> faceStart{0}; ///< faces + 1, into corners
    std::vector<std::uint32_t> corners;      ///< vertices
    bool stripsLeftOut = false;              ///< it holds triangle strips, which are not read
};

/// Parses a whole file. Throws base::Failure with `where`, and line or element.
PlyFile parsePly(std::span<const std::byte> bytes, const std::string& where);

/// The quick way for a sequence's further frames: positions and normals only. Of a binary file whose bytes
/// from the end of the vertices on equal `rest`, or a text file whose remaining text does, the faces are
/// known to be the same. False when they differ (then parsePly tells how) or when the file is laid out
/// otherwise.
bool parsePlyFrame(std::span<const std::byte> bytes, const std::string& where,
                   std::span<const std::byte> rest, PlyFile& out);

/// The bytes after the vertices.
std::span<const std::byte> plyRest(std::span<const std::byte> bytes, const std::string& where);

} // namespace ripple::source
