#include "demo/heron_skeleton.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::demo {

const std::array<HeronBone, kHeronJoints> kHeronBones = {{
    {"root", -1, {0.0f, 0.0f, 0.0f}},
    {"body", kRoot, {0.0f, 0.520f, -0.050f}},
    {"chest", kBody, {0.0f, 0.560f, 0.080f}},
    {"neck 1", kChest, {0.0f, 0.600f, 0.165f}},
    {"neck 2", kNeck1, {0.0f, 0.640f, 0.225f}},
    {"neck 3", kNeck2, {0.0f, 0.712f, 0.232f}},
    {"neck 4", kNeck3, {0.0f, 0.775f, 0.180f}},
    {"neck 5", kNeck4, {0.0f, 0.848f, 0.138f}},
    {"neck 6", kNeck5, {0.0f, 0.925f, 0.146f}},
    {"head", kNeck6, {0.0f, 0.972f, 0.190f}},
    {"beak", kHead, {0.0f, 0.974f, 0.252f}},
    {"tail", kBody, {0.0f, 0.480f, -0.190f}},
    {"wing left", kChest, {0.072f, 0.590f, 0.085f}},
    {"wing tip left", kWingL, {0.094f, 0.520f, -0.110f}},
    {"wing right", kChest, {-0.072f, 0.590f, 0.085f}},
    {"wing tip right", kWingR, {-0.094f, 0.520f, -0.110f}},
    {"hip left", kBody, {0.045f, 0.485f, -0.030f}},
    {"knee left", kHipL, {0.054f, 0.420f, 0.028f}},
    {"ankle left", kKneeL, {0.054f, 0.228f, -0.047f}},
    {"foot left", kAnkleL, {0.054f, 0.014f, 0.000f}},
    {"hip right", kBody, {-0.045f, 0.485f, -0.030f}},
    {"knee right", kHipR, {-0.054f, 0.420f, 0.028f}},
    {"ankle right", kKneeR, {-0.054f, 0.228f, -0.047f}},
    {"foot right", kAnkleR, {-0.054f, 0.014f, 0.000f}},
}};

namespace {

constexpr float kRadians = 3.14159265f / 180.0f;
constexpr std::array<HeronJoint, 8> kNeckJoints = {kNeck1, kNeck2, kNeck3, kNeck4,
                                                   kNeck5, kNeck6, kHead,  kBeak};
constexpr glm::vec3 kBeakTip(0.0f, 0.952f, 0.425f);

const glm::vec3& restOf(std::size_t joint) {
    return kHeronBones[joint].rest;
}

/// Turns about +X: up goes toward forward.
glm::quat pitched(float degrees) {
    return glm::angleAxis(degrees * kRadians, glm::vec3(1.0f, 0.0f, 0.0f));
}
glm::quat turned(float degrees) {
    return glm::angleAxis(degrees * kRadians, glm::vec3(0.0f, 1.0f, 0.0f));
}
glm::quat rolled(float degrees) {
    return glm::angleAxis(degrees * kRadians, glm::vec3(0.0f, 0.0f, 1.0f));
}

/// Degrees from up toward forward.
float pitchOf(const glm::vec3& way) {
    return std::atan2(way.z, way.y) / kRadians;
}

float restPitch(std::size_t i) {
    const glm::vec3 to = i + 1 < kNeckJoints.size() ? restOf(kNeckJoints[i + 1]) : kBeakTip;
    return pitchOf(to - restOf(kNeckJoints[i]));
}

/// Rotations and places in the world while a pose is being built.
struct Worlds {
    std::array<glm::quat, kHeronJoints> rotation;
    std::array<glm::vec3, kHeronJoints> place;

    void hang(std::size_t joint, const glm::quat& world) {
        const auto parent = static_cast<std::size_t>(kHeronBones[joint].parent);
        place[joint] = place[parent] + rotation[parent] * (restOf(joint) - restOf(parent));
        rotation[joint] = world;
    }
};

/// Hip, knee, ankle and foot of one leg so that the foot stands where the posture wants it.
void solveLeg(Worlds& worlds, const Posture& posture, std::size_t side) {
    const std::size_t hip = side == 0 ? kHipL : kHipR;
    const std::size_t knee = hip + 1;
    const std::size_t ankle = hip + 2;
    const std::size_t foot = hip + 3;
    worlds.hang(hip, worlds.rotation[kBody] * pitched(-posture.thighSwing[side]));
    worlds.hang(knee, glm::quat(1.0f, 0.0f, 0.0f, 0.0f));
    const glm::vec3 from = worlds.place[knee];
    const glm::vec3 sole = posture.foot[side] + glm::vec3(0.0f, restOf(foot).y, 0.0f);
    const glm::vec3 way = sole - from;
    const glm::vec3 shin = restOf(ankle) - restOf(knee);
    const glm::vec3 shank = restOf(foot) - restOf(ankle);
    const float upper = glm::length(shin);
    const float lower = glm::length(shank);
    const float reach = std::min(glm::length(way), 0.9995f * (upper + lower));
    const float cosine = (upper * upper + reach * reach - lower * lower) / (2.0f * upper * reach);
    const float bend = std::acos(std::clamp(cosine, -1.0f, 1.0f)) / kRadians;
    // Angles here are pitches from up; a leg points down. A smaller pitch below 180 is more forward.
    const float straight = std::atan2(way.z, way.y) / kRadians;
    const float line = straight < 0.0f ? straight + 360.0f : straight;
    const float shinPitch = line + bend; // backward
    const glm::vec3 ankleWay(0.0f, upper * std::cos(shinPitch * kRadians),
                             upper * std::sin(shinPitch * kRadians));
    const glm::quat sideways = rolled(std::atan2(way.x, -way.y) / kRadians);
    worlds.rotation[knee] = sideways * pitched(shinPitch - pitchOf(shin));
    worlds.hang(ankle, glm::quat(1.0f, 0.0f, 0.0f, 0.0f));
    const glm::vec3 rest = glm::vec3(0.0f, way.y, way.z) * (reach / glm::length(way)) - ankleWay;
    worlds.rotation[ankle] = sideways * pitched(pitchOf(rest) - pitchOf(shank));
    worlds.hang(foot, pitched(posture.toeDroop[side]));
}

Aim mixed(const Aim& a, const Aim& b, float t) {
    return {a.pitch + (b.pitch - a.pitch) * t, a.turn + (b.turn - a.turn) * t};
}

} // namespace

