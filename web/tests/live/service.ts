import { compare, applyPatch, type Operation } from "fast-json-patch";
import type { FromViewer, HeadMove, Recipe } from "../../src/api/types";

type Kept = { recipe: Recipe; parent: number | null; label: string; mark: string | null };
type Answer = { data?: unknown; error?: { detail: string }; response: Response };
type Call = { params: { path: { id: string } }; body?: Record<string, unknown> };

/** What becomes of the next edits: kept as usual, or not. */
export type Fate = "away" | "answer lost" | { refused: string };

const copy = <T>(value: T): T => structuredClone(value);

/** A stand-in for the service: it keeps revisions as the real one does, and its answers can
 * be lost. */
export class FakeService {
  revisions: Kept[];
  head = 1;
  version = 1;
  redoTo: number[] = [];
  /** Of the next edits, one after the other. */
  fates: Fate[] = [];
  /** Labels of the edits that came, kept or not. */
  came: string[] = [];
  sockets: FakeSocket[] = [];

  constructor(recipe: Recipe) {
    this.revisions = [{ recipe, parent: null, label: "New", mark: null }];
  }

  at(revision: number): Kept {
    const kept = this.revisions[revision - 1];
    if (!kept) throw new Error(`no revision ${revision}`);
    return kept;
  }

  get recipe(): Recipe {
    return this.at(this.head).recipe;
  }

  whole() {
    const { recipe, parent, mark, label } = this.at(this.head);
    const { version, head: revision } = this;
    const redo = this.redoTo.length > 0 ? "again" : null;
    const undo = parent === null ? null : label;
    return copy({ version, revision, parent, recipe, undo, redo, mark, author: "" });
  }

  /** An edit of somebody else's, of which all viewers hear. */
  edit(label: string, change: (recipe: Recipe) => void) {
    const recipe = copy(this.recipe);
    change(recipe);
    this.tell(this.append(recipe, label, null));
  }

  private append(recipe: Recipe, label: string, mark: string | null): HeadMove {
    this.revisions.push({ recipe, parent: this.head, label, mark });
    this.redoTo = [];
    return this.go(this.revisions.length);
  }

  private go(to: number): HeadMove {
    const base = this.head;
    const patch = compare(this.recipe, this.at(to).recipe);
    this.head = to;
    this.version += 1;
    const { parent, undo, redo, mark } = this.whole();
    const { version } = this;
    return {
      version,
      base,
      revision: to,
      parent,
      patch,
      undo,
      redo,
      mark,
      author: "",
    } as unknown as HeadMove;
  }

  tell(move: HeadMove) {
    for (const socket of this.sockets) socket.hear({ type: "moved", ...copy(move) });
  }

  private static answer(status: number, data: unknown): Answer {
    const response = new Response(null, { status });
    return response.ok
      ? { data: copy(data), response }
      : { error: data as { detail: string }, response };
  }

  private post(path: string, { body }: Call): Answer {
    const refused = (status: number, detail: string) => FakeService.answer(status, { detail });
    if (path.endsWith("/undo")) {
      const { parent } = this.at(this.head);
      if (parent === null) return refused(409, "there is nothing to undo");
      this.redoTo.push(this.head);
      return FakeService.answer(200, this.go(parent));
    }
    if (path.endsWith("/redo")) {
      const to = this.redoTo.pop();
      if (!to) return refused(409, "there is nothing to redo");
      return FakeService.answer(200, this.go(to));
    }
    const { base, label, mark, patch } = body as {
      base: number;
      label: string;
      mark: string;
      patch: Operation[];
    };
    this.came.push(label);
    const fate = this.fates.shift();
    if (fate === "away") return refused(503, "the database does not answer just now");
    if (typeof fate === "object") return refused(422, fate.refused);
    if (base !== this.head) return refused(409, "the landscape has changed since");
    const recipe = applyPatch(copy(this.recipe), copy(patch)).newDocument;
    const move = this.append(recipe, label, mark);
    if (fate === "answer lost") throw new TypeError("Failed to fetch");
    return FakeService.answer(200, move);
  }

  /** As the generated client has it. */
  readonly api = {
    POST: (path: string, call: Call) => Promise.resolve().then(() => this.post(path, call)),
    GET: () => Promise.resolve(FakeService.answer(200, this.whole())),
  };
}

/** A stand-in for a socket of the browser. */
export class FakeSocket {
  static readonly OPEN = 1;
  static service: FakeService;
  readyState = FakeSocket.OPEN;
  said: FromViewer[] = [];
  onopen = () => {};
  onclose = () => {};
  onmessage: (event: { data: string }) => void = () => {};

  constructor() {
    FakeSocket.service.sockets.push(this);
    queueMicrotask(() => {
      this.onopen();
      this.hear({ type: "head", ...FakeSocket.service.whole() });
    });
  }

  hear(message: object) {
    this.onmessage({ data: JSON.stringify(message) });
  }

  send(text: string) {
    const message = JSON.parse(text) as FromViewer;
    this.said.push(message);
    if (message.type === "whole") this.hear({ type: "head", ...FakeSocket.service.whole() });
  }

  close() {}
}
