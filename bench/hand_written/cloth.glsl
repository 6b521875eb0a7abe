// A wave along `way`: how far it pushes, and the gradient of that.
void run(float turn, vec3 way, float wavelength, float amplitude, float turns, inout float f, inout vec3 g)
{
    vec3 k = tau / wavelength * normalize(way);
    float angle = tau * turns * turn - dot(k, rest_position);
    f += amplitude * sin(angle);
    g -= amplitude * cos(angle) * k;
}

void hand(float turn, out vec3 position, out vec3 normal)
{
    // It hangs along the longer of its two horizontal sides, and swings across the thinner of the others.
    const bool x = size.x >= size.z;
    const vec3 way = x ? vec3(1.0, 0.0, 0.0) : vec3(0.0, 0.0, 1.0);
    const vec3 horizontal = x ? vec3(0.0, 0.0, 1.0) : vec3(1.0, 0.0, 0.0);
    const bool lies = size.y <= (x ? size.z : size.x);
    const vec3 push = lies ? vec3(0.0, 1.0, 0.0) : horizontal;
    const vec3 aside = lies ? horizontal : vec3(0.0, 1.0, 0.0);
    const float len = x ? size.x : size.z;
    float along = dot(rest_position - low, way);
    float f = 0.0;
    vec3 g = vec3(0.0);
    run(turn, way, 0.7 * len, 0.045 * len, 3.0, f, g);
    run(turn, way + 0.8 * aside, 0.9 * len, 0.025 * len, 2.0, f, g);
    float slope;
    float held = gradual(along, 0.02 * len, 0.9 * len, slope);
    g = held * g + slope * f * way;
    f *= held;
    // The flutter: noise that runs along a direction a little aside.
    const vec3 run = normalize(way + 0.2 * aside);
    const vec3 across = normalize(cross(run, vec3(0.0, 1.0, 0.0)));
    const vec3 over = cross(across, run);
    const float scale = 1.0 / (0.6 * len);
    const float cells = 3.0;
    vec3 at = scale * vec3(dot(rest_position, run), dot(rest_position, over), dot(rest_position, across));
    vec4 noise = 0.03 * len * test_noise3(cells * vec3(fract(4.0 * turn - at.x), at.yz), cells, 1u);
    held = gradual(along, 0.3 * len, len, slope);
    f += held * noise.w;
    noise.xyz *= cells * scale * held;
    g += across * noise.z + over * noise.y - run * noise.x + slope * noise.w * way;
    position = rest_position + f * push;
    normal = normalize(leaning(rest_normal, push, g, 1.0));
}
