#include "scatter/scene.h"

#include "bake/tolerance.h"
#include "base/progress.h"
#include "source/open.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include <glm/geometric.hpp>

namespace ripple::scatter {

namespace {

/// Metres between the two copies that are nearest, by a sweep along x.
double nearestTwo(std::span<const Copy> copies) {
    std::vector<glm::vec3> places;
    for (const Copy& copy : copies) {
        places.push_back(copy.origin);
    }
    std::ranges::sort(places, {}, &glm::vec3::x);
    float nearest = std::numeric_limits<float>::max();
    for (std::size_t i = 0; i < places.size(); ++i) {
        for (std::size_t j = i + 1; j < places.size() && places[j].x - places[i].x < nearest; ++j) {
            nearest = std::min(nearest, glm::distance(places[i], places[j]));
        }
    }
    return places.size() > 1 ? static_cast<double>(nearest) : 0.0;
}

/// Poses that levels of detail are measured in, the rest pose first: enough to see where it bends.
constexpr std::size_t kMeasuredPoses = 48;

std::vector<glm::vec3> posesOf(const Asset& asset, bool score) {
    const mesh::Mesh& mesh = asset.source->mesh();
    std::vector<glm::vec3> poses = mesh.positions;
    if (score) {
        constexpr std::size_t kInstants = 24;
        std::vector<glm::vec3> pose(mesh.vertexCount());
        for (std::size_t i = 0; i < kInstants; ++i) {
            asset.performance->pose(static_cast<double>(i) / kInstants, {}, pose, {});
            poses.insert(poses.end(), pose.begin(), pose.end());
        }
    } else if (asset.frames) {
        const std::size_t step = std::max<std::size_t>(1, asset.frames->frames / kMeasuredPoses);
        for (std::size_t f = 0; f < asset.frames->frames; f += step) {
            const auto pose = asset.frames->positionsOf(f);
            poses.insert(poses.end(), pose.begin(), pose.end());
        }
    }
    return poses;
}

double sizeOf(const Asset& asset) {
    return std::max(bake::assetSize(asset.source->mesh()), 1e-3);
}

float walksOf(const bake::BakedClip& clip, const Feet& feet) {
    return feet.walks() ? feet.speed
           : clip.speed ? static_cast<float>(0.5 * (clip.speed->least + clip.speed->most))
                        : 0.0f;
}

float fadeOf(const Choices& choices, const Asset& asset, std::size_t from, std::size_t to) {
    for (const bake::Transition& each : asset.transitions) {
        if (each.from == asset.clips[from].name && each.to == asset.clips[to].name) {
            return static_cast<float>(each.seconds);
        }
    }
    return static_cast<float>(choices.fade);
}

} // namespace

bool playsScore(const Choices& choices, const Asset& asset) {
    return asset.performance && (choices.plays == Plays::itself || choices.plays == Plays::score);
}

Placed place(const Choices& choices) {
    Placed made;
    if (choices.ground == "flat") {
        made.ground = flatGround();
    } else if (choices.ground == "uneven") {
        made.ground = unevenGround();
    } else {
        const auto source = source::open(choices.ground);
        made.groundMesh = std::make_shared<const mesh::Mesh>(source->mesh());
        made.ground = meshGround(*made.groundMesh);
    }
    Placement placement = choices.placement;
    placement.seed = choices.differences.seed;
    made.wished = placement.count;
    made.copies = placeCopies(placement, choices.differences, *made.ground);
    made.spacing = nearestTwo(made.copies);
    return made;
}

Measured measure(const Choices& choices, const Asset& asset, const base::Progress& progress) {
    Measured made;
    const bool score = playsScore(choices, asset);
    const std::vector<glm::vec3> poses = posesOf(asset, score);
    made.bounds.add(poses);
    if (!score) {
        for (const bake::BakedClip& clip : asset.clips) {
            progress.checkpoint();
            const bool even = clip.times.empty() && asset.frames;
            const std::size_t vertices = even ? asset.frames->vertices : 0;
            made.feet.push_back(
                even ? measureFeet({asset.frames->positions.data() + clip.firstFrame * vertices,
                                    clip.frames * vertices},
                                   vertices, clip.fps, clip.closed)
                     : Feet());
        }
        double most = 0.0;
        for (std::size_t c = 0; c < asset.clips.size(); ++c) {
            const double weight = choices.weightOf(asset.clips[c].name);
            if (walksOf(asset.clips[c], made.feet[c]) > 0.0f && weight > most) {
                made.walking = c;
                most = weight;
            }
        }
    }
    if (choices.levels > 0) {
        made.levels = makeLevels(asset.source->mesh(), poses, choices.levels, progress);
    }
    return made;
}

CrowdChoices crowdOf(const Choices& choices, const Asset& asset, const Measured& measured) {
    CrowdChoices crowd;
    crowd.differences = choices.differences;
    crowd.differences.clipWeights.clear();
    crowd.travel = choices.travel;
    crowd.area = choices.placement.size;
    crowd.alongSurface = choices.placement.alongSurface;
    crowd.tints[0] = linear(choices.tints[0]);
    crowd.tints[1] = linear(choices.tints[1]);
    crowd.images = static_cast<int>(1 + choices.images.size());
    crowd.loopSeconds = static_cast<float>(std::max(asset.loopSeconds, 1e-3));
    const auto size = static_cast<float>(sizeOf(asset));
    float slowest = 0.0f;
    float quickest = 0.0f;
    if (!playsScore(choices, asset)) {
        for (std::size_t c = 0; c < asset.clips.size(); ++c) {
            const bake::BakedClip& clip = asset.clips[c];
            const float walks = walksOf(clip, measured.feet[c]);
            const auto weight = static_cast<float>(choices.weightOf(clip.name));
            crowd.clips.push_back({static_cast<float>(std::max<std::size_t>(clip.length(), 1)),
                                   static_cast<float>(clip.fps), clip.closed, walks});
            crowd.differences.clipWeights.push_back(weight);
            if (walks > 0.0f && weight > 0.0f) {
                slowest = slowest > 0.0f ? std::min(slowest, walks) : walks;
                quickest = std::max(quickest, walks);
            }
            for (std::size_t to = 0; to < asset.clips.size(); ++to) {
                crowd.fades.push_back(fadeOf(choices, asset, c, to));
            }
        }
    }
    const float walking =
        measured.walking ? walksOf(asset.clips[*measured.walking], measured.feet[*measured.walking]) : 0.0f;
    const float usual = choices.travel == Travel::fly                       ? 2.0f * size
                        : choices.travel == Travel::gaits && slowest > 0.0f ? slowest
                        : walking > 0.0f                                    ? walking
                                                                            : 0.5f * size;
    crowd.speed = choices.speed ? static_cast<float>(*choices.speed) : usual;
    const float usualFastest = quickest > crowd.speed ? quickest : 2.0f * crowd.speed;
    crowd.fastest =
        std::max(choices.fastest ? static_cast<float>(*choices.fastest) : usualFastest, crowd.speed);
    const bool found = measured.walking && measured.feet[*measured.walking].walks();
    crowd.facing = choices.facing ? static_cast<float>(*choices.facing)
                   : found        ? measured.feet[*measured.walking].facing
                                  : 0.0f;
    return crowd;
}

std::vector<double> levelDistances(const Choices& choices, const Measured& measured, double fieldOfView) {
    constexpr double kPixelsHigh = 1080.0;
    std::vector<double> distances;
    double before = 0.0;
    for (const Level& level : measured.levels) {
        before = std::max(before, distanceFor(level.error, choices.levelPixels, kPixelsHigh, fieldOfView));
        distances.push_back(before);
    }
    if (choices.hideBeyond > 0.0) {
        distances.push_back(choices.hideBeyond);
    }
    return distances;
}

} // namespace ripple::scatter
