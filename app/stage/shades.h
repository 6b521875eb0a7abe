#pragma once

#include "app/stage/poser.h"
#include "mesh/mesh.h"
#include "motion/density.h"
#include "motion/interpolation_loss.h"

#include <QString>

#include <optional>
#include <span>
#include <string>
#include <vector>

#include <glm/vec4.hpp>

namespace ripple::app {

/// Colours for the vertices of a measured look, and what they mean.
struct Shades {
    std::vector<glm::vec4> colours; ///< vertices, sRGB; empty: the look has nothing to show
    QString title;                  ///< "speed"
    QString least;                  ///< under the ramp's left end; empty: no ramp
    QString most;
    std::vector<float> values;             ///< vertices, of what is read off at the pointer; may be empty
    bool grey = false;                     ///< black to white instead of the ramp
    std::optional<std::size_t> uvSet = {}; ///< whose UVs the grid is laid by, where it is drawn
};

/// Vertex colours, whole ("rgb") or one channel ("r", "g", "b", "a") as grey.
Shades colourShades(const mesh::Mesh& mesh, const std::string& channel);
/// Mean length of the edges at each vertex in this pose, from the shortest to the longest.
Shades edgeShades(const mesh::Mesh& mesh, std::span<const glm::vec3> positions);
/// How fast each vertex moves, from 0 to `largest` metres a second.
Shades speedShades(const Poser::Pose& pose, double largest);
/// How far each decoded vertex is from where it should be, 0 to `largest` metres.
Shades errorShades(std::span<const glm::vec3> truth, std::span<const glm::vec3> read, double largest);
/// How far each decoded normal is turned, 0 to `largest` degrees.
Shades normalErrorShades(std::span<const glm::vec3> truth, std::span<const glm::vec3> read, double largest);
/// A part of a voice as grey, from `least` (black) to `most` (white); `picked`: the vertex that is spoken of,
/// or none below 0.
Shades probeShades(const std::vector<float>& values, const QString& title, float least, float most,
                   int picked);
/// How finely the mesh follows a voice: waves along each vertex's longest edge, 0 to where corners show.
/// The worst around each vertex: of the texture's shift where there is one, else of the cut-out.
Shades interpolationShades(const motion::InterpolationLoss& loss);
Shades densityShades(const motion::Density& density, const QString& voice);
/// How much edges are stretched, 0 to the most in this pose (at least 10 %).
Shades strainShades(const std::vector<float>& strain);
/// How much each vertex follows a joint, 0 to 1.
Shades weightShades(const std::vector<float>& weights, const QString& joint);

} // namespace ripple::app
