import { Plus, Trash2 } from "lucide-react";
import { NumberField } from "./NumberField";

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

/** The points of a response curve, drawn and as numbers. */
export function CurveField({ points, onPreview, onCommit }: Props) {
  const xs = points.map((point) => point.before_m);
  const ys = points.map((point) => point.after_m);
  const span = (values: number[]) => {
    const low = Math.min(...values);
    return { low, size: Math.max(1, Math.max(...values) - low) };
  };
  const [across, up] = [span(xs), span(ys)];
  const place = (point: CurvePoint) => [
    ((point.before_m - across.low) / across.size) * SIDE,
    SIDE - ((point.after_m - up.low) / up.size) * SIDE,
  ];
  const withPoint = (i: number, change: Partial<CurvePoint>) =>
    points.map((point, k) => (k === i ? { ...point, ...change } : point));
  const addPoint = () => {
    const widest = points
      .slice(1)
      .map((point, i) => ({ i, gap: point.before_m - (points[i]?.before_m ?? 0) }))
      .sort((a, b) => b.gap - a.gap)[0];
    const [left, right] = widest ? [points[widest.i], points[widest.i + 1]] : [];
    if (!widest || !left || !right) return;
    const middle = {
      before_m: (left.before_m + right.before_m) / 2,
      after_m: (left.after_m + right.after_m) / 2,
    };
    onCommit([...points.slice(0, widest.i + 1), middle, ...points.slice(widest.i + 1)]);
  };

  return (
    <div className="space-y-1">
      <svg
        viewBox={`-6 -6 ${SIDE + 12} ${SIDE + 12}`}
        className="border-base-300 bg-base-100 h-36 w-full rounded border"
        role="img"
        aria-label="Height before, from left to right, and after, from bottom to top"
      >
        <polyline
          points={points.map((point) => place(point).join(",")).join(" ")}
          className="stroke-base-content/60 fill-none"
          strokeWidth={1.5}
        />
        {points.map((point, i) => {
          const [x, y] = place(point);
          return <circle key={i} cx={x} cy={y} r={3.5} className="fill-primary" />;
        })}
      </svg>
      {points.map((point, i) => (
        <div key={i} className="flex items-center gap-1">
          <div className="grow space-y-0.5">
            <NumberField
              label={`${i + 1} before`}
              unit="m"
              slider={[across.low, across.low + across.size]}
              value={point.before_m}
              onPreview={(before_m) => onPreview(withPoint(i, { before_m }))}
              onCommit={(before_m) => onCommit(withPoint(i, { before_m }))}
            />
            <NumberField
              label={`${i + 1} after`}
              unit="m"
              slider={[up.low, up.low + up.size]}
              value={point.after_m}
              onPreview={(after_m) => onPreview(withPoint(i, { after_m }))}
              onCommit={(after_m) => onCommit(withPoint(i, { after_m }))}
            />
          </div>
          <button
            type="button"
            className="btn btn-ghost btn-xs btn-square"
            aria-label={`Remove point ${i + 1}`}
            disabled={points.length <= 2}
            onClick={() => onCommit(points.filter((_, k) => k !== i))}
          >
            <Trash2 size={13} />
          </button>
        </div>
      ))}
      <button type="button" className="btn btn-ghost btn-xs" onClick={addPoint}>
        <Plus size={13} /> Point
      </button>
    </div>
  );
}
