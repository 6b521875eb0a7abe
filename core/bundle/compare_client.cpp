// What a client wrote into a test file, against the bundle's own, and what likely happened where they differ.

#include "bundle/test_vector.h"

#include "base/units.h"
#include "mesh/axis_map.h"
#include "mesh/normals.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::bundle {

namespace {

/// A moment of the client with the bundle's own of the same instant.
struct Pair {
    const TestMoment* wanted = nullptr;
    const TestMoment* got = nullptr;
};

class Detective {
public:
    Detective(const TestVector& expected, std::vector<Pair> pairs, double allowed)
        : expected_(expected),
          pairs_(std::move(pairs)),
          allowed_(allowed) {}

    /// What likely happened, in words; empty where the numbers do not tell.
    std::string guess(const PoseAt& poseAt, std::size_t vertexCount) const {
        if (fits([](const glm::vec3&, const glm::vec3& rest) { return rest; })) {
            return "it stands still in its rest pose: the texture is not read, or the clip has not begun";
        }
        if (fits([](const glm::vec3& p, const glm::vec3& rest) { return p - rest; })) {
            return "it gives offsets from the rest pose, not positions: the rest position is not added";
        }
        if (fits([](const glm::vec3& p, const glm::vec3& rest) { return p + rest; })) {
            return "the rest position is added twice";
        }
        if (const std::string words = otherAxes(); !words.empty()) {
            return words;
        }
        if (const std::string words = elsewhere(); !words.empty()) {
            return words;
        }
        return poseAt ? otherInstant(poseAt, vertexCount) : std::string();
    }

    /// Those that show just what the client has: some faults look alike.
    std::vector<const Suspect*> suspectsAmong(std::span<const Suspect> suspects,
                                              std::size_t vertexCount) const {
        std::vector<const Suspect*> found;
        for (const Suspect& suspect : suspects) {
            const PoseAt poseAt = suspect.play();
            if (poseAt && shows(poseAt, vertexCount, [](const TestMoment& moment) { return moment.frame; })) {
                found.push_back(&suspect);
            }
        }
        return found;
    }

private:
    template <typename Made>
    bool fits(const Made& made) const {
        for (const Pair& pair : pairs_) {
            for (std::size_t v = 0; v < expected_.vertices.size(); ++v) {
                const glm::vec3 like = made(pair.wanted->positions[v], expected_.rest[v]);
                if (static_cast<double>(glm::distance(like, pair.got->positions[v])) > allowed_) {
                    return false;
                }
            }
        }
        return true;
    }

    /// An axis map that makes what the client has of what it should have.
    std::string otherAxes() const {
        const std::vector<mesh::AxisMap> maps = mesh::axisMaps();
        const auto found = std::ranges::find_if(maps, [this](const auto& map) { return isSo(map); });
        return found == maps.end() ? std::string() : found->words();
    }
    bool isSo(const mesh::AxisMap& map) const {
        for (const Pair& pair : pairs_) {
            for (std::size_t v = 0; v < expected_.vertices.size(); ++v) {
                const glm::dvec3 like = map.of(pair.wanted->positions[v]);
                if (glm::distance(like, glm::dvec3(pair.got->positions[v])) > allowed_ * map.unit) {
                    return false;
                }
            }
        }
        return true;
    }

    /// Every vertex is off by the same.
    std::string elsewhere() const {
        const glm::vec3 moved = pairs_[0].got->positions[0] - pairs_[0].wanted->positions[0];
        if (!fits([&](const glm::vec3& p, const glm::vec3&) { return p + moved; })) {
            return {};
        }
        std::string by;
        for (int c = 0; c < 3; ++c) {
            by += (c ? ", " : "") + base::numberText(static_cast<double>(moved[c]));
        }
        return "all of it is moved by (" + by + ") m: its origin was moved, or the object's place was added";
    }

    /// Whether all is where such poses have it.
    bool shows(const PoseAt& poseAt, std::size_t vertexCount,
               const std::function<double(const TestMoment&)>& frameOf) const {
        std::vector<glm::vec3> positions(vertexCount);
        std::vector<glm::vec3> normals(vertexCount);
        return std::ranges::all_of(pairs_, [&](const Pair& pair) {
            poseAt(pair.wanted->clip, frameOf(*pair.wanted), positions, normals);
            for (std::size_t v = 0; v < expected_.vertices.size(); ++v) {
                const float off = glm::distance(positions[expected_.vertices[v]], pair.got->positions[v]);
                if (!(static_cast<double>(off) <= allowed_)) {
                    return false;
                }
            }
            return true;
        });
    }

