#pragma once

#include "bake/bake.h"
#include "bake/error.h"
#include "bundle/levels.h"
#include "bundle/page.h"
#include "bundle/target.h"
#include "source/reading.h"

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace ripple::motion {
struct Score;
}

namespace ripple::bundle {

/// How an importer must treat a texture for it to survive.
struct ImportSettings {
    std::string colourSpace = "linear";
    bool mipMaps = false;
    std::string filter = "nearest";
    std::string compression = "none";
    std::string address = "clamp";
    bool resize = false;
    std::string channels = "RGB"; ///< that are used: "RG", "RGB", "RGBA"
    bool operator==(const ImportSettings&) const = default;
};

struct FileEntry {
    std::string file;
    std::string sha256; ///< lower-case hexadecimal
    std::size_t bytes = 0;
    bool isTexture = false; ///< then `import` counts
    ImportSettings import;
};

/// What was baked: how the source was read, and the score that moved it.
struct Origin {
    source::Reading reading;
    std::shared_ptr<const motion::Score> score; ///< null: the source moved by itself
    bool scoreOnTop = false;                    ///< of the source's clips, instead of alone
};

/// What the manifests of all bundles say.
struct ManifestHead {
    std::string generator;
    std::string name;
    std::string meshFile;
    std::size_t vertices = 0;
    std::size_t triangles = 0;
    mesh::Bounds bounds; ///< in the target's space; hold all that is decoded, between frames too; of a score,
                         ///< for all its parameters
    Origin origin;
    Target target; ///< whose axes and unit bounds, textures and code hold
    Page page = Page::none;
    std::vector<FileEntry> files;
    /// Read back: what is odd about the manifest itself though it can be read. It was changed after it was
    /// written; it states another convention than this program writes.
    std::vector<base::Problem> doubts;
};

/// NAME.bundle.json (docs/bundle-format.md). Texture layout, stores, ranges and clips are in `textures`.
struct Manifest : ManifestHead {
    std::size_t lookupUvSet = 0;
    bake::BakeFormat textures;
    std::vector<std::string> textureFiles; ///< one for each of textures.textures
    std::vector<mesh::Bounds> clipBounds;  ///< the same of each clip; empty in files of older versions
    base::Findings findings;               ///< of the bake; not written
    bake::ErrorReport error;               ///< read back: only all.max, all.rms and normalMaxDegrees
    double sourceFps = 0.0;             ///< sampling or playback rate that was asked for; 0: the source's own
    std::size_t sourceStep = 1;         ///< every how many sampled frames one was kept
    std::size_t sourceOversampling = 1; ///< frames that were stored for each
    std::vector<LevelEntry> levels;     ///< of detail; finest first
    std::vector<double> clipRates;      ///< clips: the rate that was asked for of this one; 0: as of all
    std::size_t sourceFade = 0;         ///< Closing::fade: sampled frames that were blended
};

/// The JSON text, keys in a fixed order, ending in a line break. Its last key is its own digest: the SHA-256
/// of the text with that digest left empty.
std::string manifestText(const Manifest& manifest);

/// Throws base::Failure with `where` and the key: not JSON, another format, a newer version, missing or odd
/// values.
Manifest parseManifest(const std::string& text, const std::string& where);

} // namespace ripple::bundle
