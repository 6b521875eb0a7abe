#pragma once

#include <QImage>
#include <QOpenGLFramebufferObject>

#include <memory>

namespace ripple::app {

/// What pictures are drawn on, and how they are read back. All calls need the context to be current.
struct PictureTargets {
    // A finished picture: with several samples a pixel, resolved into the other one.
    std::unique_ptr<QOpenGLFramebufferObject> sampled;
    std::unique_ptr<QOpenGLFramebufferObject> picture;
    // A draft, smaller than it is shown, and what is behind it: the sky, which is the same for all of a size
    // and a theme; sky and ground of drafts that keep their shadow, which are the same while the camera
    // rests.
    std::unique_ptr<QOpenGLFramebufferObject> draft;
    std::unique_ptr<QOpenGLFramebufferObject> draftSky;
    std::unique_ptr<QOpenGLFramebufferObject> draftGround;
    std::unique_ptr<QOpenGLFramebufferObject> shown; ///< a draft, enlarged

    /// Makes those of a finished picture, unless they are there.
    void prepare(const QSize& size, int samples);
    /// The same for a draft; true if they are new, and nothing is on them.
    bool prepareDraft(const QSize& size);
    void clear();

    /// Resolves the finished picture.
    void resolve() const;
    /// Waits for the drawing. OpenGL counts rows from below, images from above.
    void readPicture(QImage& into) const;
    /// The same for the draft, enlarged to `size`.
    void readDraft(const QSize& size, QImage& into);
};

} // namespace ripple::app
