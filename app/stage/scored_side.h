#pragma once

#include "app/stage/mesh_on_gpu.h"
#include "app/stage/side_programs.h"
#include "emit/score_code.h"
#include "motion/vertex_fields.h"

#include <QOpenGLBuffer>

#include <memory>
#include <string>
#include <vector>

namespace ripple::app {

/// The side that a score moves: the emitted code in the vertex stage, its inputs and its numbers. All calls
/// need the context to be current.
class ScoredSide {
public:
    explicit ScoredSide(Linker& linker) : programs_(linker) {}

    /// False where that is not possible (too many inputs, or code that does not compile, with the linker's
    /// problem): then poses of the processor are drawn.
    bool set(const emit::ScoreCode& score, const std::string& name, const motion::VertexFields& fields,
             MeshOnGpu& onGpu, Finish finish);
    void clear();
    /// For the next set(): copies are drawn as a mesh that they were merged into, with what it keeps of
    /// their pivots; none: separate.
    void setMerged(const std::optional<scatter::Keeps>& keeps, const mesh::Bounds& box);
    bool isThere() const { return !code_.empty(); }
    /// It cuts holes into the alpha.
    bool cutsOut() const { return cuts_; }
    SidePrograms& programs() { return programs_; }
    void setUniforms(QOpenGLShaderProgram& program) const;

private:
    std::string code_; ///< empty without a score
    std::string array_;
    std::vector<float> numbers_;
    std::vector<std::unique_ptr<QOpenGLBuffer>> inputs_;
    bool cuts_ = false;
    VertexPlace place_ = placeOfVertex({}, {});
    std::string placed_; ///< as code_ was made with
    SidePrograms programs_;
};

} // namespace ripple::app
