import type { Stroke } from "../api/types";
import type { Place } from "../studio/view";
import type { Brush, Handler, Press, ToolNamed } from "./tool";

/** Points nearer to one another than this share of the brush tell nothing new. */
const CLOSE = 0.12;
const SHOW_EVERY_MS = 90;

let points: [number, number, number][] = [];
let shown = 0;

const strokeOf = (brush: Brush): Stroke => ({ ...brush, points: [...points] });

/** A place as fine as a hundredth of the brush: what is finer it cannot show, and
 * whole metres would be too coarse for a small land. */
function placed({ place, pressure }: Press, size: number): [number, number, number] {
  const grain = 10 ** Math.floor(Math.log10(size / 100));
  const digits = Math.max(0, -Math.log10(grain));
  const rounded = (metres: number) => Number((Math.round(metres / grain) * grain).toFixed(digits));
  return [rounded(place.x), rounded(place.y), pressure];
}

/** Paints strokes; what is painted so far shows on the land. */
export const brush: Handler<ToolNamed<"brush">> = {
  hint: "Drag on the land: paint",
  takesDrags: true,
  begin: ({ brush }, press) => {
    points = [placed(press, brush.size_m)];
    shown = 0;
  },
  drag: ({ brush, stroke }, press, from: Place) => {
    const [x, y] = points.at(-1) ?? [from.x, from.y];
    if (Math.hypot(press.place.x - x, press.place.y - y) < CLOSE * brush.size_m) return;
    points.push(placed(press, brush.size_m));
    const now = performance.now();
    if (now - shown > SHOW_EVERY_MS) {
      shown = now;
      stroke(strokeOf(brush), false);
    }
  },
  end: ({ brush, stroke }) => {
    if (points.length > 0) stroke(strokeOf(brush), true);
    points = [];
  },
};
