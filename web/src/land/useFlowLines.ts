import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";
import type { FlowLine } from "../api/types";
import type { Picture } from "../live/picture";
import { useSession } from "../live/session";
import { useView } from "../studio/view";
import { markSize } from "./paint";

/** Where water runs over the land that is shown; none unless they are wanted. */
export function useFlowLines(picture: Picture | null): FlowLine[] | null {
  const wanted = useView((view) => view.flowLines);
  const strand = useView((view) => view.strand);
  const landscape = useSession((state) => state.landscape) ?? "";
  const revision = useSession((state) => state.head?.revision);
  const complete = picture?.header.complete ?? false;
  const cells = picture ? Math.max(picture.header.cols, picture.header.rows) : 0;
  const { data } = useQuery({
    queryKey: ["flow lines", landscape, revision, strand, cells],
    enabled: wanted && complete,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answered(
        api.GET("/api/landscapes/{id}/flow-lines", {
          params: { path: { id: landscape }, query: { strand, cells } },
          signal,
        }),
      ),
  });
  return wanted ? (data ?? null) : null;
}

/** Draws flow lines over a painted land, wider where rivers have met. */
export function drawFlowLines(
  canvas: HTMLCanvasElement,
  lines: FlowLine[],
  picture: Picture,
  scale: number,
) {
  const context = canvas.getContext("2d");
  if (!context) return;
  const { cell_m, north_m } = picture.header;
  const unit_m = cell_m * markSize(picture);
  context.save();
  context.scale(scale / cell_m, scale / cell_m);
  context.lineCap = "round";
  context.lineJoin = "round";
  for (const { order, points } of lines) {
    context.beginPath();
    points.forEach(([x = 0, y = 0], i) =>
      i === 0 ? context.moveTo(x, north_m - y) : context.lineTo(x, north_m - y),
    );
    // A light rim keeps the line apart from dark ground.
    const width = unit_m * (0.35 + 0.4 * order);
    context.strokeStyle = "rgba(240, 246, 250, 0.45)";
    context.lineWidth = width + 0.8 * unit_m;
    context.stroke();
    context.strokeStyle = "rgba(12, 28, 48, 0.92)";
    context.lineWidth = width;
    context.stroke();
  }
  context.restore();
}
