import { sizeOf, type Picture } from "../live/picture";
import { changeView, useView, type Place } from "../studio/view";
import { clicked, dragged, lifted, pressed } from "../tools/handlers";
import { groundAt } from "./scene/groundAt";

/** The cursor moves by so much of the land's width, and with Shift by so much more. */
const STEP = 0.01;
const HURRY = 5;
/** Turn around the land, nearer and farther, of a key press. */
const TURN = 0.12;
const NEARER = 1.15;

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** Space holds the tool in hand down, until it is pressed again. */
let held = false;

/** Whatever the pointer does on the land, by keys: the arrows move the cursor, Enter clicks,
 * Space presses and lets go; with Alt the arrows fly around the land. */
export function landKeys(picture: Picture, { nativeEvent: event }: React.KeyboardEvent) {
  const { standing, projection, pointer } = useView.getState();
  const arrow = ARROWS[event.key];
  if (arrow && event.altKey && projection === "relief") {
    event.preventDefault();
    fly(arrow, 1);
  } else if ((event.key === "+" || event.key === "-") && projection === "relief") {
    event.preventDefault();
    event.stopPropagation();
    fly([0, 0], event.key === "+" ? 1 / NEARER : NEARER);
  } else if (arrow && !(standing && projection === "relief")) {
    event.preventDefault();
    const by = STEP * (event.shiftKey ? HURRY : 1);
    const { width, depth } = sizeOf(picture);
    const south = picture.header.north_m - depth;
    const from = pointer ?? { x: width / 2, y: south + depth / 2 };
    const inside = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));
    const to: Place = {
      x: inside(from.x + by * width * arrow[0], 0, width),
      y: inside(from.y + by * width * arrow[1], south, south + depth),
    };
    changeView({ pointer: to });
    if (held) dragged({ place: to, pressure: 1, straight: false });
  } else if (pointer && event.key === "Enter") {
    event.preventDefault();
    clicked(pointer, picture);
  } else if (pointer && event.key === " ") {
    event.preventDefault();
    if (held) lifted();
    else pressed({ place: pointer, pressure: 1, straight: false });
    held = !held;
  }
}

/** Whoever goes elsewhere lets go. */
export function leaveLand() {
  if (held) lifted();
  held = false;
}

/** Turns the camera around what it looks at, and goes nearer or farther. */
function fly([right, up]: [number, number], farther: number) {
  const { camera } = useView.getState();
  if (!camera) return;
  const [x = 0, y = 0, z = 0, tx = 0, ty = 0, tz = 0] = camera;
  const [dx, dy, dz] = [x - tx, y - ty, z - tz];
  const distance = Math.min(6, Math.max(0.02, Math.hypot(dx, dy, dz) * farther));
  const bearing = Math.atan2(dx, dz) + TURN * right;
  const height = Math.min(1.5, Math.max(0.03, Math.asin(dy / Math.hypot(dx, dy, dz)) + TURN * up));
  const level = distance * Math.cos(height);
  changeView({
    camera: [
      tx + level * Math.sin(bearing),
      ty + distance * Math.sin(height),
      tz + level * Math.cos(bearing),
      tx,
      ty,
      tz,
    ],
  });
}

/** Where the cursor is, for those who do not see it. */
export function spokenPlace(picture: Picture, { x, y }: Place): string {
  const height = Math.round(groundAt(picture, x, y));
  return `${Math.round(x)} metres east, ${Math.round(y)} metres north, ${height} metres high`;
}
