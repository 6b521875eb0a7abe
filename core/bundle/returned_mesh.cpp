// What was done to a bundle's mesh.

#include "bundle/mesh_file.h"
#include "bundle/mesh_match.h"

#include "base/units.h"

#include <algorithm>
#include <set>

namespace ripple::bundle {

namespace {

using mesh::Mesh;

class MeshSearch {
public:
    MeshSearch(const Bundle& bundle, const Mesh& given, const mesh::AxisMap& map)
        : bundle_(bundle),
          own_(bundle.mesh),
          given_(given),
          lookupSet_(bundle.manifest.lookupUvSet),
          match_(own_, given, bundle.manifest.target, map, lookupSet_) {}

    /// What is said of it: how many changes.
    std::size_t look() {
        found_.columnOfVertex = bundle_.columnOfVertex;
        const bool inUvs = bundle_.textures.joints.inUvs;
        std::set<std::size_t> more;
        for (std::size_t s = 0; s < extraUvSets(bundle_.textures); ++s) {
            more.insert(bundle_.textures.pivotUvSet + s);
        }
        if (inUvs) {
            more.insert(lookupSet_);
        } else {
            findLookup();
        }
        match_.compareSets(more, inUvs ? "joints of vertices" : "pivots");
        match_.compareTriangles();
        found_.degrees = match_.compareNormals();
        return match_.changes().size();
    }

    MeshChanges changes() {
        found_.changes = std::move(match_.changes());
        return std::move(found_);
    }

private:
    void findLookup() {
        const std::optional<std::size_t> place = match_.placeOf(lookupSet_);
        if (place == lookupSet_) {
            return; // as it was written, or as the target makes it
        }
        const std::optional<UvHabit> habit = match_.habitOf(lookupSet_, lookupSet_);
        if (place && !habit) {
            match_.add("other-uv-set",
                       "the lookup lies in UV set " + std::to_string(*place) + ", not " +
                           std::to_string(lookupSet_) + " (counted from 0)",
                       "keep all UV sets, in their order");
            return;
        }
        if (lookupSet_ >= given_.uvSets.size()) {
            match_.add("uv-set-missing",
                       "the UV set of the lookup is gone: " + base::plural(given_.uvSets.size(), "UV set") +
                           " left",
                       "keep all UV sets");
            return;
        }
        takeColumns();
        if (!habit) {
            match_.add("lookup-changed", "the UVs of the lookup are others",
                       "switch making or packing UVs off");
            return;
        }
        if (habit->turned) {
            match_.add("v-flipped", "V became 1 − V",
                       "switch that off, or set NAME_v_from_below in the code");
        }
        if (habit->rounded && !bundle_.manifest.target.halfUvs) { // whose lookups hit their columns so, too
            match_.add("half-uvs", "UVs were rounded to half precision",
                       "switch on UVs of full precision, or bake with --half-uvs");
        }
    }

    /// Where the lookup that came back leads.
    void takeColumns() {
        const bake::Layout& layout = bundle_.textures.layout;
        for (std::size_t g = 0; g < given_.vertexCount(); ++g) {
            if (const std::uint32_t o = match_.originalOf()[g]; o != MeshMatch::kNone) {
                const std::size_t column = layout.columnAt(match_.asShipped(lookupSet_, g));
                found_.columnOfVertex[o] = static_cast<std::uint32_t>(std::min(column, layout.columns - 1));
            }
        }
    }

    const Bundle& bundle_;
    const Mesh& own_;
    const Mesh& given_;
    std::size_t lookupSet_;
    MeshMatch match_;
    MeshChanges found_;
};

} // namespace

MeshChanges changesOfMesh(const Bundle& bundle, const Mesh& given) {
    const auto best =
        fewestChanges<MeshSearch>(bundle.mesh, given, bundle.manifest.target, [&](const mesh::AxisMap& map) {
            return std::make_unique<MeshSearch>(bundle, given, map);
        });
    return best ? best->changes() : MeshChanges{{unknownMesh()}, bundle.columnOfVertex, 0.0};
}

} // namespace ripple::bundle
