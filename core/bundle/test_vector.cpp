#include "bundle/test_vector.h"

#include "base/json_section.h"
#include "base/units.h"
#include "mesh/axis_map.h"
#include "mesh/normals.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <set>

#include <glm/geometric.hpp>

namespace ripple::bundle {

namespace {

using Json = nlohmann::ordered_json;

constexpr const char* kTestFormat = "curly-ripple-test";
constexpr std::size_t kTestVersion = 1;
constexpr const char* kTestAdvice = "take the bundle's own test file and fill in positions and normals";

Json vectorsJson(std::span<const glm::vec3> vectors) {
    Json list = Json::array();
    for (const glm::vec3& v : vectors) {
        list.push_back(base::json(v));
    }
    return list;
}

std::vector<glm::vec3> vectorsIn(const base::JsonSection& section, const char* key, std::size_t count) {
    std::vector<glm::vec3> vectors;
    for (const base::JsonSection& each : section.list(key)) {
        const Json& row = each.json();
        const bool three = row.is_array() && row.size() == 3 && row[0].is_number() && row[1].is_number() &&
                           row[2].is_number();
        if (!three) {
            section.wrong(key, "holds something that is not three numbers");
        }
        vectors.push_back({row[0].get<float>(), row[1].get<float>(), row[2].get<float>()});
        if (!std::isfinite(vectors.back().x + vectors.back().y + vectors.back().z)) {
            section.wrong(key, "holds a number that is none");
        }
    }
    if (vectors.size() != count) {
        section.wrong(key, "does not have one entry for each vertex");
    }
    return vectors;
}

} // namespace

std::vector<std::uint32_t> testVertices(std::span<const glm::vec3> rest, std::size_t count) {
    std::set<std::uint32_t> chosen;
    for (int axis = 0; axis < 3 && !rest.empty(); ++axis) {
        const auto [low, high] =
            std::minmax_element(rest.begin(), rest.end(),
                                [&](const glm::vec3& a, const glm::vec3& b) { return a[axis] < b[axis]; });
        chosen.insert(static_cast<std::uint32_t>(low - rest.begin()));
        chosen.insert(static_cast<std::uint32_t>(high - rest.begin()));
    }
    for (std::size_t i = 0; i < count && chosen.size() < std::min(count, rest.size()); ++i) {
        chosen.insert(static_cast<std::uint32_t>((2 * i + 1) * rest.size() / (2 * count)));
    }
    return {chosen.begin(), chosen.end()};
}

TestVector makeTest(const std::string& bundle, bool score, std::span<const glm::vec3> rest,
                    std::vector<TestMoment> moments, const PoseAt& poseAt) {
    TestVector test;
    test.bundle = bundle;
    test.score = score;
    test.vertices = testVertices(rest);
    for (const std::uint32_t v : test.vertices) {
        test.rest.push_back(rest[v]);
    }
    std::vector<glm::vec3> positions(rest.size());
    std::vector<glm::vec3> normals(rest.size());
    for (TestMoment& moment : moments) {
        poseAt(moment.clip, moment.frame, positions, normals);
        for (const std::uint32_t v : test.vertices) {
            moment.positions.push_back(positions[v]);
            moment.normals.push_back(normals[v]);
        }
    }
    test.moments = std::move(moments);
    return test;
}

std::string testText(const TestVector& test) {
    Json root;
    root["format"] = kTestFormat;
    root["version"] = kTestVersion;
    root["bundle"] = test.bundle;
    root["kind"] = test.score ? "score" : "bake";
    root["vertices"] = test.vertices;
    root["rest"] = vectorsJson(test.rest);
    root["moments"] = Json::array();
    for (const TestMoment& moment : test.moments) {
        Json entry;
        if (test.score) {
            entry["turn"] = moment.frame;
        } else {
            entry["clip"] = moment.clip;
            entry["frame"] = moment.frame;
        }
        entry["seconds"] = moment.seconds;
        entry["positions"] = vectorsJson(moment.positions);
        if (!moment.normals.empty()) {
            entry["normals"] = vectorsJson(moment.normals);
        }
        root["moments"].push_back(std::move(entry));
    }
    return root.dump(1) + "\n";
}

TestVector parseTest(const std::string& text, const std::string& where) {
    Json json;
    try {
        json = Json::parse(text);
    } catch (const Json::exception&) {
        base::fail(where, "is no JSON, or damaged", kTestAdvice);
    }
    const base::JsonSection root(json, where, kTestAdvice);
    if (!json.is_object() || !root.has("format") || root.text("format") != kTestFormat) {
        base::fail(where, "is no test file of a bundle", kTestAdvice);
    }
    // Clients that write their own may leave it out.
    constexpr std::size_t kMost = std::size_t{1} << 32;
    const std::size_t version = root.has("version") ? root.count("version", kMost) : kTestVersion;
    if (version > kTestVersion) {
        base::fail(where, "is of version " + std::to_string(version) + ", newer than this program",
                   "update Curly Ripple");
    }
    TestVector test;
    test.bundle = root.text("bundle");
    test.score = root.text("kind") == "score";
    for (const base::JsonSection& each : root.list("vertices")) {
        const Json& number = each.json();
        if (!number.is_number_unsigned() || number.get<std::uint64_t>() >= kMost) {
            root.wrong("vertices", "holds something that is no number of a vertex");
        }
        test.vertices.push_back(number.get<std::uint32_t>());
    }
    test.rest = vectorsIn(root, "rest", test.vertices.size());
    for (const base::JsonSection& each : root.list("moments")) {
        TestMoment moment;
        moment.clip = test.score ? 0 : each.count("clip", kMost);
        moment.frame = each.number(test.score ? "turn" : "frame");
        moment.seconds = each.has("seconds") ? each.number("seconds") : 0.0;
        moment.positions = vectorsIn(each, "positions", test.vertices.size());
        if (each.has("normals")) {
            moment.normals = vectorsIn(each, "normals", test.vertices.size());
        }
        test.moments.push_back(std::move(moment));
    }
    return test;
}

TestVector inMetres(TestVector test, double metresPerUnit) {
    const auto factor = static_cast<float>(metresPerUnit);
    const auto scale = [&](std::vector<glm::vec3>& positions) {
        for (glm::vec3& p : positions) {
            p *= factor;
        }
    };
    scale(test.rest);
    for (TestMoment& moment : test.moments) {
        scale(moment.positions);
    }
    return test;
}

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
            if (shows(suspect.play(), vertexCount, [](const TestMoment& moment) { return moment.frame; })) {
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
