#pragma once

#include "app/session/session.h"
#include "app/stage/poser.h"
#include "app/stage/scene_shaders.h"
#include "app/stage/shades.h"

#include <string>
#include <vector>

namespace ripple::app {

/// When what a look measures must be measured again, beside changes of the document.
enum class Measures {
    once,        ///< for a mesh: what the pose does not change
    eachPose,    ///< at every pose
    smallMeshes, ///< at every pose, but of a large mesh only once: it takes a while
};

/// What a look measures by: all that it may ask, as it is now. It stays as it is however long measuring
/// takes, so a large mesh is measured in the background.
struct Seen {
    project::Document document;
    std::shared_ptr<const source::FrameSource> source; ///< never null
    std::shared_ptr<const motion::Performance> performance;
    std::shared_ptr<const BakeState> bake;
    std::shared_ptr<const inspect::Survey> survey;
    std::shared_ptr<const Poser::Pose> pose; ///< never null
    std::size_t clip = 0;                    ///< at the playhead
    double frame = 0.0;
    double turn = 0.0;
    int shownJoint = -1;
    int pickedVertex = -1;
};
Seen seenNow(const Session& session, std::shared_ptr<const Poser::Pose> pose);

/// One of the stage's looks: a button, a menu entry and a key; how it is drawn, and what it measures.
struct LookRow {
    const char* id; ///< what a project's view names
    const char* text;
    const char* key;
    const char* words; ///< what it shows, and what taking it again does
    Look drawn = Look::lit;
    Measures measures = Measures::once;
    bool needsPose =
        false; ///< the processor's pose is drawn or measured; else the score's code may draw alone
    bool needsSpeed = false;  ///< the pose a moment earlier is needed too
    bool showsJoints = false; ///< joints are painted over the model
    bool ofCopies = false;    ///< of the bench that shows copies, which has no others but the first
    /// True where what is open has something of the kind; never called without a source.
    bool (*available)(const Session& session) = nullptr; ///< null: always
    /// Colours for the pose's vertices; null: the surface's own.
    Shades (*shades)(const Seen& seen) = nullptr;
    /// What taking the look again does; null: nothing.
    void (*again)(Session& session) = nullptr;
};

/// All looks in the order of their buttons; the first is there even with nothing open.
const std::vector<LookRow>& looks();
/// Adds a look behind the others, before a window is made.
void addLook(const LookRow& row);
/// The one that a view names; lit if there is no such.
const LookRow& lookOf(const project::View& view);
/// A row's text or words as they are shown.
QString lookWords(const char* words);
/// Its button is shown now.
bool isAvailable(const LookRow& row, const Session& session);

} // namespace ripple::app
