import { BufferAttribute, BufferGeometry } from "three";
import type { Ground } from "./patchShape";

/** Points along each side of the land at most. */
const MOST = 512;
/** So far behind the cut sides of the patches, cells. */
const INSET = 0.4;

/**
 * A curtain of rock just behind the cut sides, which hang down from patches of
 * different levels: where these leave a crack it shows through, and not the sky.
 * Nowhere is it higher than the land.
 */
export function cutSides({ picture, exaggeration, floor }: Ground): BufferGeometry {
  const { cols, rows, cell_m, sea_level_m } = picture.header;
  const scale = exaggeration / (cols * cell_m);
  const positions: number[] = [];
  const indices: number[] = [];
  const side = (length: number, cellAt: (i: number) => [number, number]) => {
    const stride = Math.ceil(length / MOST);
    const heightAt = (i: number) => {
      const [col, row] = cellAt(Math.min(length - 1, Math.max(0, i)));
      return Math.max(picture.heights[row * cols + col] ?? 0, sea_level_m);
    };
    for (let i = 0; i < length - 1 + stride; i += stride) {
      const at = Math.min(i, length - 1);
      let low = Infinity;
      for (let k = at - stride; k <= at + stride; k++) low = Math.min(low, heightAt(k));
      const [col, row] = cellAt(at);
      const x = (inset(col, cols) + 0.5) / cols - 0.5;
      const z = (inset(row, rows) + 0.5 - rows / 2) / cols;
      const top = positions.length / 3;
      positions.push(x, low * scale, z, x, floor, z);
      if (i > 0) indices.push(top - 2, top - 1, top, top, top - 1, top + 1);
    }
  };
  side(cols, (i) => [i, 0]);
  side(cols, (i) => [i, rows - 1]);
  side(rows, (i) => [0, i]);
  side(rows, (i) => [cols - 1, i]);
  const count = positions.length / 3;
  // The shaders take it for a patch that never turns into a coarser one.
  const place = new BufferAttribute(new Float32Array(positions), 3);
  const each = (...values: number[]) =>
    new BufferAttribute(
      Float32Array.from(
        { length: count * values.length },
        (_, i) => values[i % values.length] ?? 0,
      ),
      values.length,
    );
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", place);
  geometry.setAttribute("coarse", place);
  geometry.setAttribute("shape", each(0, 0, 1));
  geometry.setAttribute("morph", each(1e3, 2e3));
  geometry.setIndex(indices);
  return geometry;
}

/** A cell of the border, moved a little towards the middle. */
function inset(cell: number, cells: number): number {
  return Math.min(cells - 1 - INSET, Math.max(INSET, cell));
}
