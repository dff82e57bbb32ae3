import { useEffect, useMemo, useState } from "react";
import type { Picture } from "../live/picture";
import { useView } from "../studio/view";
import { contoursOf, drawContours } from "./contours";
import { hatchMask, markSize, paintLand } from "./paint";
import { drawFlowLines, useFlowLines } from "./useFlowLines";

const HATCH_MS = 160;
/** Pixels to a cell where fine lines are drawn. */
const FINE = 2;

/**
 * A canvas with a picture's colours, and a count that rises whenever it was
 * drawn anew. While a mask is watched its hatch moves, unless the artist has
 * asked for less motion.
 */
export function useLandCanvas(picture: Picture | null) {
  const canvas = useMemo(() => document.createElement("canvas"), []);
  const [drawn, setDrawn] = useState(0);
  const wanted = useView((view) => view.contours);
  const lines = useMemo(
    () => (wanted && picture?.header.complete ? contoursOf(picture) : null),
    [wanted, picture],
  );
  const flow = useFlowLines(picture);
  // The finest pictures have pixels enough.
  const scale = (lines || flow) && picture && markSize(picture) <= FINE ? FINE : 1;
  useEffect(() => {
    if (!picture) return;
    let phase = 0;
    const draw = () => {
      paintLand(canvas, picture, scale);
      if (flow) drawFlowLines(canvas, flow, picture, scale);
      hatchMask(canvas, picture, phase++, scale);
      if (lines) drawContours(canvas, lines, scale, markSize(picture));
      setDrawn((count) => count + 1);
    };
    draw();
    const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
    if (!picture.mask || still) return;
    const timer = setInterval(draw, HATCH_MS);
    return () => clearInterval(timer);
  }, [canvas, picture, lines, flow, scale]);
  return { canvas, drawn };
}
