#include "demo/heron_mesh.h"

#include "mesh/normals.h"

#include <algorithm>
#include <cmath>
#include <span>

#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <glm/gtc/constants.hpp>

namespace ripple::demo {

namespace {

/// A cross-section on the way of a sweep: an ellipse, across (horizontal) by high, that follows one joint.
struct Section {
    glm::vec3 centre;
    float across;
    float high;
    HeronJoint joint;
};

struct Sweep {
    std::vector<Section> sections;
    std::size_t rings;
    std::size_t sides;
    HeronSkin skin;
    float flatBelow = 0.0f; ///< 0..1: how much the lower half is pressed flat
};

template <typename T>
T catmullRom(const T& a, const T& b, const T& c, const T& d, float t) {
    return 0.5f * ((2.0f * b) + (c - a) * t + (2.0f * a - 5.0f * b + 4.0f * c - d) * (t * t) +
                   (3.0f * b - a - 3.0f * c + d) * (t * t * t));
}

struct Sample {
    Section section;
    HeronJoint next;
    float towardNext;
};

Sample sampleAt(const std::vector<Section>& s, float along) {
    const float span = along * static_cast<float>(s.size() - 1);
    const std::size_t i = std::min(static_cast<std::size_t>(span), s.size() - 2);
    const float t = span - static_cast<float>(i);
    const Section& a = s[i > 0 ? i - 1 : 0];
    const Section& b = s[i];
    const Section& c = s[i + 1];
    const Section& d = s[std::min(i + 2, s.size() - 1)];
    Sample sample;
    sample.section.centre = catmullRom(a.centre, b.centre, c.centre, d.centre, t);
    sample.section.across = std::max(catmullRom(a.across, b.across, c.across, d.across, t), 0.0004f);
    sample.section.high = std::max(catmullRom(a.high, b.high, c.high, d.high, t), 0.0004f);
    sample.section.joint = b.joint;
    sample.next = c.joint;
    sample.towardNext = t * t * (3.0f - 2.0f * t);
    return sample;
}

class HeronBuilder {
public:
    explicit HeronBuilder(float detail) : detail_(detail) {}

    void add(Sweep sweep) {
        sweep.rings = reduced(sweep.rings);
        sweep.sides = reduced(sweep.sides);
        const auto first = static_cast<std::uint32_t>(out_.mesh.positions.size());
        const glm::vec4 region = skinRegion(sweep.skin);
        for (std::size_t r = 0; r < sweep.rings; ++r) {
            const float along = static_cast<float>(r) / static_cast<float>(sweep.rings - 1);
            const Sample here = sampleAt(sweep.sections, along);
            const glm::vec3 ahead = sampleAt(sweep.sections, std::min(along + 0.004f, 1.0f)).section.centre;
            const glm::vec3 behind = sampleAt(sweep.sections, std::max(along - 0.004f, 0.0f)).section.centre;
            const glm::vec3 way = glm::normalize(ahead - behind);
            const glm::vec3 up = glm::normalize(glm::cross(way, glm::vec3(1.0f, 0.0f, 0.0f)));
            const glm::vec3 side = glm::cross(up, way);
            for (std::size_t k = 0; k <= sweep.sides; ++k) { // one more: the UV seam
                const float around = static_cast<float>(k) / static_cast<float>(sweep.sides);
                const float angle = glm::two_pi<float>() * around;
                float lift = std::cos(angle);
                lift = lift < 0.0f ? lift * (1.0f - sweep.flatBelow) : lift;
                addVertex(here.section.centre + side * (here.section.across * std::sin(angle)) +
                              up * (here.section.high * lift),
                          {glm::mix(region.x, region.z, around), glm::mix(region.y, region.w, along)}, here,
                          first + static_cast<std::uint32_t>(r * (sweep.sides + 1) + k % sweep.sides));
            }
        }
        join(first, sweep.rings, sweep.sides);
    }

    HeronMesh finish() {
        mesh::Mesh& mesh = out_.mesh;
        mesh.normals.resize(mesh.vertexCount());
        mesh::NormalBuilder(mesh.indices, mesh.vertexCount(), mesh.smoothGroup)
            .build(mesh.positions, mesh.normals);
        mesh::Part part;
        part.name = "heron";
        part.vertexCount = static_cast<std::uint32_t>(mesh.vertexCount());
        part.indexCount = static_cast<std::uint32_t>(mesh.indices.size());
        mesh.parts.push_back(part);
        return std::move(out_);
    }

private:
    std::size_t reduced(std::size_t count) const {
        return std::max(std::min<std::size_t>(count, 4),
                        static_cast<std::size_t>(static_cast<float>(count) * detail_));
    }

