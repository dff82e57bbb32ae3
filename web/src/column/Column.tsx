import { arrayMove } from "@dnd-kit/sortable";
import { useKinds } from "../api/useKinds";
import { SortableList } from "../controls/SortableList";
import { commit } from "../live/edit";
import { LAND, strandOf, useRecipe } from "../live/recipe";
import { useSession } from "../live/session";
import { productsBelow } from "../live/products";
import { useView } from "../studio/view";
import { Band } from "./Band";
import { LandscapePanel } from "./LandscapePanel";
import { StrandHead } from "./StrandHead";
import { StrandStrips } from "./StrandStrips";

/** The recipe as columns of strata, one for each strand, the newest step on top. */
export function Column() {
  const recipe = useRecipe();
  const kinds = useKinds();
  const bands = useSession((state) => state.bands);
  const name = useView((view) => view.strand);
  if (!recipe) return null;
  const strand = strandOf(recipe, name) ?? strandOf(recipe, LAND);
  if (!strand) return null;
  const { steps } = strand;
  const strongest = Math.max(1e-9, ...steps.map((step) => bands[step.id]?.rms_m ?? 0));
  const topDown = [...steps].reverse();

  const reorder = (id: string, over: string) => {
    const from = steps.findIndex((step) => step.id === id);
    const to = steps.findIndex((step) => step.id === over);
    void commit(`Move ${steps[from]?.name}`, (draft) => {
      const target = strandOf(draft, strand.name);
      if (target) target.steps = arrayMove(target.steps, from, to);
    });
  };

  return (
    <section className="flex h-full" aria-label="Column">
      <StrandStrips recipe={recipe} />
      <div className="flex min-w-0 grow flex-col">
        <StrandHead recipe={recipe} strand={strand} />
        <div className="min-h-0 grow overflow-y-auto">
          <SortableList entries={topDown} onMove={reorder}>
            {topDown.map((step) => (
              <Band
                key={step.id}
                step={step}
                band={bands[step.id]}
                strongest={strongest}
                products={productsBelow(steps, step.id, kinds)}
              />
            ))}
          </SortableList>
          <p className="text-base-content/80 px-2 py-1 text-xs">
            {steps.length === 0 ? "A level plain. Add a step to shape it." : "Level ground at 0 m"}
          </p>
        </div>
        <div className="max-h-[60%] shrink-0 overflow-y-auto">
          <LandscapePanel recipe={recipe} />
        </div>
      </div>
    </section>
  );
}
