#pragma once

#include "emit/dialect.h"
#include "image/image.h"
#include "vertex_stage.h"

#include <array>
#include <string>
#include <vector>

#include <glm/vec4.hpp>

namespace ripple::tests {

/// Emitted code to be run in any language: rows of vec4 go in, rows of three vec4 come out. Expressions read
/// the vec4 inputs i0, i1 … and are spelled alike in all languages, but for types.
struct ShaderJob {
    static constexpr std::size_t kOutputs = 3;
    struct Case {
        std::string code;                          ///< functions
        std::array<std::string, kOutputs> outputs; ///< vec4 expressions
    };
    std::vector<Case> cases;                   ///< a row's i0.w says which
    std::size_t inputs = 1;                    ///< vec4 a row
    std::vector<glm::vec4> rows;               ///< rows × inputs
    std::vector<const image::Image*> textures; ///< t0, t1 …, with the samplers t0_sampler …

    std::size_t rowCount() const { return rows.size() / inputs; }
    /// Of all cases, one after the other.
    std::string code() const {
        std::string all;
        for (const Case& each : cases) {
            all += each.code;
        }
        return all;
    }
    /// Statements that give o0, o1 and o2 their values.
    std::string statements() const {
        std::string text;
        for (std::size_t c = 0; c < cases.size(); ++c) {
            text += (c == 0 ? "    if (i0.w < " : "    else if (i0.w < ") + std::to_string(c) + ".5) {\n";
            for (std::size_t o = 0; o < kOutputs; ++o) {
                text += "        o" + std::to_string(o) + " = " + cases[c].outputs[o] + ";\n";
            }
            text += "    }\n";
        }
        return text;
    }
};

struct ShaderRow {
    glm::vec4 out[ShaderJob::kOutputs];
};

/// Uploads as an engine would: nearest, clamped, no mips.
inline GLuint textureOf(const image::Image& image) {
    const bool alpha = image.channels == 4;
    GLint format = alpha ? GL_RGBA8 : GL_RGB8;
    GLenum type = GL_UNSIGNED_BYTE;
    if (image.pixel == image::Pixel::u16) {
        format = alpha ? GL_RGBA16 : GL_RGB16;
        type = GL_UNSIGNED_SHORT;
    } else if (image.pixel == image::Pixel::half) {
        format = alpha ? GL_RGBA16F : GL_RGB16F;
        type = GL_HALF_FLOAT;
    } else if (image.pixel == image::Pixel::float32) {
        format = alpha ? GL_RGBA32F : GL_RGB32F;
        type = GL_FLOAT;
    }
    GLuint texture = 0;
    glGenTextures(1, &texture);
    glBindTexture(GL_TEXTURE_2D, texture);
    glPixelStorei(GL_UNPACK_ALIGNMENT, 1);
    glTexImage2D(GL_TEXTURE_2D, 0, format, static_cast<GLsizei>(image.width),
                 static_cast<GLsizei>(image.height), 0, alpha ? GL_RGBA : GL_RGB, type, image.data.data());
    for (const GLenum key : {GL_TEXTURE_MIN_FILTER, GL_TEXTURE_MAG_FILTER}) {
        glTexParameteri(GL_TEXTURE_2D, key, GL_NEAREST);
    }
    for (const GLenum key : {GL_TEXTURE_WRAP_S, GL_TEXTURE_WRAP_T}) {
        glTexParameteri(GL_TEXTURE_2D, key, GL_CLAMP_TO_EDGE);
    }
    return texture;
}

/// A vertex stage that reads the rows as attributes. `sampler`: what the stage calls the sampler of texture
/// t.
inline std::vector<ShaderRow> runStage(const ShaderJob& job, const std::string& stage) {
    std::vector<std::vector<glm::vec4>> columns(job.inputs);
    std::vector<VertexStage::Attribute> attributes;
    for (std::size_t i = 0; i < job.inputs; ++i) {
        for (std::size_t r = 0; r < job.rowCount(); ++r) {
            columns[i].push_back(job.rows[r * job.inputs + i]);
        }
        attributes.push_back({static_cast<int>(i), 4, columns[i].data()});
    }
    const VertexStage run(stage, {"o0", "o1", "o2"}, 4 * ShaderJob::kOutputs, attributes, job.rowCount());
    std::vector<GLuint> textures;
    for (const image::Image* image : job.textures) {
        textures.push_back(textureOf(*image));
    }
    auto result = run.run<ShaderRow>([&] {
        for (std::size_t t = 0; t < textures.size(); ++t) {
            glActiveTexture(GL_TEXTURE0 + static_cast<GLenum>(t));
            glBindTexture(GL_TEXTURE_2D, textures[t]);
            glUniform1i(run.uniform("t" + std::to_string(t)), static_cast<GLint>(t));
        }
    });
    glDeleteTextures(static_cast<GLsizei>(textures.size()), textures.data());
    return result;
}

inline std::vector<ShaderRow> runGlsl(const ShaderJob& job) {
    std::string stage = "#version 330 core\n" + job.code();
    for (std::size_t i = 0; i < job.inputs; ++i) {
        stage += "layout(location = " + std::to_string(i) + ") in vec4 i" + std::to_string(i) + ";\n";
    }
    for (std::size_t t = 0; t < job.textures.size(); ++t) {
        stage += "uniform sampler2D t" + std::to_string(t) + ";\n";
    }
    stage += "out vec4 o0;\nout vec4 o1;\nout vec4 o2;\nvoid main() {\n    o0 = o1 = o2 = vec4(0.0);\n" +
             job.statements() + "    gl_Position = vec4(0.0);\n}\n";
    return runStage(job, stage);
}

} // namespace ripple::tests
