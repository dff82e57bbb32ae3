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

/** A camera that stands at a place, looking the way that the last one did. */
export function standAt(
  picture: Picture,
  place: Place,
  camera: Pose | null,
  exaggeration: number,
): Pose {
  const bearing = camera ? lookingOf(picture, camera).bearing : 0;
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
