#include "app/stage/scene_renderer.h"

#include "app/look/theme.h"
#include "emit/reader_code.h"

#include <QImage>
#include <QMatrix4x4>
#include <QPainter>

#include <algorithm>
#include <cmath>
#include <utility>

#include <glm/geometric.hpp>
#include <glm/gtc/matrix_transform.hpp>
#include <glm/gtc/type_ptr.hpp>

namespace ripple::app {

namespace {

const glm::vec3 kKey = glm::normalize(glm::vec3(0.42f, 0.86f, 0.50f)); // toward the light

QMatrix4x4 toQt(const glm::mat4& m) {
    return QMatrix4x4(glm::value_ptr(m)).transposed();
}
QVector3D toQt(const glm::vec3& v) {
    return {v.x, v.y, v.z};
}
QVector3D rgb(const QColor& c) {
    return {c.redF(), c.greenF(), c.blueF()};
}

constexpr std::size_t kDenseTriangles = 60000;

enum Unit { kBaseUnit = 0, kGridUnit = 1, kShadowUnit = 2, kFirstBakeUnit = 3 };

} // namespace

glm::mat4 SceneRenderer::lightMatrix(const SceneView& view) const {
    // Everything that moves, and where its shadow falls on the ground.
    mesh::Bounds all = view.bounds;
    const glm::vec3 low = all.min;
    const glm::vec3 high = all.max;
    for (int corner = 0; corner < 8; ++corner) {
        const glm::vec3 p((corner & 1) ? high.x : low.x, (corner & 2) ? high.y : low.y,
                          (corner & 4) ? high.z : low.z);
        all.add(p - kKey * ((p.y - view.groundY) / kKey.y));
    }
    const glm::mat4 look = glm::lookAt(all.centre() + kKey, all.centre(), glm::vec3(0.0f, 1.0f, 0.0f));
    mesh::Bounds seen;
    for (int corner = 0; corner < 8; ++corner) {
        const glm::vec3 p((corner & 1) ? all.max.x : all.min.x, (corner & 2) ? all.max.y : all.min.y,
                          (corner & 4) ? all.max.z : all.min.z);
        seen.add(glm::vec3(look * glm::vec4(p, 1.0f)));
    }
    const float margin = 0.03f * seen.diagonal() + 1e-4f;
    return glm::ortho(seen.min.x - margin, seen.max.x + margin, seen.min.y - margin, seen.max.y + margin,
                      -seen.max.z - margin, -seen.min.z + margin) *
           look;
}

SceneRenderer::Detail SceneRenderer::detailOf(const SceneView& view) const {
    // The wire is about the very triangles.
    return view.draft && coarse_ && view.look != Look::wire ? Detail::draft : Detail::whole;
}

void SceneRenderer::drawParts(QOpenGLShaderProgram& program, Side side, Detail detail, bool withMaterials) {
    const QOpenGLVertexArrayObject::Binder arrays(arraysOf(side));
    (detail == Detail::whole ? indices_ : coarseIndices_).bind();
    for (const DrawnPart& part : parts_) {
        if (withMaterials) {
            glActiveTexture(GL_TEXTURE0 + kBaseUnit);
            glBindTexture(GL_TEXTURE_2D, part.texture);
            program.setUniformValue("u_base_factor", part.factor.r, part.factor.g, part.factor.b,
                                    part.factor.a);
            program.setUniformValue("u_cutoff", part.cutoff);
            program.setUniformValue("u_two_sided", part.twoSided);
            part.twoSided ? glDisable(GL_CULL_FACE) : glEnable(GL_CULL_FACE);
        }
        const auto [count, offset] = detail == Detail::whole ? std::pair(part.count, part.offset)
                                     : detail == Detail::draft
                                         ? std::pair(part.coarseCount, part.coarseOffset)
                                         : std::pair(part.shadowCount, part.shadowOffset);
        glDrawElements(GL_TRIANGLES, count, GL_UNSIGNED_INT, reinterpret_cast<const void*>(offset));
    }
    glDisable(GL_CULL_FACE);
}

const SceneRenderer::ShadowMap& SceneRenderer::drawShadow(const SceneView& view, const glm::mat4& light,
                                                          Side side) {
    glActiveTexture(GL_TEXTURE0 + kShadowUnit);
    const auto wanted = std::pair(side, light);
    // One that is there does for a draft too.
    ShadowMap& map = view.draft && shadow_.of != wanted ? draftShadow_ : shadow_;
    if (map.of == wanted || (view.keepsShadow && map.drawn)) {
        glBindTexture(GL_TEXTURE_2D, map.texture);
        return map;
    }
    map.of = wanted;
    map.drawn = true;
    ++map.count;
    glBindTexture(GL_TEXTURE_2D, white_); // never the target of its own pass
    glDisable(GL_SCISSOR_TEST);
    GLint before = 0;
    glGetIntegerv(GL_FRAMEBUFFER_BINDING, &before);
    GLint seen[4] = {};
    glGetIntegerv(GL_VIEWPORT, seen);
    glBindFramebuffer(GL_FRAMEBUFFER, map.target);
    glViewport(0, 0, map.side, map.side);
    glClear(GL_DEPTH_BUFFER_BIT);
    glEnable(GL_DEPTH_TEST);
    // Surfaces that the light grazes would shade themselves in stripes.
    glEnable(GL_POLYGON_OFFSET_FILL);
    glPolygonOffset(2.5f, 6.0f);
    if (QOpenGLShaderProgram* depth = depthProgram(side)) {
        depth->bind();
        depth->setUniformValue("u_view_projection", toQt(light));
        depth->setUniformValue("u_light", toQt(light));
        depth->setUniformValue("u_base", kBaseUnit);
        if (side == Side::scored) {
            setScoredUniforms(*depth, view);
        }
        drawParts(*depth, side, &map == &draftShadow_ && coarse_ ? Detail::shadow : Detail::whole, true);
    }
    glDisable(GL_POLYGON_OFFSET_FILL);
    glBindFramebuffer(GL_FRAMEBUFFER, static_cast<GLuint>(before));
    glViewport(seen[0], seen[1], seen[2], seen[3]);
    glActiveTexture(GL_TEXTURE0 + kShadowUnit);
    glBindTexture(GL_TEXTURE_2D, map.texture);
    return map;
}

void SceneRenderer::drawSky(const QSize& size) {
    const QOpenGLVertexArrayObject::Binder arrays(noArrays_.get());
    glDisable(GL_SCISSOR_TEST);
    glDisable(GL_DEPTH_TEST);
    glDisable(GL_BLEND);
    glDisable(GL_CULL_FACE);
    glViewport(0, 0, size.width(), size.height());
    sky_->bind();
    sky_->setUniformValue("u_middle", rgb(theme().skyTop));
    sky_->setUniformValue("u_edge", rgb(theme().skyEdge));
    sky_->setUniformValue("u_aspect", static_cast<float>(size.width()) / static_cast<float>(size.height()));
    glDrawArrays(GL_TRIANGLES, 0, 3);
}

void SceneRenderer::drawGround(const SceneView& view, const glm::mat4& light) {
    const QOpenGLVertexArrayObject::Binder arrays(noArrays_.get());
    const float reach = 3.2f * std::max(view.bounds.diagonal(), 0.01f);
    const glm::vec3 centre(view.bounds.centre().x, view.groundY, view.bounds.centre().z);
    glEnable(GL_BLEND);
    // The picture itself stays opaque, or a compositor would show what lies behind the window.
    glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE);
    ground_->bind();
    ground_->setUniformValue("u_view_projection", toQt(view.viewProjection));
    ground_->setUniformValue("u_light", toQt(light));
    ground_->setUniformValue("u_centre", toQt(centre));
    ground_->setUniformValue("u_reach", reach);
    ground_->setUniformValue("u_cell", view.gridCell);
    ground_->setUniformValue("u_line",
                             rgb(themeKind() == ThemeKind::dusk ? QColor("#3C6B76") : QColor("#7FA3A6")));
    ground_->setUniformValue("u_shade", themeKind() == ThemeKind::dusk ? 0.62f : 0.34f);
    ground_->setUniformValue("u_depth", kShadowUnit);
    ground_->setUniformValue("u_texel", 1.0f / kShadowSide);
    ground_->setUniformValue("u_reach_texels", view.draft ? 0 : 2);
    glDrawArrays(GL_TRIANGLE_STRIP, 0, 4);
    glDisable(GL_BLEND);
}

