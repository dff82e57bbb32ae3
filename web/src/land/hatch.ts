import { useEffect, useState } from "react";
import type { Picture } from "../live/picture";

/**
 * The watched mask is shown as moving diagonal stripes over the land. Stripes and not
 * a tint: they cannot be taken for ground, whatever one's eyes. Only their phase
 * changes; the mask itself is drawn once.
 */
export const STRIPES = {
  /** Their distance and width, in cells of a picture of `OVER` cells. */
  pitch: 10,
  width: 3.5,
  over: 512,
  /** Milliseconds to the next phase. */
  every: 160,
};

/** Shares below this are not shown, of 255. */
const LEAST = 5;

/** The theme's accent colour as sRGB bytes. */
export function accentColour(): [number, number, number] {
  const probe = document.createElement("canvas").getContext("2d", { willReadFrequently: true });
  if (!probe) return [200, 60, 30];
  const style = getComputedStyle(document.documentElement);
  probe.fillStyle = style.getPropertyValue("--color-accent").trim() || "#b23a1c";
  probe.fillRect(0, 0, 1, 1);
  const [red = 0, green = 0, blue = 0] = probe.getImageData(0, 0, 1, 1).data;
  return [red, green, blue];
}

/** Counts phases while a mask is shown, unless the artist has asked for less motion. */
export function usePhase(shown: boolean): number {
  const [phase, setPhase] = useState(0);
  useEffect(() => {
    if (!shown || matchMedia("(prefers-reduced-motion: reduce)").matches) return;
    const timer = setInterval(() => setPhase((phase) => phase + 1), STRIPES.every);
    return () => clearInterval(timer);
  }, [shown]);
  return phase;
}

/** The mask of a picture as an image whose opacity is the share, for the plan. */
export function maskImage({ mask, header: { cols, rows } }: Picture): string | null {
  if (!mask) return null;
  const canvas = document.createElement("canvas");
  canvas.width = cols;
  canvas.height = rows;
  const context = canvas.getContext("2d");
  if (!context) return null;
  const image = context.createImageData(cols, rows);
  mask.forEach((share, cell) => {
    image.data[4 * cell + 3] = share > LEAST ? share : 0;
  });
  context.putImageData(image, 0, 0);
  return canvas.toDataURL();
}
