#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

namespace ripple::bake {

/// What the position texture holds: the position itself, or its difference from the rest pose.
enum class Content { absolute, offset };

/// "absolute", "offset"
const char* name(Content content);
std::optional<Content> contentByName(const std::string& text);

/// Sampled frames first..last of a clip, both kept, counted from 0.
struct FrameWindow {
    std::size_t first = 0;
    std::size_t last = 0;
    bool operator==(const FrameWindow&) const = default;
};

struct ClipChoice {
    std::string name;
    std::optional<FrameWindow> window; ///< none: the whole clip
    bool operator==(const ClipChoice&) const = default;
};

/// Everything that decides the bytes of a bake, beside the source.
struct Recipe {
    std::vector<ClipChoice> clips; ///< in the order in which they are stored; empty: all, whole
    std::size_t step = 1;          ///< keep every step-th frame, at least 1
    double fps = 0.0; ///< sampling rate of clips that can be asked at any time; 0: the clip's own suggestion
    bool dropRepeated = true; ///< a sequence whose last frame repeats its first is stored without the repeat
    Content content = Content::offset;
    std::string positionStore = "half"; ///< a name in positionStores()
    std::string normalStore = "unorm8"; ///< a name in normalStores()
    std::size_t maxWidth = 2048;        ///< texels, 1 to kLargestTexture

    bool operator==(const Recipe&) const = default;
};

/// Largest texture side that we write; what current desktop hardware reads at least.
constexpr std::size_t kLargestTexture = 16384;

} // namespace ripple::bake
