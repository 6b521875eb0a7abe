// As bend(), but with the columns of the Jacobian.
void bend_columns(float angle, float span, inout vec2 p, inout vec3 j[3])
{
    float reached = clamp(p.y, 0.0, span);
    float beyond = p.y - reached;
    float turn = angle / span;
    float a = 0.5 * turn * reached;
    float s = sin(a);
    float c = cos(a);
    float chord = abs(a) < 0.01 ? reached - reached * a * a / 6.0 : reached * s / a;
    vec2 end = vec2(2.0 * s * c, 1.0 - 2.0 * s * s);
    float stretch = abs(p.y - 0.5 * span) < 0.5 * span ? 1.0 - turn * p.x : 1.0;
    p = chord * vec2(s, c) + vec2(p.x * end.y + beyond * end.x, beyond * end.y - p.x * end.x);
    for (int i = 0; i < 3; ++i) {
        float longer = stretch * j[i].y;
        j[i].xy = vec2(end.y * j[i].x + end.x * longer, end.y * longer - end.x * j[i].x);
    }
}

void hand(float turn, out vec3 position, out vec3 normal)
{
    const vec3 foot = vec3(centre.x, low.y, centre.z);
    const float height = size.y;
    float arm = stored_ARM;
    float up = rest_position.y - foot.y;

    // The body breathes away from its middle, below the arms; and rises.
    float rises;
    float falls;
    float belly = gradual(up, 0.02 * height, 0.3 * height, rises);
    float arms = 1.0 - gradual(up, 0.6 * height, 0.75 * height, falls);
    float swell = 0.5 * wave(turn) + 0.5;
    swell = 0.022 * height * (swell * swell - 0.375) / 0.625;
    float breath = swell * belly * arms;
    float breath_slope = swell * (rises * arms - belly * falls);
    vec3 out_of = rest_position - foot - vec3(0.0, 0.25 * height, 0.0);
    float near = inversesqrt(dot(out_of, out_of));
    vec3 way = near * out_of;
    float rising;
    float lift = 0.02 * height * wave(turn + 0.12);
    float rise = lift * gradual(up, 0.0, 0.6 * height, rising);

    vec3 p = rest_position - foot - vec3(0.0, 0.55 * height, 0.0);
    vec3 j[3] = vec3[3](vec3(1.0, 0.0, 0.0), vec3(0.0, 1.0, 0.0), vec3(0.0, 0.0, 1.0));
    bend_columns(radians(16.0) * wave(2.0 * turn + arm), 0.45 * height, p.xy, j);
    p = p.zyx;
    for (int i = 0; i < 3; ++i) {
        j[i] = j[i].zyx;
    }
    bend_columns(radians(11.0) * wave(turn + 2.0 * arm), 0.45 * height, p.xy, j);
    p = p.zyx;
    float wider = breath * near;
    for (int i = 0; i < 3; ++i) {
        j[i] = j[i].zyx - wider * way[i] * way;
        j[i][i] += wider;
    }
    j[1] += way * breath_slope + vec3(0.0, lift * rising, 0.0);
    vec3 m = rest_normal;
    normal = normalize(m.x * cross(j[1], j[2]) + m.y * cross(j[2], j[0]) + m.z * cross(j[0], j[1]));
    position = foot + vec3(0.0, 0.55 * height + rise, 0.0) + p + breath * way;
}
