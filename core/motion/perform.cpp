#include "motion/perform.h"

#include "mesh/normals.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

float insideTurn(double turn) {
    const auto inside = static_cast<float>(turn - std::floor(turn));
    return inside >= 1.0f ? 0.0f : inside; // a tiny negative turn rounds up
}

} // namespace

Performance::Kept Performance::keep(const mesh::Mesh& mesh, Model model) {
    Kept kept;
    kept.model = std::make_shared<const Model>(std::move(model));
    kept.positions = std::make_shared<const std::vector<glm::vec3>>(mesh.positions);
    // Those that files lack are +Y, as in the mesh that is shipped.
    kept.normals = std::make_shared<const std::vector<glm::vec3>>(mesh::filledNormals(mesh.normals));
    return kept;
}

Performance::Performance(const Score& score, const mesh::Mesh& mesh, const Performance* like)
    : Performance(score, mesh, like ? like->kept_ : keep(mesh, modelOf(mesh))) {}

Performance::Performance(const Score& score, const mesh::Mesh& mesh, Model model)
    : Performance(score, mesh, keep(mesh, std::move(model))) {}

Performance::Performance(const Score& score, const mesh::Mesh& mesh, Kept kept)
    : kept_(std::move(kept)),
      composition_(composeScore(score, *kept_.model)) {
    keepFields(mesh);
    makeEvaluators();
}

Performance::Performance(const Performance& like, Composition composition)
    : kept_(like.kept_),
      composition_(std::move(composition)),
      fields_(like.fields_) {
    makeEvaluators();
}

void Performance::makeEvaluators() {
    const NodeId roots[] = {composition_.position, composition_.normal};
    alone_ = std::make_unique<Evaluator>(composition_.graph, std::span(roots).first(1));
    both_ = std::make_unique<Evaluator>(composition_.graph, roots);
}

void Performance::keepFields(const mesh::Mesh& mesh) {
    fields_.positions = *kept_.positions;
    fields_.normals = *kept_.normals;
    const Graph& g = composition_.graph;
    const auto used = [&](Op op, std::size_t which) {
        for (NodeId i = 0; i < g.size(); ++i) {
            if (g[i].op == op && g[i].whole == static_cast<std::int32_t>(which)) {
                return true;
            }
        }
        return false;
    };
    const auto keep = [&](Op valueOp, Op slopeOp, std::size_t which, const auto& valueOfVertex,
                          std::vector<std::span<const float>>& values,
                          std::vector<std::span<const glm::vec3>>& slopes) {
        values.emplace_back();
        slopes.emplace_back();
        const bool slope = used(slopeOp, which);
        if (!slope && !used(valueOp, which)) {
            return;
        }
        auto& numbers = kept_.numbers[{valueOp, which}];
        if (!numbers) {
            std::vector<float> read(mesh.vertexCount());
            for (std::size_t v = 0; v < read.size(); ++v) {
                read[v] = valueOfVertex(v);
            }
            numbers = std::make_shared<const std::vector<float>>(std::move(read));
        }
        values.back() = *numbers;
        if (slope) {
            auto& along = kept_.slopes[{slopeOp, which}];
            if (!along) {
                along = std::make_shared<const std::vector<glm::vec3>>(surfaceSlopes(mesh, *numbers));
            }
            slopes.back() = *along;
        }
    };
    for (std::size_t set = 0; set < 2 * mesh.uvSets.size(); ++set) {
        const auto& uvs = mesh.uvSets[set / 2];
        keep(
            Op::uv, Op::uvSlope, set, [&](std::size_t v) { return uvs[v][static_cast<int>(set % 2)]; },
            fields_.uvs, fields_.uvSlopes);
    }
    for (std::size_t channel = 0; channel < 4 && !mesh.colours.empty(); ++channel) {
        keep(
            Op::colour, Op::colourSlope, channel,
            [&](std::size_t v) { return mesh.colours[v][static_cast<int>(channel)]; }, fields_.colours,
            fields_.colourSlopes);
    }
    for (std::size_t s = 0; s < mesh.stored.size(); ++s) {
        keep(
            Op::stored, Op::storedSlope, s, [&](std::size_t v) { return mesh.stored[s].values[v]; },
            fields_.stored, fields_.storedSlopes);
    }
}

