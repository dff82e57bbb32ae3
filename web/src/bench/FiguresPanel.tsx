import { formatNumber } from "../controls/units";
import { useSession } from "../live/session";

/** How often heights and slopes occur. */
export function FiguresPanel() {
  const header = useSession((state) => state.now?.header);
  if (!header) return null;
  return (
    <div className="space-y-4 text-xs">
      <Histogram
        title="Heights"
        counts={header.height_counts}
        low={header.low_m}
        high={header.high_m}
        unit="m"
        testId="height-histogram"
      />
      <Histogram
        title="Slopes"
        counts={header.slope_counts}
        low={0}
        high={90}
        unit="°"
        testId="slope-histogram"
      />
      <p>
        Mean height {formatNumber(header.mean_m)} m; {header.cols} × {header.rows} cells.
      </p>
    </div>
  );
}

interface Props {
  title: string;
  counts: number[];
  low: number;
  high: number;
  unit: string;
  testId: string;
}

function Histogram({ title, counts, low, high, unit, testId }: Props) {
  const most = Math.max(1, ...counts);
  const total = Math.max(
    1,
    counts.reduce((sum, count) => sum + count, 0),
  );
  const at = (i: number) => low + ((high - low) * i) / counts.length;
  return (
    <figure data-testid={testId}>
      <figcaption className="font-semibold">{title}</figcaption>
      <svg viewBox={`0 0 ${counts.length} 40`} preserveAspectRatio="none" className="h-24 w-full">
        {counts.map((count, i) => (
          <rect
            key={i}
            x={i + 0.1}
            width={0.8}
            y={40 - (40 * count) / most}
            height={(40 * count) / most}
            className="fill-secondary"
          >
            <title>
              {formatNumber(at(i))}–{formatNumber(at(i + 1))} {unit}:{" "}
              {((100 * count) / total).toFixed(1)} %
            </title>
          </rect>
        ))}
      </svg>
      <p className="text-base-content/80 flex justify-between">
        <span>
          {formatNumber(low)} {unit}
        </span>
        <span>
          {formatNumber((low + high) / 2)} {unit}
        </span>
        <span>
          {formatNumber(high)} {unit}
        </span>
      </p>
    </figure>
  );
}
