import { curveCatmullRom, line } from "d3-shape";
import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { BufferAttribute, BufferGeometry, Line, LineBasicMaterial } from "three";
import { sizeOf, type Picture } from "../../live/picture";
import type { Place } from "../../studio/view";
import { groundAt } from "./groundAt";

/** Places of the line between two points. */
const BETWEEN = 24;
/** Above the ground, in widths of the land, so that it is not buried in it. */
const ABOVE = 0.0015;

interface Props {
  picture: Picture;
  exaggeration: number;
  points: Place[];
  smooth: boolean;
}

/** A drawn course on the ground. */
export function CourseLine({ picture, exaggeration, points, smooth }: Props) {
  const invalidate = useThree((state) => state.invalidate);
  const drawn = useMemo(() => {
    const material = new LineBasicMaterial({ color: 0xffb020, toneMapped: false });
    const drawn = new Line(new BufferGeometry(), material);
    drawn.frustumCulled = false;
    drawn.raycast = () => undefined;
    return drawn;
  }, []);
  useEffect(
    () => () => {
      drawn.geometry.dispose();
      drawn.material.dispose();
    },
    [drawn],
  );
  useEffect(() => {
    const { width, depth } = sizeOf(picture);
    const places = smooth ? curved(points) : straight(points);
    const vertices = places.flatMap(({ x, y }) => [
      x / width - 0.5,
      (groundAt(picture, x, y) / width) * exaggeration + ABOVE,
      (picture.header.north_m - y - depth / 2) / width,
    ]);
    const { geometry } = drawn;
    // What the graphics processor has of it may have another length.
    geometry.dispose();
    geometry.setAttribute("position", new BufferAttribute(new Float32Array(vertices), 3));
    invalidate();
  }, [drawn, picture, exaggeration, points, smooth, invalidate]);
  return <primitive object={drawn} />;
}

function straight(points: Place[]): Place[] {
  return points.flatMap((from, i) => {
    const to = points[i + 1];
    if (!to) return [from];
    return Array.from({ length: BETWEEN }, (_, k) => ({
      x: from.x + ((to.x - from.x) * k) / BETWEEN,
      y: from.y + ((to.y - from.y) * k) / BETWEEN,
    }));
  });
}

/** The curve that the plan draws, as places: its pieces are cubic (Bézier) ones. */
function curved(points: Place[]): Place[] {
  const path = line<Place>()
    .x(({ x }) => x)
    .y(({ y }) => y)
    .digits(null)
    .curve(curveCatmullRom.alpha(0.5))(points);
  const numbers = (path ?? "").match(/-?\d+(\.\d+)?(e[-+]?\d+)?/g)?.map(Number) ?? [];
  const pieces: Place[] = [];
  for (let i = 0; i + 7 < numbers.length; i += 6) {
    const [x0 = 0, y0 = 0, x1 = 0, y1 = 0, x2 = 0, y2 = 0, x3 = 0, y3 = 0] = numbers.slice(
      i,
      i + 8,
    );
    for (let k = 0; k <= BETWEEN; k++) {
      const t = k / BETWEEN;
      const [a, b, c, d] = [(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t ** 3];
      pieces.push({ x: a * x0 + b * x1 + c * x2 + d * x3, y: a * y0 + b * y1 + c * y2 + d * y3 });
    }
  }
  // Two points have a straight line between them.
  return pieces.length > 0 ? pieces : straight(points);
}
