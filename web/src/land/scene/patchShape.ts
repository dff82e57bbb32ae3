import type { Picture } from "../../live/picture";
import { reliefAt, type CoverRelief, type SurfacePlace } from "./coverRelief";
import { surfaceAt } from "./groundAt";
import { PATCH, type Patch } from "./quadtree";

/** Numbers of a vertex: place, height on the patch twice as coarse, surface
 * direction east and south, and 1 where it hangs down as the cut side. */
export const VERTEX = 7;
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
          at: [px * width, y * width, pz * width],
          normal: [nx / long, 1 / long, nz / long],
        };
        y += scale * lift(place, height, step * width);
        // Odd vertices turn into the middle between two even ones.
        const even = row % 2 === 0 && col % 2 === 0;
        if (even) coarse += scale * lift(place, height, 2 * step * width);
      }
      vertices.set([px, y, pz, coarse, nx / long, nz / long, wall ? 1 : 0], i);
    }
  }
  coarsen(vertices);
  return vertices;
}

/** Puts every second vertex, as the coarse height, where the patch twice as
 * coarse has its edge. */
function coarsen(vertices: Float32Array) {
  const at = (col: number, row: number) => VERTEX * (row * SIDE + col);
  const isWall = (i: number) => vertices[i + 6] === 1;
  for (let row = 0; row < SIDE; row++) {
    for (let col = 0; col < SIDE; col++) {
      const [oddCol, oddRow] = [col % 2, row % 2];
      if (oddCol + oddRow === 0) continue;
      // Squares are cut from their north-east to their south-west corner.
      const a = at(col + oddCol, row - oddRow);
      const b = at(col - oddCol, row + oddRow);
      if (isWall(a) || isWall(b) || isWall(at(col, row))) continue;
      vertices[at(col, row) + 3] = ((vertices[a + 3] ?? 0) + (vertices[b + 3] ?? 0)) / 2;
    }
  }
}
