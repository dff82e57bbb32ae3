import { create } from "zustand";
import { say } from "../live/session";

export type Stage = "form" | "ground" | "deliver";
export type Projection = "relief" | "plan";

/** A place on the land, metres east and north. */
export interface Place {
  x: number;
  y: number;
}

interface ViewState {
  stage: Stage;
  projection: Projection;
  greyForm: boolean;
  showBefore: boolean;
  watched: string | null;
  openBand: string | null;
  pointer: Place | null;
  section: { from: Place; to: Place } | null;
  help: boolean;
}

/** How the artist looks at the land; none of it is part of the recipe. */
export const useView = create<ViewState>(() => ({
  stage: "form",
  projection: "relief",
  greyForm: false,
  showBefore: false,
  watched: null,
  openBand: null,
  pointer: null,
  section: null,
  help: false,
}));

const CELLS = 512;

/** Changes how the land is looked at, and tells the service what it must. */
export function changeView(change: Partial<ViewState>) {
  useView.setState(change);
  if ("watched" in change || "greyForm" in change) {
    const { watched, greyForm } = useView.getState();
    say({ type: "look", cells: CELLS, relief: greyForm, watched });
  }
}
