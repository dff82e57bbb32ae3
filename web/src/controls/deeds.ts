import type { HandDeed } from "../api/types";

/** A number that a deed asks for. */
export interface DeedNumber {
  name: string;
  label: string;
  unit: string;
  slider: [number, number];
  /** What it begins with, for a brush of so many metres. */
  first: (size_m: number) => number;
}

/** What a stroke can do. */
export interface Deed {
  name: string;
  label: string;
  hint: string;
  numbers: DeedNumber[];
}

const round = (metres: number) => Number(metres.toPrecision(2));
const byHeight = (hint: string): DeedNumber => ({
  name: "by_m",
  label: hint,
  unit: "m",
  slider: [0.5, 400],
  first: (size_m) => round(size_m / 20),
});

/** What the hand can do, in the order in which it is offered. */
export const DEEDS: Deed[] = [
  {
    name: "raise",
    label: "Raise",
    hint: "Raises the land under the brush",
    numbers: [byHeight("By")],
  },
  {
    name: "lower",
    label: "Lower",
    hint: "Lowers the land under the brush",
    numbers: [byHeight("By")],
  },
  { name: "smooth", label: "Smooth", hint: "Evens it out; no ground is lost", numbers: [] },
  { name: "sharpen", label: "Sharpen", hint: "Brings out crests and creases", numbers: [] },
  {
    name: "flatten",
    label: "Flatten",
    hint: "Makes it level with the place where the stroke begins, a height or a plane",
    numbers: [],
  },
  {
    name: "roughen",
    label: "Roughen",
    hint: "Lays noise on it",
    numbers: [
      byHeight("By"),
      {
        name: "feature_m",
        label: "Feature",
        unit: "m",
        slider: [5, 1000],
        first: (size_m) => round(size_m / 5),
      },
    ],
  },
  {
    name: "weather",
    label: "Weather",
    hint: "Lets what is steep fall and rounds the rest, as years would",
    numbers: [],
  },
  { name: "push", label: "Push", hint: "Drags the land along with the pointer", numbers: [] },
  {
    name: "paint_back",
    label: "Paint back",
    hint: "Brings back what was there before the first stroke",
    numbers: [],
  },
];

/** A deed with its numbers; a value that was not said is as usual. */
export function deedOf(
  deed: Deed,
  said: Record<string, number>,
  flatten: { to: string; height_m: number },
  size_m: number,
  seed: number,
): HandDeed {
  const numbers = deed.numbers.map(({ name, first }) => [name, said[name] ?? first(size_m)]);
  const values: Record<string, unknown> = Object.fromEntries(numbers) as Record<string, number>;
  if (deed.name === "roughen") values.seed = seed;
  if (deed.name === "flatten") {
    values.to = flatten.to;
    if (flatten.to === "height") values.height_m = flatten.height_m;
  }
  return { [deed.name]: values } as unknown as HandDeed;
}
