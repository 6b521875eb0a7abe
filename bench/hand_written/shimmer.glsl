void hand(float turn, out vec3 position, out vec3 normal, out vec2 uv_shift)
{
    const vec3 root = vec3(centre.x, low.y, centre.z);
    const float height = size.y;
    float stem = stored_STEM;
    vec3 p = rest_position - root;

    // The leaf flutters along its normal: how far, and how that changes upward.
    float rises;
    float held = gradual(p.y, 0.1 * height, 0.9 * height, rises);
    float place = tau * (6.0 * turn + stem - rest_position.y / (0.4 * height));
    float flutter = 0.008 * height * held * sin(place);
    float slope = 0.008 * height * (rises * sin(place) - held * tau / (0.4 * height) * cos(place));

    // It sways as a whole.
    float angle = radians(5.0) * wave(turn + 0.6 * stem);
    vec3 g = vec3(0.0);
    float stretch = 1.0;
    float along = p.y;
    float aside = p.x;
    vec3 n = rest_normal;
    bend(angle, height, p.xy, n, g, stretch);
    vec3 unit_n = normalize(n);

    // The normal turns along the stem, and what is stretched beside it changes sideways.
    float turns = abs(along - 0.5 * height) < 0.5 * height ? angle / height : 0.0;
    float reached = clamp(along, 0.0, height) * angle / height;
    float s = sin(reached);
    float c = cos(reached);
    float shorter = flutter * inversesqrt(dot(n, n));
    vec3 up = turns * vec3(n.y, -n.x, 0.0);
    vec3 sideways = -turns * vec3(c * rest_normal.x, -s * rest_normal.x, rest_normal.z);
    up = shorter * (up - unit_n * dot(unit_n, up));
    sideways = shorter * (sideways - unit_n * dot(unit_n, sideways));
    vec3 jx = vec3(c, -s, 0.0) + sideways;
    vec3 jy = vec3(stretch * s, stretch * c, 0.0) + unit_n * slope + up;
    // cross products with jz = (0, 0, 1)
    vec3 m = rest_normal;
    normal = normalize(m.x * vec3(jy.y, -jy.x, 0.0) + m.y * vec3(-jx.y, jx.x, 0.0) + m.z * cross(jx, jy));
    position = root + p + flutter * unit_n;

    // And the texture turns by a breath.
    float glint = radians(2.0) * wave(5.0 * turn + stem);
    vec2 from = uv_set_0 - 0.5;
    uv_shift = (cos(glint) - 1.0) * from + sin(glint) * vec2(-from.y, from.x);
}
