#pragma once

#include <QtGlobal>

#include <cstring>
#include <functional>
#include <string>
#include <vector>

#include <epoxy/egl.h>
#include <epoxy/gl.h>

namespace ripple::tests {

/// OpenGL in software without a display, current as long as it lives.
class HeadlessGl {
public:
    HeadlessGl() {
        display_ = eglGetPlatformDisplayEXT(EGL_PLATFORM_SURFACELESS_MESA, EGL_DEFAULT_DISPLAY, nullptr);
        const EGLint wanted[] = {EGL_CONTEXT_MAJOR_VERSION,
                                 3,
                                 EGL_CONTEXT_MINOR_VERSION,
                                 3,
                                 EGL_CONTEXT_OPENGL_PROFILE_MASK,
                                 EGL_CONTEXT_OPENGL_CORE_PROFILE_BIT,
                                 EGL_NONE};
        works_ = eglInitialize(display_, nullptr, nullptr) && eglBindAPI(EGL_OPENGL_API);
        const EGLContext context =
            works_ ? eglCreateContext(display_, EGL_NO_CONFIG_KHR, EGL_NO_CONTEXT, wanted) : EGL_NO_CONTEXT;
        works_ =
            context != EGL_NO_CONTEXT && eglMakeCurrent(display_, EGL_NO_SURFACE, EGL_NO_SURFACE, context);
        if (!works_) {
            return;
        }
        // Without a surface there is no framebuffer, and drawing wants one even where nothing is rasterised.
        GLuint target = 0;
        GLuint colour = 0;
        glGenRenderbuffers(1, &colour);
        glBindRenderbuffer(GL_RENDERBUFFER, colour);
        glRenderbufferStorage(GL_RENDERBUFFER, GL_RGBA8, 16, 16);
        glGenFramebuffers(1, &target);
        glBindFramebuffer(GL_FRAMEBUFFER, target);
        glFramebufferRenderbuffer(GL_FRAMEBUFFER, GL_COLOR_ATTACHMENT0, GL_RENDERBUFFER, colour);
        works_ = glCheckFramebufferStatus(GL_FRAMEBUFFER) == GL_FRAMEBUFFER_COMPLETE;
    }
    ~HeadlessGl() { eglTerminate(display_); }
    HeadlessGl(const HeadlessGl&) = delete;
    HeadlessGl& operator=(const HeadlessGl&) = delete;
    bool works() const { return works_; }

private:
    EGLDisplay display_ = nullptr;
    bool works_ = false;
};

/// 0, with a warning, if it does not compile.
inline GLuint shaderOf(GLenum kind, const std::string& text) {
    const GLuint shader = glCreateShader(kind);
    const char* source = text.c_str();
    glShaderSource(shader, 1, &source, nullptr);
    glCompileShader(shader);
    GLint ok = 0;
    glGetShaderiv(shader, GL_COMPILE_STATUS, &ok);
    if (!ok) {
        char log[4096];
        glGetShaderInfoLog(shader, sizeof log, nullptr, log);
        qWarning("%s\n%s", log, source);
        return 0;
    }
    return shader;
}

/// A vertex shader alone: what it puts out is captured by transform feedback.
class VertexStage {
public:
    struct Attribute {
        int location = 0;
        int width = 0; ///< floats
        const void* data = nullptr;
    };

    /// `outputs`: names of its outputs, `floats` numbers a vertex in all.
    VertexStage(const std::string& code, std::vector<const char*> outputs, std::size_t floats,
                const std::vector<Attribute>& attributes, std::size_t vertices)
        : vertices_(vertices),
          floats_(floats) {
        program_ = glCreateProgram();
        const GLuint shader = shaderOf(GL_VERTEX_SHADER, code);
        glAttachShader(program_, shader);
        glTransformFeedbackVaryings(program_, static_cast<GLsizei>(outputs.size()), outputs.data(),
                                    GL_INTERLEAVED_ATTRIBS);
        glLinkProgram(program_);
        glDeleteShader(shader);
        GLint linked = 0;
        glGetProgramiv(program_, GL_LINK_STATUS, &linked);
        if (!linked) {
            char log[4096];
            glGetProgramInfoLog(program_, sizeof log, nullptr, log);
            qFatal("%s", log);
        }
        glGenVertexArrays(1, &arrays_);
        glBindVertexArray(arrays_);
        for (const Attribute& attribute : attributes) {
            GLuint buffer = 0;
            glGenBuffers(1, &buffer);
            glBindBuffer(GL_ARRAY_BUFFER, buffer);
            const std::size_t bytes = vertices * static_cast<std::size_t>(attribute.width) * sizeof(float);
            glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(bytes), attribute.data, GL_STATIC_DRAW);
            glEnableVertexAttribArray(static_cast<GLuint>(attribute.location));
            glVertexAttribPointer(static_cast<GLuint>(attribute.location), attribute.width, GL_FLOAT,
                                  GL_FALSE, 0, nullptr);
            buffers_.push_back(buffer);
        }
        glGenBuffers(1, &out_);
        glBindBuffer(GL_TRANSFORM_FEEDBACK_BUFFER, out_);
        glBufferData(GL_TRANSFORM_FEEDBACK_BUFFER,
                     static_cast<GLsizeiptr>(vertices_ * floats_ * sizeof(float)), nullptr, GL_DYNAMIC_READ);
    }
    ~VertexStage() {
        glDeleteBuffers(static_cast<GLsizei>(buffers_.size()), buffers_.data());
        glDeleteBuffers(1, &out_);
        glDeleteVertexArrays(1, &arrays_);
        glDeleteProgram(program_);
    }
    VertexStage(const VertexStage&) = delete;
    VertexStage& operator=(const VertexStage&) = delete;

    GLint uniform(const std::string& name) const { return glGetUniformLocation(program_, name.c_str()); }

    /// All outputs of all vertices, as `Output`, which is `floats` numbers large.
    template <typename Output>
    std::vector<Output> run(const std::function<void()>& setUniforms) const {
        static_assert(sizeof(Output) % sizeof(float) == 0);
        glUseProgram(program_);
        glBindVertexArray(arrays_);
        setUniforms();
        glEnable(GL_RASTERIZER_DISCARD);
        glBindBufferBase(GL_TRANSFORM_FEEDBACK_BUFFER, 0, out_);
        glBeginTransformFeedback(GL_POINTS);
        glDrawArrays(GL_POINTS, 0, static_cast<GLsizei>(vertices_));
        glEndTransformFeedback();
        std::vector<Output> result(vertices_);
        glGetBufferSubData(GL_TRANSFORM_FEEDBACK_BUFFER, 0,
                           static_cast<GLsizeiptr>(vertices_ * floats_ * sizeof(float)), result.data());
        return result;
    }

private:
    std::size_t vertices_;
    std::size_t floats_;
    GLuint program_ = 0;
    GLuint arrays_ = 0;
    GLuint out_ = 0;
    std::vector<GLuint> buffers_;
};

} // namespace ripple::tests
