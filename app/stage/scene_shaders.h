#pragma once

#include <string>
#include <vector>

namespace ripple::app {

/// How surfaces are drawn. Values are shared with the fragment shader.
enum class Look { lit = 0, wire = 1, uvGrid = 2, normals = 3, shades = 4 };

/// A draft is lit at the vertices, quick where the processor draws.
enum class Finish { draft, finished };

/// Vertex stage of the source side: positions come posed from the processor.
std::string sourceVertexShader(Finish finish);

/// Vertex stage of the decoded side: calls `reader` (the GLSL that is shipped), whose names start with `id`
/// and which takes `samplers`; `vertex`: what it takes of each vertex, as arguments that end in a comma.
std::string decodedVertexShader(Finish finish, const std::string& reader, const std::string& id,
                                const std::vector<std::string>& samplers, const std::string& vertex);

/// Vertex stage of the side that a score moves: `before` is the emitted code, whose names start with `id`,
/// and the inputs that it takes; `arguments` are those. UVs are shifted and alpha is cut where the score
/// does.
std::string scoredVertexShader(Finish finish, const std::string& before, const std::string& id,
                               const std::string& arguments, bool shiftsUv, bool cutsOut);

/// `cutOut`: some material leaves out what its alpha says.
std::string surfaceShader(Finish finish, bool cutOut);

extern const char* const kFlatFragmentShader;
extern const char* const kScreenVertexShader;
extern const char* const kSkyFragmentShader;
extern const char* const kGroundVertexShader;
extern const char* const kGroundFragmentShader;
extern const char* const kEmptyFragmentShader;

} // namespace ripple::app
