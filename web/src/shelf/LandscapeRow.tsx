import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Copy, Pencil, Trash2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import { answered, api } from "../api/client";
import type { ShelfEntry } from "../api/types";
import { GrownPicture } from "../controls/GrownPicture";
import { formatSize } from "../controls/units";
import { myName } from "../live/people";
import { create } from "./importFile";

/** One landscape on the shelf. */
export function LandscapeRow({ entry }: { entry: ShelfEntry }) {
  const queries = useQueryClient();
  const [changing, setChanging] = useState(false);
  const refresh = () => queries.invalidateQueries({ queryKey: ["landscapes"] });
  const failed = (failure: Error) => void toast.error(failure.message);
  const copy = useMutation({
    mutationFn: () => create({ name: `${entry.name} copy`, start: { copy_of: entry.id } }),
    onSuccess: refresh,
    onError: failed,
  });
  const path = { path: { id: entry.id } };
  const bringBack = () =>
    answered(api.POST("/api/landscapes/{id}/bring-back", { params: path })).then(refresh, failed);
  const remove = useMutation({
    mutationFn: () => answered(api.DELETE("/api/landscapes/{id}", { params: path })),
    onSuccess: () => {
      toast(`“${entry.name}” was deleted.`, {
        description: "It can be brought back for 30 days.",
        action: { label: "Bring it back", onClick: () => void bringBack() },
      });
      return refresh();
    },
    onError: failed,
  });
  return (
    <li className="flex flex-wrap items-center gap-2 p-2" data-testid={`landscape-${entry.id}`}>
      <Link
        to={`/landscapes/${entry.id}`}
        className="hover:bg-base-200 flex min-w-0 grow items-center gap-3 rounded p-1"
      >
        <span className="bg-base-300 h-16 w-24 shrink-0 overflow-hidden rounded-sm">
          {!entry.fault && (
            <GrownPicture
              src={`/api/landscapes/${entry.id}/picture.png?revision=${entry.revision}`}
              className="h-full w-full object-cover"
            />
          )}
        </span>
        <span className="min-w-0 grow">
          <span className="block truncate text-base font-medium">{entry.name}</span>
          <span className="text-base-content/80 flex flex-wrap gap-x-2 text-sm">
            <span>
              {formatSize(entry.width_m, entry.depth_m)} · {entry.steps}{" "}
              {entry.steps === 1 ? "step" : "steps"}
            </span>
            <time dateTime={entry.updated_at}>{new Date(entry.updated_at).toLocaleString()}</time>
          </span>
          {entry.tags.length > 0 && (
            <span className="flex flex-wrap gap-1 pt-0.5">
              {entry.tags.map((tag) => (
                <span key={tag} className="badge badge-xs badge-neutral">
                  {tag}
                </span>
              ))}
            </span>
          )}
          {entry.fault && (
            <span className="text-error block text-sm" role="note" data-testid="unreadable">
              {entry.fault}
            </span>
          )}
        </span>
      </Link>
      <span className="flex">
        <button
          type="button"
          className={`btn btn-sm btn-square ${changing ? "btn-neutral" : "btn-ghost"}`}
          aria-label={`Rename or tag ${entry.name}`}
          aria-expanded={changing}
          title="Rename or tag"
          onClick={() => setChanging(!changing)}
        >
          <Pencil size={15} />
        </button>
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
          title="Delete; it can be brought back for 30 days"
          onClick={() => remove.mutate()}
        >
          <Trash2 size={15} />
        </button>
      </span>
      {changing && (
        <NameAndTags
          entry={entry}
          onDone={() => {
            setChanging(false);
            void refresh();
          }}
        />
      )}
    </li>
  );
}

/** Another name, and what it is tagged with. */
function NameAndTags({ entry, onDone }: { entry: ShelfEntry; onDone: () => void }) {
  const [name, setName] = useState(entry.name);
  const [tags, setTags] = useState(entry.tags.join(", "));
  const path = { path: { id: entry.id } };
  const save = useMutation({
    mutationFn: async () => {
      const wanted = tags.split(",").map((tag) => tag.trim());
      await answered(
        api.PUT("/api/landscapes/{id}", { params: path, body: { tags: wanted.filter(Boolean) } }),
      );
      const called = name.trim();
      if (!called || called === entry.name) return;
      const patch = [{ op: "replace", path: "/name", value: called }] as unknown as Record<
        string,
        never
      >[];
      const body = { base: entry.revision, label: "", author: myName(), patch };
      await answered(api.POST("/api/landscapes/{id}/edits", { params: path, body }));
    },
    onSuccess: onDone,
    onError: (failure) => toast.error(failure.message),
  });
  return (
    <form
      className="flex basis-full flex-wrap items-end gap-2 px-1 pb-1 text-xs"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <label className="grid grow gap-0.5">
        Name
        <input
          className="input input-xs w-full"
          autoFocus
          maxLength={200}
          value={name}
          data-testid="shelf-name"
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <label className="grid grow gap-0.5">
        Tags, with commas between
        <input
          className="input input-xs w-full"
          value={tags}
          data-testid="shelf-tags"
          onChange={(event) => setTags(event.target.value)}
        />
      </label>
      <button className="btn btn-xs btn-primary" disabled={save.isPending} data-testid="shelf-save">
        Keep
      </button>
    </form>
  );
}
