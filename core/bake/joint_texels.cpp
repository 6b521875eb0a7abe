#include "bake/joint_texels.h"

#include "bake/pose_decoder.h"
#include "bake/quaternions.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include <glm/geometric.hpp>
#include <glm/gtc/quaternion.hpp>
#include <glm/mat3x3.hpp>
#include <glm/matrix.hpp>

namespace ripple::bake {

namespace {

constexpr double kNothing = 1e-12; // a scale of less is taken for none

double longestColumn(const glm::dmat3& linear) {
    return std::max({glm::length(linear[0]), glm::length(linear[1]), glm::length(linear[2])});
}

/// Into −1..1 and back: what a store with a range holds of four numbers.
glm::vec4 centred(const glm::vec4& v, const glm::vec4& min, const glm::vec4& max) {
    glm::vec4 result(0.0f);
    for (int i = 0; i < 4; ++i) {
        const float size = max[i] - min[i];
        result[i] = size > 0.0f ? 2.0f * (v[i] - min[i]) / size - 1.0f : -1.0f;
    }
    return result;
}

/// Ranges of texel `k` of a joint.
struct TexelRange {
    glm::vec4 min{-1.0f};
    glm::vec4 max{1.0f};
};
TexelRange rangeOf(const BakeFormat& format, std::size_t k) {
    const Range& place = format.ranges.front();
    const glm::vec2& others = format.joints.range;
    if (format.joints.matrix) {
        const auto axis = static_cast<int>(k);
        return {glm::vec4(glm::vec3(others.x), place.min[axis]),
                glm::vec4(glm::vec3(others.y), place.max[axis])};
    }
    return k == 0 ? TexelRange{glm::vec4(place.min, others.x), glm::vec4(place.max, others.y)} : TexelRange{};
}

/// t · q, for a place t as a quaternion without a real part.
glm::vec4 dualOf(const glm::vec3& t, const glm::vec4& q) {
    const glm::vec3 axis(q);
    return {q.w * t + glm::cross(t, axis), -glm::dot(t, axis)};
}

glm::mat4 rigid(const glm::vec4& q, const glm::vec4& d, float scale) {
    const float over = 1.0f / std::max(glm::dot(q, q), 1e-12f);
    const glm::vec3 axis(q);
    const glm::vec3 dual(d);
    const glm::vec3 place = (q.w * dual - d.w * axis + glm::cross(axis, dual)) * over;
    const float two = 2.0f * over;
    const glm::vec3 x(1.0f - two * (q.y * q.y + q.z * q.z), two * (q.x * q.y + q.z * q.w),
                      two * (q.x * q.z - q.y * q.w));
    const glm::vec3 y(two * (q.x * q.y - q.z * q.w), 1.0f - two * (q.x * q.x + q.z * q.z),
                      two * (q.y * q.z + q.x * q.w));
    const glm::vec3 z(two * (q.x * q.z + q.y * q.w), two * (q.y * q.z - q.x * q.w),
                      1.0f - two * (q.x * q.x + q.y * q.y));
    return {glm::vec4(scale * x, 0.0f), glm::vec4(scale * y, 0.0f), glm::vec4(scale * z, 0.0f),
            glm::vec4(place, 1.0f)};
}

} // namespace

double unevenness(const glm::dmat4& transform) {
    const glm::dmat3 linear(transform);
    if (longestColumn(linear) < kNothing) {
        return 0.0;
    }
    const double scale = std::cbrt(std::abs(glm::determinant(linear)));
    if (scale < kNothing) {
        return 1.0;
    }
    double most = 0.0;
    for (int a = 0; a < 3; ++a) {
        most = std::max(most, std::abs(glm::length(linear[a]) / scale - 1.0));
        const int b = (a + 1) % 3;
        most = std::max(most, std::abs(glm::dot(linear[a], linear[b])) / (scale * scale));
    }
    return most;
}

void makeTexels(const glm::dmat4& transform, bool matrix, std::span<glm::vec4> texels) {
    if (matrix) {
        for (int r = 0; r < 3; ++r) {
            texels[static_cast<std::size_t>(r)] =
                glm::vec4(transform[0][r], transform[1][r], transform[2][r], transform[3][r]);
        }
        return;
    }
    const glm::dmat3 linear(transform);
    const double scale = std::cbrt(glm::determinant(linear));
    const bool turns = std::abs(scale) >= kNothing;
    glm::dquat q = turns ? glm::normalize(glm::quat_cast(linear / scale)) : glm::dquat(1.0, 0.0, 0.0, 0.0);
    q = q.w < 0.0 ? -q : q; // either sign is the same rotation
    texels[0] = glm::vec4(transform[3][0], transform[3][1], transform[3][2], turns ? scale : 0.0);
    texels[1] = glm::vec4(q.x, q.y, q.z, q.w);
}

void encodeJoints(const BakeFormat& format, std::span<const glm::vec4> values, std::byte* texels) {
    std::vector<glm::vec4> stored(values.begin(), values.end());
    for (std::size_t i = 0; i < stored.size() && format.positionStore.usesRange; ++i) {
        const TexelRange range = rangeOf(format, i % format.joints.texels());
        stored[i] = centred(stored[i], range.min, range.max);
    }
    encodeFours(format.positionStore, stored, &texels);
}

void decodeJoints(const BakeFormat& format, const std::byte* texels, std::span<glm::vec4> values) {
    decodeFours(format.positionStore, &texels, values);
    for (std::size_t i = 0; i < values.size() && format.positionStore.usesRange; ++i) {
        const TexelRange range = rangeOf(format, i % format.joints.texels());
        values[i] = range.min + (values[i] * 0.5f + 0.5f) * (range.max - range.min);
    }
}

JointInfluences rounded(const JointInfluences& influences) {
    constexpr float kSteps = 65535.0f;
    JointInfluences result = influences;
    long left = 65535;
    for (std::size_t i = 1; i < JointInfluences::kMost; ++i) {
        const long steps = std::lround(influences.weights[i] * kSteps);
        result.weights[i] = static_cast<float>(steps) / kSteps;
        left -= steps;
    }
    result.weights[0] = static_cast<float>(left) / kSteps; // the largest: it bears the rest
    return result;
}

void encodeInfluences(std::span<const JointInfluences> columns, std::size_t firstOfPair, image::Pixel pixel,
                      std::byte* texels) {
    for (const JointInfluences& own : columns) {
        for (std::size_t i = firstOfPair; i < firstOfPair + 2; ++i) {
            if (pixel == image::Pixel::u16) {
                const std::uint16_t pair[] = {
                    own.joints[i], static_cast<std::uint16_t>(std::lround(own.weights[i] * 65535.0f))};
                std::memcpy(texels, pair, sizeof pair);
                texels += sizeof pair;
            } else {
                const float pair[] = {static_cast<float>(own.joints[i]), own.weights[i]};
                std::memcpy(texels, pair, sizeof pair);
                texels += sizeof pair;
            }
        }
    }
}

std::vector<JointInfluences> decodeInfluences(const TextureSet& set) {
    const image::Image& picture = set.image(kInfluence);
    const bool whole = picture.pixel == image::Pixel::u16;
    std::vector<JointInfluences> columns(set.layout.columns);
    const auto most = static_cast<float>(set.joints.joints - 1);
    for (std::size_t pair = 0; pair < set.joints.influences / 2; ++pair) {
        for (std::size_t c = 0; c < columns.size(); ++c) {
            const std::byte* texel = picture.texel(set.layout.x(c), set.layout.y(pair, c));
            std::array<float, 4> values{};
            if (whole) {
                std::array<std::uint16_t, 4> stored{};
                std::memcpy(stored.data(), texel, sizeof stored);
                values = {static_cast<float>(stored[0]), static_cast<float>(stored[1]) / 65535.0f,
                          static_cast<float>(stored[2]), static_cast<float>(stored[3]) / 65535.0f};
            } else {
                std::memcpy(values.data(), texel, sizeof values);
            }
            for (std::size_t i = 0; i < 2; ++i) {
                // A damaged file must not lead out of the table.
                const float joint =
                    std::isfinite(values[2 * i]) ? std::clamp(values[2 * i], 0.0f, most) : 0.0f;
                columns[c].joints[2 * pair + i] = static_cast<std::uint16_t>(joint);
                columns[c].weights[2 * pair + i] = values[2 * i + 1];
            }
        }
    }
    return columns;
}

std::vector<std::vector<glm::vec2>> influencesAsUvs(std::span<const JointInfluences> vertices,
                                                    std::size_t influences) {
    std::vector<std::vector<glm::vec2>> sets;
    const auto add = [&](const auto& valueOf) {
        std::vector<glm::vec2>& set = sets.emplace_back();
        set.reserve(vertices.size());
        for (const JointInfluences& own : vertices) {
            set.push_back(valueOf(own));
        }
    };
    const auto two = [](const JointInfluences& own, std::size_t i) {
        return static_cast<float>(own.joints[i] + kMostJointsInUvs * own.joints[i + 1]);
    };
    for (std::size_t i = 0; i < influences; i += 4) {
        add([&](const JointInfluences& own) { return glm::vec2(two(own, i), two(own, i + 2)); });
    }
    for (std::size_t i = 0; i < influences; i += 2) {
        add([&](const JointInfluences& own) { return glm::vec2(own.weights[i], own.weights[i + 1]); });
    }
    return sets;
}

std::vector<JointInfluences> influencesOfUvs(std::span<const std::vector<glm::vec2>> sets,
                                             std::size_t influences) {
    std::vector<JointInfluences> vertices(sets.front().size());
    const std::size_t fours = (influences + 3) / 4;
    for (std::size_t v = 0; v < vertices.size(); ++v) {
        for (std::size_t i = 0; i < influences; ++i) {
            const float two = sets[i / 4][v][i % 4 < 2 ? 0 : 1];
            const auto whole = std::isfinite(two) && two >= 0.0f && two < 16777216.0f
                                   ? static_cast<std::uint32_t>(two + 0.5f)
                                   : 0u;
            const std::uint32_t joint = i % 2 == 0 ? whole % kMostJointsInUvs : whole / kMostJointsInUvs;
            vertices[v].joints[i] = static_cast<std::uint16_t>(joint);
            vertices[v].weights[i] = sets[fours + i / 2][v][i % 2 == 0 ? 0 : 1];
        }
    }
    return vertices;
}

JointInputs jointInputs(std::span<const std::vector<glm::vec2>> sets, std::size_t influences) {
    const bool eight = influences > 4;
    const std::size_t weights = eight ? 2 : 1; // sets of pairs come first
    JointInputs inputs;
    for (std::size_t v = 0; v < sets.front().size(); ++v) {
        const auto four = [&](std::size_t s) { return glm::vec4(sets[s][v], sets[s + 1][v]); };
        inputs.pairs.push_back(eight ? four(0) : glm::vec4(sets[0][v], 0.0f, 0.0f));
        inputs.weights.push_back(four(weights));
        inputs.moreWeights.push_back(eight ? four(weights + 2) : glm::vec4(0.0f));
    }
    return inputs;
}

void blendJoints(const JointFormat& format, std::span<const std::vector<glm::vec4>> frames,
                 const FrameBlend& moment, std::span<glm::mat4> transforms) {
    const auto& weights = moment.weights;
    for (std::size_t j = 0; j < transforms.size(); ++j) {
        if (format.matrix) {
            std::array<glm::vec4, 3> rows{};
            for (std::size_t i = 0; i < frames.size(); ++i) {
                for (std::size_t r = 0; r < 3; ++r) {
                    rows[r] += weights[i] * frames[i][3 * j + r];
                }
            }
            transforms[j] =
                glm::transpose(glm::mat4(rows[0], rows[1], rows[2], glm::vec4(0.0f, 0.0f, 0.0f, 1.0f)));
            continue;
        }
        glm::vec4 q(0.0f);
        glm::vec4 d(0.0f);
        float scale = 0.0f;
        std::array<glm::vec4, FrameBlend::kMost> turns{};
        for (std::size_t i = 0; i < frames.size(); ++i) {
            const glm::vec4& place = frames[i][2 * j];
            turns[i] = i == 0 ? frames[i][2 * j + 1] : nearTo(turns[moment.near[i]], frames[i][2 * j + 1]);
            q += weights[i] * turns[i];
            d += weights[i] * dualOf(glm::vec3(place), turns[i]);
            scale += weights[i] * place.w;
        }
        transforms[j] = rigid(q, d, scale);
    }
}

} // namespace ripple::bake
