import type { Stroke } from "../api/types";
import { useView, type Place } from "../studio/view";

/** Points nearer to one another than this share of the brush tell nothing new. */
const CLOSE = 0.12;
/** Pressure of a mouse, which has none. */
const MOUSE = 1;
const SHOW_EVERY_MS = 90;

let points: [number, number, number][] = [];
let shown = 0;

function stroke(): Stroke | null {
  const { brush } = useView.getState();
  return brush && points.length > 0 ? { ...brush, points: [...points] } : null;
}

function pressureOf(event: { pointerType: string; pressure: number }) {
  return event.pointerType === "pen" ? event.pressure : MOUSE;
}

/** Whether a brush is in hand, so that drags on the land paint. */
export function painting(): boolean {
  return useView.getState().brush !== null;
}

export function beginStroke(place: Place, event: PointerEvent | React.PointerEvent) {
  points = [[Math.round(place.x), Math.round(place.y), pressureOf(event)]];
  shown = 0;
}

/** Goes on to a place; what is painted so far shows on the land. */
export function extendStroke(place: Place, event: PointerEvent | React.PointerEvent) {
  const { brush, onStroke } = useView.getState();
  const last = points.at(-1);
  if (!brush || !last) return;
  if (Math.hypot(place.x - last[0], place.y - last[1]) < CLOSE * brush.size_m) return;
  points.push([Math.round(place.x), Math.round(place.y), pressureOf(event)]);
  const now = performance.now();
  const part = stroke();
  if (part && now - shown > SHOW_EVERY_MS) {
    shown = now;
    onStroke?.(part, false);
  }
}

/** Keeps the stroke. */
export function endStroke() {
  const whole = stroke();
  points = [];
  if (whole) useView.getState().onStroke?.(whole, true);
}
