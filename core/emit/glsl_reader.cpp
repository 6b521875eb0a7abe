#include "emit/glsl_reader.h"

#include "base/units.h"
#include "base/version.h"

#include <cctype>
#include <string_view>

namespace ripple::emit {

namespace {

std::string number(double value) {
    return base::floatLiteral(static_cast<float>(value));
}

std::string vec3(const glm::vec3& v) {
    return "vec3(" + base::floatLiteral(v.x) + ", " + base::floatLiteral(v.y) + ", " +
           base::floatLiteral(v.z) + ")";
}

/// Replaces every "@key@" in a template.
std::string fill(std::string text, const std::vector<std::pair<std::string, std::string>>& values) {
    for (const auto& [key, value] : values) {
        const std::string mark = "@" + key + "@";
        for (std::size_t at = text.find(mark); at != std::string::npos;
             at = text.find(mark, at + value.size())) {
            text.replace(at, mark.size(), value);
        }
    }
    return text;
}

constexpr std::string_view kHead = R"(// @name@: reads its vertex animation textures in the vertex stage.
// Written by @generator@. GLSL 3.30 and later, or ES 3.00.
//
//   positions    @position_file_kind@, @width@ x @height@ texels, nearest, clamp, linear colour, no mips
//   normals      @normal_kind@
//   lookup_uv    the mesh's lookup UV set, in full float precision
//   rest_*       position and normal of the mesh as imported, in its own space
//
// One frame is @rows@ row(s) high, row 0 at the top (texture coordinate v = 0).
// Bounds of all motion: @bounds_min@ to @bounds_max@.

struct @id@_pose { vec3 position; vec3 normal; };

const int @id@_clip_count = @clip_count@;
const float @id@_frame_height = @frame_height@;

)";

constexpr std::string_view kBody = R"(
vec3 @id@_decode_position(vec4 texel, vec3 rest_position)
{
@range@    return @content@@decode_position@;
}

vec3 @id@_decode_normal(vec4 texel, vec3 rest_normal)
{
    return @decode_normal@;
}

// A stored frame, counted over all clips.
@id@_pose @id@_stored_frame(sampler2D positions, sampler2D normals, vec2 lookup_uv,
    vec3 rest_position, vec3 rest_normal, float stored_frame)
{
    vec2 uv = vec2(lookup_uv.x, lookup_uv.y + stored_frame * @id@_frame_height);
    @id@_pose pose;
    pose.position = @id@_decode_position(textureLod(positions, uv, 0.0), rest_position);
    pose.normal = @id@_decode_normal(@normal_texel@, rest_normal);
    return pose;
}

// `frame` counts frames of the clip and may lie between two: they are blended.
// A closed clip wraps from its last frame to its first, for any frame number; an open one stops at its ends.
@id@_pose @id@_at_frame(sampler2D positions, sampler2D normals, vec2 lookup_uv,
    vec3 rest_position, vec3 rest_normal, int clip, float frame)
{
    float count = @id@_clip_frames(clip);
    float last = count - 1.0;
    bool closed = @id@_clip_closed(clip);
    float inside = clamp(frame, 0.0, last);
    if (closed) {
        inside = frame - count * floor(frame / count);
        inside = inside >= count ? 0.0 : inside;
    }
    float whole = min(floor(inside), last);
    float next = whole + 1.0;
    if (next > last) {
        next = closed ? 0.0 : last;
    }
    float first = @id@_clip_first_frame(clip);
    @id@_pose a = @id@_stored_frame(positions, normals, lookup_uv, rest_position, rest_normal, first + whole);
    @id@_pose b = @id@_stored_frame(positions, normals, lookup_uv, rest_position, rest_normal, first + next);
    float t = inside - whole;
    @id@_pose pose;
    pose.position = mix(a.position, b.position, t);
    pose.normal = normalize(mix(a.normal, b.normal, t));
    return pose;
}

// `turn` is one trip through the clip per whole number. A closed clip wraps it; wrap it yourself as well (in
// double precision, or by restarting it) if the game runs for hours: large floats lose their fraction.
@id@_pose @id@_at_turn(sampler2D positions, sampler2D normals, vec2 lookup_uv,
    vec3 rest_position, vec3 rest_normal, int clip, float turn)
{
    float count = @id@_clip_frames(clip);
    float frame = @id@_clip_closed(clip) ? fract(turn) * count : turn * (count - 1.0);
    return @id@_at_frame(positions, normals, lookup_uv, rest_position, rest_normal, clip, frame);
}

// Seconds since the clip began, at its own rate.
@id@_pose @id@_at_seconds(sampler2D positions, sampler2D normals, vec2 lookup_uv,
    vec3 rest_position, vec3 rest_normal, int clip, float seconds)
{
    return @id@_at_frame(positions, normals, lookup_uv, rest_position, rest_normal, clip,
        seconds * @id@_clip_fps(clip));
}
)";

