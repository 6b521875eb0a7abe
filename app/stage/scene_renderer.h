#pragma once

#include "app/session/session.h"
#include "app/look/theme.h"
#include "app/stage/copies.h"
#include "app/stage/decoded_side.h"
#include "app/stage/mesh_on_gpu.h"
#include "app/stage/picture_targets.h"
#include "app/stage/presentation.h"
#include "app/stage/scene_shaders.h"
#include "app/stage/scenery.h"
#include "app/stage/scored_side.h"

#include <QColor>
#include <QImage>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <QOpenGLVertexArrayObject>

#include <functional>
#include <limits>
#include <memory>
#include <optional>
#include <vector>

#include <glm/mat4x4.hpp>

namespace ripple::app {

constexpr int kShadowSide = 1024;     ///< texels of the shadow map
constexpr int kDraftShadowSide = 512; ///< of that of drafts

/// What one picture shows.
struct SceneView {
    glm::mat4 viewProjection{1.0f};
    glm::vec3 eye{0.0f};
    int width = 1; ///< device pixels
    int height = 1;
    int curtain = -1;      ///< device pixels from the left: source left of it; below 0: source only
    bool compared = false; ///< right of the curtain: another pose of the processor, else what is decoded
    bool culled = false;   ///< and nothing of it, for its bounds are out of the picture
    Look look = Look::lit;
    int clip = 0;
    float frame = 0.0f;
    int clipBefore = 0; ///< what is faded from, where `fade` is below 1
    float frameBefore = 0.0f;
    float fade = 1.0f;     ///< 0..1, even in time
    float gridCell = 1.0f; ///< metres
    float groundY = 0.0f;
    mesh::Bounds bounds; ///< of all motion
    bool scored = false; ///< the left side is what the score makes of the rest pose at `turn`
    float turn = 0.0f;
    /// Quick to draw on the processor: a sample a pixel, hard shadows, fewer triangles of a dense mesh. For
    /// pictures that will be followed by others at once.
    bool draft = false;
    bool ground = true;       ///< with its grid
    bool shadows = true;      ///< else nothing throws one: a crowd would be drawn once more for it
    bool keepsShadow = false; ///< a draft with the shadow of the draft before, from nearly the same pose
    double scale = 1.0;       ///< of a draft: how many pixels are drawn for one that is shown, 0..1
    bool operator==(const SceneView&) const = default;
};

/// Draws the model with OpenGL 3.3: the source side from posed vertices, the decoded side from the encoded
/// images by the GLSL that is shipped. All calls need the context to be current.
class SceneRenderer : protected QOpenGLFunctions_3_3_Core {
public:
    SceneRenderer();
    /// False when the context cannot do what is needed; then problem() says why.
    bool initialise();
    void release();
    const QString& problem() const { return linker_.problem(); }

    /// Begins to put a mesh onto the graphics card; until all pieces are done there is none. Both must
    /// outlive that.
    void beginMesh(const mesh::Mesh& mesh, const PreparedMesh& prepared);
    Pieces& meshPieces() { return meshPieces_; }
    void clearMesh();
    bool hasMesh() const { return !mesh_.empty(); }
    /// Positions and normals of the source side, vertexCount each.
    void setPose(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals);
    /// The other frame that the curtain compares with.
    void setComparedPose(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals);
    /// The UV set that the grid lies on; vertexCount.
    void setGridUvs(std::span<const glm::vec2> uvs);
    /// Colours (sRGB) of the measured looks and of the wire; vertexCount, or empty for none.
    void setShades(std::span<const glm::vec4> shades);
    /// Textures (a frame's rows when it is drawn), lookups and the shader for the decoded side; false with
    /// bakeProblem() if the shipped code does not compile here or a texture is larger than the GPU takes.
    bool setBake(std::shared_ptr<const bake::Baked> bake, const mesh::Mesh& mesh, const std::string& name);
    void clearBake();
    /// The score that moves the model on the GPU; false where that is not possible (too many inputs, or code
    /// that does not compile, with problem()): then poses of the processor are drawn.
    bool setScore(const emit::ScoreCode& score, const std::string& name, const motion::VertexFields& fields);
    void clearScore();
    bool hasScore() const { return scored_.isThere(); }
    bool hasCoarse() const { return mesh_.hasCoarse(); }
    bool hasBake() const { return decoded_.isThere(); }
    /// Why there is no decoded side though there is a bake; empty otherwise.
    const QString& bakeProblem() const { return decoded_.problem(); }
    /// The widest and highest texture; for tests, where the GPU takes any that we write.
    void setLargestTexture(int side) { decoded_.setLargestTexture(side); }

