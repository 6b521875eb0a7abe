// Whether a mesh came back with the triangles of the bundle's.

#include "bundle/mesh_match.h"

#include "base/units.h"
#include "mesh/point_grid.h"

#include <algorithm>
#include <array>
#include <iterator>
#include <numeric>

namespace ripple::bundle {

namespace {

/// Of each point the first of those that single precision and text do not tell from it: they lie nearer
/// together than `reach`, or others between them do.
std::vector<std::uint32_t> placesWithin(std::span<const glm::vec3> points, float reach) {
    std::vector<std::uint32_t> first(points.size());
    std::iota(first.begin(), first.end(), 0u);
    const auto root = [&](std::uint32_t i) {
        while (first[i] != i) {
            i = first[i] = first[first[i]];
        }
        return i;
    };
    const mesh::PointGrid grid(points, reach, 100.0f * reach);
    for (std::uint32_t i = 0; i < points.size(); ++i) {
        grid.near(points[i], [&](std::uint32_t other, float) {
            const auto [least, most] = std::minmax({root(i), root(other)});
            first[most] = least;
        });
    }
    for (std::uint32_t i = 0; i < points.size(); ++i) {
        first[i] = root(i);
    }
    return first;
}

/// Corners by their places, the least first, in their order round.
using Triangles = std::vector<std::array<std::uint32_t, 3>>;

/// Without those that have no area.
Triangles trianglesOf(std::span<const std::uint32_t> indices, std::span<const std::uint32_t> placeOf) {
    Triangles triangles;
    for (std::size_t i = 0; i + 3 <= indices.size(); i += 3) {
        std::array corners = {placeOf[indices[i]], placeOf[indices[i + 1]], placeOf[indices[i + 2]]};
        if (corners[0] != corners[1] && corners[1] != corners[2] && corners[2] != corners[0]) {
            std::ranges::rotate(corners, std::ranges::min_element(corners));
            triangles.push_back(corners);
        }
    }
    return triangles;
}

Triangles turnedBack(Triangles triangles) {
    for (auto& corners : triangles) {
        std::swap(corners[1], corners[2]);
    }
    return triangles;
}

/// By how many triangles two lists differ, in whatever order.
struct Apart {
    std::size_t turned = 0;
    std::size_t missing = 0;
    std::size_t doubled = 0; ///< once more than they should be
    std::size_t others = 0;  ///< of none of the first list's

    /// `own` is sorted.
    Apart(const Triangles& own, Triangles given) {
        std::ranges::sort(given);
        Triangles lost;
        Triangles added;
        std::ranges::set_difference(own, given, std::back_inserter(lost));
        std::ranges::set_difference(given, own, std::back_inserter(added));
        Triangles back = turnedBack(added);
        std::ranges::sort(back);
        Triangles both;
        std::ranges::set_intersection(lost, back, std::back_inserter(both));
        turned = both.size();
        missing = lost.size() - turned;
        Triangles rest;
        std::ranges::set_difference(back, both, std::back_inserter(rest));
        for (const auto& corners : rest) {
            const bool known = std::ranges::binary_search(own, corners) ||
                               std::ranges::binary_search(own, turnedBack({corners}).front());
            (known ? doubled : others) += 1;
        }
    }
    bool none() const { return turned + missing + doubled + others == 0; }
};

} // namespace

void MeshMatch::compareTriangles() {
    // By the places of their corners, since importers split, weld and sort vertices.
    const std::vector<std::uint32_t> places =
        placesWithin(own_.positions, static_cast<float>(kSamePlace * tolerance_));
    const Triangles own = trianglesOf(own_.indices, places);
    std::vector<std::uint32_t> givenPlaces;
    for (const std::uint32_t o : originalOf_) {
        givenPlaces.push_back(o == kNone ? kNone : places[o]);
    }
    Triangles given = trianglesOf(given_.indices, givenPlaces);
    if (given == own) {
        return;
    }
    Triangles ownSorted = own;
    std::ranges::sort(ownSorted);
    Apart apart(ownSorted, given);
    // Where the target sees triangles clockwise, or the mesh is mirrored, either winding is right.
    const bool either = map_ == target_.space() && (target_.clockwise || map_.mirrors());
    if (either && apart.turned > own.size() / 2) {
        given = turnedBack(given);
        apart = Apart(ownSorted, given);
    }
    const auto say = [&](std::size_t count, const char* id, const char* what, const char* prevention) {
        if (count > 0) {
            add(id, base::plural(count, "triangle") + " of " + base::countText(own.size()) + " " + what,
                prevention);
        }
    };
    say(apart.turned, "winding-turned", "show their backs: their corners go the other way round",
        "have the importer leave the winding as it is");
    say(apart.missing, "triangles-missing", "are missing",
        "import all parts, without optimising or reducing");
    say(apart.doubled, "triangles-doubled", "are there once more", "import each part once");
    say(apart.others, "triangles-new", "lie between other vertices", "import the triangles of the file");
    if (apart.none() && given != own) {
        add("triangles-reordered", "triangles are in another order",
            "none is needed; numbers of triangles are of no use then");
    }
}

} // namespace ripple::bundle
