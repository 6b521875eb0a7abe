#include "bundle/mesh_match.h"

#include "base/units.h"
#include "bundle/missampling.h"
#include "mesh/bounds.h"
#include "mesh/normals.h"
#include "mesh/point_grid.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::bundle {

namespace {

/// The least first.
constexpr std::array kUvHabits = {UvHabit{}, UvHabit{true}, UvHabit{false, true}, UvHabit{true, true},
                                  UvHabit{true, true, true}};

double sizeAboveZero(const mesh::Mesh& mesh) {
    mesh::Bounds bounds;
    bounds.add(mesh.positions);
    return std::max(static_cast<double>(bounds.diagonal()), 1e-6);
}

constexpr double kTurned = 1.0; ///< degrees, from which on a normal is another

/// How far vertices of one place may be apart, metres.
double toleranceOf(const mesh::Mesh& own) {
    return 1e-4 * sizeAboveZero(own);
}

} // namespace

std::vector<mesh::AxisMap> fittingMaps(const mesh::Mesh& own, const mesh::Mesh& given) {
    constexpr std::size_t kTried = 300;
    const double size = sizeAboveZero(own);
    const double back = sizeAboveZero(given);
    const std::size_t count = std::min(own.vertexCount(), kTried);
    std::vector<mesh::AxisMap> fitting;
    for (const mesh::AxisMap& map : mesh::axisMaps()) {
        if (std::abs(back - size * map.unit) > 1e-3 * size * map.unit) {
            continue;
        }
        const mesh::PointGrid places(given.positions, static_cast<float>(toleranceOf(own) * map.unit));
        std::size_t met = 0;
        for (std::size_t k = 0; k < count; ++k) {
            bool found = false;
            places.near(map.of(own.positions[k * own.vertexCount() / count]),
                        [&](std::uint32_t, float) { found = true; });
            met += found ? 1 : 0;
        }
        if (count > 0 && met * 1000 >= count * 999) {
            fitting.push_back(map);
        }
    }
    return fitting;
}

glm::vec2 UvHabit::of(const glm::vec2& uv) const {
    const glm::vec2 first = rounded && before ? asHalf(uv) : uv;
    const glm::vec2 made(first.x, turned ? 1.0f - first.y : first.y);
    return rounded && !before ? asHalf(made) : made;
}

bool alike(const glm::vec2& a, const glm::vec2& b) {
    const auto close = [](float x, float y) {
        return std::abs(x - y) <= 1e-6f * std::max(1.0f, std::abs(y));
    };
    return close(a.x, b.x) && close(a.y, b.y);
}

std::optional<UvHabit> MeshMatch::habitOf(std::size_t givenSet, std::size_t ownSet) const {
    if (givenSet >= given_.uvSets.size() || ownSet >= own_.uvSets.size()) {
        return std::nullopt;
    }
    for (const UvHabit& habit : kUvHabits) {
        if (all([&](std::size_t g, std::size_t o) {
                return alike(given_.uvSets[givenSet][g], habit.of(own_.uvSets[ownSet][o]));
            })) {
            return habit;
        }
    }
    return std::nullopt;
}

std::optional<std::size_t> MeshMatch::placeOf(std::size_t ownSet) const {
    for (std::size_t set = 0; set < given_.uvSets.size() && ownSet < own_.uvSets.size(); ++set) {
        if (all([&](std::size_t g, std::size_t o) {
                return alike(given_.uvSets[set][g], own_.uvSets[ownSet][o]);
            })) {
            return set;
        }
    }
    return std::nullopt;
}

Change unknownMesh() {
    return {"unknown",
            "its places are not those of the bundle's mesh, in no axes and no unit",
            "import the bundle's own mesh, in its rest pose",
            {},
            0.0};
}

MeshMatch::MeshMatch(const mesh::Mesh& own, const mesh::Mesh& given, const mesh::AxisMap& map,
                     std::optional<std::size_t> telling)
    : own_(own),
      given_(given),
      tolerance_(toleranceOf(own)),
      map_(map) {
    noteAxes();
    match(telling);
    countVertices();
}

void MeshMatch::add(std::string id, std::string what, std::string prevention) {
    changes_.push_back({std::move(id), std::move(what), std::move(prevention), {}, 0.0});
}

