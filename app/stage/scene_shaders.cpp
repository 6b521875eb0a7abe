#include "app/stage/scene_shaders.h"

namespace ripple::app {

namespace {

const char* const kVertexHead = R"(#version 330 core
layout(location = 0) in vec3 a_position;
layout(location = 1) in vec3 a_normal;
layout(location = 2) in vec2 a_uv;
layout(location = 3) in vec2 a_lookup;
layout(location = 4) in vec4 a_shade;
layout(location = 5) in vec2 a_grid;
layout(location = 6) in vec3 a_pivot;
uniform mat4 u_view_projection;
uniform mat4 u_light;
out vec3 v_position;
out vec3 v_normal;
out vec2 v_uv;
out vec2 v_grid;
out vec4 v_shade;
out vec4 v_shadow;
)";

const char* const kVertexTail = R"(
    v_position = pose_position;
    v_normal = pose_normal;
    v_uv = a_uv;
    v_grid = a_grid;
    v_shade = a_shade;
    v_shadow = u_light * vec4(pose_position, 1.0);
    gl_Position = u_view_projection * vec4(pose_position, 1.0);
}
)";

} // namespace

std::string sourceVertexShader() {
    return std::string(kVertexHead) +
           "void main() {\n    vec3 pose_position = a_position;\n    vec3 pose_normal = a_normal;\n" +
           kVertexTail;
}

std::string decodedVertexShader(const std::string& reader, const std::string& id,
                                const std::vector<std::string>& samplers, bool pivot) {
    std::string uniforms;
    std::string arguments;
    for (const std::string& sampler : samplers) {
        uniforms += "uniform sampler2D u_" + sampler + ";\n";
        arguments += "u_" + sampler + ", ";
    }
    arguments += "a_lookup, a_position, a_normal, ";
    arguments += pivot ? "a_pivot, " : "";
    return std::string(kVertexHead) + reader + uniforms + R"(
uniform int u_clip;
uniform float u_frame;
void main() {
    )" + id +
           "_pose pose = " + id + "_at_frame(" + arguments + R"(u_clip, u_frame);
    vec3 pose_position = pose.position;
    vec3 pose_normal = pose.normal;
)" + kVertexTail;
}

const char* const kSurfaceFragmentShader = R"(#version 330 core
in vec3 v_position;
in vec3 v_normal;
in vec2 v_uv;
in vec2 v_grid;
in vec4 v_shade;
in vec4 v_shadow;
uniform int u_look;
uniform sampler2D u_base;
uniform sampler2D u_grid;
uniform sampler2DShadow u_depth;
uniform vec4 u_base_factor;
uniform float u_cutoff;
uniform bool u_two_sided;
uniform vec3 u_eye;
uniform vec3 u_key;
uniform float u_texel;
out vec4 colour;

float lit_part() {
    vec3 p = v_shadow.xyz / v_shadow.w * 0.5 + 0.5;
    float sum = 0.0;
    for (int y = -1; y <= 1; ++y)
        for (int x = -1; x <= 1; ++x)
            sum += texture(u_depth, vec3(p.xy + vec2(x, y) * 1.4 * u_texel, p.z - 0.0022));
    return sum / 9.0;
}
vec3 to_srgb(vec3 c) {
    c = clamp(c, 0.0, 1.0);
    return mix(c * 12.92, 1.055 * pow(c, vec3(1.0 / 2.4)) - 0.055, step(0.0031308, c));
}
void main() {
    vec4 base = texture(u_base, v_uv) * u_base_factor;
    if (base.a < u_cutoff) discard;
    vec3 n = normalize(v_normal);
    float side = gl_FrontFacing ? 1.0 : -1.0;
    if (u_two_sided) n *= side;
    if (u_look == 3) {
        colour = vec4(0.5 + 0.5 * normalize(v_normal), 1.0);
        return;
    }
    // Under the wire the surface steps back: the lines carry the measure.
    if (u_look == 1) base.rgb = mix(base.rgb, vec3(dot(base.rgb, vec3(0.21, 0.72, 0.07))), 0.7) * 0.22;
    if (u_look == 2) base.rgb = texture(u_grid, v_grid).rgb;
    float facing = dot(n, u_key);
    float seen = lit_part();
    vec3 sky = vec3(0.42, 0.52, 0.60);
    vec3 ground = vec3(0.20, 0.19, 0.17);
    vec3 light = mix(ground, sky, 0.5 + 0.5 * n.y);
    vec3 key = vec3(1.18, 1.04, 0.86);
    light += key * max(facing, 0.0) * seen;
    // Thin cloth and leaves let light through from behind.
    if (u_two_sided) light += key * vec3(0.30, 0.25, 0.18) * max(-facing, 0.0) * mix(1.0, seen, 0.35);
    vec3 to_eye = normalize(u_eye - v_position);
    vec3 halfway = normalize(to_eye + u_key);
    float sheen = pow(max(dot(n, halfway), 0.0), 28.0) * 0.10 * seen;
    float rim = pow(1.0 - max(dot(n, to_eye), 0.0), 4.0) * 0.10;
    if (u_look == 4) {
        // A measured colour keeps its lightness; only enough light is left to read the shape by.
        float form = 0.80 + 0.20 * clamp(facing * seen, 0.0, 1.0) - 0.10 * (1.0 - max(dot(n, to_eye), 0.0));
        colour = vec4(v_shade.rgb * form, 1.0);
        return;
    }
    vec3 shaded = base.rgb * light + sheen * key + rim * sky * base.rgb * 2.0;
    colour = vec4(to_srgb(shaded / (1.0 + 0.22 * shaded)), 1.0);
}
)";

