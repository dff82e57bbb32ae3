import { create } from "zustand";

export type ThemeChoice = "system" | "paper" | "slate";
export type ContrastChoice = "system" | "more";

/** How the artist likes the studio, on this machine and for all landscapes. */
interface Preferences {
  theme: ThemeChoice;
  contrast: ContrastChoice;
  /** Other keys than the usual ones, by what they do. */
  keys: Record<string, string>;
  /** Cells along the longer side at rest, where nothing else was chosen: as last chosen. */
  cellsAtRest: number;
}

const KEPT = "preferences";
const USUAL: Preferences = { theme: "system", contrast: "system", keys: {}, cellsAtRest: 1024 };

function kept(): Preferences {
  try {
    const found = JSON.parse(localStorage.getItem(KEPT) ?? "{}") as Partial<Preferences>;
    return { ...USUAL, ...found };
  } catch {
    // Preferences that cannot be read are no loss.
    return USUAL;
  }
}

export const usePreferences = create<Preferences>(kept);

export function prefer(change: Partial<Preferences>) {
  usePreferences.setState(change);
  localStorage.setItem(KEPT, JSON.stringify(usePreferences.getState()));
  applyPreferences();
}

const wantsContrast = matchMedia("(prefers-contrast: more)");

/** What styles look at. Where a theme is not chosen, they follow the system by themselves. */
export function applyPreferences() {
  const { theme, contrast } = usePreferences.getState();
  const { dataset } = document.documentElement;
  if (theme === "system") delete dataset.theme;
  else dataset.theme = theme;
  if (contrast === "more" || wantsContrast.matches) dataset.contrast = "more";
  else delete dataset.contrast;
}

wantsContrast.addEventListener("change", applyPreferences);
