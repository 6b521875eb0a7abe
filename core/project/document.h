#pragma once

#include "bake/recipe.h"
#include "bake/tolerance.h"
#include "bundle/page.h"
#include "bundle/target.h"
#include "mesh/test_shapes.h"
#include "motion/score.h"
#include "scatter/choices.h"
#include "source/reading.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace ripple::project {

/// Which source is open, and how it is read.
struct SourceChoice {
    bool chosen() const { return shape || !path.empty(); }

    std::string path; ///< a file of the source or its pattern; absolute, or empty when none is open
    std::optional<mesh::TestShape> shape; ///< instead of a path
    source::Reading reading;
    /// Also read files that the source names outside its tree (source::Trust). Never saved: who wrote a
    /// project that comes from elsewhere may not decide it.
    bool followOutside = false;
    bool operator==(const SourceChoice&) const = default;
};

struct ShipChoice {
    std::string folder;      ///< absolute; the bundle becomes a folder in it; empty: not chosen yet
    std::string name;        ///< of the bundle; empty: after the source
    bool asCode = false;     ///< the score as code, without textures; else the bake
    bool exactSine = false;  ///< of code: by a polynomial
    bool storeMasks = false; ///< of code: masks and courses at the vertices
    bundle::Target target;   ///< whom it is written for
    bundle::Page page = bundle::Page::beside;
    bool half = false; ///< of code: half precision, where that stays within the tolerance
    bool operator==(const ShipChoice&) const = default;
};

/// How the project was being looked at. Kept in the file, but no undo step: looking changes nothing.
struct View {
    std::string bench = "gather";
    std::string look = "lit";
    std::size_t uvSet = 0;          ///< that the UV grid look shows
    std::string channel = "rgb";    ///< of the vertex colours look: "rgb", "r", "g", "b" or "a"
    std::string error = "position"; ///< that the error look shows: "position" or "normal"
    unsigned voice = 0;             ///< id of the voice that is being worked on; 0: none
    std::string probe = "mask";     ///< of a voice, that the mask look shows: "mask", "shape" or "place"
    std::string language = "glsl";  ///< whose code the ship bench shows
    double pixelsHigh = 400.0;      ///< how high the model is on the screen, for what stages cost
    double curtain = 0.5;           ///< 0..1 across the stage; only the bake and ship benches show it
    bool operator==(const View&) const = default;
};

/// Everything that a person chose. What is computed from it lives elsewhere.
struct Document {
    SourceChoice source;
    bake::Recipe recipe;
    bake::Tolerance tolerance;
    motion::Score score;     ///< moves the source; without voices nothing does
    bool scoreOnTop = false; ///< of the source's clips; else of its rest pose, alone
    scatter::Choices scatter;
    ShipChoice ship;
    std::vector<bundle::Target> targets; ///< own ones, beside the ready ones
    View view;
    bool operator==(const Document&) const = default;

    /// Name for a title bar and a bundle: "awning" for awning_####.obj; "untitled" without a source.
    std::string assetName() const;
};

/// JSON text of the document; paths are written relative to `folder` where they lie below or beside it.
std::string documentText(const Document& document, const std::filesystem::path& folder);

/// Throws base::Failure with `where`: not a project, newer version, odd values. Older versions are migrated.
Document parseDocument(const std::string& text, const std::filesystem::path& folder,
                       const std::string& where);

/// A .curly file. Saving replaces the file in one step. Both throw base::Failure.
void saveDocument(const Document& document, const std::filesystem::path& file);
Document loadDocument(const std::filesystem::path& file);

} // namespace ripple::project