    /// Draws the model so often, each copy as it says; none: once, as the view says. The view's bounds are to
    /// hold all.
    void setCopies(std::vector<DrawnCopy> copies, const CrowdView& crowd);
    /// How copies are drawn that are set from now on. True where that is new: a score is to be set anew then.
    bool setMerged(const std::optional<scatter::Keeps>& keeps, const mesh::Bounds& box);
    /// Draws copies that are posed one after the other (`pose`: see setPose()), each with draws of its own:
    /// what crowds are measured against. It is no picture that draw() knows of.
    void drawOneByOne(const SceneView& view, std::span<const DrawnCopy> copies,
                      const std::function<void(std::size_t copy)>& pose);
    /// Samples a pixel of finished pictures; none: as many as suit what draws.
    void setSamples(std::optional<int> samples) { samples_ = samples; }
    /// Copies that lay in the view that was drawn last.
    std::size_t copiesSeen() const { return copies_.seen(); }
    /// Draws that the picture drawn last took for the copies and their shadow.
    std::size_t drawCalls() const { return drawCalls_; }
    /// Triangles of those, each at its level of detail.
    std::size_t trianglesSeen() const;
    /// Levels of detail over the mesh's own vertices; none: the mesh alone.
    void setLevels(std::span<const mesh::Coarse> levels);
    /// Further images of the base colour, from which copies choose theirs (DrawnCopy::image).
    void setImages(std::span<const QImage> images);
    /// What the copies stand on beside the flat ground, and other things that stand about.
    Scenery& scenery() { return scenery_; }

    /// Begins to draw image(), unless nothing changed since it was drawn last, also where a draft of it would
    /// do. True if image() is a draft now.
    bool draw(const SceneView& view);
    /// A finished picture takes the processor so long that it is drawn in pieces, between which events are
    /// answered.
    bool finishesInPieces() const;
    /// Begins one. Whatever changes the picture ends it.
    void beginFinished(const SceneView& view);
    /// When none is left, draw() of the same view has nothing to do.
    Pieces& finishPieces() { return pieces_; }
    /// Where the processor draws, a program is compiled once more when it draws first, which takes as long as
    /// several pictures. Of a dense mesh: does so for one of those that a draft of this view needs; false if
    /// all are ready.
    bool warmUp(const SceneView& view);
    /// What was drawn last is no draft, and nothing changed since.
    bool isFinished() const { return drawnView_ && !drawnView_->draft; }
    /// The last draw() did draw.
    bool drewAnew() const { return drewAnew_; }
    /// What was drawn last. Waits for the drawing.
    const QImage& image();
    /// What was drawn last, unless that is a draft: stays on the graphics card, as a texture of the view's
    /// size.
    SharedPicture shared();
    /// What image() gave last; null before. Draws nothing, and waits for nothing.
    const QImage& lastImage() const { return image_; }
    /// Drawing is done by the processor.
    bool isSoftware() const { return software_; }

private:
    /// What textures are bound to.
    enum Unit {
        kBaseUnit = 0,
        kGridUnit = 1,
        kShadowUnit = 2,
        kCopiesUnit = 3,
        kFirstImageUnit = 4, ///< three of them
        kFirstBakeUnit = 7
    };
    /// Triangles of all parts, in their order.
    struct Triangles {
        std::size_t first = 0;
        std::size_t end = std::numeric_limits<std::size_t>::max(); ///< after the last
    };
    struct ShadowMap {
        GLuint texture = 0;
        GLuint target = 0;
        int side = 0;       ///< texels
        bool drawn = false; ///< it holds some shadow of this mesh
        int count = 0;      ///< how often it was drawn
        /// Whose shadow it holds, and from where; none: it is out of date.
        std::optional<std::pair<Side, glm::mat4>> of;
    };
    /// What a picture is drawn on: the sky, or sky and ground that are there already.
    enum class Backdrop { sky, ground };
    void render(const SceneView& view, Backdrop backdrop = Backdrop::sky);
    void prepareDraftTargets(const SceneView& view);
    void renderDraft(const SceneView& view);
    void drawBackdrop(const SceneView& view);
    ShadowMap makeShadowMap(int side);
    void shadowsChanged();

