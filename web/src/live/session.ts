import { applyPatch, type Operation } from "fast-json-patch";
import { produce } from "immer";
import { create } from "zustand";
import { toast } from "sonner";
import type {
  BandMessage,
  Finding,
  FromViewer,
  Head,
  HeadMove,
  Look,
  Person,
  Recipe,
  ToViewer,
} from "../api/types";
import { filled, filledFromHere, isHere } from "./bulk";
import { decodePicture, type Picture } from "./picture";
import { estimate, type Progress } from "./progress";
import { withPart } from "./sketch";

/** What is known of the landscape that is open. */
interface SessionState {
  landscape: string | null;
  connected: boolean;
  gone: boolean;
  head: Head | null;
  /** The recipe with an edit that is not acknowledged yet. */
  draft: Recipe | null;
  /** Edits that are not acknowledged yet. */
  unsent: number;
  /** Why the service cannot keep anything just now. */
  away: string | null;
  now: Picture | null;
  /** The finest picture of the land as it is shown, for what is read of it. */
  finest: Picture | null;
  /** Milliseconds from the wish to its picture; finer ones at rest do not count. */
  tookMs: number | null;
  before: Picture | null;
  /** The moment that the land is compared with. */
  against: Picture | null;
  bands: Record<string, BandMessage>;
  findings: Finding[];
  progress: Progress | null;
  /** Who else looks at this landscape. */
  people: Person[];
}

const EMPTY = {
  connected: false,
  gone: false,
  head: null,
  draft: null,
  unsent: 0,
  away: null,
  now: null,
  finest: null,
  tookMs: null,
  before: null,
  against: null,
  bands: {},
  findings: [],
  progress: null,
  people: [],
};

export const useSession = create<SessionState>(() => ({ landscape: null, ...EMPTY }));

const set = useSession.setState;
let socket: WebSocket | null = null;
let retry: ReturnType<typeof setTimeout> | undefined;
let look: Look = { type: "look", cells: 512, relief: false };
/** As it was said last: said once more, it would end what is being shown of an edit. */
let lookSaid = "";
let here: FromViewer | null = null;

let headChanged = () => {};

/** Says who is told when there is another head, or another landscape. */
export function onHead(told: () => void) {
  headChanged = told;
}

/** Opens a live session; it is opened again by itself when it breaks. */
export function openSession(landscape: string) {
  set({ landscape, ...EMPTY });
  whole = null;
  connect(landscape);
}

export function closeSession() {
  clearTimeout(retry);
  const old = socket;
  socket = null;
  old?.close();
  set({ landscape: null, ...EMPTY });
  headChanged();
}

function connect(landscape: string) {
  const scheme = location.protocol === "https:" ? "wss" : "ws";
  const mine = new WebSocket(
    `${scheme}://${location.host}/api/landscapes/${landscape}/live?apart=true`,
  );
  mine.binaryType = "arraybuffer";
  socket = mine;
  mine.onopen = () => {
    set({ connected: true });
    lookSaid = "";
    say(look);
    if (here) say(here);
  };
  mine.onmessage = ({ data }: MessageEvent<string | ArrayBuffer>) => {
    if (mine !== socket) return;
    if (typeof data === "string") hear(JSON.parse(data) as ToViewer);
    else show(decodePicture(data));
  };
  mine.onclose = () => {
    if (mine !== socket) return;
    set({ connected: false, people: [] });
    retry = setTimeout(() => connect(landscape), 1000);
  };
}

export function say(message: FromViewer) {
  if (message.type === "look") {
    // Another part of the land is other land.
    if (message.strand !== look.strand || message.solo !== look.solo) set({ finest: null });
    look = message;
  }
  if (message.type === "here") here = message;
  if (socket?.readyState !== WebSocket.OPEN) return;
  const text = JSON.stringify(message);
  if (message.type === "look") {
    if (text === lookSaid) return;
    lookSaid = text;
  }
  socket.send(text);
}

