// The crab of the quay: few triangles, two gaits, for thousands of copies.

#include "demo/make_demo.h"
#include "demo/noise.h"
#include "demo/skinned_model.h"
#include "demo/surface.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <glm/gtc/constants.hpp>

namespace ripple::demo {

namespace {

constexpr std::size_t kLegs = 8; ///< four on its left (+X), four on its right
constexpr glm::vec3 kMiddle(0.0f, 0.085f, 0.0f);

// Joints: root, body, then for each leg its hip and its knee, then for each claw its arm and its pincer.
constexpr std::size_t kBodyBone = 1;
constexpr std::size_t hipBone(std::size_t leg) {
    return 2 + 2 * leg;
}
constexpr std::size_t armBone(std::size_t claw) {
    return 2 + 2 * kLegs + 2 * claw;
}
constexpr std::size_t kBones = 2 + 2 * kLegs + 4;

struct Leg {
    glm::vec3 hip;
    glm::vec3 knee;
    glm::vec3 foot;
};

Leg legAtRest(std::size_t leg) {
    const float side = leg < kLegs / 2 ? 1.0f : -1.0f;
    const auto row = static_cast<float>(leg % (kLegs / 2)); // from front to back
    const float spread = 0.62f - 0.42f * row;               // how far forward it points
    const glm::vec3 way = glm::normalize(glm::vec3(side, 0.0f, spread * 0.8f));
    const glm::vec3 hip = kMiddle + glm::vec3(side * 0.085f, -0.008f, 0.052f - 0.033f * row);
    const glm::vec3 knee = hip + way * 0.085f + glm::vec3(0.0f, 0.052f, 0.0f);
    const glm::vec3 foot = hip + way * 0.165f;
    return {hip, knee, {foot.x, 0.0f, foot.z}};
}

struct Claw {
    glm::vec3 arm;
    glm::vec3 wrist;
    glm::vec3 tip;
};

Claw clawAtRest(std::size_t claw) {
    const float side = claw == 0 ? 1.0f : -1.0f;
    return {kMiddle + glm::vec3(side * 0.055f, 0.0f, 0.065f),
            kMiddle + glm::vec3(side * 0.105f, 0.012f, 0.125f),
            kMiddle + glm::vec3(side * 0.055f, 0.006f, 0.205f)};
}

glm::quat between(const glm::vec3& from, const glm::vec3& to) {
    const glm::vec3 a = glm::normalize(from);
    const glm::vec3 b = glm::normalize(to);
    return glm::normalize(glm::quat(1.0f + glm::dot(a, b), glm::cross(a, b)));
}

/// Where the knee comes to between hip and foot, bones keeping their lengths, in the upright plane through
/// both, above the line between them.
glm::vec3 kneeOf(const Leg& rest, const glm::vec3& hip, const glm::vec3& foot) {
    const float upper = glm::distance(rest.hip, rest.knee);
    const float lower = glm::distance(rest.knee, rest.foot);
    const glm::vec3 way = foot - hip;
    const float reach = std::clamp(glm::length(way), std::abs(upper - lower) + 1e-4f, upper + lower - 1e-4f);
    const float along = (upper * upper - lower * lower + reach * reach) / (2.0f * reach);
    const float up = std::sqrt(std::max(0.0f, upper * upper - along * along));
    const glm::vec3 u = glm::normalize(way);
    const glm::vec3 v = glm::normalize(glm::vec3(0.0f, 1.0f, 0.0f) - u * u.y);
    return hip + u * along + v * up;
}

struct Stance {
    glm::vec3 body{0.0f};                ///< from rest
    float roll = 0.0f;                   ///< radians about +Z
    std::array<glm::vec3, kLegs> feet{}; ///< from rest
    std::array<float, 2> arms{};         ///< radians that the claws are lifted
    std::array<float, 2> pincers{};      ///< radians that they open
};

SkeletonPose solve(const Stance& stance) {
    SkeletonPose pose;
    pose.rotations.assign(kBones, glm::quat(1.0f, 0.0f, 0.0f, 0.0f));
    pose.translation = kMiddle + stance.body;
    const glm::quat body = glm::angleAxis(stance.roll, glm::vec3(0.0f, 0.0f, 1.0f));
    pose.rotations[kBodyBone] = body;
    const auto carried = [&](const glm::vec3& rest) { return pose.translation + body * (rest - kMiddle); };
    for (std::size_t leg = 0; leg < kLegs; ++leg) {
        const Leg rest = legAtRest(leg);
        const glm::vec3 hip = carried(rest.hip);
        const glm::vec3 foot = rest.foot + stance.feet[leg];
        const glm::vec3 knee = kneeOf(rest, hip, foot);
        const glm::quat upper = between(rest.knee - rest.hip, knee - hip);
        const glm::quat lower = between(rest.foot - rest.knee, foot - knee);
        pose.rotations[hipBone(leg)] = glm::inverse(body) * upper;
        pose.rotations[hipBone(leg) + 1] = glm::inverse(upper) * lower;
    }
    for (std::size_t claw = 0; claw < 2; ++claw) {
        const float side = claw == 0 ? 1.0f : -1.0f;
        pose.rotations[armBone(claw)] = glm::angleAxis(-stance.arms[claw], glm::vec3(1.0f, 0.0f, 0.0f));
        pose.rotations[armBone(claw) + 1] =
            glm::angleAxis(side * stance.pincers[claw], glm::vec3(0.0f, 1.0f, 0.0f));
    }
    return pose;
}

/// Sideways, toward +X: legs step in two groups. `stride` metres that a foot goes back while it stands, which
/// is `stands` of the loop.
Stance scuttle(float phase, float stride, float stands, float lift) {
    Stance stance;
    for (std::size_t leg = 0; leg < kLegs; ++leg) {
        const bool other = (leg + leg / (kLegs / 2)) % 2 == 1;
        const float p = phase + (other ? 0.5f : 0.0f);
        const float q = p - std::floor(p);
        if (q < stands) {
            stance.feet[leg].x = stride * (0.5f - q / stands); // the ground passes below at an even pace
        } else {
            const float s = (q - stands) / (1.0f - stands);
            const float eased = s * s * (3.0f - 2.0f * s);
            stance.feet[leg] = {stride * (eased - 0.5f), lift * std::sin(0.5f * glm::two_pi<float>() * s), 0.0f};
        }
    }
    stance.body.y = 0.004f * std::cos(2.0f * glm::two_pi<float>() * phase);
    stance.roll = 0.03f * std::sin(glm::two_pi<float>() * phase);
    stance.arms = {0.10f + 0.05f * std::sin(glm::two_pi<float>() * phase), 0.10f - 0.05f * std::sin(glm::two_pi<float>() * phase)};
    return stance;
}

constexpr float kWalkSeconds = 0.8f;
constexpr float kWalkStride = 0.075f;
constexpr float kWalkStands = 0.6f;
constexpr float kRunSeconds = 0.4f;
constexpr float kRunStride = 0.11f;
constexpr float kRunStands = 0.5f;
constexpr float kWaitSeconds = 2.0f;

SkeletonPose walkAt(float seconds) {
    return solve(scuttle(seconds / kWalkSeconds, kWalkStride, kWalkStands, 0.022f));
}

SkeletonPose runAt(float seconds) {
    Stance stance = scuttle(seconds / kRunSeconds, kRunStride, kRunStands, 0.034f);
    stance.body.y += 0.012f;
    stance.arms[0] += 0.35f;
    stance.arms[1] += 0.35f;
    return solve(stance);
}

/// Waits, breathes, and beckons with a claw.
SkeletonPose waitAt(float seconds) {
    const float phase = seconds / kWaitSeconds;
    Stance stance;
    stance.body.y = -0.012f + 0.003f * std::sin(2.0f * glm::two_pi<float>() * phase);
    const float wave = 0.5f - 0.5f * std::cos(glm::two_pi<float>() * phase);
    stance.arms = {0.1f + 0.75f * wave, 0.08f};
    stance.pincers = {0.45f * wave, 0.1f + 0.1f * std::sin(2.0f * glm::two_pi<float>() * phase)};
    return solve(stance);
}

glm::vec4 shell(float u, float v) {
    const float grain = noise(u * 70.0f, v * 70.0f, 61u);
    if (v > 0.5f) { // limbs, paler toward their tips
        const float along = 2.0f * v - 1.0f;
        const glm::vec3 tone =
            glm::mix(glm::vec3(0.66f, 0.26f, 0.16f), glm::vec3(0.88f, 0.62f, 0.42f), along * along);
        return {tone * (0.92f + 0.12f * grain), 1.0f};
    }
    const float spots = noise(u * 18.0f, v * 18.0f, 62u) > 0.35f ? 1.12f : 1.0f;
    const float belly = glm::smoothstep(0.28f, 0.42f, v);
    const glm::vec3 tone = glm::mix(glm::vec3(0.58f, 0.20f, 0.13f), glm::vec3(0.90f, 0.76f, 0.58f), belly);
    const bool eye =
        std::abs(v - 0.10f) < 0.018f && (std::abs(u - 0.20f) < 0.012f || std::abs(u - 0.30f) < 0.012f);
    return {eye ? glm::vec3(0.04f) : tone * spots * (0.94f + 0.1f * grain), 1.0f};
}

/// Builds the mesh, and which joints each vertex follows.
class CrabBuilder {
public:
    /// `jointsAt(v)`: of a patch's rows, from 0 at its top.
    using JointsAt = std::function<std::pair<std::array<std::uint8_t, 4>, std::array<float, 4>>(float v)>;

