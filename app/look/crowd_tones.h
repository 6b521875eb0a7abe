#pragma once

#include <QColor>

#include <cstddef>

#include <glm/vec3.hpp>

namespace ripple::app {

// What tells clips and levels of detail apart among copies; by lightness too. `…Tint`: linear light, as a
// surface is drawn with; `…Tone`: as that is seen.
glm::vec3 clipTint(std::size_t clip);
glm::vec3 levelTint(std::size_t level);
/// From dark at the start of the loop (0) to light at its end (1).
glm::vec3 phaseTint(float turn);

QColor clipTone(std::size_t clip);
QColor levelTone(std::size_t level);
QColor phaseTone(float turn);

} // namespace ripple::app
