#pragma once

#include "bake/texture_set.h"
#include "code/cost.h"
#include "emit/dialect.h"
#include "emit/identifier.h"
#include "mesh/bounds.h"

#include <optional>
#include <string>
#include <vector>

namespace ripple::emit {

/// Functions that read a bake in the vertex stage, with its own numbers filled in. All names start with
/// identifier(name). The text declares no textures: it is to be included. Its functions take, in this order:
/// the textures of readerSamplers(), lookup_uv, rest_position, rest_normal, the pivot if readerWantsPivot(),
/// and what the function is about.
std::string readerCode(const Dialect& dialect, const std::string& name, const bake::BakeFormat& textures,
                       const mesh::Bounds& bounds);

/// Where the mesh of a bake holds what the functions take.
struct ReaderPlaces {
    std::size_t lookupUvSet = 0;
    std::size_t pivotUvSet = 0;           ///< of kinds that want a pivot: this set and the next
    std::optional<std::size_t> baseUvSet; ///< that the base texture lies on; none: the mesh has no other
};
/// What the functions of the bake are called with in a vertex stage; by seconds, or by the turn of a clip.
VertexStage readerStage(const Dialect& dialect, const std::string& name, const bake::BakeFormat& textures,
                        const mesh::Bounds& bounds, const ReaderPlaces& places, bool bySeconds = true);
/// The same as a whole stage, as an example.
std::string readerExample(const Dialect& dialect, const std::string& name, const bake::BakeFormat& textures,
                          const mesh::Bounds& bounds, const ReaderPlaces& places, bool bySeconds = true);

/// What one call of the reading code takes: the pose, and the velocity.
struct ReaderCost {
    code::Cost pose;
    code::Cost velocity;
};
ReaderCost readerCost(const bake::BakeFormat& textures, const mesh::Bounds& bounds);

/// "positions", "normals", in the order of textures.textures.
std::vector<std::string> readerSamplers(const bake::BakeFormat& textures);
bool readerWantsPivot(const bake::BakeFormat& textures);

} // namespace ripple::emit
