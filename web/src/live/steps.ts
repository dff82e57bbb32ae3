import type { Recipe, Step } from "../api/types";

export function findStep(recipe: Recipe, id: string) {
  return recipe.strands.flatMap((strand) => strand.steps).find((step) => step.id === id);
}

/** The kind of a step and its parameters. */
export function operationOf(step: Step): [string, Record<string, unknown>] {
  const [entry] = Object.entries(step.do);
  return entry ? [entry[0], entry[1] as Record<string, unknown>] : ["", {}];
}
