#pragma once

#include <string_view>

namespace ripple::emit {

// Functions that a score's code calls, where it does. "@id@" is filled in by glsl_score.cpp.

inline constexpr std::string_view kUnit = R"(
// Length 1; what has no length stays 0.
vec3 @id@_unit(vec3 v)
{
    float square = dot(v, v);
    return square > 0.0 ? v * inversesqrt(square) : vec3(0.0);
}
)";

inline constexpr std::string_view kSinc = R"(
// sin(2 pi x) / (2 pi x)
float @id@_sinc(float turns)
{
    float angle = 6.2831855 * turns;
    return abs(angle) < 0.01 ? 1.0 - angle * angle / 6.0 : sin(angle) / angle;
}
)";

/// The same as motion/noise.cpp, step by step.
inline constexpr std::string_view kNoise = R"(
uint @id@_hash(uvec3 p, uint seed)
{
    uint h = p.x * 0x8DA6B343u + p.y * 0xD8163841u + p.z * 0xCB1AB31Fu + seed * 0x9E3779B1u;
    h ^= h >> 16;
    h *= 0x7FEB352Du;
    h ^= h >> 15;
    h *= 0x846CA68Bu;
    return h ^ (h >> 16);
}

// A lattice point's gradient; the lattice repeats after `cells`.
vec3 @id@_gradient(vec3 cell, float cells, uint seed)
{
    vec3 inside = cell - cells * floor(cell / cells);
    inside = mix(inside, inside - cells, greaterThanEqual(inside, vec3(cells)));
    inside = mix(inside, inside + cells, lessThan(inside, vec3(0.0)));
    uint h = @id@_hash(uvec3(inside), seed);
    return vec3(uvec3(h, h >> 10, h >> 20) & 1023u) * (2.0 / 1023.0) - 1.0;
}
)";

inline constexpr std::string_view kNoise1 = R"(
// Gradient noise that repeats after `cells`: its slope in x, its value in w.
vec4 @id@_noise1(float p, float cells, uint seed)
{
    float cell = floor(p);
    float t = p - cell;
    float w = t * t * t * (t * (t * 6.0 - 15.0) + 10.0);
    float dw = 30.0 * t * t * (t * (t - 2.0) + 1.0);
    float ga = @id@_gradient(vec3(cell, 0.0, 0.0), cells, seed).x;
    float gb = @id@_gradient(vec3(cell + 1.0, 0.0, 0.0), cells, seed).x;
    float a = ga * t;
    float b = gb * (t - 1.0);
    return vec4(mix(ga, gb, w) + dw * (b - a), 0.0, 0.0, mix(a, b, w)) * 2.0;
}
)";

inline constexpr std::string_view kNoise2 = R"(
// Gradient noise that repeats after `cells`: its slopes in x and y, its value in w.
vec4 @id@_noise2(vec2 p, float cells, uint seed)
{
    vec2 cell = floor(p);
    vec2 t = p - cell;
    vec2 w = t * t * t * (t * (t * 6.0 - 15.0) + 10.0);
    vec2 dw = 30.0 * t * t * (t * (t - 2.0) + 1.0);
    vec2 ga = @id@_gradient(vec3(cell, 0.0), cells, seed).xy;
    vec2 gb = @id@_gradient(vec3(cell + vec2(1.0, 0.0), 0.0), cells, seed).xy;
    vec2 gc = @id@_gradient(vec3(cell + vec2(0.0, 1.0), 0.0), cells, seed).xy;
    vec2 gd = @id@_gradient(vec3(cell + vec2(1.0, 1.0), 0.0), cells, seed).xy;
    float a = dot(ga, t);
    float b = dot(gb, t - vec2(1.0, 0.0));
    float c = dot(gc, t - vec2(0.0, 1.0));
    float d = dot(gd, t - vec2(1.0, 1.0));
    vec2 slope = mix(mix(ga, gb, w.x), mix(gc, gd, w.x), w.y);
    slope += dw * vec2(mix(b - a, d - c, w.y), mix(c - a, d - b, w.x));
    return vec4(slope, 0.0, mix(mix(a, b, w.x), mix(c, d, w.x), w.y));
}
)";

inline constexpr std::string_view kNoise3 = R"(
// Gradient noise that repeats after `cells`: its slopes in xyz, its value in w.
vec4 @id@_noise3(vec3 p, float cells, uint seed)
{
    vec3 cell = floor(p);
    vec3 t = p - cell;
    vec3 w = t * t * t * (t * (t * 6.0 - 15.0) + 10.0);
    vec3 dw = 30.0 * t * t * (t * (t - 2.0) + 1.0);
    vec4 sum = vec4(0.0);
    for (int corner = 0; corner < 8; ++corner) {
        vec3 k = vec3(corner & 1, (corner >> 1) & 1, (corner >> 2) & 1);
        vec3 g = @id@_gradient(cell + k, cells, seed);
        float along = dot(g, t - k);
        vec3 part = mix(1.0 - w, w, k);
        vec3 change = mix(-dw, dw, k);
        sum.w += part.x * part.y * part.z * along;
        sum.xyz += part.x * part.y * part.z * g +
                   along * vec3(change.x * part.y * part.z, part.x * change.y * part.z, part.x * part.y * change.z);
    }
    return sum * (2.0 / 3.0);
}
)";

/// "@index@", "@count@" and "@values@" as well.
inline constexpr std::string_view kCurve = R"(
// A closed curve through @count@ values (Catmull and Rom): its slope in x, its value in w.
vec4 @id@_curve@index@(float x)
{
    const float values[@count@] = float[@count@](@values@);
    float at = x * float(@count@);
    float whole = floor(at);
    float t = at - whole;
    int i = clamp(int(whole), 0, @count@ - 1);
    float a = values[(i + @count@ - 1) % @count@];
    float b = values[i];
    float c = values[(i + 1) % @count@];
    float d = values[(i + 2) % @count@];
    float k1 = 0.5 * (c - a);
    float k2 = a - 2.5 * b + 2.0 * c - 0.5 * d;
    float k3 = 1.5 * (b - c) + 0.5 * (d - a);
    return vec4((k1 + t * (2.0 * k2 + t * 3.0 * k3)) * float(@count@), 0.0, 0.0, b + t * (k1 + t * (k2 + t * k3)));
}
)";

} // namespace ripple::emit
