void hand(float turn, out vec3 position, out vec3 normal)
{
    const vec3 root = vec3(centre.x, low.y, centre.z);
    const float height = size.y;
    float stem = stored_STEM;

    // The tremble grows toward the tip; noise and its gradient.
    float rises;
    float held = 0.010 * height * gradual(rest_position.y - root.y, 0.25 * height, height, rises);
    const float cells = 3.0;
    vec3 at = rest_position / height;
    vec4 tremble =
        test_noise3(cells * vec3(fract(7.0 * turn + 2.0 * stem - at.y), -at.z, -at.x), cells, 1u);
    vec3 g = -held * cells / height * tremble.zxy;
    g.y += 0.010 * height * rises * tremble.w;

    vec3 p = rest_position - root;
    vec3 n = rest_normal;
    float stretched = 1.0;
    float up = 0.5 * wave(turn + 0.35 * stem) + 0.5;
    bend(radians(13.0) * (up * up - 0.375) / 0.625, height, p.xy, n, g, stretched);
    p = p.zyx;
    n = n.zyx;
    g = g.zyx;
    bend(radians(7.0) * wave(3.0 * turn + stem), height, p.xy, n, g, stretched);

    const vec3 way = normalize(vec3(0.3, 0.0, 1.0));
    position = root + p.zyx + way * (held * tremble.w);
    normal = normalize(leaning(n.zyx, way, g.zyx, stretched));
}
