import { create } from "zustand";
import { say } from "../live/session";
import { LAND } from "../live/recipe";
import type { Tool } from "../tools/tool";
import { usePreferences } from "./preferences";
import type { StageName } from "./stages";

export type Projection = "relief" | "plan";
export type CompareMode = "divider" | "side" | "difference";
export type Bench = "survey" | "moments" | "core" | "figures";
export type FrameGuide = "none" | "16:9" | "2:1" | "3:1";

/** A place on the land, metres east and north. */
export interface Place {
  x: number;
  y: number;
}

export interface Line {
  from: Place;
  to: Place;
}

/** How the artist looks at a landscape, kept for each landscape. */
interface KeptView {
  stage: StageName;
  projection: Projection;
  greyForm: boolean;
  /** What steps left behind, shown instead of the ground. */
  trace: string | null;
  contours: boolean;
  flowLines: boolean;
  exaggeration: number;
  /** Cells along the longer side of the picture that is shown at rest. */
  cellsAtRest: number;
  section: Line | null;
  bench: Bench | null;
  /** Where the camera stands and what it looks at, in widths of the land. */
  camera: number[] | null;
  /** Whether the camera stands on the land. */
  standing: boolean;
  lens_mm: number;
  haze: boolean;
  /** How thick the haze is: 1 is a clear day. */
  hazeAmount: number;
  /** The time by which the sun was placed last. */
  sunTime: { latitude_deg: number; day: number; hour: number };
  guide: FrameGuide;
  /** Parts of the studio that are folded away. */
  folded: Folded;
  /** A mask that is shown is grey, instead of hatched over the land. */
  maskAlone: boolean;
}

export interface Folded {
  column: boolean;
  side: boolean;
  section: boolean;
}

interface ViewState extends KeptView {
  landscape: string | null;
  /** What is in hand. */
  tool: Tool;
  /** Nothing but the land is on the screen. */
  alone: boolean;
  showBefore: boolean;
  watched: string | null;
  strand: string;
  solo: string | null;
  /** The revision that the land is compared with, and how. */
  against: number | null;
  /** The revision that is looked at instead of the newest one. */
  at: number | null;
  compare: CompareMode;
  divider: number;
  openBand: string | null;
  pointer: Place | null;
  /** What the camera is asked to frame: all of the land, or the place pointed at. */
  framing: "land" | "place" | null;
  ruler: Line | null;
  core: Place | null;
  sheetOf: string | null;
  help: boolean;
}

const KEPT: KeptView = {
  stage: "form",
  projection: "relief",
  greyForm: false,
  trace: null,
  contours: false,
  flowLines: false,
  exaggeration: 1,
  cellsAtRest: usePreferences.getState().cellsAtRest,
  section: null,
  bench: null,
  camera: null,
  standing: false,
  lens_mm: 35,
  haze: true,
  hazeAmount: 1,
  sunTime: { latitude_deg: 60, day: 172, hour: 9 },
  guide: "none",
  folded: { column: false, side: false, section: false },
  maskAlone: false,
};

const PASSING = {
  tool: { name: "section" } as Tool,
  alone: false,
  showBefore: false,
  watched: null,
  strand: LAND,
  solo: null,
  against: null,
  at: null,
  compare: "divider" as CompareMode,
  divider: 0.5,
  openBand: null,
  pointer: null,
  framing: null,
  ruler: null,
  core: null,
  sheetOf: null,
  help: false,
};

/** How the artist looks at the land; none of it is part of the recipe. */
export const useView = create<ViewState>(() => ({ landscape: null, ...KEPT, ...PASSING }));

/** Cells along the longer side while one works. */
const CELLS = 512;
const LOOKED = ["cellsAtRest", "watched", "greyForm", "trace", "strand", "solo", "against", "at"];
const SAVE_AFTER_MS = 400;

function look() {
  const { cellsAtRest, greyForm, ...view } = useView.getState();
  const { watched, trace, strand, solo, against, at } = view;
  const cells = { cells: CELLS, cells_at_rest: cellsAtRest };
  say({ type: "look", ...cells, relief: greyForm, watched, trace, strand, solo, against, at });
}

/** Changes how the land is looked at, and tells the service what it must. */
export function changeView(change: Partial<ViewState>) {
  useView.setState(change);
  if (LOOKED.some((key) => key in change)) look();
  if (Object.keys(KEPT).some((key) => key in change)) keepSoon();
}

const place = (landscape: string) => `view of ${landscape}`;
let timer: ReturnType<typeof setTimeout> | undefined;

function keepSoon() {
  clearTimeout(timer);
  timer = setTimeout(() => {
    const state = useView.getState();
    if (!state.landscape) return;
    const kept = Object.fromEntries(
      Object.keys(KEPT).map((key) => [key, state[key as keyof KeptView]]),
    );
    localStorage.setItem(place(state.landscape), JSON.stringify(kept));
  }, SAVE_AFTER_MS);
}

/** Looks at a landscape as it was looked at last. */
export function openView(landscape: string) {
  let kept: Partial<KeptView> = {};
  try {
    kept = JSON.parse(localStorage.getItem(place(landscape)) ?? "{}") as Partial<KeptView>;
  } catch {
    // A view that cannot be read is no loss.
  }
  const { cellsAtRest } = usePreferences.getState();
  useView.setState({ landscape, ...KEPT, cellsAtRest, ...PASSING, ...kept });
  look();
}
