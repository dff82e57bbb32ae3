import { MathUtils } from "three";
import type { Picture } from "../../live/picture";

/** What one cover's material does to the form of the land. */
export interface CoverRelief {
  /** Heights of its texels, 0 to 255, each level half as fine as the last. */
  levels: Uint8Array[];
  /** How far the highest texel stands above the lowest, metres. */
  displacement_m: number;
  size_m: number;
  turn: [number, number];
  fromTheSide: boolean;
}

/** Where a vertex is: column and row between cell centres, metres, and which
 * way the land faces there. */
export interface SurfacePlace {
  col: number;
  row: number;
  /** East, up and south, metres. */
  at: [number, number, number];
  normal: [number, number, number];
}

/** Steeper than this a step along the surface's normal is not fully made good
 * by one straight up. */
const LEAST_UP = 0.35;
/** The farthest that covers take a place up or down, metres. */
export function mostLift(covers: CoverRelief[]): number {
  return covers.reduce((most, cover) => Math.max(most, cover.displacement_m / 2 / LEAST_UP), 0);
}

/** Covers that a picture can number. */
const MOST = 256;
const weights = new Float32Array(MOST);

/**
 * How far covers lift a place of the land straight up, metres, seen at points
 * `spacing_m` apart. The same as the shaders show: weights between cells,
 * texture from above or from the side, repeats hidden.
 */
export function reliefAt(
  covers: CoverRelief[],
  picture: Picture,
  place: SurfacePlace,
  spacing_m: number,
): number {
  const seen = weigh(picture, place.col, place.row);
  const [nx, ny, nz] = place.normal;
  const [x, y, z] = place.at;
  const steep = 1 - MathUtils.smoothstep(ny, 0.62, 0.8);
  let lift = 0;
  for (const k of seen) {
    const cover = covers[k];
    const weight = weights[k] ?? 0;
    weights[k] = 0;
    if (!cover || cover.displacement_m === 0) continue;
    const side = cover.fromTheSide ? steep : 0;
    let height = 0;
    if (side < 1) height += (1 - side) * flatly(cover, x, -z, spacing_m);
    if (side > 0) {
      const east = MathUtils.smoothstep(nx ** 4 / Math.max(nx ** 4 + nz ** 4, 1e-6), 0.1, 0.9);
      if (east > 0) height += side * east * flatly(cover, z, y, spacing_m);
      if (east < 1) height += side * (1 - east) * flatly(cover, x, y, spacing_m);
    }
    lift += weight * cover.displacement_m * (height - 0.5);
  }
  return lift / Math.max(LEAST_UP, ny);
}

/** Adds to `weights` what covers have at a place; which ones these are. */
function weigh({ header, ground, second, secondShare }: Picture, col: number, row: number) {
  const seen: number[] = [];
  const [c0, r0] = [Math.floor(col), Math.floor(row)];
  const [tx, ty] = [col - c0, row - r0];
  const add = (cover: number, weight: number) => {
    if (weight === 0) return;
    if (weights[cover] === 0) seen.push(cover);
    weights[cover] = (weights[cover] ?? 0) + weight;
  };
  for (let k = 0; k < 4; k++) {
    const [right, down] = [k & 1, k >> 1];
    const c = Math.min(header.cols - 1, Math.max(0, c0 + right));
    const r = Math.min(header.rows - 1, Math.max(0, r0 + down));
    const cell = r * header.cols + c;
    const part = (right ? tx : 1 - tx) * (down ? ty : 1 - ty);
    const share = (secondShare[cell] ?? 0) / 255;
    add(ground[cell] ?? 0, part * (1 - share));
    add(second[cell] ?? 0, part * share);
  }
  return seen;
}

/** Which way a patch of texture is moved; bit for bit what the shader has. */
function shuffled(a: number, b: number): [number, number] {
  let h = (Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca77)) >>> 0;
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d) >>> 0;
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39) >>> 0;
  h = (h ^ (h >>> 15)) >>> 0;
  return [(h & 0xffff) / 65536, (h >>> 16) / 65536];
}

/** Height of a cover's texture, 0 to 1, laid flat, its repeats hidden by patches
 * over a grid of triangles (Heitz and Neyret 2018). */
function flatly(cover: CoverRelief, x: number, y: number, spacing_m: number): number {
  const { size_m, turn, levels } = cover;
  const side = Math.round(Math.sqrt(levels[0]?.length ?? 1));
  const lod = Math.ceil(Math.log2(Math.max(1, (spacing_m * side) / size_m)));
  const level = levels[Math.min(lod, levels.length - 1)];
  if (!level || level.length === 1) return (level?.[0] ?? 127.5) / 255;
  const u = (turn[0] * x - turn[1] * y) / size_m;
  const v = (turn[1] * x + turn[0] * y) / size_m;
  const p = 1.7 * (u - 0.57735027 * v);
  const q = 1.7 * 1.15470054 * v;
  const [bx, by] = [Math.floor(p), Math.floor(q)];
  const [fx, fy] = [p - bx, q - by];
  const third = 1 - fx - fy;
  const lower = third > 0;
  const own = lower ? 0 : 1;
  const [wa, wb, wc] = lower ? [third, fy, fx] : [-third, 1 - fx, 1 - fy];
  const from = (dx: number, dy: number) => {
    const [mu, mv] = shuffled(bx + dx, by + dy);
    return texel(level, u + mu, v + mv);
  };
  const mixed = wa * from(own, own) + wb * from(0, 1) + wc * from(1, 0);
  return 0.5 + (mixed - 0.5) / Math.sqrt(wa * wa + wb * wb + wc * wc);
}

/** A level of a tiling texture between its texels, 0 to 1. */
function texel(level: Uint8Array, u: number, v: number): number {
  const side = Math.round(Math.sqrt(level.length));
  const [c, r] = [u * side - 0.5, v * side - 0.5];
  const [c0, r0] = [Math.floor(c), Math.floor(r)];
  const [tx, ty] = [c - c0, r - r0];
  const mask = side - 1;
  const at = (col: number, row: number) => level[(row & mask) * side + (col & mask)] ?? 0;
  const top = at(c0, r0) * (1 - tx) + at(c0 + 1, r0) * tx;
  const bottom = at(c0, r0 + 1) * (1 - tx) + at(c0 + 1, r0 + 1) * tx;
  return (top * (1 - ty) + bottom * ty) / 255;
}

/** Heights in a picture of four bytes a texel, and all coarser levels of them. */
export function heightLevels(grain: Uint8Array, side: number): Uint8Array[] {
  let level = new Uint8Array(side * side);
  for (let i = 0; i < level.length; i++) level[i] = grain[4 * i + 3] ?? 0;
  const levels = [level];
  for (let size = side / 2; size >= 1; size /= 2) {
    const finer = level;
    level = new Uint8Array(size * size);
    for (let r = 0, i = 0; r < size; r++) {
      for (let c = 0; c < size; c++, i++) {
        const a = 4 * size * r + 2 * c;
        const b = a + 2 * size;
        const sum = (finer[a] ?? 0) + (finer[a + 1] ?? 0) + (finer[b] ?? 0) + (finer[b + 1] ?? 0);
        level[i] = (sum + 2) >> 2;
      }
    }
    levels.push(level);
  }
  return levels;
}
