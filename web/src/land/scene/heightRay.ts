import { Vector3, type Ray } from "three";
import { sizeOf, type Picture } from "../../live/picture";

/** The farthest that a ray is followed, in widths of the land. */
const REACH = 6;

/**
 * Where a ray first meets the land or its sea, in widths of the land; null when
 * it does not.
 */
export function heightRay(picture: Picture, exaggeration: number, ray: Ray): Vector3 | null {
  const { cols, rows, sea_level_m } = picture.header;
  const { width, depth } = sizeOf(picture);
  const scale = exaggeration / width;
  const half = depth / width / 2;
  const heightAt = (x: number, z: number): number | null => {
    const col = (x + 0.5) * cols - 0.5;
    const row = (z + half) * cols - 0.5;
    if (col < -0.5 || row < -0.5 || col > cols - 0.5 || row > rows - 0.5) return null;
    const c = Math.min(cols - 2, Math.max(0, Math.floor(col)));
    const r = Math.min(rows - 2, Math.max(0, Math.floor(row)));
    const [s, t] = [Math.min(1, Math.max(0, col - c)), Math.min(1, Math.max(0, row - r))];
    const at = (dc: number, dr: number) =>
      Math.max(picture.heights[(r + dr) * cols + c + dc] ?? 0, sea_level_m);
    const above = at(0, 0) * (1 - s) + at(1, 0) * s;
    const below = at(0, 1) * (1 - s) + at(1, 1) * s;
    return (above * (1 - t) + below * t) * scale;
  };
  const { origin, direction } = ray;
  const level = Math.hypot(direction.x, direction.z);
  // Half a cell at a time; more when the ray falls steeply.
  const step = 0.5 / cols / Math.max(level, 0.05);
  const over = (t: number) => {
    const height = heightAt(origin.x + t * direction.x, origin.z + t * direction.z);
    return height === null ? null : origin.y + t * direction.y - height;
  };
  let before: number | null = null;
  for (let t = 0; t < REACH; t += step) {
    const here = over(t);
    if (here !== null && here <= 0) {
      if (before === null) return null;
      let [near, far] = [t - step, t];
      for (let k = 0; k < 12; k++) {
        const middle = (near + far) / 2;
        if ((over(middle) ?? 1) > 0) near = middle;
        else far = middle;
      }
      return new Vector3().copy(direction).multiplyScalar(far).add(origin);
    }
    // Under the land's edge one looks at its cut side.
    before = here;
  }
  return null;
}
