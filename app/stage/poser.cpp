#include "app/stage/poser.h"

#include <QElapsedTimer>

#include <algorithm>

namespace ripple::app {

namespace {

constexpr qint64 kPatience = 12;           // milliseconds that a picture may wait
constexpr std::size_t kLargeMesh = 100000; ///< vertices that are never posed while a picture waits

} // namespace

Poser::Poser(QObject* parent) : QObject(parent) {
    pool_.setMaxThreadCount(1);
}

Poser::~Poser() {
    waiting_.reset();
    pool_.waitForDone();
}

void Poser::setSource(std::shared_ptr<const source::FrameSource> source) {
    replaceSource(std::move(source));
    pose_ = std::make_shared<const Pose>();
    slow_ = source_ && source_->mesh().vertexCount() > kLargeMesh;
}

void Poser::replaceSource(std::shared_ptr<const source::FrameSource> source) {
    ++generation_;
    source_ = std::move(source);
    problem_.clear();
    running_ = false;
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
    if (running_) {
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
    running_ = true;
    pool_.start([this, source = source_, wish, generation = generation_] {
        auto outcome = std::make_shared<Outcome>(make(*source, wish));
        QMetaObject::invokeMethod(
            this,
            [this, outcome, generation] {
                if (generation != generation_) {
                    return;
                }
                running_ = false;
                take(std::move(*outcome));
                if (waiting_) {
                    launch(*std::exchange(waiting_, std::nullopt));
                }
                Q_EMIT ready();
            },
            Qt::QueuedConnection);
    });
}

void Poser::take(Outcome outcome) {
    problem_ = outcome.problem;
    if (problem_.isEmpty()) {
        pose_ = std::make_shared<const Pose>(std::move(outcome.pose));
    }
}

} // namespace ripple::app