    void addVertex(const glm::vec3& position, const glm::vec2& uv, const Sample& sample,
                   std::uint32_t group) {
        out_.mesh.positions.push_back(position);
        if (out_.mesh.uvSets.empty()) {
            out_.mesh.uvSets.emplace_back();
        }
        out_.mesh.uvSets[0].push_back(uv);
        out_.mesh.smoothGroup.push_back(group);
        out_.joints.push_back(
            {static_cast<std::uint8_t>(sample.section.joint), static_cast<std::uint8_t>(sample.next), 0, 0});
        out_.weights.push_back({1.0f - sample.towardNext, sample.towardNext, 0.0f, 0.0f});
        if (sample.section.joint == sample.next) {
            out_.joints.back()[1] = 0;
            out_.weights.back() = {1.0f, 0.0f, 0.0f, 0.0f};
        }
        // A joint of no weight is none: the standard wants it to be 0.
        for (std::size_t i = 0; i < 2; ++i) {
            if (out_.weights.back()[i] == 0.0f) {
                out_.joints.back()[i] = 0;
            }
        }
    }

    void join(std::uint32_t first, std::size_t rings, std::size_t sides) {
        const auto at = [&](std::size_t r, std::size_t k) {
            return first + static_cast<std::uint32_t>(r * (sides + 1) + k);
        };
        for (std::size_t r = 0; r + 1 < rings; ++r) {
            for (std::size_t k = 0; k < sides; ++k) {
                out_.mesh.indices.insert(out_.mesh.indices.end(), {at(r, k), at(r + 1, k + 1), at(r, k + 1),
                                                                   at(r, k), at(r + 1, k), at(r + 1, k + 1)});
            }
        }
    }

