import { useRef, useState } from "react";
import type { Term } from "../api/types";
import { arrowSteps } from "./arrowKeys";
import { useTermStudy } from "./useTermStudy";
import { formatNumber } from "./units";

interface Props {
  owner: string;
  index: number;
  term: Term;
  unit: string | undefined;
  onPreview: (term: Term) => void;
  onCommit: (term: Term) => void;
}

type Handle = "low" | "from" | "to" | "high";

const HANDLES: Record<Handle, string> = {
  low: "Where it begins to count",
  from: "From where it counts in full",
  to: "To where it counts in full",
  high: "Where it ends to count",
};

const HEIGHT = 46;
/** Share of the width that an arrow key moves a handle by. */
const KEY_STEP = 0.01;

/** How often values of a reading occur, with the range that counts: its ends and
 * where they fade out are dragged. */
export function TermHistogram({ owner, index, term, unit, onPreview, onCommit }: Props) {
  const box = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<Handle | null>(null);
  // Moved by a key that is held: kept when it is let go.
  const nudged = useRef<Term | null>(null);
  const settle = () => {
    if (nudged.current) onCommit(nudged.current);
    nudged.current = null;
  };
  const { data } = useTermStudy(owner, index, term.of);
  if (!data) return <div className="bg-base-200 h-[46px] rounded" />;
  const { low, high, counts } = data;
  const at = (value: number) => Math.min(1, Math.max(0, (value - low) / (high - low)));
  const from = term.from ?? null;
  const to = term.to ?? null;
  const ends: Record<Handle, number | null> = {
    low: from === null ? null : at(from - term.soft_from),
    from: from === null ? null : at(from),
    to: to === null ? null : at(to),
    high: to === null ? null : at(to + term.soft_to),
  };
  const moved = (handle: Handle, event: React.PointerEvent): Term => {
    const area = box.current?.getBoundingClientRect();
    return movedTo(handle, area ? (event.clientX - area.left) / area.width : 0);
  };
  const movedTo = (handle: Handle, position: number): Term => {
    const value = Number(formatNumber(low + Math.min(1, Math.max(0, position)) * (high - low)));
    switch (handle) {
      case "from":
        return { ...term, from: to === null ? value : Math.min(value, to) };
      case "to":
        return { ...term, to: from === null ? value : Math.max(value, from) };
      case "low":
        return { ...term, soft_from: Math.max(0, Number(formatNumber((from ?? 0) - value))) };
      case "high":
        return { ...term, soft_to: Math.max(0, Number(formatNumber(value - (to ?? 0)))) };
    }
  };
  const tallest = Math.max(1, ...counts.map((count) => Math.sqrt(count)));
  const shape = [
    [ends.low ?? 0, 1],
    [ends.from ?? 0, 0],
    [ends.to ?? 1, 0],
    [ends.high ?? 1, 1],
  ] as const;
  return (
    <figure>
      <svg
        ref={box}
        className="bg-base-200 w-full touch-none rounded"
        viewBox={`0 0 100 ${HEIGHT}`}
        preserveAspectRatio="none"
        height={HEIGHT}
        role="group"
        aria-label="How often values occur, and the range that counts"
        data-testid={`${owner}.${index}.histogram`}
        onPointerMove={(event) => held && onPreview(moved(held, event))}
        onPointerUp={(event) => {
          if (held) onCommit(moved(held, event));
          setHeld(null);
        }}
      >
        <polygon
          className={`fill-accent/25 ${term.invert ? "opacity-50" : ""}`}
          points={shape.map(([x, y]) => `${100 * x},${y * HEIGHT}`).join(" ")}
        />
        {counts.map((count, i) => {
          const tall = (Math.sqrt(count) / tallest) * (HEIGHT - 4);
          const wide = 100 / counts.length;
          return (
            <rect
              key={i}
              x={i * wide}
              y={HEIGHT - tall}
              width={wide * 0.9}
              height={tall}
              className="fill-base-content/45"
            />
          );
        })}
        {(["low", "from", "to", "high"] as const).map((handle) => {
          const place = ends[handle];
          if (place === null) return null;
          const firm = handle === "from" || handle === "to";
          return (
            <g
              key={handle}
              className="cursor-ew-resize"
              role="slider"
              tabIndex={0}
              aria-label={HANDLES[handle]}
              aria-valuenow={low + place * (high - low)}
              aria-valuetext={`${formatNumber(low + place * (high - low))} ${unit ?? ""}`}
              onKeyDown={(event) => {
                const steps = arrowSteps(event);
                if (!steps) return;
                nudged.current = movedTo(handle, place + (steps[0] + steps[1]) * KEY_STEP);
                onPreview(nudged.current);
              }}
              onKeyUp={settle}
              onBlur={settle}
              data-testid={`${owner}.${index}.${handle}`}
              onPointerDown={(event) => {
                event.currentTarget.setPointerCapture(event.pointerId);
                setHeld(handle);
              }}
            >
              <line
                x1={100 * place}
                x2={100 * place}
                y1={0}
                y2={HEIGHT}
                className="stroke-accent"
                strokeWidth={firm ? 2.5 : 1.5}
                strokeDasharray={firm ? undefined : "3 3"}
                vectorEffect="non-scaling-stroke"
              />
              <rect
                x={100 * place - 1.5}
                y={firm ? 0 : HEIGHT / 2}
                width={3}
                height={HEIGHT / 2}
                className="fill-transparent"
              />
            </g>
          );
        })}
      </svg>
      <figcaption className="text-base-content/80 flex justify-between text-[0.65rem]">
        <span>
          {formatNumber(low)} {unit}
        </span>
        <span>
          {formatNumber(high)} {unit}
        </span>
      </figcaption>
    </figure>
  );
}
