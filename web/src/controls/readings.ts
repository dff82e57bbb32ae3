import { useCatalogue } from "../api/useCatalogue";
import type { Reading, ReadingKind } from "../api/types";

/** Readings whose parameters are drawn or chosen, not typed. */
export const DRAWN = ["named", "near", "image", "line", "painted"];

/** Stands in while the catalogue is on its way. */
const UNKNOWN: Omit<ReadingKind, "reading" | "title"> = {
  unit: "",
  usual: [0, 1],
  is_share: false,
  begins: {},
};

/** Which kind of reading one is: of a field that steps leave, the name of that. */
export function kindOf(reading: Reading): string {
  if (typeof reading === "string") return reading;
  if ("trace" in reading) return reading.trace;
  return Object.keys(reading)[0] ?? "height";
}

/** What is known of each kind of reading. */
export function useReadings() {
  const { readings } = useCatalogue();
  const sheetOf = (kind: string): ReadingKind =>
    readings.find(({ reading }) => reading === kind) ?? { ...UNKNOWN, reading: kind, title: kind };
  return { readings, sheetOf };
}

/** The reading of a kind to begin with. */
export function begun(sheet: ReadingKind): Reading {
  return sheet.begins as unknown as Reading;
}

/** The usual range of a kind of reading. */
export function usual({ usual: [low = 0, high = 1] }: ReadingKind): [number, number] {
  return [low, high];
}

/** The parameters of a reading; none for plain ones. */
export function parametersOf(reading: Reading): Record<string, unknown> {
  if (typeof reading === "string" || "trace" in reading) return {};
  return Object.values(reading)[0] as Record<string, unknown>;
}

export function withParameter(reading: Reading, key: string, value: unknown): Reading {
  return withParameters(reading, { [key]: value });
}

export function withParameters(reading: Reading, changes: Record<string, unknown>): Reading {
  if (typeof reading === "string") return reading;
  const [kind, parameters] = Object.entries(reading)[0] ?? [];
  return { [kind ?? ""]: { ...(parameters as object), ...changes } } as unknown as Reading;
}
