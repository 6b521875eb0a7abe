#include "scatter/placement.h"

#include "base/problem.h"
#include "base/units.h"
#include "scatter/even.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::scatter {

namespace {

constexpr float kTurn = 6.2831853f;

/// Rows as near to squares as the count allows; the last one may be short.
std::vector<glm::vec3> spreadGrid(const Placement& placement) {
    const double shape = static_cast<double>(placement.size.x) / static_cast<double>(placement.size.z);
    const double n = static_cast<double>(placement.count);
    const auto across = static_cast<std::size_t>(std::clamp(std::round(std::sqrt(n * shape)), 1.0, n));
    const std::size_t rows = (placement.count + across - 1) / across;
    std::vector<glm::vec3> places;
    for (std::size_t i = 0; i < placement.count; ++i) {
        const auto part = [](std::size_t at, std::size_t of) {
            return (static_cast<float>(at) + 0.5f) / static_cast<float>(of) - 0.5f;
        };
        places.push_back({part(i % across, across), 0.0f, part(i / across, rows)});
    }
    return places;
}

std::vector<glm::vec3> spreadEven(const Placement& placement) {
    return spreadEvenly(placement.count, {placement.size.x, 0.0f, placement.size.z}, placement.seed);
}

std::vector<glm::vec3> spreadRing(const Placement& placement) {
    std::vector<glm::vec3> places;
    for (std::size_t i = 0; i < placement.count; ++i) {
        const float angle = kTurn * static_cast<float>(i) / static_cast<float>(placement.count);
        places.push_back({0.5f * std::sin(angle), 0.0f, 0.5f * std::cos(angle)});
    }
    return places;
}

std::vector<glm::vec3> spreadLine(const Placement& placement) {
    std::vector<glm::vec3> places;
    for (std::size_t i = 0; i < placement.count; ++i) {
        const float part = placement.count > 1
                               ? static_cast<float>(i) / static_cast<float>(placement.count - 1) - 0.5f
                               : 0.0f;
        places.push_back({part, 0.0f, 0.0f});
    }
    return places;
}

std::vector<glm::vec3> spreadVolume(const Placement& placement) {
    return spreadEvenly(placement.count, placement.size, placement.seed);
}

constexpr std::array kPatterns = {
    Pattern{"grid", "Grid", "In rows", false, &spreadGrid},
    Pattern{"even", "Scattered evenly", "At random, and yet none close to another", false, &spreadEven},
    Pattern{"ring", "Ring", "Round a ring", false, &spreadRing},
    Pattern{"line", "Line", "Along a line", false, &spreadLine},
    Pattern{"volume", "Volume", "Through a volume, as a swarm is", true, &spreadVolume},
};

void requirePossible(const Placement& placement) {
    if (placement.count == 0 || placement.count > kMostCopies) {
        base::fail("copies", "are " + base::countText(placement.count), "take 1 to 20 000");
    }
    const glm::vec3& size = placement.size;
    const bool finite = std::isfinite(size.x + size.y + size.z);
    if (!finite || size.x <= 0.0f || size.z <= 0.0f || size.y < 0.0f) {
        base::fail("area", "has no size", "spread the copies over more than 0 metres each way");
    }
}

} // namespace

std::span<const Pattern> patterns() {
    return kPatterns;
}

const Pattern* patternByName(const std::string& id) {
    const auto found =
        std::find_if(kPatterns.begin(), kPatterns.end(), [&](const Pattern& row) { return id == row.id; });
    return found == kPatterns.end() ? nullptr : &*found;
}

glm::quat uprightTo(const glm::vec3& up) {
    const glm::vec3 y(0.0f, 1.0f, 0.0f);
    const float cosine = glm::dot(y, up);
    if (cosine < -0.999999f) {
        return {0.0f, 1.0f, 0.0f, 0.0f}; // half a turn about x: any would do
    }
    const glm::vec3 axis = glm::cross(y, up);
    return glm::normalize(glm::quat(1.0f + cosine, axis.x, axis.y, axis.z));
}

std::vector<Copy> placeCopies(const Placement& placement, const Differences& differences,
                              const Ground& ground) {
    requirePossible(placement);
    const Pattern* pattern = patternByName(placement.pattern);
    if (!pattern) {
        base::fail("pattern \"" + placement.pattern + "\"", "is none that copies are spread by",
                   "choose grid, even, ring, line or volume");
    }
    std::vector<Copy> copies;
    const std::vector<glm::vec3> places = pattern->spread(placement);
    for (std::uint32_t i = 0; i < places.size(); ++i) {
        const glm::vec3 at = places[i] * placement.size;
        Copy copy;
        copy.index = i;
        copy.own = differenceOf(differences, i);
        glm::vec3 up(0.0f, 1.0f, 0.0f);
        if (pattern->inAir) {
            copy.origin = at + glm::vec3(0.0f, 0.5f * placement.size.y, 0.0f); // its floor is at 0
        } else if (const auto spot = ground.below({at.x, at.z})) {
            copy.origin = spot->position;
            up = placement.alongSurface ? spot->normal : up;
        } else {
            continue;
        }
        copy.rotation = uprightTo(up) * glm::angleAxis(kTurn * copy.own.turn, glm::vec3(0.0f, 1.0f, 0.0f));
        copies.push_back(copy);
    }
    if (copies.empty()) {
        base::fail("ground", "lies beside all " + base::plural(places.size(), "copy") + " of the area",
                   "move or enlarge the area, or take another ground");
    }
    return copies;
}

} // namespace ripple::scatter
