#pragma once

#include <cstdint>
#include <functional>
#include <span>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::demo {

/// Cloth as particles and distance constraints, by extended position-based dynamics with small steps
/// (Macklin, Müller, Chentanez, "XPBD", 2016; Macklin et al., "Small Steps in Physics Simulation", 2019). Air
/// pushes each triangle along its normal in proportion to the square of the relative wind.
class Cloth {
public:
    using Wind = std::function<glm::vec3(const glm::vec3& position, double seconds)>;

    /// `positions` metres; `massPerArea` kg/m², spread by triangle area at rest.
    Cloth(std::vector<glm::vec3> positions, std::vector<std::uint32_t> triangles, float massPerArea);

    /// Holds two particles `restLength` apart. `compliance` in m/N: 0 is stiff.
    void join(std::uint32_t a, std::uint32_t b, float restLength, float compliance);
    void pin(std::uint32_t particle);
    /// Makes a particle `factor` times as heavy: hems, seams.
    void weigh(std::uint32_t particle, float factor);

    /// Moves on by `seconds` in `substeps` steps.
    void advance(double seconds, int substeps, const Wind& wind);

    std::span<const glm::vec3> positions() const { return positions_; }

private:
    struct Link {
        std::uint32_t a;
        std::uint32_t b;
        float rest;
        float compliance;
    };
    void push(float dt, const Wind& wind);
    void solveLinks(float dt);

    std::vector<glm::vec3> positions_;
    std::vector<glm::vec3> velocities_;
    std::vector<glm::vec3> before_;
    std::vector<glm::vec3> forces_;
    std::vector<float> inverseMass_;
    std::vector<std::uint32_t> triangles_;
    std::vector<Link> links_;
    double time_ = 0.0;
};

} // namespace ripple::demo
