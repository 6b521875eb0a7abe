#pragma once

#include "bake/texture_set.h"
#include "base/json_section.h"
#include "mesh/axis_map.h"

#include <filesystem>
#include <string>
#include <vector>

namespace ripple::emit {
class Dialect;
}

namespace ripple::bundle {

/// How an engine reads what is shipped (docs/bundle-format.md, Targets). The mesh's file stays glTF, which the
/// engine's importer converts; textures, ranges, bounds, pivots and code hold the target's axes and unit, so
/// that they match the mesh once it is imported. The defaults are glTF's own conventions.
struct Target {
    std::string name; ///< empty: words() say what it is
    /// From glTF's axes to the engine's; its unit is 1.
    mesh::AxisMap axes;
    double metresPerUnit = 1.0; ///< 1e-6 to 1e6
    bool vFromBelow = false;    ///< its importer turns V into 1 − V
    bool rowsFromBelow = false; ///< row 0 of an image is its lowest
    std::size_t firstUvSet = 0; ///< what it calls the first: 0 or 1
    bool clockwise = false;     ///< triangles are seen so from their front, once they are imported
    bool halfUvs = false;       ///< it keeps UVs as half floats
    std::size_t maxWidth = bake::kLargestTexture; ///< texels
    bool readsExr = true;                         ///< it imports them without loss
    bool readsPng = true;
    std::vector<std::string> languages = {"glsl", "hlsl", "wgsl"}; ///< Dialect::id(), at least one
    bool bySeconds = true; ///< the example calls the code by seconds; else by turns of the loop

    /// From metres in glTF's axes to what textures and code hold.
    mesh::AxisMap space() const;
    /// The recipe, within what the target reads.
    bake::Recipe fitted(bake::Recipe recipe) const;
    /// Bakes and reading code are for this target.
    void putInto(bake::BakeFormat& format) const;
    /// Throws base::Failure where a bake has textures that it does not import without loss.
    void requireReadable(const bake::BakeFormat& format) const;

    bool operator==(const Target&) const = default;
};

/// "Z up, left-handed, centimetres, V from below": what a target is, whatever its name.
std::string words(const Target& target);
/// Its name, or those words.
std::string titleOf(const Target& target);
/// "metres", "centimetres", "units of 0.5 m"
std::string unitWords(const Target& target);

/// The languages of its code, at least one.
std::vector<const emit::Dialect*> dialectsOf(const Target& target);

/// Some that are common; the first is glTF's own.
const std::vector<Target>& readyTargets();

/// What the sign and letters of a target's axes in glTF are: {"+X", "-Z", "+Y"} where its X is our X, its Y
/// our −Z and its Z our Y. The section `target` of manifests, and the body of a target's file.
nlohmann::ordered_json targetJson(const Target& target);
/// Throws base::Failure for values that can't be; what is missing is as glTF has it.
Target parseTarget(const base::JsonSection& section);

/// NAME.target.json (docs/bundle-format.md).
std::string targetText(const Target& target);
Target parseTargetText(const std::string& text, const std::string& where);
/// Throw base::Failure.
void saveTarget(const Target& target, const std::filesystem::path& file);
Target loadTarget(const std::filesystem::path& file);

/// A ready one by its words or its number from 1, else a file. Throws base::Failure.
Target targetCalled(const std::string& nameOrFile);

/// The target of an engine in which the arrows of the axis probe (axis_probe.h) point as `arrows` says: the
/// axes of the engine along which our X, Y and Z lie there, {"+X", "+Z", "-Y"}; and whose arrow of one metre
/// is `length` units long. Throws base::Failure for letters that are no three axes.
Target targetByArrows(const std::array<std::string, 3>& arrows, double length);

} // namespace ripple::bundle
