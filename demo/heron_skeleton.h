#pragma once

#include <array>
#include <cstddef>

#include <glm/gtc/quaternion.hpp>
#include <glm/vec3.hpp>

namespace ripple::demo {

/// The heron's 24 joints, parents before children. Metres, +Y up, it looks along +Z, its left is +X.
enum HeronJoint : std::size_t {
    kRoot,
    kBody,
    kChest,
    kNeck1,
    kNeck2,
    kNeck3,
    kNeck4,
    kNeck5,
    kNeck6,
    kHead,
    kBeak,
    kTail,
    kWingL,
    kWingTipL,
    kWingR,
    kWingTipR,
    kHipL,
    kKneeL,
    kAnkleL,
    kFootL,
    kHipR,
    kKneeR,
    kAnkleR,
    kFootR,
    kHeronJoints
};

struct HeronBone {
    const char* name;
    int parent;
    glm::vec3 rest; ///< where the joint is in the rest pose
};
extern const std::array<HeronBone, kHeronJoints> kHeronBones;

/// Where a part of the neck or the head points: degrees from straight up toward forward (90 is level, 180
/// down), and then turned to its left about the vertical.
struct Aim {
    float pitch = 0.0f;
    float turn = 0.0f;
};

/// A posture as a person would direct it; solvePosture turns it into joint rotations.
struct Posture {
    glm::vec3 bodyShift{0.0f}; ///< from rest, metres
    float bodyPitch = 0.0f;    ///< degrees; forward and down is positive
    float bodyRoll = 0.0f;     ///< toward its right
    float bodyTurn = 0.0f;     ///< toward its left
    float chestPitch = 0.0f;   ///< on top of the body's
    std::array<Aim, 8> neck{}; ///< kNeck1 … kNeck6, kHead, kBeak
    float tailLift = 0.0f;
    float wingDroopL = 0.0f; ///< degrees that the folded wing drops and opens
    float wingDroopR = 0.0f;
    std::array<glm::vec3, 2> foot{};   ///< left, right; sole on the ground at y = 0
    std::array<float, 2> toeDroop{};   ///< degrees
    std::array<float, 2> thighSwing{}; ///< degrees forward
};

/// Standing at ease: every Aim as in the rest pose, feet where the rest pose has them.
Posture standing();

/// between(a, b, 0) is a.
Posture between(const Posture& a, const Posture& b, float t);

/// Local rotations of all joints and the translation of kBody (relative to its parent). Legs reach their feet
/// by two-bone inverse kinematics; the ankle, a bird's visible "knee", bends backward.
struct HeronPose {
    std::array<glm::quat, kHeronJoints> rotation;
    glm::vec3 bodyTranslation{0.0f};
};
HeronPose solvePosture(const Posture& posture);

} // namespace ripple::demo
