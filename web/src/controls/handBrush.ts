import { create } from "zustand";
import type { HandStroke } from "../api/types";
import type { Brush, Way } from "../tools/tool";
import { deedOf, DEEDS, type Deed } from "./deeds";

/** How the hand works, until it is set otherwise: for all steps of hand work. */
interface HandBrush extends Brush {
  deed: string;
  /** Numbers of deeds that were set. */
  said: Record<string, number>;
  flatten: { to: string; height_m: number };
  seed: number;
  pressure: NonNullable<HandStroke["pressure"]>;
  builds_up: boolean;
  between: NonNullable<HandStroke["between"]> | null;
  mirror: HandStroke["mirror"];
}

export const useHandBrush = create<HandBrush>(() => ({
  deed: "raise",
  size_m: 0,
  strength: 0.8,
  softness: 0.8,
  said: {},
  flatten: { to: "began", height_m: 0 },
  seed: 1,
  pressure: "strength",
  builds_up: false,
  between: null,
  mirror: null,
}));

export const changeHandBrush = (to: Partial<HandBrush>) => useHandBrush.setState(to);

export function deedNamed(name: string): Deed {
  return DEEDS.find((deed) => deed.name === name) ?? (DEEDS[0] as Deed);
}

/** The stroke along a way, as the hand is set now. What is as usual is left out. */
export function handStroke(points: Way): HandStroke {
  const hand = useHandBrush.getState();
  const { size_m, strength, softness, pressure, builds_up, between, mirror } = hand;
  return {
    do: deedOf(deedNamed(hand.deed), hand.said, hand.flatten, size_m, hand.seed),
    points,
    size_m,
    strength,
    softness,
    ...(pressure === "strength" ? {} : { pressure }),
    ...(builds_up ? { builds_up } : {}),
    ...(between ? { between } : {}),
    ...(mirror ? { mirror } : {}),
  };
}