    void add(const SurfaceMesh::Patch& patch, const JointsAt& jointsAt) {
        mesh_.add(patch);
        for (std::size_t r = 0; r <= patch.rows; ++r) {
            auto [joints, weights] = jointsAt(static_cast<float>(r) / static_cast<float>(patch.rows));
            for (std::size_t k = 0; k < joints.size(); ++k) {
                joints[k] = weights[k] > 0.0f ? joints[k] : std::uint8_t{0}; // glTF: unused ones are 0
            }
            for (std::size_t c = 0; c <= patch.columns; ++c) {
                joints_.push_back(joints);
                weights_.push_back(weights);
            }
        }
    }

    /// A tapered limb through three points; the joint of each half, blended at the middle.
    void addLimb(const std::array<glm::vec3, 3>& points, const std::array<float, 3>& radii, std::size_t first,
                 std::size_t columns) {
        SurfaceMesh::Patch limb;
        limb.columns = columns;
        limb.rows = 4;
        limb.uvFrom = {0.0f, 0.5f};
        limb.at = [=](float u, float v) {
            const bool upper = v < 0.5f;
            const float part = upper ? 2.0f * v : 2.0f * v - 1.0f;
            const glm::vec3 from = upper ? points[0] : points[1];
            const glm::vec3 to = upper ? points[1] : points[2];
            const float radius = glm::mix(upper ? radii[0] : radii[1], upper ? radii[1] : radii[2], part);
            const glm::vec3 way = glm::normalize(to - from);
            const glm::vec3 side = glm::normalize(glm::cross(way, glm::vec3(0.02f, 1.0f, 0.03f)));
            const glm::vec3 up = glm::cross(side, way);
            const float angle = glm::two_pi<float>() * u;
            return glm::mix(from, to, part) + radius * (std::cos(angle) * side + std::sin(angle) * up);
        };
        const auto a = static_cast<std::uint8_t>(first);
        const auto b = static_cast<std::uint8_t>(first + 1);
        add(limb, [a, b](float v) {
            const float second = v < 0.4f ? 0.0f : v > 0.6f ? 1.0f : 0.5f;
            return std::pair(std::array<std::uint8_t, 4>{a, b, 0, 0},
                             std::array<float, 4>{1.0f - second, second, 0.0f, 0.0f});
        });
    }

