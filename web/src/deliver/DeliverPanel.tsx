import { useQuery } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import { answered, api } from "../api/client";
import type { ExportStatus } from "../api/types";
import { useCatalogue } from "../api/useCatalogue";
import { useKinds } from "../api/useKinds";
import { useMoments } from "../api/useMoments";
import { productsOf } from "../live/products";
import { Estimator } from "../live/progress";
import { LAND, useRecipe } from "../live/recipe";
import { useSession } from "../live/session";
import { EarlierExports } from "./EarlierExports";
import { MeshFields } from "./MeshFields";
import { asOrder, trianglesOf, USUAL_MESH, type MeshWish } from "./meshWish";
import { Select } from "./Select";

const SIZES = [256, 512, 1024, 2048, 4096, 8192, 16384];
const TILES = [128, 256, 512, 1024, 2048, 4096];
const MESH = "mesh";
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
  const [left, setLeft] = useState<string[]>([MESH]);
  const [mesh, setMesh] = useState(USUAL_MESH);
  const [revision, setRevision] = useState<number | null>(null);
  const moments = useMoments(landscape) ?? [];
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
      const wish = layers.includes(MESH) ? asOrder(mesh) : null;
      const body = { cells, tile, layers, mesh: wish, revision };
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
      <Select
        label="The land"
        test="export-revision"
        value={revision}
        options={[
          [null, "as it is now"],
          ...moments.map(({ revision, name }): [number, string] => [
            revision,
            `${name} (revision ${revision})`,
          ]),
        ]}
        onChange={setRevision}
      />
      <Select
        label="Cells along the longer side"
        test="export-cells"
        value={cells}
        options={SIZES.map((size) => [size, String(size)])}
        onChange={setCells}
      />
      <Select
        label="Maps"
        test="export-tile"
        value={tile}
        options={[
          [null, "in one file each"],
          ...TILES.filter((side) => side < cells).map((side): [number, string] => [
            side,
            `in tiles of ${side} cells`,
          ]),
        ]}
        onChange={setTile}
      />
      <Size cells={cells} triangles={layers.includes(MESH) ? mesh : null} />
      <fieldset className="grid gap-x-4 gap-y-1.5 sm:grid-cols-2">
        <legend className="mb-1 text-sm font-medium">Files</legend>
        <div className="flex gap-2 sm:col-span-2">
          <button
            type="button"
            className="btn btn-xs"
            data-testid="layers-all"
            onClick={() => setLeft([])}
          >
            All
          </button>
          <button
            type="button"
            className="btn btn-xs"
            data-testid="layers-none"
            onClick={() => setLeft(known.map(({ name }) => name))}
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
      {layers.includes(MESH) && <MeshFields wish={mesh} onChange={setMesh} />}
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
      {landscape && (
        <EarlierExports landscape={landscape} newest={status.data?.state === "done" ? job : null} />
      )}
    </section>
  );
}

/** What comes of it: cells, their size, triangles. */
function Size({ cells, triangles }: { cells: number; triangles: MeshWish | null }) {
  const extent = useRecipe()?.extent;
  if (!extent) return null;
  const cell = Math.max(extent.width_m, extent.depth_m) / cells;
  const [cols, rows] = [Math.ceil(extent.width_m / cell), Math.ceil(extent.depth_m / cell)];
  const most = triangles && trianglesOf(triangles, cols, rows);
  return (
    <p className="text-base-content/80 text-sm tabular-nums" data-testid="export-size">
      {cols} × {rows} cells of {Number(cell.toPrecision(3))} m
      {most !== null && `, about ${most.toLocaleString("en")} triangles`}
    </p>
  );
}
