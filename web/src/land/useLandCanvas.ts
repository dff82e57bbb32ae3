import { useEffect, useMemo, useState } from "react";
import type { Picture } from "../live/picture";
import { useView } from "../studio/view";
import { drawContours, useContours } from "./contours";
import { markSize, paintLand } from "./paint";
import { drawFlowLines, useFlowLines } from "./useFlowLines";

/** Pixels to a cell where fine lines are drawn. */
const FINE = 2;

/** A canvas with a picture's colours and lines, and a count that rises whenever it was
 * drawn anew. */
export function useLandCanvas(picture: Picture | null) {
  const canvas = useMemo(() => document.createElement("canvas"), []);
  const [drawn, setDrawn] = useState(0);
  const wanted = useView((view) => view.contours);
  const lines = useContours(picture, wanted);
  const flow = useFlowLines(picture);
  // The finest pictures have pixels enough.
  const scale = (lines || flow) && picture && markSize(picture) <= FINE ? FINE : 1;
  useEffect(() => {
    if (!picture) return;
    const draw = () => {
      paintLand(canvas, picture, scale);
      if (flow) drawFlowLines(canvas, flow, picture, scale);
      if (lines) drawContours(canvas, lines, scale, markSize(picture));
      setDrawn((count) => count + 1);
    };
    draw();
  }, [canvas, picture, lines, flow, scale]);
  return { canvas, drawn, lines: lines?.length ?? 0 };
}
