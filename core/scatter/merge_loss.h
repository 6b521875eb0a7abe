#pragma once

#include "scatter/merged.h"
#include "scatter/scene.h"

namespace ripple::scatter {

/// How many copies are compared, evenly among them, and at how many instants or frames.
constexpr std::size_t kComparedCopies = 48;
constexpr std::size_t kComparedInstants = 12;

/// The furthest that a vertex of merged copies is from where it is in separate ones, with what is kept of
/// their pivots: metres. `played` moves the merged ones: `plain`, or for Keeps::masks the performance of
/// stored masks on the same mesh.
double mergeLoss(const motion::Performance& plain, const motion::Performance& played,
                 std::span<const Copy> copies, Keeps keeps);

/// The same of a bake, whose frames are read as they are kept. With nothing kept, and masks, which are a
/// score's, it is read as if the merged mesh were one copy at its origin; the bake stores offsets then.
double mergeLoss(const Asset& asset, std::span<const Copy> copies, Keeps keeps);

} // namespace ripple::scatter
