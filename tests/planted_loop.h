#pragma once

#include <cmath>
#include <cstddef>
#include <random>
#include <vector>

#include <glm/geometric.hpp>
#include <glm/vec3.hpp>

namespace ripple::tests {

/// Motion of some points that loops once: frames first .. first + period − 1 go round, and what comes before
/// and after drifts away from that, each point in a direction of its own.
struct PlantedLoop {
    std::size_t frames = 0;
    std::size_t points = 0;
    std::size_t first = 0;
    std::size_t period = 0;
    bool repeated = false; ///< the frame behind the last of the loop is the first once more
    float noise = 0.0f;    ///< metres, standard deviation in each axis
    unsigned seed = 1;

    std::size_t last() const { return first + period - 1; }

    /// at[frame · points + point], metres.
    std::vector<glm::vec3> positions() const {
        std::mt19937 random(seed);
        std::normal_distribution<float> normal(0.0f, 1.0f);
        std::uniform_real_distribution<float> unit(0.0f, 1.0f);
        const auto direction = [&] {
            return glm::normalize(glm::vec3(normal(random), normal(random), normal(random) + 1e-3f));
        };
        struct Point {
            glm::vec3 home, once, twice, away;
            float phase, phaseTwice;
        };
        std::vector<Point> all;
        for (std::size_t p = 0; p < points; ++p) {
            Point point;
            point.home = {0.2f * static_cast<float>(p), 1.0f, 0.0f};
            point.once = (0.1f + 0.2f * unit(random)) * direction();
            point.twice = 0.05f * direction();
            point.away = direction();
            point.phase = 6.2832f * unit(random);
            point.phaseTwice = 6.2832f * unit(random);
            all.push_back(point);
        }
        const float step = 6.2832f * 0.2f / static_cast<float>(period); // about one of the loop's own
        const std::size_t behind = first + period + (repeated ? 1 : 0);
        std::vector<glm::vec3> at;
        for (std::size_t f = 0; f < frames; ++f) {
            const float turn =
                (static_cast<float>(f) - static_cast<float>(first)) / static_cast<float>(period);
            const float out = f < first     ? static_cast<float>(first - f)
                              : f >= behind ? static_cast<float>(f - behind + 1)
                                            : 0.0f;
            for (const Point& point : all) {
                const glm::vec3 round = point.once * std::sin(6.2831853f * turn + point.phase) +
                                        point.twice * std::sin(2.0f * 6.2831853f * turn + point.phaseTwice);
                const glm::vec3 noisy(normal(random), normal(random), normal(random));
                at.push_back(point.home + round + point.away * (step * out) + noise * noisy);
            }
        }
        return at;
    }
};

} // namespace ripple::tests
