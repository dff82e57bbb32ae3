import { labelOf } from "./schema";

interface Props {
  label: string;
  value: string;
  hint?: string;
  choices: { value: string; hint?: string }[];
  onCommit: (value: string) => void;
}

/** One of a few words. */
export function ChoiceField({ label, value, hint, choices, onCommit }: Props) {
  return (
    <label className="grid grid-cols-[6.5rem_1fr] items-center gap-2" title={hint}>
      <span className="truncate text-xs">{label}</span>
      <select
        className="select select-xs w-full"
        aria-label={label}
        value={value}
        onChange={(event) => onCommit(event.target.value)}
      >
        {choices.map((choice) => (
          <option key={choice.value} value={choice.value} title={choice.hint}>
            {labelOf(choice.value)}
          </option>
        ))}
      </select>
    </label>
  );
}
