import type { Kind, Step } from "../api/types";
import { operationOf } from "./recipe";

/** What steps leave for others, by name: fields, and such as rivers. */
export function productsOf(steps: Step[], kinds: Kind[]): string[] {
  const left = steps.flatMap(
    (step) => kinds.find((kind) => kind.kind === operationOf(step)[0])?.products ?? [],
  );
  return [...new Set(left)];
}

/** What the steps below one leave. */
export function productsBelow(steps: Step[], id: string, kinds: Kind[]): string[] {
  const at = steps.findIndex((step) => step.id === id);
  return productsOf(steps.slice(0, at), kinds);
}