void SceneRenderer::setDecodedUniforms(QOpenGLShaderProgram& program, const SceneView& view) {
    glActiveTexture(GL_TEXTURE0 + kFirstBakeUnit); // what is bound for others stays
    uploadFrames(view);
    program.setUniformValue("u_clip", view.clip);
    program.setUniformValue("u_frame", view.frame);
    for (std::size_t t = 0; t < bakeTextures_.size(); ++t) {
        const int unit = kFirstBakeUnit + static_cast<int>(t);
        program.setUniformValue(("u_" + bakeSamplers_[t]).c_str(), unit);
        glActiveTexture(GL_TEXTURE0 + static_cast<GLenum>(unit));
        glBindTexture(GL_TEXTURE_2D, bakeTextures_[t]);
    }
}

void SceneRenderer::drawSide(const SceneView& view, const glm::mat4& light, Side side) {
    const Finish finish = view.draft ? Finish::draft : Finish::finished;
    QOpenGLShaderProgram* linked = surfaceProgram(side, finish);
    if (!linked) {
        return; // problem() says why
    }
    QOpenGLShaderProgram& program = *linked;
    program.bind();
    program.setUniformValue("u_view_projection", toQt(view.viewProjection));
    program.setUniformValue("u_light", toQt(light));
    program.setUniformValue("u_look", static_cast<int>(view.look));
    program.setUniformValue("u_base", kBaseUnit);
    program.setUniformValue("u_grid", kGridUnit);
    program.setUniformValue("u_depth", kShadowUnit);
    program.setUniformValue("u_eye", toQt(view.eye));
    program.setUniformValue("u_key", toQt(kKey));
    program.setUniformValue("u_texel", 1.0f / kShadowSide);
    // A shadow that is kept from an earlier moment fits the ground, not the folds of this one: on the model
    // only what lies well before a surface shades it.
    program.setUniformValue("u_apart", (view.keepsShadow ? 0.03f : 0.01f) * view.bounds.diagonal());
    program.setUniformValue("u_deeper", view.keepsShadow ? 0.05f : 0.006f);
    if (side == Side::decoded) {
        setDecodedUniforms(program, view);
    } else if (side == Side::scored) {
        setScoredUniforms(program, view);
    }
    glEnable(GL_POLYGON_OFFSET_FILL);
    glPolygonOffset(1.0f, 1.0f);
    drawParts(program, side, detailOf(view), true);
    glDisable(GL_POLYGON_OFFSET_FILL);
    if (view.look == Look::wire) {
        QOpenGLShaderProgram* linkedFlat = flatProgram(side);
        if (!linkedFlat) {
            return;
        }
        QOpenGLShaderProgram& flat = *linkedFlat;
        flat.bind();
        flat.setUniformValue("u_view_projection", toQt(view.viewProjection));
        flat.setUniformValue("u_shaded", shaded_);
        flat.setUniformValue("u_colour", 0.04f, 0.10f, 0.13f,
                             shaded_ ? std::min(1.0f, 1.7f * wireStrength()) : wireStrength());
        if (side == Side::decoded) {
            setDecodedUniforms(flat, view);
        } else if (side == Side::scored) {
            setScoredUniforms(flat, view);
        }
        glEnable(GL_BLEND);
        glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE);
        glDepthFunc(GL_LEQUAL);
        glPolygonMode(GL_FRONT_AND_BACK, GL_LINE);
        drawParts(flat, side, detailOf(view), false);
        glPolygonMode(GL_FRONT_AND_BACK, GL_FILL);
        glDepthFunc(GL_LESS);
        glDisable(GL_BLEND);
    }
}

