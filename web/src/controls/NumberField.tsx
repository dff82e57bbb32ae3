import { RotateCcw } from "lucide-react";
import { useId, useRef, useState } from "react";
import { formatNumber, parseQuantity } from "./units";

interface Props {
  /** Its label is a short word. */
  short?: boolean;
  label: string;
  value: number;
  hint?: string;
  unit?: string;
  min?: number;
  max?: number;
  slider?: [number, number];
  log?: boolean;
  whole?: boolean;
  standard?: number;
  testId?: string;
  onPreview?: (value: number) => void;
  onCommit: (value: number) => void;
}

const STEPS = 1000;
/** One row where there is room for a slider of a good length. */
const WIDE = {
  short:
    "@min-[20rem]:grid-cols-[4.25rem_1fr_6.25rem] @min-[20rem]:[grid-template-areas:'label_slider_number''wrong_wrong_wrong']",
  long: "@min-[20rem]:grid-cols-[5.5rem_1fr_6.25rem] @min-[20rem]:[grid-template-areas:'label_slider_number''wrong_wrong_wrong']",
};

/** A number: dragged where the useful range is, typed beyond it. */
export function NumberField(props: Props) {
  const { label, value, hint, unit, slider, log, whole, standard, testId } = props;
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const saysWrong = useId();
  const dragged = useRef<number | null>(null);
  const nudged = useRef<number | null>(null);
  const [low, high] = slider ?? [props.min ?? 0, props.max ?? 1];
  const useLog = log && low > 0;

  const toPosition = (v: number) => {
    const share = useLog ? Math.log(v / low) / Math.log(high / low) : (v - low) / (high - low);
    return Math.round(Math.min(1, Math.max(0, share)) * STEPS);
  };
  const fromPosition = (position: number) => {
    const share = position / STEPS;
    const exact = useLog ? low * (high / low) ** share : low + share * (high - low);
    return whole ? Math.round(exact) : Number(formatNumber(exact));
  };
  const nudge = (direction: number, event: React.KeyboardEvent) => {
    const grain = event.shiftKey ? 0.1 : event.altKey ? 0.001 : 0.01;
    const step = whole ? (event.shiftKey ? 10 : 1) : grain * (high - low);
    const from = nudged.current ?? value;
    const exact = from + direction * step;
    nudged.current = whole ? Math.round(exact) : Number(formatNumber(exact));
    setTyped(formatNumber(nudged.current));
    props.onPreview?.(nudged.current);
  };
  /** A key that is held is one edit, not one for each time that it repeats. */
  const finishNudging = () => {
    if (nudged.current === null) return;
    const to = nudged.current;
    nudged.current = null;
    setTyped(null);
    if (to !== value || props.onPreview) props.onCommit(to);
  };
  const finishTyping = () => {
    if (typed === null) return;
    const parsed = parseQuantity(typed, unit);
    const wrong = typed.trim() === "" ? null : fault(typed, parsed, props);
    setWrong(wrong);
    // What cannot be taken stays to be mended.
    if (wrong) return;
    setTyped(null);
    if (parsed !== null && parsed !== value) props.onCommit(whole ? Math.round(parsed) : parsed);
  };
  const leaveTyping = () => {
    setTyped(null);
    setWrong(null);
  };
  const finishDragging = () => {
    if (dragged.current === null) return;
    props.onCommit(dragged.current);
    dragged.current = null;
  };

  return (
    // As wide as its place allows: where there is little, the slider has a row of its own.
    <div className="@container">
      <label
        className={`grid grid-cols-[1fr_6.25rem] items-center gap-x-2 gap-y-1 [grid-template-areas:'label_number''slider_slider''wrong_wrong'] ${WIDE[props.short ? "short" : "long"]}`}
        title={hint}
      >
        <span className="truncate text-xs [grid-area:label]">{label}</span>
        <input
          type="range"
          className="range range-xs range-primary w-full [--range-fill:0] [grid-area:slider]"
          aria-label={`${label}, slider`}
          min={0}
          max={STEPS}
          aria-valuetext={`${formatNumber(value)}${unit ? ` ${unit}` : ""}`}
          value={toPosition(value)}
          onChange={(event) => {
            dragged.current = fromPosition(Number(event.target.value));
            props.onPreview?.(dragged.current);
          }}
          onPointerUp={finishDragging}
          onKeyUp={finishDragging}
          onBlur={finishDragging}
        />
        <span className="input input-xs flex items-center gap-0.5 px-1 [grid-area:number]">
          <input
            className="min-h-[24px] w-full min-w-0 text-right"
            aria-label={label}
            aria-description={unit}
            data-testid={testId}
            value={typed ?? formatNumber(value)}
            aria-invalid={wrong !== null}
            aria-describedby={wrong ? saysWrong : undefined}
            onChange={(event) => {
              setTyped(event.target.value);
              setWrong(null);
            }}
            onFocus={(event) => event.target.select()}
            onBlur={() => {
              if (nudged.current === null) finishTyping();
              else finishNudging();
            }}
            onKeyUp={(event) => {
              if (event.key === "ArrowUp" || event.key === "ArrowDown") finishNudging();
            }}
            onKeyDown={(event) => {
              if (event.key === "Enter" && typed !== null) {
                // Enter takes the number; only the next one makes what a form is for.
                event.preventDefault();
                finishTyping();
              }
              if (event.key === "Escape") leaveTyping();
              if (event.key === "ArrowUp" || event.key === "ArrowDown") {
                event.preventDefault();
                nudge(event.key === "ArrowUp" ? 1 : -1, event);
              }
            }}
          />
          {unit && <span className="text-base-content/80 text-[0.65rem]">{unit}</span>}
          {standard !== undefined && standard !== value && (
            <button
              type="button"
              className="text-base-content/80 hover:text-primary -mr-1 grid size-[24px] shrink-0 place-items-center"
              aria-label={`Reset ${label} to ${formatNumber(standard)}`}
              title={`Reset to ${formatNumber(standard)}`}
              onClick={() => props.onCommit(standard)}
            >
              <RotateCcw size={11} />
            </button>
          )}
        </span>
        {wrong && (
          <span id={saysWrong} className="text-error text-xs [grid-area:wrong]" role="alert">
            {wrong}
          </span>
        )}
      </label>
    </div>
  );
}

/** Why what was typed cannot be taken, in words; nothing when it can. */
function fault(typed: string, parsed: number | null, props: Props): string | null {
  const { label, unit, min, max } = props;
  if (parsed === null) {
    const example = unit ? `, such as 120 or 120 ${unit}` : "";
    return `“${typed.trim()}” is not a number${example}.`;
  }
  const said = (value: number) => `${value.toLocaleString("en")}${unit ? ` ${unit}` : ""}`;
  if (min !== undefined && max !== undefined && (parsed < min || parsed > max)) {
    return `${label} can be ${said(min)} to ${said(max)}.`;
  }
  return null;
}
