import type { Recipe } from "../api/types";
import { useSession } from "./session";

/** Whether a part of the recipe is shown as it is meant to be, and not kept so yet. */
export function useIsPending(part: (recipe: Recipe) => unknown): boolean {
  return useSession(
    ({ draft, head, unsent }) =>
      draft !== null && head !== null && unsent > 0 && part(draft) !== part(head.recipe),
  );
}
