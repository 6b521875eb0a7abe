#pragma once

#include "app/jobs/latest_job.h"
#include "app/session/scatter_stage.h"

#include <QSize>
#include <QString>

#include <functional>
#include <memory>
#include <vector>

class QOffscreenSurface;

namespace ripple::app {

/// What pictures of a crowd cost in one way of playing it.
struct CostLine {
    enum class Way { vertices, joints, score, processor };
    Way way = Way::vertices;
    struct Point {
        std::size_t copies = 0;
        double milliseconds = 0.0; ///< of a picture, the better of two
        std::size_t bytes = 0;     ///< memory of the graphics processor: mesh, textures, copies
    };
    std::vector<Point> points;
    /// How many copies take a sixtieth of a second, between two that were measured on a scale of powers; 0:
    /// more than were measured, or fewer than one.
    double copiesAt(double milliseconds) const;
};

struct CostReport {
    std::vector<CostLine> lines;
    QString machine;           ///< what draws
    QSize size;                ///< of the pictures, pixels
    std::size_t triangles = 0; ///< of a copy
    bool complete = false;
    /// Why a way could not be measured: words for people.
    QStringList problems;
};

/// Draws crowds of growing numbers in each way that there is, all in view, without shadows, in one run: from
/// textures of vertices, of joints, by the score's code; and, as a reference, copies that the processor poses
/// and draws one by one. A way ends where a picture takes longer than kPatience. The work is done on the
/// calling thread, which must not be the window's; `surface` was made on that. Throws base::Cancelled.
class CostMeter {
public:
    static constexpr double kPatience = 250.0; ///< milliseconds
    using Tell = std::function<void(const CostReport&)>;

    CostMeter(std::shared_ptr<const ScatterState> state, bake::Recipe recipe, std::string name,
              std::shared_ptr<QOffscreenSurface> surface);
    CostReport measure(base::Progress& progress, const Tell& tell) const;

    /// On the window's thread.
    static std::shared_ptr<QOffscreenSurface> makeSurface();

private:
    std::shared_ptr<const ScatterState> state_;
    bake::Recipe recipe_;
    std::string name_;
    std::shared_ptr<QOffscreenSurface> surface_;
};

} // namespace ripple::app
