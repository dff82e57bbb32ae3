import type { Deliverable } from "./useLayers";

interface Props {
  known: Deliverable[];
  chosen: string[];
  onChange: (chosen: string[]) => void;
}

/** Which files: all that this land has, to be ticked. */
export function LayerList({ known, chosen, onChange }: Props) {
  return (
    <fieldset className="grid gap-x-4 gap-y-1.5 sm:grid-cols-2">
      <legend className="mb-1 text-sm font-medium">Files</legend>
      <div className="flex gap-2 sm:col-span-2">
        <button
          type="button"
          className="btn btn-xs"
          data-testid="layers-all"
          onClick={() => onChange(known.map(({ name }) => name))}
        >
          All
        </button>
        <button
          type="button"
          className="btn btn-xs"
          data-testid="layers-none"
          onClick={() => onChange([])}
        >
          None
        </button>
      </div>
      {known.map(({ name, title }) => (
        <label key={name} className="flex min-h-6 items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="checkbox checkbox-sm checkbox-primary"
            data-testid={`layer-${name}`}
            checked={chosen.includes(name)}
            onChange={(event) =>
              onChange(
                event.target.checked ? [...chosen, name] : chosen.filter((other) => other !== name),
              )
            }
          />
          {title}
        </label>
      ))}
    </fieldset>
  );
}
