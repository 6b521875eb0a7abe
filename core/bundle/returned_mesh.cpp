// What was done to a bundle's mesh: the vertices that came back are found among the bundle's by place, once
// the axes and the unit are known.

#include "bundle/returned.h"

#include "base/units.h"
#include "mesh/axis_map.h"
#include "mesh/bounds.h"
#include "mesh/normals.h"
#include "mesh/point_grid.h"

#include <algorithm>
#include <cmath>

#include <Imath/half.h>
#include <glm/geometric.hpp>

namespace ripple::bundle {

namespace {

using mesh::Mesh;

constexpr std::uint32_t kNone = 0xffffffffu;

bool alike(const glm::vec2& a, const glm::vec2& b) {
    return std::abs(a.x - b.x) < 1e-6f && std::abs(a.y - b.y) < 1e-6f;
}

glm::vec2 asHalf(const glm::vec2& uv) {
    return {Imath::half(uv.x), Imath::half(uv.y)};
}

class MeshSearch {
public:
    MeshSearch(const Bundle& bundle, const Mesh& given)
        : bundle_(bundle),
          own_(bundle.mesh),
          given_(given),
          lookupSet_(bundle.manifest.lookupUvSet) {}

    MeshChanges changes() {
        found_.columnOfVertex = bundle_.columnOfVertex;
        if (!findAxes()) {
            add("unknown", "its places are not those of the bundle's mesh, in no axes and no unit",
                "import the bundle's own mesh, in its rest pose");
            return std::move(found_);
        }
        if (map_.turns()) {
            mesh::AxisMap turn = map_;
            turn.unit = 1.0;
            add("axes-turned", turn.words(), "turn axes for the mesh and its textures alike, or for neither");
            found_.changes.back().metres = farthest(turn);
        }
        if (map_.unit != 1.0) {
            mesh::AxisMap scale;
            scale.unit = map_.unit;
            add("unit-changed", scale.words(), "import in metres, or scale the object, not its vertices");
            found_.changes.back().metres = farthest(scale);
        }
        match();
        countVertices();
        if (!bundle_.textures.joints.inUvs) {
            findLookup();
        }
        compareNormals();
        return std::move(found_);
    }

private:
    void add(std::string id, std::string what, std::string prevention) {
        found_.changes.push_back({std::move(id), std::move(what), std::move(prevention), {}, 0.0});
    }

    double farthest(const mesh::AxisMap& map) const {
        double most = 0.0;
        for (const glm::vec3& p : own_.positions) {
            most = std::max(most, glm::distance(map.of(p), glm::dvec3(p)));
        }
        return most;
    }

    /// The map by which nearly all vertices that came back lie on the bundle's.
    bool findAxes() {
        mesh::Bounds bounds;
        bounds.add(own_.positions);
        const double size = std::max(static_cast<double>(bounds.diagonal()), 1e-6);
        tolerance_ = 1e-4 * size;
        mesh::Bounds back;
        back.add(given_.positions);
        const double sizeBack = static_cast<double>(back.diagonal());
        constexpr std::size_t kTried = 300;
        for (const mesh::AxisMap& map : mesh::axisMaps()) {
            if (std::abs(sizeBack - size * map.unit) > 1e-3 * size * map.unit) {
                continue;
            }
            const mesh::PointGrid places(given_.positions, static_cast<float>(tolerance_ * map.unit));
            const std::size_t count = std::min(own_.vertexCount(), kTried);
            std::size_t met = 0;
            for (std::size_t k = 0; k < count; ++k) {
                bool found = false;
                places.near(map.of(own_.positions[k * own_.vertexCount() / count]),
                            [&](std::uint32_t, float) { found = true; });
                met += found ? 1 : 0;
            }
            if (count > 0 && met * 1000 >= count * 999) {
                map_ = map;
                return true;
            }
        }
        return false;
    }

    void match() {
        std::vector<glm::vec3> mapped;
        for (const glm::vec3& p : own_.positions) {
            mapped.emplace_back(map_.of(p));
        }
        const mesh::PointGrid places(mapped, static_cast<float>(tolerance_ * map_.unit));
        const bool lookup = lookupSet_ < given_.uvSets.size();
        originalOf_.assign(given_.vertexCount(), kNone);
        for (std::size_t g = 0; g < given_.vertexCount(); ++g) {
            int best = -1;
            places.near(given_.positions[g], [&](std::uint32_t o, float) {
                // Several vertices may share a place: the one whose lookup or number it has.
                const bool same = lookup && alike(given_.uvSets[lookupSet_][g], own_.uvSets[lookupSet_][o]);
                const int likeness = (same ? 2 : 0) + (o == g ? 1 : 0);
                if (likeness > best) {
                    best = likeness;
                    originalOf_[g] = o;
                }
            });
        }
    }

