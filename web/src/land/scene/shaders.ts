/** Most covers whose materials are shown close up. */
export const MOST_COVERS = 16;

/** Light through the air: what the sky looks like, and what haze throws back. */
const AIR = /* glsl */ `
uniform vec3 sunward;
uniform float haze;

vec3 skyColour(vec3 way) {
  float up = max(way.y, 0.0);
  float sun = max(dot(way, sunward), 0.0);
  float low = 1.0 - sunward.y;
  vec3 zenith = vec3(0.10, 0.22, 0.44);
  vec3 horizon = mix(vec3(0.52, 0.62, 0.72), vec3(0.72, 0.62, 0.52), low * low * 0.6 * (0.3 + 0.7 * sun));
  vec3 sky = mix(horizon, zenith, sqrt(up));
  // Around the sun.
  float wide = sun * sun * sun * sun;
  return sky + vec3(1.0, 0.86, 0.66) * (0.22 * wide * wide + 0.5 * exp2(-320.0 * (1.0 - sun)));
}

/** What is left of light after its way through the air. */
vec3 leftOver(float far, float eye, float there) {
  // Thinner the higher one looks: the mean of e^(−7 y) over the way.
  float low = exp(-7.0 * max(there, 0.0)), high = exp(-7.0 * max(eye, 0.0));
  float climb = 7.0 * (eye - there);
  float thin = abs(climb) > 1e-3 ? (low - high) / climb : low;
  return exp(-haze * far * thin * vec3(0.85, 1.0, 1.25));
}
`;

/** From light to the screen: what the service does to colours, and back. */
const TONES = /* glsl */ `
const float KNEE = 0.5;

vec3 shoulder(vec3 light) {
  vec3 over = max(light - KNEE, 0.0);
  return min(light, vec3(KNEE)) + (1.0 - KNEE) * (1.0 - exp(-over / (1.0 - KNEE)));
}

vec3 unshouldered(vec3 shown) {
  vec3 over = clamp((shown - KNEE) / (1.0 - KNEE), 0.0, 0.985);
  return min(shown, vec3(KNEE)) - (1.0 - KNEE) * log(1.0 - over);
}

vec3 linear(vec3 shown) {
  vec3 low = shown / 12.92;
  vec3 high = pow((shown + 0.055) / 1.055, vec3(2.4));
  return mix(high, low, vec3(lessThanEqual(shown, vec3(0.04045))));
}

vec3 srgb(vec3 light) {
  vec3 low = light * 12.92;
  vec3 high = 1.055 * pow(max(light, 0.0), vec3(1.0 / 2.4)) - 0.055;
  return mix(high, low, vec3(lessThan(light, vec3(0.0031308))));
}
`;

export const skyVertex = /* glsl */ `
uniform mat4 unproject;
out vec3 vShown;
${AIR}
${TONES}
void main() {
  vec4 far = unproject * vec4(position.xy, 1.0, 1.0);
  vec3 way = normalize(far.xyz / far.w - cameraPosition);
  vShown = srgb(shoulder(skyColour(way)));
  gl_Position = vec4(position.xy, 0.999999, 1.0);
}
`;

export const skyFragment = /* glsl */ `
precision highp float;
in vec3 vShown;
out vec4 shown;
void main() {
  shown = vec4(vShown, 1.0);
}
`;

export const landVertex = /* glsl */ `
in vec3 coarse;
in vec3 shape;
in vec2 morph;
uniform vec2 cells;
uniform float above;
out vec2 vCell;
out vec3 vPlace;
out vec3 vNormal;
out float vWall;
out vec3 vLost;
out vec3 vBack;
${AIR}

void main() {
  // As the level of detail counts it: see quadtree.ts.
  float far = length(vec3(position.x - cameraPosition.x, above, position.z - cameraPosition.z));
  float part = clamp((far - morph.x) / (morph.y - morph.x), 0.0, 1.0);
  vPlace = mix(position, coarse, part);
  vNormal = vec3(shape.x, sqrt(max(0.0, 1.0 - dot(shape.xy, shape.xy))), shape.y);
  vWall = shape.z;
  // Place on the land, in widths of it, as column and row between cell centres.
  vCell = vec2(vPlace.x + 0.5, vPlace.z + 0.5 * cells.y / cells.x) * cells.x - 0.5;
  vec3 way = vPlace - cameraPosition;
  vLost = leftOver(length(way), cameraPosition.y, vPlace.y);
  vBack = skyColour(normalize(vec3(way.x, max(way.y, 0.02 * length(way)), way.z)));
  gl_Position = projectionMatrix * viewMatrix * vec4(vPlace, 1.0);
}
`;

