#include "inspect/survey.h"

#include "base/parallel.h"
#include "base/progress.h"
#include "mesh/stray.h"

#include <algorithm>
#include <array>
#include <chrono>
#include <cmath>
#include <optional>

#include <glm/geometric.hpp>

namespace ripple::inspect {

namespace {

constexpr std::size_t kBatch = 16;            // frames read at a time
constexpr std::size_t kMostMarkedFrames = 64; // whose strays are kept one by one
constexpr std::size_t kMostStrays = 4096;     // vertices kept of a frame
constexpr std::size_t kMostMapRows = 1500;    // rows of a likeness map
constexpr std::size_t kFewestForMap = 4;      // frames
constexpr auto kBetweenParts = std::chrono::milliseconds(150);

using Pose = base::RawVector<glm::vec3>;

/// Like bake::measureClip, but a frame that cannot be read only leaves the clip open.
bake::ClipExtent extentOf(const source::FrameSource& source, std::size_t clip, const bake::Recipe& recipe) {
    try {
        return bake::measureClip(source, clip, recipe);
    } catch (const base::Failure&) {
        const source::Clip& of = source.clips()[clip];
        bake::ClipExtent extent;
        extent.frames = std::max<std::size_t>(of.frames, 1);
        extent.spacing = of.isSequence() ? 1.0 / of.fps : 0.0;
        return extent;
    }
}

class Surveyor {
public:
    Surveyor(const source::FrameSource& source, const bake::Recipe& recipe, base::Progress& progress,
             const std::function<void(std::shared_ptr<const Survey>)>& onPart)
        : source_(source),
          progress_(progress),
          onPart_(onPart),
          vertices_(source.mesh().vertexCount()),
          strayTest_(mesh::StrayTest::ofPose(source.mesh().positions)) {
        survey_.moves.assign(vertices_, 0);
        for (std::size_t c = 0; c < source.clips().size(); ++c) {
            survey_.clips.emplace_back();
            survey_.clips[c].extent = extentOf(source, c, recipe);
            survey_.framesTotal += survey_.clips[c].extent.frames;
        }
        for (Pose& pose : batch_) {
            pose.resize(vertices_);
        }
    }

    std::shared_ptr<const Survey> run() {
        for (std::size_t c = 0; c < survey_.clips.size(); ++c) {
            readClip(c);
        }
        survey_.still = static_cast<std::size_t>(std::count(survey_.moves.begin(), survey_.moves.end(), 0));
        survey_.complete = true;
        return std::make_shared<Survey>(std::move(survey_));
    }

private:
    void readClip(std::size_t c) {
        ClipSurvey& clip = survey_.clips[c];
        const std::size_t frames = clip.extent.frames;
        clip.motion.max.assign(frames, 0.0f);
        clip.motion.mean.assign(frames, 0.0f);
        PoseTable table = tableFor(frames, clip.likenessStep);
        std::array<Pose, 2> start; // the first two frames, for the seam
        std::array<Pose, 2> end;   // the last two
        std::optional<Pose> before;
        for (std::size_t first = 0; first < frames; first += kBatch) {
            const std::size_t count = std::min(kBatch, frames - first);
            readBatch(c, first, count);
            collect(c, first, count, before, table);
            for (std::size_t i = 0; i < count; ++i) {
                const std::size_t f = first + i;
                if (f < 2 && readable_[i]) {
                    start[f] = batch_[i];
                }
                if (f + 2 >= frames && readable_[i]) {
                    end[f + 2 - frames] = batch_[i];
                }
            }
            before = readable_[count - 1] ? std::optional(batch_[count - 1]) : std::nullopt;
            tellPart();
        }
        closeSeam(clip, start, end);
        bake::summarise(clip.motion);
        makeLikeness(c, std::move(table));
    }

    PoseTable tableFor(std::size_t frames, std::size_t& step) const {
        PoseTable table;
        if (frames < kFewestForMap) {
            return table;
        }
        step = (frames + kMostMapRows - 1) / kMostMapRows;
        table.frames = (frames + step - 1) / step;
        const std::size_t clips = survey_.clips.size();
        const std::size_t room = kLikenessBytes / sizeof(glm::vec3) / table.frames / clips;
        table.vertices = std::min(vertices_, std::max<std::size_t>(room, 1));
        table.points.resize(table.frames * table.vertices);
        return table;
    }

    void readBatch(std::size_t c, std::size_t first, std::size_t count) {
        std::array<std::optional<base::Problem>, kBatch> problems;
        std::array<std::vector<std::uint32_t>, kBatch> strays;
        const bake::ClipExtent extent = survey_.clips[c].extent;
        base::parallelFor(count, 1, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin; i < end; ++i) {
                try {
                    sampleFrame(source_, c, extent, first + i, batch_[i]);
                    strays[i] = strayTest_.find(batch_[i]);
                } catch (const base::Failure& failure) {
                    problems[i] = failure.problem();
                }
                progress_.checkpoint();
            }
        });
        for (std::size_t i = 0; i < count; ++i) {
            readable_[i] = !problems[i];
            if (problems[i]) {
                survey_.faults.push_back({c, first + i, *problems[i]});
            }
            if (!strays[i].empty()) {
                addStrays(c, first + i, batch_[i], std::move(strays[i]));
            }
        }
        survey_.framesRead += count;
        survey_.clips[c].framesRead += count;
        progress_.report(static_cast<double>(survey_.framesRead) / static_cast<double>(survey_.framesTotal));
    }

