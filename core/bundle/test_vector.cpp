#include "bundle/test_vector.h"

#include "base/json_section.h"
#include "base/units.h"

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

} // namespace ripple::bundle
