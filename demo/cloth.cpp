#include "demo/cloth.h"

#include <glm/geometric.hpp>

namespace ripple::demo {

namespace {

constexpr glm::vec3 kGravity(0.0f, -9.81f, 0.0f);
constexpr float kAirDensity = 1.2f;       // kg/m³
constexpr float kSlackCompliance = 0.02f; // m/N
constexpr float kWeaveDamping = 4.0f;          // 1/s, friction inside the weave

} // namespace

Cloth::Cloth(std::vector<glm::vec3> positions, std::vector<std::uint32_t> triangles, float massPerArea)
    : positions_(std::move(positions)),
      velocities_(positions_.size(), glm::vec3(0.0f)),
      before_(positions_),
      forces_(positions_.size()),
      inverseMass_(positions_.size(), 0.0f),
      triangles_(std::move(triangles)) {
    std::vector<float> mass(positions_.size(), 0.0f);
    for (std::size_t t = 0; t + 2 < triangles_.size(); t += 3) {
        const glm::vec3 a = positions_[triangles_[t]];
        const float area = 0.5f * glm::length(glm::cross(positions_[triangles_[t + 1]] - a,
                                                         positions_[triangles_[t + 2]] - a));
        for (std::size_t k = 0; k < 3; ++k) {
            mass[triangles_[t + k]] += area * massPerArea / 3.0f;
        }
    }
    for (std::size_t i = 0; i < mass.size(); ++i) {
        inverseMass_[i] = mass[i] > 0.0f ? 1.0f / mass[i] : 0.0f;
    }
}

void Cloth::join(std::uint32_t a, std::uint32_t b, float restLength, float compliance) {
    links_.push_back({a, b, restLength, compliance});
}

void Cloth::pin(std::uint32_t particle) {
    inverseMass_[particle] = 0.0f;
}

void Cloth::weigh(std::uint32_t particle, float factor) {
    inverseMass_[particle] /= factor;
}

void Cloth::push(float dt, const Wind& wind) {
    forces_.assign(positions_.size(), glm::vec3(0.0f));
    for (std::size_t t = 0; t + 2 < triangles_.size(); t += 3) {
        const std::uint32_t i[3] = {triangles_[t], triangles_[t + 1], triangles_[t + 2]};
        const glm::vec3 centre = (positions_[i[0]] + positions_[i[1]] + positions_[i[2]]) / 3.0f;
        const glm::vec3 velocity = (velocities_[i[0]] + velocities_[i[1]] + velocities_[i[2]]) / 3.0f;
        const glm::vec3 relative = wind(centre, time_) - velocity;
        const glm::vec3 twiceArea =
            glm::cross(positions_[i[1]] - positions_[i[0]], positions_[i[2]] - positions_[i[0]]);
        const float length = glm::length(twiceArea);
        if (length <= 0.0f) {
            continue;
        }
        const glm::vec3 normal = twiceArea / length;
        const float along = glm::dot(relative, normal);
        const glm::vec3 force = normal * (0.5f * kAirDensity * 0.5f * length * along * glm::length(relative));
        for (const std::uint32_t p : i) {
            forces_[p] += force / 3.0f;
        }
    }
    for (std::size_t p = 0; p < positions_.size(); ++p) {
        before_[p] = positions_[p];
        if (inverseMass_[p] > 0.0f) {
            velocities_[p] += (kGravity + forces_[p] * inverseMass_[p]) * dt;
            velocities_[p] *= 1.0f - kWeaveDamping * dt;
            positions_[p] += velocities_[p] * dt;
        }
    }
}

void Cloth::solveLinks(float dt) {
    for (const Link& link : links_) {
        const float wa = inverseMass_[link.a];
        const float wb = inverseMass_[link.b];
        const glm::vec3 way = positions_[link.b] - positions_[link.a];
        const float length = glm::length(way);
        // Threads pull, they do not push: a slack one gives way and the canvas folds.
        const float compliance = length < link.rest ? kSlackCompliance : link.compliance;
        const float weight = wa + wb + compliance / (dt * dt);
        if (weight <= 0.0f || length <= 0.0f) {
            continue;
        }
        const glm::vec3 correction = way * ((length - link.rest) / (length * weight));
        positions_[link.a] += correction * wa;
        positions_[link.b] -= correction * wb;
    }
}

void Cloth::advance(double seconds, int substeps, const Wind& wind) {
    const double step = seconds / substeps;
    const auto dt = static_cast<float>(step);
    for (int s = 0; s < substeps; ++s) {
        push(dt, wind);
        solveLinks(dt);
        for (std::size_t p = 0; p < positions_.size(); ++p) {
            velocities_[p] = (positions_[p] - before_[p]) / dt;
        }
        time_ += step;
    }
}

} // namespace ripple::demo
