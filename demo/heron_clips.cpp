#include "demo/heron_clips.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/gtc/constants.hpp>

namespace ripple::demo {

namespace {

constexpr float kStrollSeconds = 1.4f;
constexpr float kStride = 0.20f; // metres from the front to the back of a step
constexpr float kStance = 0.62f; // part of the cycle that a foot is on the ground
constexpr float kLift = 0.095f;  // herons lift their feet clear of the water

float smooth(float t) {
    const float s = std::clamp(t, 0.0f, 1.0f);
    return s * s * (3.0f - 2.0f * s);
}

void stepFoot(Posture& posture, std::size_t side, float phase) {
    const float q = phase - std::floor(phase);
    float z = 0.0f;
    float y = 0.0f;
    if (q < kStance) {
        z = kStride * (0.5f - q / kStance); // the ground passes below at an even pace
        posture.toeDroop[side] = 26.0f * smooth((q / kStance - 0.78f) / 0.22f); // heel up before it leaves
        y = 0.030f * smooth((q / kStance - 0.78f) / 0.22f);
    } else {
        const float s = (q - kStance) / (1.0f - kStance);
        z = kStride * (smooth(s) - 0.5f);
        y = 0.030f * (1.0f - smooth(2.0f * s)) + kLift * std::pow(std::sin(0.5f * glm::two_pi<float>() * s), 1.3f);
        posture.toeDroop[side] = 26.0f + 30.0f * std::sin(0.5f * glm::two_pi<float>() * s) - 26.0f * smooth(1.3f * s);
    }
    posture.foot[side].z += z + 0.005f;
    posture.foot[side].y = y;
    posture.thighSwing[side] = 13.0f * std::sin(glm::two_pi<float>() * (q + 0.12f));
}

Posture strollAt(float seconds) {
    const float phase = seconds / kStrollSeconds;
    const float once = glm::two_pi<float>() * phase;
    const float twice = 2.0f * once;
    Posture posture = standing();
    stepFoot(posture, 0, phase);
    stepFoot(posture, 1, phase + 0.5f);
    posture.bodyShift = {0.014f * std::sin(once + 0.5f), -0.030f + 0.009f * std::cos(twice + 0.4f),
                         0.006f * std::sin(twice)};
    posture.bodyRoll = -2.6f * std::sin(once + 0.5f);
    posture.bodyTurn = 3.5f * std::sin(once + 1.7f);
    posture.bodyPitch = 3.0f + 1.8f * std::sin(twice + 0.9f);
    posture.chestPitch = -1.2f * std::sin(twice + 0.5f);
    posture.tailLift = 3.0f * std::sin(twice - 0.6f);
    posture.wingDroopL = 2.0f + 1.5f * std::sin(twice + 0.3f);
    posture.wingDroopR = 2.0f + 1.5f * std::sin(twice + 0.8f);
    // The head stays over its place while the body walks on, then is thrust forward: once for each step.
    const float thrust = 9.0f * std::sin(twice - 0.7f);
    const std::array<float, 8> share = {1.2f, 1.0f, 0.2f, -0.6f, -0.5f, 0.4f, 0.35f, 0.35f};
    for (std::size_t i = 0; i < share.size(); ++i) {
        posture.neck[i].pitch += thrust * share[i];
        posture.neck[i].turn = 0.25f * posture.bodyTurn * (1.0f - static_cast<float>(i) / 8.0f);
    }
    return posture;
}

struct Key {
    float seconds;
    Posture posture;
};

Posture alongKeys(std::span<const Key> keys, float seconds) {
    if (seconds <= keys.front().seconds) {
        return keys.front().posture;
    }
    for (std::size_t k = 1; k < keys.size(); ++k) {
        if (seconds <= keys[k].seconds) {
            const float t = (seconds - keys[k - 1].seconds) / (keys[k].seconds - keys[k - 1].seconds);
            return between(keys[k - 1].posture, keys[k].posture, smooth(t));
        }
    }
    return keys.back().posture;
}

void aimNeck(Posture& posture, const std::array<float, 8>& pitch) {
    for (std::size_t i = 0; i < pitch.size(); ++i) {
        posture.neck[i].pitch = pitch[i];
    }
}

Posture peckAt(float seconds) {
    Posture watch = standing();
    watch.bodyPitch = 8.0f;
    watch.bodyShift = {0.0f, -0.02f, 0.01f};
    aimNeck(watch, {62.0f, 38.0f, 8.0f, -18.0f, 4.0f, 46.0f, 104.0f, 112.0f});
    Posture cocked = watch;
    cocked.bodyPitch = 20.0f;
    cocked.bodyShift = {0.0f, -0.055f, 0.015f};
    cocked.tailLift = -8.0f;
    aimNeck(cocked, {84.0f, 58.0f, 2.0f, -52.0f, -14.0f, 74.0f, 128.0f, 132.0f});
    Posture strike = watch;
    strike.bodyPitch = 34.0f;
    strike.bodyShift = {0.0f, -0.085f, 0.03f};
    strike.tailLift = 10.0f;
    strike.wingDroopL = 9.0f;
    strike.wingDroopR = 9.0f;
    aimNeck(strike, {100.0f, 106.0f, 112.0f, 117.0f, 122.0f, 128.0f, 138.0f, 142.0f});
    Posture lift = watch;
    lift.bodyPitch = 14.0f;
    lift.bodyShift = {0.0f, -0.03f, 0.01f};
    aimNeck(lift, {78.0f, 60.0f, 34.0f, 4.0f, 12.0f, 48.0f, 84.0f, 90.0f});
    Posture swallow = watch;
    swallow.bodyPitch = 2.0f;
    swallow.bodyShift = {0.0f, -0.006f, -0.005f};
    aimNeck(swallow, {46.0f, 26.0f, 4.0f, -10.0f, 4.0f, 22.0f, 58.0f, 62.0f});
    const std::array<Key, 8> keys = {{{0.0f, standing()},
                                      {0.55f, watch},
                                      {1.00f, cocked},
                                      {1.20f, strike},
                                      {1.42f, strike},
                                      {1.85f, lift},
                                      {2.30f, swallow},
                                      {2.60f, watch}}};
    return alongKeys(keys, seconds);
}

Posture preenAt(float seconds) {
    Posture reach = standing();
    reach.bodyShift = {-0.012f, -0.012f, 0.0f};
    reach.bodyRoll = 4.0f;
    reach.wingDroopL = 16.0f;
    const std::array<float, 8> pitch = {40.0f, 22.0f, 12.0f, 14.0f, 36.0f, 78.0f, 118.0f, 128.0f};
    const std::array<float, 8> turn = {20.0f, 44.0f, 70.0f, 96.0f, 124.0f, 146.0f, 160.0f, 164.0f};
    for (std::size_t i = 0; i < pitch.size(); ++i) {
        reach.neck[i] = {pitch[i], turn[i]};
    }
    Posture shake = standing();
    shake.bodyPitch = -4.0f;
    shake.tailLift = 12.0f;
    shake.wingDroopL = 10.0f;
    shake.wingDroopR = 10.0f;
    Posture look = standing();
    for (std::size_t i = 0; i < look.neck.size(); ++i) {
        look.neck[i].turn = -9.0f * static_cast<float>(i + 1) / 2.0f;
    }
    const std::array<Key, 6> keys = {
        {{0.0f, standing()}, {0.75f, reach}, {2.05f, reach}, {2.55f, shake}, {2.85f, shake}, {3.2f, look}}};
    Posture posture = alongKeys(keys, seconds);
    // Nibbling along the feathers, and a ruffle at the end.
    const float nibble = smooth((seconds - 0.7f) / 0.2f) * (1.0f - smooth((seconds - 1.95f) / 0.2f));
    posture.neck[7].pitch += nibble * 7.0f * std::sin(glm::two_pi<float>() * 4.2f * seconds);
    posture.neck[6].pitch += nibble * 5.0f * std::sin(glm::two_pi<float>() * 1.3f * seconds);
    posture.neck[5].turn += nibble * 5.0f * std::sin(glm::two_pi<float>() * 0.9f * seconds);
    const float ruffle = smooth((seconds - 2.45f) / 0.12f) * (1.0f - smooth((seconds - 2.75f) / 0.2f));
    posture.bodyRoll += ruffle * 4.0f * std::sin(glm::two_pi<float>() * 6.5f * seconds);
    posture.wingDroopL += ruffle * 6.0f * std::sin(glm::two_pi<float>() * 6.5f * seconds);
    posture.wingDroopR -= ruffle * 6.0f * std::sin(glm::two_pi<float>() * 6.5f * seconds);
    return posture;
}

constexpr std::array<HeronClip, 3> kClips = {
    {{"stroll", kStrollSeconds, &strollAt}, {"peck", 2.6f, &peckAt}, {"preen", 3.2f, &preenAt}}};

} // namespace

std::span<const HeronClip> heronClips() {
    return kClips;
}

} // namespace ripple::demo
