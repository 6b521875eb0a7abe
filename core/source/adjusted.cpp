#include "source/adjusted.h"

#include "base/units.h"
#include "mesh/subdivide.h"
#include "source/in_space.h"
#include "source/mended.h"
#include "source/rig.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>
#include <glm/mat3x3.hpp>
#include <glm/matrix.hpp>

namespace ripple::source {

namespace {

/// From the space that a file says to the one that a person does.
mesh::AxisMap respacing(const Space& before, const Space& now) {
    const glm::mat3 turn = toYUp(now.up) * glm::transpose(toYUp(before.up));
    mesh::AxisMap map;
    map.unit = now.metresPerUnit / before.metresPerUnit;
    for (int to = 0; to < 3; ++to) {
        for (int from = 0; from < 3; ++from) {
            if (turn[from][to] != 0.0f) { // one in each row: the axes change places
                map.order[static_cast<std::size_t>(to)] = from;
                map.negative[static_cast<std::size_t>(to)] = turn[from][to] < 0.0f;
            }
        }
    }
    return map;
}

/// Another unit or up axis than the file says.
class Respaced : public InSpace {
public:
    Respaced(std::shared_ptr<const FrameSource> below, const Space& space)
        : InSpace(below, respacing(below->space(), space)),
          space_(space) {}
    Space space() const override { return space_; }

private:
    Space space_;
};

Space spaceOf(const Reading& reading, Space space) {
    if (reading.metresPerUnit > 0.0) {
        space.metresPerUnit = reading.metresPerUnit;
    }
    space.up = reading.up.value_or(space.up);
    space.stated = true;
    return space;
}

/// Time that runs otherwise than in the file.
class Retimed : public Layered {
public:
    Retimed(std::shared_ptr<const FrameSource> below, const TimeChoice& time)
        : Layered(std::move(below)),
          time_(time) {
        for (const Clip& from : below_->clips()) {
            Clip clip = from;
            if (from.isSequence()) {
                const FrameRange range = time.range.value_or(FrameRange{0, from.frames - 1});
                if (range.last < range.first || range.last >= from.frames) {
                    base::fail("frames " + std::to_string(range.first) + " to " + std::to_string(range.last),
                               "do not fit: there are " + base::plural(from.frames, "frame"),
                               "choose within 0 to " + std::to_string(from.frames - 1));
                }
                clip.frames = range.last - range.first + 1;
                clip.fps = (time.rate > 0.0 ? time.rate : from.fps) * time.speed;
                clip.rateKnown = from.rateKnown || time.rate > 0.0;
                clip.duration = static_cast<double>(clip.frames - 1) / clip.fps;
            } else {
                clip.duration = from.duration / time.speed;
                clip.keyRate = from.keyRate * time.speed;
            }
            clips_.push_back(std::move(clip));
        }
    }

    std::span<const Clip> clips() const override { return clips_; }
    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        below_->sample(clip, below(clip, seconds), positions, normals);
    }
    void sampleJoints(std::size_t clip, double seconds, std::span<glm::vec3> places) const override {
        below_->sampleJoints(clip, below(clip, seconds), places);
    }
    std::shared_ptr<const Rig> rig() const override { return below_->rig(); }
    void sampleRig(std::size_t clip, double seconds, std::span<glm::dmat4> transforms) const override {
        below_->sampleRig(clip, below(clip, seconds), transforms);
    }

private:
    /// The same instant on the time line below.
    double below(std::size_t index, double seconds) const {
        const Clip& clip = clips_[index];
        const Clip& from = below_->clips()[index];
        double into = std::clamp(seconds - clip.start, 0.0, clip.duration);
        into = time_.reversed ? clip.duration - into : into;
        if (!clip.isSequence()) {
            return from.start + into * time_.speed;
        }
        const double first = time_.range ? static_cast<double>(time_.range->first) : 0.0;
        return from.start + (first + into * clip.fps) / from.fps;
    }

    TimeChoice time_;
    std::vector<Clip> clips_;
};

class Subdivided : public Layered {
public:
    explicit Subdivided(std::shared_ptr<const FrameSource> below)
        : Layered(std::move(below)),
          mesh_(mesh::subdivide(below_->mesh(), midpoints_)) {}

    const mesh::Mesh& mesh() const override { return mesh_; }
    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        std::vector<glm::vec3> ownPositions(below_->mesh().vertexCount());
        std::vector<glm::vec3> ownNormals(normals.empty() ? 0 : ownPositions.size());
        below_->sample(clip, seconds, ownPositions, ownNormals);
        midpoints_.mean(ownPositions, positions);
        if (normals.empty()) {
            return;
        }
        midpoints_.mean(ownNormals, normals);
        for (std::size_t v = 0; v < normals.size(); ++v) {
            const float length = glm::length(normals[v]);
            if (midpoints_.parents[v][0] != midpoints_.parents[v][1] && length > 0.0f) {
                normals[v] /= length;
            }
        }
    }
    std::vector<float> jointWeights(std::size_t joint) const override {
        const std::vector<float> own = below_->jointWeights(joint);
        std::vector<float> all(mesh_.vertexCount());
        midpoints_.mean(own, all);
        return all;
    }

private:
    mesh::Midpoints midpoints_;
    mesh::Mesh mesh_;
};

} // namespace

std::shared_ptr<const FrameSource> adjust(std::shared_ptr<const FrameSource> source, const Reading& reading) {
    source = mend(std::move(source), reading.mending);
    const Space space = source->space();
    const bool otherUnit = reading.metresPerUnit > 0.0 && reading.metresPerUnit != space.metresPerUnit;
    if (otherUnit || (reading.up && *reading.up != space.up)) {
        source = std::make_shared<Respaced>(source, spaceOf(reading, space));
    }
    static const TimeChoice kAsItIs;
    if (reading.time != kAsItIs) {
        source = std::make_shared<Retimed>(std::move(source), reading.time);
    }
    return source;
}

std::shared_ptr<const FrameSource> subdivideFrames(std::shared_ptr<const FrameSource> source,
                                                   std::size_t times) {
    for (std::size_t i = 0; i < times; ++i) {
        source = std::make_shared<Subdivided>(std::move(source));
    }
    return source;
}

} // namespace ripple::source
