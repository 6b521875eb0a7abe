#include "app/stage/camera.h"

#include "app/stage/box_corners.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>
#include <glm/gtc/matrix_transform.hpp>

namespace ripple::app {

namespace {
constexpr float kFieldOfView = 0.56f; // radians, vertical: long enough not to bend straight edges
}

void Camera::frame(const mesh::Bounds& bounds, float aspect, bool keepDirection) {
    if (bounds.empty()) {
        return;
    }
    if (!keepDirection) {
        turn_ = 0.62f;
        lift_ = 0.30f;
    }
    target_ = bounds.centre();
    size_ = std::max(bounds.diagonal(), 1e-4f);
    // As near as shows every corner: a sphere about a long thin model would leave it small.
    distance_ = 1e-3f;
    const glm::mat4 turned = glm::lookAt(back(), glm::vec3(0.0f), glm::vec3(0.0f, 1.0f, 0.0f));
    const float half = std::tan(0.5f * kFieldOfView) * 0.84f; // a margin for handles and labels
    for (const glm::vec3& p : boxCorners(bounds)) {
        const glm::vec3 q = glm::vec3(turned * glm::vec4(p - target_, 0.0f));
        distance_ = std::max({distance_, q.z + std::abs(q.y) / half, q.z + std::abs(q.x) / (half * aspect)});
    }
}

void Camera::lookAcross(const mesh::Bounds& field) {
    if (field.empty()) {
        return;
    }
    const glm::vec3 size = field.size();
    turn_ = 0.62f;
    lift_ = 0.17f;
    target_ = {field.centre().x, field.min.y + 0.4f * size.y, field.centre().z};
    size_ = std::max(field.diagonal(), 1e-4f);
    distance_ = 0.72f * std::hypot(size.x, size.z) + 1.2f * size.y;
}

float Camera::fieldOfView() const {
    return kFieldOfView;
}

void Camera::orbit(float right, float up) {
    turn_ -= right;
    lift_ = std::clamp(lift_ + up, -1.5f, 1.5f);
}

void Camera::pan(glm::vec2 pixels, float height) {
    const float perPixel = 2.0f * distance_ * std::tan(0.5f * kFieldOfView) / std::max(height, 1.0f);
    const glm::mat4 v = view();
    const glm::vec3 right(v[0][0], v[1][0], v[2][0]);
    const glm::vec3 up(v[0][1], v[1][1], v[2][1]);
    target_ += (-right * pixels.x + up * pixels.y) * perPixel;
}

void Camera::zoom(float factor) {
    distance_ = std::clamp(distance_ * factor, 0.02f * size_, 50.0f * size_);
}

glm::vec3 Camera::back() const {
    return {std::sin(turn_) * std::cos(lift_), std::sin(lift_), std::cos(turn_) * std::cos(lift_)};
}

glm::vec3 Camera::eye() const {
    return target_ + back() * distance_;
}

glm::mat4 Camera::view() const {
    return glm::lookAt(eye(), target_, glm::vec3(0.0f, 1.0f, 0.0f));
}

glm::mat4 Camera::projection(float aspect) const {
    const float near = std::max(0.02f * distance_, 1e-4f);
    return glm::perspective(kFieldOfView, aspect, near, distance_ + 60.0f * size_);
}

} // namespace ripple::app
