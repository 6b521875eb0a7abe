#include "motion/score_source.h"

#include "base/units.h"
#include "motion/kinds.h"
#include "source/layered.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>
#include <glm/gtc/quaternion.hpp>

namespace ripple::motion {

namespace {

void requireNumbers(const Score& score, double turn, std::span<const glm::vec3> positions,
                    std::span<const glm::vec3> normals) {
    if (const auto stray = findStray(turn, positions, normals)) {
        base::fail("score \"" + score.name + "\"",
                   "moves vertex " + base::countText(stray->vertex) +
                       " to where there are no numbers at turn " + base::numberText(stray->turn),
                   "mute one voice after another to find the one that does");
    }
}

/// The turn that takes one unit vector to another the short way.
glm::quat turnBetween(const glm::vec3& from, const glm::vec3& to) {
    const float along = glm::dot(from, to);
    if (along < -0.9999f) {
        const glm::vec3 any = std::abs(from.x) < 0.7f ? glm::vec3(1, 0, 0) : glm::vec3(0, 1, 0);
        const glm::vec3 axis = glm::normalize(glm::cross(from, any));
        return {0.0f, axis.x, axis.y, axis.z};
    }
    const glm::vec3 axis = glm::cross(from, to);
    return glm::normalize(glm::quat(1.0f + along, axis.x, axis.y, axis.z));
}

class Played : public source::Layered {
public:
    Played(std::shared_ptr<const source::FrameSource> below, const Score& score,
           std::shared_ptr<const Performance> performance, Play play)
        : Layered(std::move(below)),
          score_(score),
          play_(play),
          performance_(std::move(performance)) {
        if (play == Play::alone) {
            constexpr double kFps = 30.0;
            source::Clip clip;
            clip.name = score.name.empty() ? "score" : score.name;
            clip.duration = score.loopSeconds;
            clip.fps = kFps;
            clips_ = {clip};
            for (const base::Finding& finding : below_->findings()) {
                if (finding.id != "no-animation") { // the score is what moves it
                    findings_.push_back(finding);
                }
            }
        } else {
            findings_.assign(below_->findings().begin(), below_->findings().end());
            clips_.assign(below_->clips().begin(), below_->clips().end());
        }
        sayWhatIsNotPosed();
    }

    std::span<const source::Clip> clips() const override { return clips_; }
    std::span<const base::Finding> findings() const override { return findings_; }
    const source::Skeleton& skeleton() const override {
        static const source::Skeleton kNone;
        return play_ == Play::alone ? kNone : below_->skeleton();
    }
    std::string format() const override {
        return play_ == Play::alone ? "score" : below_->format() + " with a score";
    }
    std::size_t storedFrames() const override { return play_ == Play::alone ? 0 : below_->storedFrames(); }

    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        sampleLoop(clip, {}, seconds, positions, normals);
    }

    void sampleLoop(std::size_t clip, const source::LoopSpan& span, double seconds,
                    std::span<glm::vec3> positions, std::span<glm::vec3> normals) const override {
        const double turn = turnAt(clips_[clip], span, seconds);
        if (play_ == Play::alone) {
            performance_->poseHere(turn, {}, positions, normals);
            requireNumbers(score_, turn, positions, normals);
            return;
        }
        std::vector<glm::vec3> moved(positions.size());
        std::vector<glm::vec3> turned(normals.size());
        performance_->poseHere(turn, {}, moved, turned);
        requireNumbers(score_, turn, moved, turned);
        below_->sample(clip, seconds, positions, normals);
        const mesh::Mesh& unmoved = mesh();
        for (std::size_t v = 0; v < positions.size(); ++v) {
            positions[v] += moved[v] - unmoved.positions[v];
        }
        // The score turns a normal of the rest pose; the pose's own normal is turned by as much.
        for (std::size_t i = 0; i < normals.size(); ++i) {
            const glm::quat way = turnBetween(unmoved.normals[i], turned[i]);
            normals[i] = way * normals[i];
        }
    }

private:
    /// Voices that move the texture or its alpha are no part of a pose: a bake leaves them out.
    void sayWhatIsNotPosed() {
        for (const Voice& voice : score_.voices) {
            const PushRow& push = rowOf(voice.push);
            if (isHeard(score_, voice) && !push.moves()) {
                findings_.push_back(
                    {"voice-not-baked",
                     base::Severity::look,
                     {"voice \"" + voice.name + "\"",
                      std::string(push.cutsAlpha() ? "cuts the texture's alpha" : "moves the texture") +
                          ", which no bake holds: it is left out",
                      "ship the score as code beside or instead of the bake, or mute the voice"}});
            }
        }
    }

    /// Turns from the beginning of what is played. A whole number of loops goes into that, so that what
    /// closes goes on closing; a clip that plays round may be asked on either side of its span, one that
    /// plays once stops at its ends.
    double turnAt(const source::Clip& clip, const source::LoopSpan& span, double seconds) const {
        const double inside = std::clamp(seconds - clip.start, 0.0, clip.duration);
        if (play_ == Play::alone) {
            return inside / std::max(clip.duration, 1e-12);
        }
        const bool round = span.seconds > 0.0;
        const double length = std::max(round ? span.seconds : clip.duration, 1e-12);
        const double loops = std::max(1.0, std::round(length / score_.loopSeconds));
        return (round ? seconds - span.start : inside) * loops / length;
    }

    Score score_;
    Play play_;
    std::shared_ptr<const Performance> performance_;
    std::vector<source::Clip> clips_;
    base::Findings findings_;
};

} // namespace

std::shared_ptr<const source::FrameSource> playScore(std::shared_ptr<const source::FrameSource> below,
                                                     const Score& score, Play play) {
    auto performance = std::make_shared<const Performance>(score, below->mesh());
    return playScore(std::move(below), score, std::move(performance), play);
}

std::shared_ptr<const source::FrameSource> playScore(std::shared_ptr<const source::FrameSource> below,
                                                     const Score& score,
                                                     std::shared_ptr<const Performance> performance,
                                                     Play play) {
    return std::make_shared<Played>(std::move(below), score, std::move(performance), play);
}

} // namespace ripple::motion
