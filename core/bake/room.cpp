#include "bake/room.h"

#include "bake/kind.h"
#include "bake/layout.h"
#include "base/units.h"

#include <algorithm>
#include <array>
#include <cstring>
#include <unordered_set>

namespace ripple::bake {

namespace {

constexpr std::size_t kPoses = 3;

/// Where one vertex is in each of the poses, bit for bit.
using Track = std::array<glm::vec3, kPoses>;

struct HashTrack {
    std::size_t operator()(const Track& track) const {
        return std::hash<std::string_view>()({reinterpret_cast<const char*>(track.data()), sizeof track});
    }
};

} // namespace

Size measureSize(const source::FrameSource& source, const SamplePlan& plan, const Recipe& recipe) {
    const std::span<const glm::vec3> rest = source.mesh().positions;
    Size size{plan.frameCount(), 1};
    if (recipe.kind->hasPivots || recipe.kind->followsJoints || plan.clips.empty()) {
        return size; // as many as stiff parts, which takes all frames to know, or as joints: few
    }
    std::vector<Track> tracks(rest.size(), Track{});
    std::vector<glm::vec3> pose(rest.size());
    for (std::size_t p = 0; p < kPoses; ++p) {
        const std::size_t clip = p * (plan.clips.size() - 1) / (kPoses - 1);
        const std::vector<double>& seconds = plan.clips[clip].seconds;
        samplePose(source, plan.clips[clip], seconds[p * (seconds.size() - 1) / (kPoses - 1)], pose, {});
        for (std::size_t v = 0; v < pose.size(); ++v) {
            // Adding nothing makes of −0 a 0, which is the same place.
            tracks[v][p] =
                (recipe.content == Content::offset ? pose[v] - rest[v] : pose[v]) + glm::vec3(0.0f);
        }
    }
    const std::unordered_set<Track, HashTrack> different(tracks.begin(), tracks.end());
    size.columns = std::max<std::size_t>(different.size(), 1);
    return size;
}

void requireRoom(const Size& size, const Recipe& recipe) {
    if (size.frames > kLargestTexture) {
        base::fail("frames",
                   "are " + base::countText(size.frames) + ", and a texture has " +
                       base::countText(kLargestTexture) + " rows at most, one for each",
                   "take fewer: a lower rate, a higher speed, every Nth frame, or a part of the clip");
    }
    const std::size_t rows = recipe.kind->blocks(recipe, size.frames);
    try {
        makeLayout((size.columns + 1) / 2, rows, limitsOf(recipe));
    } catch (const base::Failure&) {
        makeLayout(size.columns, rows, limitsOf(recipe)); // says so with the sizes as they are
        throw;
    }
}

} // namespace ripple::bake
