import type { BandMessage, Finding, FromViewer, Head, Look, Recipe, ToViewer } from "../api/types";
import { create } from "zustand";
import { toast } from "sonner";
import { decodePicture, type Picture } from "./picture";
import { estimate, type Progress } from "./progress";

/** What is known of the landscape that is open. */
interface SessionState {
  landscape: string | null;
  connected: boolean;
  gone: boolean;
  head: Head | null;
  /** The recipe with an edit that is not acknowledged yet. */
  draft: Recipe | null;
  now: Picture | null;
  /** Milliseconds from the wish to its picture; finer ones at rest do not count. */
  tookMs: number | null;
  before: Picture | null;
  /** The moment that the land is compared with. */
  against: Picture | null;
  bands: Record<string, BandMessage>;
  findings: Finding[];
  progress: Progress | null;
}

const EMPTY = {
  connected: false,
  gone: false,
  head: null,
  draft: null,
  now: null,
  tookMs: null,
  before: null,
  against: null,
  bands: {},
  findings: [],
  progress: null,
};

export const useSession = create<SessionState>(() => ({ landscape: null, ...EMPTY }));

const set = useSession.setState;
let socket: WebSocket | null = null;
let retry: ReturnType<typeof setTimeout> | undefined;
let look: Look = { type: "look", cells: 512, relief: false };

/** Opens a live session; it is opened again by itself when it breaks. */
export function openSession(landscape: string) {
  set({ landscape, ...EMPTY });
  connect(landscape);
}

export function closeSession() {
  clearTimeout(retry);
  const old = socket;
  socket = null;
  old?.close();
  set({ landscape: null, ...EMPTY });
}

function connect(landscape: string) {
  const scheme = location.protocol === "https:" ? "wss" : "ws";
  const mine = new WebSocket(`${scheme}://${location.host}/api/landscapes/${landscape}/live`);
  mine.binaryType = "arraybuffer";
  socket = mine;
  mine.onopen = () => {
    set({ connected: true });
    say(look);
  };
  mine.onmessage = ({ data }: MessageEvent<string | ArrayBuffer>) => {
    if (mine !== socket) return;
    if (typeof data === "string") hear(JSON.parse(data) as ToViewer);
    else show(decodePicture(data));
  };
  mine.onclose = () => {
    if (mine !== socket) return;
    set({ connected: false });
    retry = setTimeout(() => connect(landscape), 1000);
  };
}

export function say(message: FromViewer) {
  if (message.type === "look") look = message;
  if (socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify(message));
}

function hear(message: ToViewer) {
  switch (message.type) {
    case "head":
      takeHead(message);
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
    case "fault":
      set({ progress: null });
      toast.error(message.detail);
      break;
    case "gone":
      set({ gone: true });
      break;
  }
}

/** A newer head; what is shown becomes “before” if the head really moved. */
export function takeHead(head: Head) {
  set((state) => {
    if (state.head && head.revision === state.head.revision) return { head };
    const now = state.now;
    const isParent = now && !now.header.preview && now.header.revision === head.parent;
    return { head, draft: null, before: isParent ? now : null };
  });
}

function show(picture: Picture) {
  const { header } = picture;
  if (header.moment === "before") set({ before: picture, progress: null });
  else if (header.moment === "against") set({ against: picture, progress: null });
  else {
    const atRest = Math.max(header.cols, header.rows) > look.cells;
    set({
      now: picture,
      ...(header.complete ? { progress: null } : {}),
      ...(atRest ? {} : { tookMs: header.took_ms }),
    });
  }
}
