import type { Picture } from "../live/picture";

/** The picture with its mask in grey in place of all colours: white where it is full. */
export function maskAlone(picture: Picture): Picture {
  const { mask } = picture;
  if (!mask) return picture;
  const colour = new Uint8Array(3 * mask.length);
  mask.forEach((share, cell) => colour.fill(share, 3 * cell, 3 * cell + 3));
  return { ...picture, colour, mask: null };
}
