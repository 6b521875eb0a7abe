#pragma once

#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <QOpenGLVertexArrayObject>
#include <QOpenGLWidget>

#include <functional>
#include <memory>

class QPainter;

namespace ripple::app {

/// How a picture gets from where it is drawn onto the screen.
enum class Presentation {
    /// Read back and painted like any other picture. Where the processor draws, it lies in memory anyway, and
    /// a
    /// window that is composed by OpenGL would cost a pass over the whole window at every repaint of any
    /// part.
    painted,
    /// It stays on the graphics card, which composes the window: on demand, in step with the screen.
    composed,
};
/// Decides, the only place to do so. `software`: the processor draws.
Presentation presentationFor(bool software);

/// A picture in a context whose textures others share.
struct SharedPicture {
    GLuint texture = 0;     ///< 0: there is none
    GLsync drawn = nullptr; ///< who takes the picture waits for this, and deletes it
};

/// Shows pictures that another context drew, of this widget's size in device pixels, without reading them
/// back.
class ComposedView : public QOpenGLWidget, protected QOpenGLFunctions_3_3_Core {
public:
    /// `draw` gives the picture, with any context current after it; `paint` draws over it.
    ComposedView(std::function<SharedPicture()> draw, std::function<void(QPainter&)> paint, QWidget* parent);
    ~ComposedView() override;

protected:
    void initializeGL() override;
    void paintGL() override;

private:
    std::function<SharedPicture()> draw_;
    std::function<void(QPainter&)> paint_;
    std::unique_ptr<QOpenGLShaderProgram> program_;
    std::unique_ptr<QOpenGLVertexArrayObject> noArrays_;
};

} // namespace ripple::app
