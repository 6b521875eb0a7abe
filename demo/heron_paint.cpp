#include "demo/heron_paint.h"

#include "demo/heron_mesh.h"
#include "demo/noise.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/common.hpp>
#include <glm/exponential.hpp>
#include <glm/vec3.hpp>

namespace ripple::demo {

namespace {

constexpr glm::vec3 kSlate(0.50f, 0.56f, 0.61f);
constexpr glm::vec3 kDark(0.15f, 0.18f, 0.22f);
constexpr glm::vec3 kPale(0.88f, 0.86f, 0.82f);
constexpr glm::vec3 kBuff(0.78f, 0.70f, 0.62f);
constexpr glm::vec3 kBeakTop(0.86f, 0.55f, 0.16f);
constexpr glm::vec3 kBeakEnd(0.55f, 0.38f, 0.16f);
constexpr glm::vec3 kShank(0.47f, 0.43f, 0.30f);
constexpr glm::vec3 kThigh(0.74f, 0.74f, 0.72f);

float step(float low, float high, float x) {
    const float t = std::clamp((x - low) / (high - low), 0.0f, 1.0f);
    return t * t * (3.0f - 2.0f * t);
}

/// Light and dark edges of overlapping feathers: `rows` along, `files` around.
float feathers(float around, float along, float files, float rows, std::uint32_t seed) {
    const float row = along * rows;
    const float shift = std::fmod(std::floor(row), 2.0f) * 0.5f;
    const float file = around * files + shift;
    const float dx = (file - std::floor(file)) - 0.5f;
    const float dy = row - std::floor(row);
    const float tip = dy + 1.6f * dx * dx;
    const float grain = noise(around * files * 7.0f, along * rows * 2.0f, seed);
    return 1.0f - 0.22f * step(0.80f, 1.05f, tip) + 0.05f * (1.0f - dy) + 0.05f * grain;
}

/// around: 0 is the back, 0.5 the front or belly. along: 0 the tail, 1 the beak's tip.
glm::vec3 bodyColour(float around, float along) {
    const float front = 1.0f - std::abs(2.0f * around - 1.0f) * 1.0f; // 0 at the back, 1 at the belly
    const float belly = step(0.52f, 0.82f, front);
    glm::vec3 colour = glm::mix(kSlate, kPale, belly) * feathers(around, along, 16.0f, 52.0f, 7u);
    colour = glm::mix(colour, kDark, 0.75f * step(0.10f, 0.0f, along) * (1.0f - belly)); // tail's end
    const float neck = step(0.33f, 0.42f, along);
    const float hind = step(0.5f, 0.0f, front);
    glm::vec3 throat = glm::mix(kPale, kBuff, 0.55f * hind * step(0.70f, 0.40f, along));
    throat *= 0.98f + 0.04f * noise(around * 40.0f, along * 160.0f, 9u);
    // Two rows of dark dashes down the front of the neck.
    const float lane = std::abs(std::abs(around - 0.5f) - 0.055f);
    const float dash = step(0.35f, 0.5f, std::abs(std::sin(along * 150.0f)));
    throat = glm::mix(throat, kDark,
                      0.85f * step(0.034f, 0.016f, lane) * dash * step(0.36f, 0.42f, along) *
                          step(0.68f, 0.63f, along));
    colour = glm::mix(colour, throat, neck);
    // A black band from the eye over the nape, a white crown.
    const float head = step(0.685f, 0.70f, along);
    const float band = step(0.045f, 0.025f, std::abs(std::min(around, 1.0f - around) - 0.165f));
    colour = glm::mix(colour, kPale * 1.04f, head);
    colour = glm::mix(colour, kDark, head * band * step(0.79f, 0.775f, along));
    // Beak, with the dark line where it opens.
    const float beak = step(0.805f, 0.825f, along);
    glm::vec3 horn = glm::mix(kBeakTop, kBeakEnd, step(0.86f, 1.0f, along) * 0.7f);
    const float gape = std::abs(std::min(around, 1.0f - around) - 0.27f);
    horn = glm::mix(horn, kDark, 0.7f * step(0.022f, 0.008f, gape));
    return glm::mix(colour, horn, beak);
}

glm::vec3 wingColour(float around, float along) {
    const float low = 1.0f - std::abs(2.0f * around - 1.0f);
    glm::vec3 colour = kSlate * 0.93f * feathers(around, along, 10.0f, 15.0f, 13u);
    // Flight feathers: dark, long, toward the tip and the lower edge.
    const float flight = step(0.42f, 0.62f, along + 0.35f * (low - 0.45f));
    const float vane = 0.9f + 0.16f * std::abs(std::sin(around * 44.0f));
    colour = glm::mix(colour, kDark * vane * 1.15f, flight);
    return glm::mix(colour, kPale, 0.8f * step(0.12f, 0.02f, along)); // the bend of the wing is white
}

glm::vec3 legColour(float around, float along) {
    const float scales = 0.93f + 0.09f * step(0.1f, 0.5f, std::abs(std::sin(along * 130.0f))) +
                         0.04f * noise(around * 12.0f, along * 90.0f, 17u);
    glm::vec3 colour = kShank * scales;
    return glm::mix(kThigh * feathers(around, along, 8.0f, 26.0f, 19u), colour, step(0.26f, 0.36f, along));
}

glm::vec3 colourAt(HeronSkin skin, float around, float along) {
    switch (skin) {
    case HeronSkin::body:
        return bodyColour(around, along);
    case HeronSkin::wing:
        return wingColour(around, along);
    case HeronSkin::leg:
        return legColour(around, along);
    case HeronSkin::toe:
        return glm::mix(kShank, kDark, step(0.75f, 0.95f, along));
    case HeronSkin::plume:
        return glm::mix(kDark, kSlate, 0.35f * along);
    case HeronSkin::eye: {
        // The pupil looks sideways: the part of the ball away from the sweep's ends.
        const float rim = std::abs(along - 0.5f);
        const float sideways = std::abs(std::abs(2.0f * around - 1.0f) - 0.5f);
        return rim < 0.24f && sideways < 0.30f ? glm::vec3(0.03f) : glm::vec3(0.93f, 0.75f, 0.20f);
    }
    }
    return kPale;
}

} // namespace

image::Image paintHeron() {
    constexpr std::size_t kSize = 1024;
    constexpr float kGutter = 0.008f;
    image::Image picture(kSize, kSize, 3, image::Pixel::u8);
    const std::array<HeronSkin, 6> skins = {HeronSkin::body, HeronSkin::wing,  HeronSkin::leg,
                                            HeronSkin::toe,  HeronSkin::plume, HeronSkin::eye};
    for (std::size_t y = 0; y < kSize; ++y) {
        for (std::size_t x = 0; x < kSize; ++x) {
            const float u = (static_cast<float>(x) + 0.5f) / kSize;
            const float v = (static_cast<float>(y) + 0.5f) / kSize;
            glm::vec3 colour(0.4f);
            for (const HeronSkin skin : skins) {
                const glm::vec4 r = skinRegion(skin);
                if (u > r.x - kGutter && u < r.z + kGutter && v > r.y - kGutter && v < r.w + kGutter) {
                    colour = colourAt(skin, std::clamp((u - r.x) / (r.z - r.x), 0.0f, 1.0f),
                                      std::clamp((v - r.y) / (r.w - r.y), 0.0f, 1.0f));
                }
            }
            std::byte* texel = picture.texel(x, y);
            for (int c = 0; c < 3; ++c) {
                texel[c] = static_cast<std::byte>(
                    static_cast<int>(std::clamp(colour[c], 0.0f, 1.0f) * 255.0f + 0.5f));
            }
        }
    }
    return picture;
}

} // namespace ripple::demo
