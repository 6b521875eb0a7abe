#pragma once

#include "base/problem.h"
#include "inspect/survey.h"
#include "mesh/faults.h"
#include "mesh/uv_sets.h"
#include "source/reading.h"

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace ripple::inspect {

/// A frame of a clip, counted from 0 at the clip's own rate.
struct FramePlace {
    std::size_t clip = 0;
    std::size_t frame = 0;
};

/// What would put a finding right. Data, not action: project::applyFix makes it a change of the document.
struct Fix {
    std::string label;                                  ///< "Use 18–113"
    std::optional<source::Reading> reading;             ///< read the source so
    std::optional<double> sampleRate;                   ///< frames per second
    std::optional<std::size_t> maxWidth;                ///< texels
    bool followOutside = false;                         ///< read files outside the source's tree too
    bool lookupByItself = false;                        ///< the lookup takes the first free UV set
    std::optional<std::vector<bake::ClipChoice>> clips; ///< of the bake
};

/// Something found in a source, with where to look and what to do.
struct Observation {
    base::Finding finding;
    std::optional<FramePlace> place;
    std::vector<std::uint32_t> vertices; ///< to be marked on the model; at most a few thousand
    std::vector<Fix> fixes;              ///< the likeliest first; may be empty
};

/// All that is known of a source: what a finder may look at.
struct Inspection {
    const source::FrameSource& source;
    const source::Reading& reading;
    const bake::Recipe& recipe;
    const Survey* survey = nullptr; ///< null, or not complete: findings that need it come later
    std::string where;              ///< the source's name, for findings
};

/// What was found at rest: computed once for a source, since it takes a pass over the mesh.
struct MeshFacts {
    std::vector<std::uint32_t> degenerate; ///< triangles
    std::vector<std::uint32_t> unused;     ///< vertices
    std::vector<std::uint32_t> duplicate;  ///< vertices that agree with an earlier one
    std::vector<mesh::UvSetFacts> uvSets;
};
MeshFacts meshFacts(const mesh::Mesh& mesh);

/// Everything worth saying, worst first; those of the reader included. Findings about motion come only with a
/// complete survey. The same input gives the same list.
std::vector<Observation> inspect(const Inspection& inspection, const MeshFacts& facts);

/// A source's size as people would doubt it: metres, and the unit that its numbers more likely were in.
struct UnitDoubt {
    double size = 0.0;          ///< metres, largest side of all motion
    double metresPerUnit = 1.0; ///< what would give a usual size
};
/// Nothing for sizes between a coin's and a house's, which props and characters have.
std::optional<UnitDoubt> doubtUnit(const source::FrameSource& source, const mesh::Bounds& bounds);

} // namespace ripple::inspect
