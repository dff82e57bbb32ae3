/** The ground close up: the materials of its covers, blended by their heights. */
export const CLOSE_UP = /* glsl */ `
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
  vec2 above = vec2(m.x, -m.z);
#if QUALITY < 2
  // From above or, on steep faces, from the side.
  bool east = abs(n.x) > abs(n.z);
  vec2 beside = east ? m.zy : m.xy;
  vec3 along = east ? vec3(0.0, 0.0, 1.0) : vec3(1.0, 0.0, 0.0);
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
    for (int axis = 0; axis < 2; axis++) {
      bool east = axis == 0;
      float w = east ? tiltEast : 1.0 - tiltEast;
      if (w <= 0.0) continue;
      vec4 seenHere;
      flatly(k, east ? m.zy : m.xy, across, faces, seenHere, shape);
      vec2 tilt = (shape.xy * 2.0 - 1.0) * fade;
      seenSide += w * seenHere;
      turned += w * (east ? vec3(0.0, tilt.yx) : vec3(tilt, 0.0));
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
`;
