import type { Reading } from "../api/types";

/** A number that a reading asks for. */
export interface ReadingNumber {
  key: string;
  label: string;
  unit?: string;
  slider: [number, number];
  log?: boolean;
  whole?: boolean;
}

/** What a kind of reading is called, and how it is set. */
export interface ReadingSheet {
  label: string;
  unit?: string;
  /** Where its values usually lie, until the land itself says. */
  range: [number, number];
  make: () => Reading;
  numbers?: ReadingNumber[];
  /** Goes from 0 to 1 as masks do: it is one without a range. */
  share?: boolean;
}

const bearing: ReadingNumber = {
  key: "bearing_deg",
  label: "Bearing",
  unit: "°",
  slider: [0, 360],
};
const scale = (high: number): ReadingNumber => ({
  key: "scale_m",
  label: "Scale",
  unit: "m",
  slider: [0, high],
});

/** Readings of the land as such. */
export const READINGS: Record<string, ReadingSheet> = {
  height: { label: "Height", unit: "m", range: [-200, 2000], make: () => "height" },
  slope: { label: "Slope", unit: "°", range: [0, 90], make: () => "slope" },
  facing: {
    label: "Facing",
    unit: "°",
    range: [0, 180],
    make: () => ({ facing: { bearing_deg: 180 } }),
    numbers: [bearing],
  },
  curvature: {
    label: "Curvature",
    unit: "/km",
    range: [-20, 20],
    make: () => ({ curvature: { bend: "mean", scale_m: 40 } }),
    numbers: [scale(300)],
  },
  position: {
    label: "Crest or hollow",
    unit: "m",
    range: [-50, 50],
    make: () => ({ position: { scale_m: 150 } }),
    numbers: [scale(600)],
  },
  roughness: {
    label: "Roughness",
    unit: "m",
    range: [0, 30],
    make: () => ({ roughness: { scale_m: 50 } }),
    numbers: [scale(300)],
  },
  occlusion: {
    label: "Shut in",
    range: [0, 1],
    share: true,
    make: () => ({ occlusion: { reach_m: 400 } }),
    numbers: [{ key: "reach_m", label: "Reach", unit: "m", slider: [20, 2000], log: true }],
  },
  sunlight: {
    label: "Sunlight",
    range: [0, 1],
    share: true,
    make: () => ({ sunlight: { bearing_deg: 180, altitude_deg: 40 } }),
    numbers: [bearing, { key: "altitude_deg", label: "Sun’s height", unit: "°", slider: [1, 90] }],
  },
  sun_day: {
    label: "Sun through a day",
    range: [0, 1],
    share: true,
    make: () => ({ sun_day: { latitude_deg: 60, day: 172 } }),
    numbers: [
      { key: "latitude_deg", label: "Latitude", unit: "°", slider: [-70, 70] },
      { key: "day", label: "Day of the year", slider: [1, 365], whole: true },
    ],
  },
  area: { label: "Drained land", unit: "ha", range: [0, 50], make: () => "area" },
  wetness: { label: "Wetness", range: [2, 16], make: () => "wetness" },
  water: { label: "Distance to water", unit: "m", range: [0, 1000], make: () => "water" },
  water_depth: { label: "Under water", unit: "m", range: [0, 100], make: () => "water_depth" },
  near: {
    label: "Distance to a mask",
    unit: "m",
    range: [0, 500],
    make: () => ({ near: { mask: "" } }),
  },
  named: { label: "Named mask", range: [0, 1], share: true, make: () => ({ named: { mask: "" } }) },
  east: { label: "Place, east", unit: "m", range: [0, 10_000], make: () => "east" },
  north: { label: "Place, north", unit: "m", range: [0, 10_000], make: () => "north" },
  point: {
    label: "Distance to a point",
    unit: "m",
    range: [0, 3000],
    make: () => ({ point: { x_m: 3000, y_m: 3000 } }),
    numbers: [
      { key: "x_m", label: "East", unit: "m", slider: [0, 12_000] },
      { key: "y_m", label: "North", unit: "m", slider: [0, 12_000] },
    ],
  },
  noise: {
    label: "Noise",
    range: [-1, 1],
    make: () => ({ noise: { feature_m: 500, seed: 1 } }),
    numbers: [
      { key: "feature_m", label: "Feature", unit: "m", slider: [10, 5000], log: true },
      { key: "seed", label: "Seed", slider: [0, 99], whole: true },
    ],
  },
  image: { label: "Image", range: [0, 1], share: true, make: () => ({ image: { asset: "" } }) },
  painted: {
    label: "Painted",
    range: [0, 1],
    share: true,
    make: () => ({ painted: { strokes: [] } }),
  },
  river: {
    label: "Distance to a river",
    unit: "m",
    range: [0, 500],
    make: () => ({ river: { least_order: 1 } }),
    numbers: [{ key: "least_order", label: "Order from", slider: [1, 6], whole: true }],
  },
};

const trace = (label: string, unit: string | undefined, high: number, name: string) => ({
  label,
  ...(unit ? { unit } : {}),
  range: [0, high] as [number, number],
  make: () => ({ trace: name }) as Reading,
});

/** Readings of what steps left behind. */
export const TRACES: Record<string, ReadingSheet> = {
  wear: trace("Wear", "m", 40, "wear"),
  deposit: trace("Deposit", "m", 40, "deposit"),
  flow: trace("Flow", "m²/s", 5, "flow"),
  outcrop: trace("Outcrop", undefined, 1, "outcrop"),
  strewn: trace("Strewn copies", undefined, 1, "strewn"),
  drainage: trace("Drainage area", "m²", 2e6, "drainage"),
  snow: trace("Snow", "m", 10, "snow"),
  depth: trace("Water depth", "m", 10, "depth"),
  suspended: trace("Suspended load", "m", 1, "suspended"),
};

/** Which kind of reading one is. */
export function kindOf(reading: Reading): string {
  if (typeof reading === "string") return reading;
  if ("trace" in reading) return reading.trace;
  return Object.keys(reading)[0] ?? "height";
}

export function sheetOf(kind: string): ReadingSheet {
  return READINGS[kind] ?? TRACES[kind] ?? { label: kind, range: [0, 1], make: () => "height" };
}

/** The parameters of a reading; none for plain ones. */
export function parametersOf(reading: Reading): Record<string, unknown> {
  if (typeof reading === "string" || "trace" in reading) return {};
  return Object.values(reading)[0] as Record<string, unknown>;
}

export function withParameter(reading: Reading, key: string, value: unknown): Reading {
  if (typeof reading === "string") return reading;
  const [kind, parameters] = Object.entries(reading)[0] ?? [];
  return { [kind ?? ""]: { ...(parameters as object), [key]: value } } as unknown as Reading;
}
