import { Trash2 } from "lucide-react";
import type { Reading, Term } from "../api/types";
import { NumberField } from "./NumberField";

interface Props {
  term: Term;
  first: boolean;
  traces: string[];
  onPreview: (term: Term) => void;
  onCommit: (term: Term) => void;
  onRemove: () => void;
}

interface Sheet {
  label: string;
  unit?: string;
  range: [number, number];
  make: () => Reading;
}

const READINGS: Record<string, Sheet> = {
  height: { label: "Height", unit: "m", range: [-200, 2000], make: () => "height" },
  slope: { label: "Slope", unit: "°", range: [0, 90], make: () => "slope" },
  facing: {
    label: "Facing",
    unit: "°",
    range: [0, 180],
    make: () => ({ facing: { bearing_deg: 180 } }),
  },
  noise: { label: "Noise", range: [-1, 1], make: () => ({ noise: { feature_m: 500, seed: 1 } }) },
  wear: { label: "Wear", unit: "m", range: [0, 40], make: () => ({ trace: "wear" }) },
  deposit: { label: "Deposit", unit: "m", range: [0, 40], make: () => ({ trace: "deposit" }) },
  flow: { label: "Flow", unit: "m²/s", range: [0, 5], make: () => ({ trace: "flow" }) },
  outcrop: { label: "Outcrop", range: [0, 1], make: () => ({ trace: "outcrop" }) },
  strewn: { label: "Strewn copies", range: [0, 1], make: () => ({ trace: "strewn" }) },
  drainage: {
    label: "Drainage area",
    unit: "m²",
    range: [0, 2e6],
    make: () => ({ trace: "drainage" }),
  },
  snow: { label: "Snow", unit: "m", range: [0, 10], make: () => ({ trace: "snow" }) },
  depth: { label: "Water depth", unit: "m", range: [0, 10], make: () => ({ trace: "depth" }) },
  suspended: {
    label: "Suspended load",
    unit: "m",
    range: [0, 1],
    make: () => ({ trace: "suspended" }),
  },
  river: {
    label: "Distance to a river",
    unit: "m",
    range: [0, 500],
    make: () => ({ river: { least_order: 1 } }),
  },
};

const TRACES = [
  "wear",
  "deposit",
  "flow",
  "outcrop",
  "strewn",
  "drainage",
  "snow",
  "depth",
  "suspended",
  "river",
];
const JOINS = ["multiply", "add", "subtract", "highest", "lowest", "screen"] as const;

function nameOf(reading: Reading): string {
  if (typeof reading === "string") return reading;
  if ("trace" in reading) return reading.trace;
  return Object.keys(reading)[0] ?? "height";
}

