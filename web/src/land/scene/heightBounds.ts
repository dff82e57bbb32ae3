import { sizeOf, type Picture } from "../../live/picture";

/** How low and high the land is in any part of it, in widths of the land. */
export interface HeightBounds {
  width_m: number;
  /** From north to south. */
  depth: number;
  highest: number;
  range: (x: number, z: number, size: number) => [number, number];
}

/** Bounds of the land, or of the sea on it, for drawing it; what covers add to its
 * form takes it up or down by `lift_m` at most. */
export function heightBounds(picture: Picture, exaggeration: number, lift_m: number): HeightBounds {
  const { cols, rows, sea_level_m, block } = picture.header;
  const { width, depth } = sizeOf(picture);
  const scale = exaggeration / width;
  const across = Math.ceil(cols / block);
  const down = Math.ceil(rows / block);
  const shown = (height: number | undefined) => Math.max(height ?? 0, sea_level_m) * scale;
  const heightAt = (row: number, col: number) => shown(picture.heights[row * cols + col]);
  const lowAt = (row: number, col: number) => shown(picture.bounds[2 * (row * across + col)]);
  const highAt = (row: number, col: number) => shown(picture.bounds[2 * (row * across + col) + 1]);
  const lift = lift_m * scale;
  const clamp = (v: number, high: number) => Math.min(high, Math.max(0, v));
  /** Of parts smaller than a block the cells themselves, and those that the surface
   * between them depends on. */
  const close = (x: number, z: number, size: number): [number, number] => {
    const [left, right] = [(x + 0.5) * cols - 2.5, (x + 0.5 + size) * cols + 1.5];
    const south = z + depth / width / 2;
    const [top, bottom] = [south * cols - 2.5, (south + size) * cols + 1.5];
    let [low, high] = [Infinity, -Infinity];
    for (let r = clamp(Math.floor(top), rows - 1); r <= clamp(Math.ceil(bottom), rows - 1); r++) {
      for (let c = clamp(Math.floor(left), cols - 1); c <= clamp(Math.ceil(right), cols - 1); c++) {
        const height = heightAt(r, c);
        low = Math.min(low, height);
        high = Math.max(high, height);
      }
    }
    return [low - lift, high + lift];
  };
  return {
    width_m: width,
    depth: depth / width,
    highest: shown(picture.header.high_m) + lift,
    range(x, z, size) {
      if (size * cols <= block) return close(x, z, size);
      // A block more on each side: between cells the surface swings a little.
      const first = (v: number) => Math.floor((v * cols) / block) - 1;
      const [left, right] = [first(x + 0.5), first(x + 0.5 + size) + 2];
      const [top, bottom] = [first(z + depth / width / 2), first(z + depth / width / 2 + size) + 2];
      let [low, high] = [Infinity, -Infinity];
      for (let r = clamp(top, down - 1); r <= clamp(bottom, down - 1); r++) {
        for (let c = clamp(left, across - 1); c <= clamp(right, across - 1); c++) {
          low = Math.min(low, lowAt(r, c));
          high = Math.max(high, highAt(r, c));
        }
      }
      return [low - lift, high + lift];
    },
  };
}
