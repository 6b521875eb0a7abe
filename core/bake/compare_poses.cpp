#include "bake/compare_poses.h"

#include "bake/compare.h"
#include "base/progress.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include <glm/trigonometric.hpp>

namespace ripple::bake {

ErrorReport comparePoses(std::size_t vertices, std::size_t instants, const PoseAt& truth, const PoseAt& read,
                         const base::Progress& progress) {
    std::vector<glm::vec3> rightPositions(vertices);
    std::vector<glm::vec3> rightNormals(vertices);
    std::vector<glm::vec3> positions(vertices);
    std::vector<glm::vec3> normals(vertices);
    std::vector<float> squares(vertices * instants);
    ErrorReport report;
    mesh::Bounds all;
    report.clipBounds.emplace_back();
    double sum = 0.0;
    double normalSum = 0.0;
    for (std::size_t i = 0; i < instants; ++i) {
        progress.checkpoint();
        truth(i, rightPositions, rightNormals);
        read(i, positions, normals);
        const PositionsOff off =
            comparePositions(rightPositions, positions, std::span(squares).subspan(i * vertices, vertices));
        const NormalsOff turned = compareNormals(rightNormals, normals);
        all.add(off.bounds);
        report.clipBounds[0].add(off.readBounds);
        sum += off.sumSquares;
        normalSum += turned.sumSquares;
        report.normalsUndefined += turned.undefined;
        report.normalMaxDegrees =
            std::max(report.normalMaxDegrees, glm::degrees(static_cast<double>(turned.max)));
        if (i == 0 || static_cast<double>(off.max) > report.all.max) {
            report.all.max = static_cast<double>(off.max);
            report.worstVertex = off.worst;
            report.worstFrame = static_cast<double>(i);
        }
        progress.report(static_cast<double>(i + 1) / static_cast<double>(instants));
    }
    const std::span<const float> parts[] = {squares};
    const auto count = static_cast<double>(std::max<std::size_t>(vertices * instants, 1));
    report.all.rms = std::sqrt(sum / count);
    report.all.p99 = squares.empty() ? 0.0 : std::sqrt(percentile99(parts));
    report.atFrames = report.all;
    report.normalRmsDegrees = glm::degrees(std::sqrt(normalSum / count));
    report.normalAtFramesMaxDegrees = report.normalMaxDegrees;
    report.diagonal = static_cast<double>(all.diagonal());
    return report;
}

} // namespace ripple::bake
