void hand(float turn, out vec3 position, out vec3 normal)
{
    const vec3 hook = vec3(centre.x, high.y, centre.z);
    const float span = 0.04 * size.y;
    // From the hook, y down.
    vec3 p = (rest_position - hook) * vec3(1.0, -1.0, 1.0);
    vec3 n = rest_normal * vec3(1.0, -1.0, 1.0);
    vec3 g = vec3(0.0);
    float stretched = 1.0;

    // The body after the chain, from half way down.
    p.y -= 0.5 * size.y;
    bend(radians(6.0) * wave(2.0 * turn - 0.12), span, p.xy, n, g, stretched);
    p.y += 0.5 * size.y;
    bend(radians(11.0) * wave(2.0 * turn), span, p.xy, n, g, stretched);
    p = p.zyx;
    n = n.zyx;
    bend(-radians(4.0) * wave(2.0 * turn + 0.25), span, p.xy, n, g, stretched);
    p = p.zyx;
    n = n.zyx;

    // It spins about its length, all below half its height by the same.
    float down = clamp(p.y, 0.0, 0.5 * size.y);
    float spin = radians(14.0) / (0.5 * size.y) * wave(turn);
    float s = sin(spin * down);
    float c = cos(spin * down);
    p.xz = vec2(p.x * c - p.z * s, p.z * c + p.x * s);
    n.xz = vec2(n.x * c - n.z * s, n.z * c + n.x * s);
    // What lies off the axis leans with the spin.
    n.y -= down == p.y ? spin * (p.x * n.z - p.z * n.x) : 0.0;
    position = hook + p * vec3(1.0, -1.0, 1.0);
    normal = normalize(n * vec3(1.0, -1.0, 1.0));
}
