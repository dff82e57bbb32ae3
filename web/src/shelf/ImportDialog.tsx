import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { answered, api } from "../api/client";
import type { Imported, NewLandscape } from "../api/types";
import { ChoiceField } from "../controls/ChoiceField";
import { NumberField } from "../controls/NumberField";
import { formatNumber, formatSize } from "../controls/units";
import { Working } from "../controls/Working";
import { CELL_M, create, isRaw, nameOf, upload, WHITE_M } from "./importFile";

interface Props {
  file: File;
  onClose: () => void;
}

/** What a file with heights becomes: how large, how high, with what edges; shown before
 * anything is kept. */
export function ImportDialog({ file, onClose }: Props) {
  const dialog = useRef<HTMLDialogElement>(null);
  const raw = isRaw(file);
  const [cols, setCols] = useState<number>();
  const { data: found, error } = useQuery({
    queryKey: ["import", file.name, file.size, file.lastModified, cols],
    queryFn: () => upload(file, cols),
    retry: false,
    staleTime: Infinity,
  });
  useEffect(() => dialog.current?.showModal(), []);
  useEffect(() => {
    // Of a raw file the artist may know what it does not say.
    if (!error || raw) return;
    toast.error(`${file.name}: ${error.message}`, { duration: 10_000 });
    onClose();
  }, [error, file, onClose, raw]);
  return (
    <dialog ref={dialog} className="modal" aria-label="Import heights" onClose={onClose}>
      <div className="modal-box max-w-3xl space-y-3">
        <h2 className="text-lg font-semibold">Import {file.name}</h2>
        {raw && (
          <NumberField
            label="Steps in a row"
            hint="A raw file does not say: steps of 16 bits, the lower byte first"
            min={1}
            max={65_536}
            whole
            slider={[16, 8192]}
            log
            testId="import-cols"
            value={cols ?? found?.cols ?? Math.floor(Math.sqrt(file.size / 2))}
            onCommit={setCols}
          />
        )}
        {error && raw && <RawUnread {...{ error, onClose }} />}
        {found && <Choices key={found.id} {...{ file, found, onClose }} />}
        {!found && !error && <Working what="Reading the file" onStop={onClose} />}
      </div>
    </dialog>
  );
}

/** A raw file whose rows are not as long as was thought. */
function RawUnread({ error, onClose }: { error: Error; onClose: () => void }) {
  return (
    <>
      <p className="text-error text-sm" role="alert" data-testid="import-wrong">
        {error.message}
      </p>
      <div className="flex justify-end">
        <button type="button" className="btn btn-sm" onClick={onClose}>
          Cancel
        </button>
      </div>
    </>
  );
}

const CHANNELS = ["red", "green", "blue"];
const EDGES = [
  { value: "as_they_are", hint: "The land ends where the file does" },
  { value: "sunk", hint: "The land sinks into the sea towards its border" },
];

