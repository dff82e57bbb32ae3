import { useEffect, useState } from "react";
import type { Picture } from "../live/picture";
import type { Contour, ContourWish } from "./contourLines";
// Within the script: its own file would wait in line behind textures.
import ContourWorker from "./contours.worker?worker&inline";

let worker: Worker | null = null;
let wishes = 0;

/** Has the contour lines of a picture worked out beside the thread that draws. */
function askFor(picture: Picture, take: (lines: Contour[]) => void): () => void {
  worker ??= new ContourWorker();
  const here = worker;
  const number = ++wishes;
  const hear = ({ data }: MessageEvent<{ number: number; lines: Contour[] }>) => {
    if (data.number === number) take(data.lines);
  };
  here.addEventListener("message", hear);
  const { cols, rows, low_m, high_m } = picture.header;
  const wish: ContourWish = { number, heights: picture.heights, cols, rows, low_m, high_m };
  here.postMessage(wish);
  return () => here.removeEventListener("message", hear);
}

/** The contour lines of a picture, as soon as they are known; none unless they are
 * wanted. */
export function useContours(picture: Picture | null, wanted: boolean): Contour[] | null {
  const [known, setKnown] = useState<{ of: Picture; lines: Contour[] } | null>(null);
  const complete = picture?.header.complete ?? false;
  useEffect(() => {
    if (!picture || !wanted || !complete) return;
    return askFor(picture, (lines) => setKnown({ of: picture, lines }));
  }, [picture, wanted, complete]);
  return wanted && known && known.of === picture ? known.lines : null;
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
