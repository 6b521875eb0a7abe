#include "app/stage/scene_renderer.h"

#include "app/shell/theme.h"
#include "emit/glsl_reader.h"

#include <QImage>
#include <QMatrix4x4>
#include <QPainter>

#include <algorithm>
#include <cmath>

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

void SceneRenderer::drawParts(QOpenGLShaderProgram& program, Side side, bool withMaterials) {
    const QOpenGLVertexArrayObject::Binder arrays(arraysOf(side));
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
        glDrawElements(GL_TRIANGLES, part.count, GL_UNSIGNED_INT, reinterpret_cast<const void*>(part.offset));
    }
    glDisable(GL_CULL_FACE);
}

void SceneRenderer::drawShadow(const SceneView& view, const glm::mat4& light, Side side) {
    glActiveTexture(GL_TEXTURE0 + kShadowUnit);
    const auto wanted = std::pair(side, light);
    if (shadowOf_ == wanted) {
        glBindTexture(GL_TEXTURE_2D, shadow_);
        return;
    }
    shadowOf_ = wanted;
    glBindTexture(GL_TEXTURE_2D, white_); // never the target of its own pass
    glDisable(GL_SCISSOR_TEST);
    GLint before = 0;
    glGetIntegerv(GL_FRAMEBUFFER_BINDING, &before);
    glBindFramebuffer(GL_FRAMEBUFFER, shadowTarget_);
    glViewport(0, 0, kShadowSide, kShadowSide);
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
        drawParts(*depth, side, true);
    }
    glDisable(GL_POLYGON_OFFSET_FILL);
    glBindFramebuffer(GL_FRAMEBUFFER, static_cast<GLuint>(before));
    glViewport(0, 0, view.width, view.height);
    glActiveTexture(GL_TEXTURE0 + kShadowUnit);
    glBindTexture(GL_TEXTURE_2D, shadow_);
}

void SceneRenderer::drawSky(const SceneView& view) {
    const QOpenGLVertexArrayObject::Binder arrays(noArrays_.get());
    glDisable(GL_DEPTH_TEST);
    sky_->bind();
    sky_->setUniformValue("u_middle", rgb(theme().skyTop));
    sky_->setUniformValue("u_edge", rgb(theme().skyEdge));
    sky_->setUniformValue("u_aspect", static_cast<float>(view.width) / static_cast<float>(view.height));
    glDrawArrays(GL_TRIANGLES, 0, 3);
    glEnable(GL_DEPTH_TEST);
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
    if (side == Side::decoded) {
        setDecodedUniforms(program, view);
    } else if (side == Side::scored) {
        setScoredUniforms(program, view);
    }
    glEnable(GL_POLYGON_OFFSET_FILL);
    glPolygonOffset(1.0f, 1.0f);
    drawParts(program, side, true);
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
        drawParts(flat, side, false);
        glPolygonMode(GL_FRONT_AND_BACK, GL_FILL);
        glDepthFunc(GL_LESS);
        glDisable(GL_BLEND);
    }
}

float SceneRenderer::wireStrength() const {
    // A dense mesh must not drown in its own lines.
    std::size_t indices = 0;
    for (const DrawnPart& part : parts_) {
        indices += static_cast<std::size_t>(part.count);
    }
    return std::clamp(0.62f - 0.000012f * static_cast<float>(indices), 0.18f, 0.55f);
}

bool SceneRenderer::draw(const SceneView& view) {
    SceneView finished = view;
    finished.draft = false;
    const bool same =
        picture_ && drawnTheme_ == themeKind() && (drawnView_ == view || drawnView_ == finished);
    const QSize size(view.width, view.height);
    GLint target = 0;
    glGetIntegerv(GL_FRAMEBUFFER_BINDING, &target);
    if (!same) {
        if (!picture_ || picture_->size() != size) {
            QOpenGLFramebufferObjectFormat format;
            format.setAttachment(QOpenGLFramebufferObject::CombinedDepthStencil);
            picture_ = std::make_unique<QOpenGLFramebufferObject>(size, format);
            format.setSamples(4);
            sampled_ = std::make_unique<QOpenGLFramebufferObject>(size, format);
        }
        (view.draft ? picture_ : sampled_)->bind();
        render(view);
        if (!view.draft) {
            QOpenGLFramebufferObject::blitFramebuffer(picture_.get(), sampled_.get());
        }
        drawnView_ = view;
        drawnTheme_ = themeKind();
    }
    glBindFramebuffer(GL_READ_FRAMEBUFFER, picture_->handle());
    glBindFramebuffer(GL_DRAW_FRAMEBUFFER, static_cast<GLuint>(target));
    glBlitFramebuffer(0, 0, view.width, view.height, 0, 0, view.width, view.height, GL_COLOR_BUFFER_BIT,
                      GL_NEAREST);
    glBindFramebuffer(GL_FRAMEBUFFER, static_cast<GLuint>(target));
    return drawnView_->draft;
}

void SceneRenderer::render(const SceneView& view) {
    glDisable(GL_SCISSOR_TEST);
    glDisable(GL_BLEND);
    glDisable(GL_CULL_FACE);
    glDepthMask(GL_TRUE);
    glDepthFunc(GL_LESS);
    glCullFace(GL_BACK);
    glEnable(GL_MULTISAMPLE);
    glViewport(0, 0, view.width, view.height);
    glClearColor(0.0f, 0.0f, 0.0f, 1.0f);
    glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    drawSky(view);
    if (!parts_.empty()) {
        const glm::mat4 light = lightMatrix(view);
        glActiveTexture(GL_TEXTURE0 + kGridUnit);
        glBindTexture(GL_TEXTURE_2D, grid_);
        const bool both = view.curtain >= 0 && (view.compared || hasBake());
        const auto half = [&](Side side, int left, int right) {
            glEnable(GL_SCISSOR_TEST);
            glScissor(left, 0, right - left, view.height);
            drawSide(view, light, side);
            drawGround(view, light);
        };
        const Side model = view.scored && hasScore() ? Side::scored : Side::source;
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
    // QPainter draws over this with state of its own.
    glActiveTexture(GL_TEXTURE0);
    glBindTexture(GL_TEXTURE_2D, 0);
    glDisable(GL_DEPTH_TEST);
    glUseProgram(0);
}

} // namespace ripple::app
