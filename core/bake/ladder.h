#pragma once

#include "bake/bake.h"
#include "bake/error.h"

#include <functional>
#include <memory>
#include <optional>

namespace ripple::bake {

/// One way to store a motion, with what it costs and what it loses: both measured on a real encode.
struct Rung {
    Recipe recipe;
    std::size_t memory = 0;    ///< bytes of texture memory
    double error = 0.0;        ///< metres: the largest, at stored frames and between them
    std::size_t rows = 0;      ///< frames, or shapes, that are stored
    std::size_t columns = 0;   ///< vertices, or pieces
    bool worthwhile = false;   ///< no other takes less memory for as small an error
    std::string label() const; ///< "16-bit range, every 2nd"
};

/// The rungs measured so far.
struct Ladder {
    std::vector<Rung> rungs;                                   ///< smallest memory first
    std::vector<std::pair<const Kind*, std::string>> refusals; ///< kinds that an attempt failed of, and why
    std::size_t tried = 0;
    std::size_t planned = 0;

    /// Why there are no rungs of this kind, as a mesh that bends has no pieces; "" if there are.
    std::string whyNot(const Kind& kind) const;
    bool complete() const { return planned > 0 && tried == planned; }
};

/// What a ladder may vary; the rest is the recipe's.
struct LadderFreedom {
    bool kind = true;
    bool content = true;
    bool store = true;
    bool step = true;  ///< also higher rates, and uneven thinning
    bool blend = true; ///< linear or cubic
};

/// Stores × contents × steps, uneven thinning, shared shapes and pieces of `source`, in order of how likely
/// each is to be taken. `onPart` is called on this thread after each few. Ways that are not possible (too
/// large a texture, a mesh that bends) are left out. Holds the frames of two steps at a time in memory.
/// `known` poses of the same recipe are not asked of the source again; they must outlive the call.
std::shared_ptr<const Ladder>
climbLadder(const source::FrameSource& source, const Recipe& recipe, const LadderFreedom& freedom,
            const base::Progress& progress,
            const std::function<void(std::shared_ptr<const Ladder>)>& onPart = {},
            const EarlierPoses& known = {});

/// The rung of least memory whose error is at most `tolerance` metres; of several the smallest error. Nothing
/// if none is.
std::optional<std::size_t> cheapest(const Ladder& ladder, double tolerance);

} // namespace ripple::bake
