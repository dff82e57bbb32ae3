import type { Kind, Step } from "../api/types";
import { operationOf } from "./recipe";

/** By-products that steps leave, for masks to read; “river” stands for rivers as lines. */
export function tracesOf(steps: Step[], kinds: Kind[]): string[] {
  const left = steps.flatMap(
    (step) => kinds.find((kind) => kind.kind === operationOf(step)[0])?.traces ?? [],
  );
  const rivers = steps.some((step) => operationOf(step)[0] === "rivers") ? ["river"] : [];
  return [...new Set([...left, ...rivers])];
}

/** By-products that the steps below one leave. */
export function tracesBelow(steps: Step[], id: string, kinds: Kind[]): string[] {
  const at = steps.findIndex((step) => step.id === id);
  return tracesOf(steps.slice(0, at), kinds);
}
