/** A parameter and the range that it is swept over. */
export interface SweepPlan {
  parameter: string;
  count: number;
  low: number;
  high: number;
}

export const COUNTS = [3, 4, 5, 9, 16, 25];

/** The values of a sweep, evenly spread, both ends included. */
export function valuesOf({ count, low, high }: SweepPlan, whole: boolean): number[] {
  const values = Array.from({ length: count }, (_, i) => {
    const exact = count === 1 ? low : low + ((high - low) * i) / (count - 1);
    return whole ? Math.round(exact) : Number(exact.toPrecision(4));
  });
  return [...new Set(values)];
}
