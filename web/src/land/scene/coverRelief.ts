import type { Picture } from "../../live/picture";
import { faces, LEAST_FACE, patches } from "./breakUp";

/** What one cover's material does to the form of the land. */
export interface CoverRelief {
  /** Heights of its texels, 0 to 255, each level half as fine as the last. */
  levels: Uint8Array[];
  /** How far the highest texel stands above the lowest, metres. */
  displacement_m: number;
  size_m: number;
  turn: [number, number];
  fromTheSide: boolean;
  brokenUp: boolean;
}

/** Where a vertex is: column and row between cell centres, metres, and which
 * way the land faces there. */
export interface SurfacePlace {
  col: number;
  row: number;
  /** East of the land's south-west corner, up, and north of it, metres. */
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
  const rise = Math.max(ny, LEAST_FACE);
  const [fromEast, fromNorth, fromAbove] = faces(-nx / rise, nz / rise);
  let lift = 0;
  for (const k of seen) {
    const cover = covers[k];
    const weight = weights[k] ?? 0;
    weights[k] = 0;
    if (!cover || cover.displacement_m === 0) continue;
    let height: number;
    if (cover.fromTheSide) {
      height = 0;
      if (fromEast > 0) height += fromEast * flatly(cover, z, y, spacing_m);
      if (fromNorth > 0) height += fromNorth * flatly(cover, x, y, spacing_m);
      if (fromAbove > 0) height += fromAbove * flatly(cover, x, z, spacing_m);
      height /= fromEast + fromNorth + fromAbove;
    } else {
      height = flatly(cover, x, z, spacing_m);
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

/** Height of a cover's texture, 0 to 1, laid flat. */
function flatly(cover: CoverRelief, x: number, y: number, spacing_m: number): number {
  const { size_m, turn, levels } = cover;
  const side = Math.round(Math.sqrt(levels[0]?.length ?? 1));
  const lod = Math.ceil(Math.log2(Math.max(1, (spacing_m * side) / size_m)));
  const level = levels[Math.min(lod, levels.length - 1)];
  if (!level || level.length === 1) return (level?.[0] ?? 127.5) / 255;
  const u = (turn[0] * x - turn[1] * y) / size_m;
  const v = (turn[1] * x + turn[0] * y) / size_m;
  if (!cover.brokenUp) return texel(level, u, v);
  const mean = meanHeight(levels);
  let [apart, squares] = [0, 0];
  for (const [weight, shiftU, shiftV] of patches(u, v)) {
    apart += weight * (texel(level, u + shiftU, v + shiftV) - mean);
    squares += weight * weight;
  }
  return mean + apart / Math.sqrt(squares);
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

/** The mean height of a texture, 0 to 1: what its coarsest level has. */
export function meanHeight(levels: Uint8Array[]): number {
  return (levels.at(-1)?.[0] ?? 127.5) / 255;
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
