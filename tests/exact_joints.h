#pragma once

#include "bake/bake.h"
#include "bake/joint_texels.h"
#include "bake/texture_reader.h"

#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

#include <glm/gtc/quaternion.hpp>

namespace ripple::tests {

/// Rigid joints read in double precision, written from docs/bundle-format.md ("Between frames", "From one
/// clip to another") and from nothing else: what shader code and the core's reader are held against.
class ExactJoints {
public:
    /// Stored frames with their weights; `near`: of which the rotation lies near.
    struct Entry {
        std::size_t frame;
        double weight;
        std::size_t near;
    };
    using Moment = std::vector<Entry>;

    ExactJoints(const bake::Baked& baked, const mesh::Mesh& mesh)
        : format_(baked.textures),
          columns_(baked.columnOfVertex),
          rest_(baked.shippedPositions(mesh).begin(), baked.shippedPositions(mesh).end()) {
        const bake::TextureReader reader = baked.reader(mesh);
        influences_ = reader.storedInfluences();
        for (std::size_t f = 0; f < format_.frameCount(); ++f) {
            auto& texels = frames_.emplace_back(format_.joints.joints * 2);
            reader.storedJoints(f, texels);
        }
    }

    /// A place in a clip of evenly stored frames.
    Moment at(const bake::BakedClip& clip, double frame) const {
        const auto count = static_cast<double>(clip.frames);
        frame = clip.closed ? frame - count * std::floor(frame / count) : std::clamp(frame, 0.0, count - 1.0);
        const double whole = std::min(std::floor(frame), count - 1.0);
        const double t = frame - whole;
        const auto stored = [&](double k) { // of a closed clip any whole number
            return clip.firstFrame + static_cast<std::size_t>(k - count * std::floor(k / count));
        };
        const double next = clip.closed ? whole + 1.0 : std::min(whole + 1.0, count - 1.0);
        if (format_.blend == bake::Blend::linear || clip.frames < 4) {
            return {{stored(whole), 1.0 - t, 0}, {stored(next), t, 0}};
        }
        double before = 0.5 * t * (t * (2.0 - t) - 1.0);
        double own = 0.5 * (2.0 + t * t * (3.0 * t - 5.0));
        double behind = 0.5 * t * (1.0 + t * (4.0 - 3.0 * t));
        double after = 0.5 * t * t * (t - 1.0);
        if (!clip.closed && whole == 0.0) { // the one that is missing is 3a − 3b + c
            own += 3.0 * before;
            behind -= 3.0 * before;
            after += before;
            before = 0.0;
        }
        if (!clip.closed && next + 1.0 > count - 1.0) {
            behind += 3.0 * after;
            own -= 3.0 * after;
            before += after;
            after = 0.0;
        }
        return {{stored(whole), own, 0},
                {stored(next), behind, 0},
                {stored(whole - 1.0), before, 0},
                {stored(next + 1.0), after, 1}};
    }

    static Moment faded(const Moment& from, const Moment& to, double weight) {
        Moment both;
        for (const Entry& own : from) {
            both.push_back({own.frame, (1.0 - weight) * own.weight, own.near});
        }
        for (const Entry& own : to) {
            const bool first = both.size() == from.size();
            both.push_back({own.frame, weight * own.weight, first ? 0 : from.size() + own.near});
        }
        return both;
    }

    glm::dvec3 position(const Moment& moment, std::size_t vertex) const {
        const bake::JointInfluences& own = influences_[columns_[vertex]];
        glm::dvec3 sum(0.0);
        for (std::size_t i = 0; i < bake::JointInfluences::kMost; ++i) {
            if (own.weights[i] != 0.0f) {
                sum += static_cast<double>(own.weights[i]) *
                       moved(moment, own.joints[i], glm::dvec3(rest_[vertex]));
            }
        }
        return sum;
    }

    /// In metres a second, of what `momentAt` gives for seconds.
    template <typename MomentAt>
    glm::dvec3 velocity(const MomentAt& momentAt, double seconds, std::size_t vertex) const {
        constexpr double kStep = 1e-5; // whose square is nothing beside 1, nor are roundings by it
        return (position(momentAt(seconds + kStep), vertex) - position(momentAt(seconds - kStep), vertex)) /
               (2.0 * kStep);
    }

private:
    glm::dvec3 moved(const Moment& moment, std::size_t joint, const glm::dvec3& point) const {
        std::vector<glm::dquat> turns;
        glm::dquat q(0.0, 0.0, 0.0, 0.0);
        glm::dquat d(0.0, 0.0, 0.0, 0.0);
        double scale = 0.0;
        for (const Entry& entry : moment) {
            const glm::dvec4 place(frames_[entry.frame][2 * joint]);
            const glm::dvec4 stored(frames_[entry.frame][2 * joint + 1]);
            glm::dquat turn(stored.w, stored.x, stored.y, stored.z);
            if (!turns.empty() && glm::dot(turns[entry.near], turn) < 0.0) {
                turn = -turn;
            }
            turns.push_back(turn);
            q = q + turn * entry.weight;
            d = d + glm::dquat(0.0, place.x, place.y, place.z) * turn * entry.weight;
            scale += entry.weight * place.w;
        }
        const glm::dquat way = d * glm::inverse(q);
        return scale * (glm::normalize(q) * point) + glm::dvec3(way.x, way.y, way.z);
    }

    const bake::BakeFormat& format_;
    const std::vector<std::uint32_t>& columns_;
    std::vector<glm::vec3> rest_;
    std::vector<bake::JointInfluences> influences_;
    std::vector<std::vector<glm::vec4>> frames_;
};

} // namespace ripple::tests
