import { applyPatch, compare, type Operation } from "fast-json-patch";
import { produce } from "immer";
import { toast } from "sonner";
import { answered, api, Refusal } from "../api/client";
import type { Recipe } from "../api/types";
import { say, takeHead, useSession } from "./session";

type Change = (draft: Recipe) => void;

const CONFLICT = 409;
const TRIES = 3;

/** The edit as JSON Patch, in the type that the service's description gives it. */
function patchOf(before: Recipe, after: Recipe) {
  return compare(before, after) as unknown as Record<string, never>[];
}

/** Makes an edit that the service has worked out, such as a way out of a finding. */
export function commitPatch(label: string, patch: unknown[]): Promise<boolean> {
  return commit(label, (draft) => {
    applyPatch(draft, structuredClone(patch) as Operation[]);
  });
}

/** Goes back to an earlier revision; that is an edit too, and can be undone. */
export async function returnTo(revision: number) {
  const { landscape } = useSession.getState();
  if (!landscape) return;
  try {
    const path = { path: { id: landscape } };
    takeHead(
      await answered(api.POST("/api/landscapes/{id}/return", { params: path, body: { revision } })),
    );
  } catch (error) {
    refuse(error);
  }
}

/** Shows what an edit would do, while a control is being dragged. */
export function preview(change: Change) {
  const { head } = useSession.getState();
  if (!head) return;
  const draft = produce(head.recipe, change);
  useSession.setState({ draft });
  say({ type: "preview", base: head.revision, patch: patchOf(head.recipe, draft) });
}

/** Makes an edit. Whoever awaits it knows that it is kept, or refused. */
export async function commit(label: string, change: Change): Promise<boolean> {
  for (let attempt = 1; ; attempt++) {
    const { head, landscape } = useSession.getState();
    if (!head || !landscape) return false;
    const recipe = produce(head.recipe, change);
    const patch = patchOf(head.recipe, recipe);
    if (patch.length === 0) {
      endPreview();
      return true;
    }
    useSession.setState({ draft: recipe });
    try {
      const path = { path: { id: landscape } };
      const body = { base: head.revision, label, patch };
      takeHead(await answered(api.POST("/api/landscapes/{id}/edits", { params: path, body })));
      return true;
    } catch (error) {
      const again = error instanceof Refusal && error.status === CONFLICT && attempt < TRIES;
      if (again) {
        await fetchHead(landscape);
        continue;
      }
      refuse(error);
      return false;
    }
  }
}

export const undo = () => step("/api/landscapes/{id}/undo");
export const redo = () => step("/api/landscapes/{id}/redo");

async function step(action: "/api/landscapes/{id}/undo" | "/api/landscapes/{id}/redo") {
  const { landscape } = useSession.getState();
  if (!landscape) return;
  try {
    takeHead(await answered(api.POST(action, { params: { path: { id: landscape } } })));
  } catch (error) {
    refuse(error);
  }
}

async function fetchHead(id: string) {
  takeHead(await answered(api.GET("/api/landscapes/{id}", { params: { path: { id } } })));
}

/** Back to what the service has; nothing was changed there. */
function refuse(error: unknown) {
  toast.error(error instanceof Error ? error.message : String(error));
  endPreview();
}

export function endPreview() {
  useSession.setState({ draft: null });
  say({ type: "preview_end" });
}