    void addStrays(std::size_t c, std::size_t frame, Pose& pose, std::vector<std::uint32_t> vertices) {
        Strays found{c, frame, {}, vertices.size(), true};
        for (const std::uint32_t v : vertices) {
            const float sum = pose[v].x + pose[v].y + pose[v].z;
            found.finite = found.finite && std::isfinite(sum);
            pose[v] = source_.mesh().positions[v]; // they would drown every measure of motion
        }
        vertices.resize(std::min(vertices.size(), kMostStrays));
        found.vertices = std::move(vertices);
        if (survey_.strays.size() >= kMostMarkedFrames) {
            found.vertices = {}; // of thousands of frames the counts will do
        }
        survey_.strays.push_back(std::move(found));
    }

    void collect(std::size_t c, std::size_t first, std::size_t count, const std::optional<Pose>& before,
                 PoseTable& table) {
        ClipSurvey& clip = survey_.clips[c];
        const auto poseBefore = [&](std::size_t i) -> const Pose* {
            return i > 0 ? (readable_[i - 1] ? &batch_[i - 1] : nullptr) : before ? &*before : nullptr;
        };
        std::array<mesh::Bounds, kBatch> bounds;
        base::parallelFor(count, 1, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin; i < end; ++i) {
                const std::size_t f = first + i;
                if (readable_[i]) {
                    bounds[i].add(batch_[i]);
                }
                if (const Pose* last = poseBefore(i); last && readable_[i]) {
                    bake::measureStep(*last, batch_[i], f - 1, clip.motion);
                }
                if (table.frames > 0 && f % clip.likenessStep == 0) {
                    copyRow(i, table, f / clip.likenessStep, poseBefore(i));
                }
            }
        });
        for (const mesh::Bounds& box : bounds) {
            clip.bounds.add(box);
        }
        survey_.bounds.add(clip.bounds);
        if (rest_.empty() && readable_[0]) {
            rest_ = batch_[0];
        }
        base::parallelFor(rest_.size(), 8192, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = 0; i < count; ++i) {
                for (std::size_t v = begin; readable_[i] && v < end; ++v) {
                    survey_.moves[v] |= static_cast<char>(batch_[i][v] != rest_[v]);
                }
            }
        });
    }

    /// Vertices evenly spread over the mesh's order; a frame that cannot be read repeats the one before.
    void copyRow(std::size_t i, PoseTable& table, std::size_t row, const Pose* last) const {
        const Pose* from = readable_[i] ? &batch_[i] : last;
        glm::vec3* to = table.points.data() + row * table.vertices;
        for (std::size_t k = 0; k < table.vertices; ++k) {
            const std::size_t v = k * vertices_ / table.vertices;
            to[k] = from ? (*from)[v] : source_.mesh().positions[v];
        }
    }

    static void closeSeam(ClipSurvey& clip, const std::array<Pose, 2>& start,
                          const std::array<Pose, 2>& end) {
        const std::size_t frames = clip.extent.frames;
        if (frames < 2 || start[0].empty() || start[1].empty() || end[0].empty() || end[1].empty()) {
            return;
        }
        bake::measureStep(end[1], start[0], frames - 1, clip.motion);
        clip.gap = bake::seamGap(bake::SeamPoses{end[0], end[1], start[0], start[1]});
        const double jump = bake::seamJump(bake::SeamPoses{end[0], end[1], start[0], start[1]});
        clip.velocityBreak = clip.extent.spacing > 0.0 ? jump / clip.extent.spacing : 0.0;
    }

    void makeLikeness(std::size_t c, PoseTable table) {
        ClipSurvey& clip = survey_.clips[c];
        if (table.frames < kFewestForMap) {
            return;
        }
        auto likeness = std::make_shared<Likeness>(measureLikeness(std::move(table)));
        progress_.checkpoint();
        clip.likeness = std::move(likeness);
        clip.windows = measuredWindows(source_, c, clip, {});
    }

    void tellPart() {
        const auto now = std::chrono::steady_clock::now();
        if (onPart_ && now - told_ >= kBetweenParts && survey_.framesRead < survey_.framesTotal) {
            told_ = now;
            onPart_(std::make_shared<Survey>(survey_));
        }
    }

    const source::FrameSource& source_;
    base::Progress& progress_;
    const std::function<void(std::shared_ptr<const Survey>)>& onPart_;
    std::size_t vertices_;
    mesh::StrayTest strayTest_;
    Survey survey_;
    std::array<Pose, kBatch> batch_;
    std::array<bool, kBatch> readable_{};
    Pose rest_; ///< the first frame that was read
    std::chrono::steady_clock::time_point told_ = std::chrono::steady_clock::now();
};

} // namespace

std::shared_ptr<const Survey> survey(const source::FrameSource& source, const bake::Recipe& recipe,
                                     base::Progress& progress,
                                     const std::function<void(std::shared_ptr<const Survey>)>& onPart) {
    return Surveyor(source, recipe, progress, onPart).run();
}

} // namespace ripple::inspect
