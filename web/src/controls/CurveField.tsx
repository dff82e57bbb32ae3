import { Plus } from "lucide-react";
import { useRef, useState } from "react";
import { NumberField } from "./NumberField";
import { arrowSteps, removes } from "./arrowKeys";
import { monotonePath } from "./monotone";

export interface CurvePoint {
  before_m: number;
  after_m: number;
}

interface Props {
  points: CurvePoint[];
  onPreview: (points: CurvePoint[]) => void;
  onCommit: (points: CurvePoint[]) => void;
}

const SIDE = 160;
/** Points keep this share of the width apart, so that the curve stays a function. */
const APART = 0.005;

/** A response curve: points are dragged, added with a click, removed with a double click. */
export function CurveField({ points, onPreview, onCommit }: Props) {
  const [chosen, setChosen] = useState(0);
  const [range, setRange] = useState<ReturnType<typeof rangeOf> | null>(null);
  const dragged = useRef<CurvePoint[] | null>(null);
  const before = useRef<CurvePoint[] | null>(null);
  const box = useRef<SVGSVGElement>(null);
  // The axes stay where they are during a drag.
  const { across, up } = range ?? rangeOf(points);
  const place = (point: CurvePoint): [number, number] => [
    ((point.before_m - across.low) / across.size) * SIDE,
    SIDE - ((point.after_m - up.low) / up.size) * SIDE,
  ];
  const valueAt = (event: React.PointerEvent): CurvePoint => {
    const rect = box.current?.getBoundingClientRect() ?? new DOMRect(0, 0, 1, 1);
    const share = (at: number, start: number, size: number) => (at - start) / size;
    const x = share(event.clientX, rect.left, rect.width);
    const y = share(event.clientY, rect.top, rect.height);
    return {
      before_m: Math.round(across.low + x * across.size),
      after_m: Math.round(up.low + (1 - y) * up.size),
    };
  };
  const moved = (i: number, to: CurvePoint) => {
    const gap = APART * across.size;
    const low = (points[i - 1]?.before_m ?? -20_000 - gap) + gap;
    const high = (points[i + 1]?.before_m ?? 20_000 + gap) - gap;
    const before_m = Math.min(high, Math.max(low, to.before_m));
    return points.map((point, k) => (k === i ? { ...to, before_m } : point));
  };
  const drag = (event: React.PointerEvent) => {
    if (!dragged.current) return;
    dragged.current = moved(chosen, valueAt(event));
    onPreview(dragged.current);
  };
  const drop = () => {
    // The preview has made these the points that are shown; compare with what
    // was there when the drag began.
    if (dragged.current && dragged.current !== before.current) onCommit(dragged.current);
    dragged.current = null;
    setRange(null);
  };
  const addAt = (event: React.PointerEvent) => {
    const added = valueAt(event);
    if (points.some((point) => Math.abs(point.before_m - added.before_m) < APART * across.size))
      return;
    const next = [...points, added].sort((a, b) => a.before_m - b.before_m);
    setChosen(next.indexOf(added));
    onCommit(next);
  };
  const point = points[chosen] ?? points[0];

  return (
    <div className="space-y-1">
      <svg
        ref={box}
        viewBox={`0 0 ${SIDE} ${SIDE}`}
        preserveAspectRatio="none"
        className="border-base-300 bg-base-100 h-40 w-full touch-none overflow-visible rounded border"
        role="group"
        aria-label="Height before, from left to right, and after, from bottom to top"
        data-testid="curve"
        onPointerMove={drag}
        onPointerUp={drop}
        onPointerDown={(event) => {
          if (event.target === box.current) addAt(event);
        }}
      >
        <path
          d={monotonePath(points.map(place))}
          className="stroke-base-content/70 pointer-events-none fill-none"
          strokeWidth={1.5}
          vectorEffect="non-scaling-stroke"
        />
        {points.map((entry, i) => {
          const [x, y] = place(entry);
          return (
            <circle
              key={i}
              cx={x}
              cy={y}
              r={4}
              className={`cursor-grab ${i === chosen ? "fill-primary" : "fill-secondary"}`}
              tabIndex={0}
              role="button"
              aria-label={`Point ${i + 1} of ${points.length}: arrows move it, Delete removes it`}
              onFocus={() => setChosen(i)}
              onKeyDown={(event) => {
                const steps = arrowSteps(event);
                if (steps) {
                  before.current ??= points;
                  dragged.current = moved(i, {
                    before_m: Math.round(entry.before_m + (steps[0] * across.size) / 100),
                    after_m: Math.round(entry.after_m + (steps[1] * up.size) / 100),
                  });
                  onPreview(dragged.current);
                } else if (removes(event) && points.length > 2) {
                  onCommit(points.filter((_, k) => k !== i));
                }
              }}
              onKeyUp={drop}
              onBlur={drop}
              onPointerDown={(event) => {
                event.currentTarget.setPointerCapture(event.pointerId);
                setChosen(i);
                setRange({ across, up });
                dragged.current = points;
                before.current = points;
              }}
              onDoubleClick={() => {
                if (points.length > 2) onCommit(points.filter((_, k) => k !== i));
              }}
            />
          );
        })}
      </svg>
      {point &&
        (["before_m", "after_m"] as const).map((axis) => (
          <NumberField
            key={axis}
            label={axis === "before_m" ? "Before" : "After"}
            unit="m"
            slider={axis === "before_m" ? ends(across) : ends(up)}
            value={point[axis]}
            onPreview={(value) => onPreview(moved(chosen, { ...point, [axis]: value }))}
            onCommit={(value) => onCommit(moved(chosen, { ...point, [axis]: value }))}
          />
        ))}
      <p className="text-base-content/80 flex items-center gap-1 text-xs">
        <Plus size={12} /> click for a new point, double-click to remove one
      </p>
    </div>
  );
}

interface Span {
  low: number;
  size: number;
}

const ends = ({ low, size }: Span): [number, number] => [low, low + size];

function rangeOf(points: CurvePoint[]) {
  const span = (values: number[]): Span => {
    const low = Math.min(...values);
    return { low, size: Math.max(1, Math.max(...values) - low) };
  };
  return {
    across: span(points.map((point) => point.before_m)),
    up: span(points.map((point) => point.after_m)),
  };
}