template <typename Value>
std::string clipTable(const std::string& id, const char* type, const char* what,
                      const bake::TextureSet& textures, const Value& value) {
    std::string text = std::string(type) + " " + id + "_clip_" + what + "(int clip)\n{\n";
    for (std::size_t c = 0; c + 1 < textures.clips.size(); ++c) {
        text += "    if (clip == " + std::to_string(c) + ") return " + value(textures.clips[c]) + "; // " +
                identifier(textures.clips[c].name) + "\n";
    }
    text += "    return " + value(textures.clips.back()) + "; // " + identifier(textures.clips.back().name) +
            "\n}\n";
    return text;
}

} // namespace

std::string identifier(const std::string& name) {
    std::string id;
    for (const char c : name) {
        const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9');
        if (plain) {
            id += c;
        } else if (!id.empty() && id.back() != '_') {
            id += '_'; // never two in a row: GLSL reserves those
        }
    }
    while (!id.empty() && id.back() == '_') {
        id.pop_back();
    }
    if (id.empty() || (id[0] >= '0' && id[0] <= '9') || id.rfind("gl", 0) == 0) {
        id.insert(0, id.empty() ? "bake" : "m");
    }
    return id;
}

std::string glslReader(const std::string& name, const bake::TextureSet& textures,
                       const mesh::Bounds& bounds) {
    const std::string id = identifier(name);
    const bake::Layout& layout = textures.layout;
    const bool normals = textures.normalStore.stored();
    const double frameHeight =
        static_cast<double>(layout.rowsPerFrame) / static_cast<double>(layout.height());
    std::string range;
    if (textures.positionStore.usesRange) {
        range = "    const vec3 range_min = " + vec3(textures.range.min) +
                ";\n    const vec3 range_size = " + vec3(textures.range.max - textures.range.min) + ";\n";
    }
    std::string text(kHead);
    text += clipTable(id, "float", "first_frame", textures, [](const bake::BakedClip& clip) {
        return number(static_cast<double>(clip.firstFrame));
    });
    text += clipTable(id, "float", "frames", textures,
                      [](const bake::BakedClip& clip) { return number(static_cast<double>(clip.frames)); });
    text +=
        clipTable(id, "float", "fps", textures, [](const bake::BakedClip& clip) { return number(clip.fps); });
    text += clipTable(id, "bool", "closed", textures, [](const bake::BakedClip& clip) {
        return std::string(clip.closed ? "true" : "false");
    });
    text += kBody;
    return fill(
        text,
        {
            {"name", name},
            {"generator", base::generatorName()},
            {"position_file_kind",
             std::string(textures.positionStore.name) + " " + bake::name(textures.content)},
            {"width", std::to_string(layout.width)},
            {"height", std::to_string(layout.height())},
            {"normal_kind", normals ? std::string(textures.normalStore.name) + ", the same size and settings"
                                    : "not stored: pass any sampler, it is not read"},
            {"rows", std::to_string(layout.rowsPerFrame)},
            {"bounds_min", vec3(bounds.min)},
            {"bounds_max", vec3(bounds.max)},
            {"clip_count", std::to_string(textures.clips.size())},
            {"frame_height", number(frameHeight)},
            {"range", range},
            {"content", textures.content == bake::Content::offset ? "rest_position + " : ""},
            {"decode_position", textures.positionStore.usesRange && textures.content == bake::Content::offset
                                    ? "(" + std::string(textures.positionStore.glsl) + ")"
                                    : std::string(textures.positionStore.glsl)},
            {"decode_normal", normals ? textures.normalStore.glsl : "rest_normal"},
            {"normal_texel", normals ? "textureLod(normals, uv, 0.0)" : "vec4(0.0)"},
            {"id", id},
        });
}

} // namespace ripple::emit
