import type { Recipe, Step, Strand } from "../api/types";
import { useSession } from "./session";
import { operationOf } from "./steps";

export { findStep, operationOf } from "./steps";

/** The strand that ends as the terrain. */
export const LAND = "land";

/** The recipe as the artist sees it, unfinished edits included. */
export function useRecipe(): Recipe | null {
  return useSession((state) => state.draft ?? state.head?.recipe ?? null);
}

export function strandOf(recipe: Recipe, name: string): Strand | undefined {
  return recipe.strands.find((strand) => strand.name === name);
}

/** The steps of the strand that ends as the terrain. */
export function landSteps(recipe: Recipe): Step[] {
  return strandOf(recipe, LAND)?.steps ?? [];
}

/** The strand that a step belongs to. */
export function strandWith(recipe: Recipe, id: string): Strand | undefined {
  return recipe.strands.find((strand) => strand.steps.some((step) => step.id === id));
}

/** The strand that a step takes in, if it does. */
export function takenBy(step: Step): string | null {
  const [, values] = operationOf(step);
  const strand = typeof values.strand === "string" && values.strand !== "" ? values.strand : null;
  // Where there is a choice of what it is made of, only if that is chosen.
  return (values.source ?? values.stamp ?? values.texture ?? "strand") === "strand" ? strand : null;
}

/** An id that no other step or cover of the recipe has. */
export function freshId(recipe: Recipe, stem: string): string {
  const taken = new Set([
    ...recipe.strands.flatMap((strand) => strand.steps.map((step) => step.id)),
    ...recipe.covers.map((cover) => cover.id),
    ...(recipe.finish?.washes ?? []).map((wash) => wash.id),
  ]);
  for (let i = 1; ; i++) {
    const id = `${stem}-${i}`;
    if (!taken.has(id)) return id;
  }
}

/** Entries of a ready combination with ids that nothing else in the recipe has. */
export function withFreshIds<T extends { id: string }>(recipe: Recipe, entries: T[]): T[] {
  const taken = structuredClone(recipe);
  return entries.map((entry) => {
    const id = freshId(taken, entry.id);
    taken.covers.push({ id } as Recipe["covers"][number]);
    return { ...entry, id };
  });
}

/** A name that no other strand of the recipe has. */
export function freshStrand(recipe: Recipe, stem = "piece"): string {
  for (let i = 1; ; i++) {
    const name = `${stem} ${i}`;
    if (!strandOf(recipe, name)) return name;
  }
}
