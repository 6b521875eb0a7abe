#include "bundle/score_inputs.h"

#include "base/problem.h"
#include "base/units.h"
#include "bundle/attribute.h"
#include "emit/score_expressions.h"

#include <algorithm>
#include <array>
#include <charconv>

namespace ripple::bundle {

namespace {

using motion::Op;

constexpr std::array kUvAxes = {'x', 'y'};

bool isOfCopy(Op op) {
    return op >= Op::copyId && op <= Op::copyZ;
}

/// The numbers of an input that have no attribute of their own: one list for each.
std::vector<std::vector<float>> numbersOf(const emit::ScoreInput& input, const motion::VertexFields& fields) {
    const auto which = static_cast<std::size_t>(input.whole);
    const auto vectors = [](std::span<const glm::vec3> from) {
        std::vector<std::vector<float>> lists(3, std::vector<float>(from.size()));
        for (std::size_t v = 0; v < from.size(); ++v) {
            for (std::size_t c = 0; c < 3; ++c) {
                lists[c][v] = from[v][static_cast<int>(c)];
            }
        }
        return lists;
    };
    if (input.op == Op::stored) {
        return {{fields.stored[which].begin(), fields.stored[which].end()}};
    }
    return vectors(input.op == Op::uvSlope       ? fields.uvSlopes[which]
                   : input.op == Op::colourSlope ? fields.colourSlopes[which]
                                                 : fields.storedSlopes[which]);
}

/// Lists of numbers, put two by two into UV sets behind those of the mesh.
class FurtherUvs {
public:
    FurtherUvs(mesh::Mesh& mesh) : mesh_(mesh), first_(mesh.uvSets.size()) {}

