#pragma once

#include "mesh/bounds.h"
#include "scatter/merged.h"

#include <optional>
#include <string>
#include <vector>

namespace ripple::app {

/// How surfaces are drawn. Values are shared with the fragment shader.
enum class Look { lit = 0, wire = 1, uvGrid = 2, normals = 3, shades = 4, copies = 5 };

/// A draft is lit at the vertices, quick where the processor draws.
enum class Finish { draft, finished };

/// Vertex stage of the source side: positions come posed from the processor.
std::string sourceVertexShader(Finish finish);

/// What a vertex stage hands to shipped code, and what it does with the result: of copies that are drawn one
/// by one, or as they are once they were merged into one mesh.
struct VertexPlace {
    std::string before;   ///< statements
    std::string position; ///< expressions
    std::string normal;
    std::string id;
    std::string origin;
    std::string axes;
    std::string scale;
    std::string after;     ///< statements on pose_position and pose_normal
    std::string functions; ///< that they call
};
/// `keeps`: what a merged mesh keeps of the pivots; none: copies are separate. `box`: of all origins.
VertexPlace placeOfVertex(const std::optional<scatter::Keeps>& keeps, const mesh::Bounds& box);

/// Vertex stage of the decoded side: calls `reader` (the GLSL that is shipped), whose names start with `id`
/// and which takes `samplers`; `vertex`: what it takes of each vertex, as arguments that end in a comma.
std::string decodedVertexShader(Finish finish, const std::string& reader, const std::string& id,
                                const std::vector<std::string>& samplers, const std::string& vertex,
                                const VertexPlace& place);

/// Vertex stage of the side that a score moves: `before` is the emitted code, whose names start with `id`,
/// and the inputs that it takes; `arguments` are those. UVs are shifted and alpha is cut where the score
/// does.
std::string scoredVertexShader(Finish finish, const std::string& before, const std::string& id,
                               const std::string& arguments, bool shiftsUv, bool cutsOut,
                               const VertexPlace& place);

/// `cutOut`: some material leaves out what its alpha says.
std::string surfaceShader(Finish finish, bool cutOut);

extern const char* const kFlatFragmentShader;
extern const char* const kScreenVertexShader;
extern const char* const kSkyFragmentShader;
extern const char* const kGroundVertexShader;
/// A fragment stage that draws grid lines: calls lines(vec2 ground, float cell), in metres.
std::string withGrid(const char* fragment);
/// For withGrid().
extern const char* const kGroundFragmentShader;
extern const char* const kEmptyFragmentShader;

} // namespace ripple::app
