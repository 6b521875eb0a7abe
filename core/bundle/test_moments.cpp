#include "bundle/test_moments.h"

#include <algorithm>
#include <cmath>

namespace ripple::bundle {

std::string testFileOf(const std::string& name) {
    return name + ".test.json";
}

PoseAt poseAtOf(const Manifest& manifest, const bake::TextureReader& reader) {
    return [&](std::size_t clip, double frame, std::span<glm::vec3> positions, std::span<glm::vec3> normals) {
        reader.at(manifest.textures.clips[clip], static_cast<float>(frame), positions, normals);
        manifest.textures.space.place(positions);
        manifest.textures.space.turn(normals);
    };
}

TestVector testOf(const Manifest& manifest, const bake::TextureReader& reader,
                  std::span<const glm::vec3> ours) {
    std::vector<glm::vec3> rest(ours.begin(), ours.end());
    manifest.textures.space.place(rest);
    std::vector<TestMoment> moments;
    constexpr std::size_t kMostClips = 16; // enough to see that clips are found
    const auto& clips = manifest.textures.clips;
    for (std::size_t c = 0; c < std::min(clips.size(), kMostClips); ++c) {
        const auto length = static_cast<double>(clips[c].length());
        const double end = clips[c].closed ? length - 0.25 : length - 1.25; // over the seam of a closed one
        // Quarters of a frame: exact in single precision, so that the client asks for the same instant.
        for (const double frame : {0.0, std::floor(0.37 * length) + 0.5, std::max(end, 0.0)}) {
            const bool inside = frame <= length - (clips[c].closed ? 0.0 : 1.0);
            if (inside && (moments.empty() || moments.back().clip != c || moments.back().frame < frame)) {
                moments.push_back({c, frame, frame / clips[c].fps, {}, {}});
            }
        }
    }
    return makeTest(manifest.name, false, rest, std::move(moments), poseAtOf(manifest, reader));
}

TestVector testOf(const std::string& name, const PoseAtTurn& pose, double loopSeconds,
                  std::span<const glm::vec3> ours, const Target& target) {
    const mesh::AxisMap space = target.space();
    std::vector<glm::vec3> rest(ours.begin(), ours.end());
    space.place(rest);
    std::vector<TestMoment> moments;
    for (const double turn : {0.0, 0.125, 0.4375, 0.8125}) {
        moments.push_back({0, turn, turn * loopSeconds, {}, {}});
    }
    return makeTest(
        name, true, rest, std::move(moments),
        [&](std::size_t, double turn, std::span<glm::vec3> positions, std::span<glm::vec3> normals) {
            pose(turn, positions, normals);
            space.place(positions);
            space.turn(normals);
        });
}

} // namespace ripple::bundle
