import { Box3, Vector3, type Frustum } from "three";
import type { HeightBounds } from "./heightBounds";

/** Squares along each side of a patch. */
export const PATCH = 32;
/** Side of a square of the finest patches, metres: stones underfoot. */
const FINEST_M = 0.25;

/** The land stands in a square that has room around it for its cut sides. */
const ROOM = 1.25;

/** One patch of the land: west and north edge and side, in widths of the land. */
export interface Patch {
  x: number;
  z: number;
  size: number;
}

/** From where to where a patch of a size turns into one twice as coarse. */
export function morphEnds(size: number, split: number): [number, number] {
  const end = 2 * size * split;
  return [0.7 * end, 0.95 * end];
}

/** How far the eye is above the highest point of the land. */
export function above(bounds: HeightBounds, eye: Vector3): number {
  return Math.max(0, eye.y - bounds.highest);
}

/** How far the eye is from a patch, as the level of detail counts it: by plan, and
 * by the height above all land. Steep patches are then no nearer than level ones,
 * so that neighbours are never more than one level apart. */
function awayFrom({ x, z, size }: Patch, eye: Vector3, high: number): number {
  const east = Math.max(x - eye.x, 0, eye.x - x - size);
  const south = Math.max(z - eye.z, 0, eye.z - z - size);
  return Math.hypot(east, high, south);
}

/**
 * The patches that show the land from `eye`, split where the eye is nearer than
 * `split` of their sides: fine ones near by, coarse ones far
 * away, none out of sight. Each patch turns into the coarser ones around it
 * before it meets them, so that there are no cracks and nothing jumps (Strugar
 * 2009, "Continuous Distance-Dependent Level of Detail for Rendering
 * Heightmaps").
 */
export function patchesSeen(
  bounds: HeightBounds,
  eye: Vector3,
  frustum: Frustum,
  split: number,
): Patch[] {
  const seen: Patch[] = [];
  const box = new Box3();
  const climb = above(bounds, eye);
  const finest = (FINEST_M * PATCH) / bounds.width_m;
  const visit = (x: number, z: number, size: number) => {
    // Wholly beyond the land and its cut sides.
    const rim = (2 * size) / PATCH;
    const [across, down] = [0.5 + rim, bounds.depth / 2 + rim];
    if (x >= across || x + size <= -across || z >= down || z + size <= -down) return;
    const [low, high] = bounds.range(x, z, size);
    box.min.set(x, low, z);
    box.max.set(x + size, high, z + size);
    if (!frustum.intersectsBox(box)) return;
    if (size > finest && awayFrom({ x, z, size }, eye, climb) < size * split) {
      const half = size / 2;
      for (const [dx, dz] of [
        [0, 0],
        [half, 0],
        [0, half],
        [half, half],
      ] as const) {
        visit(x + dx, z + dz, half);
      }
      return;
    }
    seen.push({ x, z, size });
  };
  const whole = ROOM * Math.max(1, bounds.depth);
  visit(-whole / 2, -whole / 2, whole);
  return seen;
}
