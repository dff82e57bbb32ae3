import { curveCatmullRom, line } from "d3-shape";
import { useState } from "react";
import { arrowSteps, removes } from "../controls/arrowKeys";
import type { Place } from "../studio/view";
import { takeUp, type ToolNamed } from "../tools/tool";

interface Props {
  course: ToolNamed<"course">;
  width: number;
  depth: number;
  north: number;
}

/** The centripetal curve that the land has (Yuksel, Schaefer and Keyser 2011). */
const curve = line<Place>()
  .x(({ x }) => x)
  .y(({ y }) => y)
  .curve(curveCatmullRom.alpha(0.5));

/** A corner is moved by this share of the land with an arrow key. */
const KEY_STEP = 0.002;
/** The corners of a course or an outline on the plan: moved, added, removed. */
export function CourseEditor({ course, width, depth, north }: Props) {
  const { points, closed } = course;
  const [held, setHeld] = useState<number | null>(null);
  const least = closed ? 3 : 2;
  const placeOf = (event: React.MouseEvent): Place => {
    const box = (event.currentTarget as SVGElement).closest("svg")?.getBoundingClientRect();
    if (!box) return { x: 0, y: 0 };
    return {
      x: ((event.clientX - box.left) / box.width) * width,
      y: north - ((event.clientY - box.top) / box.height) * depth,
    };
  };
  const change = (next: Place[], keep: boolean) => {
    takeUp({ ...course, points: next });
    if (keep) course.change(next);
  };
  const moved = (i: number, to: Place) =>
    points.map((corner, k) => (k === i ? { ...corner, ...to } : corner));
  const remove = (i: number) => {
    if (points.length > least) change(points.toSpliced(i, 1), true);
  };
  const add = (after: number, place: Place) =>
    change(points.toSpliced(after + 1, 0, { ...points[after], ...place }), true);
  const onKey = (event: React.KeyboardEvent, i: number, corner: Place) => {
    const arrow = arrowSteps(event);
    const next = points[(i + 1) % points.length] ?? corner;
    const step = KEY_STEP * width;
    if (arrow) {
      change(moved(i, { x: corner.x + step * arrow[0], y: corner.y + step * arrow[1] }), true);
    } else if (removes(event)) remove(i);
    else if (event.key === "Insert" || event.key === "+") {
      add(i, { x: (corner.x + next.x) / 2, y: (corner.y + next.y) / 2 });
    }
  };
  const size = width / 90;
  const edges = closed ? points : points.slice(0, -1);
  return (
    <svg
      className="absolute inset-0 h-full w-full"
      viewBox={`0 0 ${width} ${depth}`}
      preserveAspectRatio="none"
      data-testid="outline-editor"
      onPointerMove={(event) => {
        if (held !== null) change(moved(held, placeOf(event)), false);
      }}
      onPointerUp={() => {
        if (held !== null) course.change(points);
        setHeld(null);
      }}
    >
      {course.smooth && (
        <path
          d={curve(points.map(({ x, y }) => ({ x, y: north - y }))) ?? ""}
          className="stroke-accent pointer-events-none fill-none"
          strokeWidth={3}
          vectorEffect="non-scaling-stroke"
          data-testid="course-curve"
        />
      )}
      {edges.map((corner, i) => {
        const next = points[(i + 1) % points.length] ?? corner;
        return (
          <line
            key={`edge ${i}`}
            x1={corner.x}
            y1={north - corner.y}
            x2={next.x}
            y2={north - next.y}
            className={`stroke-accent cursor-copy ${course.smooth ? "opacity-25" : ""}`}
            strokeWidth={5}
            vectorEffect="non-scaling-stroke"
            onClick={(event) => add(i, placeOf(event))}
          />
        );
      })}
      {points.map((corner, i) => (
        <circle
          key={i}
          cx={corner.x}
          cy={north - corner.y}
          r={size}
          className="fill-base-100 stroke-accent focus-visible:fill-accent cursor-grab"
          strokeWidth={2}
          vectorEffect="non-scaling-stroke"
          tabIndex={0}
          role="button"
          aria-label={`Corner ${i + 1} of ${points.length}: arrows move it, Delete removes it, Insert adds one after it`}
          onKeyDown={(event) => onKey(event, i, corner)}
          onFocus={() => course.chosen?.(i)}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            setHeld(i);
            course.chosen?.(i);
          }}
          onDoubleClick={() => remove(i)}
        />
      ))}
    </svg>
  );
}
