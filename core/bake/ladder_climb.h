#pragma once

#include "bake/ladder.h"
#include "bake/poses.h"
#include "bake/room.h"
#include "base/progress.h"

#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace ripple::bake {

/// What a kind of bake is handed to try its rungs at one way to sample the source.
class Climb {
public:
    virtual ~Climb() = default;

    virtual const source::FrameSource& source() const = 0;
    /// How it is sampled; kind, store and content are the kind's to choose.
    virtual const Recipe& recipe() const = 0;
    virtual const SamplePlan& plan() const = 0;
    virtual Poses poses() const = 0;
    /// The stores of positions, and contents, that may be tried.
    virtual const std::vector<std::string>& stores() const = 0;
    virtual const std::vector<Content>& contents() const = 0;

    /// A bake of the vertices fits into a texture.
    virtual bool fits(const Recipe& recipe) const = 0;
    /// Why an attempt of this kind failed; "" if none did.
    virtual std::string refused(const Kind& kind) const = 0;

    /// Does a piece of work, from its start again if it had to make room for work that is waited for.
    virtual void work(const std::function<void(const base::Progress&)>& piece) const = 0;
    /// Bakes, measures the error and adds a rung. Without `encode`, as bake::bake() does.
    virtual void attempt(const Recipe& recipe,
                         const std::function<Baked(const base::Progress&)>& encode = {}) = 0;
    /// Counts rungs that are not possible.
    virtual void skip(std::size_t rungs) = 0;
    /// Shows what there is so far.
    virtual void tell() = 0;
};

} // namespace ripple::bake