    void countVertices() {
        const std::size_t had = own_.vertexCount();
        const std::size_t has = given_.vertexCount();
        if (has > had) {
            add("vertices-split",
                "vertices were split: " + base::plural(has, "vertex") + " of " + base::countText(had),
                "none is needed where the lookup goes by UVs; splitting alone does no harm");
        } else if (has < had) {
            add("vertices-welded",
                "vertices were welded or dropped: " + base::plural(has, "vertex") + " of " +
                    base::countText(had),
                "switch welding and optimising off");
        } else {
            const bool inOrder =
                std::ranges::equal(originalOf_, own_.positions,
                                   [&, g = std::size_t{0}](std::uint32_t, const glm::vec3& p) mutable {
                                       return glm::distance(map_.of(p), glm::dvec3(given_.positions[g++])) <=
                                              tolerance_ * map_.unit;
                                   });
            if (!inOrder) {
                add("vertices-reordered", "vertices are in another order",
                    "none is needed where the lookup goes by UVs; numbers of vertices are of no use then");
            }
        }
    }

    /// Whether all vertices have `like(original's lookup)` in a set.
    template <typename Like>
    bool lookupIs(std::size_t set, const Like& like) const {
        std::size_t met = 0;
        std::size_t compared = 0;
        for (std::size_t g = 0; g < given_.vertexCount(); ++g) {
            if (originalOf_[g] != kNone) {
                ++compared;
                met += alike(given_.uvSets[set][g], like(own_.uvSets[lookupSet_][originalOf_[g]])) ? 1 : 0;
            }
        }
        return compared > 0 && met * 1000 >= compared * 999;
    }

    void findLookup() {
        const auto same = [](const glm::vec2& uv) { return uv; };
        const auto flipped = [](const glm::vec2& uv) { return glm::vec2(uv.x, 1.0f - uv.y); };
        for (std::size_t set = 0; set < given_.uvSets.size(); ++set) {
            if (lookupIs(set, same)) {
                if (set != lookupSet_) {
                    add("other-uv-set",
                        "the lookup lies in UV set " + std::to_string(set) + ", not " +
                            std::to_string(lookupSet_) + " (counted from 0)",
                        "keep all UV sets, in their order");
                }
                return;
            }
        }
        if (lookupSet_ >= given_.uvSets.size()) {
            add("uv-set-missing",
                "the UV set of the lookup is gone: " + base::plural(given_.uvSets.size(), "UV set") + " left",
                "keep all UV sets");
            return;
        }
        takeColumns();
        if (lookupIs(lookupSet_, flipped)) {
            add("v-flipped", "V became 1 − V", "switch that off, or set NAME_v_from_below in the code");
        } else if (lookupIs(lookupSet_, asHalf)) {
            add("half-uvs", "UVs were rounded to half precision",
                "switch on UVs of full precision, or bake with --half-uvs");
        } else {
            add("lookup-changed", "the UVs of the lookup are others", "switch making or packing UVs off");
        }
    }

    /// Where the lookup that came back leads.
    void takeColumns() {
        const bake::Layout& layout = bundle_.textures.layout;
        for (std::size_t g = 0; g < given_.vertexCount(); ++g) {
            if (originalOf_[g] != kNone) {
                const std::size_t column = layout.columnAt(given_.uvSets[lookupSet_][g]);
                found_.columnOfVertex[originalOf_[g]] =
                    static_cast<std::uint32_t>(std::min(column, layout.columns - 1));
            }
        }
    }

    void compareNormals() {
        constexpr double kTurned = 1.0; // degrees
        std::size_t turned = 0;
        std::size_t compared = 0;
        for (std::size_t g = 0; g < given_.normals.size(); ++g) {
            if (originalOf_[g] == kNone || glm::length(given_.normals[g]) < 1e-6f) {
                continue;
            }
            const glm::dvec3 wanted = map_.turned(own_.normals[originalOf_[g]]);
            const double degrees = mesh::degreesBetween(wanted, given_.normals[g]);
            found_.degrees = std::max(found_.degrees, degrees);
            turned += degrees > kTurned ? 1 : 0;
            ++compared;
        }
        if (turned * 1000 > compared) {
            add("normals-new",
                "normals are others: off by up to " + base::degreesText(found_.degrees) + ", at " +
                    base::plural(turned, "vertex"),
                "import the normals of the file");
            found_.changes.back().degrees = found_.degrees;
        }
    }

    const Bundle& bundle_;
    const Mesh& own_;
    const Mesh& given_;
    std::size_t lookupSet_;
    double tolerance_ = 0.0; ///< metres
    mesh::AxisMap map_;
    std::vector<std::uint32_t> originalOf_; ///< vertices of `given`; kNone: at no vertex's place
    MeshChanges found_;
};

} // namespace

MeshChanges changesOfMesh(const Bundle& bundle, const Mesh& given) {
    return MeshSearch(bundle, given).changes();
}

} // namespace ripple::bundle
