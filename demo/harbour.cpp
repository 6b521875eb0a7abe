// What hangs and floats at the pier: the windsock, the swell, the lantern.

#include "demo/make_demo.h"
#include "demo/noise.h"
#include "demo/surface.h"

#include <cmath>

#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <glm/gtc/constants.hpp>
#include <glm/vec4.hpp>

namespace ripple::demo {

namespace {


glm::vec4 sockCloth(float u, float v) {
    // Rings along the sock; the last strip of the texture is the mast's.
    if (u > 0.9f) {
        return {glm::vec3(0.30f, 0.33f, 0.35f) * (0.9f + 0.2f * noise(u * 400.0f, v * 20.0f, 2u)), 1.0f};
    }
    const bool red = static_cast<int>(v * 5.0f) % 2 == 0;
    const float weave = 0.95f + 0.05f * std::sin(u * 700.0f) * std::sin(v * 700.0f);
    const float seam = std::abs(v * 5.0f - std::round(v * 5.0f)) < 0.02f ? 0.8f : 1.0f;
    const glm::vec3 colour = red ? glm::vec3(0.88f, 0.38f, 0.22f) : glm::vec3(0.93f, 0.90f, 0.82f);
    return {colour * weave * seam, 1.0f};
}

glm::vec4 water(float u, float v) {
    const float ripples = noise(u * 26.0f, v * 26.0f, 21u) + 0.5f * noise(u * 61.0f, v * 61.0f, 22u);
    const glm::vec3 deep(0.10f, 0.27f, 0.33f);
    const glm::vec3 light(0.24f, 0.47f, 0.50f);
    return {glm::mix(deep, light, 0.45f + 0.28f * ripples), 1.0f};
}

glm::vec4 lanternPaint(float u, float v) {
    const float wear = 0.88f + 0.16f * noise(u * 40.0f, v * 40.0f, 31u);
    if (v < 0.5f) { // iron
        return {glm::vec3(0.20f, 0.22f, 0.24f) * wear, 1.0f};
    }
    const float rib = std::abs(u * 6.0f - std::round(u * 6.0f)) < 0.09f ? 1.0f : 0.0f;
    const glm::vec3 glass =
        glm::mix(glm::vec3(0.98f, 0.84f, 0.50f), glm::vec3(0.93f, 0.62f, 0.28f), 2.0f * v - 1.0f);
    return {glm::mix(glass, glm::vec3(0.22f, 0.22f, 0.22f), rib) * wear, 1.0f};
}

/// A surface of revolution about Y; `profile(v)` is radius and height, v from the top down.
SurfaceMesh::Patch turned(std::size_t around, std::size_t rows, glm::vec2 uvFrom, glm::vec2 uvTo,
                          const std::function<glm::vec2(float v)>& profile) {
    SurfaceMesh::Patch patch;
    patch.columns = around;
    patch.rows = rows;
    patch.uvFrom = uvFrom;
    patch.uvTo = uvTo;
    patch.at = [profile](float u, float v) {
        const glm::vec2 p = profile(v);
        return glm::vec3(p.x * std::cos(glm::two_pi<float>() * u), p.y, -p.x * std::sin(glm::two_pi<float>() * u));
    };
    return patch;
}

} // namespace

void makeWindsock(const std::filesystem::path& file) {
    SurfaceMesh sock;
    constexpr float kHeight = 2.6f;
    SurfaceMesh::Patch cloth;
    cloth.columns = 28;
    cloth.rows = 56;
    cloth.uvTo = {0.88f, 1.0f};
    cloth.at = [](float u, float v) {
        const float radius = 0.26f - 0.12f * v;
        const float angle = glm::two_pi<float>() * u;
        // It hangs a little already.
        return glm::vec3(0.05f + 1.9f * v, kHeight - 0.10f * v * v + radius * std::sin(angle),
                         radius * std::cos(angle));
    };
    sock.add(cloth);
    SurfaceMesh::Patch mast = turned(10, 8, {0.92f, 0.0f}, {1.0f, 1.0f}, [](float v) {
        return glm::vec2(v <= 0.0f ? 0.0f : 0.032f + 0.012f * v, (kHeight + 0.35f) * (1.0f - v));
    });
    const SurfaceMesh::At upright = mast.at;
    mast.at = [upright](float u, float v) { return upright(u, v) - glm::vec3(0.06f, 0.0f, 0.0f); };
    mast.colour = {0.0f, 0.0f, 0.0f, 1.0f}; // black: nothing moves it
    sock.add(mast);
    writeModel(sock.finish("windsock", "CLOTH"), "windsock", paint(512, false, sockCloth), true, file);
}

void makeSwell(const std::filesystem::path& file) {
    SurfaceMesh sea;
    SurfaceMesh::Patch sheet;
    sheet.columns = sheet.rows = 96;
    sheet.at = [](float u, float v) { return glm::vec3(8.0f * (u - 0.5f), 0.0f, 8.0f * (v - 0.5f)); };
    sea.add(sheet);
    writeModel(sea.finish("swell", "DEPTH"), "swell", paint(512, false, water), false, file);
}

void makeLantern(const std::filesystem::path& file) {
    SurfaceMesh lantern;
    // Hook, chain and lantern hang below y = 1.2 m.
    lantern.add(turned(8, 20, {0.0f, 0.0f}, {0.2f, 0.48f}, [](float v) {
        const float link = 0.008f + 0.004f * std::abs(std::sin(glm::two_pi<float>() * 5.0f * v));
        return glm::vec2(v <= 0.0f || v >= 1.0f ? 0.0f : link, 1.2f - 0.5f * v);
    }));
    lantern.add(turned(24, 10, {0.25f, 0.0f}, {0.6f, 0.48f}, [](float v) { // the cap
        return glm::vec2(0.012f + 0.158f * std::pow(v, 1.5f), 0.70f - 0.11f * v);
    }));
    lantern.add(turned(24, 14, {0.0f, 0.52f}, {1.0f, 1.0f}, [](float v) { // the glass
        return glm::vec2(0.115f + 0.035f * std::sin(3.14159f * v), 0.59f - 0.30f * v);
    }));
    lantern.add(turned(24, 6, {0.62f, 0.0f}, {1.0f, 0.48f}, [](float v) { // the foot
        return glm::vec2(v >= 1.0f ? 0.0f : 0.15f - 0.04f * v, 0.29f - 0.05f * v);
    }));
    writeModel(lantern.finish("lantern", "PART"), "lantern", paint(512, false, lanternPaint), true, file);
}

} // namespace ripple::demo
