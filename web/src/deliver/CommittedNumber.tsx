import { useState } from "react";

interface Props {
  label: string;
  test: string;
  value: number | null;
  min: number;
  max: number;
  /** Whether it may be left empty, and what that means. */
  empty?: string;
  /** Any number, not only whole ones. */
  any?: boolean;
  unit?: string;
  onChange: (value: number | null) => void;
}

/** A number that counts once it is complete: with Enter, or when the field is left. */
export function CommittedNumber(props: Props) {
  const { label, test, value, min, max, empty, any, unit, onChange } = props;
  const [typed, setTyped] = useState<string | null>(null);
  const commit = () => {
    if (typed === null) return;
    setTyped(null);
    if (typed.trim() === "") {
      if (empty !== undefined) onChange(null);
      return;
    }
    const number = Number(typed);
    if (!Number.isFinite(number)) return;
    const bounded = Math.min(max, Math.max(min, number));
    onChange(any ? bounded : Math.round(bounded));
  };
  return (
    <label className="flex items-center gap-2 text-sm">
      {label}
      <input
        type="text"
        inputMode="decimal"
        className="input input-sm w-24"
        data-testid={test}
        placeholder={empty}
        value={typed ?? (value === null ? "" : String(value))}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={commit}
        onKeyDown={(event) => event.key === "Enter" && commit()}
      />
      {unit}
    </label>
  );
}