float SceneRenderer::wireStrength() const {
    // A dense mesh must not drown in its own lines.
    return std::clamp(0.62f - 0.000036f * static_cast<float>(triangles()), 0.18f, 0.55f);
}

std::size_t SceneRenderer::triangles() const {
    std::size_t indices = 0;
    for (const DrawnPart& part : parts_) {
        indices += static_cast<std::size_t>(part.count);
    }
    return indices / 3;
}

bool SceneRenderer::draw(const SceneView& view) {
    SceneView finished = view;
    finished.draft = false;
    finished.scale = 1.0;
    finished.keepsShadow = false;
    if (drawnTheme_ == themeKind() && (drawnView_ == view || drawnView_ == finished)) {
        drewAnew_ = false;
        return drawnView_->draft;
    }
    drewAnew_ = true;
    if (view.draft) {
        renderDraft(view);
    } else {
        const QSize size(view.width, view.height);
        // Triangles of a pixel's size leave no smooth edges to gain, and four samples take a processor a
        // second.
        const int samples = software_ && triangles() > kDenseTriangles ? 0 : 4;
        if (!picture_ || picture_->size() != size || (sampled_->format().samples() > 0) != (samples > 0)) {
            QOpenGLFramebufferObjectFormat format;
            picture_ = std::make_unique<QOpenGLFramebufferObject>(size, format);
            format.setAttachment(QOpenGLFramebufferObject::CombinedDepthStencil);
            format.setSamples(samples);
            sampled_ = std::make_unique<QOpenGLFramebufferObject>(size, format);
        }
        sampled_->bind();
        drawSky(size);
        render(view);
        QOpenGLFramebufferObject::blitFramebuffer(picture_.get(), sampled_.get());
    }
    glFlush(); // other threads, or the hardware, begin
    unread_ = true;
    drawnView_ = view;
    drawnTheme_ = themeKind();
    return view.draft;
}

