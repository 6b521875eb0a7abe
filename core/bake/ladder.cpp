#include "bake/ladder.h"

#include "bake/kind.h"
#include "bake/ladder_climb.h"
#include "bake/texture_reader.h"
#include "base/units.h"

#include <algorithm>
#include <array>
#include <optional>
#include <set>

namespace ripple::bake {

namespace {

/// How many frames are kept: one of `step`, or `oversampling` for each.
struct Sampling {
    std::size_t step = 1;
    std::size_t oversampling = 1;
};
constexpr std::array<Sampling, 7> kSamplings = {{{1, 1}, {1, 4}, {1, 2}, {2, 1}, {3, 1}, {4, 1}, {6, 1}}};
/// Cubic blending is no choice unless it leaves less than this part of what linear blending loses.
constexpr double kCurveHelps = 0.98;
/// Uneven thinning to these parts of the largest step's error.
constexpr std::array kThinning = {1e-4, 1e-3, 4e-3};
/// Poses of so many bytes are held while their rungs are tried; of more the source is asked again for each.
constexpr std::size_t kHeldPoses = std::size_t{2} << 30;
constexpr std::size_t kFewestFrames = 4; // a step that keeps fewer makes another motion

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

std::string ordinal(std::size_t n) {
    const bool teen = n % 100 >= 11 && n % 100 <= 13;
    const char* end = teen ? "th" : n % 10 == 1 ? "st" : n % 10 == 2 ? "nd" : n % 10 == 3 ? "rd" : "th";
    return std::to_string(n) + end;
}

class Climber : public Climb {
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
        samplings_ = {{recipe.step, oversamplingOf(recipe)}};
        if (freedom.step) {
            samplings_.assign(kSamplings.begin(), kSamplings.end());
        }
        bends_ = freedom.blend;
        for (const PositionStore& store : positionStores()) {
            if (freedom.store || store.name == recipe.positionStore) {
                stores_.push_back(store.name);
            }
        }
        contents_ = {recipe.content};
        if (freedom.content) {
            contents_ = {Content::offset, Content::absolute};
        }
        for (const Kind* kind : bake::kinds()) {
            if (freedom.kind || kind == recipe.kind) {
                kinds_.push_back(kind);
            }
        }
        thins_ = freedom.step && std::any_of(kinds_.begin(), kinds_.end(),
                                             [](const Kind* kind) { return kind->everySampling; });
        for (const Kind* kind : kinds_) {
            const std::size_t samplings = samplings_.size() + (thins_ ? kThinning.size() : 0);
            ladder_.planned += kind->rungs(*this) * (kind->everySampling ? samplings : 1);
        }
    }

    std::shared_ptr<const Ladder> run() {
        for (const Sampling& sampling : samplings_) {
            Recipe recipe = recipe_;
            recipe.thin = samplings_.size() > 1 ? 0.0 : recipe.thin;
            recipe.step = sampling.step;
            recipe.oversampling =
                samplings_.size() > 1 ? std::optional(sampling.oversampling) : recipe.oversampling;
            take(recipe, &sampling == &samplings_.front());
        }
        for (const double part : kThinning) {
            Recipe recipe = recipe_;
            recipe.step = 1;
            recipe.oversampling = 1;
            recipe.blend = Blend::linear;
            recipe.thin = part * diagonal_;
            if (thins_) {
                take(recipe, false);
            }
        }
        ladder_.tried = ladder_.planned;
        tell();
        return std::make_shared<const Ladder>(ladder_);
    }

    const source::FrameSource& source() const override { return source_; }
    const Recipe& recipe() const override { return now_; }
    const SamplePlan& plan() const override { return sampled_.plan; }
    Poses poses() const override {
        return sampled_.held ? Poses(sampled_.frames) : Poses(source_, sampled_.plan);
    }
    const std::vector<std::string>& stores() const override { return stores_; }
    const std::vector<Content>& contents() const override { return contents_; }

