#pragma once

#include "base/problem.h"

#include <array>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <span>
#include <string>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::bundle {

/// What helps where a file is none.
constexpr const char* kTestAdvice = "take the bundle's own test file and fill in positions and normals";

/// An instant of a test file: of a baked bundle a clip with its frame, of a score a turn.
struct TestMoment {
    std::size_t clip = 0;
    double frame = 0.0;               ///< of the clip; of a score the turn, 0..1
    double seconds = 0.0;             ///< the same, since the clip or the loop began
    std::vector<glm::vec3> positions; ///< vertices of the test; in the target's axes and unit
    std::vector<glm::vec3> normals;   ///< unit length; empty where a client wrote none
};

/// NAME.test.json (docs/bundle-format.md): where a few vertices are at a few instants, so that any client can
/// see whether it reads the bundle right.
struct TestVector {
    std::string bundle;
    bool score = false;
    std::vector<std::uint32_t> vertices; ///< ascending
    std::vector<glm::vec3> rest;         ///< vertices
    std::vector<TestMoment> moments;
};

/// The pose of all vertices at an instant.
using PoseAt = std::function<void(std::size_t clip, double frame, std::span<glm::vec3> positions,
                                  std::span<glm::vec3> normals)>;

/// Up to `count` vertices: the outermost along each axis, and others evenly among all.
std::vector<std::uint32_t> testVertices(std::span<const glm::vec3> rest, std::size_t count = 12);

/// Fills in what vertices do at the instants that `moments` names.
TestVector makeTest(const std::string& bundle, bool score, std::span<const glm::vec3> rest,
                    std::vector<TestMoment> moments, const PoseAt& poseAt);

std::string testText(const TestVector& test);
/// Throws base::Failure: not JSON, another format, lists that do not fit each other, numbers that are none.
TestVector parseTest(const std::string& text, const std::string& where);

/// The same with positions in metres, of a target whose unit is `metresPerUnit`.
TestVector inMetres(TestVector test, double metresPerUnit);

/// How far a client's vertices may be from their places, metres: a ten-thousandth of the size.
double allowedOfClient(double size);

/// What a client made of a bundle.
struct ClientCheck {
    std::size_t moments = 0;  ///< that were compared
    std::size_t vertices = 0; ///< of each
    double worstMetres = 0.0;
    double worstDegrees = 0.0; ///< of normals; 0 where it wrote none
    std::size_t worstVertex = 0;
    double allowedMetres = 0.0; ///< allowedOfClient()
    /// What is wrong, in words: what likely happened, where the numbers tell it.
    std::vector<base::Problem> problems;

    bool ok() const { return problems.empty(); }
};

/// What a client may have done, and the poses that it shows then, made when they are asked for: none where
/// the bundle gives no occasion for it.
struct Suspect {
    std::string words;
    std::string prevention;
    std::function<PoseAt()> play;
};

/// Compares what a client wrote into a copy of a bundle's test file with the bundle's own, both in metres.
/// `poseAt`, where it is not null: to find out whether it shows another instant; `suspects`: or whether it is
/// one of those. `size`: the diagonal of the rest bounds, metres.
ClientCheck compareClient(const TestVector& expected, const TestVector& client, double size,
                          const PoseAt& poseAt, std::size_t vertexCount,
                          std::span<const Suspect> suspects = {});

/// The same for a bundle's folder and a client's file. Throws base::Failure for files that can't be read.
ClientCheck checkClient(const std::filesystem::path& directory, const std::filesystem::path& clientFile);

} // namespace ripple::bundle
