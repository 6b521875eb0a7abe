#pragma once

#include "app/stage/poser.h"
#include "mesh/mesh.h"

#include <QString>

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
/// How much each vertex follows a joint, 0 to 1.
Shades weightShades(const std::vector<float>& weights, const QString& joint);

} // namespace ripple::app
