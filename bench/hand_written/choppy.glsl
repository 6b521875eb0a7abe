// Circling waves whose crests fit the tile; jx and jz are columns of the Jacobian.
void circle(float turn, vec2 crests, float amplitude, float turns, float phase, inout vec3 p, inout vec3 jx,
          inout vec3 jz)
{
    float side = max(size.x, size.z);
    vec2 k = tau / side * crests;
    vec2 way = normalize(crests);
    float angle = tau * (turns * turn + phase) - dot(k, rest_position.xz);
    float s = amplitude * side * sin(angle);
    float c = amplitude * side * cos(angle);
    p += vec3(-c * way.x, s, -c * way.y);
    vec3 slope = vec3(s * way.x, c, s * way.y);
    jx -= k.x * slope;
    jz -= k.y * slope;
}

void hand(float turn, out vec3 position, out vec3 normal)
{
    position = rest_position;
    vec3 jx = vec3(1.0, 0.0, 0.0);
    vec3 jz = vec3(0.0, 0.0, 1.0);
    circle(turn, vec2(2.0, 1.0), 0.021, 3.0, 0.0, position, jx, jz);
    circle(turn, vec2(-1.0, 3.0), 0.011, 4.0, 0.4, position, jx, jz);
    circle(turn, vec2(4.0, -3.0), 0.006, 5.0, 0.7, position, jx, jz);
    float side = max(size.x, size.z);
    const float cells = 12.0;
    vec3 at = rest_position / side;
    vec4 rough = 0.012 * side * test_noise3(cells * vec3(fract(turn - at.x), at.yz), cells, 1u);
    position.y += rough.w;
    rough.xyz *= cells / side;
    jx.y -= rough.x;
    jz.y += rough.z;
    float jyy = 1.0 + rough.y;
    vec3 n = rest_normal;
    // cofactor() with jy = (0, jyy, 0)
    normal = normalize(n.y * cross(jz, jx) +
                       jyy * vec3(n.x * jz.z - n.z * jx.z, 0.0, n.z * jx.x - n.x * jz.x));
}
