#pragma once

#include "mesh/bounds.h"
#include "scatter/crowd.h"
#include "scatter/merged.h"

#include <QOpenGLFunctions_3_3_Core>

#include <optional>
#include <span>
#include <string>
#include <vector>

#include <glm/mat4x4.hpp>
#include <glm/vec3.hpp>
#include <glm/vec4.hpp>

namespace ripple::app {

/// One copy of the model: where it stands and what it plays.
using DrawnCopy = scatter::CopyState;

/// What copies are tinted by.
enum class CopyTint { own, clip, phase, level };

/// How a crowd is drawn, beside its copies.
struct CrowdView {
    mesh::Bounds one; ///< what a copy covers in its own space in all that it plays
    /// From how far each level of detail takes over, metres, ascending.
    std::vector<float> levelsFrom{};
    float hiddenFrom = 0.0f;       ///< metres; 0: never
    std::vector<float> farSteps{}; ///< clips: frames by which the last level goes on; none: as they come
    std::vector<float> clipFrames{}; ///< clips: their length, for CopyTint::phase
    CopyTint tint = CopyTint::own;
    /// Merged into one mesh that keeps this of their pivots; none: separate.
    std::optional<scatter::Keeps> merged{};
    mesh::Bounds box{}; ///< of all origins, for pivots in colours
    bool operator==(const CrowdView& other) const;
};

/// The copies on the graphics card, in a buffer that the vertex stage reads by the number of the instance.
/// All are drawn by one call for each material, however many there are. All calls need the context to be
/// current.
class Copies : protected QOpenGLFunctions_3_3_Core {
public:
    void create();
    void destroy();

    void set(std::vector<DrawnCopy> copies, const CrowdView& view);
    const std::vector<DrawnCopy>& all() const { return copies_; }
    /// Those that lie in the view are those that bindSeen() draws, sorted by their level. How many they are.
    std::size_t cull(const glm::mat4& viewProjection, const glm::vec3& eye);
    std::size_t seen() const { return seenCount_; }
    /// A run of the copies that are drawn alike.
    struct Run {
        GLint first = 0;
        GLsizei count = 0;
    };
    std::size_t levels() const { return 1 + view_.levelsFrom.size(); }
    Run seenAt(std::size_t level) const { return level < runs_.size() ? runs_[level] : Run(); }

    // Bind the buffer to the texture unit; of all the number of instances to draw.
    GLsizei bindAll(int unit) { return bind(all_, copies_.size(), unit); }
    void bindSeen(int unit) { bind(seen_, seenCount_, unit); }

    /// What the vertex stage reads them with: functions named own_….
    static std::string glsl();

private:
    struct Buffer {
        GLuint buffer = 0;
        GLuint texture = 0;
    };
    /// `level`: of all of them; below 0: not known.
    void upload(const Buffer& to, std::span<const DrawnCopy> copies, std::span<const int> levels);
    GLsizei bind(const Buffer& buffer, std::size_t count, int unit);

    std::vector<DrawnCopy> copies_;
    CrowdView view_;
    std::vector<Run> runs_; ///< levels, in the buffer of those that are seen
    Buffer all_;
    Buffer seen_;
    std::size_t seenCount_ = 0;
};

} // namespace ripple::app
