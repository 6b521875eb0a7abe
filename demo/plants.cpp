// What grows and breathes at the pier: the bulrush and the anemone.

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


/// Left half: a blade, right half: a stalk with its head. Transparent around them.
glm::vec4 reed(float u, float v) {
    const float up = 1.0f - v;
    const bool stalk = u >= 0.5f;
    const float x = stalk ? (u - 0.75f) * 4.0f : (u - 0.25f) * 4.0f; // −1 … 1 across a card
    const float grain = 0.92f + 0.10f * noise(u * 90.0f, v * 7.0f, 3u);
    if (!stalk) {
        const float half = 0.86f * std::pow(1.0f - up, 0.55f) * std::min(1.0f, 0.5f + 3.0f * up) + 0.02f;
        const float rib = 1.0f - 0.30f * std::exp(-60.0f * x * x);
        const glm::vec3 green = glm::mix(glm::vec3(0.20f, 0.32f, 0.16f), glm::vec3(0.52f, 0.58f, 0.26f), up);
        return {green * grain * rib, std::abs(x) < half ? 1.0f : 0.0f};
    }
    const bool head = up > 0.70f && up < 0.90f;
    const float half = head ? 0.42f * std::sqrt(std::max(0.0f, 1.0f - std::pow((up - 0.80f) / 0.10f, 4.0f)))
                       : up < 0.97f ? 0.10f
                                    : 0.05f;
    const glm::vec3 brown =
        glm::vec3(0.36f, 0.22f, 0.12f) * (0.85f + 0.3f * noise(u * 160.0f, v * 160.0f, 5u));
    const glm::vec3 colour = head ? brown : glm::vec3(0.42f, 0.47f, 0.22f) * grain;
    return {colour * (1.0f - 0.25f * x * x), std::abs(x) < half ? 1.0f : 0.0f};
}

glm::vec4 anemoneSkin(float u, float v) {
    const float stripe = 0.5f + 0.5f * std::sin(glm::two_pi<float>() * 24.0f * u);
    const glm::vec3 base =
        glm::mix(glm::vec3(0.56f, 0.16f, 0.26f), glm::vec3(0.83f, 0.42f, 0.36f), stripe * v);
    const float spot = noise(u * 60.0f, v * 30.0f, 11u) > 0.55f ? 1.15f : 1.0f;
    // The upper quarter is the arms': pale at their tips.
    const float arm = v < 0.25f ? 1.0f : 0.0f;
    const glm::vec3 tip = glm::mix(glm::vec3(0.93f, 0.86f, 0.72f), glm::vec3(0.72f, 0.34f, 0.36f), 4.0f * v);
    return {glm::mix(base * spot, tip, arm), 1.0f};
}

} // namespace

void makeBulrush(const std::filesystem::path& file) {
    SurfaceMesh clump;
    constexpr std::uint32_t kStems = 22;
    for (std::uint32_t s = 0; s < kStems; ++s) {
        const bool stalk = s % 3 == 0;
        const float turn = glm::two_pi<float>() * (static_cast<float>(s) / kStems + 0.15f * hash01(s * 31u));
        const float away = 0.04f + 0.22f * hash01(s * 17u + 3u);
        const glm::vec3 root(away * std::cos(turn * 1.7f), 0.0f, away * std::sin(turn * 1.7f));
        const glm::vec3 out(std::cos(turn), 0.0f, std::sin(turn));
        const glm::vec3 side(-out.z, 0.0f, out.x);
        const float height = stalk ? 1.55f + 0.25f * hash01(s + 5u) : 1.0f + 0.5f * hash01(s * 7u + 1u);
        const float lean = stalk ? 0.06f : 0.16f + 0.34f * hash01(s * 11u);
        const float half = stalk ? 0.058f : 0.044f;
        SurfaceMesh::Patch card;
        card.columns = 2;
        card.rows = 20;
        card.uvFrom = {stalk ? 0.5f : 0.0f, 0.0f};
        card.uvTo = {stalk ? 1.0f : 0.5f, 1.0f};
        card.stored = hash01(s * 101u + 9u);
        card.colour = {card.stored, stalk ? 1.0f : 0.0f, 0.0f, 1.0f};
        for (int cross = 0; cross < (stalk ? 2 : 1); ++cross) {
            const glm::vec3 across = cross ? out : side;
            card.at = [=](float u, float v) {
                const float up = 1.0f - v;
                return root + glm::vec3(0.0f, height * up, 0.0f) + out * (lean * height * up * up) +
                       across * (half * (2.0f * u - 1.0f));
            };
            clump.add(card);
        }
    }
    writeModel(clump.finish("bulrush", "STEM"), "bulrush", paint(512, true, reed), true, file);
}

void makeAnemone(const std::filesystem::path& file) {
    SurfaceMesh body;
    SurfaceMesh::Patch column;
    column.columns = 48;
    column.rows = 28;
    column.uvFrom = {0.0f, 0.27f};
    column.at = [](float u, float v) {
        // A foot, a waist, a dome that closes at the top.
        const float angle = glm::two_pi<float>() * u;
        const float up = 1.0f - v;
        const float radius =
            up < 0.6f ? 0.17f + 0.05f * std::cos(3.6f * up) + 0.05f * std::pow(1.0f - up, 6.0f)
                      : 0.1417f * std::sqrt(std::max(0.0f, 1.0f - std::pow((up - 0.6f) / 0.4f, 2.0f)));
        const float height =
            up < 0.6f ? 0.34f * up / 0.6f : 0.34f + 0.07f * std::sin((up - 0.6f) / 0.4f * 1.5708f);
        return glm::vec3(radius * std::cos(angle), height, -radius * std::sin(angle));
    };
    body.add(column);
    constexpr std::uint32_t kArms = 38;
    for (std::uint32_t a = 0; a < kArms; ++a) {
        const float ring = a % 2 ? 0.075f : 0.115f;
        const float turn = glm::two_pi<float>() * static_cast<float>(a) / kArms;
        const glm::vec3 out(std::cos(turn), 0.0f, -std::sin(turn));
        const glm::vec3 side(out.z, 0.0f, -out.x);
        const float length = 0.20f + 0.08f * hash01(a * 13u);
        const float open = a % 2 ? 0.55f : 0.95f;
        SurfaceMesh::Patch arm;
        arm.columns = 8;
        arm.rows = 16;
        arm.uvTo = {1.0f, 0.23f};
        arm.colour = {1.0f, hash01(a * 3u), 0.0f, 1.0f};
        arm.stored = hash01(a * 29u + 4u);
        arm.at = [=](float u, float v) {
            const float along = 1.0f - v; // 0 at the root
            const float lean = open * along * 1.1f;
            const glm::vec3 way =
                glm::normalize(out * std::sin(lean) + glm::vec3(0.0f, std::cos(lean), 0.0f));
            const glm::vec3 up = glm::cross(side, way);
            const glm::vec3 middle = out * (ring + length * along * std::sin(0.5f * lean)) +
                                     glm::vec3(0.0f, 0.375f + length * along * std::cos(0.5f * lean), 0.0f);
            const float radius = 0.0125f * (1.0f - 0.75f * along) * (along > 0.98f ? 0.3f : 1.0f);
            const float angle = glm::two_pi<float>() * u;
            return middle + radius * (side * std::cos(angle) + up * std::sin(angle));
        };
        body.add(arm);
    }
    writeModel(body.finish("anemone", "ARM"), "anemone", paint(512, false, anemoneSkin), false, file);
}

} // namespace ripple::demo
