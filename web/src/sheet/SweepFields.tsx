import { COUNTS, type SweepPlan } from "./sweep";

interface Props {
  label: string;
  /** Parameters and what they are called. */
  numbers: [string, string][];
  sweep: SweepPlan | null;
  onChange: (sweep: SweepPlan) => void;
}

/** Which parameter is swept, over what range, in how many steps. */
export function SweepFields({ label, numbers, sweep, onChange }: Props) {
  if (!sweep) return null;
  const end = (side: "low" | "high") => (
    <input
      type="number"
      className="input input-xs w-20"
      aria-label={`${label}, ${side === "low" ? "from" : "to"}`}
      value={sweep[side]}
      onChange={(event) => onChange({ ...sweep, [side]: Number(event.target.value) })}
    />
  );
  return (
    <span className="flex items-center gap-1 text-xs">
      {label}
      <select
        className="select select-xs w-28"
        aria-label={`${label}, parameter`}
        value={sweep.parameter}
        onChange={(event) => onChange({ ...sweep, parameter: event.target.value })}
      >
        {numbers.map(([name, title]) => (
          <option key={name} value={name}>
            {title}
          </option>
        ))}
      </select>
      {end("low")} to {end("high")}
      <select
        className="select select-xs w-16"
        aria-label={`${label}, how many`}
        value={sweep.count}
        onChange={(event) => onChange({ ...sweep, count: Number(event.target.value) })}
      >
        {COUNTS.map((count) => (
          <option key={count}>{count}</option>
        ))}
      </select>
    </span>
  );
}
