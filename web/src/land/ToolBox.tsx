const BOX = "flex min-h-6 items-center justify-between gap-2 text-xs";

interface ToggleProps {
  label: string;
  title: string;
  testId?: string;
  checked: boolean;
  onChange: (checked: boolean) => void;
}

/** Something over the land that is on or off. */
export function ToolToggle({ label, title, testId, checked, onChange }: ToggleProps) {
  return (
    <label className={BOX} title={title}>
      {label}
      <input
        type="checkbox"
        className="toggle toggle-xs"
        data-testid={testId}
        checked={checked}
        onChange={(event) => onChange(event.target.checked)}
      />
    </label>
  );
}

interface ChoiceProps {
  label: string;
  title?: string;
  /** What it is called where the label does not say enough. */
  name?: string;
  testId?: string;
  /** A class for its width. */
  width: string;
  value: string | number;
  /** Values and what they read. */
  options: (readonly [string | number, string])[];
  onChange: (value: string) => void;
}

/** A choice over the land. */
export function ToolChoice(props: ChoiceProps) {
  const { label, title, name, testId, width, value, options, onChange } = props;
  return (
    <label className={BOX} title={title}>
      {label}
      <select
        className={`select select-xs select-ghost h-5 ${width}`}
        aria-label={name}
        data-testid={testId}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      >
        {options.map(([value, text]) => (
          <option key={value} value={value}>
            {text}
          </option>
        ))}
      </select>
    </label>
  );
}
