import { Trash2 } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import { answered, api } from "../api/client";
import type { KnownTarget, Target, Wish } from "../api/types";
import { FileButton } from "../controls/FileButton";
import { Select } from "./Select";
import { useTargets } from "./useTargets";

const NO_BOUNDS: Target["bounds"] = undefined;

interface Props {
  chosen: string | null;
  /** What is wished now, to be kept as a target. */
  wish: Wish;
  onChoose: (target: Target | null) => void;
}

function said(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

/** For which program: what it takes is the beginning, and what is wished is held against it. */
export function TargetPicker({ chosen, wish, onChoose }: Props) {
  const { targets, refetch } = useTargets();
  const known = targets.find(({ target }) => target.name === chosen);
  const keep = async (target: Target) => {
    try {
      const kept = await answered(api.POST("/api/targets", { body: target }));
      await refetch();
      onChoose(kept.target);
    } catch (error) {
      toast.error(said(error));
    }
  };
  const read = async (file: File) => {
    try {
      await keep(JSON.parse(await file.text()) as Target);
    } catch (error) {
      toast.error(`${file.name} is no target: ${said(error)}`);
    }
  };
  const discard = async ({ id }: KnownTarget) => {
    if (!id) return;
    try {
      await answered(api.DELETE("/api/targets/{id}", { params: { path: { id } } }));
      onChoose(null);
      await refetch();
    } catch (error) {
      toast.error(said(error));
    }
  };
  return (
    <div className="grid gap-1">
      <div className="flex flex-wrap items-center gap-2">
        <Select
          label="For"
          test="export-target"
          value={chosen}
          options={[
            [null, "any program"],
            ...targets.map(({ target }): [string, string] => [target.name, target.name]),
          ]}
          onChange={(name) =>
            onChoose(targets.find(({ target }) => target.name === name)?.target ?? null)
          }
        />
        <FileButton
          label="Add a target …"
          title="Add a target from a JSON file"
          accept=".json,application/json"
          testId="target-file"
          onFiles={([file]) => file && void read(file)}
        />
        <KeepAs
          onKeep={(name) =>
            void keep({ name, about: "", wish, bounds: known?.target.bounds ?? NO_BOUNDS })
          }
        />
        {known?.id && (
          <button
            type="button"
            className="btn btn-ghost btn-xs"
            aria-label={`Take the target ‘${known.target.name}’ away`}
            data-testid="target-discard"
            onClick={() => void discard(known)}
          >
            <Trash2 size={14} />
          </button>
        )}
      </div>
      {known?.target.about && <p className="text-base-content/80 text-sm">{known.target.about}</p>}
    </div>
  );
}

/** Asks for a name when it is wanted. */
function KeepAs({ onKeep }: { onKeep: (name: string) => void }) {
  const [name, setName] = useState<string | null>(null);
  if (name === null) {
    return (
      <button
        type="button"
        className="btn btn-xs"
        data-testid="target-keep"
        title="Keep what is chosen here as a target of your own"
        onClick={() => setName("")}
      >
        Keep as a target …
      </button>
    );
  }
  return (
    <form
      className="flex items-center gap-1"
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim()) onKeep(name.trim());
        setName(null);
      }}
    >
      <input
        // It was asked for with the button that it takes the place of.
        autoFocus
        className="input input-xs w-40"
        aria-label="Name of the target"
        data-testid="target-name"
        placeholder="Name of the target"
        value={name}
        onChange={({ target }) => setName(target.value)}
        onKeyDown={({ key }) => key === "Escape" && setName(null)}
      />
      <button type="submit" className="btn btn-xs">
        Keep
      </button>
    </form>
  );
}
