#pragma once

#include <QOffscreenSurface>
#include <QOpenGLContext>

namespace ripple::app {

/// An OpenGL context that draws into framebuffers of its own and needs no window. How its pictures come onto
/// the screen is decided in presentation.h; its textures are shared where the application's contexts are.
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