function Choices({ file, found, onClose }: Props & { found: Imported }) {
  const navigate = useNavigate();
  const grey = found.white === null || found.white === undefined;
  const colour = found.channels > 2;
  const [name, setName] = useState(nameOf(file));
  const [cell, setCell] = useState(found.width_m ? found.width_m / found.cols : CELL_M);
  const [black, setBlack] = useState(0);
  const [white, setWhite] = useState(WHITE_M);
  const [scale, setScale] = useState(1);
  const [channel, setChannel] = useState(0);
  const [edges, setEdges] = useState("as_they_are");
  const [ground, setGround] = useState(false);
  // Cells that are not square stay so.
  const shape =
    found.width_m && found.depth_m ? found.depth_m / found.rows / (found.width_m / found.cols) : 1;
  const size = { width_m: found.cols * cell, depth_m: found.rows * cell * shape };
  const made: NewLandscape = {
    name: name.trim() || nameOf(file),
    start: {
      heightfield: {
        asset: found.id,
        ...size,
        channel,
        scale: grey ? scale : (white - black) / (found.white ?? 1),
        lift_m: grey ? 0 : black,
        sinks: edges === "sunk",
        ground,
        georeference:
          found.width_m && cell * found.cols === found.width_m ? found.georeference : null,
      },
    },
  };
  const keep = useMutation({
    mutationFn: () => create(made),
    onSuccess: (id) => navigate(`/landscapes/${id}`),
    onError: (failure) => toast.error(failure.message, { duration: 10_000 }),
  });
  return (
    <form
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <div className="grid gap-4 sm:grid-cols-2">
        <Preview made={made} />
        <div className="space-y-1.5">
          <p className="text-base-content/80 text-xs">
            {found.format}, {found.cols} × {found.rows} cells
            {grey ? `, ${formatNumber(found.low)} to ${formatNumber(found.high)} in the file` : ""}
            {found.place ? `, ${found.place}` : ""}
          </p>
          <label className="grid grid-cols-[5.5rem_1fr] items-center gap-2 text-xs">
            Name
            <input
              className="input input-xs w-full"
              value={name}
              data-testid="import-name"
              onChange={(event) => setName(event.target.value)}
            />
          </label>
          <NumberField
            label="Cell size"
            hint="Side of a cell of the file, from west to east"
            unit="m"
            min={0.01}
            max={10_000}
            slider={[0.5, 100]}
            log
            testId="import-cell"
            value={cell}
            onCommit={setCell}
          />
          <p className="text-base-content/80 text-xs" data-testid="import-size">
            {formatSize(size.width_m, size.depth_m)}
          </p>
          {colour && (
            <ChoiceField
              label="Channel"
              testId="import-channel"
              value={CHANNELS[channel] ?? "red"}
              choices={CHANNELS.map((value) => ({ value }))}
              onCommit={(chosen) => setChannel(CHANNELS.indexOf(chosen))}
            />
          )}
          {grey ? (
            <NumberField
              label="A unit is"
              hint="Metres for each unit in the file: 1 for models in metres, 0.3048 for feet"
              unit="m"
              min={-10_000}
              max={10_000}
              slider={[0, 4]}
              standard={1}
              testId="import-scale"
              value={scale}
              onCommit={setScale}
            />
          ) : (
            <>
              <NumberField
                label="Black is"
                unit="m"
                min={-20_000}
                max={20_000}
                slider={[-500, 2000]}
                testId="import-black"
                value={black}
                onCommit={setBlack}
              />
              <NumberField
                label="White is"
                unit="m"
                min={-20_000}
                max={20_000}
                slider={[0, 4000]}
                testId="import-white"
                value={white}
                onCommit={setWhite}
              />
            </>
          )}
          <ChoiceField
            label="Edges"
            testId="import-edges"
            value={edges}
            choices={EDGES}
            onCommit={setEdges}
          />
          <label className="flex items-center gap-2 text-xs">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              data-testid="import-ground"
              checked={ground}
              onChange={(event) => setGround(event.target.checked)}
            />
            Lay a first ground: rock, grass, snow
          </label>
        </div>
      </div>
      <div className="flex justify-end gap-2">
        <button type="button" className="btn btn-sm" onClick={onClose}>
          Cancel
        </button>
        <button
          type="submit"
          className="btn btn-primary btn-sm"
          disabled={keep.isPending}
          data-testid="import-keep"
        >
          Import
        </button>
      </div>
    </form>
  );
}

/** What would be made. */
function Preview({ made }: { made: NewLandscape }) {
  const { data, error, isFetching } = useQuery<string>({
    queryKey: ["preview", made.start],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: async ({ signal }): Promise<string> => {
      const picture = await answered(
        api.POST("/api/preview.png", { body: made, parseAs: "blob", signal }),
      );
      return URL.createObjectURL(picture as unknown as Blob);
    },
  });
  return (
    <figure className="bg-base-300 relative grid min-h-40 place-items-center rounded">
      {data && (
        <img
          src={data}
          alt="What would be made"
          className="w-full rounded"
          data-testid="import-preview"
        />
      )}
      <figcaption className="absolute bottom-1 left-2 text-xs">
        {error && <span className="text-error">{error.message}</span>}
        {isFetching && <Working what="growing" />}
      </figcaption>
    </figure>
  );
}
