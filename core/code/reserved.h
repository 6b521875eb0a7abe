#pragma once

#include <string>

namespace ripple::code {

/// "GLSL", "HLSL" or "WGSL" where a word means something of its own there, or is kept for later, so that
/// nothing may be named by it; null if it is free in all three. Sources: The OpenGL Shading Language 4.60 and
/// The OpenGL ES Shading Language 3.20, chapter 3.6; the HLSL reference, "Keywords" and "Reserved Words"
/// (whose case does not matter there for the oldest of them); WebGPU Shading Language, chapters 16.1 and
/// 16.2.
const char* reservedIn(const std::string& word);

} // namespace ripple::code
