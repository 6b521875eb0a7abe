#pragma once

#include "app/jobs/latest_job.h"
#include "app/session/source_stage.h"
#include "bake/sampling.h"
#include "source/frame_source.h"

#include <QObject>

#include <memory>
#include <optional>
#include <vector>

namespace ripple::app {

/// Poses of a source for drawing. Quick sources are posed at once; large ones, and those that once took
/// longer than a picture may wait, in the background, and meanwhile the last pose that was ready stands.
class Poser : public QObject {
    Q_OBJECT
public:
    struct Pose {
        std::size_t clip = 0;
        double seconds = 0.0;
        std::vector<glm::vec3> positions; ///< vertices
        std::vector<glm::vec3> normals;
        std::vector<glm::vec3> before; ///< vertices a little earlier, when speeds were asked for
        std::vector<glm::vec3> joints; ///< skeleton's joints
    };
    /// How long before a pose `before` is, in seconds.
    static constexpr double kMoment = 1.0 / 240.0;

    explicit Poser(QObject* parent = nullptr);

    void setSource(std::shared_ptr<const source::FrameSource> source);
    /// Another source of the same mesh: the pose stays until there is a newer one.
    void replaceSource(std::shared_ptr<const source::FrameSource> source);
    /// Asks for a pose. When it can be had at once, pose() is it on return; else ready() comes.
    /// `motion` says how the clip's end is faded and played round; null: as the source has it.
    void request(std::size_t clip, double seconds, bool withSpeed, const bake::ClipMotion* motion = nullptr);
    /// The newest pose; empty before the first.
    const Pose& pose() const { return *pose_; }
    /// The same, for whoever looks at it for longer.
    std::shared_ptr<const Pose> sharedPose() const { return pose_; }
    bool busy() const { return job_.running(); }
    /// Why the last pose could not be had; empty if it could.
    const QString& problem() const { return problem_; }

Q_SIGNALS:
    void ready();

private:
    struct Wish {
        std::size_t clip = 0;
        double seconds = 0.0;
        bool withSpeed = false;
        bake::ClipMotion motion;
    };
    struct Outcome {
        Pose pose;
        QString problem;
    };
    static Outcome make(const source::FrameSource& source, const Wish& wish);
    void launch(const Wish& wish);
    void take(Outcome outcome);

    std::shared_ptr<const source::FrameSource> source_;
    std::shared_ptr<const Pose> pose_ = std::make_shared<const Pose>();
    QString problem_;
    bool slow_ = false;
    LatestJob job_;
    std::optional<Wish> waiting_; ///< for when that one is done: a pose in the making is worth its time
};

} // namespace ripple::app
