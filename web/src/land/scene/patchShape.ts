import type { Picture } from "../../live/picture";
import { reliefAt, type CoverRelief, type SurfacePlace } from "./coverRelief";
import { surfaceAt } from "./groundAt";
import { PATCH, type Patch } from "./quadtree";

/** Numbers of a vertex: place, place on the patch twice as coarse, surface
 * direction east and south, and 1 where it hangs down as the cut side. */
export const VERTEX = 9;
const SIDE = PATCH + 1;
/** Vertices farther apart, metres, do not show the relief of materials. */
const FINE_M = 6;
/** Nothing stands out of the water: the relief grows with the height above it. */
const SHORE_M = 3;
export const PATCH_VERTICES = SIDE * SIDE;

/** How a picture's heights are drawn, in widths of the land. */
export interface Ground {
  picture: Picture;
  exaggeration: number;
  /** How deep the cut sides hang down. */
  floor: number;
  /** What covers add close up, in the order of the picture's numbers. */
  covers: CoverRelief[];
}

/** The vertices of one patch. */
export function patchShape(ground: Ground, { x, z, size }: Patch): Float32Array {
  const { cols, rows, cell_m, sea_level_m } = ground.picture.header;
  const width = cols * cell_m;
  const scale = ground.exaggeration / width;
  const [east, south] = [0.5 - 0.5 / cols, (0.5 * rows - 0.5) / cols];
  const step = size / PATCH;
  const lift = (place: SurfacePlace, height: number, spacing_m: number) => {
    if (spacing_m > FINE_M) return 0;
    const dry = Math.min(1, (height - sea_level_m) / SHORE_M);
    return dry * reliefAt(ground.covers, ground.picture, place, spacing_m);
  };
  const vertices = new Float32Array(PATCH_VERTICES * VERTEX);
  for (let row = 0, i = 0; row < SIDE; row++) {
    for (let col = 0; col < SIDE; col++, i += VERTEX) {
      const [askedX, askedZ] = [x + col * step, z + row * step];
      const px = Math.min(east, Math.max(-east, askedX));
      const pz = Math.min(south, Math.max(-south, askedZ));
      const cell = { col: (px + 0.5) * cols - 0.5, row: (pz + (0.5 * rows) / cols) * cols - 0.5 };
      const [height, slopeX, slopeZ] = surfaceAt(ground.picture, cell.col, cell.row);
      const [nx, nz] = [-slopeX * scale * cols, -slopeZ * scale * cols];
      const long = Math.hypot(nx, nz, 1);
      // Beyond its edge the surface ends, and a whole square beyond it hangs
      // down as the cut side.
      const beyond = Math.max(Math.abs(askedX) - east, Math.abs(askedZ) - south) / step;
      const wall = beyond >= 1;
      let [y, coarse] = [height * scale, height * scale];
      if (wall) y = coarse = ground.floor;
      else if (step * width <= FINE_M && ground.covers.length > 0) {
        const place: SurfacePlace = {
          ...cell,
          at: [(px + 0.5) * width, y * width, ((0.5 * rows) / cols - pz) * width],
          normal: [nx / long, 1 / long, nz / long],
        };
        y += scale * lift(place, height, step * width);
        // Odd vertices move to even ones.
        const even = row % 2 === 0 && col % 2 === 0;
        if (even) coarse += scale * lift(place, height, 2 * step * width);
      }
      vertices.set([px, y, pz, px, coarse, pz, nx / long, nz / long, wall ? 1 : 0], i);
    }
  }
  coarsen(vertices);
  return vertices;
}

/** Moves every second vertex, on the patch twice as coarse, to the one before it:
 * what is left is that patch, with no vertex on an edge of a larger one, where
 * the sky would shine through. */
function coarsen(vertices: Float32Array) {
  const at = (col: number, row: number) => VERTEX * (row * SIDE + col);
  const isWall = (i: number) => vertices[i + 8] === 1;
  for (let row = 0; row < SIDE; row++) {
    for (let col = 0; col < SIDE; col++) {
      const [own, even] = [at(col, row), at(col - (col % 2), row - (row % 2))];
      if (own === even || isWall(own) || isWall(even)) continue;
      vertices.copyWithin(own + 3, even + 3, even + 6);
    }
  }
}
