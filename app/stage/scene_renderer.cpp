#include "app/stage/scene_renderer.h"

#include "app/look/theme.h"
#include "app/stage/box_corners.h"
#include "app/stage/qt_vectors.h"
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

glm::mat4 SceneRenderer::lightMatrix(const SceneView& view) const {
    // Everything that moves, and where its shadow falls on the ground.
    mesh::Bounds all = view.bounds;
    for (const glm::vec3& p : boxCorners(view.bounds)) {
        all.add(p - kKey * ((p.y - view.groundY) / kKey.y));
    }
    const glm::mat4 look = glm::lookAt(all.centre() + kKey, all.centre(), glm::vec3(0.0f, 1.0f, 0.0f));
    mesh::Bounds seen;
    for (const glm::vec3& p : boxCorners(all)) {
        seen.add(glm::vec3(look * glm::vec4(p, 1.0f)));
    }
    const float margin = 0.03f * seen.diagonal() + 1e-4f;
    return glm::ortho(seen.min.x - margin, seen.max.x + margin, seen.min.y - margin, seen.max.y + margin,
                      -seen.max.z - margin, -seen.min.z + margin) *
           look;
}

Detail SceneRenderer::detailOf(const SceneView& view) const {
    // The wire is about the very triangles, once they have come to rest.
    const bool coarse = view.look != Look::wire || finishesInPieces();
    return view.draft && mesh_.hasCoarse() && coarse ? Detail::draft : Detail::whole;
}

void SceneRenderer::drawParts(QOpenGLShaderProgram& program, Side side, Detail detail, bool withMaterials,
                              const Triangles& some) {
    const QOpenGLVertexArrayObject::Binder arrays(mesh_.arraysOf(side));
    mesh_.indicesOf(detail).bind();
    program.setUniformValue("u_copies", kCopiesUnit);
    // A shadow falls into the view from outside, too.
    if (detail == Detail::shadow || allCopies_) {
        const GLsizei copies = copies_.bindAll(kCopiesUnit);
        drawRun(program, {0, copies}, detail, 0, withMaterials, some);
        return;
    }
    copies_.bindSeen(kCopiesUnit);
    for (std::size_t level = 0; level < copies_.levels(); ++level) {
        if (const Copies::Run run = copies_.seenAt(level); run.count > 0) {
            (level == 0 ? mesh_.indicesOf(detail) : mesh_.levelIndices()).bind();
            drawRun(program, run, detail, level, withMaterials, some);
        }
    }
}

void SceneRenderer::drawRun(QOpenGLShaderProgram& program, const Copies::Run& copies, Detail detail,
                            std::size_t level, bool withMaterials, const Triangles& some) {
    program.setUniformValue("u_first_copy", copies.first);
    std::size_t before = 0;
    for (const DrawnPart& part : mesh_.parts()) {
        const DrawnPart::Run& run =
            level == 0 ? part.runs[static_cast<std::size_t>(detail)] : part.levels[level - 1];
        const std::size_t own = static_cast<std::size_t>(run.count) / 3;
        const std::size_t first = std::clamp(some.first, before, before + own) - before;
        const std::size_t last = std::clamp(some.end, before, before + own) - before;
        before += own;
        if (last <= first) {
            continue;
        }
        if (withMaterials) {
            glActiveTexture(GL_TEXTURE0 + kBaseUnit);
            glBindTexture(GL_TEXTURE_2D, part.texture);
            program.setUniformValue("u_base_factor", part.factor.r, part.factor.g, part.factor.b,
                                    part.factor.a);
            program.setUniformValue("u_cutoff", part.cutoff);
            program.setUniformValue("u_two_sided", part.twoSided);
            part.twoSided ? glDisable(GL_CULL_FACE) : glEnable(GL_CULL_FACE);
        }
        const std::size_t offset = (run.first + 3 * first) * sizeof(std::uint32_t);
        ++drawCalls_;
        glDrawElementsInstanced(GL_TRIANGLES, static_cast<GLsizei>(3 * (last - first)), GL_UNSIGNED_INT,
                                reinterpret_cast<const void*>(offset), copies.count);
    }
    glDisable(GL_CULL_FACE);
}

const SceneRenderer::ShadowMap& SceneRenderer::drawShadow(const SceneView& view, const glm::mat4& light,
                                                          Side side) {
    const auto wanted = std::pair(side, light);
    // One that is there does for a draft too.
    ShadowMap& map = view.draft && shadow_.of != wanted ? draftShadow_ : shadow_;
    if (map.of != wanted && !(view.keepsShadow && map.drawn)) {
        drawShadowInto(map, light, side, view.shadows ? Triangles() : Triangles{0, 0});
        map.of = wanted;
    }
    bindShadow(map);
    return map;
}

void SceneRenderer::bindShadow(const ShadowMap& map) {
    glActiveTexture(GL_TEXTURE0 + kShadowUnit);
    glBindTexture(GL_TEXTURE_2D, map.texture);
}

