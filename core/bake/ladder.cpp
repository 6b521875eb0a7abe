#include "bake/ladder.h"

#include "bake/encode.h"
#include "bake/pieces.h"
#include "bake/room.h"
#include "bake/shared_motion.h"
#include "bake/texture_reader.h"
#include "base/progress.h"
#include "base/units.h"

#include <algorithm>
#include <array>
#include <optional>

namespace ripple::bake {

namespace {

constexpr std::array<std::size_t, 5> kSteps = {1, 2, 3, 4, 6};
constexpr std::array<std::size_t, 8> kShapeCounts = {3, 5, 8, 12, 16, 24, 32, 48};
/// Uneven thinning to these parts of the largest step's error.
constexpr std::array kThinning = {1e-4, 1e-3, 4e-3};
/// Poses of so many bytes are held while their rungs are tried; of more the source is asked again for each.
constexpr std::size_t kHeldPoses = std::size_t{2} << 30;
/// Memory for sharing shapes, beyond which none are tried.
constexpr std::size_t kMostForSharing = std::size_t{4} << 30;
constexpr std::size_t kFewestFrames = 4; // a step that keeps fewer makes another motion

std::string ordinal(std::size_t n) {
    const bool teen = n % 100 >= 11 && n % 100 <= 13;
    const char* end = teen ? "th" : n % 10 == 1 ? "st" : n % 10 == 2 ? "nd" : n % 10 == 3 ? "rd" : "th";
    return std::to_string(n) + end;
}

void markWorthwhile(std::vector<Rung>& rungs) {
    std::stable_sort(rungs.begin(), rungs.end(), [](const Rung& a, const Rung& b) {
        return a.memory != b.memory ? a.memory < b.memory : a.error < b.error;
    });
    double best = std::numeric_limits<double>::infinity();
    for (Rung& rung : rungs) {
        rung.worthwhile = rung.error < best;
        best = std::min(best, rung.error);
    }
}

class Climber {
public:
    Climber(const source::FrameSource& source, const Recipe& recipe, const LadderFreedom& freedom,
            const base::Progress& progress, const std::function<void(std::shared_ptr<const Ladder>)>& onPart,
            const EarlierPoses& known)
        : source_(source),
          recipe_(recipe),
          progress_(progress),
          onPart_(onPart),
          known_(known),
          quiet_(base::Progress::pieceOf(progress)) {
        steps_ = {recipe.step};
        if (freedom.step) {
            steps_.assign(kSteps.begin(), kSteps.end());
        }
        for (const PositionStore& store : positionStores()) {
            if (freedom.store || store.name == recipe.positionStore) {
                stores_.push_back(store.name);
            }
        }
        contents_ = {recipe.content};
        if (freedom.content) {
            contents_ = {Content::offset, Content::absolute};
        }
        others_ = freedom.kind;
        thins_ = freedom.step;
        vertices_ = freedom.kind || recipe.kind == Kind::vertices;
        const std::size_t perStep = stores_.size() * contents_.size();
        ladder_.planned = (vertices_ ? steps_.size() * perStep : 0) +
                          (thins_ && vertices_ ? kThinning.size() * perStep : 0) +
                          (others_ || recipe.kind == Kind::shapes ? shapeStores() * kShapeCounts.size() : 0) +
                          (others_ || recipe.kind == Kind::pieces ? stores_.size() : 0);
    }

    std::shared_ptr<const Ladder> run() {
        for (const std::size_t step : steps_) {
            Recipe recipe = recipe_;
            recipe.thin = steps_.size() > 1 ? 0.0 : recipe.thin;
            recipe.step = step;
            take(recipe, step == steps_.front());
        }
        if (thins_ && vertices_) {
            for (const double part : kThinning) {
                Recipe recipe = recipe_;
                recipe.step = 1;
                recipe.thin = part * diagonal_;
                take(recipe, false);
            }
        }
        ladder_.tried = ladder_.planned;
        tell();
        return std::make_shared<const Ladder>(ladder_);
    }

private:
    /// Poses of one way to sample, and the rungs made from them.
    struct Sampled {
        SamplePlan plan;
        bool held = false; ///< then:
        Frames frames;
        Frames probes;
        std::array<std::optional<Size>, 2> sizes; ///< of a bake of its vertices, by content
    };

    /// What few shapes leave out is far more than 16 bits lose: full floats are tried only where asked for.
    bool storesShapes(const std::string& name) const {
        return positionStore(name).planes == 1 && (stores_.size() == 1 || name != kFloat32Store.name);
    }
    std::size_t shapeStores() const {
        return static_cast<std::size_t>(std::count_if(
            stores_.begin(), stores_.end(), [this](const auto& name) { return storesShapes(name); }));
    }

