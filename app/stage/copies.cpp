#include "app/stage/copies.h"

#include "app/look/crowd_tones.h"
#include "bake/pose_decoder.h"
#include "code/library.h"
#include "emit/dialect.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace ripple::app {

namespace {

constexpr std::size_t kTexels = 6; ///< of four floats, to a copy

using Packed = std::array<glm::vec4, kTexels>;

glm::vec3 tintOf(const DrawnCopy& copy, const CrowdView& view, int level) {
    const auto clip = static_cast<std::size_t>(std::max(copy.clip, 0));
    switch (view.tint) {
    case CopyTint::own:
        break;
    case CopyTint::clip:
        return clipTint(clip);
    case CopyTint::phase:
        return phaseTint(clip < view.clipFrames.size() ? copy.frame / view.clipFrames[clip] : copy.turn);
    case CopyTint::level:
        return levelTint(static_cast<std::size_t>(std::max(level, 0)));
    }
    return copy.tint;
}

/// What the merged mesh keeps of the copy's pivot, as its vertices would hold it.
glm::vec4 keptOf(const DrawnCopy& copy, const CrowdView& view) {
    if (!view.merged) {
        return {};
    }
    const scatter::Pivot pivot = scatter::pivotOf(copy);
    return *view.merged == scatter::Keeps::colours ? scatter::inColour(pivot, view.box)
                                                   : glm::vec4(pivot.yaw, pivot.tilt, 0.0f);
}

Packed packed(const DrawnCopy& copy, const CrowdView& view, int level) {
    return {glm::vec4(copy.origin, copy.scale),
            copy.rotation,
            glm::vec4(static_cast<float>(copy.clip), copy.frame, static_cast<float>(copy.clipBefore),
                      copy.frameBefore),
            glm::vec4(copy.fade, copy.id, copy.turn, 0.0f),
            glm::vec4(tintOf(copy, view, level), static_cast<float>(copy.image)),
            keptOf(copy, view)};
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
uniform int u_first_copy;
vec4 own_part(int part) { return texelFetch(u_copies, (u_first_copy + gl_InstanceID) * 6 + part); }
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
int own_image() { return int(own_part(4).a); }
vec4 own_kept() { return own_part(5); }
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

bool CrowdView::operator==(const CrowdView& other) const {
    const auto same = [](const mesh::Bounds& a, const mesh::Bounds& b) {
        return a.min == b.min && a.max == b.max;
    };
    return same(one, other.one) && levelsFrom == other.levelsFrom && hiddenFrom == other.hiddenFrom &&
           farSteps == other.farSteps && clipFrames == other.clipFrames && tint == other.tint &&
           merged == other.merged && same(box, other.box);
}

void Copies::upload(const Buffer& to, std::span<const DrawnCopy> copies, std::span<const int> levels) {
    std::vector<Packed> values(copies.size());
    for (std::size_t i = 0; i < copies.size(); ++i) {
        values[i] = packed(copies[i], view_, i < levels.size() ? levels[i] : 0);
    }
    glBindBuffer(GL_TEXTURE_BUFFER, to.buffer);
    glBufferData(GL_TEXTURE_BUFFER, static_cast<GLsizeiptr>(values.size() * sizeof(Packed)), values.data(),
                 GL_DYNAMIC_DRAW);
    glBindTexture(GL_TEXTURE_BUFFER, to.texture);
    glTexBuffer(GL_TEXTURE_BUFFER, GL_RGBA32F, to.buffer);
}

void Copies::set(std::vector<DrawnCopy> copies, const CrowdView& view) {
    if (copies != copies_ || !(view == view_)) {
        copies_ = std::move(copies);
        view_ = view;
        upload(all_, copies_, {});
        upload(seen_, copies_, {});
    }
    seenCount_ = copies_.size();
    runs_ = {{0, static_cast<GLsizei>(seenCount_)}};
}

std::size_t Copies::cull(const glm::mat4& viewProjection, const glm::vec3& eye) {
    if (copies_.size() < 2 || view_.one.empty()) {
        return seenCount_; // one alone is what is looked at
    }
    const auto planes = planesOf(viewProjection);
    const float radius = 0.5f * view_.one.diagonal();
    const std::size_t last = view_.levelsFrom.size();
    std::vector<std::vector<DrawnCopy>> byLevel(levels());
    for (const DrawnCopy& copy : copies_) {
        const glm::vec3 middle = copy.origin + copy.scale * bake::turned(copy.rotation, view_.one.centre());
        const bool inside = std::all_of(planes.begin(), planes.end(), [&](const glm::vec4& plane) {
            return glm::dot(plane, glm::vec4(middle, 1.0f)) >= -radius * copy.scale;
        });
        const float away = glm::distance(middle, eye) / copy.scale; // a larger one is seen as from nearer
        if (!inside || (view_.hiddenFrom > 0.0f && away > view_.hiddenFrom)) {
            continue;
        }
        std::size_t level = 0;
        while (level < last && away >= view_.levelsFrom[level]) {
            ++level;
        }
        byLevel[level].push_back(copy);
        const auto clip = static_cast<std::size_t>(std::max(copy.clip, 0));
        if (level > 0 && level == last && clip < view_.farSteps.size() && view_.farSteps[clip] > 0.0f) {
            float& frame = byLevel[level].back().frame;
            frame = std::floor(frame / view_.farSteps[clip]) * view_.farSteps[clip];
        }
    }
    std::vector<DrawnCopy> seen;
    std::vector<int> levelOf;
    runs_.clear();
    for (std::size_t level = 0; level < byLevel.size(); ++level) {
        runs_.push_back({static_cast<GLint>(seen.size()), static_cast<GLsizei>(byLevel[level].size())});
        seen.insert(seen.end(), byLevel[level].begin(), byLevel[level].end());
        levelOf.resize(seen.size(), static_cast<int>(level));
    }
    upload(seen_, seen, levelOf);
    seenCount_ = seen.size();
    return seenCount_;
}

GLsizei Copies::bind(const Buffer& buffer, std::size_t count, int unit) {
    glActiveTexture(GL_TEXTURE0 + static_cast<GLenum>(unit));
    glBindTexture(GL_TEXTURE_BUFFER, buffer.texture);
    return static_cast<GLsizei>(count);
}

} // namespace ripple::app