void SceneRenderer::drawShadowInto(ShadowMap& map, const glm::mat4& light, Side side, const Triangles& some) {
    glActiveTexture(GL_TEXTURE0 + kShadowUnit);
    glBindTexture(GL_TEXTURE_2D, white_); // never the target of its own pass
    glDisable(GL_SCISSOR_TEST);
    GLint before = 0;
    glGetIntegerv(GL_FRAMEBUFFER_BINDING, &before);
    GLint seen[4] = {};
    glGetIntegerv(GL_VIEWPORT, seen);
    glBindFramebuffer(GL_FRAMEBUFFER, map.target);
    glViewport(0, 0, map.side, map.side);
    if (some.first == 0) {
        map.of.reset();
        map.drawn = true;
        ++map.count;
        glDepthMask(GL_TRUE);
        glClear(GL_DEPTH_BUFFER_BIT);
    }
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
            scored_.setUniforms(*depth);
        } else if (side == Side::decoded && many_) {
            decoded_.setUniforms(*depth, kFirstBakeUnit, 0, 0.0f, true);
        }
        const bool coarse = &map == &draftShadow_ && mesh_.hasCoarse();
        allCopies_ = true;
        drawParts(*depth, side, coarse ? Detail::shadow : Detail::whole, true, some);
        allCopies_ = false;
    }
    glDisable(GL_POLYGON_OFFSET_FILL);
    glBindFramebuffer(GL_FRAMEBUFFER, static_cast<GLuint>(before));
    glViewport(seen[0], seen[1], seen[2], seen[3]);
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

void SceneRenderer::drawSurface(const SceneView& view, const glm::mat4& light, Side side,
                                const Triangles& some) {
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
    bindImages(program);
    setUniformsOf(side, program, view);
    glEnable(GL_POLYGON_OFFSET_FILL);
    glPolygonOffset(1.0f, 1.0f);
    drawParts(program, side, detailOf(view), true, some);
    glDisable(GL_POLYGON_OFFSET_FILL);
}

void SceneRenderer::drawWire(const SceneView& view, Side side, const Triangles& some) {
    QOpenGLShaderProgram* linkedFlat = flatProgram(side);
    if (!linkedFlat) {
        return;
    }
    QOpenGLShaderProgram& flat = *linkedFlat;
    flat.bind();
    flat.setUniformValue("u_view_projection", toQt(view.viewProjection));
    flat.setUniformValue("u_shaded", mesh_.shaded());
    flat.setUniformValue("u_colour", 0.04f, 0.10f, 0.13f,
                         mesh_.shaded() ? std::min(1.0f, 1.7f * wireStrength()) : wireStrength());
    setUniformsOf(side, flat, view);
    glEnable(GL_BLEND);
    glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE);
    glDepthFunc(GL_LEQUAL);
    glPolygonMode(GL_FRONT_AND_BACK, GL_LINE);
    drawParts(flat, side, detailOf(view), false, some);
    glPolygonMode(GL_FRONT_AND_BACK, GL_FILL);
    glDepthFunc(GL_LESS);
    glDisable(GL_BLEND);
}

float SceneRenderer::wireStrength() const {
    // A dense mesh must not drown in its own lines.
    return std::clamp(0.62f - 0.000036f * static_cast<float>(mesh_.triangles()), 0.18f, 0.55f);
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
    drawCalls_ = 0;
    pieces_.clear();
    placeCopies(view);
    if (view.draft) {
        renderDraft(view);
    } else {
        beginPicture(view);
        render(view);
        targets_.resolve();
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
            targets_.readDraft({drawnView_->width, drawnView_->height}, image_);
        } else {
            targets_.readPicture(image_);
        }
    }
    return image_;
}

SharedPicture SceneRenderer::shared() {
    if (!isFinished()) {
        return {};
    }
    const GLsync drawn = glFenceSync(GL_SYNC_GPU_COMMANDS_COMPLETE, 0);
    glFlush(); // or whoever waits may wait for what never begins
    return {targets_.picture->texture(), drawn};
}

Side SceneRenderer::leftSide(const SceneView& view) const {
    return view.scored && hasScore() ? Side::scored : Side::source;
}

void SceneRenderer::beginScene(const SceneView& view) {
    glDisable(GL_SCISSOR_TEST);
    glDisable(GL_BLEND);
    glDisable(GL_CULL_FACE);
    glDepthMask(GL_TRUE);
    glDepthFunc(GL_LESS);
    glCullFace(GL_BACK);
    glEnable(GL_MULTISAMPLE);
    glViewport(0, 0, view.width, view.height);
    glEnable(GL_DEPTH_TEST);
    glActiveTexture(GL_TEXTURE0 + kGridUnit);
    glBindTexture(GL_TEXTURE_2D, grid_);
}

std::vector<SceneRenderer::Half> SceneRenderer::halvesOf(const SceneView& view) const {
    if (mesh_.empty()) {
        return {};
    }
    const bool both = view.curtain >= 0 && (view.compared || hasBake());
    if (!both) {
        return {{leftSide(view), 0, view.width}};
    }
    if (view.curtain == 0 && many_) {
        return {{Side::decoded, 0, view.width}};
    }
    if (view.culled) {
        return {{leftSide(view), 0, view.curtain}};
    }
    return {{leftSide(view), 0, view.curtain},
            {view.compared ? Side::compared : Side::decoded, view.curtain, view.width}};
}

void SceneRenderer::render(const SceneView& view, Backdrop backdrop) {
    beginScene(view);
    glClear(GL_DEPTH_BUFFER_BIT);
    const glm::mat4 light = lightMatrix(view);
    for (const Half& half : halvesOf(view)) {
        // Another frame has other shadows; what is decoded is the same pose, to within its error.
        if (half.side != Side::decoded || many_) {
            drawShadow(view, light, half.side);
        }
        glEnable(GL_SCISSOR_TEST);
        glScissor(half.left, 0, half.right - half.left, view.height);
        drawSurface(view, light, half.side, {});
        if (view.look == Look::wire && detailOf(view) == Detail::whole) {
            drawWire(view, half.side, {}); // a coarser one would be of triangles that the mesh does not have
        }
        drawScenery(view, light);
        if (backdrop == Backdrop::sky && view.ground && !scenery_.coversGround()) {
            drawGround(view, light);
        }
    }
    glDisable(GL_SCISSOR_TEST);
}

} // namespace ripple::app
