// What a rehearsal of faults shows that is not a pose: the bounds that cull.

#include "app/stage/stage.h"

#include "app/look/theme.h"
#include "app/stage/box_corners.h"

#include <QPainter>

#include <algorithm>
#include <array>

namespace ripple::app {

namespace {

/// The bounds by which what is rehearsed is culled: those of the pose that is shipped at rest, which need not
/// be the source's. Empty where it is not.
mesh::Bounds cullingBox(const bundle::Played* played) {
    mesh::Bounds box;
    if (played && played->has(bundle::Misreading::restBounds)) {
        box.add(played->mesh().positions);
    }
    return box;
}

} // namespace

std::shared_ptr<const bundle::Played> Stage::rehearsed() const {
    return benchOf(session_.document().view).ships ? session_.rehearsal().played() : nullptr;
}

bool Stage::restIsCulled() const {
    const mesh::Bounds box = cullingBox(rehearsed().get());
    if (box.empty()) {
        return false;
    }
    // As engines cull: all corners of the box lie beyond one side of the picture.
    std::array<int, 4> beyond{};
    const glm::mat4 toPicture = camera_.projection(aspect()) * camera_.view();
    for (const glm::vec3& corner : boxCorners(box)) {
        const glm::vec4 clip = toPicture * glm::vec4(corner, 1.0f);
        beyond[0] += clip.x < -clip.w ? 1 : 0;
        beyond[1] += clip.x > clip.w ? 1 : 0;
        beyond[2] += clip.y < -clip.w ? 1 : 0;
        beyond[3] += clip.y > clip.w ? 1 : 0;
    }
    return std::ranges::find(beyond, 8) != beyond.end();
}

void Stage::paintRestBounds(QPainter& painter) {
    const mesh::Bounds box = cullingBox(rehearsed().get());
    if (box.empty()) {
        return;
    }
    painter.save();
    const double x = session_.document().view.curtain * width();
    painter.setClipRect(QRectF(x, 0, width() - x, height()));
    painter.setPen(QPen(theme().coral, 1.6, Qt::DashLine));
    const std::array<glm::vec3, 8> corners = boxCorners(box);
    for (unsigned from = 0; from < corners.size(); ++from) {
        for (const unsigned axis : {1u, 2u, 4u}) {
            bool fromSeen = false;
            bool toSeen = false;
            const QPointF a = project(corners[from], &fromSeen);
            const QPointF b = project(corners[from | axis], &toSeen);
            if (!(from & axis) && fromSeen && toSeen) {
                painter.drawLine(a, b);
            }
        }
    }
    painter.restore();
}

} // namespace ripple::app
