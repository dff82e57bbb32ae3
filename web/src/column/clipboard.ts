import { create } from "zustand";
import type { Step } from "../api/types";

const PLACE = "copied step";

/** A copied step, for this landscape or another one. */
export const useClipboard = create<{ step: Step | null }>(() => ({ step: read() }));

function read(): Step | null {
  try {
    return JSON.parse(localStorage.getItem(PLACE) ?? "null") as Step | null;
  } catch {
    return null;
  }
}

export function copyStep(step: Step) {
  localStorage.setItem(PLACE, JSON.stringify(step));
  useClipboard.setState({ step });
}

// Another window of the studio may have copied one.
window.addEventListener("storage", (event) => {
  if (event.key === PLACE) useClipboard.setState({ step: read() });
});
