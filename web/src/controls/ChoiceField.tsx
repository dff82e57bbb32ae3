import { labelOf } from "./schema";

interface Props {
  label: string;
  value: string;
  hint?: string;
  testId?: string;
  /** The choices; a plain one is shown as it is written. */
  choices: { value: string; hint?: string; plain?: boolean }[];
  onCommit: (value: string) => void;
}

/** One of a few words. */
export function ChoiceField({ label, value, hint, testId, choices, onCommit }: Props) {
  return (
    <label className="grid grid-cols-[6.5rem_1fr] items-center gap-2" title={hint}>
      <span className="truncate text-xs">{label}</span>
      <select
        className="select select-xs w-full"
        aria-label={label}
        data-testid={testId}
        value={value}
        onChange={(event) => onCommit(event.target.value)}
      >
        {!choices.some((choice) => choice.value === value) && <option value={value}>—</option>}
        {choices.map((choice) => (
          <option key={choice.value} value={choice.value} title={choice.hint}>
            {choice.plain ? choice.value || choice.hint : labelOf(choice.value)}
          </option>
        ))}
      </select>
    </label>
  );
}
