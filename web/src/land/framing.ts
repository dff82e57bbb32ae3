import { sizeOf, type Picture } from "../live/picture";
import type { Place } from "../studio/view";
import { FIRST_POSE } from "./pose";
import { groundAt } from "./scene/groundAt";

type Vector = [number, number, number];

/** Width of the sensor that lenses are named for, millimetres. */
export const SENSOR_MM = 36;
/** The land fills so much of the picture. */
const FILLED = 0.95;
/** The cut sides go down by about so much, in widths of the land. */
const PLINTH = 0.035;
/** More places of the land than these are not looked at. */
const MOST_PLACES = 4096;
/** From how far away a place is looked at, and how far above the ground at least, in
 * widths of the land. */
const NEAR = 0.2;
const ABOVE = 0.01;

const minus = (a: Vector, b: Vector): Vector => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const along = (a: Vector, b: Vector, by: number): Vector => [
  a[0] + by * b[0],
  a[1] + by * b[1],
  a[2] + by * b[2],
];
const dot = (a: Vector, b: Vector) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const unit = (a: Vector): Vector => along([0, 0, 0], a, 1 / Math.hypot(...a));

/** Which way a camera looks. */
function wayOf(camera: number[]): Vector {
  const [x = 0, y = 0, z = 0, tx = 0, ty = 0, tz = 0] = camera;
  return unit([tx - x, ty - y, tz - z]);
}

/** Places between which all of the land is: the highest of each block of cells, and the
 * feet of its corners. */
function extremes(picture: Picture, exaggeration: number): Vector[] {
  const { cols, rows, block, low_m, sea_level_m } = picture.header;
  const { width } = sizeOf(picture);
  const scale = exaggeration / width;
  const [across, down] = [Math.ceil(cols / block), Math.ceil(rows / block)];
  const stride = Math.ceil(Math.sqrt((across * down) / MOST_PLACES));
  const [east, south] = [0.5, rows / cols / 2];
  const feet = Math.min(low_m, sea_level_m) * scale - PLINTH;
  const places: Vector[] = [-east, east].flatMap((x) =>
    [-south, south].map((z): Vector => [x, feet, z]),
  );
  for (let r = 0; r < down; r += stride) {
    for (let c = 0; c < across; c += stride) {
      let high = sea_level_m;
      for (let k = 0; k < stride * stride; k++) {
        const [dc, dr] = [k % stride, Math.floor(k / stride)];
        if (c + dc < across && r + dr < down) {
          high = Math.max(high, picture.bounds[2 * ((r + dr) * across + c + dc) + 1] ?? high);
        }
      }
      const [west, end] = [c * block, Math.min(cols, (c + stride) * block)];
      const [north, foot] = [r * block, Math.min(rows, (r + stride) * block)];
      for (const col of [west, end]) {
        for (const row of [north, foot]) {
          places.push([col / cols - 0.5, high * scale, row / cols - south]);
        }
      }
    }
  }
  return places;
}

/** A camera that sees the whole land with a lens, in a picture so many times as wide as
 * it is high, looking the way that the first one does. */
export function wholeLand(
  picture: Picture,
  exaggeration: number,
  aspect: number,
  lens_mm: number,
): number[] {
  const forward = wayOf(FIRST_POSE);
  const right = unit(cross(forward, [0, 1, 0]));
  const up = cross(right, forward);
  const half = (FILLED * SENSOR_MM) / 2 / lens_mm;
  const places = extremes(picture, exaggeration);
  let target: Vector = [0, 0, 0];
  let distance = 1;
  // In the middle of what is seen of the land, which changes a little with the distance.
  for (let k = 0; k < 4; k++) {
    distance = 0;
    for (const place of places) {
      const from = minus(place, target);
      const wide = Math.abs(dot(from, right)) / half;
      const high = (Math.abs(dot(from, up)) * aspect) / half;
      distance = Math.max(distance, Math.max(wide, high) - dot(from, forward));
    }
    if (k === 3) break;
    const seen = places.map((place): [number, number] => {
      const from = minus(place, target);
      const far = distance + dot(from, forward);
      return [dot(from, right) / far, dot(from, up) / far];
    });
    const middle = (axis: 0 | 1) => {
      const [low, high] = seen.reduce(
        ([low, high], at) => [Math.min(low, at[axis]), Math.max(high, at[axis])],
        [Infinity, -Infinity],
      );
      return (low + high) / 2;
    };
    target = along(along(target, right, middle(0) * distance), up, middle(1) * distance);
  }
  return [...along(target, forward, -distance), ...target];
}

/** A camera that looks at a place from near by, the way that the last one looked. */
export function nearPlace(
  picture: Picture,
  exaggeration: number,
  place: Place,
  camera: number[] | null,
): number[] {
  const { width, depth } = sizeOf(picture);
  const { north_m } = picture.header;
  const lifted = (x: number, y: number) => (groundAt(picture, x, y) * exaggeration) / width;
  const target: Vector = [
    place.x / width - 0.5,
    lifted(place.x, place.y),
    (north_m - place.y - depth / 2) / width,
  ];
  const eye = along(target, wayOf(camera ?? FIRST_POSE), -NEAR);
  const [x, y] = [(eye[0] + 0.5) * width, north_m - eye[2] * width - depth / 2];
  return [eye[0], Math.max(eye[1], lifted(x, y) + ABOVE), eye[2], ...target];
}
