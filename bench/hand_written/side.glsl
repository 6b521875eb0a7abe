void hand(float turn, out vec3 position, out vec3 normal)
{
    const float len = size.z;
    const vec3 head = vec3(centre.xy, high.z);

    // The body wave grows from head to tail; its gradient runs along z.
    float t = clamp((head.z - rest_position.z - 0.25 * len) / (0.75 * len), 0.0, 1.0);
    float held = 0.94 * t * t + 0.06;
    float place = tau * (2.0 * turn + rest_position.z / (1.1 * len));
    float body = 0.05 * len * held * sin(place);
    float rises = t < 1.0 ? -1.88 / (0.75 * len) * t : 0.0;
    float slope = 0.05 * len * (held * tau / (1.1 * len) * cos(place) + rises * sin(place));

    // The tail beats: x to the left, y backward from its root, the hinge upright.
    vec3 p = (rest_position - head) * vec3(-1.0, 1.0, -1.0);
    vec3 n = vec3(-rest_normal.x, -rest_normal.z, rest_normal.y);
    vec3 g = vec3(0.0, -slope, 0.0);
    float stretched = 1.0;
    vec2 tail = p.xz - vec2(0.0, 0.6 * len);
    bend(radians(22.0) * wave(2.0 * turn + 0.1), 0.4 * len, tail, n, g, stretched);
    p.xz = tail + vec2(0.0, 0.6 * len);
    n = n.xzy;
    g = g.xzy;

    // All of it rolls about its length.
    float back = clamp(p.z, 0.0, len);
    float roll = radians(5.0) / len * wave(2.0 * turn + 0.3);
    float s = sin(roll * back);
    float c = cos(roll * back);
    p.xy = vec2(p.x * c - p.y * s, p.y * c + p.x * s);
    n.xy = vec2(n.x * c - n.y * s, n.y * c + n.x * s);
    g.xy = vec2(g.x * c - g.y * s, g.y * c + g.x * s);
    float onward = back == p.z ? roll : 0.0;
    n.z -= onward * (p.x * n.y - p.y * n.x);
    g.z -= onward * (p.x * g.y - p.y * g.x);

    position = head + p * vec3(-1.0, 1.0, -1.0) + vec3(body, 0.0, 0.0);
    normal = normalize(leaning(n, vec3(-1.0, 0.0, 0.0), g, stretched) * vec3(-1.0, 1.0, -1.0));
}
