import { formatLength, formatNumber } from "../controls/units";
import { readAt, sizeOf, type Picture } from "../live/picture";
import { useSession } from "../live/session";
import { useView, type Line } from "../studio/view";

const POINTS = 400;
const WIDTH = 1000;
const HEIGHT = 120;

/** A cut through the land along a line, with the state before as a ghost. */
export function Section() {
  const now = useSession((state) => state.now);
  const before = useSession((state) => state.before);
  const drawn = useView((view) => view.section);
  const pointer = useView((view) => view.pointer);
  if (!now) return <section className="h-full" aria-label="Section" />;
  const { width, depth } = sizeOf(now);
  const middle = now.header.north_m - depth / 2;
  const line = drawn ?? { from: { x: 0, y: middle }, to: { x: width, y: middle } };
  const length = Math.max(1, Math.hypot(line.to.x - line.from.x, line.to.y - line.from.y));
  const profile = (picture: Picture) =>
    Array.from({ length: POINTS + 1 }, (_, i) => {
      const share = i / POINTS;
      const x = Math.min(line.from.x + share * (line.to.x - line.from.x), width - 1e-6);
      const y = line.from.y + share * (line.to.y - line.from.y);
      return readAt(picture, x, y)?.height ?? null;
    });
  const heights = profile(now);
  const ghost = before ? profile(before) : null;
  const known = [...heights, ...(ghost ?? [])].filter((h) => h !== null);
  const sea = now.header.sea_level_m;
  const low = Math.min(...known, sea);
  const span = Math.max(1, Math.max(...known, sea) - low);
  const yOf = (height: number) => HEIGHT - 8 - ((height - low) / span) * (HEIGHT - 16);
  const path = (values: (number | null)[]) =>
    values
      .flatMap((h, i) =>
        h === null ? [] : [`${((i / POINTS) * WIDTH).toFixed(1)},${yOf(h).toFixed(1)}`],
      )
      .join(" ");
  const exaggeration = ((HEIGHT - 16) / span / (WIDTH / length)).toFixed(1);
  const along = pointer && shareAlong(line, pointer);

  return (
    <section className="bg-base-100 flex h-full flex-col" aria-label="Section">
      <header className="flex items-baseline gap-3 overflow-hidden pt-1 pr-9 pl-2 text-xs whitespace-nowrap">
        <h2 className="text-sm font-semibold">Section</h2>
        <span>{formatLength(length)} long</span>
        <span>
          {formatNumber(low)} m to {formatNumber(low + span)} m
        </span>
        <span className="text-base-content/80">heights × {exaggeration}</span>
        <FigureHint metresHigh={span} />
        <span className="text-base-content/80 min-w-0 truncate">
          drag on the plan for another line
        </span>
      </header>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        preserveAspectRatio="none"
        className="min-h-0 w-full grow"
        role="img"
        aria-label="Cross-section of the land"
      >
        <line
          x1={0}
          x2={WIDTH}
          y1={yOf(sea)}
          y2={yOf(sea)}
          className="stroke-info"
          strokeDasharray="6 4"
        />
        {ghost && (
          <polyline
            points={path(ghost)}
            className="stroke-base-content/45 fill-none"
            vectorEffect="non-scaling-stroke"
            strokeDasharray="3 3"
          />
        )}
        <polygon
          points={`0,${HEIGHT} ${path(heights)} ${WIDTH},${HEIGHT}`}
          className="fill-base-content/10"
        />
        <polyline
          points={path(heights)}
          className="stroke-base-content fill-none"
          strokeWidth={1.5}
          vectorEffect="non-scaling-stroke"
        />
        <Figure
          x={WIDTH / 2}
          foot={yOf(heights[POINTS / 2] ?? low)}
          tall={(FIGURE_M / span) * (HEIGHT - 16)}
          wide={(0.6 / length) * WIDTH}
        />
        {along !== null && (
          <line
            x1={along * WIDTH}
            x2={along * WIDTH}
            y1={0}
            y2={HEIGHT}
            className="stroke-accent"
            vectorEffect="non-scaling-stroke"
          />
        )}
      </svg>
    </section>
  );
}

const FIGURE_M = 1.8;

/** A person standing on the ground, at the scale of the drawing. */
function Figure({ x, foot, tall, wide }: { x: number; foot: number; tall: number; wide: number }) {
  if (tall < 2) return null;
  return (
    <g className="fill-accent">
      <rect x={x - wide / 2} y={foot - 0.85 * tall} width={wide} height={0.85 * tall} />
      <ellipse cx={x} cy={foot - 0.92 * tall} rx={wide / 3} ry={0.09 * tall} />
    </g>
  );
}

/** How small a person is here: the figure in the drawing, or its share of it. */
function FigureHint({ metresHigh }: { metresHigh: number }) {
  const pixels = (FIGURE_M / metresHigh) * (HEIGHT - 16);
  return (
    <span className="text-base-content/80" data-testid="figure">
      {pixels >= 2
        ? "with a figure of 1.8 m"
        : `a person is 1/${Math.round(metresHigh / FIGURE_M)} of the height`}
    </span>
  );
}

/** How far along the line the place next to a point is, 0 to 1. */
function shareAlong({ from, to }: Line, { x, y }: { x: number; y: number }): number | null {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  const share = ((x - from.x) * dx + (y - from.y) * dy) / Math.max(1e-9, dx * dx + dy * dy);
  return share >= 0 && share <= 1 ? share : null;
}
