#pragma once

#include "bundle/fault.h"
#include "source/frame_source.h"

#include <set>
#include <string>
#include <vector>

namespace ripple::bundle {

/// A bundle as a client plays it, with faults or without. Its clips are those that are stored, each from 0 s
/// on. Poses are in metres and glTF's axes: where the client's own are others, they are turned back and
/// scaled back, so that they can be laid over the right ones.
class Played : public source::FrameSource {
public:
    std::span<const source::Clip> clips() const override { return clips_; }
    std::span<const source::MeshEntry> meshes() const override { return {}; }
    std::span<const base::Finding> findings() const override { return {}; }
    std::string format() const override { return "bundle"; }

    /// Where in a clip a moment lies, in seconds: by a frame of the stored clip, or by the turn of a score.
    virtual double secondsAt(std::size_t clip, double frame, double turn) const = 0;
    /// Faults that it can't have, with why: "pivots-lost: it has no pieces with pivots".
    const std::vector<std::string>& idle() const { return idle_; }
    /// It has the fault, and can have it.
    bool has(Misreading one) const { return misread_.contains(one); }

protected:
    /// Why a bundle can't have a fault; empty when it has it.
    using Why = std::string;

    /// Notes what became of a fault.
    void take(const Fault& fault, const Why& why);
    /// Of faults that are about who reads, not about what is read. `mesh`: as it is shipped.
    static Why whyNotRead(Misreading misreading, const mesh::Mesh& mesh);
    /// What the client makes of a pose that it has read; `mesh` as it is shipped.
    void handle(const mesh::Mesh& mesh, std::span<glm::vec3> positions, std::span<glm::vec3> normals) const;
    /// Seconds since a clip began, by a client's clock. `loop`: seconds of a loop that has played since the
    /// start, or of a clip that has just begun.
    double clock(double seconds, double loop, bool closed) const;

    std::vector<source::Clip> clips_;

private:
    std::set<Misreading> misread_;
    std::vector<std::string> idle_;
};

} // namespace ripple::bundle
