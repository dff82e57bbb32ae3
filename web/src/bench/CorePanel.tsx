import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";
import type { CoreSample } from "../api/types";
import { formatNumber, volume } from "../controls/units";
import { Working } from "../controls/Working";
import { useSession } from "../live/session";
import { changeView, useView } from "../studio/view";

/** The explanation of one place: what each step did there, and why this ground won. */
export function CorePanel() {
  const landscape = useSession((state) => state.landscape) ?? "";
  const revision = useSession((state) => state.head?.revision);
  const cells = useSession(({ now }) => (now ? Math.max(now.header.cols, now.header.rows) : 512));
  const place = useView((view) => view.core);
  const { data, error } = useQuery({
    queryKey: ["core", landscape, revision, cells, place],
    enabled: place !== null,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answered(
        api.GET("/api/landscapes/{id}/core", {
          params: {
            path: { id: landscape },
            query: { x_m: place?.x ?? 0, y_m: place?.y ?? 0, cells },
          },
          signal,
        }),
      ),
  });
  if (!place) {
    return (
      <p className="text-base-content/80 text-xs">
        Take the tool “Core” and click on the land: a log of what each step did there.
      </p>
    );
  }
  if (error) return <p className="text-error text-xs">{error.message}</p>;
  return data ? <Log sample={data} /> : <Working what="Drilling" />;
}

function Log({ sample }: { sample: CoreSample }) {
  const recipe = useSession((state) => state.head?.recipe);
  const most = Math.max(1e-6, ...sample.steps.map((step) => Math.abs(step.change_m)));
  return (
    <div className="space-y-2 text-xs" data-testid="core-log">
      <p>
        {Math.round(sample.x_m)} m E, {Math.round(sample.y_m)} m N ·{" "}
        <strong>{formatNumber(sample.height_m)} m</strong> · slope {formatNumber(sample.slope_deg)}°
      </p>
      <ol className="border-base-300 divide-base-300 flex flex-col-reverse divide-y divide-y-reverse border">
        {sample.steps.map((step) => (
          <li key={step.step} className={step.on ? "" : "opacity-50"}>
            <button
              type="button"
              className="hover:bg-base-200 block w-full p-1 text-left"
              data-testid={`core-${step.step}`}
              onClick={() => changeView({ openBand: step.step, strand: "land" })}
            >
              <span className="flex justify-between gap-2">
                <span className="truncate">{step.name}</span>
                <span>
                  {step.change_m >= 0 ? "+" : "−"}
                  {formatNumber(Math.abs(step.change_m))} m
                </span>
              </span>
              <span className="bg-base-200 relative block h-1.5">
                <span
                  className={`absolute h-full ${step.change_m >= 0 ? "bg-primary" : "bg-info"}`}
                  style={bar(step.change_m / most)}
                />
              </span>
              <span className="text-base-content/80 flex flex-wrap gap-x-2">
                <span>to {formatNumber(step.height_m)} m</span>
                {step.mask !== null && step.mask !== undefined && (
                  <span>mask {Math.round(100 * step.mask)} %</span>
                )}
                {step.traces.map((trace) => (
                  <span key={trace.trace}>
                    {trace.title} {formatNumber(trace.value)} {trace.unit}
                  </span>
                ))}
                {step.ledger && (
                  <span title="Over the whole land">
                    eroded {volume(step.ledger.worn_m3)}, deposited {volume(step.ledger.dropped_m3)}
                    , carried off {volume(step.ledger.carried_off_m3)}
                  </span>
                )}
              </span>
            </button>
          </li>
        ))}
      </ol>
      <h3 className="font-semibold">Ground</h3>
      <ul>
        {[...sample.ground].reverse().map((ground) => (
          <li key={ground.cover} className="flex items-center gap-1.5">
            <span
              className="border-base-300 h-3 w-4 rounded-sm border"
              style={{
                backgroundColor: recipe?.covers.find((cover) => cover.id === ground.cover)?.colour,
              }}
            />
            <span className="grow truncate">{ground.name}</span>
            <span className="text-base-content/80">mask {Math.round(100 * ground.mask)} %</span>
            <strong className="w-10 text-right">{Math.round(100 * ground.weight)} %</strong>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** A bar from the middle, to the right for up and to the left for down. */
function bar(share: number) {
  const width = 50 * Math.min(1, Math.abs(share));
  return { width: `${width}%`, left: share >= 0 ? "50%" : `${50 - width}%` };
}