Posture standing() {
    Posture posture;
    for (std::size_t i = 0; i < kNeckJoints.size(); ++i) {
        posture.neck[i].pitch = restPitch(i);
    }
    posture.foot = {glm::vec3(restOf(kFootL).x, 0.0f, restOf(kFootL).z),
                    glm::vec3(restOf(kFootR).x, 0.0f, restOf(kFootR).z)};
    return posture;
}

Posture between(const Posture& a, const Posture& b, float t) {
    const auto mix = [t](auto x, auto y) { return x + (y - x) * t; };
    Posture p;
    p.bodyShift = mix(a.bodyShift, b.bodyShift);
    p.bodyPitch = mix(a.bodyPitch, b.bodyPitch);
    p.bodyRoll = mix(a.bodyRoll, b.bodyRoll);
    p.bodyTurn = mix(a.bodyTurn, b.bodyTurn);
    p.chestPitch = mix(a.chestPitch, b.chestPitch);
    p.tailLift = mix(a.tailLift, b.tailLift);
    p.wingDroopL = mix(a.wingDroopL, b.wingDroopL);
    p.wingDroopR = mix(a.wingDroopR, b.wingDroopR);
    for (std::size_t i = 0; i < p.neck.size(); ++i) {
        p.neck[i] = mixed(a.neck[i], b.neck[i], t);
    }
    for (std::size_t side = 0; side < 2; ++side) {
        p.foot[side] = mix(a.foot[side], b.foot[side]);
        p.toeDroop[side] = mix(a.toeDroop[side], b.toeDroop[side]);
        p.thighSwing[side] = mix(a.thighSwing[side], b.thighSwing[side]);
    }
    return p;
}

HeronPose solvePosture(const Posture& posture) {
    Worlds worlds;
    worlds.rotation[kRoot] = glm::quat(1.0f, 0.0f, 0.0f, 0.0f);
    worlds.place[kRoot] = restOf(kRoot);
    worlds.hang(kBody, turned(posture.bodyTurn) * rolled(posture.bodyRoll) * pitched(posture.bodyPitch));
    worlds.place[kBody] += posture.bodyShift;
    worlds.hang(kChest, worlds.rotation[kBody] * pitched(posture.chestPitch));
    for (std::size_t i = 0; i < kNeckJoints.size(); ++i) {
        const Aim& aim = posture.neck[i];
        worlds.hang(kNeckJoints[i], turned(aim.turn) * pitched(aim.pitch - restPitch(i)));
    }
    worlds.hang(kTail, worlds.rotation[kBody] * pitched(posture.tailLift));
    worlds.hang(kWingL,
                worlds.rotation[kChest] * rolled(posture.wingDroopL) * pitched(-0.5f * posture.wingDroopL));
    worlds.hang(kWingTipL, worlds.rotation[kWingL] * pitched(-0.4f * posture.wingDroopL));
    worlds.hang(kWingR,
                worlds.rotation[kChest] * rolled(-posture.wingDroopR) * pitched(-0.5f * posture.wingDroopR));
    worlds.hang(kWingTipR, worlds.rotation[kWingR] * pitched(-0.4f * posture.wingDroopR));
    solveLeg(worlds, posture, 0);
    solveLeg(worlds, posture, 1);

    HeronPose pose;
    pose.rotation[kRoot] = worlds.rotation[kRoot];
    for (std::size_t j = 1; j < kHeronJoints; ++j) {
        const auto parent = static_cast<std::size_t>(kHeronBones[j].parent);
        pose.rotation[j] = glm::normalize(glm::inverse(worlds.rotation[parent]) * worlds.rotation[j]);
    }
    pose.bodyTranslation = worlds.place[kBody];
    return pose;
}

} // namespace ripple::demo
