import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Copy, FileUp, Plus, Trash2 } from "lucide-react";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { toast } from "sonner";
import { answered, api } from "../api/client";
import type { ShelfEntry } from "../api/types";
import { formatLength } from "../controls/units";
import { create, HEIGHT_FILES, importFile } from "./importFile";
import { NewLandscape } from "./NewLandscape";
import { Presets } from "./Presets";

/** All landscapes. */
export function Shelf() {
  const navigate = useNavigate();
  const picker = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const [making, setMaking] = useState(false);
  const { data, error } = useQuery({
    queryKey: ["landscapes"],
    queryFn: () => answered(api.GET("/api/landscapes")),
  });
  const open = useMutation({
    mutationFn: (make: () => Promise<string>) => make(),
    onSuccess: (id) => navigate(`/landscapes/${id}`),
    onError: (failure) => toast.error(failure.message, { duration: 10_000 }),
  });
  const take = (file: File | undefined) => file && open.mutate(() => importFile(file));

  return (
    <main
      className={`h-full overflow-y-auto ${over ? "bg-primary/10" : ""}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        take(event.dataTransfer.files[0]);
      }}
    >
      <div className="mx-auto max-w-5xl space-y-5 p-8">
        <header className="flex items-end justify-between gap-4">
          <div>
            <h1 className="text-2xl font-semibold">Morphogen</h1>
            <p className="text-base-content/80">Landscapes that grow from recipes.</p>
          </div>
          <div className="flex gap-2">
            <input
              ref={picker}
              type="file"
              accept={`${HEIGHT_FILES},.json`}
              className="hidden"
              data-testid="file-picker"
              aria-label="File to import"
              onChange={(event) => {
                take(event.target.files?.[0]);
                event.target.value = "";
              }}
            />
            <button
              type="button"
              className="btn btn-sm"
              disabled={open.isPending}
              onClick={() => picker.current?.click()}
            >
              <FileUp size={15} /> Import
            </button>
            <button
              type="button"
              className="btn btn-primary btn-sm"
              disabled={open.isPending}
              data-testid="new-landscape"
              onClick={() => setMaking(true)}
            >
              <Plus size={15} /> New landscape
            </button>
          </div>
        </header>
        {making && (
          <NewLandscape
            onClose={() => setMaking(false)}
            onMake={(made) => open.mutate(() => create(made))}
          />
        )}
        <Presets
          onChoose={(title, key) =>
            open.mutate(() => create({ name: title, start: { preset: key } }))
          }
        />
        {error && <p className="alert alert-error">{error.message}</p>}
        <ul className="border-base-300 divide-base-300 bg-base-100 divide-y rounded border">
          {data?.map((entry) => (
            <Entry key={entry.id} entry={entry} />
          ))}
          {data?.length === 0 && (
            <li className="p-6 text-center">
              The shelf is empty. Make a landscape, or import one.
            </li>
          )}
        </ul>
        <p className="text-base-content/80 text-sm">
          Drop a file here to import it: an elevation model (GeoTIFF, ESRI ASCII grid), a picture of
          heights (8- or 16-bit grey PNG), or a recipe (JSON).
        </p>
      </div>
    </main>
  );
}

function Entry({ entry }: { entry: ShelfEntry }) {
  const queries = useQueryClient();
  const refresh = () => queries.invalidateQueries({ queryKey: ["landscapes"] });
  const failed = (failure: Error) => toast.error(failure.message);
  const copy = useMutation({
    mutationFn: () => create({ name: `${entry.name} copy`, start: { copy_of: entry.id } }),
    onSuccess: refresh,
    onError: failed,
  });
  const remove = useMutation({
    mutationFn: () =>
      answered(api.DELETE("/api/landscapes/{id}", { params: { path: { id: entry.id } } })),
    onSuccess: refresh,
    onError: failed,
  });
  return (
    <li className="flex items-center gap-2 p-2">
      <Link
        to={`/landscapes/${entry.id}`}
        className="hover:bg-base-200 flex grow flex-wrap items-center gap-x-3 rounded p-2"
      >
        <span className="bg-base-300 h-12 w-18 overflow-hidden rounded-sm">
          {!entry.fault && (
            <img
              src={`/api/landscapes/${entry.id}/picture.png?revision=${entry.revision}`}
              alt=""
              loading="lazy"
              className="h-full w-full object-cover"
            />
          )}
        </span>
        <span className="text-base font-medium">{entry.name}</span>
        <span className="text-base-content/80 text-sm">
          {formatLength(entry.width_m)} × {formatLength(entry.depth_m)} · {entry.steps}{" "}
          {entry.steps === 1 ? "step" : "steps"}
        </span>
        {entry.fault && (
          <span
            className="text-error order-last basis-full text-sm"
            role="note"
            data-testid="unreadable"
          >
            {entry.fault}
          </span>
        )}
        <time className="text-base-content/80 ml-auto text-sm" dateTime={entry.updated_at}>
          {new Date(entry.updated_at).toLocaleString()}
        </time>
      </Link>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label={`Copy ${entry.name}`}
        title="Copy"
        onClick={() => copy.mutate()}
      >
        <Copy size={15} />
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label={`Delete ${entry.name}`}
        title="Delete with all its revisions"
        onClick={() => {
          if (confirm(`Delete “${entry.name}” with all its revisions? This cannot be undone.`)) {
            remove.mutate();
          }
        }}
      >
        <Trash2 size={15} />
      </button>
    </li>
  );
}
