#pragma once

#include "emit/score_code.h"
#include "mesh/mesh.h"
#include "motion/perform.h"

#include <string>
#include <vector>

namespace ripple::bundle {

/// Where one input of a score's function comes from: attributes of the mesh, or the copy.
struct PlacedInput {
    std::string name; ///< as the function takes it: "stored_age"
    std::string type; ///< "float", "vec2", "vec3", "vec4", "mat3"
    /// "POSITION", "TEXCOORD_1" where all of an attribute is meant; one "TEXCOORD_2.x" for each number;
    /// "COPY" where it is the same for all vertices of a copy.
    std::vector<std::string> from;
    bool operator==(const PlacedInput&) const = default;
};

/// UV sets that importers can be relied on to keep.
constexpr std::size_t kUvSetsKept = 8;

/// The mesh with everything that a score's code reads, in places that importers keep: UV sets and vertex
/// colours as they are, stored values and slopes in pairs in further UV sets.
struct ScoreMesh {
    mesh::Mesh mesh;
    std::vector<PlacedInput> inputs; ///< in the order in which the function takes them
};

/// Places the inputs. Throws base::Failure, naming those that found no place, if they need more than
/// kUvSetsKept sets.
ScoreMesh placeInputs(const mesh::Mesh& mesh, const std::vector<emit::ScoreInput>& inputs,
                      const motion::VertexFields& fields);

/// Reads the inputs of `composition` back from the attributes of a mesh, as placed. `values` holds what the
/// fields refer to. Throws base::Failure for a set that the mesh does not have.
class ReadInputs {
public:
    ReadInputs(const mesh::Mesh& mesh, const std::vector<PlacedInput>& placed,
               const motion::Composition& composition);
    const motion::VertexFields& fields() const { return fields_; }

private:
    std::vector<float> numbers(const std::string& from) const;

    const mesh::Mesh& mesh_;
    std::vector<std::vector<float>> numberLists_;
    std::vector<std::vector<glm::vec3>> vectorLists_;
    motion::VertexFields fields_;
};

} // namespace ripple::bundle
