#pragma once

#include "mesh/mesh.h"
#include "motion/graph.h"
#include "motion/score.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace ripple::motion {

/// What of a voice was evaluated at the vertices and is stored there; indices among Model::stored.
struct StoredVoice {
    std::optional<std::size_t> mask;
    std::optional<std::size_t> along; ///< the course, and beside it
    std::array<std::optional<std::size_t>, 2> across;
    bool operator==(const StoredVoice&) const = default;
};

/// What the values of a model mean to a score: its size, and what it has.
struct Model {
    double size = 1.0; ///< metres: the diagonal of the rest bounds; lengths in percent are of this
    std::size_t uvSets = 0;
    std::size_t baseUvSet = 0; ///< that the base texture lies on
    bool colours = false;
    std::vector<std::string> stored;
    std::vector<char> storedFlat;          ///< of the first of them, or all: true if every triangle
                                           ///< has the same value at its corners
    std::vector<StoredVoice> storedVoices; ///< one for each voice, or none
};
Model modelOf(const mesh::Mesh& mesh);

/// What can be looked at of a voice by itself; ids of nodes.
struct VoiceNodes {
    NodeId mask = 0;  ///< number: 0..1
    NodeId place = 0; ///< turn: turns · φ − course / wavelength + phase
    NodeId shape = 0; ///< number: within shapeRange()
    NodeId push = 0;  ///< vec3: by how much this voice alone moves a vertex at rest; 0 for UVs and alpha
    NodeId along = 0; ///< number: metres, or UV units, along the course; and beside it, for noise
    std::vector<NodeId> across;
};

/// A node whose value is known to lie within; its operands need not show it.
struct KnownRange {
    NodeId node = 0;
    float low = 0.0f;
    float high = 0.0f;
};

/// What nodes are about, up to the next chapter; for those who read the code.
struct Chapter {
    NodeId from = 0;
    std::string title;
};

/// What a parameter is called in code; the graph holds its range and default, by the same index.
struct CodeParameter {
    std::string name;
    std::string help;
    std::string unit; ///< unitName()
    bool whole = false;
};

/// A score as expressions.
struct Composition {
    Graph graph;
    NodeId position = 0;                   ///< vec3: displaced, object space
    NodeId normal = 0;                     ///< vec3: derived, unit length
    std::optional<NodeId> uvShift;         ///< vec3: what is added to the base texture's UV, in x and y
    std::optional<NodeId> alpha;           ///< number: what alpha is multiplied with, 0..1
    std::vector<std::string> stored;       ///< names that stored values go by
    std::vector<KnownRange> ranges;        ///< of shapes and their parts
    std::vector<VoiceNodes> voices;        ///< of all voices, heard or not
    std::vector<Chapter> chapters;         ///< in the order of their nodes
    std::vector<CodeParameter> parameters; ///< in the order of the score's
    bool halves = false;                   ///< some of it is rounded to 16-bit floats: see half_precision.h
};

/// Builds the graph of a score. Throws base::Failure naming voice and field: what requireSound() throws, and
/// what the model does not have (UV set, colours, stored value).
Composition composeScore(const Score& score, const Model& model);

/// One turn of a shape in unison, at i / steps.
std::vector<float> swingOf(const Shape& shape, std::size_t steps);

/// What a shape reaches: least and most, exact but for curves (a thousandth) and noise (a bound).
std::array<double, 2> shapeRange(const Shape& shape);

} // namespace ripple::motion
