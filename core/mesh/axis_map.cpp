#include "mesh/axis_map.h"

#include "base/units.h"

#include <algorithm>

namespace ripple::mesh {

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

void AxisMap::turn(std::span<glm::vec3> directions) const {
    const glm::vec3 sign(negative[0] ? -1.0f : 1.0f, negative[1] ? -1.0f : 1.0f, negative[2] ? -1.0f : 1.0f);
    for (glm::vec3& d : directions) {
        d = sign * glm::vec3(d[order[0]], d[order[1]], d[order[2]]);
    }
}

void AxisMap::place(std::span<glm::vec3> positions) const {
    turn(positions);
    const auto factor = static_cast<float>(unit);
    for (glm::vec3& p : positions) {
        p *= factor;
    }
}

AxisMap AxisMap::back() const {
    AxisMap made;
    made.unit = 1.0 / unit;
    for (std::size_t c = 0; c < 3; ++c) {
        const auto ours = static_cast<std::size_t>(order[c]);
        made.order[ours] = static_cast<int>(c);
        made.negative[ours] = negative[c];
    }
    return made;
}

AxisMap AxisMap::after(const AxisMap& first) const {
    AxisMap made;
    made.unit = unit * first.unit;
    for (std::size_t c = 0; c < 3; ++c) {
        const auto between = static_cast<std::size_t>(order[c]);
        made.order[c] = first.order[between];
        made.negative[c] = negative[c] != first.negative[between];
    }
    return made;
}

glm::dmat3 AxisMap::matrix() const {
    return {turned({1.0, 0.0, 0.0}), turned({0.0, 1.0, 0.0}), turned({0.0, 0.0, 1.0})};
}

Bounds AxisMap::of(const Bounds& bounds) const {
    if (bounds.empty()) {
        return bounds;
    }
    std::array corners = {bounds.min, bounds.max};
    place(corners);
    Bounds made;
    made.add(corners);
    return made;
}

bool AxisMap::changes() const {
    return turns() || unit != 1.0;
}

std::array<std::string, 3> AxisMap::letters() const {
    std::array<std::string, 3> made;
    for (std::size_t c = 0; c < 3; ++c) {
        made[c] = std::string(negative[c] ? "-" : "+") + "XYZ"[order[c]];
    }
    return made;
}

std::optional<AxisMap> axesByLetters(const std::array<std::string, 3>& letters) {
    const std::vector<AxisMap> all = axisTurns();
    const auto found =
        std::find_if(all.begin(), all.end(), [&](const AxisMap& map) { return map.letters() == letters; });
    return found == all.end() ? std::nullopt : std::optional(*found);
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
        axes += std::string(c ? ", " : "") + "its " + "XYZ"[c] + " is " + letters()[c];
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

std::vector<AxisMap> axisTurns() {
    constexpr std::array<std::array<int, 3>, 6> kOrders = {
        {{0, 1, 2}, {0, 2, 1}, {1, 0, 2}, {1, 2, 0}, {2, 0, 1}, {2, 1, 0}}};
    std::vector<AxisMap> maps;
    for (const auto& order : kOrders) {
        for (int signs = 0; signs < 8; ++signs) {
            maps.push_back({1.0, order, {(signs & 1) != 0, (signs & 2) != 0, (signs & 4) != 0}});
        }
    }
    return maps;
}

std::vector<AxisMap> axisMaps() {
    constexpr std::array kUnits = {1.0, 100.0, 0.01, 1000.0, 0.001, 1.0 / 0.0254, 0.0254};
    std::vector<AxisMap> maps;
    for (const double unit : kUnits) {
        for (AxisMap map : axisTurns()) {
            map.unit = unit;
            maps.push_back(map);
        }
    }
    return maps;
}

} // namespace ripple::mesh
