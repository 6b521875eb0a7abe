#pragma once

#include <string_view>

namespace ripple::emit {

// The text of the GLSL reader. "@key@" is filled in by glsl_reader.cpp.

inline constexpr std::string_view kHead =
    R"(// @name@: reads its vertex animation textures in the vertex stage.
// Written by @generator@. GLSL 3.30 and later, or ES 3.00.
// Every texture: nearest, clamp, linear colour, no mips, no compression.
//
@textures@//   lookup_uv      the mesh's lookup UV set, in full float precision
//   rest_*         position and normal of the mesh as imported, in its own space
@pivot_note@//
// @one_frame@ is @rows@ row(s) high, row 0 at the top (texture coordinate v = 0).
// Bounds of all motion: @bounds_min@ to @bounds_max@.

struct @id@_pose { vec3 position; vec3 normal;@pose_tangent@ };

const int @id@_clip_count = @clip_count@;
const float @id@_frame_height = @frame_height@;

)";

/// Octahedral normals: Cigolle et al. 2014.
inline constexpr std::string_view kUnfold = R"(
// Octahedral unit vector from two components in 0..1.
vec3 @id@_unfold(vec2 q)
{
    vec2 e = q * 2.0 - 1.0;
    vec3 n = vec3(e, 1.0 - abs(e.x) - abs(e.y));
    float under = max(-n.z, 0.0);
    n.x += n.x >= 0.0 ? -under : under;
    n.y += n.y >= 0.0 ? -under : under;
    return normalize(n);
}
)";

inline constexpr std::string_view kEvenFrames = R"(
// Stored frames before and after `frame` of a clip, and how far it is from the one to the other (0 to 1).
// A closed clip wraps from its last frame to its first, for any frame number; an open one stops at its ends.
vec3 @id@_frames_at(int clip, float frame)
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
    return vec3(first + whole, first + next, inside - whole);
}
)";

inline constexpr std::string_view kUnevenFrames = R"(
// Stored frames before and after `frame` of a clip, and how far it is from the one to the other (0 to 1).
// Frames lie at uneven times. The result is the same for all vertices: work it out once per instance on the
// processor and pass it to @id@_blended, if that suits your engine.
// A closed clip wraps from its last frame to its first, for any frame number; an open one stops at its ends.
vec3 @id@_frames_at(int clip, float frame)
{
    float count = @id@_clip_frames(clip);
    bool closed = @id@_clip_closed(clip);
    float inside = clamp(frame, 0.0, count - 1.0);
    if (closed) {
        inside = frame - count * floor(frame / count);
        inside = inside >= count ? 0.0 : inside;
    }
    int first = int(@id@_clip_first_frame(clip));
    int last = int(@id@_clip_stored(clip)) - 1;
    int low = 0;
    int high = last;
    while (low < high) {
        int middle = (low + high + 1) / 2;
        if (@id@_times[first + middle] <= inside) {
            low = middle;
        } else {
            high = middle - 1;
        }
    }
    float start = @id@_times[first + low];
    float end = low < last ? @id@_times[first + low + 1] : count;
    int next = low < last ? low + 1 : (closed ? 0 : last);
    return vec3(float(first + low), float(first + next), (inside - start) / (end - start));
}
)";

inline constexpr std::string_view kVertexBody = R"(
@decode_normal@// A stored frame, counted over all clips.
@id@_pose @id@_stored_frame(@parameters@, float stored_frame)
{
    vec2 uv = vec2(lookup_uv.x, lookup_uv.y + stored_frame * @id@_frame_height);
@fetch_position@    @id@_pose pose;
    pose.position = @add_rest@@value@;
@normal@    return pose;
}

// `frames`: two stored frames and how far it is from the one to the other.
@id@_pose @id@_blended(@parameters@, vec3 frames)
{
    @id@_pose a = @id@_stored_frame(@arguments@, frames.x);
    @id@_pose b = @id@_stored_frame(@arguments@, frames.y);
    @id@_pose pose;
    pose.position = mix(a.position, b.position, frames.z);
    pose.normal = normalize(mix(a.normal, b.normal, frames.z));
@mix_tangent@    return pose;
}
)";

inline constexpr std::string_view kPieceBody = R"(
struct @id@_piece { vec3 place; vec4 turn; };

