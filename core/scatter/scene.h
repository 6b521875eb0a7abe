#pragma once

#include "bake/sampling.h"
#include "bake/texture_set.h"
#include "motion/perform.h"
#include "scatter/choices.h"
#include "scatter/feet.h"
#include "scatter/levels.h"
#include "source/frame_source.h"

#include <memory>
#include <optional>
#include <vector>

namespace ripple::scatter {

/// What copies are made of.
struct Asset {
    std::shared_ptr<const source::FrameSource> source;      ///< never null
    std::shared_ptr<const bake::Frames> frames;             ///< of the bake's kept frames; null: not baked
    std::vector<bake::BakedClip> clips;                     ///< of the bake
    std::vector<bake::Transition> transitions;              ///< that somebody chose
    std::shared_ptr<const motion::Performance> performance; ///< of a score that moves the rest pose; or null
    std::shared_ptr<const motion::Score> score;             ///< of that; or null
    double loopSeconds = 1.0;                               ///< of the score
};

/// The copies play the score as code; else the bake.
bool playsScore(const Choices& choices, const Asset& asset);

/// Where the copies stand.
struct Placed {
    std::vector<Copy> copies;
    std::size_t wished = 0; ///< how many there were to be; the others would lie beside the ground
    std::shared_ptr<const Ground> ground;
    std::shared_ptr<const mesh::Mesh> groundMesh; ///< of a ground that is a mesh
    double spacing = 0.0;                         ///< metres between the two that are nearest; 0 for one copy
};
/// Opens the ground's mesh where there is one. Throws base::Failure; see placeCopies().
Placed place(const Choices& choices);

/// What is known of one copy.
struct Measured {
    mesh::Bounds bounds;       ///< of one copy in its own space, in all its motion
    std::vector<Feet> feet;    ///< clips; none of a clip that is thinned
    std::vector<Level> levels; ///< of detail, beside the mesh itself
    /// The clip that walks and is chosen most, or none.
    std::optional<std::size_t> walking;
};
Measured measure(const Choices& choices, const Asset& asset,
                 const base::Progress& progress = base::noProgress());

/// What the crowd does, with all that nobody chose filled in.
CrowdChoices crowdOf(const Choices& choices, const Asset& asset, const Measured& measured);

/// Metres from a copy at which each level takes over, ascending; and the last one hides, where that is
/// wished: see Choices::hideBeyond. At a picture 1080 pixels high and this field of view (radians).
std::vector<double> levelDistances(const Choices& choices, const Measured& measured, double fieldOfView);

} // namespace ripple::scatter
