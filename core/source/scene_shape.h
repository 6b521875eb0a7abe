#pragma once

#include "source/scene.h"

#include <cstddef>
#include <span>
#include <string>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::source {

// Changes to a scene's geometry before it plays.

/// The most joints with a weight above 0 that any vertex follows; 0 without skins.
std::size_t mostInfluences(const SceneGeometry& geometry);

/// Keeps the `most` strongest joints of each vertex and makes their weights sum to 1 again; 0 keeps all.
void limitInfluences(SceneGeometry& geometry, std::size_t most);

/// Midpoint subdivision of all parts: rest positions, UVs, colours, morph targets and skin weights are means
/// of the two ends, so that skinning the new vertex equals blending its own weights (not the mean of the
/// ends' posed positions, which lies a little off where joints turn).
SceneGeometry subdivideScene(const SceneGeometry& geometry);

/// Adds a part's morph targets, each by its weight; those beyond the weights add nothing.
void morph(const ScenePart& part, const std::vector<double>& weights, std::span<glm::vec3> positions,
           std::span<glm::vec3> normals);

/// Says what was wrong with skin weights, if anything.
void reportWeights(const WeightRepair& repair, const std::string& file, base::Findings& findings);

} // namespace ripple::source