/** One reading of a mask and the range of it that counts. */
export function TermEditor({ term, first, traces, onPreview, onCommit, onRemove }: Props) {
  const name = nameOf(term.of);
  const sheet = READINGS[name];
  const { unit, range } = sheet ?? { unit: undefined, range: [0, 1] as [number, number] };
  const span = range[1] - range[0];
  const offered = Object.keys(READINGS).filter(
    (reading) => !TRACES.includes(reading) || traces.includes(reading) || reading === name,
  );
  const end = (side: "from" | "to") => {
    const value = term[side];
    const open = value === null || value === undefined;
    return (
      <div className="flex items-center gap-1">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          aria-label={side === "from" ? "Has a lower end" : "Has an upper end"}
          checked={!open}
          onChange={() =>
            onCommit({ ...term, [side]: open ? range[side === "from" ? 0 : 1] : null })
          }
        />
        <div className={open ? "pointer-events-none grow opacity-40" : "grow"}>
          <NumberField
            label={side === "from" ? "From" : "To"}
            {...{ unit }}
            slider={range}
            value={value ?? range[side === "from" ? 0 : 1]}
            onPreview={(number) => onPreview({ ...term, [side]: number })}
            onCommit={(number) => onCommit({ ...term, [side]: number })}
          />
        </div>
      </div>
    );
  };
  const soft = (side: "soft_from" | "soft_to", label: string) => (
    <div className="pl-5">
      <NumberField
        {...{ label, unit }}
        slider={[0, span / 2]}
        value={term[side]}
        onPreview={(number) => onPreview({ ...term, [side]: number })}
        onCommit={(number) => onCommit({ ...term, [side]: number })}
      />
    </div>
  );
  return (
    <div className="border-base-300 bg-base-100 space-y-1 rounded border p-1.5">
      <div className="flex items-center gap-1">
        {!first && (
          <select
            className="select select-xs w-24"
            aria-label="How it joins the readings before it"
            value={term.join}
            onChange={(event) => onCommit({ ...term, join: event.target.value as Term["join"] })}
          >
            {JOINS.map((join) => (
              <option key={join}>{join}</option>
            ))}
          </select>
        )}
        <select
          className="select select-xs grow"
          aria-label="Reading"
          value={name}
          onChange={(event) => {
            const next = READINGS[event.target.value];
            if (next) {
              const [low, high] = next.range;
              const to = low + (high - low) / 2;
              const soft = (high - low) / 10;
              onCommit({ ...term, of: next.make(), from: null, to, soft_from: 0, soft_to: soft });
            }
          }}
        >
          {offered.map((reading) => (
            <option key={reading} value={reading}>
              {READINGS[reading]?.label}
            </option>
          ))}
        </select>
        <label className="flex items-center gap-1 text-xs">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={term.invert}
            onChange={(event) => onCommit({ ...term, invert: event.target.checked })}
          />
          invert
        </label>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label="Remove this reading"
          onClick={onRemove}
        >
          <Trash2 size={13} />
        </button>
      </div>
      {typeof term.of === "object" && "facing" in term.of && (
        <NumberField
          label="Bearing"
          unit="°"
          slider={[0, 360]}
          value={term.of.facing.bearing_deg}
          onPreview={(bearing_deg) => onPreview({ ...term, of: { facing: { bearing_deg } } })}
          onCommit={(bearing_deg) => onCommit({ ...term, of: { facing: { bearing_deg } } })}
        />
      )}
      {typeof term.of === "object" && "river" in term.of && (
        <NumberField
          label="Order from"
          slider={[1, 6]}
          whole
          value={term.of.river.least_order}
          onPreview={(least_order) => onPreview({ ...term, of: { river: { least_order } } })}
          onCommit={(least_order) => onCommit({ ...term, of: { river: { least_order } } })}
        />
      )}
      {typeof term.of === "object" && "noise" in term.of && (
        <NoiseOf noise={term.of.noise} {...{ term, onPreview, onCommit }} />
      )}
      {end("from")}
      {soft("soft_from", "rises over")}
      {end("to")}
      {soft("soft_to", "fades over")}
    </div>
  );
}

interface NoiseProps extends Pick<Props, "term" | "onPreview" | "onCommit"> {
  noise: { feature_m: number; seed: number };
}

function NoiseOf({ noise, term, onPreview, onCommit }: NoiseProps) {
  const withNoise = (change: Partial<typeof noise>): Term => ({
    ...term,
    of: { noise: { ...noise, ...change } },
  });
  return (
    <>
      <NumberField
        label="Feature"
        unit="m"
        slider={[10, 5000]}
        log
        value={noise.feature_m}
        onPreview={(feature_m) => onPreview(withNoise({ feature_m }))}
        onCommit={(feature_m) => onCommit(withNoise({ feature_m }))}
      />
      <NumberField
        label="Seed"
        slider={[0, 99]}
        whole
        value={noise.seed}
        onPreview={(seed) => onPreview(withNoise({ seed }))}
        onCommit={(seed) => onCommit(withNoise({ seed }))}
      />
    </>
  );
}
