#pragma once

#include "scatter/crowd.h"
#include "scatter/merged.h"
#include "scatter/placement.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace ripple::scatter {

/// What copies play.
enum class Plays {
    itself, ///< the bake; the score as code where there is one that moves the rest pose
    bake,
    score,
};

/// How often a clip is chosen.
struct ClipShare {
    std::string clip;    ///< its name in what is written
    double weight = 1.0; ///< 0 and more
    bool operator==(const ClipShare&) const = default;
};

/// All that a person chose of the Scatter bench.
struct Choices {
    Placement placement;         ///< its seed is that of the differences
    std::string ground = "flat"; ///< or "uneven", or a mesh file's path, absolute
    Differences differences;     ///< without weights: those are in `mix`
    std::array<glm::vec3, 2> tints = {glm::vec3(1.0f), glm::vec3(1.0f)}; ///< sRGB, 0..1
    std::vector<std::string> images; ///< files of further base colour images, absolute
    Plays plays = Plays::itself;
    std::vector<ClipShare> mix; ///< clips that it does not name have weight 1
    double fade = 0.3;          ///< seconds of cross-fades that the bake does not give a length of their own
    Travel travel = Travel::still;
    std::optional<double> speed;   ///< metres a second; none: as the feet say
    std::optional<double> fastest; ///< of Travel::gaits; none: as the feet of the quickest clip say
    std::optional<double> facing;  ///< turns about +Y from +Z; none: as the feet say
    bool merged = false;
    Keeps keeps = Keeps::nothing; ///< of merged copies
    std::size_t levels = 0;       ///< of detail, beside the mesh itself: 0 to kMostLevels
    double levelPixels = 1.0;     ///< what a level's error may cover on a picture 1080 pixels high
    double farRate = 0.0;         ///< frames a second of the last level; 0: as all
    double hideBeyond = 0.0;      ///< metres; 0: nothing is hidden
    bool ball = false;            ///< there is one to push what makes way
    double ballRadius = 0.5;      ///< metres
    bool operator==(const Choices&) const = default;

    static constexpr std::size_t kMostLevels = 3;
    static constexpr std::size_t kMostImages = 3; ///< beside the model's own
    double weightOf(const std::string& clip) const;
};

/// The mix with another weight of one clip.
std::vector<ClipShare> withWeight(std::vector<ClipShare> mix, const std::string& clip, double weight);

/// Linear light of an sRGB colour (IEC 61966-2-1).
glm::vec3 linear(const glm::vec3& srgb);

} // namespace ripple::scatter
