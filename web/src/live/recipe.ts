import type { Recipe, Step } from "../api/types";
import { useSession } from "./session";

/** The recipe as the artist sees it, unfinished edits included. */
export function useRecipe(): Recipe | null {
  return useSession((state) => state.draft ?? state.head?.recipe ?? null);
}

/** The steps of the strand that ends as the terrain. */
export function landSteps(recipe: Recipe): Step[] {
  return recipe.strands.find((strand) => strand.name === "land")?.steps ?? [];
}

export function findStep(recipe: Recipe, id: string) {
  return recipe.strands.flatMap((strand) => strand.steps).find((step) => step.id === id);
}

/** The kind of a step and its parameters. */
export function operationOf(step: Step): [string, Record<string, unknown>] {
  const [entry] = Object.entries(step.do);
  return entry ? [entry[0], entry[1] as Record<string, unknown>] : ["", {}];
}

/** An id that no other step or cover of the recipe has. */
export function freshId(recipe: Recipe, stem: string): string {
  const taken = new Set([
    ...recipe.strands.flatMap((strand) => strand.steps.map((step) => step.id)),
    ...recipe.covers.map((cover) => cover.id),
  ]);
  for (let i = 1; ; i++) {
    const id = `${stem}-${i}`;
    if (!taken.has(id)) return id;
  }
}
