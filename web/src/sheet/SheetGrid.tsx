import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { Star } from "lucide-react";
import { useState } from "react";
import { answered, api } from "../api/client";
import type { Step } from "../api/types";
import { formatNumber } from "../controls/units";
import { Working } from "../controls/Working";
import { commitValue } from "../live/edit";
import { findStep, operationOf } from "../live/recipe";
import { useSession } from "../live/session";
import { changeView } from "../studio/view";
import { keepFavourite } from "./favourites";
import { counted } from "../controls/units";

interface Sweep {
  step: string;
  parameter: string;
  values: number[];
}

interface Props {
  step: Step;
  sweeps: Sweep[];
  shapeOnly: boolean;
  /** Columns, when two parameters are swept. */
  across: number | undefined;
  /** The values that the step has now. */
  current: unknown[];
}

const CELLS = 128;
const CLOSER_CELLS = 256;
const MOST = 25;

/** The variants, all under the same light. */
export function SheetGrid({ step, sweeps, shapeOnly, across, current }: Props) {
  const landscape = useSession((state) => state.landscape) ?? "";
  const revision = useSession((state) => state.head?.revision);
  const client = useQueryClient();
  const [closer, setCloser] = useState<number[] | null>(null);
  const count = sweeps.reduce((product, sweep) => product * sweep.values.length, 1);
  const params = { path: { id: landscape } };
  const { data, error, isFetching } = useQuery({
    queryKey: ["sheet", landscape, revision, sweeps, shapeOnly],
    enabled: count <= MOST,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    queryFn: ({ signal }) => {
      const body = { sweeps: sweeps as never, cells: CELLS, shape_only: shapeOnly };
      return answered(api.POST("/api/landscapes/{id}/sheet", { params, body, signal }));
    },
  });
  const large = useQuery({
    queryKey: ["closer", landscape, revision, sweeps, shapeOnly, closer],
    enabled: closer !== null,
    queryFn: ({ signal }) => {
      const one = sweeps.map((sweep, i) => ({ ...sweep, values: [closer?.[i] ?? 0] }));
      const body = { sweeps: one as never, cells: CLOSER_CELLS, shape_only: shapeOnly };
      return answered(api.POST("/api/landscapes/{id}/sheet", { params, body, signal }));
    },
  });
  const named = (values: unknown[]) =>
    Object.fromEntries(sweeps.map((sweep, k) => [sweep.parameter, values[k]]));
  const adopt = (values: unknown[]) => {
    changeView({ sheetOf: null });
    void commitValue((draft) => {
      const target = findStep(draft, step.id);
      if (!target) return;
      Object.assign(operationOf(target)[1], named(values));
    });
  };
  if (count > MOST) return <p className="text-sm">A sheet has at most {MOST} variants.</p>;
  if (error) return <p className="text-error text-sm">{error.message}</p>;
  const stop = () => void client.cancelQueries({ queryKey: ["sheet", landscape] });
  if (!data && isFetching)
    return <Working what={`Growing ${counted(count, "variant")}`} onStop={stop} />;
  if (!data) return <p className="text-sm">Stopped. Change a range to grow another sheet.</p>;
  const columns = across ?? Math.ceil(Math.sqrt(data.variants.length));
  return (
    <div className="min-h-0 grow overflow-y-auto">
      <ul
        className="grid gap-1.5"
        style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}
        data-testid="sheet"
      >
        {data.variants.map((variant, i) => {
          const values = variant.values as unknown as number[];
          const isCurrent = values.every((value, k) => value === current[k]);
          return (
            <li key={i} className={isCurrent ? "outline-primary outline-2" : ""}>
              <button
                type="button"
                className="block w-full"
                title="Look closer"
                data-testid={`variant-${i}`}
                onClick={() => setCloser(values)}
              >
                <img src={variant.picture} alt="" className="w-full" />
              </button>
              <p className="flex items-center justify-between text-xs">
                {values.map((value) => formatNumber(value)).join(" · ")}
                <button
                  type="button"
                  className="btn btn-ghost btn-xs btn-square ml-auto"
                  aria-label="Put it into the tray"
                  title="Put it into the tray, to cross or adopt later"
                  data-testid={`keep-${i}`}
                  onClick={() =>
                    keepFavourite(landscape, {
                      steps: { [step.id]: { ...operationOf(step)[1], ...named(values) } },
                      picture: variant.picture,
                    })
                  }
                >
                  <Star size={12} />
                </button>
                <button
                  type="button"
                  className="btn btn-ghost btn-xs"
                  data-testid={`adopt-${i}`}
                  onClick={() => adopt(values)}
                >
                  Adopt
                </button>
              </p>
            </li>
          );
        })}
      </ul>
      <div className="text-base-content/80 pt-1 text-xs" data-testid="sheet-took">
        {isFetching ? (
          <Working what="growing" onStop={stop} />
        ) : (
          `${counted(data.variants.length, "variant")} in ${Math.round(data.took_ms)} ms`
        )}
      </div>
      {closer && (
        <div className="bg-base-100 absolute inset-4 z-10 flex flex-col gap-2 rounded p-3 shadow">
          <img
            src={large.data?.variants[0]?.picture ?? ""}
            alt="The variant, larger"
            className="min-h-0 grow object-contain"
          />
          <div className="flex justify-end gap-2">
            <button type="button" className="btn btn-sm" onClick={() => setCloser(null)}>
              Back
            </button>
            <button
              type="button"
              className="btn btn-primary btn-sm"
              data-testid="adopt-closer"
              onClick={() => adopt(closer)}
            >
              Adopt
            </button>
          </div>
        </div>
      )}
    </div>
  );
}
