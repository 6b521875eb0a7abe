#pragma once

#include "bake/texture_set.h"
#include "mesh/bounds.h"

#include <string>
#include <vector>

namespace ripple::emit {

/// GLSL (3.30 and later, or ES 3.00) functions that read a bake in the vertex stage, with its own numbers
/// filled in. All names start with identifier(name). The text has no #version and no uniforms: it is to be
/// included. Its functions take, in this order: the samplers of readerSamplers(), lookup_uv, rest_position,
/// rest_normal, the pivot if readerWantsPivot(), and what the function is about.
std::string glslReader(const std::string& name, const bake::TextureSet& textures, const mesh::Bounds& bounds);

/// "positions", "normals", in the order of textures.textures.
std::vector<std::string> readerSamplers(const bake::TextureSet& textures);
bool readerWantsPivot(const bake::TextureSet& textures);

/// `name` as a shader identifier: letters, digits and single underscores, not starting with a digit.
std::string identifier(const std::string& name);

} // namespace ripple::emit