const char* const kFlatFragmentShader = R"(#version 330 core
in vec4 v_shade;
uniform vec4 u_colour;
uniform bool u_shaded;
out vec4 colour;
void main() { colour = u_shaded ? vec4(v_shade.rgb, u_colour.a) : u_colour; }
)";

const char* const kEmptyFragmentShader = R"(#version 330 core
in vec2 v_uv;
uniform sampler2D u_base;
uniform vec4 u_base_factor;
uniform float u_cutoff;
void main() { if (u_cutoff > 0.0 && texture(u_base, v_uv).a * u_base_factor.a < u_cutoff) discard; }
)";

const char* const kScreenVertexShader = R"(#version 330 core
out vec2 v_place;
void main() {
    v_place = vec2(gl_VertexID == 1 ? 3.0 : -1.0, gl_VertexID == 2 ? 3.0 : -1.0);
    gl_Position = vec4(v_place, 0.9999, 1.0);
}
)";

const char* const kSkyFragmentShader = R"(#version 330 core
in vec2 v_place;
uniform vec3 u_middle;
uniform vec3 u_edge;
uniform float u_aspect;
out vec4 colour;
void main() {
    vec2 d = (v_place - vec2(0.0, 0.30)) * vec2(0.62, 0.80);
    float t = smoothstep(0.0, 1.15, length(d));
    // A little noise hides the bands of eight bits.
    float grain = fract(sin(dot(gl_FragCoord.xy, vec2(12.9898, 78.233))) * 43758.5453) - 0.5;
    colour = vec4(mix(u_middle, u_edge, t) + grain / 255.0, 1.0);
}
)";

const char* const kGroundVertexShader = R"(#version 330 core
uniform mat4 u_view_projection;
uniform mat4 u_light;
uniform vec3 u_centre;
uniform float u_reach;
out vec3 v_position;
out vec4 v_shadow;
void main() {
    vec2 corner = vec2(gl_VertexID % 2 == 0 ? -1.0 : 1.0, gl_VertexID < 2 ? -1.0 : 1.0);
    v_position = u_centre + vec3(corner.x, 0.0, corner.y) * u_reach;
    v_shadow = u_light * vec4(v_position, 1.0);
    gl_Position = u_view_projection * vec4(v_position, 1.0);
}
)";

const char* const kGroundFragmentShader = R"(#version 330 core
in vec3 v_position;
in vec4 v_shadow;
uniform vec3 u_centre;
uniform float u_reach;
uniform float u_cell;
uniform vec3 u_line;
uniform float u_shade;
uniform sampler2DShadow u_depth;
uniform float u_texel;
out vec4 colour;
float lines(float cell) {
    vec2 p = v_position.xz / cell;
    vec2 width = fwidth(p);
    vec2 near = abs(fract(p - 0.5) - 0.5) / max(width, 1e-6);
    float line = 1.0 - min(min(near.x, near.y), 1.0);
    return line * clamp(1.6 - 2.0 * max(width.x, width.y), 0.0, 1.0);
}
void main() {
    float away = length(v_position.xz - u_centre.xz) / u_reach;
    float fade = 1.0 - smoothstep(0.25, 1.0, away);
    vec3 p = v_shadow.xyz / v_shadow.w * 0.5 + 0.5;
    float dark = 0.0;
    if (all(greaterThan(p.xy, vec2(0.0))) && all(lessThan(p.xy, vec2(1.0)))) {
        for (int y = -2; y <= 2; ++y)
            for (int x = -2; x <= 2; ++x)
                dark += 1.0 - texture(u_depth, vec3(p.xy + vec2(x, y) * 2.2 * u_texel, p.z - 0.002));
        dark /= 25.0;
    }
    float line = max(lines(u_cell) * 0.75, lines(u_cell * 0.25) * 0.16);
    float shadow = dark * u_shade * fade;
    float alpha = max(line * fade, shadow);
    vec3 tint = mix(u_line, vec3(0.02, 0.05, 0.07), alpha > 0.0 ? shadow / max(alpha, 1e-4) * (1.0 - 0.6 * line) : 0.0);
    colour = vec4(tint, alpha);
}
)";

} // namespace ripple::app