    HeronMesh out_;
    float detail_;
};

const glm::vec3& joint(HeronJoint j) {
    return kHeronBones[j].rest;
}

/// Tail to beak in one sweep.
Sweep bodySweep() {
    const glm::vec3 tip(0.0f, 0.952f, 0.425f);
    return {{{{0.0f, 0.405f, -0.350f}, 0.030f, 0.005f, kTail},
             {{0.0f, 0.432f, -0.270f}, 0.044f, 0.018f, kTail},
             {joint(kTail), 0.058f, 0.046f, kTail},
             {{0.0f, 0.505f, -0.110f}, 0.078f, 0.078f, kBody},
             {{0.0f, 0.528f, -0.030f}, 0.088f, 0.094f, kBody},
             {{0.0f, 0.548f, 0.050f}, 0.083f, 0.090f, kChest},
             {{0.0f, 0.573f, 0.118f}, 0.064f, 0.070f, kChest},
             {joint(kNeck1), 0.041f, 0.048f, kNeck1},
             {joint(kNeck2), 0.029f, 0.034f, kNeck2},
             {joint(kNeck3), 0.0225f, 0.0255f, kNeck3},
             {joint(kNeck4), 0.0195f, 0.0215f, kNeck4},
             {joint(kNeck5), 0.0180f, 0.0195f, kNeck5},
             {joint(kNeck6), 0.0185f, 0.0200f, kNeck6},
             {joint(kHead), 0.0235f, 0.0260f, kHead},
             {{0.0f, 0.976f, 0.222f}, 0.0200f, 0.0225f, kHead},
             {joint(kBeak), 0.0125f, 0.0145f, kBeak},
             {{0.0f, 0.967f, 0.320f}, 0.0082f, 0.0105f, kBeak},
             {{0.0f, 0.960f, 0.380f}, 0.0046f, 0.0060f, kBeak},
             {tip, 0.0008f, 0.0010f, kBeak}},
            62,
            18,
            HeronSkin::body};
}

Sweep wingSweep(float side) {
    const HeronJoint root = side > 0.0f ? kWingL : kWingR;
    const HeronJoint end = side > 0.0f ? kWingTipL : kWingTipR;
    const auto at = [side](float x, float y, float z) { return glm::vec3(side * x, y, z); };
    return {{{at(0.050f, 0.602f, 0.128f), 0.006f, 0.014f, root},
             {at(0.072f, 0.588f, 0.085f), 0.019f, 0.052f, root},
             {at(0.087f, 0.560f, 0.005f), 0.021f, 0.078f, root},
             {at(0.086f, 0.530f, -0.085f), 0.018f, 0.080f, end},
             {at(0.070f, 0.492f, -0.180f), 0.014f, 0.062f, end},
             {at(0.050f, 0.448f, -0.275f), 0.010f, 0.038f, end},
             {at(0.030f, 0.408f, -0.360f), 0.004f, 0.008f, end}},
            18,
            12,
            HeronSkin::wing};
}

Sweep legSweep(float side) {
    const std::size_t hip = side > 0.0f ? kHipL : kHipR;
    const auto j = [hip](std::size_t i) { return static_cast<HeronJoint>(hip + i); };
    const auto mid = [&](std::size_t a, std::size_t b, float t) {
        return glm::mix(joint(j(a)), joint(j(b)), t);
    };
    return {{{joint(j(0)), 0.034f, 0.046f, j(0)},
             {joint(j(1)), 0.029f, 0.036f, j(1)},
             {mid(1, 2, 0.35f), 0.0155f, 0.0185f, j(1)},
             {mid(1, 2, 0.68f), 0.0082f, 0.0092f, j(1)},
             {mid(1, 2, 0.94f), 0.0074f, 0.0080f, j(1)},
             {joint(j(2)), 0.0098f, 0.0105f, j(2)},
             {mid(2, 3, 0.08f), 0.0074f, 0.0080f, j(2)},
             {mid(2, 3, 0.50f), 0.0060f, 0.0066f, j(2)},
             {mid(2, 3, 0.92f), 0.0064f, 0.0070f, j(2)},
             {joint(j(3)), 0.0088f, 0.0075f, j(3)}},
            30,
            8,
            HeronSkin::leg};
}

Sweep toeSweep(float side, float degrees, float length) {
    const HeronJoint foot = side > 0.0f ? kFootL : kFootR;
    const float angle = degrees * glm::two_pi<float>() / 360.0f;
    const glm::vec3 way(std::sin(angle), 0.0f, std::cos(angle));
    const glm::vec3 from = joint(foot) + glm::vec3(0.0f, -0.004f, 0.0f);
    const auto at = [&](float t, float y) { return glm::vec3(from.x, y, from.z) + way * (length * t); };
    return {{{at(-0.04f, from.y), 0.0062f, 0.0062f, foot},
             {at(0.30f, 0.0085f), 0.0052f, 0.0056f, foot},
             {at(0.70f, 0.0058f), 0.0040f, 0.0044f, foot},
             {at(1.00f, 0.0022f), 0.0010f, 0.0014f, foot}},
            7,
            6,
            HeronSkin::toe};
}

Sweep plumeSweep(std::vector<Section> sections) {
    return {std::move(sections), 9, 5, HeronSkin::plume};
}

Sweep eyeSweep(float side) {
    const glm::vec3 centre(side * 0.0200f, 0.980f, 0.2145f);
    std::vector<Section> sections;
    for (int i = 0; i <= 6; ++i) {
        const float t = static_cast<float>(i) / 6.0f;
        const float radius = 0.0056f * std::sin(0.5f * glm::two_pi<float>() * t);
        sections.push_back(
            {centre + glm::vec3(0.0f, 0.0f, 0.0056f * -std::cos(0.5f * glm::two_pi<float>() * t)), radius,
             radius, kHead});
    }
    return {std::move(sections), 7, 8, HeronSkin::eye};
}

} // namespace

glm::vec4 skinRegion(HeronSkin skin) {
    // Gutters of a hundredth keep filtering from reaching a neighbour.
    switch (skin) {
    case HeronSkin::body:
        return {0.01f, 0.01f, 0.49f, 0.99f};
    case HeronSkin::wing:
        return {0.51f, 0.01f, 0.80f, 0.60f};
    case HeronSkin::leg:
        return {0.82f, 0.01f, 0.99f, 0.60f};
    case HeronSkin::toe:
        return {0.51f, 0.62f, 0.66f, 0.80f};
    case HeronSkin::plume:
        return {0.68f, 0.62f, 0.83f, 0.99f};
    case HeronSkin::eye:
        return {0.51f, 0.82f, 0.66f, 0.99f};
    }
    return {0.0f, 0.0f, 1.0f, 1.0f};
}

HeronMesh buildHeron(float detail) {
    HeronBuilder builder(detail);
    builder.add(bodySweep());
    for (const float side : {1.0f, -1.0f}) {
        builder.add(wingSweep(side));
        builder.add(legSweep(side));
        for (const float degrees : {-32.0f, 2.0f, 36.0f}) {
            builder.add(toeSweep(side, side * degrees, degrees == 2.0f ? 0.085f : 0.074f));
        }
        builder.add(toeSweep(side, 180.0f + side * 14.0f, 0.048f));
        builder.add(eyeSweep(side));
        // A crest plume on each side of the crown, swept back.
        builder.add(plumeSweep({{{side * 0.010f, 0.992f, 0.188f}, 0.0050f, 0.0050f, kHead},
                                {{side * 0.013f, 0.993f, 0.150f}, 0.0044f, 0.0040f, kHead},
                                {{side * 0.012f, 0.978f, 0.105f}, 0.0030f, 0.0026f, kHead},
                                {{side * 0.009f, 0.950f, 0.062f}, 0.0008f, 0.0008f, kHead}}));
    }
    // Long feathers that hang from the breast.
    for (const float x : {-0.016f, 0.0f, 0.016f}) {
        builder.add(
            plumeSweep({{{x, 0.585f, 0.198f}, 0.0110f, 0.0090f, kNeck1},
                        {{1.2f * x, 0.548f, 0.212f}, 0.0095f, 0.0070f, kNeck1},
                        {{1.4f * x, 0.505f, 0.205f}, 0.0060f, 0.0045f, kNeck1},
                        {{1.5f * x, 0.455f - 3.0f * x * x * 10.0f, 0.188f}, 0.0010f, 0.0010f, kNeck1}}));
    }
    return builder.finish();
}

} // namespace ripple::demo
