#include "bundle/played.h"

#include "bundle/imported_mesh.h"

#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::bundle {

void Played::take(const Fault& fault, const Why& why) {
    if (!why.empty()) {
        idle_.push_back(std::string(fault.id) + ": " + why);
    } else if (fault.misreading) {
        misread_.insert(*fault.misreading);
    }
}

Played::Why Played::whyNotRead(Misreading misreading, const mesh::Mesh& mesh) {
    if (misreading == Misreading::split || misreading == Misreading::reordered) {
        return "what is read goes by UVs, which come along";
    }
    const bool lacks = misreading == Misreading::tangentSpace && mesh.tangents.size() != mesh.vertexCount();
    return lacks ? "the mesh has no tangents" : "";
}

void Played::handle(const mesh::Mesh& mesh, std::span<glm::vec3> positions,
                    std::span<glm::vec3> normals) const {
    const mesh::AxisMap back =
        importedSpace(has(Misreading::axesTurned), has(Misreading::unitChanged)).back();
    back.place(positions);
    back.turn(normals);
    const mesh::AxisMap quarterBack = *mesh::axesByLetters({"-Z", "+Y", "+X"});
    for (std::size_t v = 0; v < positions.size() && has(Misreading::rotationIgnored); ++v) {
        // The object is turned a quarter about Y, what is added to its places is not; seen from the object.
        const glm::vec3& rest = mesh.positions[v];
        positions[v] = rest + glm::vec3(quarterBack.turned(positions[v] - rest));
    }
    for (std::size_t v = 0; v < normals.size() && has(Misreading::tangentSpace); ++v) {
        glm::vec3& n = normals[v];
        const glm::vec3 tangent(mesh.tangents[v]);
        const glm::vec3 bitangent = mesh.tangents[v].w * glm::cross(mesh.normals[v], tangent);
        n = glm::normalize(tangent * n.x + bitangent * n.y + mesh.normals[v] * n.z);
    }
}

double Played::clock(double seconds, double loop, bool closed) const {
    if (!has(Misreading::longUptime) || loop <= 0.0) {
        return seconds;
    }
    // Whole loops first, so that it would be the same instant if numbers were exact.
    constexpr double kUptime = 10.0 * 3600.0;
    const double before = std::round(kUptime / loop) * loop;
    const auto now = static_cast<float>(before + seconds);
    const float since = closed ? std::fmod(now, static_cast<float>(loop)) : now - static_cast<float>(before);
    return static_cast<double>(since);
}

} // namespace ripple::bundle
