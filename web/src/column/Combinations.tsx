import { Layers } from "lucide-react";
import { useCombinations } from "../api/useCombinations";
import type { Combination, Step } from "../api/types";
import { useKinds } from "../api/useKinds";
import { inTheMiddle } from "../controls/schema";
import { commit } from "../live/edit";
import { operationOf, strandOf, useRecipe, withFreshIds } from "../live/recipe";
import { productsOf } from "../live/products";
import { openAndFocus } from "../studio/focus";

interface Props {
  strand: string;
  typed: string;
  onDone: () => void;
}

/** Steps that are often used together, laid in with one click. */
export function Combinations({ strand, typed, onDone }: Props) {
  const combinations = useCombinations();
  const recipe = useRecipe();
  const kinds = useKinds();
  const left = recipe ? productsOf(strandOf(recipe, strand)?.steps ?? [], kinds) : [];
  const found = combinations.filter(({ title, about }) =>
    `${title} ${about}`.toLowerCase().includes(typed.toLowerCase()),
  );
  if (found.length === 0) return null;
  const add = (combination: Combination) => {
    onDone();
    if (!recipe) return;
    const ready = (combination.steps as unknown as Step[]).map((step): Step => {
      const [name, values] = operationOf(step);
      const kind = kinds.find((entry) => entry.kind === name);
      if (!kind) return step;
      const placed = inTheMiddle(kind, values, recipe.extent);
      return { ...step, do: { [name]: placed } as unknown as Step["do"] };
    });
    const steps = withFreshIds(recipe, ready);
    void commit(`Add ${combination.title}`, (draft) => {
      strandOf(draft, strand)?.steps.push(...steps);
    });
    openAndFocus(steps.at(-1)?.id);
  };
  return (
    <section>
      <h3 className="text-base-content/80 text-xs font-semibold">Ready combinations</h3>
      <ul className="grid grid-cols-2 gap-1">
        {found.map((combination) => {
          const missing = combination.needs.filter((trace) => !left.includes(trace));
          return (
            <li key={combination.key}>
              <button
                type="button"
                className="hover:bg-base-200 focus:bg-base-200 flex w-full gap-2 rounded p-1.5 text-left disabled:opacity-50"
                data-testid={`lay-${combination.key}`}
                disabled={missing.length > 0}
                title={
                  missing.length > 0 ? `No step leaves ${missing.join(" or ")} yet` : undefined
                }
                onClick={() => add(combination)}
              >
                <Layers size={16} className="mt-1 shrink-0" />
                <span className="min-w-0">
                  <span className="block text-sm font-medium">{combination.title}</span>
                  <span className="text-base-content/80 text-xs">{combination.about}</span>
                </span>
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
