import { create } from "zustand";
import type { Recipe } from "../api/types";
import { findStep, operationOf } from "../live/recipe";

type Parameters = Record<string, unknown>;

/** A variant that the artist liked: the parameters of the steps in which it differs. */
export interface Favourite {
  id: number;
  /** By the ids of steps, all parameters of each. */
  steps: Record<string, Parameters>;
  /** A small picture, as a data URL. */
  picture: string;
}

/** Favourites by landscape. */
type Trays = Record<string, Favourite[]>;

const KEPT = "favourites";
/** More would not fit beside a sheet, nor for long into what a browser keeps. */
const MOST = 12;

function kept(): Trays {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? "{}") as Trays;
  } catch {
    // A tray that cannot be read is an empty one.
    return {};
  }
}

export const useTrays = create<{ trays: Trays }>(() => ({ trays: kept() }));

function set(landscape: string, favourites: Favourite[]) {
  const trays = { ...useTrays.getState().trays, [landscape]: favourites };
  useTrays.setState({ trays });
  try {
    localStorage.setItem(KEPT, JSON.stringify(trays));
  } catch {
    // There is no room for more: they last as long as the page.
  }
}

const inTray = (landscape: string) => useTrays.getState().trays[landscape] ?? [];

/** Puts a variant into the tray of its landscape. */
export function keepFavourite(landscape: string, variant: Omit<Favourite, "id">) {
  const known = inTray(landscape);
  const id = 1 + Math.max(0, ...known.map((favourite) => favourite.id));
  set(landscape, [...known, { id, ...variant }].slice(-MOST));
}

export function dropFavourite(landscape: string, id: number) {
  set(
    landscape,
    inTray(landscape).filter((favourite) => favourite.id !== id),
  );
}

/** Makes of a recipe what a variant says; steps that are not there any more are left out. */
export function adoptInto(recipe: Recipe, { steps }: Pick<Favourite, "steps">) {
  for (const [id, parameters] of Object.entries(steps)) {
    const step = findStep(recipe, id);
    if (step) Object.assign(operationOf(step)[1], parameters);
  }
}
