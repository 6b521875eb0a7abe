#include "bundle/axis_map.h"

#include "base/units.h"

namespace ripple::bundle {

glm::dvec3 AxisMap::turned(const glm::dvec3& direction) const {
    glm::dvec3 made(0.0);
    for (std::size_t c = 0; c < 3; ++c) {
        made[static_cast<int>(c)] = direction[order[c]] * (negative[c] ? -1.0 : 1.0);
    }
    return made;
}

glm::dvec3 AxisMap::of(const glm::dvec3& point) const {
    return unit * turned(point);
}

bool AxisMap::turns() const {
    return order != std::array{0, 1, 2} || negative != std::array<bool, 3>{};
}

bool AxisMap::mirrors() const {
    const bool odd = (order[0] > order[1]) ^ (order[0] > order[2]) ^ (order[1] > order[2]);
    return odd ^ negative[0] ^ negative[1] ^ negative[2];
}

std::string AxisMap::words() const {
    std::string axes;
    for (std::size_t c = 0; c < 3; ++c) {
        axes += std::string(c ? ", " : "") + "its " + "XYZ"[c] + " is " + (negative[c] ? "-" : "+") +
                "XYZ"[order[c]];
    }
    std::string words = turns() ? "its axes are turned: " + axes + " of the bundle" : std::string();
    if (mirrors()) {
        words += ", which mirrors it";
    }
    if (unit != 1.0) {
        words += std::string(turns() ? "; " : "") + "its unit is another: a metre is " +
                 base::numberText(unit) + " of it";
    }
    return words;
}

std::vector<AxisMap> axisMaps() {
    constexpr std::array kUnits = {1.0, 100.0, 0.01, 1000.0, 0.001, 1.0 / 0.0254, 0.0254};
    constexpr std::array<std::array<int, 3>, 6> kOrders = {
        {{0, 1, 2}, {0, 2, 1}, {1, 0, 2}, {1, 2, 0}, {2, 0, 1}, {2, 1, 0}}};
    std::vector<AxisMap> maps;
    for (const double unit : kUnits) {
        for (const auto& order : kOrders) {
            for (int signs = 0; signs < 8; ++signs) {
                maps.push_back({unit, order, {(signs & 1) != 0, (signs & 2) != 0, (signs & 4) != 0}});
            }
        }
    }
    return maps;
}

} // namespace ripple::bundle
