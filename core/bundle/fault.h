#pragma once

#include "bundle/texture_damage.h"

#include <optional>
#include <span>
#include <string>

namespace ripple::bundle {

/// Ways to read a bundle wrong that its files show no trace of.
enum class Misreading {
    rangeUnset,      ///< the range is left at 0 to 1
    frameCountShort, ///< the clip is one frame shorter
    clampedEnd,      ///< a closed clip holds its last frame instead of repeating
    otherUvSet,      ///< the lookup is taken from UV set 0
    tangentSpace,    ///< normals are taken for those of a normal map
    restBounds,      ///< culled by the bounds of the rest pose
    rotationIgnored, ///< the object is turned a quarter about Y, what the texture adds is not
    longUptime,      ///< seconds since the start, in single precision, after ten hours
    texelEdges,      ///< lookups point at texels' corners instead of their centres
    halfUvs,         ///< the mesh keeps UVs as half floats
    vTurned,         ///< V of the mesh became 1 − V
    linearFilter,    ///< textures are filtered
    axesTurned,      ///< the importer turned the mesh to Z up, and the textures are as they were
    unitChanged,     ///< the importer made centimetres of the mesh, and the textures are as they were
    normalsNew,      ///< the importer made its own normals
    welded,          ///< vertices that lie together became one
    split,           ///< each triangle has vertices of its own
    reordered,       ///< vertices are in another order
    pivotsLost,      ///< pieces turn about the origin: copies were merged, or the UV sets dropped
};

/// Something that goes wrong between a bundle and a picture, to be seen before it happens.
struct Fault {
    const char* id;                       ///< stable, for programs; of textures as DamageWords::id
    const char* what;                     ///< in words
    const char* sign;                     ///< how to recognise it
    const char* prevention;               ///< the setting that keeps it from happening
    std::optional<TextureDamage> bytes;   ///< what is done to the files
    std::optional<Misreading> misreading; ///< or how they are read
};

std::span<const Fault> faults();
/// Throws base::Failure, listing all ids, for one that is none.
const Fault& faultNamed(const std::string& id);

/// Whether it lies in the textures, or in how they are sampled; else in what is done with what they give.
bool spoilsData(const Fault& fault);

} // namespace ripple::bundle
