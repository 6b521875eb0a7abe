// The crates: a stack on the pier from under which one is kicked, as one mesh of many planks.

#include "demo/make_demo.h"

#include "base/files.h"
#include "base/progress.h"
#include "demo/noise.h"
#include "demo/rigid_boxes.h"
#include "image/png.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstring>

#include <glm/common.hpp>
#include <glm/vec2.hpp>

namespace ripple::demo {

namespace {

constexpr double kCratesFps = 30.0;
constexpr std::size_t kTints = 4; // kinds of wood, side by side in the texture

/// A board of a crate, in the crate's own space, as middle and half size.
struct Board {
    glm::dvec3 middle;
    glm::dvec3 half;
};

std::vector<RigidBox> stack() {
    std::vector<RigidBox> boxes;
    const std::array<int, 4> rows = {4, 3, 2, 1};
    double ground = 0.0;
    std::uint32_t number = 1;
    for (const int row : rows) {
        double highest = 0.0;
        for (int i = 0; i < row; ++i, ++number) {
            RigidBox box;
            const double size = 0.31 + 0.02 * static_cast<double>(hash01(number));
            box.half = glm::dvec3(size * 1.08, 0.30, size);
            box.mass = 90.0 * box.half.x * 8.0 * box.half.y * box.half.z;
            const double turn = 0.10 * (static_cast<double>(hash01(number * 7u)) - 0.5);
            box.turn = glm::dquat(std::cos(turn), 0.0, std::sin(turn), 0.0);
            box.place = {(static_cast<double>(i) - 0.5 * (row - 1)) * 0.78, ground + box.half.y,
                         0.05 * (static_cast<double>(hash01(number * 13u)) - 0.5)};
            highest = std::max(highest, 2.0 * box.half.y);
            boxes.push_back(box);
        }
        ground += highest;
    }
    // One is kicked out from under the others, and something swings into the upper rows.
    boxes[1].velocity = {0.9, 0.0, 7.5};
    boxes[1].spin = {0.0, 3.0, 0.0};
    for (std::size_t i = 7; i < boxes.size(); ++i) {
        boxes[i].velocity = {3.4, 0.6, -0.8};
        boxes[i].spin = {0.0, 0.0, -1.5};
    }
    return boxes;
}

/// Three planks on each of six sides, and an inner box that closes the gaps.
std::vector<Board> boardsOf(const glm::dvec3& half) {
    constexpr double kThick = 0.018;
    constexpr double kGap = 0.012;
    std::vector<Board> boards = {{glm::dvec3(0.0), half - 2.2 * kThick}};
    for (int axis = 0; axis < 3; ++axis) {
        const int along = (axis + 1) % 3;
        const int across = (axis + 2) % 3;
        const double width = half[across] / 3.0 - kGap * 0.5;
        for (const double side : {-1.0, 1.0}) {
            for (int plank = -1; plank <= 1; ++plank) {
                Board board{glm::dvec3(0.0), glm::dvec3(0.0)};
                board.middle[axis] = side * (half[axis] - kThick);
                board.middle[across] = plank * 2.0 * half[across] / 3.0;
                board.half[axis] = kThick;
                board.half[along] = half[along] - (axis == 1 ? 0.0 : 2.0 * kThick);
                board.half[across] = width;
                boards.push_back(board);
            }
        }
    }
    return boards;
}

/// Corner k of a board: bit 0 is x, bit 1 is y, bit 2 is z.
glm::dvec3 corner(const Board& board, int k) {
    return board.middle + board.half * glm::dvec3(k & 1 ? 1.0 : -1.0, k & 2 ? 1.0 : -1.0, k & 4 ? 1.0 : -1.0);
}

/// The faces as corners, counter-clockwise from outside, by axis and side.
constexpr std::array<std::array<int, 4>, 6> kFaces = {
    {{0, 4, 6, 2}, {1, 3, 7, 5}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 2, 3, 1}, {4, 5, 7, 6}}};

std::vector<glm::vec3> pose(const std::vector<RigidBox>& boxes) {
    std::vector<glm::vec3> points;
    for (const RigidBox& box : boxes) {
        for (const Board& board : boardsOf(box.half)) {
            for (int k = 0; k < 8; ++k) {
                points.emplace_back(box.place + box.turn * corner(board, k));
            }
        }
    }
    return points;
}

void append(std::string& text, double value) {
    std::array<char, 32> buffer{};
    const auto end =
        std::to_chars(buffer.data(), buffer.data() + buffer.size(), value, std::chars_format::fixed, 6);
    text += ' ';
    text.append(buffer.data(), end.ptr);
}

/// The mesh at rest: positions, a normal for each face, and UVs that run along each plank.
std::string objText(const std::vector<RigidBox>& boxes) {
    std::string text = "mtllib crates.mtl\nusemtl wood\n";
    for (const glm::vec3& point : pose(boxes)) {
        text += 'v';
        for (int a = 0; a < 3; ++a) {
            append(text, static_cast<double>(point[a]));
        }
        text += '\n';
    }
    std::size_t points = 0;
    std::size_t uvs = 0;
    std::size_t normals = 0;
    std::uint32_t number = 0;
    for (std::size_t b = 0; b < boxes.size(); ++b) {
        for (const Board& board : boardsOf(boxes[b].half)) {
            ++number;
            // Each plank is cut from another place of its kind of wood.
            const double left =
                (static_cast<double>(b % kTints) + 0.08 + 0.5 * static_cast<double>(hash01(number))) / kTints;
            const double top = 0.6 * static_cast<double>(hash01(number * 3u));
            for (std::size_t face = 0; face < kFaces.size(); ++face) {
                const int axis = static_cast<int>(face / 2);
                glm::dvec3 normal(0.0);
                normal[axis] = face % 2 ? 1.0 : -1.0;
                normal = boxes[b].turn * normal;
                text += "vn";
                for (int a = 0; a < 3; ++a) {
                    append(text, normal[a]);
                }
                text += '\n';
                ++normals;
                const int wide = board.half[(axis + 1) % 3] > board.half[(axis + 2) % 3] ? 1 : 2;
                for (const int k : kFaces[face]) {
                    const glm::dvec3 at = corner(board, k) - board.middle;
                    text += "vt";
                    append(text, left + 0.05 * (at[(axis + 3 - wide) % 3] + 0.3));
                    append(text, top + 0.35 * (at[(axis + wide) % 3] + 0.4));
                    text += '\n';
                }
                text += 'f';
                for (std::size_t k = 0; k < 4; ++k) {
                    text += ' ' + std::to_string(points + static_cast<std::size_t>(kFaces[face][k]) + 1) +
                            '/' + std::to_string(++uvs) + '/' + std::to_string(normals);
                }
                text += '\n';
            }
            points += 8;
        }
    }
    return text;
}

/// Boards of four kinds side by side: grain along the board, knots, and salt.
image::Image paintWood() {
    constexpr std::size_t kSize = 512;
    image::Image picture(kSize, kSize, 3, image::Pixel::u8);
    const std::array<glm::vec3, kTints> woods = {
        glm::vec3(0.62f, 0.45f, 0.29f), glm::vec3(0.50f, 0.40f, 0.31f), glm::vec3(0.70f, 0.54f, 0.35f),
        glm::vec3(0.42f, 0.45f, 0.44f)};
    for (std::size_t y = 0; y < kSize; ++y) {
        for (std::size_t x = 0; x < kSize; ++x) {
            const float u = (static_cast<float>(x) + 0.5f) / kSize;
            const float v = (static_cast<float>(y) + 0.5f) / kSize;
            const float sway = noise(u * 14.0f, v * 3.0f, 31u);
            const float grain = noise(u * 160.0f + 3.0f * sway, v * 6.0f, 17u);
            const float knot = std::max(0.0f, noise(u * 26.0f, v * 9.0f, 41u) - 0.55f) * 2.0f;
            glm::vec3 colour = woods[static_cast<std::size_t>(u * kTints) % kTints];
            colour *= 0.92f + 0.16f * grain - 0.45f * knot + 0.05f * noise(u * 300.0f, v * 300.0f, 5u);
            std::byte* texel = picture.texel(x, y);
            for (int c = 0; c < 3; ++c) {
                texel[c] = static_cast<std::byte>(
                    static_cast<int>(std::clamp(colour[c], 0.0f, 1.0f) * 255.0f + 0.5f));
            }
        }
    }
    return picture;
}

template <typename T>
void put(base::Bytes& bytes, const T& value) {
    const auto* from = reinterpret_cast<const std::byte*>(&value);
    bytes.insert(bytes.end(), from, from + sizeof(T));
}

/// PC2: a header of 32 bytes, then every point of every frame as three little-endian floats.
base::Bytes cacheHeader(std::size_t points, std::size_t frames) {
    base::Bytes bytes;
    for (const char c : {'P', 'O', 'I', 'N', 'T', 'C', 'A', 'C', 'H', 'E', '2', '\0'}) {
        bytes.push_back(static_cast<std::byte>(c));
    }
    put(bytes, std::int32_t{1});
    put(bytes, static_cast<std::int32_t>(points));
    put(bytes, 0.0f);
    put(bytes, 1.0f);
    put(bytes, static_cast<std::int32_t>(frames));
    return bytes;
}

} // namespace

void makeCrates(const std::filesystem::path& folder, std::size_t frames, const base::Progress& progress) {
    RigidBoxes crates(stack());
    base::writeFile(folder / "crates.obj", objText(crates.boxes()));
    base::writeFile(folder / "crates.mtl", std::string_view("newmtl wood\nKd 1 1 1\nmap_Kd crates.png\n"));
    base::writeFile(folder / "crates.png", image::encodePng(paintWood()));
    base::Bytes cache = cacheHeader(pose(crates.boxes()).size(), frames);
    for (std::size_t f = 0; f < frames; ++f) {
        const std::vector<glm::vec3> points = pose(crates.boxes());
        const auto* from = reinterpret_cast<const std::byte*>(points.data());
        cache.insert(cache.end(), from, from + points.size() * sizeof(glm::vec3));
        crates.advance(1.0 / kCratesFps);
        progress.report(static_cast<double>(f + 1) / static_cast<double>(frames));
    }
    base::writeFile(folder / "crates.pc2", cache);
}

} // namespace ripple::demo