const QImage& SceneRenderer::image() {
    if (std::exchange(unread_, false)) {
        if (drawnView_ && drawnView_->draft) {
            readDraft({drawnView_->width, drawnView_->height});
        } else {
            readImage(*picture_);
        }
    }
    return image_;
}

void SceneRenderer::readImage(QOpenGLFramebufferObject& from) {
    if (image_.size() != from.size()) {
        image_ = QImage(from.size(), QImage::Format_RGB32);
    }
    from.bind();
    glReadPixels(0, 0, from.width(), from.height(), GL_BGRA, GL_UNSIGNED_INT_8_8_8_8_REV, image_.bits());
    from.release();
    image_ = std::move(image_).mirrored(); // OpenGL counts rows from below
}

SceneRenderer::Side SceneRenderer::leftSide(const SceneView& view) const {
    return view.scored && hasScore() ? Side::scored : Side::source;
}

void SceneRenderer::render(const SceneView& view, Backdrop backdrop) {
    glDisable(GL_SCISSOR_TEST);
    glDisable(GL_BLEND);
    glDisable(GL_CULL_FACE);
    glDepthMask(GL_TRUE);
    glDepthFunc(GL_LESS);
    glCullFace(GL_BACK);
    glEnable(GL_MULTISAMPLE);
    glViewport(0, 0, view.width, view.height);
    glClear(GL_DEPTH_BUFFER_BIT);
    glEnable(GL_DEPTH_TEST);
    if (!parts_.empty()) {
        const glm::mat4 light = lightMatrix(view);
        glActiveTexture(GL_TEXTURE0 + kGridUnit);
        glBindTexture(GL_TEXTURE_2D, grid_);
        const bool both = view.curtain >= 0 && (view.compared || hasBake());
        const auto half = [&](Side side, int left, int right) {
            glEnable(GL_SCISSOR_TEST);
            glScissor(left, 0, right - left, view.height);
            drawSide(view, light, side);
            if (backdrop == Backdrop::sky) {
                drawGround(view, light);
            }
        };
        const Side model = leftSide(view);
        drawShadow(view, light, model);
        half(model, 0, both ? view.curtain : view.width);
        if (both) {
            // Another frame has other shadows; what is decoded is the same pose, to within its error.
            if (view.compared) {
                drawShadow(view, light, Side::compared);
            }
            half(view.compared ? Side::compared : Side::decoded, view.curtain, view.width);
        }
        glDisable(GL_SCISSOR_TEST);
    }
}

} // namespace ripple::app
