#pragma once

#include "source/skinning.h"

#include <cstddef>
#include <cstdint>
#include <utility>
#include <vector>

namespace ripple::source {

/// The joints that move one vertex, each once, with their weights.
using Influences = std::vector<std::pair<std::uint16_t, float>>;

/// Adds the joints of a vertex with a weight above 0, times `factor`.
void addInfluences(Influences& influences, const SkinWeights& weights, std::size_t vertex, float factor);

/// Of equal weights the earlier stays first.
void strongestFirst(Influences& influences);

/// Slots of one width for all vertices: 4, 8, or as many as the fullest needs.
SkinWeights packInfluences(const std::vector<Influences>& vertices);

} // namespace ripple::source
