// Finished pictures: of a dense mesh, where the processor draws, in pieces, between which events are
// answered.

#include "app/stage/scene_renderer.h"

#include <algorithm>
#include <utility>

namespace ripple::app {

namespace {

// Triangles that a processor draws in a few milliseconds.
constexpr std::size_t kPieceTriangles = 40000;
constexpr std::size_t kDenseTriangles = 60000;

} // namespace

bool SceneRenderer::finishesInPieces() const {
    return software_ && mesh_.triangles() * std::max<std::size_t>(copies_.all().size(), 1) > kDenseTriangles;
}

void SceneRenderer::beginPicture(const SceneView& view) {
    const QSize size(view.width, view.height);
    // Triangles of a pixel's size leave no smooth edges to gain, and four samples take a processor a second.
    targets_.prepare(size, samples_ ? *samples_ : finishesInPieces() ? 0 : 4);
    targets_.sampled->bind();
    drawSky(size);
}

void SceneRenderer::addPieces(const SceneView& view, const Half& half) {
    const glm::mat4 light = lightMatrix(view);
    const auto inPieces = [&](const auto& draw) {
        for (std::size_t first = 0; first < mesh_.triangles(); first += kPieceTriangles) {
            addPiece([draw, first] { draw(Triangles{first, first + kPieceTriangles}); });
        }
    };
    const auto onTarget = [this, view, half](const auto& draw) {
        targets_.sampled->bind();
        beginScene(view);
        glEnable(GL_SCISSOR_TEST);
        glScissor(half.left, 0, half.right - half.left, view.height);
        draw();
        glDisable(GL_SCISSOR_TEST);
    };
    if (!view.shadows) {
        addPiece([this, light, half] {
            drawShadowInto(shadow_, light, half.side, {0, 0});
            shadow_.of = std::pair(half.side, light);
        });
    } else if ((half.side != Side::decoded || many_) && shadow_.of != std::pair(half.side, light)) {
        inPieces(
            [this, light, half](const Triangles& some) { drawShadowInto(shadow_, light, half.side, some); });
        addPiece([this, light, half] { shadow_.of = std::pair(half.side, light); });
    }
    // Linking a program, and the first triangle that it draws, take as long as a piece each.
    addPiece([this, half] { surfaceProgram(half.side, Finish::finished); });
    addPiece([this, view, light, half, onTarget] {
        onTarget([&] {
            bindShadow(shadow_);
            drawSurface(view, light, half.side, {0, 1});
        });
    });
    inPieces([this, view, light, half, onTarget](const Triangles& some) {
        onTarget([&] {
            bindShadow(shadow_);
            drawSurface(view, light, half.side, some);
        });
    });
    if (view.look == Look::wire) {
        inPieces([this, view, half, onTarget](const Triangles& some) {
            onTarget([&] { drawWire(view, half.side, some); });
        });
    }
    addPiece([this, view, light, onTarget] {
        onTarget([&] {
            bindShadow(shadow_);
            drawScenery(view, light);
            if (!scenery_.coversGround()) {
                drawGround(view, light);
            }
        });
    });
}

void SceneRenderer::beginFinished(const SceneView& view) {
    pieces_.clear();
    addPiece([this, view] {
        placeCopies(view);
        beginPicture(view);
        beginScene(view);
        glClear(GL_DEPTH_BUFFER_BIT);
    });
    for (const Half& half : halvesOf(view)) {
        addPieces(view, half);
    }
    addPiece([this, view, theme = themeKind()] {
        targets_.resolve();
        unread_ = true;
        drawnView_ = view;
        drawnTheme_ = theme;
    });
}

void SceneRenderer::addPiece(Pieces::Piece piece) {
    pieces_.add([this, piece = std::move(piece)] {
        piece();
        glFinish(); // what was only noted down until now is drawn, so that the clock is right
    });
}

bool SceneRenderer::warmUp(const SceneView& view) {
    if (!finishesInPieces()) {
        return false;
    }
    placeCopies(view);
    const glm::mat4 light = lightMatrix(view);
    const auto isCold = [this](const void* what) { return linker_.isFirstUse(what); };
    const auto onDraft = [&](const auto& draw) {
        outdate(); // what is on the target is no picture
        prepareDraftTargets(view);
        targets_.draft->bind();
        beginScene(view);
        draw();
        glFinish();
        return true;
    };
    const Triangles one{0, 1};
    for (const Half& half : halvesOf(view)) {
        if (half.side != Side::decoded && isCold(depthProgram(half.side))) {
            return onDraft([&] {
                drawShadowInto(draftShadow_, light, half.side, one);
                draftShadow_.drawn = false; // it is no shadow
            });
        }
        if (isCold(surfaceProgram(half.side, Finish::draft))) {
            return onDraft([&] {
                bindShadow(draftShadow_);
                drawSurface(view, light, half.side, one);
            });
        }
    }
    const auto ground = [&] {
        bindShadow(draftShadow_);
        drawGround(view, light);
    };
    if (isCold(ground_.get())) {
        return onDraft(ground);
    }
    if (isCold(&targets_.draftGround)) { // another kind of target, for which the driver compiles once more
        return onDraft([&] {
            targets_.draftGround->bind();
            glDisable(GL_DEPTH_TEST);
            ground();
        });
    }
    return isCold(&targets_.shown) && onDraft([&] { targets_.readDraft({view.width, view.height}, image_); });
}

} // namespace ripple::app
