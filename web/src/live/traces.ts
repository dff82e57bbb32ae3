import type { Kind, Step } from "../api/types";
import { operationOf } from "./recipe";

/** By-products that steps leave, for masks to read. */
export function tracesOf(steps: Step[], kinds: Kind[]): string[] {
  const left = steps.flatMap(
    (step) => kinds.find((kind) => kind.kind === operationOf(step)[0])?.traces ?? [],
  );
  return [...new Set(left)];
}

/** By-products that the steps below one leave. */
export function tracesBelow(steps: Step[], id: string, kinds: Kind[]): string[] {
  const at = steps.findIndex((step) => step.id === id);
  return tracesOf(steps.slice(0, at), kinds);
}