void MeshMatch::noteAxes() {
    if (map_.turns()) {
        mesh::AxisMap turn = map_;
        turn.unit = 1.0;
        add("axes-turned", turn.words(),
            "write the bundle for the engine's target, or have the importer turn nothing");
        changes_.back().metres = farthest(turn);
    }
    if (map_.unit != 1.0) {
        mesh::AxisMap scale;
        scale.unit = map_.unit;
        add("unit-changed", scale.words(), "import in metres, or scale the object, not its vertices");
        changes_.back().metres = farthest(scale);
    }
}

double MeshMatch::farthest(const mesh::AxisMap& map) const {
    double most = 0.0;
    for (const glm::vec3& p : own_.positions) {
        most = std::max(most, glm::distance(map.of(p), glm::dvec3(p)));
    }
    return most;
}

void MeshMatch::match(std::optional<std::size_t> telling) {
    std::vector<glm::vec3> mapped;
    for (const glm::vec3& p : own_.positions) {
        mapped.emplace_back(map_.of(p));
    }
    const mesh::PointGrid places(mapped, static_cast<float>(tolerance_ * map_.unit));
    const bool lookup = telling && *telling < given_.uvSets.size() && *telling < own_.uvSets.size();
    originalOf_.assign(given_.vertexCount(), kNone);
    for (std::size_t g = 0; g < given_.vertexCount(); ++g) {
        int best = -1;
        places.near(given_.positions[g], [&](std::uint32_t o, float) {
            // Several vertices may share a place: the one whose lookup, normal or number it has.
            const bool same =
                lookup && std::ranges::any_of(kUvHabits, [&](const UvHabit& habit) {
                    return alike(given_.uvSets[*telling][g], habit.of(own_.uvSets[*telling][o]));
                });
            const bool upright =
                g < given_.normals.size() &&
                mesh::degreesBetween(map_.turned(own_.normals[o]), given_.normals[g]) < kTurned;
            const int likeness = (same ? 4 : 0) + (upright ? 2 : 0) + (o == g ? 1 : 0);
            if (likeness > best) {
                best = likeness;
                originalOf_[g] = o;
            }
        });
    }
}

void MeshMatch::countVertices() {
    const std::size_t had = own_.vertexCount();
    const std::size_t has = given_.vertexCount();
    if (has > had) {
        add("vertices-split",
            "vertices were split: " + base::plural(has, "vertex") + " of " + base::countText(had),
            "none is needed where the lookup goes by UVs; splitting alone does no harm");
    } else if (has < had) {
        add("vertices-welded",
            "vertices were welded or dropped: " + base::plural(has, "vertex") + " of " + base::countText(had),
            "switch welding and optimising off");
    } else {
        const bool inOrder = std::ranges::equal(
            originalOf_, own_.positions, [&, g = std::size_t{0}](std::uint32_t, const glm::vec3& p) mutable {
                return glm::distance(map_.of(p), glm::dvec3(given_.positions[g++])) <= tolerance_ * map_.unit;
            });
        if (!inOrder) {
            add("vertices-reordered", "vertices are in another order",
                "none is needed where the lookup goes by UVs; numbers of vertices are of no use then");
        }
    }
}

double MeshMatch::compareNormals() {
    double most = 0.0;
    std::size_t turned = 0;
    std::size_t compared = 0;
    for (std::size_t g = 0; g < given_.normals.size(); ++g) {
        if (originalOf_[g] == kNone || glm::length(given_.normals[g]) < 1e-6f) {
            continue;
        }
        const glm::dvec3 wanted = map_.turned(own_.normals[originalOf_[g]]);
        const double degrees = mesh::degreesBetween(wanted, given_.normals[g]);
        most = std::max(most, degrees);
        turned += degrees > kTurned ? 1 : 0;
        ++compared;
    }
    if (turned * 1000 > compared) {
        add("normals-new",
            "normals are others: off by up to " + base::degreesText(most) + ", at " +
                base::plural(turned, "vertex"),
            "import the normals of the file");
        changes_.back().degrees = most;
    }
    return most;
}

} // namespace ripple::bundle
