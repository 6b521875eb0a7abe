#pragma once

#include "app/session/performance_stage.h"
#include "bake/bake.h"
#include "bake/error.h"
#include "bake/seam.h"
#include "bake/texture_reader.h"

namespace ripple::app {

/// What a bake of the document gives, with its errors. Never changes once made.
struct BakeState {
    bake::SamplePlan plan;
    std::shared_ptr<const bake::Frames> frames;
    std::shared_ptr<const bake::Frames> probes;
    bake::Baked baked;
    bake::ErrorReport error;
    std::vector<bake::Motion> motion; ///< clips, from kept frame to kept frame
    std::vector<bake::Seam> seams;    ///< clips

    bake::TextureReader reader(const mesh::Mesh& mesh) const { return baked.reader(mesh); }
};

/// What a bake of a source came to; no state if it was held for its size.
struct BakeOutcome {
    std::shared_ptr<const BakeState> state;
    bake::SamplePlan plan;
    std::size_t bytes = 0; ///< memory that its frames take
};

/// Poses that an earlier bake sampled and the next one can use again.
struct HeldPoses {
    bake::SamplePlan plan;
    std::shared_ptr<const bake::Frames> frames;
    std::shared_ptr<const bake::Frames> probes;
    std::vector<bake::Motion> motion;
    std::vector<bake::Seam> seams;
    std::shared_ptr<const BakeState> bake; ///< which the next may take from what it stores alike
};

/// Samples, encodes and measures. `encoded` is called as soon as there are textures, before their error is
/// known. Not `asked`: only if its frames take a moderate amount of memory.
BakeOutcome makeBake(const std::shared_ptr<const source::FrameSource>& source, const bake::Recipe& recipe,
                     const HeldPoses& held, bool asked,
                     const std::function<void(std::shared_ptr<const bake::Baked>)>& encoded,
                     base::Progress& progress);

/// Bakes what the document says.
class BakeStage : public Computed {
    Q_OBJECT
public:
    explicit BakeStage(PerformanceStage& performance);

    std::shared_ptr<const BakeState> result() const { return result_; }
    /// What is encoded; for a moment of another store, until its error is known, newer than result().
    std::shared_ptr<const bake::Baked> encoded() const { return encoded_; }
    const std::optional<base::Problem>& problem() const { return problem_; }
    /// True when the source is so large that it is baked only when asked.
    bool held() const { return held_; }
    std::size_t bytes() const { return bytes_; } ///< memory that its frames take
    /// The result is of what moves now.
    bool current() const { return sampledRecipe_.has_value(); }
    LatestJob& job() { return job_; }
    std::vector<LatestJob*> jobs() override { return {&job_}; }

    void start(bool asked);

Q_SIGNALS:
    /// encoded() is another.
    void encodedChanged();
    void finished();

protected:
    void clear() override;
    void outdate() override;

private:
    void take(BakeOutcome outcome, const bake::Recipe& recipe);

    PerformanceStage& performance_;
    std::shared_ptr<const BakeState> result_;
    std::shared_ptr<const bake::Baked> encoded_;
    std::optional<bake::Recipe> sampledRecipe_; ///< of result_, as long as its poses are those of what moves
    std::optional<base::Problem> problem_;
    bool held_ = false;
    std::size_t bytes_ = 0;
    LatestJob job_;
};

} // namespace ripple::app
