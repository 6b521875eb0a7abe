#pragma once

#include "app/stage/mesh_on_gpu.h"
#include "app/stage/side_programs.h"
#include "bake/bake.h"

#include <QOpenGLFunctions_3_3_Core>

#include <memory>
#include <string>
#include <vector>

namespace ripple::app {

/// The side that shows what is shipped: the reading code in the vertex stage, its textures and its lookups.
/// All calls need the context to be current.
class DecodedSide : protected QOpenGLFunctions_3_3_Core {
public:
    explicit DecodedSide(Linker& linker) : linker_(linker) {}
    void create();

    /// Textures (a frame's rows when it is drawn), lookups and the shader; false with problem() if the
    /// shipped code does not compile here or a texture is larger than the GPU takes. `finish`, `cuts`: of the
    /// program that must be there.
    bool set(std::shared_ptr<const bake::Baked> bake, const mesh::Mesh& mesh, const std::string& name,
             MeshOnGpu& onGpu, Finish finish);
    void clear();
    /// Copies are drawn as a mesh that they were merged into, with what it keeps of their pivots; none:
    /// separate.
    void setMerged(const std::optional<scatter::Keeps>& keeps, const mesh::Bounds& box, Finish finish,
                   bool cuts);
    bool isThere() const { return decoder_ != nullptr; }
    /// Why there is none though there is a bake; empty otherwise.
    const QString& problem() const { return problem_; }
    /// The widest and highest texture; for tests, where the GPU takes any that we write.
    void setLargestTexture(int side) { largestTexture_ = side; }
    /// Programs are to be linked anew; there is nothing to be drawn until the next set().
    void forgetPrograms();

    SidePrograms& programs() { return decoder_->programs; }
    /// Binds the textures, from this unit on, with the rows of a frame of a clip; `all`: of all frames.
    void setUniforms(QOpenGLShaderProgram& program, int firstUnit, int clip, float frame, bool all);

private:
    struct Decoder {
        std::string code;  ///< the shipped reader
        std::string place; ///< what is done with what it gives
        SidePrograms programs;
    };
    Decoder* decoderOf(const bake::Baked& baked, const std::string& name);
    GLuint makeTexture(const image::Image& image);
    void deleteTextures();
    void uploadRows(std::size_t first, std::size_t count);
    /// Those of a frame, unless they are there.
    void uploadFrame(int clip, float frame, bool all);

    Linker& linker_;
    QString problem_;
    int largestTexture_ = 0;                         ///< 0: as the GPU says
    std::vector<std::unique_ptr<Decoder>> decoders_; ///< the last few, newest first
    Decoder* decoder_ = nullptr;                     ///< that of the bake; null without one
    std::shared_ptr<const bake::Baked> bake_;
    std::vector<GLuint> textures_;      ///< in the order of the baked set
    std::vector<bool> uploaded_;        ///< by stored frame
    std::vector<std::string> samplers_; ///< their names in the shipped code
    std::string name_;                  ///< of the bundle
    VertexPlace place_ = placeOfVertex({}, {});
};

} // namespace ripple::app
