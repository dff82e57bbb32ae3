import { useState } from "react";
import type { Target, Wish } from "../api/types";
import { useMoments } from "../api/useMoments";
import { useSession } from "../live/session";
import { asWish, choiceOf, MESH, USUAL, type Choice } from "./choice";
import { CommittedNumber } from "./CommittedNumber";
import { EarlierExports } from "./EarlierExports";
import { ExportRun } from "./ExportRun";
import { Findings, OutlookLines } from "./Findings";
import { LayerList } from "./LayerList";
import { MapFields } from "./MapFields";
import { MeshFields } from "./MeshFields";
import { trianglesOf } from "./meshChoice";
import { MeshPictures } from "./MeshPictures";
import { PackedFields } from "./PackedFields";
import { Select } from "./Select";
import { TargetPicker } from "./TargetPicker";
import { useCheck } from "./useCheck";
import { useExport } from "./useExport";
import { useLayers } from "./useLayers";

const SIZES = [256, 512, 1024, 2048, 4096, 8192, 16384];
const TILES = [128, 256, 512, 1024, 2048, 4096];
const MOST_CELLS = 16_384;

/** Sizes to choose from: powers of two, these and one, and what is chosen now. */
function sizes(now: number): number[] {
  const plusOne = SIZES.map((size) => size + 1).filter((size) => size <= MOST_CELLS);
  return [...new Set([...SIZES, ...plusOne, now])].sort((a, b) => a - b);
}

/** Files for other software: for what, how large, which, and the way to them. */
export function DeliverPanel() {
  const landscape = useSession((state) => state.landscape);
  const [target, setTarget] = useState<Target | null>(null);
  const [choice, setChoice] = useState<Choice>(USUAL);
  const [revision, setRevision] = useState<number | null>(null);
  const known = useLayers();
  const moments = useMoments(landscape) ?? [];
  const usual = known.filter((layer) => layer.usual).map(({ name }) => name);
  const wish = asWish(choice, usual);
  const checked = useCheck(wish, target, revision);
  const job = useExport();
  const set = (part: Partial<Choice>) => setChoice((before) => ({ ...before, ...part }));
  const take = (wish: Wish) => setChoice((before) => choiceOf(wish, before));
  const { cells, tile, packed, mesh } = choice;
  const hasMesh = wish.layers.includes(MESH);
  const outlook = checked?.outlook;

  return (
    <section className="@container overflow-y-auto px-9 py-6" aria-label="Deliver">
      <div className="mx-auto grid max-w-5xl gap-x-8 gap-y-4 @min-[52rem]:grid-cols-[1fr_19rem]">
        <div className="space-y-4">
          <h2 className="text-lg font-semibold">Deliver</h2>
          <TargetPicker
            chosen={target?.name ?? null}
            wish={wish}
            onChoose={(target) => {
              setTarget(target);
              if (target?.wish) take(target.wish);
            }}
          />
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
          <div className="flex flex-wrap gap-x-6 gap-y-2">
            <Select
              label="Cells along the longer side"
              test="export-cells"
              value={cells}
              options={sizes(cells).map((size) => [size, String(size)])}
              onChange={(cells) => set({ cells })}
            />
            <CommittedNumber
              label="or"
              test="export-cells-typed"
              value={cells}
              min={2}
              max={MOST_CELLS}
              onChange={(cells) => cells !== null && set({ cells })}
            />
            <Select
              label="Maps"
              test="export-tile"
              value={tile}
              options={[
                [null, "in one file each"],
                ...TILES.filter((side) => side < cells || side === tile).map(
                  (side): [number, string] => [side, `in tiles of ${side} cells`],
                ),
              ]}
              onChange={(tile) => set({ tile })}
            />
          </div>
          <MapFields choice={choice} layers={wish.layers} onChange={set} />
          <LayerList
            known={known}
            chosen={wish.layers}
            onChange={(chosen) => set({ layers: chosen })}
          />
          <PackedFields packed={packed} known={known} onChange={(packed) => set({ packed })} />
          {hasMesh && <MeshFields wish={mesh} known={known} onChange={(mesh) => set({ mesh })} />}
        </div>
        <aside className="space-y-4 self-start @min-[52rem]:sticky @min-[52rem]:top-0">
          {outlook && (
            <OutlookLines
              outlook={outlook}
              triangles={hasMesh ? trianglesOf(mesh, outlook.cols, outlook.rows) : null}
            />
          )}
          {hasMesh && <MeshPictures choice={mesh} cells={cells} revision={revision} />}
          <Findings findings={checked?.findings ?? []} onFix={take} />
          <ExportRun of={job} wish={wish} revision={revision} />
          {landscape && (
            <EarlierExports
              landscape={landscape}
              newest={job.status?.state === "done" ? job.job : null}
            />
          )}
        </aside>
      </div>
    </section>
  );
}
