import {
  BufferAttribute,
  BufferGeometry,
  DynamicDrawUsage,
  InterleavedBuffer,
  InterleavedBufferAttribute,
} from "three";
import { lastDrawn } from "../../live/sketch";
import type { Picture } from "../../live/picture";
import { patchShape, PATCH_VERTICES, VERTEX, type Ground } from "./patchShape";
import { morphEnds, PATCH, type Patch } from "./quadtree";

/** More patches than a camera sees, and than are kept for when it comes back. */
const MOST = 640;
const KEPT = 1500;

/** A patch, as the land was when it was made. */
interface Shape {
  vertices: Float32Array;
  drawn: number;
}

/** The patches that are seen, side by side in one geometry. */
export class PatchGeometry {
  readonly geometry = new BufferGeometry();
  private readonly vertices = new InterleavedBuffer(
    new Float32Array(MOST * PATCH_VERTICES * VERTEX),
    VERTEX,
  );
  private readonly morph: BufferAttribute;
  private readonly shapes = new Map<string, Shape>();
  private ground: Ground | null = null;
  private laid = "";

  constructor() {
    this.vertices.setUsage(DynamicDrawUsage);
    this.morph = new BufferAttribute(new Float32Array(MOST * PATCH_VERTICES * 2), 2);
    this.morph.setUsage(DynamicDrawUsage);
    const part = (size: number, offset: number) =>
      new InterleavedBufferAttribute(this.vertices, size, offset);
    this.geometry.setAttribute("position", part(3, 0));
    this.geometry.setAttribute("coarse", part(3, 3));
    this.geometry.setAttribute("shape", part(3, 6));
    this.geometry.setAttribute("morph", this.morph);
    this.geometry.setIndex(new BufferAttribute(squares(), 1));
  }

  /** Lays the patches that are seen into the geometry; `split` is what they were
   * chosen by. */
  set(ground: Ground, patches: Patch[], split: number) {
    const names = `${split} ${patches.map(nameOf).join()}`;
    // Most frames are of a camera that stands still.
    if (ground === this.ground && names === this.laid) return;
    if (ground !== this.ground && !isSketchedOn(ground, this.ground)) this.shapes.clear();
    [this.ground, this.laid] = [ground, names];
    const count = Math.min(MOST, patches.length);
    const morph = this.morph.array as Float32Array;
    patches.slice(0, count).forEach((patch, k) => {
      this.vertices.array.set(this.shape(ground, patch), k * PATCH_VERTICES * VERTEX);
      const [start, end] = morphEnds(patch.size, split);
      const first = 2 * k * PATCH_VERTICES;
      for (let i = first; i < first + 2 * PATCH_VERTICES; i += 2) {
        morph[i] = start;
        morph[i + 1] = end;
      }
    });
    this.vertices.clearUpdateRanges();
    this.vertices.addUpdateRange(0, count * PATCH_VERTICES * VERTEX);
    this.vertices.needsUpdate = true;
    this.morph.clearUpdateRanges();
    this.morph.addUpdateRange(0, count * PATCH_VERTICES * 2);
    this.morph.needsUpdate = true;
    this.geometry.setDrawRange(0, count * PATCH * PATCH * 6);
  }

  private shape(ground: Ground, patch: Patch): Float32Array {
    const name = nameOf(patch);
    const drawn = lastDrawn(ground.picture, ...cellsOf(ground.picture, patch));
    const known = this.shapes.get(name);
    if (known?.drawn === drawn) return known.vertices;
    if (this.shapes.size >= KEPT) this.shapes.clear();
    const vertices = patchShape(ground, patch);
    this.shapes.set(name, { vertices, drawn });
    return vertices;
  }
}

/** Whether a ground is the one before with strokes sketched on it. */
function isSketchedOn(ground: Ground, before: Ground | null): boolean {
  return (
    before !== null &&
    ground.picture.drawn !== null &&
    ground.picture.drawn === before.picture.drawn &&
    ground.exaggeration === before.exaggeration &&
    ground.floor === before.floor &&
    ground.covers === before.covers
  );
}

/** The first and the last cell that a patch looks at. */
function cellsOf({ header: { cols, rows } }: Picture, { x, z, size }: Patch): [Pair, Pair] {
  /** The surface between cells looks at two more, slopes and coarser patches at some more. */
  const AROUND = 4;
  const [col, row] = [(x + 0.5) * cols, z * cols + 0.5 * rows];
  return [
    [col - AROUND, row - AROUND],
    [col + size * cols + AROUND, row + size * cols + AROUND],
  ];
}

type Pair = [number, number];

function nameOf({ x, z, size }: Patch): string {
  return `${x} ${z} ${size}`;
}

/** Two triangles for each square of each patch. */
function squares(): Uint32Array {
  const side = PATCH + 1;
  const indices = new Uint32Array(MOST * PATCH * PATCH * 6);
  for (let k = 0, i = 0; k < MOST; k++) {
    for (let row = 0; row < PATCH; row++) {
      for (let col = 0; col < PATCH; col++, i += 6) {
        const a = k * PATCH_VERTICES + row * side + col;
        indices.set([a, a + side, a + 1, a + 1, a + side, a + side + 1], i);
      }
    }
  }
  return indices;
}
