#include "app/stage/offscreen_gl.h"

namespace ripple::app {

bool OffscreenGl::create() {
    QSurfaceFormat format;
    format.setVersion(3, 3);
    format.setProfile(QSurfaceFormat::CoreProfile);
    context_.setFormat(format);
    context_.setShareContext(QOpenGLContext::globalShareContext());
    if (!context_.create()) {
        return false;
    }
    surface_.setFormat(context_.format());
    surface_.create();
    return surface_.isValid() && makeCurrent();
}

bool OffscreenGl::makeCurrent() {
    return context_.makeCurrent(&surface_);
}

void OffscreenGl::doneCurrent() {
    context_.doneCurrent();
}

} // namespace ripple::app
