#pragma once

#include "mesh/bounds.h"

#include <QOpenGLFunctions_3_3_Core>

#include <span>
#include <string>
#include <vector>

#include <glm/mat4x4.hpp>
#include <glm/vec3.hpp>
#include <glm/vec4.hpp>

namespace ripple::app {

/// One copy of the model: where it stands and what it plays.
struct DrawnCopy {
    glm::vec3 origin{0.0f};                     ///< metres, world
    float scale = 1.0f;                         ///< from the object to the world
    glm::vec4 rotation{0.0f, 0.0f, 0.0f, 1.0f}; ///< unit quaternion x y z w
    int clip = 0;
    float frame = 0.0f; ///< of the clip
    int clipBefore = 0; ///< what is faded from
    float frameBefore = 0.0f;
    float fade = 1.0f;    ///< 0: all of what was before; 1: all of what is now
    float id = 0.0f;      ///< 0..1, another one for each copy
    float turn = 0.0f;    ///< of a score's loop
    glm::vec3 tint{1.0f}; ///< linear; what the base colour is multiplied with
    bool operator==(const DrawnCopy&) const = default;
};

/// The copies on the graphics card, in a buffer that the vertex stage reads by the number of the instance.
/// All are drawn by one call for each material, however many there are. All calls need the context to be
/// current.
class Copies : protected QOpenGLFunctions_3_3_Core {
public:
    void create();
    void destroy();

    /// `one`: bounds of a copy in its own space, in all that it plays.
    void set(std::vector<DrawnCopy> copies, const mesh::Bounds& one);
    const std::vector<DrawnCopy>& all() const { return copies_; }
    /// Those that lie in the view are those that bindSeen() draws. How many they are.
    std::size_t cull(const glm::mat4& viewProjection);
    std::size_t seen() const { return seenCount_; }

    // Bind the buffer to the texture unit and give the number of instances to draw.
    GLsizei bindAll(int unit) { return bind(all_, copies_.size(), unit); }
    GLsizei bindSeen(int unit) { return bind(seen_, seenCount_, unit); }

    /// What the vertex stage reads them with: functions named own_….
    static std::string glsl();

private:
    struct Buffer {
        GLuint buffer = 0;
        GLuint texture = 0;
    };
    void upload(const Buffer& to, std::span<const DrawnCopy> copies);
    GLsizei bind(const Buffer& buffer, std::size_t count, int unit);

    std::vector<DrawnCopy> copies_;
    mesh::Bounds one_;
    Buffer all_;
    Buffer seen_;
    std::size_t seenCount_ = 0;
};

} // namespace ripple::app
