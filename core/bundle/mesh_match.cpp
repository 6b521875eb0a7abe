#include "bundle/mesh_match.h"

#include "base/units.h"
#include "bundle/missampling.h"
#include "mesh/bounds.h"
#include "mesh/normals.h"
#include "mesh/point_grid.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <utility>

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

/// Cells of a grid, in tolerances: few vertices have another as near as that.
constexpr double kCells = 8.0;

/// How far vertices of one place may be apart, metres.
double toleranceOf(const mesh::Mesh& own) {
    return 1e-4 * sizeAboveZero(own);
}

} // namespace

std::vector<mesh::AxisMap> fittingMaps(const mesh::Mesh& own, const mesh::Mesh& given, const Target& target) {
    constexpr std::size_t kTried = 300;
    const double size = sizeAboveZero(own);
    const double back = sizeAboveZero(given);
    const std::size_t count = std::min(own.vertexCount(), kTried);
    std::vector<mesh::AxisMap> tried = mesh::axisMaps();
    if (const double unit = target.space().unit;
        std::ranges::find(tried, unit, &mesh::AxisMap::unit) == tried.end()) {
        for (mesh::AxisMap turn : mesh::axisTurns()) {
            turn.unit = unit;
            tried.push_back(turn);
        }
    }
    std::map<double, mesh::PointGrid> gridOf; // by unit
    std::vector<mesh::AxisMap> fitting;
    for (const mesh::AxisMap& map : tried) {
        if (std::abs(back - size * map.unit) > 1e-3 * size * map.unit) {
            continue;
        }
        const mesh::PointGrid& places =
            gridOf
                .try_emplace(map.unit, given.positions, static_cast<float>(toleranceOf(own) * map.unit),
                             static_cast<float>(kCells * toleranceOf(own) * map.unit))
                .first->second;
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

std::optional<UvHabit> MeshMatch::wholeHabitOf(std::size_t givenSet, std::size_t ownSet) const {
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

std::optional<UvHabit> MeshMatch::habitOf(std::size_t givenSet, std::size_t ownSet) const {
    std::optional<UvHabit> habit = wholeHabitOf(givenSet, ownSet);
    if (habit) {
        habit->turned = habit->turned && !target_.vFromBelow;
    }
    return habit;
}

glm::vec2 MeshMatch::asShipped(std::size_t set, std::size_t given) const {
    const glm::vec2& uv = given_.uvSets[set][given];
    return turnedByTarget_.contains(set) ? glm::vec2(uv.x, 1.0f - uv.y) : uv;
}

std::optional<std::size_t> MeshMatch::placeOf(std::size_t ownSet) const {
    for (std::size_t set = 0; set < given_.uvSets.size(); ++set) {
        const std::optional<UvHabit> habit = habitOf(set, ownSet);
        if (habit && !habit->turned && !habit->rounded) {
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

MeshMatch::MeshMatch(const mesh::Mesh& own, const mesh::Mesh& given, const Target& target,
                     const mesh::AxisMap& map, std::optional<std::size_t> telling)
    : own_(own),
      given_(given),
      target_(target),
      tolerance_(toleranceOf(own)),
      map_(map) {
    noteAxes();
    match(telling);
    countVertices();
    for (std::size_t set = 0; target.vFromBelow && set < given.uvSets.size(); ++set) {
        if (const auto habit = wholeHabitOf(set, set); habit && habit->turned) {
            turnedByTarget_.insert(set);
        }
    }
}

void MeshMatch::add(std::string id, std::string what, std::string prevention) {
    changes_.push_back({std::move(id), std::move(what), std::move(prevention), {}, 0.0});
}

void MeshMatch::noteAxes() {
    // Against what explains more of it: the file's space or the target's.
    const auto against = [this](const mesh::AxisMap& space) {
        mesh::AxisMap change = map_.after(space.back());
        change.unit = std::abs(change.unit - 1.0) < 1e-9 ? 1.0 : change.unit;
        return change;
    };
    const auto said = [](const mesh::AxisMap& change) {
        return int{change.turns()} + int{change.unit != 1.0};
    };
    const mesh::AxisMap file;
    const mesh::AxisMap target = target_.space();
    const bool asTarget = said(against(target)) <= said(against(file));
    const mesh::AxisMap space = asTarget ? target : file;
    const mesh::AxisMap change = against(space);
    if (change.turns()) {
        mesh::AxisMap turn = change;
        turn.unit = 1.0;
        add("axes-turned", turn.words(),
            target.turns() ? "have the importer turn no more than the bundle's target says"
                           : "write the bundle for the engine's target, or have the importer turn nothing");
        changes_.back().metres = farthest(space, turn);
    }
    if (change.unit != 1.0) {
        mesh::AxisMap scale;
        scale.unit = change.unit;
        add("unit-changed", scale.words(),
            target.unit != 1.0
                ? "import in the unit of the bundle's target, or scale the object, not its vertices"
                : "import in metres, or scale the object, not its vertices");
        changes_.back().metres = farthest(space, scale);
    }
}

/// Metres that the change moves a vertex in that space.
double MeshMatch::farthest(const mesh::AxisMap& space, const mesh::AxisMap& change) const {
    double most = 0.0;
    for (const glm::vec3& p : own_.positions) {
        const glm::dvec3 place = space.of(p);
        most = std::max(most, glm::distance(change.of(place), place) / space.unit);
    }
    return most;
}

void MeshMatch::match(std::optional<std::size_t> telling) {
    std::vector<glm::vec3> mapped;
    for (const glm::vec3& p : own_.positions) {
        mapped.emplace_back(map_.of(p));
    }
    const auto reach = static_cast<float>(tolerance_ * map_.unit);
    const mesh::PointGrid places(mapped, reach, static_cast<float>(kCells) * reach);
    std::vector<std::pair<std::uint32_t, float>> near;
    // In whichever set it came back, if not in its own.
    const std::vector<std::vector<glm::vec2>>& sets = given_.uvSets;
    const bool known = telling && *telling < own_.uvSets.size();
    const std::size_t first = known && *telling < sets.size() ? *telling : 0;
    const std::size_t end = !known ? 0 : *telling < sets.size() ? first + 1 : sets.size();
    originalOf_.assign(given_.vertexCount(), kNone);
    for (std::size_t g = 0; g < given_.vertexCount(); ++g) {
        near.clear();
        float nearest = reach;
        places.near(given_.positions[g], [&](std::uint32_t o, float apart) {
            near.emplace_back(o, apart);
            nearest = std::min(nearest, apart);
        });
        // Several vertices may share the nearest place: the one whose lookup, normal or number it has, then
        // the nearest of them.
        std::pair best(-1, 0.0f);
        for (const auto& [o, apart] : near) {
            if (apart > nearest + static_cast<float>(kSamePlace) * reach) {
                continue;
            }
            bool same = false;
            for (std::size_t set = first; set < end && !same; ++set) {
                same = std::ranges::any_of(kUvHabits, [&](const UvHabit& habit) {
                    return alike(sets[set][g], habit.of(own_.uvSets[*telling][o]));
                });
            }
            const bool upright =
                g < given_.normals.size() &&
                mesh::degreesBetween(map_.turned(own_.normals[o]), given_.normals[g]) < kTurned;
            const std::pair likeness((same ? 4 : 0) + (upright ? 2 : 0) + (o == g ? 1 : 0), -apart);
            if (likeness > best) {
                best = likeness;
                originalOf_[g] = o;
            }
        }
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

bool MeshMatch::compareSets(const std::set<std::size_t>& read, const std::string& values) {
    enum What { missing, moved, turned, rounded, others };
    std::array<std::string, others + 1> sets;
    const auto note = [&](What what, std::size_t set) {
        sets[what] += (sets[what].empty() ? "" : ", ") + std::to_string(set);
    };
    for (const std::size_t set : read) {
        if (const auto habit = habitOf(set, set)) {
            if (habit->turned) {
                note(turned, set);
            }
            if (habit->rounded) {
                note(rounded, set);
            }
        } else {
            note(placeOf(set) ? moved : set < given_.uvSets.size() ? others : missing, set);
        }
    }
    const auto say = [&](What which, const char* id, const char* what, const char* prevention) {
        if (!sets[which].empty()) {
            add(id, "UV sets with " + values + " " + what + ": " + sets[which] + " (counted from 0)",
                prevention);
        }
    };
    say(missing, "uv-set-missing", "are gone", "keep all UV sets");
    say(moved, "other-uv-set", "lie in others", "keep all UV sets, in their order");
    say(turned, "v-flipped", "had their V turned to 1 − V",
        "switch that off, or write the bundle for a target with V from below");
    say(rounded, "half-uvs", "were rounded to half precision", "switch on UVs of full precision");
    say(others, "uvs-changed", "hold other values", "switch making and packing UVs off");
    return std::ranges::any_of(read, [this](std::size_t set) { return set >= given_.uvSets.size(); });
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
