import {
  ACROSS,
  GENTLE,
  LEAST_SHARE,
  MIX_FIRST,
  MIX_SECOND,
  SIDES,
  SKEW_BACK,
  SKEW_UP,
  TRIANGLES,
  UP,
} from "../../../api/shading";
import { float, uint } from "./glsl";

/**
 * How textures are laid: what `terrain::ground` does in break_up.rs and blend.rs, with
 * the same constants. A browser test compares this, those, and ../breakUp.ts.
 */
export const BREAK_UP = /* glsl */ `
uint mixed(uint bits) {
  bits = (bits ^ (bits >> 16)) * ${uint(MIX_FIRST)};
  bits = (bits ^ (bits >> 15)) * ${uint(MIX_SECOND)};
  return bits ^ (bits >> 16);
}

float hashed(ivec2 at, uint salt) {
  uint bits = mixed((uint(at.x) * ${uint(ACROSS)}) ^ mixed((uint(at.y) * ${uint(UP)}) ^ salt));
  return float(bits >> 8) / 16777216.0;
}

vec2 shift(ivec2 at) {
  return vec2(hashed(at, 1u), hashed(at, 2u));
}

/** The three patches of a texture that show at a place, in repeats of it. */
void patches(vec2 uv, out vec3 weights, out vec2 a, out vec2 b, out vec2 c) {
  vec2 scaled = uv * ${float(TRIANGLES)};
  vec2 skewed = vec2(scaled.x - scaled.y * ${float(SKEW_BACK)}, scaled.y * ${float(SKEW_UP)});
  vec2 low = floor(skewed);
  ivec2 base = ivec2(low);
  vec2 f = skewed - low;
  float third = 1.0 - f.x - f.y;
  bool lower = third > 0.0;
  weights = lower ? vec3(third, f.y, f.x) : vec3(-third, 1.0 - f.y, 1.0 - f.x);
  a = shift(base + (lower ? ivec2(0, 0) : ivec2(1, 1)));
  b = shift(base + (lower ? ivec2(0, 1) : ivec2(1, 0)));
  c = shift(base + (lower ? ivec2(1, 0) : ivec2(0, 1)));
}

/** How much shows from the east or west, the north or south, and from above, of
 * land that rises so much towards east and north. */
vec3 faces(vec2 rise) {
  if (dot(rise, rise) < ${float(GENTLE)}) return vec3(0.0, 0.0, 1.0);
  vec3 w = pow(vec3(abs(rise), 1.0), vec3(${float(SIDES)}));
  return w * step(${float(LEAST_SHARE)} * (w.x + w.y + w.z), w);
}

float smoothed(float t) {
  t = clamp(t, 0.0, 1.0);
  return t * t * (3.0 - 2.0 * t);
}

/** How much of a cover shows on the one below, of which the higher pokes through. */
float heightBlend(float mask, float above, float below, float width) {
  if (width <= 0.0) return mask;
  float lead = (above + mask) - (below + 1.0 - mask);
  float unsure = min(4.0 * mask * (1.0 - mask), 1.0);
  return mask + unsure * (smoothed(0.5 + 0.5 * lead / width) - mask);
}
`;
