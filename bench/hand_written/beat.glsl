// A wing, or its tip, from `root` outward: x up, y outward, the hinge along the body.
void wing(float side, float root, float degrees, float swing, inout vec3 p, inout vec3 n)
{
    const float half_width = 0.5 * size.x;
    vec2 q = vec2(p.y, side * p.x - root * half_width);
    vec3 m = vec3(n.y, side * n.x, side * n.z);
    vec3 g = vec3(0.0);
    float stretched = 1.0;
    bend(radians(degrees) * swing, (1.0 - root) * half_width, q, m, g, stretched);
    p.xy = vec2(side * (q.y + root * half_width), q.x);
    n = vec3(side * m.y, m.x, side * m.z);
}

void hand(float turn, out vec3 position, out vec3 normal)
{
    const vec3 middle = vec3(centre.x, low.y + 0.7 * size.y, centre.z);
    float beat = test_curve0(fract(turn)).w;
    float after = test_curve0(fract(turn - 0.14)).w;
    vec3 p = rest_position - middle;
    vec3 n = rest_normal;
    wing(1.0, 0.06, 46.0, beat, p, n);
    wing(-1.0, 0.06, 46.0, beat, p, n);
    wing(1.0, 0.45, 24.0, after, p, n);
    wing(-1.0, 0.45, 24.0, after, p, n);
    position = middle + p;
    position.y += 0.03 * 0.5 * size.x * wave(turn + 0.55);
    normal = normalize(n);
}
