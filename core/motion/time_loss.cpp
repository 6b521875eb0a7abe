#include "motion/time_loss.h"

#include "base/progress.h"
#include "motion/velocity.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::motion {

double secondsLost(double hours) {
    const auto seconds = static_cast<float>(hours * 3600.0);
    const float next = std::nextafter(seconds, INFINITY);
    return 0.5 * (static_cast<double>(next) - static_cast<double>(seconds));
}

double fastest(const Performance& performance, const base::Progress& progress) {
    constexpr int kInstants = 64;
    Composition moving = performance.composition();
    const NodeId roots[] = {addVelocity(moving)};
    const Evaluator evaluator(moving.graph, roots);
    std::vector<glm::vec3> speeds(performance.vertexCount());
    double most = 0.0;
    for (int i = 0; i < kInstants; ++i) {
        progress.checkpoint();
        const Evaluator::Target target{{}, speeds};
        evaluator.run(performance.fields(), {}, (static_cast<float>(i) + 0.5f) / kInstants, {&target, 1});
        for (const glm::vec3& speed : speeds) {
            most = std::max(most, static_cast<double>(glm::length(speed)));
        }
    }
    return most;
}

std::vector<TimeLoss> timeLosses(double loopSeconds, double speed) {
    std::vector<TimeLoss> losses;
    for (const double hours : {1.0, 8.0, 24.0, 100.0}) {
        const double turns = secondsLost(hours) / loopSeconds;
        // Nothing is further off than half a turn is.
        losses.push_back({hours, turns, std::min(turns, 0.5) * speed});
    }
    return losses;
}

} // namespace ripple::motion
