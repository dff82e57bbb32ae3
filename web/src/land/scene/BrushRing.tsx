import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { BufferAttribute, BufferGeometry, LineBasicMaterial, LineLoop } from "three";
import { sizeOf, type Picture } from "../../live/picture";
import type { Place } from "../../studio/view";
import type { Brush } from "../../tools/tool";
import { groundAt } from "./groundAt";

const POINTS = 96;
/** Above the ground, in widths of the land, so that it is not buried in it. */
const ABOVE = 0.0006;

interface Props {
  picture: Picture;
  exaggeration: number;
  brush: Brush;
  at: Place;
}

/** The brush on the ground, true in size: where it ends, and from where on it fades. */
export function BrushRing({ picture, exaggeration, brush, at }: Props) {
  const invalidate = useThree((state) => state.invalidate);
  const [outer, inner] = useMemo(() => [ring(0xffb020, 1), ring(0xffb020, 0.55)], []);
  useEffect(
    () => () => {
      for (const { geometry, material } of [outer, inner]) {
        geometry.dispose();
        material.dispose();
      }
    },
    [outer, inner],
  );
  useEffect(() => {
    const radius = brush.size_m / 2;
    drape(outer, picture, exaggeration, at, radius);
    drape(inner, picture, exaggeration, at, radius * (1 - brush.softness));
    invalidate();
  }, [outer, inner, picture, exaggeration, brush, at, invalidate]);
  return (
    <>
      <primitive object={outer} />
      <primitive object={inner} />
    </>
  );
}

function ring(color: number, opacity: number) {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(new Float32Array(3 * POINTS), 3));
  const material = new LineBasicMaterial({ color, opacity, transparent: true, toneMapped: false });
  const loop = new LineLoop(geometry, material);
  loop.frustumCulled = false;
  loop.raycast = () => undefined;
  return loop;
}

/** Lays a ring on the ground around a place. */
function drape(
  loop: ReturnType<typeof ring>,
  picture: Picture,
  exaggeration: number,
  { x, y }: Place,
  radius: number,
) {
  const { width, depth } = sizeOf(picture);
  const south = picture.header.north_m - depth;
  const inside = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));
  const places = loop.geometry.getAttribute("position") as BufferAttribute;
  for (let i = 0; i < POINTS; i++) {
    const angle = (2 * Math.PI * i) / POINTS;
    const east = inside(x + radius * Math.cos(angle), 0, width);
    const north = inside(y + radius * Math.sin(angle), south, south + depth);
    const height = (groundAt(picture, east, north) / width) * exaggeration + ABOVE;
    const z = (picture.header.north_m - north - depth / 2) / width;
    places.setXYZ(i, east / width - 0.5, height, z);
  }
  places.needsUpdate = true;
}