    /// It may show the right clip a little earlier or later, at another rate, or without blending.
    std::string otherInstant(const PoseAt& poseAt, std::size_t vertexCount) const {
        const double step = expected_.score ? 0.05 : 0.5;
        for (int k = -6; k <= 6; ++k) {
            if (k != 0 && shows(poseAt, vertexCount,
                                [&](const TestMoment& moment) { return moment.frame + step * k; })) {
                const double by = std::abs(step * k);
                return std::string("it shows another instant: too ") + (k > 0 ? "late" : "early") + " by " +
                       base::numberText(by) +
                       (expected_.score ? " turns"
                        : by == 1.0     ? " frame"
                                        : " frames");
            }
        }
        if (expected_.score) {
            return {};
        }
        for (const bool nearest : {false, true}) {
            if (shows(poseAt, vertexCount, [&](const TestMoment& moment) {
                    return std::floor(moment.frame + (nearest ? 0.5 : 0.0));
                })) {
                return "it does not blend between frames: it shows " +
                       std::string(nearest ? "the nearest" : "each until the next");
            }
        }
        for (const double rate : {1.0, 12.0, 15.0, 24.0, 25.0, 30.0, 50.0, 60.0, 120.0}) {
            if (shows(poseAt, vertexCount, [&](const TestMoment& moment) { return rate * moment.seconds; })) {
                return "it plays at another rate: " + base::numberText(rate) + " frames a second";
            }
        }
        return {};
    }

    const TestVector& expected_;
    std::vector<Pair> pairs_;
    double allowed_;
};

} // namespace

double allowedOfClient(double size) {
    return std::max(1e-4 * size, 1e-7);
}

ClientCheck compareClient(const TestVector& expected, const TestVector& client, double size,
                          const PoseAt& poseAt, std::size_t vertexCount, std::span<const Suspect> suspects) {
    ClientCheck check;
    check.allowedMetres = allowedOfClient(size);
    const std::string where = "the client's file";
    if (client.bundle != expected.bundle || client.score != expected.score ||
        client.vertices != expected.vertices) {
        check.problems.push_back(
            {where,
             client.bundle != expected.bundle
                 ? "is of the bundle \"" + client.bundle + "\", not \"" + expected.bundle + "\""
                 : "is of other vertices than the bundle's test",
             kTestAdvice});
        return check;
    }
    std::vector<Pair> pairs;
    for (const TestMoment& got : client.moments) {
        for (const TestMoment& wanted : expected.moments) {
            if (wanted.clip == got.clip && std::abs(wanted.frame - got.frame) < 1e-6) {
                pairs.push_back({&wanted, &got});
                break;
            }
        }
    }
    check.moments = pairs.size();
    check.vertices = expected.vertices.size();
    if (pairs.empty()) {
        check.problems.push_back({where, "has no moment that the bundle's test has", kTestAdvice});
        return check;
    }
    double normalTurned = 0.0;
    for (const Pair& pair : pairs) {
        for (std::size_t v = 0; v < expected.vertices.size(); ++v) {
            const auto off =
                static_cast<double>(glm::distance(pair.wanted->positions[v], pair.got->positions[v]));
            if (off > check.worstMetres) {
                check.worstMetres = off;
                check.worstVertex = expected.vertices[v];
            }
            if (!pair.got->normals.empty() && glm::length(pair.got->normals[v]) > 1e-6f) {
                normalTurned = std::max(normalTurned, static_cast<double>(mesh::degreesBetween(
                                                          pair.wanted->normals[v], pair.got->normals[v])));
            }
        }
    }
    check.worstDegrees = normalTurned;
    if (check.worstMetres > check.allowedMetres) {
        const Detective detective(expected, std::move(pairs), check.allowedMetres);
        std::string guess = detective.guess(poseAt, vertexCount);
        std::string fix = "set that right, and write it again";
        if (guess.empty()) {
            fix = "read IMPORT.md from its table of settings on";
            for (const Suspect* suspect : detective.suspectsAmong(suspects, vertexCount)) {
                fix = guess.empty() ? suspect->prevention : fix + "; or " + suspect->prevention;
                guess += (guess.empty() ? "" : ", or ") + suspect->words;
            }
        }
        check.problems.push_back(
            {where,
             "is off by up to " + base::lengthText(check.worstMetres) + " (vertex " +
                 std::to_string(check.worstVertex) + ")" +
                 (guess.empty() ? "; what did it is not to be seen from these numbers" : ": " + guess),
             fix});
    } else if (constexpr double kDegrees = 1.0; check.worstDegrees > kDegrees) {
        check.problems.push_back(
            {where, "has normals that are off by up to " + base::degreesText(check.worstDegrees),
             "take the normals that the code gives, in the mesh's own space"});
    }
    return check;
}

} // namespace ripple::bundle