export const landFragment = /* glsl */ `
precision highp float;
precision highp sampler2DArray;
in vec2 vCell;
in vec3 vPlace;
in vec3 vNormal;
in float vWall;
in vec3 vLost;
in vec3 vBack;
out vec4 shown;
uniform vec3 stone;
uniform sampler2D map;
uniform highp usampler2D ground;
uniform sampler2D sunlit;
uniform sampler2DArray grain;
uniform sampler2DArray surfaces;
uniform int covers;
uniform vec4 lay[${MOST_COVERS}];
uniform vec3 colours[${MOST_COVERS}];
uniform float metres;
uniform float pixel;
uniform float side;
uniform vec2 reach;
uniform highp sampler2D heights;
uniform vec2 cells;
uniform float sea;
uniform float rise;
${AIR}
${TONES}

#if QUALITY > 0
/** Light of the sky against that of the sun. */
const float SKY = 0.24;

/** Which way a patch of texture is moved; coverRelief.ts has the same. */
vec2 shuffled(ivec2 at) {
  uint h = (uint(at.x) * 0x9e3779b1u) ^ (uint(at.y) * 0x85ebca77u);
  h = (h ^ (h >> 15)) * 0x2c1b3c6du;
  h = (h ^ (h >> 12)) * 0x297a2d39u;
  h ^= h >> 15;
  return vec2(h & 0xffffu, h >> 16) / 65536.0;
}

/** How many times finer the texture is that goes on within a texture. */
const float FINER = 9.3;

/** Beyond this, metres, no one sees which way a stone faces. */
const float FACING_M = 450.0;

/**
 * Grain and surface of one cover, flat on two axes of the land; a pixel is
 * some metres across there.
 */
void flatly(int k, vec2 place, float across, bool faces, out vec4 seen, out vec4 shape) {
  vec2 turn = lay[k].yz;
  vec2 uv = mat2(turn.x, turn.y, -turn.y, turn.x) * place / lay[k].x;
  float lod = log2(max(across / lay[k].x * side, 1.0));
  shape = vec4(0.5, 0.5, 0.8, 1.0);
#if QUALITY < 2
  seen = textureLod(grain, vec3(uv, k), lod);
  shape = textureLod(surfaces, vec3(uv, k), lod);
#else
  // Patches from elsewhere in the texture over a grid of triangles, so that
  // repeats do not show (Heitz and Neyret 2018).
  vec2 skewed = mat2(1.0, 0.0, -0.57735027, 1.15470054) * (uv * 1.7);
  ivec2 base = ivec2(floor(skewed));
  vec2 f = fract(skewed);
  float third = 1.0 - f.x - f.y;
  bool lower = third > 0.0;
  ivec2 a = base + (lower ? ivec2(0) : ivec2(1));
  ivec2 b = base + ivec2(0, 1), c = base + ivec2(1, 0);
  vec3 w = lower ? vec3(third, f.y, f.x) : vec3(-third, 1.0 - f.x, 1.0 - f.y);
  vec3 ua = vec3(uv + shuffled(a), k), ub = vec3(uv + shuffled(b), k), uc = vec3(uv + shuffled(c), k);
  vec4 g = w.x * textureLod(grain, ua, lod) + w.y * textureLod(grain, ub, lod) + w.z * textureLod(grain, uc, lod);
  seen = 0.5 + (g - 0.5) * inversesqrt(dot(w, w));
  if (!faces) return;
  // Of directions that of the strongest patch will do, fading to its edge.
  float most = max(w.x, max(w.y, w.z));
  vec3 strongest = most == w.x ? ua : most == w.y ? ub : uc;
  shape = textureLod(surfaces, strongest, lod);
  shape.xy = 0.5 + (shape.xy - 0.5) * smoothstep(0.34, 0.6, most);
  // Nearer than its texels the texture goes on in itself, so that it never ends.
  float nearer = log2(lay[k].x / (across * side));
  if (nearer > 0.0) {
    vec3 within = vec3(uv * FINER + 0.37, k);
    float inner = log2(max(across * FINER / lay[k].x * side, 1.0));
    float part = 0.6 * smoothstep(0.0, 2.0, nearer);
    seen.rgb += part * (textureLod(grain, within, inner).rgb - 0.5);
    shape.xy += part * (textureLod(surfaces, within, inner).xy - 0.5);
  }
#endif
}

/** One cover here: how its colour differs, its height, and which way it faces. */
void closeUp(int k, vec3 n, float far, out vec4 seen, out vec3 facing, out float open) {
  vec3 m = vPlace * metres;
  float away = far * metres;
  bool faces = away < FACING_M;
  float fade = 1.0 - smoothstep(0.6 * FACING_M, FACING_M, away);
  // A pixel is wider along the ground than across the way one looks.
  float across = away * pixel / sqrt(max(0.06, abs(dot(n, normalize(vPlace - cameraPosition)))));
  vec4 shape;
  float steep = lay[k].w * smoothstep(0.80, 0.62, n.y);
  bool east = abs(n.x) > abs(n.z);
  vec2 above = vec2(m.x, -m.z), beside = east ? m.zy : m.xy;
  vec3 along = east ? vec3(0.0, 0.0, 1.0) : vec3(1.0, 0.0, 0.0);
#if QUALITY < 2
  // From above or, on steep faces, from the side.
  bool fromSide = steep > 0.5;
  flatly(k, fromSide ? beside : above, across, faces, seen, shape);
  vec2 tilt = (shape.xy * 2.0 - 1.0) * fade;
  facing = normalize(n + (fromSide ? along * tilt.x + vec3(0.0, tilt.y, 0.0) : vec3(tilt.x, 0.0, -tilt.y)));
  open = mix(1.0, shape.w, fade);
#else
  seen = vec4(0.5);
  facing = n;
  open = 1.0;
  if (steep < 1.0) {
    flatly(k, above, across, faces, seen, shape);
    vec2 tilt = (shape.xy * 2.0 - 1.0) * fade;
    facing = normalize(n + vec3(tilt.x, 0.0, -tilt.y));
    open = mix(1.0, shape.w, fade);
  }
  // Steep faces from the side: the one that they face, or both between them.
  if (steep > 0.0) {
    vec2 faced = n.xz * n.xz;
    faced *= faced;
    float part = faced.x / max(faced.x + faced.y, 1e-6);
    float tiltEast = smoothstep(0.1, 0.9, part);
    vec4 seenSide = vec4(0.0);
    vec3 turned = vec3(0.0);
    float openSide = 0.0;
    for (int k2 = 0; k2 < 2; k2++) {
      float w = k2 == 0 ? tiltEast : 1.0 - tiltEast;
      if (w <= 0.0) continue;
      vec4 seen2;
      flatly(k, k2 == 0 ? m.zy : m.xy, across, faces, seen2, shape);
      vec2 tilt = (shape.xy * 2.0 - 1.0) * fade;
      seenSide += w * seen2;
      turned += w * (vec3(k2 == 0 ? 0.0 : tilt.x, tilt.y, k2 == 0 ? tilt.x : 0.0));
      openSide += w * mix(1.0, shape.w, fade);
    }
    seen = mix(seen, seenSide, steep);
    facing = normalize(mix(facing, normalize(n + turned), steep));
    open = mix(open, openSide, steep);
  }
#endif
}

/** What one cover has of a cell. */
float has(uvec4 made, uint k) {
  float second = float(made.z) / 255.0;
  return (made.x == k ? 1.0 - second : 0.0) + (made.y == k ? second : 0.0);
}

uvec4 madeOf(ivec2 cell) {
  return texelFetch(ground, clamp(cell, ivec2(0), ivec2(cells) - 1), 0);
}

/**
 * The ground close up, of the two covers that there is most of: its colour
 * against the mean, where it faces, how open it is.
 */
void groundHere(vec3 n, float far, out vec3 colour, out vec3 facing, out float open) {
  ivec2 base = ivec2(floor(vCell));
  vec2 t = vCell - vec2(base);
  uvec4 nw = madeOf(base), ne = madeOf(base + ivec2(1, 0));
  uvec4 sw = madeOf(base + ivec2(0, 1)), se = madeOf(base + ivec2(1, 1));
  vec4 part = vec4((1.0 - t.x) * (1.0 - t.y), t.x * (1.0 - t.y), (1.0 - t.x) * t.y, t.x * t.y);
  uvec4 here = t.x < 0.5 ? (t.y < 0.5 ? nw : sw) : (t.y < 0.5 ? ne : se);
  uint a = here.x;
  uint b = here.z > 12u ? here.y : nw.x != a ? nw.x : ne.x != a ? ne.x : sw.x != a ? sw.x : se.x;
  float first = dot(part, vec4(has(nw, a), has(ne, a), has(sw, a), has(se, a)));
  float second = a == b ? 0.0 : dot(part, vec4(has(nw, b), has(ne, b), has(sw, b), has(se, b)));
  float both = max(first + second, 1e-3);
  first /= both;
  second /= both;
  vec4 seenA, seenB;
  vec3 facingB;
  float openB;
  closeUp(int(a), n, far, seenA, facing, open);
  closeUp(int(b), n, far, seenB, facingB, openB);
  // The higher one pokes through.
  float lead = 7.0 * (first - second) + 6.0 * (seenA.a - seenB.a);
  float share = second <= 0.0 ? 1.0 : 1.0 / (1.0 + exp2(-lead));
  vec3 blurred = first * colours[a] + second * colours[b];
  vec3 sharp = mix(4.0 * colours[b] * seenB.rgb * seenB.rgb, 4.0 * colours[a] * seenA.rgb * seenA.rgb, share);
  colour = sharp / max(blurred, vec3(1e-3));
  facing = normalize(mix(facingB, facing, share));
  open = mix(openB, open, share);
}

/** Height of small waves, by noise that is smooth and cheap. */
float ripple(vec2 p) {
  return sin(p.x * 0.9 + 1.7 * sin(p.y * 0.31)) + sin(p.y * 1.1 + 1.3 * sin(p.x * 0.47 + 2.0))
    + 0.5 * sin(dot(p, vec2(1.9, 1.3)) + 2.0 * sin(p.x * 0.7));
}

#endif

/** The cut rock of the sides, in beds of uneven thickness. */
vec3 cutRock() {
  float h = vPlace.y * metres / 46.0;
  float bed = floor(h + 0.35 * sin(h * 0.9) + 0.25 * sin(h * 2.3 + 1.0));
  return stone * (0.86 + 0.28 * fract(sin(bed * 12.9898) * 43758.5453));
}

void main() {
  vec2 uv = (vCell + 0.5) / cells;
  vec3 painted = texture(map, vec2(uv.x, 1.0 - uv.y)).rgb;
  ivec2 cell = ivec2(floor(vCell + 0.5));
  float depth = sea - texelFetch(heights, clamp(cell, ivec2(0), ivec2(cells) - 1), 0).r;
  bool water = depth > 0.0 && vPlace.y <= sea * rise + 1e-6;
#if QUALITY == 0
  // In a hurry: haze is mixed as it is shown, not as light.
  vec3 bare = vWall > 0.0 ? sqrt(cutRock()) : painted;
  float thick = haze > 0.0 ? 1.0 - vLost.g : 0.0;
  // Water mirrors the more of the sky the flatter one looks.
  vec3 down = normalize(vPlace - cameraPosition);
  float flatness = 1.0 + min(down.y, 0.0);
  if (water) bare = mix(bare, vec3(0.66, 0.73, 0.8), 0.8 * flatness * flatness * flatness);
  shown = vec4(mix(bare, sqrt(vBack), thick), 1.0);
#else
  vec3 light = unshouldered(linear(painted));
  vec3 way = vPlace - cameraPosition;
  float far = length(way);
  way /= far;
  vec3 n = normalize(vNormal);
  if (vWall > 0.0) {
    light = cutRock();
  } else if (water) {
    // Water: what is below, and the sky on it.
    vec2 p = vPlace.xz * metres;
    float near = exp(-far * metres / 500.0);
    vec3 up = vec3(0.0, 1.0, 0.0);
    if (near > 0.02) {
      float e = 0.35;
      float here = ripple(p);
      vec2 slope = vec2(ripple(p + vec2(e, 0.0)) - here, ripple(p + vec2(0.0, e)) - here) / e;
      up = normalize(vec3(-slope.x * 0.035 * near, 1.0, -slope.y * 0.035 * near));
    }
    vec3 off = reflect(way, up);
    off.y = abs(off.y);
    // Schlick (1994) for water: 2 % straight down.
    float bare = 1.0 - clamp(dot(-way, up), 0.0, 1.0);
    float mirrored = 0.02 + 0.98 * bare * bare * bare * bare * bare;
    light = mix(light, skyColour(normalize(off)), 0.85 * mirrored);
  } else if (covers > 0 && far < reach.y) {
    vec3 colour, facing;
    float open;
    groundHere(n, far, colour, facing, open);
    float lit = texture(sunlit, uv).r;
    float before = max(dot(n, sunward), 0.05);
    float sun = lit * clamp(dot(facing, sunward) / before, 0.0, 3.0);
    float shading = (SKY * mix(1.0, open, 0.7) + sun) / (SKY + lit);
    vec3 close = colour * shading;
    light *= mix(close, vec3(1.0), smoothstep(reach.x, reach.y, far));
  }
  if (haze > 0.0) light = light * vLost + vBack * (1.0 - vLost);
  shown = vec4(srgb(shoulder(light)), 1.0);
#endif
}
`;
