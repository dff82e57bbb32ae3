import { useQuery } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import { answered, api } from "../api/client";
import type { ExportStatus } from "../api/types";
import { useCatalogue } from "../api/useCatalogue";
import { useKinds } from "../api/useKinds";
import { productsOf } from "../live/products";
import { Estimator } from "../live/progress";
import { LAND, useRecipe } from "../live/recipe";
import { useSession } from "../live/session";

const SIZES = [256, 512, 1024, 2048, 4096, 8192, 16384];
const TILES = [128, 256, 512, 1024, 2048, 4096];
const POLL_MS = 250;

/** Whether an export waits for its turn or is being made. */
function isGoingOn(status: ExportStatus | undefined): boolean {
  return status?.state === "queued" || status?.state === "running";
}

/** What can be delivered of this land: with what its steps leave, by field. */
function useLayers(): { name: string; title: string }[] {
  const { layers, fields } = useCatalogue();
  const kinds = useKinds();
  const steps = useRecipe()?.strands.find((strand) => strand.name === LAND)?.steps ?? [];
  const left = productsOf(
    steps.filter((step) => step.on ?? true),
    kinds,
  );
  const maps = fields.filter(({ name }) => left.includes(name));
  return [...layers, ...maps.map(({ name, title }) => ({ name, title: `${title}, GeoTIFF` }))];
}

/** Files for other software: what, how large, and the way to them. */
export function DeliverPanel() {
  const landscape = useSession((state) => state.landscape);
  const [cells, setCells] = useState(1024);
  const [tile, setTile] = useState<number | null>(null);
  const known = useLayers();
  // What is not wanted.
  const [left, setLeft] = useState<string[]>([]);
  const layers = known.map(({ name }) => name).filter((name) => !left.includes(name));
  const [job, setJob] = useState<string | null>(null);
  const [estimator] = useState(() => new Estimator());
  const status = useQuery({
    queryKey: ["export", job],
    enabled: job !== null,
    queryFn: async () => {
      const params = { path: { id: job ?? "" } };
      const found = await answered(api.GET("/api/exports/{id}", { params }));
      return { ...found, secondsLeft: estimator.secondsLeft(params.path.id, found.share) };
    },
    refetchInterval: (query) => (isGoingOn(query.state.data) ? POLL_MS : false),
  });
  const running = isGoingOn(status.data);
  const secondsLeft = running ? (status.data?.secondsLeft ?? null) : null;

  const begin = async () => {
    if (!landscape) return;
    try {
      const path = { path: { id: landscape } };
      const body = { cells, tile, layers };
      const { id } = await answered(
        api.POST("/api/landscapes/{id}/exports", { params: path, body }),
      );
      setJob(id);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : String(error));
    }
  };
  const stop = () => job && api.DELETE("/api/exports/{id}", { params: { path: { id: job } } });

  return (
    <section className="mx-auto max-w-2xl space-y-4 overflow-y-auto p-6" aria-label="Deliver">
      <h2 className="text-lg font-semibold">Deliver</h2>
      <label className="flex items-center gap-3 text-sm">
        Cells along the longer side
        <select
          className="select select-sm w-28"
          value={cells}
          data-testid="export-cells"
          onChange={(event) => setCells(Number(event.target.value))}
        >
          {SIZES.map((size) => (
            <option key={size} value={size}>
              {size}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-3 text-sm">
        Maps
        <select
          className="select select-sm w-52"
          value={tile ?? ""}
          data-testid="export-tile"
          onChange={(event) => setTile(event.target.value ? Number(event.target.value) : null)}
        >
          <option value="">in one file each</option>
          {TILES.filter((side) => side < cells).map((side) => (
            <option key={side} value={side}>
              in tiles of {side} cells
            </option>
          ))}
        </select>
      </label>
      <fieldset className="grid gap-1.5">
        <legend className="mb-1 text-sm font-medium">Files</legend>
        {known.map(({ name, title }) => (
          <label key={name} className="flex min-h-6 items-center gap-2 text-sm">
            <input
              type="checkbox"
              className="checkbox checkbox-sm checkbox-primary"
              checked={layers.includes(name)}
              onChange={(event) =>
                setLeft(
                  event.target.checked ? left.filter((other) => other !== name) : [...left, name],
                )
              }
            />
            {title}
          </label>
        ))}
      </fieldset>
      <div className="flex items-center gap-3">
        <button
          type="button"
          className="btn btn-primary btn-sm"
          disabled={running || layers.length === 0}
          data-testid="export-begin"
          onClick={() => void begin()}
        >
          Export
        </button>
        {running && (
          <>
            <progress
              className="progress progress-primary w-56"
              aria-label="Progress of the export"
              value={status.data?.share}
              max={1}
            />
            {status.data?.state === "queued" && <span role="status">waits for its turn</span>}
            {secondsLeft !== null && (
              <span role="status" data-testid="export-left">
                about {secondsLeft} s left
              </span>
            )}
            <button type="button" className="btn btn-ghost btn-sm" onClick={() => void stop()}>
              Stop
            </button>
          </>
        )}
        {status.data?.state === "done" && (
          <a
            className="btn btn-sm"
            href={`/api/exports/${job}/file`}
            download
            data-testid="export-download"
          >
            <Download size={15} /> Download
          </a>
        )}
        {status.data?.state === "stopped" && <span role="status">Stopped. Nothing was kept.</span>}
        {status.data?.state === "failed" && (
          <span className="text-error" role="alert">
            {status.data.message}
          </span>
        )}
      </div>
    </section>
  );
}
