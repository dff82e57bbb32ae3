interface Props<T extends string | number | null> {
  label: string;
  test: string;
  value: T;
  options: [T, string][];
  onChange: (value: T) => void;
}

/** One of a few, with its label. */
export function Select<T extends string | number | null>(props: Props<T>) {
  const { label, test, value, options, onChange } = props;
  const written = (option: T) => String(option ?? "");
  return (
    <label className="flex items-center gap-3 text-sm">
      {label}
      <select
        className="select select-sm w-auto pr-8"
        value={written(value)}
        data-testid={test}
        onChange={(event) => {
          const chosen = options.find(([option]) => written(option) === event.target.value);
          if (chosen) onChange(chosen[0]);
        }}
      >
        {options.map(([option, title]) => (
          <option key={written(option)} value={written(option)}>
            {title}
          </option>
        ))}
      </select>
    </label>
  );
}
