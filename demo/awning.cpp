// The awning: canvas from a wall rail over a front bar, with a scalloped valance, in gusty wind.

#include "demo/make_demo.h"

#include "base/files.h"
#include "base/progress.h"
#include "demo/cloth.h"
#include "demo/noise.h"
#include "image/png.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <glm/vec2.hpp>

namespace ripple::demo {

namespace {

constexpr std::uint32_t kSide = 65;    // 65 × 65 = 4 225 vertices, 8 192 triangles
constexpr std::uint32_t kBarRow = 50;  // this row lies on the front bar; below it the valance hangs
constexpr std::uint32_t kScallops = 8; // 8 columns each
constexpr float kHalfWidth = 2.0f;
constexpr glm::vec2 kRail(2.95f, 0.0f); // y, z
constexpr glm::vec2 kBar(2.28f, 1.75f);
constexpr float kSlack = 1.035f; // the canvas is a little longer than its span, so that it can belly
constexpr double kAwningFps = 30.0;
constexpr double kGustPeriod = 3.2; // seconds: the wind nearly repeats, the cloth not quite
constexpr double kWarmUp = 2.0 * kGustPeriod;
constexpr float kPi = 3.14159265f;

std::uint32_t at(std::uint32_t column, std::uint32_t row) {
    return row * kSide + column;
}

float across(std::uint32_t column) {
    return static_cast<float>(column) / static_cast<float>(kSide - 1);
}

/// How far below the bar the valance's edge hangs: cusps between the scallops.
float valanceLength(float u) {
    return 0.17f + 0.17f * std::abs(std::sin(kPi * static_cast<float>(kScallops) * u));
}

std::vector<glm::vec3> startPositions() {
    std::vector<glm::vec3> positions;
    for (std::uint32_t row = 0; row < kSide; ++row) {
        for (std::uint32_t column = 0; column < kSide; ++column) {
            const float u = across(column);
            const float x = -kHalfWidth + 2.0f * kHalfWidth * u;
            if (row <= kBarRow) {
                const float t = static_cast<float>(row) / static_cast<float>(kBarRow);
                const glm::vec2 yz = glm::mix(kRail, kBar, t);
                positions.emplace_back(x, yz.x - 0.08f * std::sin(kPi * t), yz.y);
            } else {
                const float t = static_cast<float>(row - kBarRow) / static_cast<float>(kSide - 1 - kBarRow);
                positions.emplace_back(x, kBar.x - t * valanceLength(u), kBar.y + 0.03f * t);
            }
        }
    }
    return positions;
}

std::vector<std::uint32_t> gridTriangles() {
    std::vector<std::uint32_t> triangles;
    for (std::uint32_t row = 0; row + 1 < kSide; ++row) {
        for (std::uint32_t column = 0; column + 1 < kSide; ++column) {
            const std::uint32_t a = at(column, row);
            const std::uint32_t b = at(column + 1, row);
            const std::uint32_t c = at(column + 1, row + 1);
            const std::uint32_t d = at(column, row + 1);
            // Alternating diagonals: cloth must not fold more easily one way than the other.
            if ((row + column) % 2 == 0) {
                triangles.insert(triangles.end(), {a, d, c, a, c, b});
            } else {
                triangles.insert(triangles.end(), {a, d, b, b, d, c});
            }
        }
    }
    return triangles;
}

Cloth makeCloth() {
    const std::vector<glm::vec3> start = startPositions();
    Cloth cloth(start, gridTriangles(), 0.55f);
    const auto join = [&](std::uint32_t a, std::uint32_t b, float compliance) {
        cloth.join(a, b, glm::distance(start[a], start[b]) * kSlack, compliance);
    };
    for (std::uint32_t row = 0; row < kSide; ++row) {
        for (std::uint32_t column = 0; column < kSide; ++column) {
            const std::uint32_t here = at(column, row);
            if (column + 1 < kSide) {
                join(here, at(column + 1, row), 1e-6f);
            }
            if (row + 1 < kSide) {
                join(here, at(column, row + 1), 1e-6f);
            }
            if (column + 1 < kSide && row + 1 < kSide) {
                join(here, at(column + 1, row + 1), 4e-4f); // shear: the weave gives on the bias
                join(at(column + 1, row), at(column, row + 1), 4e-4f);
            }
            if (column + 2 < kSide) {
                join(here, at(column + 2, row), 2e-3f); // bending
            }
            if (row + 2 < kSide) {
                join(here, at(column, row + 2), 2e-3f);
            }
        }
    }
    for (std::uint32_t column = 0; column < kSide; ++column) {
        for (std::uint32_t row = kBarRow; row < kSide; ++row) {
            cloth.weigh(at(column, row),
                        row + 2 < kSide ? 1.6f : 5.0f); // doubled cloth, and a cord in the hem
        }
        cloth.pin(at(column, 0));
        if (column % (kSide / kScallops) == 0 || column == kSide - 1) {
            cloth.pin(at(column, kBarRow)); // laced to the bar at each cusp
        }
    }
    return cloth;
}

/// Gusts from the sea side, rolling along the stall, with eddies smaller than the canvas.
glm::vec3 windAt(const glm::vec3& p, double seconds) {
    const auto turn = static_cast<float>(seconds / kGustPeriod);
    const float roll = 0.5f + 0.5f * std::sin(2.0f * kPi * (turn - 0.16f * p.x));
    const float strength = 1.2f + 2.4f * roll;
    const auto t = static_cast<float>(seconds);
    const float eddy = noise(1.3f * p.x - 2.2f * t, 1.7f * p.z + 0.4f * t, 11u);
    const float lift = noise(0.9f * p.x - 1.7f * t, 1.1f * p.z - 0.9f * t, 23u);
    return glm::vec3(0.38f + 0.25f * eddy, 0.55f + 0.45f * lift, -0.22f + 0.3f * eddy) * strength;
}

void append(std::string& text, float value, int decimals) {
    std::array<char, 32> buffer{};
    const auto end = std::to_chars(buffer.data(), buffer.data() + buffer.size(), value,
                                   std::chars_format::fixed, decimals);
    text.append(buffer.data(), end.ptr);
}

std::string faceLines() {
    std::string text;
    const std::vector<std::uint32_t> triangles = gridTriangles();
    for (std::size_t t = 0; t < triangles.size(); t += 3) {
        text += 'f';
        for (std::size_t k = 0; k < 3; ++k) {
            const std::string index = std::to_string(triangles[t + k] + 1);
            text += ' ' + index + '/' + index;
        }
        text += '\n';
    }
    return text;
}

std::string uvLines() {
    std::string text;
    for (std::uint32_t row = 0; row < kSide; ++row) {
        for (std::uint32_t column = 0; column < kSide; ++column) {
            text += "vt ";
            append(text, across(column), 6);
            text += ' ';
            append(text, 1.0f - across(row), 6);
            text += '\n';
        }
    }
    return text;
}

/// Striped canvas: two dyes, a weave, weather along the folds, a bound hem and a seam over the bar.
image::Image paintCanvas() {
    constexpr std::size_t kSize = 1024;
    image::Image picture(kSize, kSize, 3, image::Pixel::u8);
    const glm::vec3 coral(0.80f, 0.26f, 0.17f);
    const glm::vec3 sail(0.92f, 0.87f, 0.76f);
    const glm::vec3 thread(0.16f, 0.20f, 0.22f);
    for (std::size_t y = 0; y < kSize; ++y) {
        for (std::size_t x = 0; x < kSize; ++x) {
            const float u = (static_cast<float>(x) + 0.5f) / kSize;
            const float v = (static_cast<float>(y) + 0.5f) / kSize;
            const float stripe = std::sin(2.0f * kPi * static_cast<float>(kScallops) * u);
            const float edge = std::clamp(stripe * 60.0f + 0.5f, 0.0f, 1.0f);
            glm::vec3 colour = glm::mix(sail, coral, edge);
            const float weave =
                0.5f + 0.5f * std::sin(static_cast<float>(x) * 1.9f) * std::sin(static_cast<float>(y) * 1.9f);
            colour *= 0.955f + 0.045f * weave;
            colour *= 0.97f + 0.05f * noise(u * 9.0f, v * 5.0f, 3u) + 0.02f * noise(u * 60.0f, v * 60.0f, 5u);
            const float bar = static_cast<float>(kBarRow) / static_cast<float>(kSide - 1);
            colour *= 1.0f - 0.14f * std::exp(-std::pow((v - bar) * 140.0f, 2.0f)); // the fold over the bar
            if (v > 0.982f) {
                colour = glm::mix(colour, thread, 0.85f); // bound edge
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

} // namespace

void makeAwning(const std::filesystem::path& folder, std::size_t frames, const base::Progress& progress) {
    base::writeFile(folder / "awning.png", image::encodePng(paintCanvas()));
    base::writeFile(folder / "awning.mtl", "newmtl canvas\nKd 1 1 1\nmap_Kd awning.png\n");
    const std::string head = "# Gullwater Pier: awning, metres, 30 frames a second\nmtllib awning.mtl\n";
    const std::string tail = uvLines() + "usemtl canvas\n" + faceLines();
    Cloth cloth = makeCloth();
    constexpr int kSubsteps = 14;
    const auto warmUp = static_cast<std::size_t>(kWarmUp * kAwningFps);
    for (std::size_t step = 0; step < warmUp + frames; ++step) {
        cloth.advance(1.0 / kAwningFps, kSubsteps, &windAt);
        progress.report(static_cast<double>(step + 1) / static_cast<double>(warmUp + frames));
        if (step < warmUp) {
            continue;
        }
        std::string text = head;
        for (const glm::vec3& p : cloth.positions()) {
            text += 'v';
            for (int c = 0; c < 3; ++c) {
                text += ' ';
                append(text, p[c], 5);
            }
            text += '\n';
        }
        const std::string number = std::to_string(10000 + step - warmUp).substr(1);
        base::writeFile(folder / ("awning_" + number + ".obj"), text + tail);
    }
}

} // namespace ripple::demo
