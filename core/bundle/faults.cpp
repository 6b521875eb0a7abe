// The table of faults that can be rehearsed: misreadings here, what is done to bytes by texture_damage.

#include "bundle/fault.h"

#include "base/problem.h"

#include <algorithm>
#include <array>

namespace ripple::bundle {

namespace {

/// Of misreadings; those of bytes are textureDamages().
constexpr std::array kMisreadings = {
    Fault{"range-unset",
          "the range is left at 0 to 1",
          "the mesh is a crumpled ball of a metre",
          "take NAME_position_min and _max of the code",
          {},
          Misreading::rangeUnset},
    Fault{"frame-count-short",
          "the clip is taken for one frame shorter",
          "a small jolt once a loop",
          "take the clips' frames that the code has",
          {},
          Misreading::frameCountShort},
    Fault{"clamped-end",
          "a closed clip holds its last frame",
          "it stops short and jumps at each loop's end",
          "call the code's own functions, or repeat",
          {},
          Misreading::clampedEnd},
    Fault{"other-uv-set",
          "the lookup is taken from UV set 0",
          "the mesh bursts into spikes",
          "take the UV set that IMPORT.md names",
          {},
          Misreading::otherUvSet},
    Fault{"tangent-space",
          "normals are taken for those of a normal map",
          "light comes from wrong sides",
          "take them as normals in the mesh's own space",
          {},
          Misreading::tangentSpace},
    Fault{"rest-bounds",
          "bounds are the rest pose's",
          "copies vanish at the picture's edge",
          "set bounds to NAME_bounds_min and _max",
          {},
          Misreading::restBounds},
    Fault{"rotation-ignored",
          "what is added is not turned along",
          "copies that are turned lean or swim sideways",
          "turn the sum by the object's own transform",
          {},
          Misreading::rotationIgnored},
    Fault{"long-uptime",
          "seconds have run for ten hours",
          "motion stutters, more with each hour",
          "wrap time in double precision, or hand in turns",
          {},
          Misreading::longUptime},
    Fault{"texel-edges",
          "lookups point at texels' corners",
          "vertices jump to their neighbours' places",
          "keep the lookup UVs as they are; of own ones, add half a texel",
          {},
          Misreading::texelEdges},
    Fault{"half-uvs",
          "the mesh keeps UVs as half floats",
          "vertices far along the texture share their neighbours' places",
          "full precision for UVs, or a target with half UVs",
          {},
          Misreading::halfUvs},
    Fault{"v-flipped",
          "V of the mesh became 1 − V",
          "the mesh bursts, or stands in its last frame",
          "switch that off, or set NAME_v_from_below in the code",
          {},
          Misreading::vTurned},
    Fault{"linear-filter",
          "textures are filtered linearly",
          "vertices swim towards their neighbours in the texture",
          "nearest",
          {},
          Misreading::linearFilter},
    Fault{"axes-turned",
          "the mesh alone was turned to Z up",
          "it lies down, or moves sideways to how it should",
          "write the bundle for the engine's target",
          {},
          Misreading::axesTurned},
    Fault{"unit-changed",
          "the mesh alone became centimetres",
          "it seems to stand still, or shrinks to a speck",
          "write the bundle for the engine's target",
          {},
          Misreading::unitChanged},
    Fault{"normals-new",
          "the importer made its own normals",
          "hard edges are soft; what is pushed along normals leans",
          "import the normals of the file",
          {},
          Misreading::normalsNew},
    Fault{"vertices-welded",
          "vertices that lie together became one",
          "it tears along seams and hard edges",
          "switch welding and optimising off",
          {},
          Misreading::welded},
    Fault{"vertices-split",
          "each triangle has vertices of its own",
          "all is right, as long as the lookup goes by UVs",
          "none is needed; more vertices cost time",
          {},
          Misreading::split},
    Fault{"vertices-reordered",
          "vertices are in another order",
          "all is right, as long as the lookup goes by UVs",
          "none is needed; do not look up by a vertex's number",
          {},
          Misreading::reordered},
    Fault{"pivots-lost",
          "pieces have lost their pivots",
          "pieces swing about one place far away",
          "keep the UV sets behind the lookup; do not merge copies",
          {},
          Misreading::pivotsLost},
};

std::vector<Fault> allFaults() {
    std::vector<Fault> all;
    for (const DamageWords& damage : textureDamages()) {
        all.push_back({damage.id, damage.what, damage.sign, damage.prevention, damage.damage, {}});
    }
    all.insert(all.end(), kMisreadings.begin(), kMisreadings.end());
    return all;
}

} // namespace

std::span<const Fault> faults() {
    static const std::vector<Fault> kAll = allFaults();
    return kAll;
}

const Fault& faultNamed(const std::string& id) {
    const auto found =
        std::ranges::find(faults(), id, [](const Fault& fault) { return std::string(fault.id); });
    if (found == faults().end()) {
        std::string all;
        for (const Fault& fault : faults()) {
            all += std::string(all.empty() ? "" : ", ") + fault.id;
        }
        base::fail("\"" + id + "\"", "is no fault that can be rehearsed", "name one of " + all);
    }
    return *found;
}

bool spoilsData(const Fault& fault) {
    constexpr std::array kOfReaders = {
        Misreading::tangentSpace, Misreading::restBounds, Misreading::rotationIgnored,
        Misreading::longUptime,   Misreading::axesTurned, Misreading::unitChanged,
        Misreading::normalsNew,   Misreading::split,      Misreading::reordered};
    return fault.bytes || std::ranges::find(kOfReaders, *fault.misreading) == kOfReaders.end();
}

} // namespace ripple::bundle