    /// "TEXCOORD_2.x"
    std::string add(const std::vector<float>& list) {
        const std::size_t set = first_ + count_ / 2;
        const std::size_t axis = count_++ % 2;
        if (set == mesh_.uvSets.size()) {
            mesh_.uvSets.emplace_back(mesh_.vertexCount(), glm::vec2(0.0f));
        }
        for (std::size_t v = 0; v < list.size(); ++v) {
            mesh_.uvSets[set][v][static_cast<int>(axis)] = list[v];
        }
        return "TEXCOORD_" + std::to_string(set) + "." + kUvAxes[axis];
    }
    std::size_t sets() const { return first_ + (count_ + 1) / 2; }

private:
    mesh::Mesh& mesh_;
    std::size_t first_;
    std::size_t count_ = 0;
};

} // namespace

ScoreMesh placeInputs(const mesh::Mesh& mesh, const std::vector<emit::ScoreInput>& inputs,
                      const motion::VertexFields& fields) {
    ScoreMesh made;
    made.mesh = mesh;
    made.mesh.stored.clear(); // those that are read come into UV sets
    FurtherUvs further(made.mesh);
    std::string without;
    for (const emit::ScoreInput& input : inputs) {
        PlacedInput placed{input.name, input.type, {}};
        if (isOfCopy(input.op)) {
            placed.from = {"COPY"};
        } else if (input.op == Op::position) {
            placed.from = {"POSITION"};
        } else if (input.op == Op::normal) {
            placed.from = {"NORMAL"};
        } else if (input.op == Op::uv) {
            placed.from = {"TEXCOORD_" + std::to_string(input.whole)};
        } else if (input.op == Op::colour) {
            placed.from = {"COLOR_0"};
        } else {
            for (const std::vector<float>& list : numbersOf(input, fields)) {
                placed.from.push_back(further.add(list));
            }
            if (further.sets() > kUvSetsKept) {
                without += (without.empty() ? "" : ", ") + input.name;
            }
        }
        made.inputs.push_back(std::move(placed));
    }
    if (!without.empty()) {
        base::fail("the score's code",
                   "reads more of each vertex than the " + std::to_string(kUvSetsKept) +
                       " UV sets that importers keep have room for; without a place: " + without,
                   "let fewer voices read stored values, UVs or colours, or bake the score into textures");
    }
    return made;
}

std::optional<std::size_t> uvSetOf(const std::string& attribute) {
    const std::string_view prefix = "TEXCOORD_";
    if (!attribute.starts_with(prefix)) {
        return std::nullopt;
    }
    std::size_t set = 0;
    const auto read =
        std::from_chars(attribute.data() + prefix.size(), attribute.data() + attribute.size(), set);
    return read.ec == std::errc() ? std::optional(set) : std::nullopt;
}

std::vector<float> ReadInputs::numbers(const std::string& from) const {
    const std::optional<std::size_t> set = uvSetOf(from);
    const bool well = set && (from.ends_with(".x") || from.ends_with(".y"));
    if (!well || *set >= mesh_.uvSets.size()) {
        base::fail("inputs",
                   "are read from \"" + from + "\"; the mesh has " +
                       base::plural(mesh_.uvSets.size(), "UV set"),
                   "the mesh or the manifest was changed; write the bundle again");
    }
    std::vector<float> list;
    list.reserve(mesh_.vertexCount());
    for (const glm::vec2& uv : mesh_.uvSets[*set]) {
        list.push_back(from.back() == 'x' ? uv.x : uv.y);
    }
    return list;
}

ReadInputs::ReadInputs(const mesh::Mesh& mesh, const std::vector<PlacedInput>& placed,
                       const motion::Composition& composition)
    : mesh_(mesh) {
    const std::size_t vertices = mesh.vertexCount();
    fields_.positions = mesh.positions;
    fields_.normals = mesh.normals;
    // As many of each as any node may name; those that none does stay empty.
    const std::size_t uvs = 2 * mesh.uvSets.size();
    fields_.uvs.resize(uvs);
    fields_.uvSlopes.resize(uvs);
    fields_.colours.resize(4);
    fields_.colourSlopes.resize(4);
    fields_.stored.resize(composition.stored.size());
    fields_.storedSlopes.resize(composition.stored.size());
    const motion::Graph& graph = composition.graph;
    numberLists_.reserve(2 * graph.size());
    vectorLists_.reserve(graph.size());
    const auto keep = [&](std::vector<float> list) {
        return std::span<const float>(numberLists_.emplace_back(std::move(list)));
    };
    for (motion::NodeId i = 0; i < graph.size(); ++i) {
        if (!emit::isInput(graph[i].op) || isOfCopy(graph[i].op)) {
            continue;
        }
        const emit::ScoreInput input = emit::inputOf(graph[i], composition.stored).input;
        const auto found = std::find_if(placed.begin(), placed.end(),
                                        [&](const PlacedInput& each) { return each.name == input.name; });
        if (found == placed.end()) {
            continue; // of a voice that is not heard
        }
        const auto which = static_cast<std::size_t>(graph[i].whole);
        const auto count = [&](std::size_t wanted) {
            if (found->from.size() != wanted) {
                base::fail("inputs",
                           "place \"" + input.name + "\" in " + base::plural(found->from.size(), "number"),
                           "write the bundle again");
            }
        };
        const auto vectors = [&](std::vector<std::span<const glm::vec3>>& into) {
            count(3);
            std::vector<glm::vec3> list(vertices);
            for (std::size_t c = 0; c < 3; ++c) {
                const std::vector<float> from = numbers(found->from[c]);
                for (std::size_t v = 0; v < vertices; ++v) {
                    list[v][static_cast<int>(c)] = from[v];
                }
            }
            into[which] = vectorLists_.emplace_back(std::move(list));
        };
        count(input.op == Op::uvSlope || input.op == Op::colourSlope || input.op == Op::storedSlope ? 3 : 1);
        if (input.op == Op::uv) {
            fields_.uvs[which] = keep(numbers(found->from[0] + (which % 2 ? ".y" : ".x")));
        } else if (input.op == Op::colour && !mesh.colours.empty()) {
            std::vector<float> list;
            for (const glm::vec4& colour : mesh.colours) {
                list.push_back(colour[static_cast<int>(which)]);
            }
            fields_.colours[which] = keep(std::move(list));
        } else if (input.op == Op::stored) {
            fields_.stored[which] = keep(numbers(found->from[0]));
        } else if (input.op == Op::uvSlope) {
            vectors(fields_.uvSlopes);
        } else if (input.op == Op::colourSlope) {
            vectors(fields_.colourSlopes);
        } else if (input.op == Op::storedSlope) {
            vectors(fields_.storedSlopes);
        } else if (input.op == Op::colour) {
            base::fail("the mesh", "has no vertex colours, which the score's code reads",
                       "they were dropped; write the bundle again and keep them");
        }
    }
}

} // namespace ripple::bundle