// v turned by the unit quaternion q.
vec3 @id@_turned(vec4 q, vec3 v)
{
    vec3 t = 2.0 * cross(q.xyz, v);
    return v + q.w * t + cross(q.xyz, t);
}

vec3 @id@_stored_place(@parameters@, vec2 uv, float stored_frame)
{
@fetch_position@    return @add_pivot@@value@;
}

vec4 @id@_stored_turn(@parameters@, vec2 uv)
{
@fetch_turn@    return normalize(@turn@);
}

// The vertex's piece in a stored frame, counted over all clips.
@id@_piece @id@_stored_piece(@parameters@, float stored_frame)
{
    vec2 uv = vec2(lookup_uv.x, lookup_uv.y + stored_frame * @id@_frame_height);
    @id@_piece piece;
    piece.place = @id@_stored_place(@arguments@, uv, stored_frame);
    piece.turn = @id@_stored_turn(@arguments@, uv);
    return piece;
}

// `frames`: two stored frames and how far it is from the one to the other.
@id@_pose @id@_blended(@parameters@, vec3 frames)
{
    @id@_piece a = @id@_stored_piece(@arguments@, frames.x);
    @id@_piece b = @id@_stored_piece(@arguments@, frames.y);
    // q and -q are the same turn; the near one makes the short way.
    vec4 near = dot(a.turn, b.turn) < 0.0 ? -b.turn : b.turn;
    vec4 turn = normalize(mix(a.turn, near, frames.z));
    @id@_pose pose;
    pose.position = mix(a.place, b.place, frames.z) + @id@_turned(turn, rest_position - pivot);
    pose.normal = @id@_turned(turn, rest_normal);
    return pose;
}

// A stored frame, counted over all clips.
@id@_pose @id@_stored_frame(@parameters@, float stored_frame)
{
    return @id@_blended(@arguments@, vec3(stored_frame, stored_frame, 0.0));
}
)";

inline constexpr std::string_view kShapeBody = R"(
vec3 @id@_shape(@parameters@, vec2 uv)
{
@fetch_position@    return @value@;
}

// `frames`: two stored frames and how far it is from the one to the other. Adds up the shapes, each by its
// weight in that frame.
@id@_pose @id@_blended(@parameters@, vec3 frames)
{
    const int shapes = @shapes@;
    @id@_pose pose;
    pose.position = rest_position;
    pose.normal = rest_normal;
    for (int s = 0; s < shapes; s += 4) {
        vec4 w = mix(texelFetch(weights, ivec2(s / 4, int(frames.x)), 0),
                     texelFetch(weights, ivec2(s / 4, int(frames.y)), 0), frames.z);
        for (int i = 0; i < 4 && s + i < shapes; ++i) {
            vec2 uv = vec2(lookup_uv.x, lookup_uv.y + float(s + i) * @id@_frame_height);
            pose.position += w[i] * @id@_shape(@arguments@, uv);
@add_normal@        }
    }
    pose.normal = normalize(pose.normal);
    return pose;
}

// A stored frame, counted over all clips.
@id@_pose @id@_stored_frame(@parameters@, float stored_frame)
{
    return @id@_blended(@arguments@, vec3(stored_frame, stored_frame, 0.0));
}
)";

inline constexpr std::string_view kTail = R"(
// `frame` counts frames of the clip and may lie between two: they are blended.
@id@_pose @id@_at_frame(@parameters@, int clip, float frame)
{
    return @id@_blended(@arguments@, @id@_frames_at(clip, frame));
}

// `turn` is one trip through the clip per whole number. A closed clip wraps it; wrap it yourself as well (in
// double precision, or by restarting it) if the game runs for hours: large floats lose their fraction.
@id@_pose @id@_at_turn(@parameters@, int clip, float turn)
{
    float count = @id@_clip_frames(clip);
    float frame = @id@_clip_closed(clip) ? fract(turn) * count : turn * (count - 1.0);
    return @id@_at_frame(@arguments@, clip, frame);
}

// Seconds since the clip began, at its own rate.
@id@_pose @id@_at_seconds(@parameters@, int clip, float seconds)
{
    return @id@_at_frame(@arguments@, clip, seconds * @id@_clip_fps(clip));
}
)";

} // namespace ripple::emit
