#pragma once

#include "bake/texture_reader.h"
#include "bundle/manifest.h"
#include "bundle/test_vector.h"

#include <functional>
#include <string>

namespace ripple::bundle {

/// "NAME.test.json"
std::string testFileOf(const std::string& name);

/// What a baked bundle's reader gives, as its target has it. Both must outlive it.
PoseAt poseAtOf(const Manifest& manifest, const bake::TextureReader& reader);

/// `ours`: the rest pose, metres. The test of a baked bundle: of each clip its start, an instant between two
/// frames, and one near its end.
TestVector testOf(const Manifest& manifest, const bake::TextureReader& reader,
                  std::span<const glm::vec3> ours);

/// The test of a score: a few turns of a copy at the origin that is not turned, of size 1 and with the id 0,
/// by the parameters' defaults.
/// `pose` gives it, metres.
using PoseAtTurn =
    std::function<void(double turn, std::span<glm::vec3> positions, std::span<glm::vec3> normals)>;
TestVector testOf(const std::string& name, const PoseAtTurn& pose, double loopSeconds,
                  std::span<const glm::vec3> ours, const Target& target = {});

} // namespace ripple::bundle
