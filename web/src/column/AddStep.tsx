import { Plus } from "lucide-react";
import { useRef, useState } from "react";
import { useKinds } from "../api/useKinds";
import type { Kind, Recipe, Step } from "../api/types";
import type { KindSchema } from "../controls/schema";
import { commit } from "../live/edit";
import { freshId } from "../live/recipe";
import { changeView } from "../studio/view";

/** Kinds that need something else first and are not made from this list. */
const MADE_ELSEWHERE = ["heightfield", "take_in"];

/** The list of kinds of step; typing narrows it down. */
export function AddStep({ recipe }: { recipe: Recipe }) {
  const kinds = useKinds();
  const dialog = useRef<HTMLDialogElement>(null);
  const [typed, setTyped] = useState("");
  const found = kinds.filter(
    (kind) =>
      !MADE_ELSEWHERE.includes(kind.kind) &&
      `${kind.title} ${(kind.schema as KindSchema).description ?? ""}`
        .toLowerCase()
        .includes(typed.toLowerCase()),
  );
  const add = (kind: Kind) => {
    dialog.current?.close();
    const step: Step = {
      id: freshId(recipe, kind.kind),
      name: kind.title,
      on: true,
      amount: 1,
      combine: kind.combine as Step["combine"],
      do: { [kind.kind]: kind.defaults } as unknown as Step["do"],
    };
    void commit(`Add ${kind.title}`, (draft) => {
      draft.strands.find((strand) => strand.name === "land")?.steps.push(step);
    });
    changeView({ openBand: step.id });
  };
  return (
    <>
      <button
        type="button"
        className="btn btn-xs"
        data-testid="add-step"
        onClick={() => {
          setTyped("");
          dialog.current?.showModal();
        }}
      >
        <Plus size={13} /> Step
      </button>
      <dialog ref={dialog} className="modal" aria-label="Add a step">
        <form
          className="modal-box max-w-md p-3"
          onSubmit={(event) => {
            event.preventDefault();
            if (found[0]) add(found[0]);
          }}
        >
          <input
            className="input input-sm w-full"
            placeholder="Type to find a kind of step"
            aria-label="Find a kind of step"
            autoFocus
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
          <ul className="mt-2 space-y-1">
            {found.map((kind) => (
              <li key={kind.kind}>
                <button
                  type="button"
                  className="hover:bg-base-200 focus:bg-base-200 w-full rounded p-2 text-left"
                  data-testid={`add-${kind.kind}`}
                  onClick={() => add(kind)}
                >
                  <span className="block text-sm font-medium">{kind.title}</span>
                  <span className="text-base-content/70 block text-xs">
                    {(kind.schema as KindSchema).description}
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </form>
        <form method="dialog" className="modal-backdrop">
          <button aria-label="Close">close</button>
        </form>
      </dialog>
    </>
  );
}
