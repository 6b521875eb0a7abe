#include "demo/rigid_boxes.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::demo {

namespace {

constexpr double kStep = 1.0 / 6000.0; // seconds
constexpr double kStiffness = 90000.0; // newtons a metre at each point
constexpr double kContactDamping = 260.0;     // newtons at a metre a second
constexpr double kFriction = 0.55;
constexpr double kSlip = 0.02; // metres a second below which friction gives way softly
constexpr std::size_t kGround = static_cast<std::size_t>(-1);

/// Corners, middles of edges and of faces.
std::vector<glm::dvec3> surfacePoints(const glm::dvec3& half) {
    std::vector<glm::dvec3> points;
    for (int x = -1; x <= 1; ++x) {
        for (int y = -1; y <= 1; ++y) {
            for (int z = -1; z <= 1; ++z) {
                if (x != 0 || y != 0 || z != 0) {
                    points.push_back(glm::dvec3(x, y, z) * half);
                }
            }
        }
    }
    return points;
}

glm::dvec3 inertiaOf(const RigidBox& box) {
    const glm::dvec3 s = box.half * box.half * 4.0;
    return glm::dvec3(s.y + s.z, s.x + s.z, s.x + s.y) * (box.mass / 12.0);
}

} // namespace

RigidBoxes::RigidBoxes(std::vector<RigidBox> boxes) : boxes_(std::move(boxes)), pushes_(boxes_.size()) {}

void RigidBoxes::advance(double seconds) {
    const auto steps = static_cast<int>(std::lround(seconds / kStep));
    for (int s = 0; s < steps; ++s) {
        step(seconds / steps);
    }
}

void RigidBoxes::press(std::size_t box, std::size_t other, const glm::dvec3& point, const glm::dvec3& normal,
                       double depth) {
    const auto speedAt = [&](std::size_t i) {
        return i == kGround ? glm::dvec3(0.0)
                            : boxes_[i].velocity + glm::cross(boxes_[i].spin, point - boxes_[i].place);
    };
    const glm::dvec3 speed = speedAt(box) - speedAt(other);
    const double inward = glm::dot(speed, normal);
    const double hold = std::max(0.0, kStiffness * depth - kContactDamping * inward);
    const glm::dvec3 slide = speed - inward * normal;
    const double sliding = glm::length(slide);
    const double grip = kFriction * hold * std::min(1.0, sliding / kSlip);
    const glm::dvec3 force = hold * normal - (sliding > 0.0 ? slide / sliding * grip : glm::dvec3(0.0));
    pushes_[box].force += force;
    pushes_[box].torque += glm::cross(point - boxes_[box].place, force);
    if (other != kGround) {
        pushes_[other].force -= force;
        pushes_[other].torque -= glm::cross(point - boxes_[other].place, force);
    }
}

void RigidBoxes::touchGround(std::size_t i) {
    const RigidBox& box = boxes_[i];
    if (box.place.y > glm::length(box.half)) {
        return;
    }
    for (const glm::dvec3& own : surfacePoints(box.half)) {
        const glm::dvec3 point = box.place + box.turn * own;
        if (point.y < 0.0) {
            press(i, kGround, point, {0.0, 1.0, 0.0}, -point.y);
        }
    }
}

void RigidBoxes::touchBox(std::size_t i, std::size_t j) {
    const RigidBox& box = boxes_[i];
    const RigidBox& other = boxes_[j];
    if (glm::distance(box.place, other.place) > glm::length(box.half) + glm::length(other.half)) {
        return;
    }
    const glm::dquat back = glm::conjugate(other.turn);
    for (const glm::dvec3& own : surfacePoints(box.half)) {
        const glm::dvec3 point = box.place + box.turn * own;
        const glm::dvec3 in = back * (point - other.place);
        const glm::dvec3 depth = other.half - glm::abs(in);
        if (depth.x <= 0.0 || depth.y <= 0.0 || depth.z <= 0.0) {
            continue;
        }
        const int axis = depth.x < depth.y ? (depth.x < depth.z ? 0 : 2) : (depth.y < depth.z ? 1 : 2);
        glm::dvec3 normal(0.0);
        normal[axis] = in[axis] < 0.0 ? -1.0 : 1.0;
        press(i, j, point, other.turn * normal, depth[axis]);
    }
}

void RigidBoxes::step(double dt) {
    for (std::size_t i = 0; i < boxes_.size(); ++i) {
        pushes_[i] = {glm::dvec3(0.0, -9.81 * boxes_[i].mass, 0.0), glm::dvec3(0.0)};
    }
    for (std::size_t i = 0; i < boxes_.size(); ++i) {
        touchGround(i);
        for (std::size_t j = 0; j < boxes_.size(); ++j) {
            if (i != j) {
                touchBox(i, j);
            }
        }
    }
    for (std::size_t i = 0; i < boxes_.size(); ++i) {
        RigidBox& box = boxes_[i];
        box.velocity += pushes_[i].force * (dt / box.mass);
        // Euler's equation in the box's own axes.
        const glm::dvec3 inertia = inertiaOf(box);
        const glm::dquat back = glm::conjugate(box.turn);
        const glm::dvec3 spin = back * box.spin;
        const glm::dvec3 torque = back * pushes_[i].torque;
        const glm::dvec3 faster = (torque - glm::cross(spin, inertia * spin)) / inertia;
        box.spin = box.turn * (spin + faster * dt);
        box.place += box.velocity * dt;
        const glm::dquat by(0.0, box.spin.x, box.spin.y, box.spin.z);
        box.turn = glm::normalize(box.turn + 0.5 * dt * (by * box.turn));
    }
}

} // namespace ripple::demo
