import { contours } from "d3-contour";
import type { Picture } from "../live/picture";

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

/** The contour lines of a picture, a round number of metres apart. */
export function contoursOf(picture: Picture): Contour[] {
  const { cols, rows, low_m, high_m } = picture.header;
  const interval = roundInterval((high_m - low_m) / WANTED);
  const first = Math.ceil(low_m / interval);
  const count = Math.max(0, Math.floor(high_m / interval) - first + 1);
  const levels = Array.from({ length: count }, (_, i) => (first + i) * interval);
  const lines = contours().size([cols, rows]).thresholds(levels);
  return lines(Array.from(picture.heights)).map((shape) => {
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

/** Draws contour lines over a painted land whose pixels are `scale` to a cell, `size`
 * times as wide as over a coarse one. */
export function drawContours(
  canvas: HTMLCanvasElement,
  lines: Contour[],
  scale: number,
  size: number,
) {
  const context = canvas.getContext("2d");
  if (!context) return;
  context.save();
  context.scale(scale, scale);
  for (const line of lines) {
    context.lineWidth = size * (line.major ? 0.9 : 0.45);
    context.strokeStyle = line.major ? "rgba(30, 22, 16, 0.75)" : "rgba(30, 22, 16, 0.5)";
    context.beginPath();
    for (const ring of line.rings) {
      ring.forEach(([x, y], i) => (i === 0 ? context.moveTo(x, y) : context.lineTo(x, y)));
    }
    context.stroke();
  }
  for (const { label, height } of lines) {
    if (!label) continue;
    context.save();
    context.translate(label.x, label.y);
    context.rotate((label.angle * Math.PI) / 180);
    context.font = `600 ${8 * size}px Inter Variable, sans-serif`;
    context.textAlign = "center";
    context.textBaseline = "middle";
    context.lineWidth = 2.5 * size;
    context.strokeStyle = "rgba(255, 252, 245, 0.85)";
    context.strokeText(String(height), 0, 0);
    context.fillStyle = "#1e1610";
    context.fillText(String(height), 0, 0);
    context.restore();
  }
  context.restore();
}
