import { useEffect, useMemo, useState } from "react";
import type { Picture } from "../live/picture";
import { hatchMask, paintLand } from "./paint";

const HATCH_MS = 160;

/**
 * A canvas with a picture's colours, and a count that rises whenever it was
 * drawn anew. While a mask is watched its hatch moves, unless the artist has
 * asked for less motion.
 */
export function useLandCanvas(picture: Picture | null) {
  const canvas = useMemo(() => document.createElement("canvas"), []);
  const [drawn, setDrawn] = useState(0);
  useEffect(() => {
    if (!picture) return;
    let phase = 0;
    const draw = () => {
      paintLand(canvas, picture);
      hatchMask(canvas, picture, phase++);
      setDrawn((count) => count + 1);
    };
    draw();
    const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
    if (!picture.mask || still) return;
    const timer = setInterval(draw, HATCH_MS);
    return () => clearInterval(timer);
  }, [canvas, picture]);
  return { canvas, drawn };
}
