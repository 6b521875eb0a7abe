#include "app/stage/scenery.h"

#include "app/stage/side_programs.h"

#include <QVector3D>

#include <cmath>
#include <cstdint>
#include <vector>

namespace ripple::app {

namespace {

const char* const kVertex = R"(#version 330 core
layout(location = 0) in vec3 a_position;
layout(location = 1) in vec3 a_normal;
uniform mat4 u_view_projection;
uniform mat4 u_light;
uniform vec3 u_middle;
uniform float u_size;
out vec3 v_position;
out vec3 v_normal;
out vec4 v_shadow;
void main() {
    v_position = u_middle + u_size * a_position;
    v_normal = a_normal;
    v_shadow = u_light * vec4(v_position, 1.0);
    gl_Position = u_view_projection * vec4(v_position, 1.0);
}
)";

const char* const kFragment = R"(
in vec3 v_position;
in vec3 v_normal;
in vec4 v_shadow;
uniform vec3 u_colour;
uniform vec3 u_line;
uniform vec3 u_key;
uniform float u_cell; // metres; 0: no grid
uniform sampler2DShadow u_depth;
uniform float u_texel;
out vec4 colour;
void main() {
    vec3 n = normalize(v_normal);
    vec3 p = v_shadow.xyz / v_shadow.w * 0.5 + 0.5;
    float seen = 1.0;
    if (all(greaterThan(p, vec3(0.0))) && all(lessThan(p, vec3(1.0)))) {
        seen = 0.0;
        for (int y = -1; y <= 1; ++y)
            for (int x = -1; x <= 1; ++x)
                seen += texture(u_depth, vec3(p.xy + vec2(x, y) * 1.6 * u_texel, p.z - 0.003)) / 9.0;
    }
    float light = 0.42 + 0.16 * n.y + 0.55 * max(dot(n, u_key), 0.0) * seen;
    vec3 tone = u_colour * light;
    if (u_cell > 0.0) tone = mix(tone, u_line, 0.55 * max(lines(v_position.xz, u_cell), 0.3 * lines(v_position.xz, u_cell * 0.25)));
    colour = vec4(tone, 1.0);
}
)";

} // namespace

void Scenery::create(Linker& linker) {
    initializeOpenGLFunctions();
    program_ = linker.link(kVertex, withGrid(kFragment));
    std::vector<glm::vec3> places;
    std::vector<std::uint32_t> triangles;
    constexpr std::uint32_t kRound = 32;
    constexpr std::uint32_t kHigh = 16;
    constexpr float kTau = 6.2831853f;
    for (std::uint32_t row = 0; row <= kHigh; ++row) {
        const float down = 0.5f * kTau * static_cast<float>(row) / kHigh;
        for (std::uint32_t column = 0; column <= kRound; ++column) {
            const float round = kTau * static_cast<float>(column) / kRound;
            places.push_back(
                {std::sin(down) * std::sin(round), std::cos(down), std::sin(down) * std::cos(round)});
            if (row < kHigh && column < kRound) {
                const std::uint32_t at = row * (kRound + 1) + column;
                const std::uint32_t below = at + kRound + 1;
                triangles.insert(triangles.end(), {at, below, at + 1, at + 1, below, below + 1});
            }
        }
    }
    fill(ball_, places, places, triangles);
}

void Scenery::destroy() {
    for (Body* body : {&ground_, &ball_}) {
        body->positions.destroy();
        body->normals.destroy();
        body->indices.destroy();
        body->arrays.reset();
        body->count = 0;
    }
    program_.reset();
}

void Scenery::fill(Body& body, std::span<const glm::vec3> positions, std::span<const glm::vec3> normals,
                   std::span<const std::uint32_t> indices) {
    if (!body.arrays) {
        body.arrays = std::make_unique<QOpenGLVertexArrayObject>();
        body.arrays->create();
    }
    const QOpenGLVertexArrayObject::Binder arrays(body.arrays.get());
    const auto into = [](QOpenGLBuffer& buffer, const void* data, std::size_t bytes) {
        if (!buffer.isCreated()) {
            buffer.create();
        }
        buffer.bind();
        buffer.allocate(data, static_cast<int>(bytes));
    };
    for (const auto& [buffer, values, location] :
         {std::tuple(&body.positions, positions, 0u), std::tuple(&body.normals, normals, 1u)}) {
        into(*buffer, values.data(), values.size_bytes());
        glEnableVertexAttribArray(location);
        glVertexAttribPointer(location, 3, GL_FLOAT, GL_FALSE, 0, nullptr);
    }
    into(body.indices, indices.data(), indices.size_bytes());
    body.count = static_cast<GLsizei>(indices.size());
}

void Scenery::setGround(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals,
                        std::span<const std::uint32_t> indices) {
    if (indices.empty()) {
        ground_.count = 0;
    } else {
        fill(ground_, positions, normals, indices);
    }
}

void Scenery::setBall(const glm::vec3& middle, float radius) {
    ballMiddle_ = middle;
    ballRadius_ = radius;
}

void Scenery::drawBody(Body& body) {
    const QOpenGLVertexArrayObject::Binder arrays(body.arrays.get());
    body.indices.bind();
    glDrawElements(GL_TRIANGLES, body.count, GL_UNSIGNED_INT, nullptr);
}

void Scenery::draw(const std::function<void(QOpenGLShaderProgram&)>& prepare) {
    if (empty() || !program_) {
        return;
    }
    program_->bind();
    prepare(*program_);
    const auto colour = [&](const char* name, const glm::vec3& c) {
        program_->setUniformValue(name, QVector3D(c.r, c.g, c.b));
    };
    colour("u_line", paint_.line);
    if (coversGround()) {
        colour("u_colour", paint_.ground);
        colour("u_middle", glm::vec3(0.0f));
        program_->setUniformValue("u_size", 1.0f);
        program_->setUniformValue("u_cell", paint_.cell);
        drawBody(ground_);
    }
    if (ballRadius_ > 0.0f) {
        colour("u_colour", paint_.ball);
        colour("u_middle", ballMiddle_);
        program_->setUniformValue("u_size", ballRadius_);
        program_->setUniformValue("u_cell", 0.0f);
        drawBody(ball_);
    }
}

} // namespace ripple::app
