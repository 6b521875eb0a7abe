#include "source/frame_topology.h"

#include <algorithm>

namespace ripple::source {

std::string frameName(const FileSequence& sequence, std::size_t frame) {
    return sequence.files[frame].filename().string() + " (frame " + std::to_string(frame) + ")";
}

void requireSameFaces(std::span<const std::uint32_t> firstStart, std::span<const std::uint32_t> start,
                      const std::function<bool(std::size_t corner)>& sameCorner, const std::string& where) {
    if (!std::equal(start.begin(), start.end(), firstStart.begin(), firstStart.end())) {
        base::fail(where,
                   "has " + std::to_string(start.size() - 1) + " faces of " + std::to_string(start.back()) +
                       " corners, the first frame has " + std::to_string(firstStart.size() - 1) + " of " +
                       std::to_string(firstStart.back()),
                   kSameMesh);
    }
    for (std::uint32_t c = 0; c < start.back(); ++c) {
        if (!sameCorner(c)) {
            const auto face = std::upper_bound(start.begin(), start.end(), c) - start.begin();
            base::fail(where,
                       "face " + std::to_string(face) + " joins other vertices than in the first frame",
                       kSameMesh);
        }
    }
}

void requireSameCount(std::size_t first, std::size_t count, const std::string& where) {
    if (count != first) {
        base::fail(where,
                   "has " + std::to_string(count) + " vertices, the first frame has " + std::to_string(first),
                   kSameMesh);
    }
}

} // namespace ripple::source