    SidePrograms& programsOf(Side side);
    // Null where one can't be linked.
    QOpenGLShaderProgram* surfaceProgram(Side side, Finish finish);
    QOpenGLShaderProgram* depthProgram(Side side);
    QOpenGLShaderProgram* flatProgram(Side side);
    void setUniformsOf(Side side, QOpenGLShaderProgram& program, const SceneView& view);
    /// Of the first picture of something.
    Finish firstFinish() const { return software_ ? Finish::draft : Finish::finished; }
    /// What was drawn is out of date, and what is being drawn.
    void outdate();
    /// Draws it unless there is one that does, and binds it.
    const ShadowMap& drawShadow(const SceneView& view, const glm::mat4& light, Side side);
    /// Some triangles of it; the first of them clear it.
    void drawShadowInto(ShadowMap& map, const glm::mat4& light, Side side, const Triangles& some);
    void drawSky(const QSize& size);
    void drawGround(const SceneView& view, const glm::mat4& light);
    /// The state that surfaces are drawn in, whatever was drawn before.
    void beginScene(const SceneView& view);
    void drawSurface(const SceneView& view, const glm::mat4& light, Side side, const Triangles& some);
    void drawWire(const SceneView& view, Side side, const Triangles& some);
    void drawParts(QOpenGLShaderProgram& program, Side side, Detail detail, bool withMaterials,
                   const Triangles& some);
    /// The copies of one level of detail.
    void drawRun(QOpenGLShaderProgram& program, const Copies::Run& copies, Detail detail, std::size_t level,
                 bool withMaterials, const Triangles& some);
    void bindImages(QOpenGLShaderProgram& program);
    /// The sides that a view shows and where, in device pixels from the left.
    struct Half {
        Side side = Side::source;
        int left = 0;
        int right = 0;
    };
    std::vector<Half> halvesOf(const SceneView& view) const;
    /// The sky, on a target of the view's size.
    void beginPicture(const SceneView& view);
    void placeCopies(const SceneView& view);
    void drawScenery(const SceneView& view, const glm::mat4& light);
    void addPiece(Pieces::Piece piece);
    void addPieces(const SceneView& view, const Half& half);
    void bindShadow(const ShadowMap& map);
    Detail detailOf(const SceneView& view) const;
    Side leftSide(const SceneView& view) const;
    float wireStrength() const;
    glm::mat4 lightMatrix(const SceneView& view) const;

    bool software_ = false;
    PictureTargets targets_;
    struct GroundSeen {
        glm::mat4 viewProjection{1.0f};
        float groundY = 0.0f;
        float gridCell = 0.0f;
        mesh::Bounds bounds;
        ThemeKind theme = ThemeKind::dusk;
        const ShadowMap* shadow = nullptr;
        int shadowCount = 0;
        bool operator==(const GroundSeen&) const = default;
    };
    std::optional<ThemeKind> draftSkyTheme_; ///< of what is on targets_.draftSky
    std::optional<GroundSeen> groundSeen_;   ///< what is on targets_.draftGround
    QImage image_;
    bool unread_ = false; ///< image_ is older than what was drawn
    bool drewAnew_ = false;
    std::optional<SceneView> drawnView_; ///< what the picture shows; none: it is out of date
    ThemeKind drawnTheme_ = ThemeKind::dusk;
    Linker linker_;
    SidePrograms posed_{linker_}; ///< of poses of the processor: the source, and what it is compared with
    DecodedSide decoded_{linker_};
    ScoredSide scored_{linker_};
    std::unique_ptr<QOpenGLShaderProgram> sky_;
    std::unique_ptr<QOpenGLShaderProgram> ground_;
    MeshOnGpu mesh_;
    Copies copies_;
    Scenery scenery_;
    std::vector<GLuint> images_;           ///< further ones of the base colour
    std::optional<scatter::Keeps> merged_; ///< as the copies are drawn
    mesh::Bounds mergedBox_;
    std::optional<int> samples_;
    std::size_t drawCalls_ = 0;
    bool many_ = false;      ///< copies were set
    bool allCopies_ = false; ///< those outside the view are drawn, too
    std::unique_ptr<QOpenGLVertexArrayObject> noArrays_;
    Pieces meshPieces_;
    Pieces pieces_; ///< of a finished picture that is being drawn
    GLuint white_ = 0;
    GLuint grid_ = 0;
    ShadowMap shadow_;
    ShadowMap draftShadow_;
};

} // namespace ripple::app
