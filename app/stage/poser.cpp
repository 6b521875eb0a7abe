#include "app/stage/poser.h"

#include <QElapsedTimer>

#include <algorithm>

namespace ripple::app {

namespace {

constexpr qint64 kPatience = 12; // milliseconds that a picture may wait

} // namespace

Poser::Poser(QObject* parent) : QObject(parent) {}

void Poser::setSource(std::shared_ptr<const source::FrameSource> source) {
    replaceSource(std::move(source));
    pose_ = std::make_shared<const Pose>();
    slow_ = source_ && source_->mesh().vertexCount() > kLargeMesh;
}

void Poser::replaceSource(std::shared_ptr<const source::FrameSource> source) {
    job_.cancel();
    source_ = std::move(source);
    problem_.clear();
    waiting_.reset();
}

Poser::Outcome Poser::make(const source::FrameSource& source, const Wish& wish) {
    Outcome outcome;
    Pose& pose = outcome.pose;
    pose.clip = wish.clip;
    pose.seconds = wish.seconds;
    pose.positions.resize(source.mesh().vertexCount());
    pose.normals.resize(pose.positions.size());
    try {
        if (wish.withSpeed) {
            const source::Clip& clip = source.clips()[wish.clip];
            pose.before.resize(pose.positions.size());
            const double earlier = std::max(clip.start, wish.seconds - kMoment);
            bake::samplePose(source, wish.motion, earlier, pose.before, pose.normals);
        }
        bake::samplePose(source, wish.motion, wish.seconds, pose.positions, pose.normals);
        pose.joints.resize(source.skeleton().names.size());
        source.sampleJoints(wish.clip, wish.seconds, pose.joints);
    } catch (const base::Failure& failure) {
        outcome.problem = QString::fromStdString(failure.problem().line());
    }
    return outcome;
}

void Poser::request(std::size_t clip, double seconds, bool withSpeed, const bake::ClipMotion* motion) {
    if (!source_) {
        return;
    }
    const Wish wish{clip, seconds, withSpeed, motion ? *motion : bake::ClipMotion{clip, {}, {}}};
    if (job_.running()) {
        waiting_ = wish;
        return;
    }
    if (slow_) {
        launch(wish);
        return;
    }
    QElapsedTimer clock;
    clock.start();
    take(make(*source_, wish));
    slow_ = clock.elapsed() > kPatience;
}

void Poser::launch(const Wish& wish) {
    const auto done = [this](Outcome outcome) {
        take(std::move(outcome));
        if (waiting_) {
            launch(*std::exchange(waiting_, std::nullopt));
        }
        Q_EMIT ready();
    };
    const auto failed = [this](const base::Problem& problem) {
        problem_ = QString::fromStdString(problem.line());
        Q_EMIT ready();
    };
    job_.start<Outcome>([source = source_, wish](base::Progress&) { return make(*source, wish); }, done,
                        failed);
}

void Poser::take(Outcome outcome) {
    problem_ = outcome.problem;
    if (problem_.isEmpty()) {
        pose_ = std::make_shared<const Pose>(std::move(outcome.pose));
    }
}

} // namespace ripple::app
