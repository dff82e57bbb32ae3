type Point = [number, number];

/**
 * The curve through points as an SVG path, drawn as the service bends heights:
 * cubic pieces that never swing beyond their ends (Fritsch and Butland 1984).
 */
export function monotonePath(points: Point[]): string {
  const [first] = points;
  if (!first) return "";
  const secants = points.slice(1).map(([x, y], i) => {
    const [x0, y0] = points[i] ?? first;
    return (y - y0) / Math.max(1e-9, x - x0);
  });
  const tangents = points.map((_, i) => {
    const [left, right] = [secants[i - 1], secants[i]];
    if (left === undefined || right === undefined) return left ?? right ?? 0;
    return left * right > 0 ? (2 * left * right) / (left + right) : 0;
  });
  const pieces = points.slice(1).map(([x, y], i) => {
    const [x0, y0] = points[i] ?? first;
    const third = (x - x0) / 3;
    const [start, end] = [tangents[i] ?? 0, tangents[i + 1] ?? 0];
    return `C${x0 + third},${y0 + start * third} ${x - third},${y - end * third} ${x},${y}`;
  });
  return `M${first[0]},${first[1]} ${pieces.join(" ")}`;
}
