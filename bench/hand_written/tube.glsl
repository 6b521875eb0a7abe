void hand(float turn, out vec3 position, out vec3 normal)
{
    const float len = size.x;
    float x = rest_position.x - low.x;
    // Held at its mouth, and where it is painted black.
    float rises;
    float far = gradual(x, 0.06 * len, 0.95 * len, rises);
    float free = clamp(2.0 * vertex_colour.r, 0.0, 1.0);
    float held = far * free;
    vec3 g_held = abs(vertex_colour.r - 0.25) < 0.25 ? 2.0 * far * colour_slope_r : vec3(0.0);
    g_held.x += rises * free;

    float a = tau * (2.0 * turn - rest_position.x / (0.8 * len));
    float b = tau * (turn - rest_position.x / (1.1 * len) + 0.2);
    float side = 0.09 * len * sin(a);
    float lift = 0.07 * len * sin(b);
    vec3 g_side = side * g_held;
    vec3 g_lift = lift * g_held;
    g_side.x -= 0.09 / 0.8 * tau * held * cos(a);
    g_lift.x -= 0.07 / 1.1 * tau * held * cos(b);

    const float scale = 1.0 / (0.28 * len);
    const float cells = 2.0;
    vec3 at = scale * rest_position;
    vec4 ripple = 0.022 * len * test_noise3(cells * vec3(fract(5.0 * turn - at.x), at.yz), cells, 1u);
    vec3 g_ripple = ripple.w * g_held + held * cells * scale * vec3(-ripple.x, ripple.yz);

    position = rest_position + vec3(0.0, held * lift, held * side) + held * ripple.w * rest_normal;
    vec3 n = rest_normal;
    vec3 jx = vec3(1.0, g_lift.x, g_side.x) + n * g_ripple.x;
    vec3 jy = vec3(0.0, 1.0 + g_lift.y, g_side.y) + n * g_ripple.y;
    vec3 jz = vec3(0.0, g_lift.z, 1.0 + g_side.z) + n * g_ripple.z;
    normal = normalize(n.x * cross(jy, jz) + n.y * cross(jz, jx) + n.z * cross(jx, jy));
}
