import { useState } from "react";
import { changeView, useView, type Place } from "../studio/view";

interface Props {
  width: number;
  depth: number;
  north: number;
}

/** The corners of an outline on the plan: dragged, added, removed. */
export function OutlineEditor({ width, depth, north }: Props) {
  const outline = useView((view) => view.outline);
  const onOutline = useView((view) => view.onOutline);
  const [held, setHeld] = useState<number | null>(null);
  if (!outline) return null;
  const placeOf = (event: React.MouseEvent): Place => {
    const box = (event.currentTarget as SVGElement).closest("svg")?.getBoundingClientRect();
    if (!box) return { x: 0, y: 0 };
    return {
      x: ((event.clientX - box.left) / box.width) * width,
      y: north - ((event.clientY - box.top) / box.height) * depth,
    };
  };
  const change = (next: Place[], keep: boolean) => {
    changeView({ outline: next });
    if (keep) onOutline?.(next);
  };
  const size = width / 90;
  return (
    <svg
      className="absolute inset-0 h-full w-full"
      viewBox={`0 0 ${width} ${depth}`}
      preserveAspectRatio="none"
      data-testid="outline-editor"
      onPointerMove={(event) => {
        if (held === null) return;
        const place = placeOf(event);
        change(
          outline.map((corner, i) => (i === held ? place : corner)),
          false,
        );
      }}
      onPointerUp={() => {
        if (held !== null) onOutline?.(outline);
        setHeld(null);
      }}
    >
      {outline.map((corner, i) => {
        const next = outline[(i + 1) % outline.length] ?? corner;
        return (
          <line
            key={`edge ${i}`}
            x1={corner.x}
            y1={north - corner.y}
            x2={next.x}
            y2={north - next.y}
            className="stroke-accent cursor-copy"
            strokeWidth={5}
            vectorEffect="non-scaling-stroke"
            onClick={(event) =>
              change([...outline.slice(0, i + 1), placeOf(event), ...outline.slice(i + 1)], true)
            }
          />
        );
      })}
      {outline.map((corner, i) => (
        <circle
          key={i}
          cx={corner.x}
          cy={north - corner.y}
          r={size}
          className="fill-base-100 stroke-accent cursor-grab"
          strokeWidth={2}
          vectorEffect="non-scaling-stroke"
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            setHeld(i);
          }}
          onDoubleClick={() => {
            if (outline.length > 3)
              change(
                outline.filter((_, k) => k !== i),
                true,
              );
          }}
        />
      ))}
    </svg>
  );
}
