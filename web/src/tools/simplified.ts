import type { Way } from "./tool";

/** How far a point is from a straight way between two others: in brushes, of its place and
 * of how hard the pen is pressed. */
function astray([x, y, p]: Way[number], from: Way[number], to: Way[number], size: number): number {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const long = dx * dx + dy * dy;
  const along = long > 0 ? ((x - from[0]) * dx + (y - from[1]) * dy) / long : 0;
  const share = Math.min(1, Math.max(0, along));
  const away = Math.hypot(x - from[0] - share * dx, y - from[1] - share * dy) / size;
  return Math.max(away, Math.abs(p - from[2] - share * (to[2] - from[2])));
}

/**
 * The points that a way cannot do without to be true to within `most` of a brush
 * (Ramer 1972; Douglas and Peucker 1973). Ends stay.
 */
export function simplified(way: Way, size: number, most: number): Way {
  const kept = new Set([0, way.length - 1]);
  const parts: [number, number][] = [[0, way.length - 1]];
  for (let part = parts.pop(); part; part = parts.pop()) {
    const [first, last] = part;
    const [from, to] = [way[first], way[last]];
    if (!from || !to) continue;
    let [farthest, far] = [first, most];
    for (let i = first + 1; i < last; i++) {
      const point = way[i];
      const apart = point ? astray(point, from, to, size) : 0;
      if (apart > far) [farthest, far] = [i, apart];
    }
    if (farthest === first) continue;
    kept.add(farthest);
    parts.push([first, farthest], [farthest, last]);
  }
  return way.filter((_, i) => kept.has(i));
}
