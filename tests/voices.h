#pragma once

#include "mesh/mesh.h"
#include "motion/kinds.h"
#include "motion/vertex_fields.h"
#include "motion/compose_score.h"

#include <random>
#include <vector>

#include <glm/geometric.hpp>

namespace ripple::tests {

/// Vertices anywhere in a box of 2 m, with UVs, colours and a stored value that are linear in the position,
/// so that their slopes are known exactly.
class LinearFields {
public:
    explicit LinearFields(std::size_t vertices, unsigned seed = 1) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<float> any(-1.0f, 1.0f);
        for (std::size_t k = 0; k < 9; ++k) {
            slopes_.push_back(0.4f * glm::vec3(any(random), any(random), any(random)));
        }
        for (std::size_t v = 0; v < vertices; ++v) {
            positions.push_back({any(random), any(random), any(random)});
            normals.push_back(glm::normalize(glm::vec3(any(random), any(random), 1.5f)));
        }
        moveTo(positions);
    }

    /// The fields at other places.
    void moveTo(const std::vector<glm::vec3>& to) {
        positions = to;
        numbers_.assign(9, {});
        slopeLists_.assign(9, {});
        for (std::size_t k = 0; k < 9; ++k) {
            for (const glm::vec3& p : positions) {
                numbers_[k].push_back(0.5f + glm::dot(slopes_[k], p));
            }
            slopeLists_[k].assign(positions.size(), slopes_[k]);
        }
        fields = {};
        fields.positions = positions;
        fields.normals = normals;
        for (std::size_t k = 0; k < 9; ++k) {
            (k < 4 ? fields.uvs : k < 8 ? fields.colours : fields.stored).push_back(numbers_[k]);
            (k < 4   ? fields.uvSlopes
             : k < 8 ? fields.colourSlopes
                     : fields.storedSlopes)
                .push_back(slopeLists_[k]);
        }
    }
    static motion::Model model() {
        motion::Model model;
        model.size = 3.4641;
        model.uvSets = 2;
        model.colours = true;
        model.stored = {"age"};
        return model;
    }

    std::vector<glm::vec3> positions;
    std::vector<glm::vec3> normals;
    motion::VertexFields fields;

private:
    std::vector<glm::vec3> slopes_;
    std::vector<std::vector<float>> numbers_;
    std::vector<std::vector<glm::vec3>> slopeLists_;
};

/// A voice of these kinds with sizes that all can be seen in; masks -1: held by nothing.
inline motion::Voice voiceOf(int shape, int push, int course, int mask) {
    motion::Voice voice;
    voice.name = "v" + std::to_string(shape) + std::to_string(push) + std::to_string(course) +
                 std::to_string(mask + 1);
    voice.shape.kind = motion::shapeKinds()[static_cast<std::size_t>(shape)].kind;
    voice.shape.softness = 0.2;
    voice.shape.detail = 2;
    voice.push.kind = motion::pushKinds()[static_cast<std::size_t>(push)].kind;
    voice.push.direction = {0.3f, 0.2f, 0.9f};
    voice.push.length = {0.1f, 1.0f, 0.0f};
    voice.push.point = {0.2f, -1.1f, 0.1f};
    voice.push.span = {1.6, false};
    voice.course.kind = motion::courseKinds()[static_cast<std::size_t>(course)].kind;
    voice.course.direction = {0.8f, 0.5f, -0.2f};
    voice.course.point = {-1.3f, 0.4f, 1.2f};
    voice.course.uvSet = 1;
    voice.wavelength = {1.7, false};
    voice.amplitude = {0.15, false};
    voice.degrees = 35.0;
    voice.turns = 2;
    voice.phase = 0.13;
    if (mask >= 0) {
        motion::MaskTerm term;
        term.kind = motion::maskKinds()[static_cast<std::size_t>(mask)].kind;
        term.direction = {0.1f, 0.9f, 0.2f};
        term.point = {0.05f, -0.2f, 0.3f};
        term.uvAxis = 1;
        term.stored = "age";
        term.low = term.kind == motion::MaskKind::planes ? -0.9 : 0.1;
        term.high = term.kind == motion::MaskKind::point || term.kind == motion::MaskKind::line ? 2.0 : 0.95;
        term.easing = motion::easings()[static_cast<std::size_t>(mask) % 4].kind;
        term.flip = mask % 2 == 1;
        term.floor = 0.1;
        voice.heldBy = {term};
    }
    return voice;
}

inline motion::Score scoreOf(std::vector<motion::Voice> voices) {
    motion::Score score;
    score.name = "test";
    score.voices = std::move(voices);
    return score;
}

} // namespace ripple::tests
