#include "mesh/triangulate.h"

#include <cmath>

#include <glm/geometric.hpp>
#include <glm/vec2.hpp>

namespace ripple::mesh {

namespace {

double cross(const glm::dvec2& a, const glm::dvec2& b) {
    return a.x * b.y - a.y * b.x;
}

/// The polygon in its own plane, counter-clockwise.
std::vector<glm::dvec2> flatten(std::span<const glm::vec3> corners) {
    glm::dvec3 normal(0.0); // Newell's area normal
    for (std::size_t i = 0; i < corners.size(); ++i) {
        normal += glm::cross(glm::dvec3(corners[i]), glm::dvec3(corners[(i + 1) % corners.size()]));
    }
    const double length = glm::length(normal);
    std::vector<glm::dvec2> flat;
    if (!(length > 0.0)) {
        return flat;
    }
    normal /= length;
    const glm::dvec3 other = std::abs(normal.x) < 0.6 ? glm::dvec3(1, 0, 0) : glm::dvec3(0, 1, 0);
    const glm::dvec3 u = glm::normalize(glm::cross(other, normal));
    const glm::dvec3 v = glm::cross(normal, u);
    for (const glm::vec3& corner : corners) {
        flat.emplace_back(glm::dot(glm::dvec3(corner), u), glm::dot(glm::dvec3(corner), v));
    }
    return flat;
}

bool inside(const glm::dvec2& p, const glm::dvec2& a, const glm::dvec2& b, const glm::dvec2& c) {
    return cross(b - a, p - a) >= 0.0 && cross(c - b, p - b) >= 0.0 && cross(a - c, p - c) >= 0.0;
}

bool isEar(const std::vector<glm::dvec2>& flat, const std::vector<std::uint32_t>& left, std::size_t at) {
    const std::size_t n = left.size();
    const std::uint32_t i = left[(at + n - 1) % n];
    const std::uint32_t j = left[at];
    const std::uint32_t k = left[(at + 1) % n];
    if (cross(flat[j] - flat[i], flat[k] - flat[j]) <= 0.0) {
        return false;
    }
    for (const std::uint32_t other : left) {
        const bool corner = other == i || other == j || other == k || flat[other] == flat[i] ||
                            flat[other] == flat[j] || flat[other] == flat[k];
        if (!corner && inside(flat[other], flat[i], flat[j], flat[k])) {
            return false;
        }
    }
    return true;
}

bool isConvex(const std::vector<glm::dvec2>& flat) {
    const std::size_t n = flat.size();
    for (std::size_t i = 0; i < n; ++i) {
        if (cross(flat[(i + 1) % n] - flat[i], flat[(i + 2) % n] - flat[(i + 1) % n]) < 0.0) {
            return false;
        }
    }
    return true;
}

} // namespace

std::vector<std::array<std::uint32_t, 3>> triangulate(std::span<const glm::vec3> corners) {
    std::vector<std::array<std::uint32_t, 3>> triangles;
    const auto count = static_cast<std::uint32_t>(corners.size());
    const std::vector<glm::dvec2> flat = count > 3 ? flatten(corners) : std::vector<glm::dvec2>();
    if (flat.empty() || isConvex(flat)) {
        for (std::uint32_t i = 2; i < count; ++i) {
            triangles.push_back({0, i - 1, i});
        }
        return triangles;
    }
    std::vector<std::uint32_t> left(count);
    for (std::uint32_t i = 0; i < count; ++i) {
        left[i] = i;
    }
    while (left.size() > 3) {
        std::size_t ear = 1; // an outline that crosses itself may have none: cut anything, but go on
        for (std::size_t at = 0; at < left.size(); ++at) {
            if (isEar(flat, left, at)) {
                ear = at;
                break;
            }
        }
        const std::size_t n = left.size();
        triangles.push_back({left[(ear + n - 1) % n], left[ear], left[(ear + 1) % n]});
        left.erase(left.begin() + static_cast<std::ptrdiff_t>(ear));
    }
    triangles.push_back({left[0], left[1], left[2]});
    return triangles;
}

} // namespace ripple::mesh
