import { BufferAttribute, BufferGeometry } from "three";
import type { Picture } from "../live/picture";

/** Columns of the mesh. More cost a software renderer its fluency. */
const MESH_COLS = 176;

/** Below its lowest point the block goes down by this share of its width. */
const PLINTH = 0.035;

/**
 * The land as a block: its surface in `land`, its cut sides in `sides`. One
 * unit is the width of the land; x east, y up, z south, centred. Where the sea
 * stands its surface is drawn, not the ground.
 */
export function reliefGeometry(picture: Picture, exaggeration: number) {
  const { cols, rows, sea_level_m, low_m, cell_m } = picture.header;
  const step = Math.max(1, (cols - 1) / (MESH_COLS - 1));
  const nx = Math.floor((cols - 1) / step) + 1;
  const nz = Math.floor((rows - 1) / step) + 1;
  const unit = 1 / (cols * cell_m);
  const heightAt = (col: number, row: number) => {
    const c = Math.min(cols - 1, Math.round(col * step));
    const r = Math.min(rows - 1, Math.round(row * step));
    return Math.max(picture.heights[r * cols + c] ?? 0, sea_level_m) * unit * exaggeration;
  };
  const xOf = (col: number) => (Math.min(cols - 1, col * step) + 0.5) / cols - 0.5;
  const zOf = (row: number) =>
    ((Math.min(rows - 1, row * step) + 0.5) / rows - 0.5) * (rows / cols);

  const positions = new Float32Array(nx * nz * 3);
  const uvs = new Float32Array(nx * nz * 2);
  for (let row = 0, i = 0; row < nz; row++) {
    for (let col = 0; col < nx; col++, i++) {
      positions.set([xOf(col), heightAt(col, row), zOf(row)], 3 * i);
      const u = (Math.min(cols - 1, col * step) + 0.5) / cols;
      const v = 1 - (Math.min(rows - 1, row * step) + 0.5) / rows;
      uvs.set([u, v], 2 * i);
    }
  }
  const indices = new Uint32Array((nx - 1) * (nz - 1) * 6);
  for (let row = 0, i = 0; row < nz - 1; row++) {
    for (let col = 0; col < nx - 1; col++, i += 6) {
      const a = row * nx + col;
      indices.set([a, a + nx, a + 1, a + 1, a + nx, a + nx + 1], i);
    }
  }
  const land = new BufferGeometry();
  land.setAttribute("position", new BufferAttribute(positions, 3));
  land.setAttribute("uv", new BufferAttribute(uvs, 2));
  land.setIndex(new BufferAttribute(indices, 1));

  const floor = Math.min(low_m, sea_level_m) * unit * exaggeration - PLINTH;
  const rim: [number, number][] = [];
  for (let col = 0; col < nx; col++) rim.push([col, 0]);
  for (let row = 1; row < nz; row++) rim.push([nx - 1, row]);
  for (let col = nx - 2; col >= 0; col--) rim.push([col, nz - 1]);
  for (let row = nz - 2; row >= 0; row--) rim.push([0, row]);
  const walls = new Float32Array(rim.length * 6);
  rim.forEach(([col, row], i) => {
    const [x, z] = [xOf(col), zOf(row)];
    walls.set([x, heightAt(col, row), z, x, floor, z], 6 * i);
  });
  const wallIndices = rim.slice(1).flatMap((_, i) => {
    const a = 2 * i;
    return [a, a + 2, a + 1, a + 1, a + 2, a + 3];
  });
  const sides = new BufferGeometry();
  sides.setAttribute("position", new BufferAttribute(walls, 3));
  sides.setIndex(wallIndices);
  return { land, sides };
}