    /// What its rungs take is known before anything is sampled for them.
    bool fits(const Recipe& recipe) const override {
        auto& size = sampled_.sizes[recipe.content == Content::offset ? 1 : 0];
        if (!size) {
            work([&](const base::Progress&) { size = measureSize(source_, sampled_.plan, recipe); });
        }
        try {
            requireRoom(*size, recipe);
            return true;
        } catch (const base::Failure&) {
            return false;
        }
    }

    std::string refused(const Kind& kind) const override { return ladder_.whyNot(kind); }

    void work(const std::function<void(const base::Progress&)>& piece) const override {
        for (;;) {
            progress_.waitWhileHeld();
            try {
                return piece(quiet_);
            } catch (const base::Cancelled&) {
                progress_.checkpoint();
            }
        }
    }

    void attempt(const Recipe& recipe, const std::function<Baked(const base::Progress&)>& encode) override {
        ++ladder_.tried;
        try {
            work([&](const base::Progress& quiet) {
                Baked baked = encode ? encode(quiet) : encoded(recipe);
                std::vector<Rung> made = {measured(recipe, baked, quiet)};
                if (mayBend(recipe)) {
                    Recipe curved = recipe;
                    curved.blend = baked.textures.blend = Blend::cubic;
                    made.push_back(measured(curved, baked, quiet));
                    keepHelpful(made);
                }
                ladder_.rungs.insert(ladder_.rungs.end(), made.begin(), made.end());
            });
        } catch (const base::Failure& failure) {
            if (refused(*recipe.kind).empty()) {
                ladder_.refusals.push_back({recipe.kind, failure.problem().what});
            }
        }
        progress_.report(static_cast<double>(ladder_.tried) / static_cast<double>(ladder_.planned));
    }

    void skip(std::size_t rungs) override { ladder_.tried += rungs; }

    void tell() override {
        markWorthwhile(ladder_.rungs);
        if (onPart_) {
            onPart_(std::make_shared<const Ladder>(ladder_));
        }
    }

private:
    /// Poses of one way to sample.
    struct Sampled {
        SamplePlan plan;
        bool held = false; ///< then:
        Frames frames;
        Frames probes;
        mutable std::array<std::optional<Size>, 2> sizes; ///< of a bake of its vertices, by content
    };

    bool mayBend(const Recipe& recipe) const {
        return bends_ && recipe.kind->cubic && recipe.thin <= 0.0 && !curveIsNoHelp_.contains(recipe.kind);
    }

    /// Of a rung blended linearly and the same on curves, which take the same memory, leaves out the curve
    /// that does not help; then it does not in other stores either.
    void keepHelpful(std::vector<Rung>& made) {
        if (!(made[1].error < kCurveHelps * made[0].error)) {
            curveIsNoHelp_.insert(made[1].recipe.kind);
            made.pop_back();
        }
    }

    /// Rungs of the way to sample that is next; `first`: kinds that are tried at one alone are tried at this.
    void take(const Recipe& recipe, bool first) {
        now_ = recipe;
        now_.blend = bends_ ? Blend::linear : recipe.blend; // curves are tried beside them
        sampled_ = {};
        curveIsNoHelp_.clear();
        work([&](const base::Progress& quiet) { sampled_.plan = planSampling(source_, recipe, quiet); });
        std::vector<const Kind*> tried;
        std::size_t rungs = 0;
        for (const Kind* kind : kinds_) {
            if (first || kind->everySampling) {
                tried.push_back(kind);
                rungs += kind->rungs(*this);
            }
        }
        const std::size_t frames = sampled_.plan.frameCount();
        const bool tooFew = frames < kFewestFrames * sampled_.plan.clips.size();
        if ((!first && (tooFew || frames == lastFrames_)) || !anyFits(tried)) {
            skip(rungs); // too few to be the same motion, or as many as were tried before; or too large
            return;
        }
        lastFrames_ = frames;
        sample(first);
        for (const Kind* kind : tried) {
            kind->climb(*this);
            tell();
        }
    }

