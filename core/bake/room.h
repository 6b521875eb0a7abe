#pragma once

#include "bake/sampling.h"

namespace ripple::bake {

/// What is known of a bake's size from three of its poses at most, before its frames are sampled.
struct Size {
    std::size_t frames = 0;  ///< to be sampled
    std::size_t columns = 0; ///< about: vertices that move differently in those poses
};
Size measureSize(const source::FrameSource& source, const SamplePlan& plan, const Recipe& recipe);

/// Throws base::Failure if a bake of that size can't fit into a texture: for the number of frames alone, or
/// since even half of the columns would be too many (stores may round some of them together).
void requireRoom(const Size& size, const Recipe& recipe);
inline void requireRoom(const source::FrameSource& source, const SamplePlan& plan, const Recipe& recipe) {
    requireRoom(measureSize(source, plan, recipe), recipe);
}

} // namespace ripple::bake
