#pragma once

#include "base/no_progress.h"
#include "base/problem.h"
#include "bundle/read_bundle.h"
#include "bundle/score_reader.h"
#include "image/image.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace ripple::bundle {

/// Something that was done to a file of a bundle, found in its data.
struct Change {
    std::string id;         ///< stable, for programs: "srgb-applied"
    std::string what;       ///< in words
    std::string prevention; ///< the setting that keeps it from happening
    /// What it costs alone: the largest distance of a vertex from where it belongs, metres, and the largest
    /// angle of a normal, degrees. None: it can't be told apart from what else was done, or costs nothing.
    std::optional<double> metres;
    double degrees = 0.0;
};

struct ReturnedFile {
    std::string file; ///< the bundle's name of it
    std::vector<Change> changes;
    double metres = 0.0;  ///< all changes together, over the frames that were tried
    double degrees = 0.0; ///< the same of normals
};

struct ReturnedReport {
    std::vector<ReturnedFile> files;     ///< those that came back, textures first
    std::vector<base::Problem> problems; ///< of the folder, and files that can't be read
    bool ok() const;
};

/// What the data of `given` says was done to `original`; without costs. Explanations with the fewest changes
/// win; what none fits is one change with the id "unknown". `rowsPerFrame` ≥ 1.
std::vector<Change> changesOfTexture(const image::Image& original, const image::Image& given,
                                     std::size_t rowsPerFrame);

/// The same of a mesh that was imported and written again: axes, unit, vertices split, welded or in another
/// order, normals, the UV set of the lookup. `columns`: of each vertex of `given`, where its lookup points
/// (layout.columns or more: nowhere); empty when there is none.
struct MeshChanges {
    std::vector<Change> changes;
    std::vector<std::uint32_t> columnOfVertex; ///< of the bundle's vertices, by the lookup that came back
    double degrees = 0.0;                      ///< of normals
};
MeshChanges changesOfMesh(const Bundle& bundle, const mesh::Mesh& given);

/// The same for a score's mesh: also whether the UV sets and colours that the code reads are as they were;
/// with what each change costs, and all of them, where the inputs are still there.
ReturnedFile changesOfScoreMesh(const ScoreBundle& bundle, const mesh::Mesh& given,
                                const base::Progress& progress = base::noProgress());

/// Compares the files in `returned` that bear a bundle's file names (any ending that can be read) with the
/// bundle's own, and plays the bundle with them. Throws base::Failure for a bundle that can't be read, and
/// base::Cancelled.
ReturnedReport checkReturned(const std::filesystem::path& bundle, const std::filesystem::path& returned,
                             const base::Progress& progress = base::noProgress());

} // namespace ripple::bundle
