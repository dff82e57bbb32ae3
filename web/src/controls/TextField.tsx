interface Props {
  label: string;
  value: string;
  /** It has several lines. */
  long?: boolean;
  hint?: string;
  testId?: string;
  onCommit: (value: string) => void;
}

/** A text, kept when one leaves it or presses Enter. */
export function TextField({ label, value, long, hint, testId, onCommit }: Props) {
  const leave = (typed: string) => {
    if (typed.trim() !== value) onCommit(typed.trim());
  };
  return (
    <label
      className={`grid gap-2 text-xs ${long ? "" : "grid-cols-[5.5rem_1fr] items-center"}`}
      title={hint}
    >
      {label}
      {long ? (
        <textarea
          className="textarea textarea-xs w-full"
          rows={3}
          key={value}
          defaultValue={value}
          data-testid={testId}
          onBlur={(event) => leave(event.target.value)}
        />
      ) : (
        <input
          className="input input-xs w-full"
          key={value}
          defaultValue={value}
          data-testid={testId}
          onBlur={(event) => leave(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter") event.currentTarget.blur();
          }}
        />
      )}
    </label>
  );
}
