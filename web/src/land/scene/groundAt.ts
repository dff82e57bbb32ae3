import type { Picture } from "../../live/picture";

type Four = [number, number, number, number];

/** Weights of Catmull and Rom (1974) for a place between the middle two cells. */
function weights(t: number): Four {
  return [
    0.5 * t * (-1 + t * (2 - t)),
    0.5 * (2 + t * t * (-5 + 3 * t)),
    0.5 * t * (1 + t * (4 - 3 * t)),
    0.5 * t * t * (-1 + t),
  ];
}

/** How the weights change from cell to cell. */
function slopes(t: number): Four {
  return [
    0.5 * (-1 + t * (4 - 3 * t)),
    0.5 * t * (-10 + 9 * t),
    0.5 * (1 + t * (8 - 9 * t)),
    0.5 * t * (-2 + 3 * t),
  ];
}

const clamp = (v: number, high: number) => Math.min(high, Math.max(0, v));

/**
 * Height of the drawn surface in metres, the sea included, and its rise for a
 * cell to the east and to the south; by column and row, between cell centres.
 */
export function surfaceAt(picture: Picture, col: number, row: number): [number, number, number] {
  const { cols, rows, sea_level_m } = picture.header;
  const { heights } = picture;
  const [c, r] = [clamp(col, cols - 1), clamp(row, rows - 1)];
  const [c0, r0] = [Math.floor(c), Math.floor(r)];
  const [across, down] = [weights(c - c0), weights(r - r0)];
  const [east, south] = [slopes(c - c0), slopes(r - r0)];
  let [height, toEast, toSouth] = [0, 0, 0];
  for (let j = 0; j < 4; j++) {
    const start = clamp(r0 + j - 1, rows - 1) * cols;
    let [line, rise] = [0, 0];
    for (let i = 0; i < 4; i++) {
      const cell = Math.max(heights[start + clamp(c0 + i - 1, cols - 1)] ?? 0, sea_level_m);
      line += (across[i] ?? 0) * cell;
      rise += (east[i] ?? 0) * cell;
    }
    height += (down[j] ?? 0) * line;
    toEast += (down[j] ?? 0) * rise;
    toSouth += (south[j] ?? 0) * line;
  }
  return [Math.max(height, sea_level_m), toEast, toSouth];
}

/** Height of the drawn surface at a place in metres, the sea included. */
export function groundAt(picture: Picture, x: number, y: number): number {
  const { cell_m, north_m } = picture.header;
  return surfaceAt(picture, x / cell_m - 0.5, (north_m - y) / cell_m - 0.5)[0];
}
