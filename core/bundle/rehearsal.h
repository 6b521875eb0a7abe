#pragma once

#include "bake/bake.h"
#include "base/no_progress.h"
#include "bundle/read_bundle.h"
#include "bundle/texture_damage.h"

#include <filesystem>
#include <optional>
#include <span>
#include <string>
#include <vector>

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
    welded,          ///< vertices that lie together became one
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

/// Whether it shows in a picture of the mesh where it stands: the others are only counted.
bool isDrawn(const Fault& fault);

/// What is played: a bundle's, or a bake's that is not written yet. All must outlive it.
struct Staged {
    const bake::TextureSet& textures;
    std::span<const std::uint32_t> columnOfVertex; ///< vertices
    const mesh::Mesh& mesh;                        ///< in the pose that is shipped
};

/// What faults do to a bundle, all of them at once.
struct Rehearsed {
    double metres = 0.0;   ///< the largest distance of a vertex from where it belongs
    double degrees = 0.0;  ///< the largest angle of a normal
    double overhang = 0.0; ///< restBounds: how far the mesh leaves the bounds that it is culled by, metres
    std::string worstClip;
    double worstFrame = 0.0;
    /// Faults that this bundle can't have, with why.
    std::vector<std::string> idle;
};

/// Plays frames of all clips, some between stored ones, right and wrong. Throws base::Cancelled.
Rehearsed rehearse(const Staged& staged, std::span<const Fault* const> chosen,
                   const base::Progress& progress = base::noProgress());
Rehearsed rehearse(const Bundle& bundle, std::span<const Fault* const> chosen,
                   const base::Progress& progress = base::noProgress());

/// The bake as those of the chosen faults leave it that are drawn. `mesh`: in the pose that is shipped.
bake::Baked spoiltBake(const bake::Baked& baked, const mesh::Mesh& mesh,
                       std::span<const Fault* const> chosen);

/// Writes the bundle's textures with the chosen faults of bytes done to them, under their own names, to a
/// folder that is made if need be; the bundle's own folder is refused. Throws base::Failure. How many files.
std::size_t writeSpoilt(const Bundle& bundle, const std::filesystem::path& own,
                        std::span<const Fault* const> chosen, const std::filesystem::path& folder);

} // namespace ripple::bundle
