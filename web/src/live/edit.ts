import { applyPatch, compare, type Operation } from "fast-json-patch";
import { produce } from "immer";
import { toast } from "sonner";
import { v4 as newMark } from "uuid";
import { answered, api, Refusal } from "../api/client";
import type { HeadMove, Recipe } from "../api/types";
import { forgetNames, layReady, light } from "./bulk";
import { myName } from "./people";
import { onHead, receiveHead, say, takeMove, useSession } from "./session";

type Change = (draft: Recipe) => void;

/** An edit on its way; the ones behind it wait, so that all arrive in order. */
interface Edit {
  label: string;
  change: Change;
  done: (kept: boolean) => void;
  /** By which the service knows it, however often it is sent. */
  mark: string;
  /** It was acknowledged. */
  kept: boolean;
}

const CONFLICT = 409;
const LIST_UNKNOWN = 424;
const UNAVAILABLE = 503;
const TRIES = 5;
const AGAIN_MS = 1500;

let edits: Edit[] = [];
let dragged: Change | null = null;
let sending = false;

/** A new head, or another landscape: what is unfinished is made anew on it. */
onHead(() => {
  const { landscape, head } = useSession.getState();
  if (!landscape) {
    edits.forEach((edit) => edit.done(false));
    edits = [];
    dragged = null;
  } else if (head) draw();
});

/** The edit as JSON Patch, in the type that the service's description gives it; what
 * was drawn goes by its name. */
function patchOf(before: Recipe, after: Recipe) {
  return compare(light(before), light(after)) as unknown as Record<string, never>[];
}

/** Shows the head with all that is not acknowledged yet. */
function draw() {
  const { head } = useSession.getState();
  if (!head) return;
  // The head may have it before its answer is here: not once more on top of itself.
  const missing = edits.filter((edit) => !edit.kept && edit.mark !== head.mark);
  const changes = missing.map((edit) => edit.change);
  if (dragged) changes.push(dragged);
  let draft = head.recipe;
  for (const change of changes) draft = changed(draft, change) ?? draft;
  const same = draft === head.recipe;
  useSession.setState({ draft: same ? null : draft, unsent: edits.length });
  // What is about to be kept shows soon enough; what is not, now.
  const unkept = dragged !== null || edits.length > 1 || useSession.getState().away !== null;
  if (!same && unkept) {
    say({ type: "preview", base: head.revision, patch: patchOf(head.recipe, draft) });
  }
}

/** The recipe with a change; nothing when what it changes is gone. */
function changed(recipe: Recipe, change: Change): Recipe | null {
  try {
    return produce(recipe, change);
  } catch {
    return null;
  }
}

/** Makes an edit that the service has worked out, such as a way out of a finding. */
export function commitPatch(label: string, patch: unknown[]): Promise<boolean> {
  return commit(label, (draft) => {
    applyPatch(draft, structuredClone(patch) as Operation[]);
  });
}

/** Gives a mask or a strand another name, wherever it is referred to. */
export async function rename(of: "mask" | "strand", from: string, to: string): Promise<boolean> {
  const { landscape } = useSession.getState();
  if (!landscape) return false;
  try {
    const params = { path: { id: landscape } };
    const body = { of, from, to };
    const call = api.POST("/api/landscapes/{id}/rename", { params, body });
    return await commitPatch(`Rename ${from}`, await answered(call));
  } catch (error) {
    return refused(error);
  }
}

/** Shows what an edit would do, while a control is being dragged. */
export function preview(change: Change) {
  dragged = change;
  draw();
}

/** Makes an edit. Whoever awaits it knows that it is kept, or refused. */
export function commit(label: string, change: Change): Promise<boolean> {
  dragged = null;
  return new Promise((done) => {
    edits.push({ label, change, done, mark: newMark(), kept: false });
    draw();
    void send();
  });
}

/** Makes an edit that the service puts into words, by what changes. */
export const commitValue = (change: Change) => commit("", change);

/** Sends what waits, one after the other: the next one only once the last is kept. */
async function send() {
  if (sending) return;
  sending = true;
  for (let edit = edits[0]; edit; edit = edits[0]) {
    const kept = await sent(edit);
    // Another landscape was opened meanwhile: its edits are others.
    if (edits[0] !== edit) continue;
    edits.shift();
    edit.done(kept);
    if (edits.length === 0 && !dragged) endPreview();
    else draw();
  }
  sending = false;
}

async function sent(edit: Edit): Promise<boolean> {
  for (let attempt = 1; ;) {
    const { head, landscape } = useSession.getState();
    if (!head || !landscape || edits[0] !== edit) return false;
    // An answer that was lost: the edit is there.
    if (head.mark === edit.mark) return true;
    const recipe = changed(head.recipe, edit.change);
    if (!recipe) return refused(new Error("What this edit changes is not there any more."));
    try {
      await layReady(landscape, recipe);
      const patch = patchOf(head.recipe, recipe);
      if (patch.length === 0) return true;
      const params = { path: { id: landscape }, query: { apart: true } };
      const { label, mark } = edit;
      const body = { base: head.revision, label, mark, author: myName(), patch };
      const move = await answered(api.POST("/api/landscapes/{id}/edits", { params, body }));
      edit.kept = true;
      takeMove(move);
      useSession.setState({ away: null });
      return true;
    } catch (error) {
      const status = error instanceof Refusal ? error.status : null;
      const away = status === 0 || status === UNAVAILABLE;
      if (away) {
        // It is kept here until the service can keep it.
        useSession.setState({ away: error instanceof Error ? error.message : "" });
        await new Promise((later) => setTimeout(later, AGAIN_MS));
        await fetchHead(landscape).catch(() => undefined);
      } else if (status === CONFLICT && attempt++ < TRIES) {
        await fetchHead(landscape).catch(() => undefined);
      } else if (status === LIST_UNKNOWN && attempt++ < TRIES) forgetNames(recipe);
      else return refused(error);
    }
  }
}

/** Goes back to an earlier revision; that is an edit too, and can be undone. */
export const returnTo = (revision: number) =>
  move((params) =>
    api.POST("/api/landscapes/{id}/return", { params, body: { revision, author: myName() } }),
  );
export const undo = () => move((params) => api.POST("/api/landscapes/{id}/undo", { params }));
export const redo = () => move((params) => api.POST("/api/landscapes/{id}/redo", { params }));

type Answer = Promise<{ data?: HeadMove; error?: unknown; response: Response }>;
type Way = { path: { id: string }; query: { apart: boolean } };

/** Moves the head, once all edits before are kept. */
async function move(ask: (params: Way) => Answer) {
  const { landscape } = useSession.getState();
  if (!landscape) return;
  const last = edits.at(-1);
  if (last) {
    const done = last.done;
    await new Promise<void>((over) => {
      last.done = (kept) => {
        done(kept);
        over();
      };
    });
  }
  try {
    takeMove(await answered(ask({ path: { id: landscape }, query: { apart: true } })));
  } catch (error) {
    refused(error);
  }
}

async function fetchHead(id: string) {
  const params = { path: { id }, query: { apart: true } };
  await receiveHead(await answered(api.GET("/api/landscapes/{id}", { params })));
}

function refused(error: unknown): boolean {
  toast.error(error instanceof Error ? error.message : String(error));
  useSession.setState({ away: null });
  return false;
}

/** Back to what the service has; nothing was changed there. */
export function endPreview() {
  dragged = null;
  if (edits.length > 0) draw();
  else {
    useSession.setState({ draft: null, unsent: 0 });
    say({ type: "preview_end" });
  }
}
