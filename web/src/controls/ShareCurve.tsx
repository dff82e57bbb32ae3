import { useRef, useState } from "react";
import { arrowSteps, removes } from "./arrowKeys";
import { monotonePath } from "./monotone";

type Point = [number, number];

interface Props {
  points: Point[];
  testId: string;
  onPreview: (points: Point[]) => void;
  onCommit: (points: Point[]) => void;
}

const SIDE = 100;
/** Points keep this far apart, so that the curve stays a function. */
const APART = 0.01;
const STRAIGHT: Point[] = [
  [0, 0],
  [1, 1],
];

/**
 * How much of a reading counts, bent: before from left to right, after from
 * below. Points are dragged, added with a click, removed with a double click.
 */
export function ShareCurve({ points, testId, onPreview, onCommit }: Props) {
  const box = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<number | null>(null);
  const [dragged, setDragged] = useState<Point[] | null>(null);
  const shown = dragged ?? (points.length > 1 ? points : STRAIGHT);
  const placed = ([x, y]: Point): [number, number] => [x * SIDE, (1 - y) * SIDE];
  const at = (event: React.MouseEvent): Point => {
    const area = box.current?.getBoundingClientRect() ?? new DOMRect(0, 0, 1, 1);
    const share = (v: number) => Math.round(100 * Math.min(1, Math.max(0, v))) / 100;
    return [
      share((event.clientX - area.left) / area.width),
      share(1 - (event.clientY - area.top) / area.height),
    ];
  };
  const moved = (i: number, to: Point): Point[] => {
    const before = shown[i - 1]?.[0];
    const after = shown[i + 1]?.[0];
    const low = before === undefined ? 0 : before + APART;
    const high = after === undefined ? 1 : after - APART;
    const x = Math.min(high, Math.max(low, to[0]));
    return shown.map((point, k) => (k === i ? [x, to[1]] : point));
  };
  const finish = () => {
    if (dragged) onCommit(dragged);
    setHeld(null);
    setDragged(null);
  };
  return (
    <svg
      ref={box}
      className="bg-base-200 h-28 w-28 touch-none rounded"
      viewBox={`-4 -4 ${SIDE + 8} ${SIDE + 8}`}
      role="group"
      aria-label="Response curve"
      data-testid={testId}
      onPointerMove={(event) => {
        if (held === null) return;
        const next = moved(held, at(event));
        setDragged(next);
        onPreview(next);
      }}
      onPointerUp={finish}
      onClick={(event) => {
        if (event.target !== box.current) return;
        const point = at(event);
        const free = shown.every(([x]) => Math.abs(x - point[0]) > APART);
        if (free) onCommit([...shown, point].sort((a, b) => a[0] - b[0]));
      }}
    >
      <path
        d={monotonePath(shown.map(placed))}
        className="stroke-accent pointer-events-none fill-none"
        strokeWidth={2}
      />
      {shown.map((point, i) => {
        const [x, y] = placed(point);
        return (
          <circle
            key={i}
            cx={x}
            cy={y}
            r={4}
            className="fill-base-100 stroke-base-content focus-visible:fill-accent cursor-move"
            strokeWidth={1.5}
            tabIndex={0}
            role="button"
            aria-label={`Point ${i + 1} of ${shown.length}: arrows move it, Delete removes it`}
            onKeyDown={(event) => {
              const steps = arrowSteps(event);
              if (steps) {
                const share = (v: number) => Math.min(1, Math.max(0, Math.round(100 * v) / 100));
                const next = moved(i, [
                  share(point[0] + steps[0] / 100),
                  share(point[1] + steps[1] / 100),
                ]);
                setDragged(next);
                onPreview(next);
              } else if (removes(event) && shown.length > 2) {
                onCommit(shown.filter((_, k) => k !== i));
              }
            }}
            onKeyUp={finish}
            onPointerDown={(event) => {
              box.current?.setPointerCapture(event.pointerId);
              setHeld(i);
            }}
            onDoubleClick={() => {
              if (shown.length > 2) onCommit(shown.filter((_, k) => k !== i));
            }}
          />
        );
      })}
    </svg>
  );
}
