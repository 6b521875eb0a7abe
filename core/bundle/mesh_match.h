#pragma once

#include "bundle/returned.h"
#include "bundle/target.h"
#include "mesh/axis_map.h"
#include "mesh/mesh.h"

#include <cstdint>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace ripple::bundle {

/// What importers commonly do to UVs.
struct UvHabit {
    bool turned = false;  ///< V became 1 − V
    bool rounded = false; ///< they are half floats
    bool before = false;  ///< and were before they were turned
    glm::vec2 of(const glm::vec2& uv) const;
};

/// Whether two UVs are the same but for what writing them as text costs: relative where they are large.
bool alike(const glm::vec2& a, const glm::vec2& b);

/// The maps of axes and unit by which nearly all vertices of `given` lie on the bundle's own, the unchanged
/// one first, the target's among them. Of a symmetric mesh there are several; none: it is another mesh.
std::vector<mesh::AxisMap> fittingMaps(const mesh::Mesh& own, const mesh::Mesh& given, const Target& target);
/// What is said of a mesh that no map fits.
Change unknownMesh();

/// A bundle's mesh and the same mesh as it came back, by one of the maps that fit: whose vertex is whose,
/// found by place, and what was done to it as a whole. What the bundle's target says that it does is no
/// change: a mesh in its axes and unit, with V from below, is as it was written, and so
/// is one that is as the file has it.
class MeshMatch {
public:
    static constexpr std::uint32_t kNone = 0xffffffffu;

    /// `telling`: the UV set that tells vertices of one place apart, where it came back. Both must outlive
    /// it.
    MeshMatch(const mesh::Mesh& own, const mesh::Mesh& given, const Target& target, const mesh::AxisMap& map,
              std::optional<std::size_t> telling);

    /// Axes, unit, vertices split, welded or in another order; and what was added.
    std::vector<Change>& changes() { return changes_; }
    void add(std::string id, std::string what, std::string prevention);
    /// Compares UV sets that hold values, "inputs of the code"; whether one is not there at all.
    bool compareSets(const std::set<std::size_t>& read, const std::string& values);
    /// Compares the triangles: those that are missing, there twice, turned, between other vertices, or in
    /// another order. Ones without area count for nothing.
    void compareTriangles();
    /// Compares the normals; the largest angle, degrees.
    double compareNormals();

    const mesh::AxisMap& map() const { return map_; }
    /// Vertices of the mesh that came back: of the bundle's mesh, or kNone, at no vertex's place.
    const std::vector<std::uint32_t>& originalOf() const { return originalOf_; }
    /// By which habit, beside what the target does, a UV set that came back was made of one of the bundle's;
    /// none: by no known one, or one of the sets is not there.
    std::optional<UvHabit> habitOf(std::size_t givenSet, std::size_t ownSet) const;
    /// The set that came back in which one of the bundle's lies as it was; none: in none.
    std::optional<std::size_t> placeOf(std::size_t ownSet) const;
    /// A UV that came back, with V as the bundle's file has it where it was the target that turned that set.
    glm::vec2 asShipped(std::size_t set, std::size_t given) const;
    /// Whether nearly all vertices that came back are as `same(given vertex, own vertex)` wants it.
    template <typename Same>
    bool all(const Same& same) const {
        std::size_t met = 0;
        std::size_t compared = 0;
        for (std::size_t g = 0; g < originalOf_.size(); ++g) {
            if (originalOf_[g] != kNone) {
                ++compared;
                met += same(g, std::size_t{originalOf_[g]}) ? 1 : 0;
            }
        }
        return compared > 0 && met * 1000 >= compared * 999;
    }

private:
    static constexpr double kSamePlace = 0.01; ///< of the tolerance: what numbers written as text are off by

    std::optional<UvHabit> wholeHabitOf(std::size_t givenSet, std::size_t ownSet) const;
    double farthest(const mesh::AxisMap& from, const mesh::AxisMap& change) const;
    void noteAxes();
    void match(std::optional<std::size_t> telling);
    void countVertices();

    const mesh::Mesh& own_;
    const mesh::Mesh& given_;
    const Target& target_;
    double tolerance_; ///< metres
    mesh::AxisMap map_;
    std::vector<std::uint32_t> originalOf_;
    std::set<std::size_t> turnedByTarget_; ///< UV sets that came back so
    std::vector<Change> changes_;
};

/// Of a symmetric mesh several maps fit: the search that explains what came back with the fewest changes, as
/// its look() counts them; null where no map fits. `make(map)` gives a search.
template <typename Search, typename Make>
std::unique_ptr<Search> fewestChanges(const mesh::Mesh& own, const mesh::Mesh& given, const Target& target,
                                      const Make& make) {
    std::unique_ptr<Search> best;
    std::size_t fewest = 0;
    for (const mesh::AxisMap& map : fittingMaps(own, given, target)) {
        std::unique_ptr<Search> search = make(map);
        if (const std::size_t changes = search->look(); !best || changes < fewest) {
            best = std::move(search);
            fewest = changes;
        }
    }
    return best;
}

} // namespace ripple::bundle
