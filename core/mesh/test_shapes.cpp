#include "mesh/test_shapes.h"

#include "base/problem.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/geometric.hpp>
#include <glm/trigonometric.hpp>

namespace ripple::mesh {

namespace {

constexpr double kTurn = 6.283185307179586;

struct Point {
    glm::dvec3 position;
    glm::dvec3 normal;
};

/// Appends a grid of columns × rows cells as a part. `at(u, v)`, u and v in 0..1, V downward; seen with U to
/// the right and V down, faces look at the viewer.
template <typename At>
void addGrid(Mesh& mesh, std::size_t columns, std::size_t rows, const At& at) {
    const auto first = static_cast<std::uint32_t>(mesh.vertexCount());
    const auto wide = static_cast<std::uint32_t>(columns + 1);
    for (std::size_t r = 0; r <= rows; ++r) {
        for (std::size_t c = 0; c <= columns; ++c) {
            const double u = static_cast<double>(c) / static_cast<double>(columns);
            const double v = static_cast<double>(r) / static_cast<double>(rows);
            const Point point = at(u, v);
            mesh.positions.push_back(glm::vec3(point.position));
            mesh.normals.push_back(glm::vec3(point.normal));
            mesh.uvSets[0].push_back(glm::vec2(static_cast<float>(u), static_cast<float>(v)));
        }
    }
    for (std::uint32_t r = 0; r < rows; ++r) {
        for (std::uint32_t c = 0; c < columns; ++c) {
            const std::uint32_t a = first + r * wide + c;
            const std::uint32_t below = a + wide;
            const auto add = [&mesh](std::uint32_t i, std::uint32_t j, std::uint32_t k) {
                // At a pole the cells are triangles.
                if (mesh.positions[i] != mesh.positions[j] && mesh.positions[j] != mesh.positions[k] &&
                    mesh.positions[k] != mesh.positions[i]) {
                    mesh.indices.insert(mesh.indices.end(), {i, j, k});
                }
            };
            add(a, below, a + 1);
            add(a + 1, below, below + 1);
        }
    }
}

void sheet(const TestShape& s, Mesh& mesh) {
    addGrid(mesh, s.across, s.along, [&](double u, double v) {
        return Point{{(u - 0.5) * s.size, 0.0, (v - 0.5) * s.size}, {0, 1, 0}};
    });
}

void cards(const TestShape& s, Mesh& mesh, int count) {
    for (int card = 0; card < count; ++card) {
        const double turn = kTurn * 0.5 * card / count;
        const glm::dvec3 along(std::cos(turn), 0.0, -std::sin(turn));
        const glm::dvec3 normal(std::sin(turn), 0.0, std::cos(turn));
        addGrid(mesh, s.across, s.along, [&](double u, double v) {
            return Point{along * ((u - 0.5) * 0.5 * s.size) + glm::dvec3(0, (1.0 - v) * s.size, 0), normal};
        });
    }
}

void twoCards(const TestShape& s, Mesh& mesh) {
    cards(s, mesh, 2);
}

void threeCards(const TestShape& s, Mesh& mesh) {
    cards(s, mesh, 3);
}

void rod(const TestShape& s, Mesh& mesh) {
    const double radius = s.size / 40.0;
    addGrid(mesh, s.across, s.along, [&](double u, double v) {
        const double turn = kTurn * u;
        const glm::dvec3 out(std::sin(turn), 0.0, std::cos(turn));
        // Thinner toward its end, and closed there.
        return Point{radius * (0.35 + 0.65 * v) * (v > 0.0 ? out : glm::dvec3(0.0)) +
                         glm::dvec3(0, (1.0 - v) * s.size, 0),
                     v > 0.0 ? out : glm::dvec3(0, 1, 0)};
    });
}

void dome(const TestShape& s, Mesh& mesh) {
    addGrid(mesh, s.across, s.along, [&](double u, double v) {
        const double turn = kTurn * u;
        const double down = kTurn * 0.25 * v;
        const double ring = v > 0.0 ? std::sin(down) : 0.0;
        const glm::dvec3 out(ring * std::sin(turn), v < 1.0 ? std::cos(down) : 0.0, ring * std::cos(turn));
        return Point{0.5 * s.size * out, out};
    });
}

void disc(const TestShape& s, Mesh& mesh) {
    addGrid(mesh, s.across, s.along, [&](double u, double v) {
        const double turn = kTurn * u;
        return Point{0.5 * s.size * v * glm::dvec3(std::sin(turn), 0.0, std::cos(turn)), {0, 1, 0}};
    });
}

void ribbon(const TestShape& s, Mesh& mesh) {
    addGrid(mesh, s.along, s.across, [&](double u, double v) {
        return Point{{u * s.size, (1.0 - v) * s.size / 8.0, 0.0}, {0, 0, 1}};
    });
}

const std::array kKinds = {
    ShapeKind{"sheet",
              "Sheet",
              "Lies flat: water, cloth, ground.",
              {"sheet", 2.0, 32, 32},
              "across",
              "along",
              &sheet},
    ShapeKind{"cards-2",
              "Two crossed cards",
              "Grass and small plants.",
              {"cards-2", 0.8, 4, 12},
              "across",
              "up",
              &twoCards},
    ShapeKind{"cards-3",
              "Three crossed cards",
              "Fuller plants, seen from all sides.",
              {"cards-3", 0.8, 4, 12},
              "across",
              "up",
              &threeCards},
    ShapeKind{"rod", "Rod", "Stalks, masts, tentacles.", {"rod", 1.5, 12, 24}, "around", "up", &rod},
    ShapeKind{
        "dome", "Dome", "Things that breathe or pulse.", {"dome", 1.0, 32, 12}, "around", "down", &dome},
    ShapeKind{"disc", "Disc", "Ripples from a middle.", {"disc", 2.0, 48, 16}, "around", "outward", &disc},
    ShapeKind{
        "ribbon", "Ribbon", "Banners, tails, swimmers.", {"ribbon", 2.0, 4, 48}, "wide", "long", &ribbon}};

} // namespace

std::span<const ShapeKind> testShapes() {
    return kKinds;
}

Mesh makeTestShape(const TestShape& shape) {
    const ShapeKind* kind = nullptr;
    std::string known;
    for (const ShapeKind& row : kKinds) {
        kind = shape.kind == row.id ? &row : kind;
        known += (known.empty() ? "" : ", ") + std::string(row.id);
    }
    const std::string where = "test shape \"" + shape.kind + "\"";
    if (!kind) {
        base::fail(where, "there is no such shape", "there are: " + known);
    }
    if (!(shape.size > 0.0) || !(shape.size < 1e6)) {
        base::fail(where, "a size of " + std::to_string(shape.size) + " m", "choose a size above 0");
    }
    if (shape.across < 1 || shape.along < 1 || shape.across > kMostCells || shape.along > kMostCells) {
        base::fail(where, std::to_string(shape.across) + " × " + std::to_string(shape.along) + " cells",
                   "choose from 1 to " + std::to_string(kMostCells));
    }
    const bool round = shape.kind == "rod" || shape.kind == "dome" || shape.kind == "disc";
    TestShape usable = shape;
    usable.across = round ? std::max<std::size_t>(shape.across, 3) : shape.across;
    Mesh mesh;
    mesh.uvSets.resize(1);
    kind->build(usable, mesh);
    Part part;
    part.name = kind->name;
    part.vertexCount = static_cast<std::uint32_t>(mesh.vertexCount());
    part.indexCount = static_cast<std::uint32_t>(mesh.indices.size());
    mesh.parts.push_back(part);
    Material material;
    material.name = "plain";
    material.baseColour = {0.58f, 0.66f, 0.60f, 1.0f};
    material.doubleSided = true;
    mesh.materials.push_back(material);
    return mesh;
}

} // namespace ripple::mesh
