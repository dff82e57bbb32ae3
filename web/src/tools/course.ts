import type { Handler, Press, ToolNamed } from "./tool";
import { takeUp, underWay } from "./tool";

/** A point is taken up from so far, as a share of the land that the course goes over. */
const NEAR = 0.03;

type Course = ToolNamed<"course">;

/** The point that is held, of the course as it is meanwhile. */
let held: { corner: number; points: Course["points"] } | null = null;

function spanOf(points: Course["points"]): number {
  const [xs, ys] = [points.map(({ x }) => x), points.map(({ y }) => y)];
  return Math.max(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys));
}

function nearest({ points }: Course, { place }: Press): number | null {
  const away = points.map(({ x, y }) => Math.hypot(x - place.x, y - place.y));
  const least = Math.min(...away);
  return least <= NEAR * spanOf(points) ? away.indexOf(least) : null;
}

/** On the relief points are dragged, and a click beside them goes on to there. On the plan they
 * have handles of their own. */
export const course: Handler<Course> = {
  hint: "Drag a point; on the plan click on an edge for a new one, on the relief beside the course",
  takesDrags: true,
  begin: (tool, press) => {
    const corner = nearest(tool, press);
    held = corner === null ? null : { corner, points: tool.points };
    if (corner === null) return;
    tool.chosen?.(corner);
    underWay(() => {
      held = null;
      takeUp(tool);
    });
  },
  drag: (tool, { place }) => {
    if (!held) return;
    const { corner } = held;
    const points = held.points.map((at, k) => (k === corner ? { ...at, ...place } : at));
    held = { corner, points };
    takeUp({ ...tool, points });
  },
  end: (tool) => {
    if (held && held.points !== tool.points) takeUp({ ...tool, points: held.points });
    const moved = held;
    held = null;
    underWay(null);
    if (moved) tool.change(moved.points);
  },
  click: (tool, place) => {
    if (tool.closed) return;
    const press = { place, pressure: 1, straight: false };
    if (nearest(tool, press) !== null) return;
    const last = tool.points.at(-1);
    const points = [...tool.points, { ...last, ...place }];
    takeUp({ ...tool, points });
    tool.change(points);
  },
};
