import type { Recipe } from "../api/types";
import { findStep, operationOf } from "../live/steps";
import type { Favourite } from "./favourites";

type Parameters = Record<string, unknown>;

/** The parameters of a step in a variant, or as they are where it says nothing of it. */
function parametersOf(recipe: Recipe, { steps }: Pick<Favourite, "steps">, id: string): Parameters {
  const step = findStep(recipe, id);
  return { ...(step ? operationOf(step)[1] : {}), ...steps[id] };
}

/** A crossing of two favourites. */
export interface Child {
  steps: Record<string, Parameters>;
  /** What it has of each parent, in words. */
  words: string[];
}

/** Children of two favourites: each takes every value in which they differ from one parent or
 * the other, numbers from between as well; the same ones for the same pair. */
export function crossed(recipe: Recipe, a: Favourite, b: Favourite, count: number): Child[] {
  const ids = [...new Set([...Object.keys(a.steps), ...Object.keys(b.steps)])].filter((id) =>
    findStep(recipe, id),
  );
  return Array.from({ length: count }, (_, child) => {
    const steps: Child["steps"] = {};
    const words: string[] = [];
    ids.forEach((id, s) => {
      const [mine, other] = [parametersOf(recipe, a, id), parametersOf(recipe, b, id)];
      const parameters = { ...mine };
      Object.keys(mine).forEach((name, k) => {
        if (JSON.stringify(mine[name]) === JSON.stringify(other[name])) return;
        const [value, from] = inherited(name, mine[name], other[name], child, 100 * s + k);
        parameters[name] = value;
        words.push(`${findStep(recipe, id)?.name ?? id}, ${name}: ${from}`);
      });
      steps[id] = parameters;
    });
    return { steps, words };
  });
}

/** One value of a child, and whom it has it from. */
function inherited(
  name: string,
  mine: unknown,
  other: unknown,
  child: number,
  k: number,
): [unknown, string] {
  const draw = drawn(child, k);
  // A seed between two seeds is nothing of either.
  if (draw > 2 / 3 && typeof mine === "number" && typeof other === "number" && name !== "seed") {
    const exact = mine + drawn(child, k + 7919) * (other - mine);
    const whole = Number.isInteger(mine) && Number.isInteger(other);
    const between = whole ? Math.round(exact) : Number(exact.toPrecision(4));
    return [between, `${between}, between both`];
  }
  return draw > 1 / 3 ? [other, "of the second"] : [mine, "of the first"];
}

/** A number from 0 to 1 that has nothing to do with those of its neighbours. */
function drawn(i: number, k: number): number {
  let h = Math.imul(i + 1, 0x9e3779b1) ^ Math.imul(k + 1, 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39);
  return ((h ^ (h >>> 15)) >>> 0) / 2 ** 32;
}
