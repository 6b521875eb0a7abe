#pragma once

#include <QOffscreenSurface>
#include <QOpenGLContext>

namespace ripple::app {

/// An OpenGL context that draws into framebuffers of its own and needs no window: what it drew is read back
/// and painted as a picture. The window itself then stays with the raster painter; a window that is composed
/// by OpenGL costs a whole-window pass at every repaint of any part, dear where the processor draws.
class OffscreenGl {
public:
    /// False where there is no OpenGL.
    bool create();
    bool makeCurrent();
    void doneCurrent();

private:
    QOffscreenSurface surface_;
    QOpenGLContext context_;
};

} // namespace ripple::app
