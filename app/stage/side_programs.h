#pragma once

#include "app/stage/scene_shaders.h"

#include <QOpenGLShaderProgram>
#include <QString>

#include <array>
#include <functional>
#include <memory>
#include <set>
#include <string>

namespace ripple::app {

/// Links programs, and knows which have drawn already.
class Linker {
public:
    /// Null if that fails; problem() says why.
    std::unique_ptr<QOpenGLShaderProgram> link(const std::string& vertex, const std::string& fragment);
    const QString& problem() const { return problem_; }
    void setProblem(const QString& problem) { problem_ = problem; }
    /// True once for each program, or target.
    bool isFirstUse(const void* what) { return what && warm_.insert(what).second; }

private:
    QString problem_;
    std::set<const void*> warm_; ///< programs, and targets, that have been drawn with
};

/// The programs that draw one side of the picture: its own vertex stage with the fragment stages that all
/// share. Linked when they are first wanted, which takes as long as a picture.
class SidePrograms {
public:
    /// The vertex stage for pictures of a finish.
    using VertexStage = std::function<std::string(Finish)>;

    explicit SidePrograms(Linker& linker) : linker_(linker) {}
    void setVertexStage(VertexStage stage);
    /// All are linked anew when they are wanted: the mesh, say, now has materials with holes.
    void forget();

    // Null where a program can't be linked. `cuts`: fragments of low alpha are left out.
    QOpenGLShaderProgram* surface(Finish finish, bool cuts);
    QOpenGLShaderProgram* flat();  ///< in one colour, for the wire
    QOpenGLShaderProgram* depth(); ///< for shadows

private:
    Linker& linker_;
    VertexStage stage_;
    std::array<std::unique_ptr<QOpenGLShaderProgram>, 2> surface_; ///< by Finish
    std::unique_ptr<QOpenGLShaderProgram> flat_;
    std::unique_ptr<QOpenGLShaderProgram> depth_;
};

} // namespace ripple::app
