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
} from "../../api/shading";

/** Land whose normal points less upwards is textured as if it pointed so; the shaders
 * have it from here. */
export const LEAST_FACE = 0.05;

/** A part of a texture that shows at a place: how much of it, and from how far off in
 * the texture it is taken, in repeats. */
export type Patch = [weight: number, u: number, v: number];

function mixed(bits: number): number {
  bits = Math.imul(bits ^ (bits >>> 16), MIX_FIRST);
  bits = Math.imul(bits ^ (bits >>> 15), MIX_SECOND);
  return (bits ^ (bits >>> 16)) >>> 0;
}

function hashed(a: number, b: number, salt: number): number {
  return (mixed(Math.imul(a, ACROSS) ^ mixed(Math.imul(b, UP) ^ salt)) >>> 8) / 16777216;
}

/** The three patches that show at a place, as the shaders have them. */
export function patches(u: number, v: number): [Patch, Patch, Patch] {
  const [a, b] = [TRIANGLES * u - TRIANGLES * v * SKEW_BACK, TRIANGLES * v * SKEW_UP];
  const [ia, ib] = [Math.floor(a), Math.floor(b)];
  const [fa, fb] = [a - ia, b - ib];
  const third = 1 - fa - fb;
  const at = (da: number, db: number, weight: number): Patch => [
    weight,
    hashed(ia + da, ib + db, 1),
    hashed(ia + da, ib + db, 2),
  ];
  return third > 0
    ? [at(0, 0, third), at(0, 1, fb), at(1, 0, fa)]
    : [at(1, 1, -third), at(1, 0, 1 - fb), at(0, 1, 1 - fa)];
}

/** How much shows from the east or west, the north or south, and from above, of land
 * that rises so much towards east and north. */
export function faces(east: number, north: number): [number, number, number] {
  if (east * east + north * north < GENTLE) return [0, 0, 1];
  const [a, b] = [Math.abs(east) ** SIDES, Math.abs(north) ** SIDES];
  const least = LEAST_SHARE * (a + b + 1);
  return [a > least ? a : 0, b > least ? b : 0, least < 1 ? 1 : 0];
}
