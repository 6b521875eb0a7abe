#include "app/stage/copies.h"

#include "bake/pose_decoder.h"
#include "code/library.h"
#include "emit/dialect.h"

#include <algorithm>
#include <array>

#include <glm/geometric.hpp>

namespace ripple::app {

namespace {

constexpr std::size_t kTexels = 5; ///< of four floats, to a copy

using Packed = std::array<glm::vec4, kTexels>;

Packed packed(const DrawnCopy& copy) {
    return {glm::vec4(copy.origin, copy.scale), copy.rotation,
            glm::vec4(static_cast<float>(copy.clip), copy.frame, static_cast<float>(copy.clipBefore),
                      copy.frameBefore),
            glm::vec4(copy.fade, copy.id, copy.turn, 0.0f), glm::vec4(copy.tint, 1.0f)};
}

/// The six planes of a view, pointing inward, of unit normals (Gribb and Hartmann, 2001).
std::array<glm::vec4, 6> planesOf(const glm::mat4& viewProjection) {
    const auto row = [&](int r) {
        return glm::vec4(viewProjection[0][r], viewProjection[1][r], viewProjection[2][r],
                         viewProjection[3][r]);
    };
    std::array<glm::vec4, 6> planes;
    for (int axis = 0; axis < 3; ++axis) {
        planes[static_cast<std::size_t>(2 * axis)] = row(3) + row(axis);
        planes[static_cast<std::size_t>(2 * axis + 1)] = row(3) - row(axis);
    }
    for (glm::vec4& plane : planes) {
        plane /= glm::length(glm::vec3(plane));
    }
    return planes;
}

} // namespace

std::string Copies::glsl() {
    code::Module library{"own_copy", {}};
    code::rotated(library, code::named("q", code::Base::vec4), code::named("v", code::Base::vec3));
    return emit::glsl().print(library).text + R"(
uniform samplerBuffer u_copies;
vec4 own_part(int part) { return texelFetch(u_copies, gl_InstanceID * 5 + part); }
vec3 own_rotated(vec3 v) { return own_copy_rotated(own_part(1), v); }
vec3 own_origin() { return own_part(0).xyz; }
float own_scale() { return own_part(0).w; }
mat3 own_axes() { return mat3(own_rotated(vec3(1, 0, 0)), own_rotated(vec3(0, 1, 0)), own_rotated(vec3(0, 0, 1))); }
int own_clip() { return int(own_part(2).x); }
float own_frame() { return own_part(2).y; }
int own_clip_before() { return int(own_part(2).z); }
float own_frame_before() { return own_part(2).w; }
float own_fade() { return own_part(3).x; }
float own_id() { return own_part(3).y; }
float own_turn() { return own_part(3).z; }
vec3 own_tint() { return own_part(4).rgb; }
)";
}

void Copies::create() {
    initializeOpenGLFunctions();
    for (Buffer* each : {&all_, &seen_}) {
        glGenBuffers(1, &each->buffer);
        glGenTextures(1, &each->texture);
    }
}

void Copies::destroy() {
    for (Buffer* each : {&all_, &seen_}) {
        glDeleteTextures(1, &each->texture);
        glDeleteBuffers(1, &each->buffer);
    }
    copies_.clear();
}

void Copies::upload(const Buffer& to, std::span<const DrawnCopy> copies) {
    std::vector<Packed> values(copies.size());
    std::transform(copies.begin(), copies.end(), values.begin(), packed);
    glBindBuffer(GL_TEXTURE_BUFFER, to.buffer);
    glBufferData(GL_TEXTURE_BUFFER, static_cast<GLsizeiptr>(values.size() * sizeof(Packed)), values.data(),
                 GL_DYNAMIC_DRAW);
    glBindTexture(GL_TEXTURE_BUFFER, to.texture);
    glTexBuffer(GL_TEXTURE_BUFFER, GL_RGBA32F, to.buffer);
}

void Copies::set(std::vector<DrawnCopy> copies, const mesh::Bounds& one) {
    one_ = one;
    if (copies != copies_) {
        copies_ = std::move(copies);
        upload(all_, copies_);
        upload(seen_, copies_);
    }
    seenCount_ = copies_.size();
}

std::size_t Copies::cull(const glm::mat4& viewProjection) {
    if (copies_.size() < 2 || one_.empty()) {
        return seenCount_; // one alone is what is looked at
    }
    const auto planes = planesOf(viewProjection);
    const float radius = 0.5f * one_.diagonal();
    std::vector<DrawnCopy> seen;
    for (const DrawnCopy& copy : copies_) {
        const glm::vec3 middle = copy.origin + copy.scale * bake::turned(copy.rotation, one_.centre());
        const bool inside = std::all_of(planes.begin(), planes.end(), [&](const glm::vec4& plane) {
            return glm::dot(plane, glm::vec4(middle, 1.0f)) >= -radius * copy.scale;
        });
        if (inside) {
            seen.push_back(copy);
        }
    }
    upload(seen_, seen);
    seenCount_ = seen.size();
    return seenCount_;
}

GLsizei Copies::bind(const Buffer& buffer, std::size_t count, int unit) {
    glActiveTexture(GL_TEXTURE0 + static_cast<GLenum>(unit));
    glBindTexture(GL_TEXTURE_BUFFER, buffer.texture);
    return static_cast<GLsizei>(count);
}

} // namespace ripple::app