    /// Does a piece of the work, from its start again if it had to make room for work that is waited for.
    template <typename Work>
    auto piece(const Work& work) const {
        for (;;) {
            progress_.waitWhileHeld();
            try {
                return work();
            } catch (const base::Cancelled&) {
                progress_.checkpoint();
            }
        }
    }

    /// What its rungs take is known before anything is sampled for them.
    bool fits(const Recipe& recipe, Sampled& sampled) const {
        auto& size = sampled.sizes[recipe.content == Content::offset ? 1 : 0];
        if (!size) {
            size = piece([&] { return measureSize(source_, sampled.plan, recipe); });
        }
        try {
            requireRoom(*size, recipe);
            return true;
        } catch (const base::Failure&) {
            return false;
        }
    }
    bool anyFits(Recipe recipe, Sampled& sampled, bool withOthers) const {
        // Pieces have few columns, and so has a motion that few shapes share.
        return (withOthers && (others_ || recipe_.kind != Kind::vertices)) ||
               std::any_of(contents_.begin(), contents_.end(), [&](Content content) {
                   recipe.kind = Kind::vertices;
                   recipe.content = content;
                   return fits(recipe, sampled);
               });
    }

    Baked encoded(const Sampled& sampled, const Recipe& recipe) const {
        return sampled.held ? encodeFrames(source_, sampled.plan, sampled.frames, recipe, quiet_)
                            : bake(source_, sampled.plan, recipe, quiet_);
    }

    void take(const Recipe& recipe, bool withOthers) {
        const std::size_t perStep = stores_.size() * contents_.size();
        Sampled sampled;
        sampled.plan = piece([&] { return planSampling(source_, recipe, quiet_); });
        if (!withOthers && (sampled.plan.frameCount() < kFewestFrames * sampled.plan.clips.size() ||
                            sampled.plan.frameCount() == lastFrames_)) {
            ladder_.tried += perStep; // too few to be the same motion, or as many as were tried before
            return;
        }
        lastFrames_ = sampled.plan.frameCount();
        if (!anyFits(recipe, sampled, withOthers)) {
            ladder_.tried += perStep;
            return;
        }
        sample(sampled, withOthers);
        if (vertices_) {
            for (const std::string& store : stores_) {
                for (const Content content : contents_) {
                    Recipe own = recipe;
                    own.kind = Kind::vertices;
                    own.positionStore = store;
                    own.content = content;
                    own.normalsInAlpha = own.normalsInAlpha && positionStore(store).holdsNormals();
                    if (fits(own, sampled)) {
                        tryOne(own, sampled, [&] { return encoded(sampled, own); });
                    } else {
                        ++ladder_.tried;
                    }
                }
            }
        }
        tell();
        if (withOthers && (others_ || recipe_.kind == Kind::shapes)) {
            takeShapes(recipe, sampled);
        }
        if (withOthers && (others_ || recipe_.kind == Kind::pieces)) {
            takePieces(recipe, sampled);
        }
    }

    void sample(Sampled& sampled, bool withOthers) {
        const std::size_t vertices = source_.mesh().vertexCount();
        sampled.held = 2 * sampled.plan.frameCount() * vertices * 2 * sizeof(glm::vec3) <= kHeldPoses;
        const EarlierPoses first = first_.held ? EarlierPoses{&first_.plan, &first_.frames} : EarlierPoses{};
        const EarlierPoses earlier = withOthers ? known_ : first;
        if (sampled.held) {
            sampled.frames = piece([&] { return sampleFrames(source_, sampled.plan, earlier, quiet_); });
            sampled.probes = piece([&] { return sampleProbes(source_, sampled.plan, earlier, quiet_); });
        }
        if (withOthers) {
            // Coarser steps and thinner clips of a sequence are among its own frames.
            first_ = sampled;
            mesh::Bounds bounds;
            bounds.add(sampled.held ? std::span<const glm::vec3>(sampled.frames.positions)
                                    : std::span<const glm::vec3>(source_.mesh().positions));
            diagonal_ = static_cast<double>(bounds.diagonal());
        }
    }

