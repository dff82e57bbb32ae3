import type { Picture } from "../live/picture";
import { changeView, useView, type Place } from "../studio/view";

/** A round brush. */
export interface Brush {
  size_m: number;
  strength: number;
  softness: number;
}

/** The way of a stroke: metres east, metres north, pressure. */
export type Way = [number, number, number][];

/** What is in hand: one tool at a time, with all that it needs to know. */
export type Tool =
  | { name: "section" | "ruler" | "core" | "stand" }
  /** Chooses the place of a parameter. */
  | { name: "place"; of: string; choose: (place: Place) => void }
  /** Edits a course or an outline on the plan. */
  | {
      name: "course";
      of: string;
      points: Place[];
      closed: boolean;
      /** The land has a smooth curve through the points. */
      smooth?: boolean;
      change: (points: Place[]) => void;
      /** A corner was taken up. */
      chosen?: (corner: number) => void;
    }
  /** Makes strokes, on a mask or on the land. */
  | {
      name: "brush";
      of: string;
      brush: Brush;
      change: (brush: Partial<Brush>) => void;
      stroke: (way: Way, finished: boolean) => void;
      /** What was begun is given up. */
      giveUp: () => void;
    };

export type ToolNamed<N extends Tool["name"]> = Extract<Tool, { name: N }>;

/** The pointer on the land. */
export interface Press {
  place: Place;
  /** How hard a pen is pressed, 0 to 1; a mouse always in full. */
  pressure: number;
  /** Straight on from where it began. */
  straight: boolean;
}

/** What a tool does with the pointer on the land; the same in relief and plan. */
export interface Handler<T extends Tool = Tool> {
  /** What to do with it, in a few words. */
  hint: string;
  /** A drag on the relief is the tool's and does not turn the land. */
  takesDrags?: boolean;
  /** A click on the spot. */
  click?: (tool: T, place: Place, picture: Picture) => void;
  begin?: (tool: T, press: Press) => void;
  drag?: (tool: T, press: Press, from: Place) => void;
  end?: (tool: T) => void;
}

/** How what is under way with the tool in hand is given up. */
let giveUp: (() => void) | null = null;

/** Something is under way, or is over. */
export function underWay(how: (() => void) | null) {
  giveUp = how;
}

/** What is in hand when nothing was taken. */
export const AT_REST: Tool = { name: "section" };

export function takeUp(tool: Tool) {
  changeView({ tool, ruler: null });
}

/** Lays down what is in hand, or gives up what is under way with it; whether there was
 * anything. */
export function layDown(): boolean {
  if (giveUp) {
    giveUp();
    giveUp = null;
    return true;
  }
  const held = useView.getState().tool.name !== AT_REST.name;
  if (held) takeUp(AT_REST);
  return held;
}

/** The tool in hand, if it is this one. */
export function inHand<N extends Tool["name"]>(name: N): ToolNamed<N> | null {
  const { tool } = useView.getState();
  return tool.name === name ? (tool as ToolNamed<N>) : null;
}

/** The same, followed. */
export function useInHand<N extends Tool["name"]>(name: N): ToolNamed<N> | null {
  return useView(({ tool }) => (tool.name === name ? (tool as ToolNamed<N>) : null));
}
