#pragma once

#include "app/session/computed.h"
#include "bake/sampling.h"
#include "inspect/inspection.h"
#include "motion/perform.h"
#include "project/document.h"
#include "source/frame_source.h"
#include "source/open.h"

#include <memory>
#include <optional>

namespace ripple::app {

/// A mesh of more vertices than this is never posed while a picture waits.
constexpr std::size_t kLargeMesh = 100000;

/// What moves: the opened source, by a score if there is one, and at which times its frames lie. Never
/// changes once made.
struct Moved {
    motion::Score score; ///< by which it moves
    bool scoreOnTop = false;
    std::shared_ptr<const source::FrameSource> source;
    std::shared_ptr<const motion::Performance> performance; ///< null without voices, or with a problem
    std::optional<base::Problem> problem;                   ///< of the score
    std::optional<bake::SamplePlan> plan;                   ///< none if the recipe does not fit it
};

/// Plays the document's score on `opened`. Values of `before`, which is of the same mesh or empty, are used
/// again where they hold.
Moved playDocument(const std::shared_ptr<const source::FrameSource>& opened,
                   const project::Document& document, const Moved& before);

/// The document's recipe without clips that `source` does not have.
bake::Recipe fittingRecipe(const bake::Recipe& recipe, const source::FrameSource* source);

/// A source as it was opened, with what its mesh shows at once. Never changes once made.
struct OpenedSource {
    std::shared_ptr<const source::FrameSource> source;
    inspect::MeshFacts facts;
    double size = 0.0; ///< metres, bake::assetSize
    Moved moved;
    std::vector<std::string> changes; ///< of a source that was read again: what differs, what was dropped
    source::Reading reading;          ///< with which it was opened in the end
};

/// Opens the document's source.
class SourceStage : public Computed {
    Q_OBJECT
public:
    /// `document` must outlive this.
    explicit SourceStage(const project::Document& document) : document_(document) {}

    /// How far sources are believed, beside what the document says; for those opened from here on.
    void setTrust(const source::Trust& trust) { trust_ = trust; }
    const source::Trust& trust() const { return trust_; }

    /// Null before.
    const OpenedSource* result() const { return result_.get(); }
    const std::optional<base::Problem>& problem() const { return problem_; }
    LatestJob& job() { return job_; }
    std::vector<LatestJob*> jobs() override { return {&job_}; }

    enum class Load { fresh, again };
    /// Opened or failed follow. What is there stays until then; a source that cannot be read `again` stays
    /// for good.
    void load(Load load);

Q_SIGNALS:
    /// The result is another, and all below was dropped.
    void opened(bool again, const QStringList& changes);
    void failed();
    void reloadFailed(const QString& words);

protected:
    void clear() override;
    void outdate() override {}

private:
    void take(OpenedSource opened, Load load);

    const project::Document& document_;
    source::Trust trust_;
    std::shared_ptr<const OpenedSource> result_;
    std::optional<base::Problem> problem_;
    LatestJob job_;
};

} // namespace ripple::app