    void takeShapes(const Recipe& recipe, const Sampled& sampled) {
        const Poses poses = sampled.held ? Poses(sampled.frames) : Poses(source_, sampled.plan);
        const bool normals = normalStore(recipe.normalStore).stored();
        if (poses.frames() > kLargestTexture ||
            sharingMemory(poses.vertices(), poses.frames(), kShapeCounts.back(), normals) > kMostForSharing) {
            ladder_.tried += shapeStores() * kShapeCounts.size();
            return;
        }
        const SharedMotion shared =
            piece([&] { return shareMotion(source_.mesh(), poses, kShapeCounts.back(), normals, quiet_); });
        std::size_t before = 0;
        for (const std::size_t wanted : kShapeCounts) {
            const std::size_t shapes = std::min(wanted, shared.shapes);
            for (const std::string& store : stores_) {
                if (!storesShapes(store)) {
                    continue;
                }
                // As many shapes as frames would be a dearer way to store the frames.
                if (shapes == before || shapes * 2 > sampled.plan.frameCount()) {
                    ++ladder_.tried;
                    continue;
                }
                Recipe own = withKind(recipe, Kind::shapes);
                own.shapes = shapes;
                own.positionStore = store;
                tryOne(own, sampled, [&] { return encodeShared(sampled.plan, shared, own); });
            }
            before = shapes;
            tell();
        }
    }

    void takePieces(const Recipe& recipe, const Sampled& sampled) {
        for (const std::string& store : stores_) {
            if (!ladder_.notPieces.empty()) {
                ++ladder_.tried;
                continue;
            }
            Recipe own = withKind(recipe, Kind::pieces);
            own.positionStore = store;
            tryOne(own, sampled, [&] { return encoded(sampled, own); });
        }
        tell();
    }

    template <typename Encode>
    void tryOne(const Recipe& recipe, const Sampled& sampled, const Encode& encode) {
        ++ladder_.tried;
        try {
            ladder_.rungs.push_back(piece([&] {
                const Baked baked = encode();
                const mesh::Mesh& mesh = source_.mesh();
                const TextureReader reader(baked.textures, baked.columnOfVertex, mesh.positions,
                                           mesh.normals);
                const ErrorReport error = measureError(
                    source_, sampled.plan,
                    {sampled.held ? &sampled.frames : nullptr, sampled.held ? &sampled.probes : nullptr},
                    reader, baked.textures.clips, quiet_, Detail::positions);
                Rung rung;
                rung.recipe = recipe;
                rung.memory = baked.textures.textureMemory();
                rung.error = error.all.max;
                rung.rows = baked.textures.layout.frames;
                rung.columns = baked.textures.layout.columns;
                return rung;
            }));
        } catch (const base::Failure& failure) {
            if (recipe.kind == Kind::pieces) {
                ladder_.notPieces = failure.problem().what;
            }
        }
        progress_.report(static_cast<double>(ladder_.tried) / static_cast<double>(ladder_.planned));
    }

    void tell() {
        markWorthwhile(ladder_.rungs);
        if (onPart_) {
            onPart_(std::make_shared<const Ladder>(ladder_));
        }
    }

    const source::FrameSource& source_;
    const Recipe& recipe_;
    const base::Progress& progress_;
    const std::function<void(std::shared_ptr<const Ladder>)>& onPart_;
    std::vector<std::size_t> steps_;
    std::vector<std::string> stores_;
    std::vector<Content> contents_;
    bool others_ = true;
    bool thins_ = true;
    bool vertices_ = true;
    double diagonal_ = 0.0;
    EarlierPoses known_;
    Sampled first_;
    base::Progress quiet_; ///< of a piece: progress is counted in rungs
    std::size_t lastFrames_ = 0;
    Ladder ladder_;
};

} // namespace

std::string Rung::label() const {
    const char* store = positionStore(recipe.positionStore).label;
    switch (recipe.kind) {
    case Kind::shapes:
        return base::plural(rows, "shape") + ", " + store;
    case Kind::pieces:
        return base::plural(columns, "piece") + ", " + store;
    case Kind::vertices:
        break;
    }
    std::string text = store;
    text += recipe.content == Content::absolute ? " absolute" : "";
    if (recipe.thin > 0.0) {
        return text + ", " + base::plural(rows, "uneven frame");
    }
    return text + (recipe.step > 1 ? ", every " + ordinal(recipe.step) : "");
}

std::shared_ptr<const Ladder> climbLadder(const source::FrameSource& source, const Recipe& recipe,
                                          const LadderFreedom& freedom, const base::Progress& progress,
                                          const std::function<void(std::shared_ptr<const Ladder>)>& onPart,
                                          const EarlierPoses& known) {
    return Climber(source, recipe, freedom, progress, onPart, known).run();
}

std::optional<std::size_t> cheapest(const Ladder& ladder, double tolerance) {
    // Rungs lie by memory, and of the same memory by error.
    for (std::size_t i = 0; i < ladder.rungs.size(); ++i) {
        if (ladder.rungs[i].error <= tolerance) {
            return i;
        }
    }
    return std::nullopt;
}

} // namespace ripple::bake
