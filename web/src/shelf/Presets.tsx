import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";
import type { PresetEntry } from "../api/types";
import { GrownPicture } from "../controls/GrownPicture";

interface Props {
  onChoose: (title: string, key: string) => void;
}

/** Whole landscapes to begin with: kinds of country, and examples of one job each. */
export function Presets({ onChoose }: Props) {
  const { data } = useQuery({
    queryKey: ["presets"],
    queryFn: () => answered(api.GET("/api/presets")),
    staleTime: Infinity,
  });
  if (!data) return null;
  return (
    <>
      <Row
        title="Begin with a landscape"
        presets={data.filter((preset) => !preset.example)}
        columns="grid-cols-2 sm:grid-cols-4"
        onChoose={onChoose}
      />
      <Row
        title="Examples, one for each job"
        presets={data.filter((preset) => preset.example)}
        columns="grid-cols-3 sm:grid-cols-9"
        small
        onChoose={onChoose}
      />
    </>
  );
}

interface RowProps extends Props {
  title: string;
  presets: PresetEntry[];
  columns: string;
  small?: boolean;
}

function Row({ title, presets, columns, small, onChoose }: RowProps) {
  return (
    <section aria-label={title}>
      <h2 className="pb-1 text-sm font-semibold">{title}</h2>
      <ul className={`grid gap-2 ${columns}`}>
        {presets.map((preset) => (
          <li key={preset.key}>
            <button
              type="button"
              className="border-base-300 bg-base-100 hover:border-primary flex h-full w-full flex-col overflow-hidden rounded border text-left"
              title={preset.about}
              data-testid={`preset-${preset.key}`}
              onClick={() => onChoose(preset.title, preset.key)}
            >
              <GrownPicture
                src={`/api/presets/${preset.key}/picture.png`}
                className={`bg-base-300 w-full object-cover ${small ? "h-14" : "h-24"}`}
              />
              <span className="block px-1.5 py-1 text-xs font-medium">{preset.title}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
