import { contours } from "d3-contour";

/** One contour line: its height, and its rings in cells of the picture. */
export interface Contour {
  height: number;
  /** Every fifth line is drawn stronger and has a label. */
  major: boolean;
  rings: [number, number][][];
  label: { x: number; y: number; angle: number } | null;
}

const WANTED = 22;
const MAJOR_EVERY = 5;
/** Rings shorter than this have no room for a label, in points. */
const LABELLED_FROM = 60;

/** The land whose lines are wanted. */
export interface ContourWish {
  /** By which the answer is known. */
  number: number;
  heights: Float32Array;
  cols: number;
  rows: number;
  low_m: number;
  high_m: number;
}

/** The contour lines of a land, a round number of metres apart. */
export function contoursOf({ heights, cols, rows, low_m, high_m }: ContourWish): Contour[] {
  const interval = roundInterval((high_m - low_m) / WANTED);
  const first = Math.ceil(low_m / interval);
  const count = Math.max(0, Math.floor(high_m / interval) - first + 1);
  const levels = Array.from({ length: count }, (_, i) => (first + i) * interval);
  const lines = contours().size([cols, rows]).thresholds(levels);
  return lines(Array.from(heights)).map((shape) => {
    const rings = shape.coordinates.flatMap((polygon) => polygon as [number, number][][]);
    const major = Math.round(shape.value / interval) % MAJOR_EVERY === 0;
    return { height: shape.value, major, rings, label: major ? labelOn(rings) : null };
  });
}

/** The next of 1, 2, 5, 10 … metres up. */
function roundInterval(metres: number): number {
  const power = 10 ** Math.floor(Math.log10(Math.max(metres, 0.01)));
  const lead = metres / power;
  return power * (lead <= 1 ? 1 : lead <= 2 ? 2 : lead <= 5 ? 5 : 10);
}

/** A place on the longest ring, and the way the line goes there. */
function labelOn(rings: [number, number][][]) {
  const longest = rings.reduce((a, b) => (b.length > a.length ? b : a), rings[0] ?? []);
  if (longest.length < LABELLED_FROM) return null;
  const at = Math.floor(longest.length / 3);
  const [before, here, after] = [longest[at - 4], longest[at], longest[at + 4]];
  if (!before || !here || !after) return null;
  let angle = (Math.atan2(after[1] - before[1], after[0] - before[0]) * 180) / Math.PI;
  if (angle > 90) angle -= 180;
  if (angle < -90) angle += 180;
  return { x: here[0], y: here[1], angle };
}
