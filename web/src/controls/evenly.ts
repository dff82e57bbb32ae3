import type { DrawnPoint } from "../api/types";

/** How far along a course each of its points is, from point to point, metres. */
function alongOf(points: DrawnPoint[]): number[] {
  const along = [0];
  points.forEach((point, i) => {
    const before = points[i - 1];
    if (!before) return;
    const length = Math.hypot(point.x_m - before.x_m, point.y_m - before.y_m);
    along.push((along.at(-1) ?? 0) + length);
  });
  return along;
}

/** Length of a course from point to point, metres. */
export function lengthOf(points: DrawnPoint[]): number {
  return alongOf(points).at(-1) ?? 0;
}

/** A course through as many points, as far apart from one another along it. Its ends stay. */
export function evenly(points: DrawnPoint[], count: number): DrawnPoint[] {
  const along = alongOf(points);
  const whole = along.at(-1) ?? 0;
  return Array.from({ length: count }, (_, k) => {
    const at = (whole * k) / (count - 1);
    const after = Math.max(
      1,
      along.findIndex((length) => length >= at - 1e-9),
    );
    const [from, to] = [points[after - 1], points[after]];
    if (!from || !to) return points[0] as DrawnPoint;
    const length = (along[after] ?? 0) - (along[after - 1] ?? 0);
    const share = length > 0 ? (at - (along[after - 1] ?? 0)) / length : 0;
    const between = (a: number, b: number) => a + share * (b - a);
    const factor = (name: "wide" | "high" | "steep") => {
      const value = Number(between(from[name] ?? 1, to[name] ?? 1).toPrecision(3));
      return value === 1 ? {} : { [name]: value };
    };
    return {
      x_m: Math.round(between(from.x_m, to.x_m)),
      y_m: Math.round(between(from.y_m, to.y_m)),
      ...factor("wide"),
      ...factor("high"),
      ...factor("steep"),
    };
  });
}
