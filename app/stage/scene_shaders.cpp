#include "app/stage/scene_shaders.h"

#include "app/stage/copies.h"

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
)";

const char* const kFinishedOut = R"(out float v_alpha;
flat out vec3 v_tint;
flat out int v_image;
out vec3 v_position;
out vec3 v_normal;
out vec2 v_uv;
out vec2 v_grid;
out vec4 v_shade;
out vec4 v_shadow;
)";

// What both kinds of picture are lit by. `n` faces the eye where a surface is thin; `seen` is the part of the
// key light that gets there.
const char* const kLight = R"(
// A surface without area has no normal; it is lit as if it faced nothing.
vec3 unit(vec3 n) { return n * inversesqrt(max(dot(n, n), 1e-20)); }
uniform int u_look;
uniform bool u_two_sided;
uniform vec3 u_eye;
uniform vec3 u_key;
const vec3 key_light = vec3(1.18, 1.04, 0.86);
const vec3 sky_light = vec3(0.42, 0.52, 0.60);
vec3 light_on(vec3 n, float seen) {
    float facing = dot(n, u_key);
    vec3 light = mix(vec3(0.20, 0.19, 0.17), sky_light, 0.5 + 0.5 * n.y);
    light += key_light * max(facing, 0.0) * seen;
    // Thin cloth and leaves let light through from behind.
    if (u_two_sided) light += key_light * vec3(0.30, 0.25, 0.18) * max(-facing, 0.0) * mix(1.0, seen, 0.35);
    return light;
}
// What the surface mirrors, whatever its colour: dark ones show their form by it.
vec3 sheen_on(vec3 n, float seen) {
    vec3 to_eye = normalize(u_eye - lit_position);
    float facing = max(dot(n, to_eye), 0.0);
    float edge = 1.0 - facing;
    float up = 2.0 * facing * n.y - to_eye.y; // of the mirrored ray
    vec3 around = mix(vec3(0.10, 0.10, 0.09), sky_light, smoothstep(-0.4, 0.9, up));
    vec3 mirrored = (0.02 + 0.35 * edge * edge * edge * edge) * around;
    float shine = max(dot(n, normalize(to_eye + u_key)), 0.0);
    shine *= shine;
    shine *= shine;
    shine *= shine;
    shine *= shine * shine; // to the 24th
    return mirrored + shine * 0.12 * seen * key_light;
}
// A measured colour keeps its lightness; only enough light is left to read the shape by.
float form_of(vec3 n, float seen) {
    return 0.80 + 0.20 * clamp(dot(n, u_key) * seen, 0.0, 1.0) -
           0.10 * (1.0 - max(dot(n, normalize(u_eye - lit_position)), 0.0));
}
)";

// Drafts are lit at the vertices: dense meshes, which are slow to draw, look nearly the same.
const char* const kDraftOut = R"(out float v_alpha;
flat out vec3 v_tint;
flat out int v_image;
out vec2 v_uv;
out vec3 v_light;
out vec3 v_sheen;
uniform sampler2DShadow u_depth;
uniform float u_apart;  // metres
uniform float u_deeper; // of the shadow map's depth
vec3 lit_position;
)";

const char* const kDraftTail = R"(
    lit_position = pose_position;
    vec3 n = unit(pose_normal);
    if (u_two_sided && dot(n, u_eye - pose_position) < 0.0) n = -n;
    // The shadow's own mesh is coarser than what is drawn and lies beside it in folds: looked up a little
    // before the surface, and deeper, or folds would shade themselves in blotches.
    vec4 place = u_light * vec4(pose_position + n * u_apart, 1.0);
    vec3 p = place.xyz / place.w * 0.5 + 0.5;
    float seen = textureLod(u_depth, vec3(p.xy, p.z - u_deeper), 0.0);
    v_alpha = pose_alpha;
    v_uv = u_look == 2 ? a_grid : pose_uv;
    v_sheen = vec3(0.0);
    if (u_look == 3) {
        v_light = 0.5 + 0.5 * unit(pose_normal);
    } else if (u_look >= 4) {
        v_light = (u_look == 4 ? a_shade.rgb : sqrt(own_tint())) * form_of(n, seen);
    } else {
        v_light = light_on(n, seen);
        v_sheen = sheen_on(n, seen);
    }
    gl_Position = u_view_projection * vec4(pose_position, 1.0);
}
)";

const char* const kFinishedTail = R"(
    v_position = pose_position;
    v_normal = pose_normal;
    v_alpha = pose_alpha;
    v_uv = pose_uv;
    v_grid = a_grid;
    v_shade = a_shade;
    v_shadow = u_light * vec4(pose_position, 1.0);
    gl_Position = u_view_projection * vec4(pose_position, 1.0);
}
)";

} // namespace

