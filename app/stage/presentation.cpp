#include "app/stage/presentation.h"

#include <QOpenGLContext>
#include <QOpenGLPaintDevice>
#include <QPainter>

namespace ripple::app {

namespace {

constexpr const char* kWholeView = R"(#version 330 core
void main() {
    vec2 corner = vec2(gl_VertexID == 1 ? 3.0 : -1.0, gl_VertexID == 2 ? 3.0 : -1.0);
    gl_Position = vec4(corner, 0.0, 1.0);
}
)";
constexpr const char* kPictureShader = R"(#version 330 core
uniform sampler2D u_picture;
out vec4 o_colour;
void main() {
    o_colour = vec4(texelFetch(u_picture, ivec2(gl_FragCoord.xy), 0).rgb, 1.0);
}
)";

} // namespace

Presentation presentationFor(bool software) {
    // Without contexts that share, a picture can't go from one to the other.
    const bool shares = QOpenGLContext::globalShareContext() != nullptr;
    return software || !shares ? Presentation::painted : Presentation::composed;
}

ComposedView::ComposedView(std::function<SharedPicture()> draw, std::function<void(QPainter&)> paint,
                           QWidget* parent)
    : QOpenGLWidget(parent),
      draw_(std::move(draw)),
      paint_(std::move(paint)) {
    QSurfaceFormat format;
    format.setVersion(3, 3);
    format.setProfile(QSurfaceFormat::CoreProfile);
    format.setSamples(4); // for what is painted over the picture
    format.setSwapInterval(1);
    setFormat(format);
    setAttribute(Qt::WA_TransparentForMouseEvents);
    setUpdateBehavior(QOpenGLWidget::NoPartialUpdate);
}

ComposedView::~ComposedView() {
    makeCurrent();
    program_.reset();
    noArrays_.reset();
    doneCurrent();
}

void ComposedView::initializeGL() {
    initializeOpenGLFunctions();
    program_ = std::make_unique<QOpenGLShaderProgram>();
    program_->addShaderFromSourceCode(QOpenGLShader::Vertex, kWholeView);
    program_->addShaderFromSourceCode(QOpenGLShader::Fragment, kPictureShader);
    program_->link();
    noArrays_ = std::make_unique<QOpenGLVertexArrayObject>();
    noArrays_->create();
}

void ComposedView::paintGL() {
    const SharedPicture picture = draw_();
    makeCurrent();
    if (picture.texture != 0) {
        glWaitSync(picture.drawn, 0, GL_TIMEOUT_IGNORED);
        glDeleteSync(picture.drawn);
        glDisable(GL_DEPTH_TEST);
        glDisable(GL_BLEND);
        glActiveTexture(GL_TEXTURE0);
        glBindTexture(GL_TEXTURE_2D, picture.texture);
        const QOpenGLVertexArrayObject::Binder arrays(noArrays_.get());
        program_->bind();
        program_->setUniformValue("u_picture", 0);
        glDrawArrays(GL_TRIANGLES, 0, 3);
        program_->release();
        glBindTexture(GL_TEXTURE_2D, 0);
    }
    // A painter of the widget would paint elsewhere while a picture of the window is taken.
    QOpenGLPaintDevice device(size() * devicePixelRatio());
    device.setDevicePixelRatio(devicePixelRatio());
    QPainter painter(&device);
    painter.setRenderHint(QPainter::Antialiasing);
    paint_(painter);
}

} // namespace ripple::app
