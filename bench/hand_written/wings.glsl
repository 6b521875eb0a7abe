void hand(float turn, out vec3 position, out vec3 normal)
{
    const float len = size.z;
    const float half_width = 0.5 * size.x;

    // Waves run down the wings from front to back, the more the further off the spine; all of it glides.
    vec2 off = rest_position.xy - centre.xy;
    float away = length(off);
    float rises;
    float held = 0.98 * gradual(away, 0.10 * half_width, half_width, rises) + 0.02;
    float place = tau * (2.0 * turn + rest_position.z / (0.75 * len) + 0.1);
    const float high_wave = 0.22 * half_width;
    float lift = high_wave * held * sin(place);
    vec3 g = vec3(off * (0.98 * high_wave * rises * sin(place) / max(away, 1e-12)),
                  high_wave * tau / (0.75 * len) * held * cos(place));

    // The tail sways: x to the left, y backward from its root, the hinge upright.
    const vec3 root = vec3(centre.xy, low.z + 0.45 * len);
    vec2 p = root.xz - rest_position.xz;
    vec3 n = vec3(-rest_normal.x, -rest_normal.z, rest_normal.y);
    g = vec3(-g.x, -g.z, g.y);
    float stretched = 1.0;
    bend(radians(26.0) * wave(turn), 0.45 * len, p, n, g, stretched);
    position = vec3(root.x - p.x, rest_position.y + lift + 0.03 * len * wave(turn + 0.25), root.z - p.y);
    n = leaning(n, vec3(0.0, 0.0, 1.0), g, stretched);
    normal = normalize(vec3(-n.x, n.z, -n.y));
}
