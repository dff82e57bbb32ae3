import { LEAST_FACE } from "../breakUp";
import { BREAK_UP } from "./breakUp";
import { float } from "./glsl";

/** The ground close up: the materials of its covers, blended by their heights. */
export const CLOSE_UP = /* glsl */ `
/** Light of the sky against that of the sun. */
const float SKY = 0.24;

${BREAK_UP}
/** How many times finer the texture is that goes on within a texture. */
const float FINER = 9.3;

/** Beyond this, metres, no one sees which way a stone faces. */
const float FACING_M = 450.0;

/**
 * Grain and surface of one cover, flat on two axes of the land; a pixel is
 * some metres across there.
 */
void flatly(int k, vec2 place, float across, bool faced, out vec4 seen, out vec4 shape) {
  vec2 turn = lay[k].yz;
  vec2 uv = mat2(turn.x, turn.y, -turn.y, turn.x) * place / lay[k].x;
  float lod = log2(max(across / lay[k].x * side, 1.0));
  shape = vec4(0.5, 0.5, 0.8, 1.0);
#if QUALITY < 2
  seen = textureLod(grain, vec3(uv, k), lod);
  shape = textureLod(surfaces, vec3(uv, k), lod);
#else
  vec3 strongest = vec3(uv, k);
  float most = 1.0;
  if (habit[k].x > 0.5) {
    vec3 w;
    vec2 a, b, c;
    patches(uv, w, a, b, c);
    vec3 ua = vec3(uv + a, k), ub = vec3(uv + b, k), uc = vec3(uv + c, k);
    vec4 g = w.x * textureLod(grain, ua, lod) + w.y * textureLod(grain, ub, lod) + w.z * textureLod(grain, uc, lod);
    // Of colours the mean is 127.5, of heights it is the cover's own.
    vec4 mean = vec4(vec3(0.5), habit[k].z);
    seen = mean + (g - mean) * inversesqrt(dot(w, w));
    // Of directions that of the strongest patch will do, fading to its edge.
    most = max(w.x, max(w.y, w.z));
    strongest = most == w.x ? ua : most == w.y ? ub : uc;
  } else {
    seen = textureLod(grain, strongest, lod);
  }
  if (!faced) return;
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
  // East of the land's south-west corner, up, and north of it, metres: as in files.
  vec3 m = vec3(vPlace.x + 0.5, vPlace.y, 0.5 * cells.y / cells.x - vPlace.z) * metres;
  float away = far * metres;
  bool faced = away < FACING_M;
  float fade = 1.0 - smoothstep(0.6 * FACING_M, FACING_M, away);
  // A pixel is wider along the ground than across the way one looks.
  float across = away * pixel / sqrt(max(0.06, abs(dot(n, normalize(vPlace - cameraPosition)))));
  vec3 w = lay[k].w > 0.5 ? faces(vec2(-n.x, n.z) / max(n.y, ${float(LEAST_FACE)})) : vec3(0.0, 0.0, 1.0);
#if QUALITY < 2
  // The side that shows most.
  w = w.z >= max(w.x, w.y) ? vec3(0.0, 0.0, 1.0) : w.x > w.y ? vec3(1.0, 0.0, 0.0) : vec3(0.0, 1.0, 0.0);
#endif
  w /= w.x + w.y + w.z;
  seen = vec4(0.0);
  vec3 turned = vec3(0.0);
  open = 0.0;
  for (int face = 0; face < 3; face++) {
    if (w[face] <= 0.0) continue;
    // Along the face, in metres: towards north and up, east and up, east and north.
    vec2 place = face == 0 ? m.zy : face == 1 ? m.xy : m.xz;
    vec4 here, shape;
    flatly(k, place, across, faced, here, shape);
    vec2 tilt = (shape.xy * 2.0 - 1.0) * fade;
    seen += w[face] * here;
    turned += w[face] * (face == 0 ? vec3(0.0, tilt.y, -tilt.x) : face == 1 ? vec3(tilt, 0.0) : vec3(tilt.x, 0.0, -tilt.y));
    open += w[face] * mix(1.0, shape.w, fade);
  }
  facing = normalize(n + turned);
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
  // Of all that lie around, those that there is most of at this very place: were they those
  // of the nearest cell, cells would show as squares.
  uvec4 around[4] = uvec4[4](nw, ne, sw, se);
  uint a = nw.x, b = nw.x;
  float first = -1.0, second = -1.0;
  for (int i = 0; i < 8; i++) {
    uint k = i < 4 ? around[i].x : around[i - 4].y;
    if ((k == a && first >= 0.0) || (k == b && second >= 0.0)) continue;
    float share = dot(part, vec4(has(nw, k), has(ne, k), has(sw, k), has(se, k)));
    if (share > first) {
      b = a;
      second = first;
      a = k;
      first = share;
    } else if (share > second) {
      b = k;
      second = share;
    }
  }
  second = max(second, 0.0);
  float both = max(first + second, 1e-3);
  first /= both;
  second /= both;
  vec4 seenA, seenB;
  vec3 facingB;
  float openB;
  closeUp(int(a), n, far, seenA, facing, open);
  // Where there is one alone, that is all.
  bool alone = second < 0.004;
  if (alone) {
    seenB = seenA;
    facingB = facing;
    openB = open;
  } else {
    closeUp(int(b), n, far, seenB, facingB, openB);
  }
  // The upper one in the order of the covers lies on the other.
  float share = alone ? 1.0
    : a > b ? heightBlend(first, seenA.a, seenB.a, habit[a].y)
    : 1.0 - heightBlend(second, seenB.a, seenA.a, habit[b].y);
  vec3 blurred = first * colours[a] + second * colours[b];
  vec3 sharp = mix(4.0 * colours[b] * seenB.rgb * seenB.rgb, 4.0 * colours[a] * seenA.rgb * seenA.rgb, share);
  colour = sharp / max(blurred, vec3(1e-3));
  facing = normalize(mix(facingB, facing, share));
  open = mix(openB, open, share);
}
`;