namespace {

/// `pose`: gives pose_position and pose_normal; `after`: brings them to where they are drawn.
std::string vertexShader(Finish finish, const std::string& before, const std::string& pose,
                         const std::string& after) {
    const bool draft = finish == Finish::draft;
    return std::string(kVertexHead) + Copies::glsl() +
           (draft ? std::string(kDraftOut) + kLight : std::string(kFinishedOut)) + before +
           "void main() {\n    vec2 pose_uv = a_uv;\n    float pose_alpha = 1.0;\n" + pose + after +
           "    v_tint = own_tint();\n    v_image = own_image();\n" + (draft ? kDraftTail : kFinishedTail);
}

} // namespace

std::string sourceVertexShader(Finish finish) {
    return vertexShader(finish, "",
                        "    vec3 pose_position = a_position;\n    vec3 pose_normal = a_normal;\n",
                        placeOfVertex({}, {}).after);
}

std::string decodedVertexShader(Finish finish, const std::string& reader, const std::string& id,
                                const std::vector<std::string>& samplers, const std::string& vertex,
                                const VertexPlace& place) {
    std::string before = place.functions + reader + R"(layout(location = 7) in vec4 a_joints;
layout(location = 8) in vec4 a_weights;
layout(location = 9) in vec4 a_more_weights;
)";
    std::string arguments;
    for (const std::string& sampler : samplers) {
        before += "uniform sampler2D u_" + sampler + ";\n";
        arguments += "u_" + sampler + ", ";
    }
    arguments += vertex;
    return vertexShader(finish, before,
                        place.before + "    " + id + "_pose pose;\n    if (own_fade() < 1.0) pose = " + id +
                            "_faded_at_frames(" + arguments +
                            "own_clip_before(), own_frame_before(), own_clip(), own_frame(), "
                            "own_fade());\n    else pose = " +
                            id + "_at_frame(" + arguments + R"(own_clip(), own_frame());
    vec3 pose_position = pose.position;
    vec3 pose_normal = pose.normal;
)",
                        place.after);
}

std::string scoredVertexShader(Finish finish, const std::string& before, const std::string& id,
                               const std::string& arguments, bool shiftsUv, bool cutsOut,
                               const VertexPlace& place) {
    return vertexShader(
        finish, place.functions + before,
        place.before + "    " + id + "_moved moved = " + id + "_at_turn(" + arguments +
            "own_turn());\n    vec3 pose_position = moved.position;\n    vec3 pose_normal = moved.normal;\n" +
            (shiftsUv ? "    pose_uv += moved.uv_shift;\n" : "") +
            (cutsOut ? "    pose_alpha = " + id + "_alpha(" + arguments + "own_turn());\n" : ""),
        place.after);
}

namespace {

const char* const kSurfaceHead = R"(#version 330 core
uniform sampler2D u_base;
uniform sampler2D u_grid;
uniform sampler2D u_image1;
uniform sampler2D u_image2;
uniform sampler2D u_image3;
uniform vec4 u_base_factor;
uniform float u_cutoff;
out vec4 colour;
// Exposure and tone curve: white in full light (about 1.6) stays below the brightest that a screen shows.
vec3 shown(vec3 c) {
    c = clamp(0.98 * c / (1.0 + 0.48 * c), 0.0, 1.0);
    // sRGB's 1.055 c^(1/2.4) - 0.055, fitted by roots to a tenth of a step of eight bits: no logarithms.
    vec3 root = sqrt(c);
    vec3 curve = 0.83376965 * root + 0.29809408 * sqrt(root) - 0.05532286 * c - 0.07690044;
    return mix(c * 12.92, curve, step(0.0031308, c));
}
// Under the wire the surface steps back: the lines carry the measure.
vec3 under_wire(vec3 c) { return mix(c, vec3(dot(c, vec3(0.21, 0.72, 0.07))), 0.7) * 0.22; }
)";

// A copy's own image of the base colour: the material's, or one of those that were added.
const char* const kBase = R"(
flat in int v_image;
vec4 base_at(vec2 uv) {
    if (v_image == 1) return texture(u_image1, uv);
    if (v_image == 2) return texture(u_image2, uv);
    if (v_image == 3) return texture(u_image3, uv);
    return texture(u_base, uv);
}
)";

const char* const kFinishedSurface = R"(
in float v_alpha;
flat in vec3 v_tint;
in vec3 v_position;
in vec3 v_normal;
in vec2 v_uv;
in vec2 v_grid;
in vec4 v_shade;
in vec4 v_shadow;
uniform sampler2DShadow u_depth;
uniform float u_texel;
float lit_part() {
    vec3 p = v_shadow.xyz / v_shadow.w * 0.5 + 0.5;
    float sum = 0.0;
    for (int y = -1; y <= 1; ++y)
        for (int x = -1; x <= 1; ++x)
            sum += texture(u_depth, vec3(p.xy + vec2(x, y) * 1.4 * u_texel, p.z - 0.0022));
    return sum / 9.0;
}
void main() {
    vec4 base = base_at(v_uv) * u_base_factor * vec4(v_tint, 1.0);
    base.a *= v_alpha;
    if (base.a < u_cutoff) discard;
    lit_position = v_position;
    vec3 n = unit(v_normal);
    if (u_two_sided && !gl_FrontFacing) n = -n;
    if (u_look == 3) {
        colour = vec4(0.5 + 0.5 * unit(v_normal), 1.0);
        return;
    }
    if (u_look == 1) base.rgb = under_wire(base.rgb);
    if (u_look == 2) base.rgb = texture(u_grid, v_grid).rgb;
    float seen = lit_part();
    if (u_look >= 4) {
        colour = vec4((u_look == 4 ? v_shade.rgb : shown(v_tint)) * form_of(n, seen), 1.0);
        return;
    }
    colour = vec4(shown(base.rgb * light_on(n, seen) + sheen_on(n, seen)), 1.0);
}
)";

