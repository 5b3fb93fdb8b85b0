#pragma once
// The shader family: one way to shade, several ways to make vertices. Positions are relative to the eye. The solid
// shader is built in variants (TEXTURED, LIT, SHADOWED, FLAT): on a software rasteriser every test and every discard
// costs.
namespace app::shaders {

constexpr const char* kSolidVertex = R"glsl(layout(location = 0) in vec3 position;
layout(location = 1) in vec4 normal;   // w: emission, below 0 gloss
layout(location = 2) in vec4 colour;   // linear; a: how open to the sky
layout(location = 3) in vec2 texture0;
layout(location = 4) in vec4 row0;
layout(location = 5) in vec4 row1;
layout(location = 6) in vec4 row2;
layout(location = 7) in vec4 tint;
layout(location = 8) in vec4 shade;
uniform mat4 clip;
uniform mat4 shadow;
uniform bool tintIsColour; uniform float hazeAt;
out float vHaze; out vec3 vAt; out vec3 vColour; out vec4 vTint; out vec2 vOpenGlow; out vec2 vTexture; out vec3 vShadow;
#ifndef FLAT
out vec3 vNormal;
#endif
void main() {
    vec4 p = vec4(position, 1.0);
    vAt = vec3(dot(row0, p), dot(row1, p), dot(row2, p));
#ifndef FLAT
    vec3 a = vec3(row0.x, row1.x, row2.x), b = vec3(row0.y, row1.y, row2.y), c = vec3(row0.z, row1.z, row2.z);
    // The inverse transpose of a rotation times a size, without inverting.
    vNormal = a * (normal.x / dot(a, a)) + b * (normal.y / dot(b, b)) + c * (normal.z / dot(c, c));
#endif
    vHaze = exp(-length(vAt) / hazeAt);
    vColour = tintIsColour ? tint.rgb * tint.rgb : colour.rgb * shade.rgb * shade.rgb;
    vTint = tintIsColour ? vec4(0.0) : tint;
    vOpenGlow = vec2(tintIsColour ? 0.8 : colour.a, normal.w);
    vTexture = texture0;
    vShadow = (shadow * vec4(vAt, 1.0)).xyz;
    gl_Position = clip * vec4(vAt, 1.0);
}
)glsl";

constexpr const char* kSolidFragment =
    R"glsl(in float vHaze; in vec3 vAt; in vec3 vColour; in vec4 vTint; in vec2 vOpenGlow; in vec2 vTexture; in vec3 vShadow;
uniform vec3 sight;  // far ahead in an orthographic picture, else nothing
uniform vec3 toSun; uniform vec3 sunColour; uniform vec3 skyColour; uniform vec3 groundColour; uniform vec3 haze;
uniform sampler2DShadow shadowMap;
uniform sampler2D image; uniform float cutoff;
uniform bool wire; uniform vec3 ink; uniform bool tintLit;  // lines near the ink of the theme; tints under the light
uniform int lightCount; uniform vec4 lightPlace[8]; uniform vec3 lightColour[8]; uniform vec4 lightCone[8]; uniform float lightInner[8];
#ifndef FLAT
in vec3 vNormal;
#endif
out vec4 fragment;
void main() {
#ifdef FLAT
    vec3 n = normalize(cross(dFdx(vAt), dFdy(vAt)));
#else
    vec3 n = normalize(vNormal);
#endif
    if (dot(n, vAt + sight) > 0.0) n = -n;
    vec3 base = vColour;
#ifdef TEXTURED
    vec4 t = texture(image, vTexture);
    if (t.a < cutoff) discard;
    base *= t.rgb * t.rgb;
#endif
#ifdef PLAIN
    // Shapes alone: one colour, lit from the eye, edges dark.
    float facing = abs(dot(n, normalize(vAt + sight)));
    base = vec3(0.02 + 0.9 * facing * facing);
    fragment = vec4(sqrt(mix(base, vTint.rgb * vTint.rgb, vTint.a)), 1.0);
    return;
#endif
    if (wire) {
        fragment = vec4(sqrt(mix(mix(base, ink, 0.5), vTint.rgb * vTint.rgb, vTint.a)), 1.0);
        return;
    }
    if (tintLit) base = mix(base, vTint.rgb * vTint.rgb, vTint.a);
    float sun = max(dot(n, toSun), 0.0);
#ifdef SHADOWED
    vec2 edge = abs(vShadow.xy - 0.5);
    sun *= max(edge.x, edge.y) < 0.499 ? texture(shadowMap, vec3(vShadow.xy, vShadow.z - 0.0009)) : 1.0;
#endif
    float open = vOpenGlow.x;
    vec3 light = sunColour * sun * (0.55 + 0.45 * open) + mix(groundColour, skyColour, n.y * 0.5 + 0.5) * open;
#ifdef LIT
    for (int i = 0; i < lightCount; ++i) {
        vec3 d = lightPlace[i].xyz - vAt;
        float far = length(d), reach = lightPlace[i].w;
        float fade = clamp(1.0 - far / reach, 0.0, 1.0);
        float facing = max(dot(n, d) / max(far, 1e-4), 0.0);
        float cone = lightCone[i].w < -1.5 ? 1.0 : smoothstep(lightCone[i].w, lightInner[i], dot(-d / max(far, 1e-4), lightCone[i].xyz));
        light += lightColour[i] * (fade * fade * facing * cone / (1.0 + far * far * 0.35));
    }
#endif
    vec3 c = base * light + base * max(vOpenGlow.y, 0.0) * 0.9;
    if (vOpenGlow.y < 0.0) {  // polished: the sun in it, and some of the sky
        vec3 away = reflect(normalize(vAt + sight), n);
        float gloss = -vOpenGlow.y;
        c += sunColour * pow(max(dot(away, toSun), 0.0), 4.0 + 60.0 * gloss) * gloss * step(0.001, sun);
        c = mix(c, skyColour * open, 0.25 * gloss * clamp(away.y, 0.0, 1.0));
    }
    if (!tintLit) c = mix(c, vTint.rgb * vTint.rgb, vTint.a);
    c = mix(haze, c, vHaze);
    fragment = vec4(sqrt(c), 1.0);
}
)glsl";

