// What the hand-written shaders of this folder share. tests/test_instructions.cpp puts before it: the inputs of the
// vertex stage, `low` and `high` (corners of the model's rest bounds), and the noise and curve functions.

const float tau = 6.2831855;
const vec3 size = high - low;
const vec3 centre = 0.5 * (low + high);

float wave(float turns)
{
    return sin(tau * turns);
}

// 0 before `from`, 1 after `to`, and how fast it rises there.
float gradual(float x, float from, float to, out float slope)
{
    float t = clamp((x - from) / (to - from), 0.0, 1.0);
    slope = 6.0 / (to - from) * t * (1.0 - t);
    return t * t * (3.0 - 2.0 * t);
}

// Bends by `angle` over `span`. p.x is sideways, p.y along, both from the pivot; lengths along are kept: the middle
// line is an arc. Of the normal n and the gradient g likewise, their z along the hinge: both become the cofactor
// matrix times what they were, and `stretched` grows by that matrix's determinant.
void bend(float angle, float span, inout vec2 p, inout vec3 n, inout vec3 g, inout float stretched)
{
    float reached = clamp(p.y, 0.0, span);
    float beyond = p.y - reached;
    float turn = angle / span;
    float a = 0.5 * turn * reached;
    float s = sin(a);
    float c = cos(a);
    // A chord at half the angle.
    float chord = abs(a) < 0.01 ? reached - reached * a * a / 6.0 : reached * s / a;
    vec2 end = vec2(2.0 * s * c, 1.0 - 2.0 * s * s);
    // What lies beside the line is stretched by this, between both ends.
    float stretch = abs(p.y - 0.5 * span) < 0.5 * span ? 1.0 - turn * p.x : 1.0;
    p = chord * vec2(s, c) + vec2(p.x * end.y + beyond * end.x, beyond * end.y - p.x * end.x);
    n.xz *= stretch;
    n.xy = vec2(n.x * end.y + n.y * end.x, n.y * end.y - n.x * end.x);
    g.xz *= stretch;
    g.xy = vec2(g.x * end.y + g.y * end.x, g.y * end.y - g.x * end.x);
    stretched *= stretch;
}

// The normal when points move along one direction d by f, g being the gradient of f: the cofactor matrix of
// 1 + d gT times n. Not of unit length.
vec3 leaning(vec3 n, vec3 d, vec3 g, float stretched)
{
    return n * (stretched + dot(d, g)) - g * dot(d, n);
}