function hear(message: ToViewer) {
  switch (message.type) {
    case "head":
      receiveHead(message).catch((error: Error) => toast.error(error.message));
      break;
    case "moved":
      takeMove(message);
      break;
    case "outdated":
      // Made anew on the newer head: at once when it is here, or when it comes.
      headChanged();
      break;
    case "bands":
      set({ bands: Object.fromEntries(message.bands.map((band) => [band.step, band])) });
      break;
    case "survey":
      set({ findings: message.findings });
      break;
    case "progress":
      set({ progress: estimate(message.cells, message.share) });
      break;
    case "stopped":
      set({ progress: null });
      toast("Stopped. What you see is what has grown so far; any edit grows on.");
      break;
    case "people":
      set({ people: message.people });
      break;
    case "fault":
      set({ progress: null });
      toast.error(message.detail);
      break;
    case "gone":
      set({ gone: true });
      break;
  }
}

/** A head that came without its long lists of points. */
export async function receiveHead(head: Head) {
  const { landscape } = useSession.getState();
  if (!landscape) return;
  const recipe = await filled(landscape, head.recipe);
  if (useSession.getState().landscape === landscape) takeHead({ ...head, recipe });
}

/** A newer head; what is shown becomes “before” if the head really moved. */
function takeHead(head: Head) {
  const { head: known, now } = useSession.getState();
  if (known && head.version <= known.version) return;
  const isParent = now && !now.header.preview && now.header.revision === head.parent;
  set({ head, draft: null, before: isParent ? now : null });
  headChanged();
}

/** Goes along with a move of the head; asks for the whole when one was missed. */
export function takeMove(move: HeadMove) {
  const { head } = useSession.getState();
  if (!head || move.version <= head.version) return;
  const isNext = move.version === head.version + 1 && move.base === head.revision;
  // What somebody else has drawn comes with the whole.
  if (!isNext || !isHere(move.patch)) {
    say({ type: "whole" });
    return;
  }
  const { version, revision, parent, undo, redo, mark, author } = move;
  const recipe = produce(head.recipe, (draft) => {
    applyPatch(draft, filledFromHere(move.patch) as unknown as Operation[]);
  });
  takeHead({ version, revision, parent, undo, redo, mark, author, recipe });
}

/** A picture that came, or the whole with the part that came. */
function onSheet(painted: Picture): Picture | null {
  const { part, moment, complete, cols, rows, preview } = painted.header;
  if (moment !== "now") return painted;
  if (!part) {
    if (complete && Math.max(cols, rows) <= look.cells) whole = painted;
    return painted;
  }
  const laid = whole && withPart(whole, painted);
  // The next stroke begins on a sheet of its own: this one may be looked at as “before”.
  if (laid && !preview) whole = laid;
  return laid;
}

/** Whether there is more to be read of a picture than of the finest one until now. */
function isFiner({ header }: Picture, finest: Picture | null): boolean {
  if (!finest || header.preview || finest.header.preview) return true;
  return finest.header.revision !== header.revision || header.cell_m <= finest.header.cell_m;
}

/** The last whole picture of the head as it is looked at, or of an edit of it: on it is
 * sketched. */
let whole: Picture | null = null;

function show(painted: Picture) {
  const picture = onSheet(painted);
  // Of another size by now: what is looked at comes whole.
  if (!picture) {
    lookSaid = "";
    say(look);
    return;
  }
  const { header } = picture;
  if (header.moment === "before") set({ before: picture, progress: null });
  else if (header.moment === "against") set({ against: picture, progress: null });
  else {
    const atRest = Math.max(header.cols, header.rows) > look.cells;
    const { finest } = useSession.getState();
    set({
      now: picture,
      finest: isFiner(picture, finest) ? picture : finest,
      ...(header.complete ? { progress: null } : {}),
      ...(atRest ? {} : { tookMs: header.took_ms }),
    });
  }
}
