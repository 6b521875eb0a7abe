#include "app/stage/picture_targets.h"

#include <QOpenGLContext>
#include <QOpenGLExtraFunctions>

namespace ripple::app {

namespace {

using Target = QOpenGLFramebufferObject;

constexpr GLenum kBgra = 0x80E1;          // GL_BGRA
constexpr GLenum kBytesReversed = 0x8367; // GL_UNSIGNED_INT_8_8_8_8_REV

QOpenGLExtraFunctions& gl() {
    return *QOpenGLContext::currentContext()->extraFunctions();
}

void readInto(const QSize& size, QImage& image) {
    if (image.size() != size) {
        image = QImage(size, QImage::Format_RGB32);
    }
    gl().glReadPixels(0, 0, size.width(), size.height(), kBgra, kBytesReversed, image.bits());
}

} // namespace

void PictureTargets::prepare(const QSize& size, int samples) {
    if (!picture || picture->size() != size || (sampled->format().samples() > 0) != (samples > 0)) {
        QOpenGLFramebufferObjectFormat format;
        picture = std::make_unique<Target>(size, format);
        format.setAttachment(Target::CombinedDepthStencil);
        format.setSamples(samples);
        sampled = std::make_unique<Target>(size, format);
    }
}

bool PictureTargets::prepareDraft(const QSize& size) {
    if (draft && draft->size() == size) {
        return false;
    }
    QOpenGLFramebufferObjectFormat format;
    draftSky = std::make_unique<Target>(size, format);
    draftGround = std::make_unique<Target>(size, format);
    format.setAttachment(Target::CombinedDepthStencil);
    draft = std::make_unique<Target>(size, format);
    return true;
}

void PictureTargets::clear() {
    for (auto* target : {&sampled, &picture, &draft, &draftSky, &draftGround, &shown}) {
        target->reset();
    }
}

void PictureTargets::resolve() const {
    Target::blitFramebuffer(picture.get(), sampled.get());
}

void PictureTargets::readPicture(QImage& into) const {
    picture->bind();
    readInto(picture->size(), into);
    picture->release();
    into = std::move(into).mirrored();
}

void PictureTargets::readDraft(const QSize& size, QImage& into) {
    if (draft->size() == size) {
        draft->bind();
        readInto(size, into);
        draft->release();
        into = std::move(into).mirrored();
        return;
    }
    if (!shown || shown->size() != size) {
        shown = std::make_unique<Target>(size);
    }
    // Enlarged here, where all cores do it, and turned over.
    gl().glDisable(GL_SCISSOR_TEST);
    gl().glBindFramebuffer(GL_READ_FRAMEBUFFER, draft->handle());
    gl().glBindFramebuffer(GL_DRAW_FRAMEBUFFER, shown->handle());
    gl().glBlitFramebuffer(0, 0, draft->width(), draft->height(), 0, size.height(), size.width(), 0,
                           GL_COLOR_BUFFER_BIT, GL_LINEAR);
    gl().glBindFramebuffer(GL_FRAMEBUFFER, shown->handle());
    readInto(size, into);
    shown->release();
}

} // namespace ripple::app
