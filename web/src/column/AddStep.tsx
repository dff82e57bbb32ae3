import { Plus } from "lucide-react";
import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { KINDS, useKinds } from "../api/useKinds";
import type { Kind, Recipe, Step } from "../api/types";
import { begunOn, type KindSchema } from "../controls/schema";
import { commit } from "../live/edit";
import { freshId, strandOf } from "../live/recipe";
import { importInto } from "../shelf/importFile";
import { openAndFocus } from "../studio/focus";
import { toast } from "sonner";
import { Combinations } from "./Combinations";
import { KindList } from "./KindList";

/** The list of kinds of step; typing narrows it down. */
export function AddStep({ recipe, strand }: { recipe: Recipe; strand: string }) {
  const kinds = useKinds();
  const dialog = useRef<HTMLDialogElement>(null);
  const picker = useRef<HTMLInputElement>(null);
  const [typed, setTyped] = useState("");
  // The pictures of a list that nobody sees are not asked for.
  const [open, setOpen] = useState(false);
  const [wanted, setWanted] = useState<Kind | null>(null);
  const found = searched(kinds, typed);
  const queries = useQueryClient();
  // Whoever is faster than the list has meant what it will have.
  const chooseFirst = async () => {
    const [first] = searched(await queries.ensureQueryData(KINDS), typed);
    if (first && dialog.current?.open) choose(first);
  };
  const add = (kind: Kind, parameters: Record<string, unknown> = {}) => {
    dialog.current?.close();
    const defaults = begunOn(kind, recipe.extent);
    // Only what the kind knows: a file says more than every kind asks for.
    for (const [name, value] of Object.entries(parameters)) {
      if (name in defaults) defaults[name] = value;
    }
    const step: Step = {
      id: freshId(recipe, kind.kind),
      name: kind.title,
      on: true,
      amount: 1,
      combine: kind.combine as Step["combine"],
      do: { [kind.kind]: defaults } as unknown as Step["do"],
    };
    void commit(`Add ${kind.title}`, (draft) => {
      strandOf(draft, strand)?.steps.push(step);
    });
    openAndFocus(step.id);
  };
  const choose = (kind: Kind) => {
    // Some are nothing without another strand, or without a file.
    const other = recipe.strands.findLast((entry) => entry.name !== strand)?.name;
    const takesIn = kind.needs === "strand" || kind.needs === "strand_or_file";
    if (takesIn && other !== undefined) {
      return add(kind, { ...(kind.on_strand as Record<string, unknown>), strand: other });
    }
    if (kind.needs === "strand") {
      toast("There is no other strand yet; add one with the plus on the left.");
      return;
    }
    if (!kind.needs) return add(kind);
    setWanted(kind);
    picker.current?.click();
  };
  return (
    <>
      <button
        type="button"
        className="btn btn-xs"
        data-testid="add-step"
        title="Add a step (N)"
        onClick={() => {
          setTyped("");
          setOpen(true);
          dialog.current?.showModal();
        }}
      >
        <Plus size={13} /> Step
      </button>
      <input
        ref={picker}
        type="file"
        className="hidden"
        data-testid="step-file"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          const kind = wanted ?? kinds.find((entry) => entry.needs === "file");
          if (file && kind) void importInto(file, (found) => add(kind, found));
        }}
      />
      <dialog ref={dialog} className="modal" aria-label="Add a step" onClose={() => setOpen(false)}>
        <form
          className="modal-box flex max-h-[85vh] max-w-3xl flex-col p-3"
          onSubmit={(event) => {
            event.preventDefault();
            void chooseFirst();
          }}
        >
          <input
            className="input input-sm w-full shrink-0"
            placeholder="Type to find a kind of step"
            aria-label="Find a kind of step"
            data-testid="find-kind"
            autoFocus
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
          <div className="mt-2 min-h-0 space-y-2 overflow-y-auto">
            {open && <KindList kinds={found} onChoose={choose} />}
            {open && <Combinations {...{ strand, typed }} onDone={() => dialog.current?.close()} />}
          </div>
        </form>
        <form method="dialog" className="modal-backdrop">
          <button aria-label="Close">close</button>
        </form>
      </dialog>
    </>
  );
}

/** Kinds in which the words are found: those that are called so first, then those that others
 * call so, then those of which it is said what they do with it. */
function searched(kinds: Kind[], typed: string): Kind[] {
  const words = typed.trim().toLowerCase();
  const rank = (kind: Kind) => {
    const about = (kind.schema as KindSchema).description ?? "";
    const places = [kind.title, kind.also_called.join(" "), about];
    return places.findIndex((place) => place.toLowerCase().includes(words));
  };
  return kinds
    .map((kind) => ({ kind, rank: rank(kind) }))
    .filter(({ rank }) => rank >= 0)
    .sort((a, b) => a.rank - b.rank)
    .map(({ kind }) => kind);
}
