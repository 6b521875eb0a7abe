#pragma once

#include <string>
#include <vector>

namespace ripple::app {

/// How surfaces are drawn. Values are shared with the fragment shader.
enum class Look { lit = 0, wire = 1, uvGrid = 2, normals = 3, shades = 4 };

/// Vertex stage of the source side: positions come posed from the processor.
std::string sourceVertexShader();

/// Vertex stage of the decoded side: calls `reader` (the GLSL that is shipped), whose names start with `id`
/// and which takes `samplers`, and a pivot if it wants one.
std::string decodedVertexShader(const std::string& reader, const std::string& id,
                                const std::vector<std::string>& samplers, bool pivot);

extern const char* const kSurfaceFragmentShader;
extern const char* const kFlatFragmentShader;
extern const char* const kScreenVertexShader;
extern const char* const kSkyFragmentShader;
extern const char* const kGroundVertexShader;
extern const char* const kGroundFragmentShader;
extern const char* const kEmptyFragmentShader;

} // namespace ripple::app