constexpr const char* kShadowVertex = R"glsl(#version 330 core
layout(location = 0) in vec3 position;
layout(location = 4) in vec4 row0;
layout(location = 5) in vec4 row1;
layout(location = 6) in vec4 row2;
uniform mat4 shadow;
void main() {
    vec4 p = vec4(position, 1.0);
    gl_Position = shadow * vec4(dot(row0, p), dot(row1, p), dot(row2, p), 1.0);
}
)glsl";
constexpr const char* kShadowFragment = R"glsl(#version 330 core
void main() {}
)glsl";

constexpr const char* kPointVertex = R"glsl(#version 330 core
layout(location = 0) in vec4 place;  // w: radius in metres
layout(location = 1) in vec4 colour;
uniform mat4 clip; uniform bool flatView; uniform float pixelsAtOne; uniform vec3 lit; uniform vec3 haze; uniform float hazeAt;
out vec4 vColour;
void main() {
    gl_Position = clip * vec4(place.xyz, 1.0);
    gl_PointSize = clamp(place.w * pixelsAtOne / (flatView ? 1.0 : max(length(place.xyz), 0.1)), 1.0, 28.0);
    vColour = vec4(sqrt(mix(haze, colour.rgb * colour.rgb * lit, exp(-length(place.xyz) / hazeAt))), 1.0);
}
)glsl";
constexpr const char* kPointFragment = R"glsl(#version 330 core
in vec4 vColour;
out vec4 fragment;
void main() { fragment = vColour; }
)glsl";

// Dots at the crossings of a lattice in the plane of two axes, near `focus` (in those axes). `from` is the plane's
// zero, relative to the eye.
constexpr const char* kLatticeVertex = R"glsl(#version 330 core
uniform mat4 clip; uniform vec3 from; uniform vec3 along; uniform vec3 across; uniform vec2 focus; uniform float spacing; uniform int side; uniform vec4 colour; uniform float fadeAt;
out vec4 vColour;
void main() {
    ivec2 cell = ivec2(gl_VertexID % side, gl_VertexID / side) - side / 2;
    vec2 place = (floor(focus / spacing) + vec2(cell)) * spacing;
    gl_Position = clip * vec4(from + along * place.x + across * place.y, 1.0);
    bool major = all(lessThan(mod(abs(place) + spacing * 0.1, spacing * 5.0), vec2(spacing * 0.2)));
    gl_PointSize = major ? 3.0 : 2.0;
    float fade = clamp(1.0 - distance(place, focus) / fadeAt, 0.0, 1.0);
    vColour = vec4(colour.rgb, colour.a * fade * (major ? 1.0 : 0.6));
}
)glsl";

constexpr const char* kSkyVertex = R"glsl(#version 330 core
uniform float pitch; uniform float fieldOfView; uniform vec2 upright;
out float elevation;
void main() {
    vec2 p = vec2(gl_VertexID == 1 ? 3.0 : -1.0, gl_VertexID == 2 ? 3.0 : -1.0);
    elevation = pitch + dot(p, upright) * fieldOfView * 0.5;
    gl_Position = vec4(p, 0.0, 1.0);
}
)glsl";
constexpr const char* kSkyFragment = R"glsl(#version 330 core
in float elevation;
uniform vec3 top; uniform vec3 horizon; uniform vec3 bottom;
out vec4 fragment;
void main() {
    float up = clamp(elevation / 0.7, 0.0, 1.0), down = clamp(-elevation / 0.35, 0.0, 1.0);
    fragment = vec4(mix(mix(horizon, top, up), bottom, down), 1.0);
}
)glsl";

}  // namespace app::shaders
