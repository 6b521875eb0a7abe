#pragma once

#include "mesh/mesh.h"

#include <cstddef>
#include <string>
#include <vector>

namespace ripple::mesh {

/// What can be said of one UV set.
struct UvSetFacts {
    std::vector<std::string> usedBy; ///< materials with a texture that reads it
    bool empty = false;              ///< all its UVs are the same: nothing is laid out on it
    std::size_t outside = 0;         ///< vertices outside 0..1
    double overlap = 0.0;            ///< 0..1: part of the covered texels that more than one triangle covers

    bool free() const { return empty && usedBy.empty(); }
};

/// For each of the mesh's UV sets. Overlap is measured on a raster of 512 × 512 texels, by texel centres.
std::vector<UvSetFacts> uvSetFacts(const Mesh& mesh);

/// The set that a lookup may take: the first that is free, else the one behind the last.
std::size_t freeUvSet(const Mesh& mesh);

/// For each UV set the first one that is the same to the last bit: itself, or an earlier one.
std::vector<std::size_t> firstSameUvSet(const Mesh& mesh);

/// Names of the materials with a texture that reads the set.
std::vector<std::string> uvSetReaders(const Mesh& mesh, std::size_t set);

/// True if a texture of any material reads the set.
bool isUvSetRead(const Mesh& mesh, std::size_t set);

/// Leaves out UV sets. `into`: for each set the one that takes its place: itself where it is kept. Materials
/// then read what took the place of theirs.
void dropUvSets(Mesh& mesh, const std::vector<std::size_t>& into);

/// UV sets that the format numbers at most: more would be another kind of mesh.
constexpr std::size_t kMostLookupUvSet = 7;

/// How many UV sets engines commonly import.
constexpr std::size_t kMostUvSets = 4;

} // namespace ripple::mesh