    bool anyFits(const std::vector<const Kind*>& tried) const {
        return std::any_of(tried.begin(), tried.end(), [&](const Kind* kind) {
            // Pieces have few columns, and so has a motion that few shapes share.
            return !kind->holdsVertices ||
                   std::any_of(contents_.begin(), contents_.end(), [&](Content content) {
                       Recipe own = withKind(now_, *kind);
                       own.content = content;
                       return fits(own);
                   });
        });
    }

    void sample(bool first) {
        const std::size_t vertices = source_.mesh().vertexCount();
        sampled_.held = 2 * sampled_.plan.frameCount() * vertices * 2 * sizeof(glm::vec3) <= kHeldPoses;
        const EarlierPoses held = first_.held ? EarlierPoses{&first_.plan, &first_.frames} : EarlierPoses{};
        const EarlierPoses earlier = first ? known_ : held;
        if (sampled_.held) {
            work([&](const base::Progress& quiet) {
                sampled_.frames = sampleFrames(source_, sampled_.plan, earlier, quiet);
            });
            work([&](const base::Progress& quiet) {
                sampled_.probes = sampleProbes(source_, sampled_.plan, earlier, quiet);
            });
        }
        if (first) {
            // Coarser steps and thinner clips of a sequence are among its own frames.
            first_ = sampled_;
            mesh::Bounds bounds;
            bounds.add(sampled_.held ? std::span<const glm::vec3>(sampled_.frames.positions)
                                     : std::span<const glm::vec3>(source_.mesh().positions));
            diagonal_ = static_cast<double>(bounds.diagonal());
        }
    }

    Baked encoded(const Recipe& recipe) const {
        return sampled_.held ? encodeFrames(source_, sampled_.plan, sampled_.frames, recipe, quiet_)
                             : bake(source_, sampled_.plan, recipe, quiet_);
    }

    Rung measured(const Recipe& recipe, const Baked& baked, const base::Progress& quiet) const {
        const mesh::Mesh& mesh = source_.mesh();
        const TextureReader reader = baked.reader(mesh);
        const ErrorReport error = measureError(
            source_, sampled_.plan,
            {sampled_.held ? &sampled_.frames : nullptr, sampled_.held ? &sampled_.probes : nullptr}, reader,
            baked.textures.clips, quiet, Detail::positions);
        Rung rung;
        rung.recipe = recipe;
        rung.memory = baked.textures.textureMemory();
        rung.error = error.all.max;
        const bool joints = recipe.kind->followsJoints;
        rung.rows = joints ? baked.textures.frameCount() : baked.textures.layout.blocks;
        rung.columns = joints ? baked.textures.joints.joints : baked.textures.layout.columns;
        return rung;
    }

    const source::FrameSource& source_;
    const Recipe& recipe_;
    const base::Progress& progress_;
    const std::function<void(std::shared_ptr<const Ladder>)>& onPart_;
    std::vector<Sampling> samplings_;
    bool bends_ = true;
    std::set<const Kind*> curveIsNoHelp_; ///< at this way to sample
    std::vector<std::string> stores_;
    std::vector<Content> contents_;
    std::vector<const Kind*> kinds_;
    bool thins_ = true;
    double diagonal_ = 0.0;
    EarlierPoses known_;
    Recipe now_;
    Sampled sampled_;
    Sampled first_;
    base::Progress quiet_; ///< of a piece: progress is counted in rungs
    std::size_t lastFrames_ = 0;
    Ladder ladder_;
};

} // namespace

std::string samplingLabel(const Rung& rung) {
    const Recipe& recipe = rung.recipe;
    const std::size_t each = oversamplingOf(recipe);
    return (recipe.step > 1 ? ", every " + ordinal(recipe.step) : "") +
           (each > 1 ? ", " + std::to_string(each) + " × the rate" : "") +
           (recipe.blend == Blend::cubic ? ", on curves" : "");
}

std::string Rung::label() const {
    return recipe.kind->rungLabel(*this);
}

std::string Ladder::whyNot(const Kind& kind) const {
    const auto found = std::find_if(refusals.begin(), refusals.end(),
                                    [&](const auto& refusal) { return refusal.first == &kind; });
    return found == refusals.end() ? std::string() : found->second;
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
