// Four influences of a vertex, rigid joints as half floats, two frames blended as dual quaternions. The test puts
// the clips' numbers before it: firsts, counts, rates, closes.
void hand(sampler2D joints, sampler2D influences, vec2 lookup, vec3 rest, vec3 n, int clip, float seconds,
          out vec3 position, out vec3 normal)
{
    float count = counts[clip];
    float last = count - 1.0;
    float frame = seconds * rates[clip];
    float inside = clamp(frame, 0.0, last);
    if (closes[clip])
    {
        inside = frame - count * floor(frame / count);
        inside = inside >= count ? 0.0 : max(inside, 0.0);
    }
    float whole = min(floor(inside), last);
    float next = whole + 1.0;
    if (next > last)
        next = closes[clip] ? 0.0 : last;
    int a = int(firsts[clip] + whole + 0.5);
    int b = int(firsts[clip] + next + 0.5);
    float f = inside - whole;
    vec4 x = vec4(0.0);
    vec4 y = vec4(0.0);
    vec4 z = vec4(0.0);
    for (int pair = 0; pair < 2; ++pair)
    {
        vec4 two = texture(influences, vec2(lookup.x, lookup.y + float(pair) * 0.5));
        for (int i = 0; i < 4; i += 2)
        {
            float weight = two[i + 1];
            if (weight > 0.0)
            {
                int joint = 2 * int(two[i] * 65535.0 + 0.5);
                vec4 ta = texelFetch(joints, ivec2(joint, a), 0);
                vec4 qa = texelFetch(joints, ivec2(joint + 1, a), 0);
                vec4 tb = texelFetch(joints, ivec2(joint, b), 0);
                vec4 qb = texelFetch(joints, ivec2(joint + 1, b), 0);
                if (dot(qa, qb) < 0.0)
                    qb = -qb;
                vec4 da = vec4(qa.w * ta.xyz + cross(ta.xyz, qa.xyz), -dot(ta.xyz, qa.xyz));
                vec4 db = vec4(qb.w * tb.xyz + cross(tb.xyz, qb.xyz), -dot(tb.xyz, qb.xyz));
                vec4 q = mix(qa, qb, f);
                vec4 d = mix(da, db, f);
                float scale = mix(ta.w, tb.w, f);
                float over = 1.0 / max(dot(q, q), 1e-12);
                vec3 t = (q.w * d.xyz - d.w * q.xyz + cross(q.xyz, d.xyz)) * over;
                vec3 v = 2.0 * over * scale * q.xyz;
                vec3 w = v * q.w;
                vec3 s = v * q.xyz;
                float xy = v.x * q.y;
                float xz = v.x * q.z;
                float yz = v.y * q.z;
                x += weight * vec4(scale - s.y - s.z, xy - w.z, xz + w.y, t.x);
                y += weight * vec4(xy + w.z, scale - s.x - s.z, yz - w.x, t.y);
                z += weight * vec4(xz - w.y, yz + w.x, scale - s.x - s.y, t.z);
            }
        }
    }
    vec4 at = vec4(rest, 1.0);
    position = vec3(dot(x, at), dot(y, at), dot(z, at));
    vec3 turned = vec3(dot(cross(y.xyz, z.xyz), n), dot(cross(z.xyz, x.xyz), n), dot(cross(x.xyz, y.xyz), n));
    float square = dot(turned, turned);
    normal = square > 1e-30 ? turned * inversesqrt(square) : n;
}
