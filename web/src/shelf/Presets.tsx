import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";

/** Landscapes to begin with, each of a kind of country. */
export function Presets({ onChoose }: { onChoose: (title: string, key: string) => void }) {
  const { data } = useQuery({
    queryKey: ["presets"],
    queryFn: () => answered(api.GET("/api/presets")),
    staleTime: Infinity,
  });
  if (!data) return null;
  return (
    <section aria-label="Presets">
      <h2 className="pb-1 text-sm font-semibold">Begin with a kind of country</h2>
      <ul className="grid grid-cols-3 gap-2 sm:grid-cols-6">
        {data.map((preset) => (
          <li key={preset.key}>
            <button
              type="button"
              className="border-base-300 bg-base-100 hover:border-primary block h-full w-full overflow-hidden rounded border text-left"
              title={preset.about}
              data-testid={`preset-${preset.key}`}
              onClick={() => onChoose(preset.title, preset.key)}
            >
              <img
                src={`/api/presets/${preset.key}/picture.png`}
                alt=""
                className="bg-base-300 h-20 w-full object-cover"
              />
              <span className="block px-1.5 py-1 text-xs font-medium">{preset.title}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
