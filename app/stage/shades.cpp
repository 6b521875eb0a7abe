#include "app/stage/shades.h"

#include "app/charts/ramp.h"
#include "app/session/words.h"
#include "base/units.h"

#include <algorithm>
#include <cmath>

#include <QCoreApplication>

#include <glm/geometric.hpp>

namespace ripple::app {

/// The words of legends.
struct Legend {
    Q_DECLARE_TR_FUNCTIONS(Legend)
};

Shades colourShades(const mesh::Mesh& mesh, const std::string& channel) {
    Shades shades;
    shades.colours = mesh.colours;
    shades.title = channel == "rgb"
                       ? Legend::tr("Vertex colours")
                       : Legend::tr("Vertex colours, %1 (black 0, white 1)").arg(text(channel).toUpper());
    const std::size_t index = channel == "r" ? 0 : channel == "g" ? 1 : channel == "b" ? 2 : 3;
    for (glm::vec4& colour : shades.colours) {
        if (channel != "rgb") {
            const float value = colour[static_cast<int>(index)];
            colour = {value, value, value, 1.0f};
        }
    }
    return shades;
}

Shades edgeShades(const mesh::Mesh& mesh, std::span<const glm::vec3> positions) {
    std::vector<float> sum(positions.size(), 0.0f);
    std::vector<float> count(positions.size(), 0.0f);
    float least = 1e30f;
    float most = 0.0f;
    for (std::size_t i = 0; i < mesh.indices.size(); ++i) {
        const std::uint32_t a = mesh.indices[i];
        const std::uint32_t b = mesh.indices[i - i % 3 + (i + 1) % 3];
        const float length = glm::distance(positions[a], positions[b]);
        for (const std::uint32_t v : {a, b}) {
            sum[v] += length;
            count[v] += 1.0f;
        }
        least = std::min(least, length);
        most = std::max(most, length);
    }
    Shades shades;
    shades.title = Legend::tr("Edge length");
    shades.least = text(base::lengthText(static_cast<double>(least)));
    shades.most = text(base::lengthText(static_cast<double>(most)));
    shades.colours.reserve(positions.size());
    const float range = std::max(most - least, 1e-12f);
    for (std::size_t v = 0; v < positions.size(); ++v) {
        shades.colours.push_back(rampShade(count[v] > 0.0f ? (sum[v] / count[v] - least) / range : 0.0f));
    }
    return shades;
}

Shades speedShades(const Poser::Pose& pose, double largest) {
    Shades shades;
    shades.title = Legend::tr("Speed");
    shades.least = "0";
    shades.most = text(base::lengthText(largest)) + "/s";
    if (pose.before.size() != pose.positions.size()) {
        return {};
    }
    const float scale = largest > 0.0 ? static_cast<float>(1.0 / (Poser::kMoment * largest)) : 0.0f;
    shades.colours.reserve(pose.positions.size());
    for (std::size_t v = 0; v < pose.positions.size(); ++v) {
        shades.colours.push_back(rampShade(scale * glm::distance(pose.positions[v], pose.before[v])));
    }
    return shades;
}

Shades errorShades(std::span<const glm::vec3> truth, std::span<const glm::vec3> read, double largest) {
    Shades shades;
    shades.title = Legend::tr("Position error");
    shades.least = "0";
    shades.most = text(base::lengthText(largest));
    const float scale = largest > 0.0 ? static_cast<float>(1.0 / largest) : 0.0f;
    shades.colours.reserve(truth.size());
    for (std::size_t v = 0; v < truth.size(); ++v) {
        shades.colours.push_back(rampShade(scale * glm::distance(truth[v], read[v])));
    }
    return shades;
}

Shades normalErrorShades(std::span<const glm::vec3> truth, std::span<const glm::vec3> read, double largest) {
    Shades shades;
    shades.title = Legend::tr("Normal error");
    shades.least = "0°";
    shades.most = text(base::degreesText(largest));
    const auto scale = static_cast<float>(largest > 0.0 ? 57.29577951308232 / largest : 0.0);
    shades.colours.reserve(truth.size());
    for (std::size_t v = 0; v < truth.size(); ++v) {
        const float chord = std::min(glm::distance(truth[v], read[v]), 2.0f);
        shades.colours.push_back(rampShade(scale * 2.0f * std::asin(0.5f * chord)));
    }
    return shades;
}

Shades probeShades(const std::vector<float>& values, const QString& title, float least, float most,
                   int picked) {
    Shades shades;
    shades.grey = true;
    shades.title = title;
    shades.values = values;
    const auto at = static_cast<std::size_t>(picked);
    if (picked >= 0 && at < values.size()) {
        shades.title =
            Legend::tr("%1; picked: %2").arg(title).arg(static_cast<double>(values[at]), 0, 'f', 3);
    }
    shades.least = QString::number(static_cast<double>(least), 'f', 2);
    shades.most = QString::number(static_cast<double>(most), 'f', 2);
    const float over = most > least ? 1.0f / (most - least) : 0.0f;
    for (const float value : values) {
        const float grey = std::clamp((value - least) * over, 0.0f, 1.0f);
        shades.colours.push_back({grey, grey, grey, 1.0f});
    }
    return shades;
}

Shades densityShades(const motion::Density& density, const QString& voice) {
    Shades shades;
    constexpr float kFull = 2.0f * motion::Density::kCoarse;
    shades.title = density.worst <= 0.0f ? Legend::tr("%1 has no waves").arg(voice)
                   : density.tooCoarse() ? Legend::tr("%1: too few edges, only %2 per wave")
                                               .arg(voice)
                                               .arg(1.0f / density.worst, 0, 'f', 1)
                                         : Legend::tr("%1: enough edges, at least %2 per wave")
                                               .arg(voice)
                                               .arg(1.0f / density.worst, 0, 'f', 1);
    shades.least = Legend::tr("many edges per wave");
    shades.most = "3";
    for (const float waves : density.wavesPerEdge) {
        shades.colours.push_back(rampShade(waves / kFull));
    }
    return shades;
}

Shades interpolationShades(const motion::InterpolationLoss& loss) {
    Shades shades;
    const bool shifts = !loss.uvAt.empty();
    const std::vector<float>& at = shifts ? loss.uvAt : loss.alphaAt;
    const double most = std::max(shifts ? loss.uv : loss.alpha, 1e-6);
    shades.title = shifts ? Legend::tr("Texture shift, lost per vertex: at most %1 % of the UV range")
                                .arg(100.0 * loss.uv, 0, 'g', 2)
                          : Legend::tr("Cut-out, lost per vertex: at most %1 % of alpha")
                                .arg(100.0 * loss.alpha, 0, 'g', 2);
    shades.least = "0";
    shades.most = QString("%1 %").arg(100.0 * most, 0, 'g', 2);
    for (const float value : at) {
        shades.colours.push_back(rampShade(value / static_cast<float>(most)));
    }
    return shades;
}

Shades strainShades(const std::vector<float>& strain) {
    Shades shades;
    constexpr float kLeast = 0.1f;
    const float most =
        std::max(kLeast, strain.empty() ? 0.0f : *std::max_element(strain.begin(), strain.end()));
    shades.title = Legend::tr("Change of edge length");
    shades.least = "0 %";
    shades.most = QString("%1 %").arg(100.0f * most, 0, 'f', 0);
    for (const float value : strain) {
        shades.colours.push_back(rampShade(value / most));
    }
    return shades;
}

Shades weightShades(const std::vector<float>& weights, const QString& joint) {
    Shades shades;
    shades.title = Legend::tr("Weights of %1").arg(joint);
    shades.least = "0";
    shades.most = "1";
    shades.colours.reserve(weights.size());
    for (const float weight : weights) {
        shades.colours.push_back(rampShade(weight));
    }
    return shades;
}

} // namespace ripple::app
