import { sizeOf, type Picture } from "../live/picture";
import type { Place } from "../studio/view";
import { groundAt } from "./scene/groundAt";

/** Height of the eye above the ground, metres: a grown person's. */
const EYE_M = 1.7;
/** How far ahead the place is that one looks at, in widths of the land. */
const AHEAD = 0.1;
/** Steepest that one looks up or down. */
const STEEPEST = 1.45;

/** A camera: where it stands and what it looks at, in widths of the land. */
type Pose = number[];

interface Looking {
  place: Place;
  /** Clockwise from north, and up, radians. */
  bearing: number;
  up: number;
}

/** Where a camera stands on the land and which way it looks. */
export function lookingOf(picture: Picture, pose: Pose): Looking {
  const { width, depth } = sizeOf(picture);
  const [x = 0, y = 0, z = 0, tx = 0, ty = 0, tz = 0] = pose;
  const level = Math.hypot(tx - x, tz - z);
  return {
    place: { x: (x + 0.5) * width, y: picture.header.north_m - (z * width + depth / 2) },
    bearing: Math.atan2(tx - x, -(tz - z)),
    up: Math.atan2(ty - y, level),
  };
}

/** A camera at eye height on the ground. */
function poseOf(picture: Picture, { place, bearing, up }: Looking, exaggeration: number): Pose {
  const { width, depth } = sizeOf(picture);
  const inside = (v: number, size: number) => Math.min(size, Math.max(0, v));
  const south = picture.header.north_m - depth;
  const x = inside(place.x, width);
  const north = south + inside(place.y - south, depth);
  const height = groundAt(picture, x, north) * exaggeration + EYE_M;
  const eye = [
    x / width - 0.5,
    height / width,
    (picture.header.north_m - north - depth / 2) / width,
  ];
  const [ex = 0, ey = 0, ez = 0] = eye;
  const level = AHEAD * Math.cos(up);
  return [
    ...eye,
    ex + level * Math.sin(bearing),
    ey + AHEAD * Math.sin(up),
    ez - level * Math.cos(bearing),
  ];
}

/** Directions that are tried for an open view. */
const WAYS = 36;
/** Land that rises by no more than this leaves a view open, as a tangent. */
const OPEN = 0.18;
/** A view that leaves the land within this share of its width shows nothing. */
const SOON = 0.12;
/** The first distance that is looked at, metres, and how much farther the next ones are. */
const NEAR_M = 12;
const FARTHER = 1.3;

/** How steeply land stands in the way at most, seen from a place, as a tangent. */
function shutIn(picture: Picture, place: Place, bearing: number, exaggeration: number): number {
  const { width, depth } = sizeOf(picture);
  const south = picture.header.north_m - depth;
  const eye = groundAt(picture, place.x, place.y) * exaggeration + EYE_M;
  let steepest = -Infinity;
  for (let far = NEAR_M; ; far *= FARTHER) {
    const x = place.x + far * Math.sin(bearing);
    const y = place.y + far * Math.cos(bearing);
    if (x < 0 || x > width || y < south || y > south + depth)
      return far < SOON * width ? Infinity : steepest;
    steepest = Math.max(steepest, (groundAt(picture, x, y) * exaggeration - eye) / far);
  }
}

/** The bearing nearest to a wanted one with an open view; where there is none, the one that
 * is least shut in. */
function openWay(picture: Picture, place: Place, wanted: number, exaggeration: number): number {
  let [best, least] = [wanted, Infinity];
  for (let k = 0; k <= WAYS; k++) {
    // To the right and to the left in turn, farther each time.
    const turn = (k % 2 === 0 ? 1 : -1) * Math.ceil(k / 2) * ((2 * Math.PI) / WAYS);
    const rises = shutIn(picture, place, wanted + turn, exaggeration);
    if (rises <= OPEN) return wanted + turn;
    if (rises < least) [best, least] = [wanted + turn, rises];
  }
  return best;
}

/** A camera that stands at a place, looking at the open view that is nearest to the way that
 * the last one looked. */
export function standAt(
  picture: Picture,
  place: Place,
  camera: Pose | null,
  exaggeration: number,
): Pose {
  const wanted = camera ? lookingOf(picture, camera).bearing : 0;
  const bearing = openWay(picture, place, wanted, exaggeration);
  return poseOf(picture, { place, bearing, up: 0.03 }, exaggeration);
}

/** A standing camera after some metres of walking and a turn to the right. */
export function walked(
  picture: Picture,
  camera: Pose,
  exaggeration: number,
  { ahead = 0, turn = 0, raise = 0 },
): Pose {
  const { place, bearing, up } = lookingOf(picture, camera);
  const turned = bearing + turn;
  const there = {
    x: place.x + ahead * Math.sin(turned),
    y: place.y + ahead * Math.cos(turned),
  };
  const raised = Math.min(STEEPEST, Math.max(-STEEPEST, up + raise));
  return poseOf(picture, { place: there, bearing: turned, up: raised }, exaggeration);
}