// Without `discard` hidden pixels are left out before they are shaded.
const char* const kDraftSurface = R"(
in float v_alpha;
flat in vec3 v_tint;
in vec2 v_uv;
in vec3 v_light;
in vec3 v_sheen;
uniform int u_look;
void main() {
#ifdef CUT_OUT
    if (base_at(v_uv).a * u_base_factor.a * v_alpha < u_cutoff) discard;
#endif
    if (u_look >= 3) {
        colour = vec4(v_light, 1.0);
        return;
    }
    vec3 base = u_look == 2 ? texture(u_grid, v_uv).rgb : base_at(v_uv).rgb * u_base_factor.rgb * v_tint;
    if (u_look == 1) base = under_wire(base);
    colour = vec4(shown(base * v_light + v_sheen), 1.0);
}
)";

} // namespace

std::string surfaceShader(Finish finish, bool cutOut) {
    if (finish == Finish::finished) {
        return std::string(kSurfaceHead) + kBase + "vec3 lit_position;\n" + kLight + kFinishedSurface;
    }
    const std::string head(kSurfaceHead);
    const std::size_t line = head.find('\n') + 1; // after #version
    return head.substr(0, line) + (cutOut ? "#define CUT_OUT\n" : "") + head.substr(line) + kBase +
           kDraftSurface;
}

const char* const kFlatFragmentShader = R"(#version 330 core
in vec4 v_shade;
uniform vec4 u_colour;
uniform bool u_shaded;
out vec4 colour;
void main() { colour = u_shaded ? vec4(v_shade.rgb, u_colour.a) : u_colour; }
)";

const char* const kEmptyFragmentShader = R"(#version 330 core
in float v_alpha;
in vec2 v_uv;
uniform sampler2D u_base;
uniform vec4 u_base_factor;
uniform float u_cutoff;
void main() {
    if (u_cutoff > 0.0 && texture(u_base, v_uv).a * u_base_factor.a * v_alpha < u_cutoff) discard;
}
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

namespace {

const char* const kGridLines = R"(#version 330 core
// 1 on the lines of a grid of such cells over the ground, 0 between; lines that are too close fade away.
float lines(vec2 ground, float cell) {
    vec2 p = ground / cell;
    vec2 width = fwidth(p);
    vec2 near = abs(fract(p - 0.5) - 0.5) / max(width, 1e-6);
    float line = 1.0 - min(min(near.x, near.y), 1.0);
    return line * clamp(1.6 - 2.0 * max(width.x, width.y), 0.0, 1.0);
}
)";

} // namespace

std::string withGrid(const char* fragment) {
    return std::string(kGridLines) + fragment;
}

const char* const kGroundFragmentShader = R"(
in vec3 v_position;
in vec4 v_shadow;
uniform vec3 u_centre;
uniform float u_reach;
uniform float u_cell;
uniform vec3 u_line;
uniform float u_shade;
uniform sampler2DShadow u_depth;
uniform float u_texel;
uniform int u_reach_texels; // of the soft edge of a shadow: 0 is a hard one
out vec4 colour;
void main() {
    float away = length(v_position.xz - u_centre.xz) / u_reach;
    float fade = 1.0 - smoothstep(0.25, 1.0, away);
    vec3 p = v_shadow.xyz / v_shadow.w * 0.5 + 0.5;
    float dark = 0.0;
    if (all(greaterThan(p.xy, vec2(0.0))) && all(lessThan(p.xy, vec2(1.0)))) {
        for (int y = -u_reach_texels; y <= u_reach_texels; ++y)
            for (int x = -u_reach_texels; x <= u_reach_texels; ++x)
                dark += 1.0 - texture(u_depth, vec3(p.xy + vec2(x, y) * 2.2 * u_texel, p.z - 0.002));
        dark /= float((2 * u_reach_texels + 1) * (2 * u_reach_texels + 1));
    }
    float line = max(lines(v_position.xz, u_cell) * 0.75, lines(v_position.xz, u_cell * 0.25) * 0.16);
    float shadow = dark * u_shade * fade;
    float alpha = max(line * fade, shadow);
    vec3 tint = mix(u_line, vec3(0.02, 0.05, 0.07), alpha > 0.0 ? shadow / max(alpha, 1e-4) * (1.0 - 0.6 * line) : 0.0);
    colour = vec4(tint, alpha);
}
)";

} // namespace ripple::app
