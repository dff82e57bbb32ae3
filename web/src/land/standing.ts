import type { Picture } from "../live/picture";
import { sizeOf } from "../live/picture";
import type { Place } from "../studio/view";

/** Height of the eye above the ground, metres: a grown person's. */
const EYE_M = 1.7;
/** How far ahead one looks, in widths of the land. */
const AHEAD = 0.12;

/**
 * A camera that stands at a place, looking the way that the last one did; in
 * widths of the land, as the view keeps it.
 */
export function standAt(
  picture: Picture,
  place: Place,
  camera: number[] | null,
  exaggeration: number,
): number[] {
  const { width, depth } = sizeOf(picture);
  const { cols, rows, cell_m, north_m, sea_level_m } = picture.header;
  const col = Math.min(cols - 1, Math.max(0, Math.round(place.x / cell_m - 0.5)));
  const row = Math.min(rows - 1, Math.max(0, Math.round((north_m - place.y) / cell_m - 0.5)));
  // The highest nearby, so that the ground's own slope does not hide the view.
  let ground = sea_level_m;
  for (let r = Math.max(0, row - 1); r <= Math.min(rows - 1, row + 1); r++) {
    for (let c = Math.max(0, col - 1); c <= Math.min(cols - 1, col + 1); c++) {
      ground = Math.max(ground, picture.heights[r * cols + c] ?? 0);
    }
  }
  const x = place.x / width - 0.5;
  const y = ((ground + EYE_M) / width) * exaggeration;
  const z = (north_m - place.y - depth / 2) / width;
  const [fromX = 0, , fromZ = 1, toX = 0, , toZ = 0] = camera ?? [];
  const length = Math.hypot(toX - fromX, toZ - fromZ) || 1;
  const ahead = [(toX - fromX) / length, (toZ - fromZ) / length] as const;
  return [x, y, z, x + AHEAD * ahead[0], y + 0.004, z + AHEAD * ahead[1]];
}
