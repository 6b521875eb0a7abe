// What swims and flies at the pier: the skate and the gull.

#include "demo/make_demo.h"
#include "demo/noise.h"
#include "demo/surface.h"

#include <algorithm>
#include <cmath>

#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <glm/gtc/constants.hpp>
#include <glm/vec4.hpp>

namespace ripple::demo {

namespace {


/// Above in the upper half, below in the lower.
glm::vec4 skateSkin(float u, float v) {
    if (v > 0.5f) {
        return {glm::vec3(0.86f, 0.84f, 0.78f) * (0.95f + 0.06f * noise(u * 50.0f, v * 50.0f, 3u)), 1.0f};
    }
    const float patch = noise(u * 11.0f, v * 22.0f, 41u) + 0.5f * noise(u * 37.0f, v * 74.0f, 42u);
    glm::vec3 colour =
        glm::mix(glm::vec3(0.34f, 0.27f, 0.20f), glm::vec3(0.56f, 0.47f, 0.34f), 0.5f + 0.5f * patch);
    const float ridge = std::exp(-900.0f * (u - 0.5f) * (u - 0.5f));
    colour = glm::mix(colour, glm::vec3(0.26f, 0.20f, 0.15f), 0.6f * ridge);
    for (const float side : {-1.0f, 1.0f}) { // eyes, near the snout
        const glm::vec2 away = glm::vec2(u, v) - glm::vec2(0.5f + 0.045f * side, 0.085f);
        colour = glm::length(away) < 0.013f ? glm::vec3(0.05f) : colour;
    }
    return {colour, 1.0f};
}

glm::vec4 gullFeathers(float u, float v) {
    const glm::vec3 white(0.93f, 0.93f, 0.90f);
    const glm::vec3 grey(0.62f, 0.66f, 0.70f);
    if (v > 0.5f) { // wings: grey above, black at the tips (u runs from tip to tip)
        const float tip = std::abs(2.0f * u - 1.0f);
        const glm::vec3 wing = glm::mix(grey, glm::vec3(0.10f), glm::smoothstep(0.80f, 0.88f, tip));
        const float vane = 0.94f + 0.06f * std::sin(u * 240.0f);
        return {glm::mix(white, wing, v < 0.9f ? 1.0f : 0.3f) * vane, 1.0f};
    }
    const float along = 2.0f * v; // body, beak first
    const glm::vec3 beak(0.92f, 0.68f, 0.22f);
    return {along < 0.07f ? beak : glm::mix(white, grey, 0.35f * glm::smoothstep(0.5f, 0.9f, along)), 1.0f};
}

} // namespace

void makeSkate(const std::filesystem::path& file) {
    SurfaceMesh skate;
    // Snout at +Z. Half width over the length of the disc, and how thick its middle is.
    const auto halfWidth = [](float along) {
        const float front = std::pow(std::sin(1.5708f * std::min(along / 0.52f, 1.0f)), 0.85f);
        const float back = along > 0.52f
                               ? std::pow(std::max(0.0f, std::cos(1.5708f * (along - 0.52f) / 0.48f)), 0.75f)
                               : 1.0f;
        return 0.74f * front * back;
    };
    for (const float side : {1.0f, -1.0f}) { // above, below
        SurfaceMesh::Patch disc;
        disc.columns = 48;
        disc.rows = 36;
        disc.uvFrom = {0.0f, side > 0.0f ? 0.0f : 0.5f};
        disc.uvTo = {1.0f, side > 0.0f ? 0.5f : 1.0f};
        disc.at = [=](float u, float v) {
            const float across = side > 0.0f ? 2.0f * u - 1.0f : 1.0f - 2.0f * u;
            const float rim = std::sqrt(std::max(0.0f, 1.0f - across * across));
            const float body =
                std::exp(-14.0f * across * across) * std::max(0.0f, std::sin(3.14159f * std::pow(v, 0.8f)));
            return glm::vec3(across * halfWidth(v), 0.45f + side * (0.012f * rim + 0.065f * body * rim),
                             0.55f - 1.1f * v);
        };
        skate.add(disc);
    }
    SurfaceMesh::Patch tail;
    tail.columns = 10;
    tail.rows = 28;
    tail.uvFrom = {0.45f, 0.30f};
    tail.uvTo = {0.55f, 0.48f};
    tail.at = [](float u, float v) {
        const float radius = 0.034f * std::pow(1.0f - v, 0.8f);
        return glm::vec3(radius * std::cos(glm::two_pi<float>() * u), 0.45f + 0.8f * radius * std::sin(glm::two_pi<float>() * u),
                         -0.46f - 0.85f * v);
    };
    skate.add(tail);
    writeModel(skate.finish("skate", "FIN"), "skate", paint(512, false, skateSkin), true, file);
}

void makeGull(const std::filesystem::path& file) {
    SurfaceMesh gull;
    constexpr float kHeight = 1.0f;
    SurfaceMesh::Patch body; // beak at +Z
    body.columns = 20;
    body.rows = 30;
    body.uvTo = {1.0f, 0.5f};
    body.at = [](float u, float v) {
        const float beak = glm::smoothstep(0.05f, 0.14f, v);
        const float trunk = std::pow(std::max(0.0f, std::sin(3.14159f * std::pow(v, 0.8f))), 0.8f);
        const float head = 0.055f * std::exp(-120.0f * (v - 0.19f) * (v - 0.19f));
        const float radius = v <= 0.0f || v >= 1.0f
                                 ? 0.0f
                                 : (0.006f + 0.02f * v) * (1.0f - beak) +
                                       beak * (0.082f * trunk * trunk + head * 0.6f + 0.006f);
        const float angle = glm::two_pi<float>() * u;
        return glm::vec3(radius * std::cos(angle),
                         kHeight + radius * std::sin(angle) +
                             0.02f * std::exp(-60.0f * (v - 0.15f) * (v - 0.15f)),
                         0.32f - 0.55f * v);
    };
    gull.add(body);
    for (const float over : {1.0f, -1.0f}) { // upper and lower side of both wings
        SurfaceMesh::Patch wings;
        wings.columns = 64;
        wings.rows = 10;
        wings.uvFrom = {0.0f, 0.5f};
        wings.at = [=](float u, float v) {
            const float span = over > 0.0f ? 2.0f * u - 1.0f : 1.0f - 2.0f * u; // −1 … 1
            const float out = std::abs(span);
            const float chord =
                0.19f * std::pow(std::max(0.0f, 1.0f - out * out * out), 0.7f) + 0.012f * (1.0f - out);
            const float lead =
                0.10f + 0.07f * std::sin(3.14159f * std::min(out * 1.6f, 1.0f)) - 0.13f * out * out;
            const float camber = 0.018f * (1.0f - 0.6f * out) * std::sin(3.14159f * v);
            const float thick = over * 0.010f * (1.0f - out) * std::sin(3.14159f * v);
            return glm::vec3(0.72f * span, kHeight + 0.045f + 0.05f * std::sin(2.2f * out) + camber + thick,
                             lead - chord * v);
        };
        gull.add(wings);
    }
    SurfaceMesh::Patch tail;
    tail.columns = 8;
    tail.rows = 6;
    tail.uvFrom = {0.3f, 0.42f};
    tail.uvTo = {0.7f, 0.5f};
    tail.at = [](float u, float v) {
        const float across = 2.0f * u - 1.0f;
        return glm::vec3(across * (0.02f + 0.06f * v), kHeight + 0.012f,
                         -0.17f - 0.17f * v * (1.0f - 0.12f * across * across));
    };
    gull.add(tail);
    writeModel(gull.finish("gull", "FEATHER"), "gull", paint(512, false, gullFeathers), true, file);
}

} // namespace ripple::demo
