import type { ParameterSchema } from "../controls/schema";

/** A parameter and the range that it is swept over. */
export interface SweepPlan {
  parameter: string;
  count: number;
  low: number;
  high: number;
  /** Each value is so many times the one before, as on its slider. */
  log: boolean;
}

export const COUNTS = [3, 4, 5, 9, 16, 25];

/** On a slider that is logarithmic, and around a value, this many times less and more. */
const AROUND = 3;

/** A range that shows something: around the value that the step has, within its slider. */
export function planOf(
  parameter: string,
  entry: ParameterSchema | undefined,
  current: unknown,
  count: number,
): SweepPlan {
  const [least, most] = entry?.["x-slider"] ?? [entry?.minimum ?? 0, entry?.maximum ?? 1];
  const log = entry?.["x-scale"] === "log" && least > 0;
  const value = typeof current === "number" ? current : null;
  const within = (v: number) => Math.min(most, Math.max(least, v));
  let [low, high] = [least, most];
  if (value !== null && value >= least && value <= most) {
    const reach = (most - least) / 2;
    [low, high] = log
      ? [within(value / AROUND), within(value * AROUND)]
      : [within(value - reach / 2), within(value + reach / 2)];
  }
  const short = (v: number) => Number(v.toPrecision(3));
  return { parameter, count, low: short(low), high: short(high), log };
}

/** The values of a sweep, evenly spread, both ends included. */
export function valuesOf({ count, low, high, log }: SweepPlan, whole: boolean): number[] {
  const values = Array.from({ length: count }, (_, i) => {
    const share = count === 1 ? 0 : i / (count - 1);
    const exact = log && low > 0 ? low * (high / low) ** share : low + (high - low) * share;
    return whole ? Math.round(exact) : Number(exact.toPrecision(4));
  });
  return [...new Set(values)];
}