void Performance::run(double turn, const Copy& copy, std::span<glm::vec3> positions,
                      std::span<glm::vec3> normals, bool here) const {
    const Evaluator::Target targets[] = {{{}, positions}, {{}, normals}};
    const Evaluator& evaluator = normals.empty() ? *alone_ : *both_;
    const auto wanted = std::span(targets).first(normals.empty() ? 1 : 2);
    const float phi = insideTurn(turn);
    if (here) {
        evaluator.runRange(fields_, copy, phi, 0, vertexCount(), wanted);
    } else {
        evaluator.run(fields_, copy, phi, wanted);
    }
}

void Performance::pose(double turn, const Copy& copy, std::span<glm::vec3> positions,
                       std::span<glm::vec3> normals) const {
    run(turn, copy, positions, normals, false);
}

void Performance::poseHere(double turn, const Copy& copy, std::span<glm::vec3> positions,
                           std::span<glm::vec3> normals) const {
    run(turn, copy, positions, normals, true);
}

std::vector<glm::vec3> Performance::trace(std::size_t vertex, std::span<const double> turns, const Copy& copy,
                                          NodeId node) const {
    const NodeId roots[] = {node};
    const Evaluator evaluator(composition_.graph, roots);
    std::vector<glm::vec3> places(turns.size());
    for (std::size_t i = 0; i < turns.size(); ++i) {
        const Evaluator::Target target{{}, std::span(places).subspan(i, 1)};
        evaluator.runRange(fields_, copy, insideTurn(turns[i]), vertex, 1, {&target, 1});
    }
    return places;
}

std::vector<float> Performance::traceNumber(std::size_t vertex, std::span<const double> turns,
                                            const Copy& copy, NodeId node) const {
    const NodeId roots[] = {node};
    const Evaluator evaluator(composition_.graph, roots);
    std::vector<float> numbers(turns.size());
    for (std::size_t i = 0; i < turns.size(); ++i) {
        const Evaluator::Target target{std::span(numbers).subspan(i, 1), {}};
        evaluator.runRange(fields_, copy, insideTurn(turns[i]), vertex, 1, {&target, 1});
    }
    return numbers;
}

std::vector<float> Performance::values(NodeId node, double turn, const Copy& copy) const {
    const NodeId roots[] = {node};
    std::vector<float> numbers(vertexCount());
    const Evaluator::Target target{numbers, {}};
    Evaluator(composition_.graph, roots).run(fields_, copy, insideTurn(turn), {&target, 1});
    return numbers;
}

std::optional<Stray> findStray(double turn, std::span<const glm::vec3> positions,
                               std::span<const glm::vec3> normals) {
    const auto odd = [](const glm::vec3& v) { return !std::isfinite(v.x + v.y + v.z); };
    for (std::size_t v = 0; v < positions.size(); ++v) {
        if (odd(positions[v]) || (!normals.empty() && odd(normals[v]))) {
            return Stray{v, turn - std::floor(turn)};
        }
    }
    return std::nullopt;
}

std::size_t furthestVertex(const Performance& performance, int turns) {
    const std::span<const glm::vec3> rest = performance.fields().positions;
    std::vector<glm::vec3> pose(performance.vertexCount());
    std::size_t furthest = 0;
    float most = 0.0f;
    for (int i = 0; i < turns; ++i) {
        performance.pose(static_cast<double>(i) / turns, {}, pose, {});
        for (std::size_t v = 0; v < pose.size(); ++v) {
            const glm::vec3 way = pose[v] - rest[v];
            if (glm::dot(way, way) > most) {
                most = glm::dot(way, way);
                furthest = v;
            }
        }
    }
    return furthest;
}

} // namespace ripple::motion
