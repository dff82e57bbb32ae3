import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import type { DragEndEvent } from "@dnd-kit/core";
import { arrayMove, SortableContext, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { commit } from "../live/edit";
import { landSteps, useRecipe } from "../live/recipe";
import { useSession } from "../live/session";
import { AddStep } from "./AddStep";
import { Band } from "./Band";

/** The recipe as a column of strata: the newest step on top. */
export function Column() {
  const recipe = useRecipe();
  const bands = useSession((state) => state.bands);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  if (!recipe) return null;
  const steps = landSteps(recipe);
  const strongest = Math.max(1e-9, ...steps.map((step) => bands[step.id]?.rms_m ?? 0));
  const topDown = [...steps].reverse();

  const reorder = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const from = steps.findIndex((step) => step.id === active.id);
    const to = steps.findIndex((step) => step.id === over.id);
    void commit(`Move ${steps[from]?.name}`, (draft) => {
      const land = draft.strands.find((strand) => strand.name === "land");
      if (land) land.steps = arrayMove(land.steps, from, to);
    });
  };

  return (
    <section className="flex h-full flex-col" aria-label="Column">
      <header className="border-base-300 flex items-center justify-between border-b px-2 py-1">
        <h2 className="text-sm font-semibold">Column</h2>
        <AddStep recipe={recipe} />
      </header>
      <div className="min-h-0 grow overflow-y-auto">
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={reorder}>
          <SortableContext items={topDown} strategy={verticalListSortingStrategy}>
            {topDown.map((step) => (
              <Band
                key={step.id}
                step={step}
                band={bands[step.id]}
                strongest={strongest}
                traces={tracesBelow(recipe, step.id)}
              />
            ))}
          </SortableContext>
        </DndContext>
        <p className="text-base-content/60 px-2 py-1 text-xs">
          {steps.length === 0 ? "A level plain. Add a step to shape it." : "Level ground at 0 m"}
        </p>
      </div>
    </section>
  );
}

/** By-products that steps below this one leave, for masks to read. */
function tracesBelow(recipe: Parameters<typeof landSteps>[0], id: string): string[] {
  const steps = landSteps(recipe);
  const below = steps.slice(
    0,
    steps.findIndex((step) => step.id === id),
  );
  return below.some((step) => step.on && "water" in step.do) ? ["wear", "deposit", "flow"] : [];
}