    SkinnedModel finish() {
        SkinnedModel model;
        model.name = "crab";
        // finish() leaves out what no triangle uses: the seam rows at poles.
        const mesh::Mesh all = mesh_.finish("crab", "LIMB");
        model.mesh = all;
        model.joints = joints_;
        model.weights = weights_;
        return model;
    }

private:
    SurfaceMesh mesh_;
    std::vector<std::array<std::uint8_t, 4>> joints_;
    std::vector<std::array<float, 4>> weights_;
};

SkinnedModel buildCrab() {
    CrabBuilder builder;
    SurfaceMesh::Patch body;
    body.columns = 14;
    body.rows = 7;
    body.uvTo = {1.0f, 0.5f};
    body.at = [](float u, float v) {
        // A broad flat shell; open at its poles by a hair, so that every vertex is used.
        const float down = 0.5f * glm::two_pi<float>() * (0.02f + 0.96f * v);
        const float angle = glm::two_pi<float>() * u;
        const float wide = std::sin(down);
        return kMiddle + glm::vec3(0.105f * wide * std::sin(angle), 0.042f * std::cos(down),
                                   0.078f * wide * std::cos(angle));
    };
    builder.add(body, [](float) {
        return std::pair(std::array<std::uint8_t, 4>{kBodyBone, 0, 0, 0},
                         std::array<float, 4>{1.0f, 0.0f, 0.0f, 0.0f});
    });
    for (std::size_t leg = 0; leg < kLegs; ++leg) {
        const Leg rest = legAtRest(leg);
        builder.addLimb({rest.hip, rest.knee, rest.foot}, {0.015f, 0.011f, 0.002f}, hipBone(leg), 4);
    }
    for (std::size_t claw = 0; claw < 2; ++claw) {
        const Claw rest = clawAtRest(claw);
        builder.addLimb({rest.arm, rest.wrist, rest.tip}, {0.016f, 0.030f, 0.003f}, armBone(claw), 5);
    }
    SkinnedModel model = builder.finish();
    model.bones = {{"root", -1, glm::vec3(0.0f)}, {"body", 0, kMiddle}};
    for (std::size_t leg = 0; leg < kLegs; ++leg) {
        const Leg rest = legAtRest(leg);
        const std::string which = std::to_string(leg % (kLegs / 2) + 1) + (leg < kLegs / 2 ? "L" : "R");
        model.bones.push_back({"hip" + which, 1, rest.hip});
        model.bones.push_back({"knee" + which, static_cast<int>(hipBone(leg)), rest.knee});
    }
    for (std::size_t claw = 0; claw < 2; ++claw) {
        const Claw rest = clawAtRest(claw);
        const std::string which = claw == 0 ? "L" : "R";
        model.bones.push_back({"arm" + which, 1, rest.arm});
        model.bones.push_back({"pincer" + which, static_cast<int>(armBone(claw)), rest.wrist});
    }
    model.moving = kBodyBone;
    model.clips = {
        {"walk", kWalkSeconds, &walkAt}, {"run", kRunSeconds, &runAt}, {"wait", kWaitSeconds, &waitAt}};
    return model;
}

} // namespace

void makeCrab(const std::filesystem::path& file) {
    writeSkinned(buildCrab(), paint(256, false, shell), "shell", file);
}

} // namespace ripple::demo
