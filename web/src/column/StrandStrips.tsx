import { Plus } from "lucide-react";
import type { Recipe, Strand } from "../api/types";
import { commit } from "../live/edit";
import { freshStrand, LAND, takenBy } from "../live/recipe";
import { useSession } from "../live/session";
import { changeView, useView } from "../studio/view";
import { counted } from "../controls/units";

/** The strands side by side, as narrow columns; one of them is open. */
export function StrandStrips({ recipe }: { recipe: Recipe }) {
  const add = () => {
    const name = freshStrand(recipe);
    void commit("Add a strand", (draft) => void draft.strands.push({ name, steps: [] }));
    changeView({ strand: name, solo: null });
  };
  return (
    <nav
      className="border-base-300 bg-base-200 flex w-9 shrink-0 flex-col items-center gap-2 overflow-y-auto border-r py-1.5"
      aria-label="Strands"
    >
      {recipe.strands.map((strand) => (
        <Strip key={strand.name} strand={strand} />
      ))}
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square"
        aria-label="Add a strand"
        title="Add a strand: a piece built on its own, then taken in"
        data-testid="add-strand"
        onClick={add}
      >
        <Plus size={13} />
      </button>
    </nav>
  );
}

function Strip({ strand }: { strand: Strand }) {
  const open = useView((view) => view.strand === strand.name);
  const bands = useSession((state) => state.bands);
  const strongest = Math.max(1e-9, ...strand.steps.map((step) => bands[step.id]?.rms_m ?? 0));
  return (
    <button
      type="button"
      className={`flex flex-col items-center gap-0.5 rounded p-0.5 ${open ? "bg-base-100 outline-primary outline" : "hover:bg-base-300"}`}
      aria-pressed={open}
      title={`${strand.name === LAND ? "Land" : strand.name}: ${counted(strand.steps.length, "step")}`}
      data-testid={`strand-${strand.name}`}
      onClick={() => changeView({ strand: strand.name, solo: null, openBand: null })}
    >
      <span className="flex w-5 flex-col-reverse gap-px">
        {strand.steps.map((step) => (
          <span
            key={step.id}
            className={`rounded-xs ${takenBy(step) ? "bg-primary" : "bg-secondary"} ${step.on ? "" : "opacity-25"}`}
            style={{ height: `${3 + (7 * (bands[step.id]?.rms_m ?? 0)) / strongest}px` }}
          />
        ))}
        {strand.steps.length === 0 && <span className="bg-base-300 h-1" />}
      </span>
      <span className="max-h-24 truncate text-[0.65rem] [writing-mode:vertical-rl]">
        {strand.name === LAND ? "Land" : strand.name}
      </span>
    </button>
  );
}
