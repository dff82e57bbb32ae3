import type { Picture } from "./picture";

/** Numbers that each cell has in a plane. */
const PLANES = {
  heights: 1,
  slope: 1,
  ground: 1,
  second: 1,
  secondShare: 1,
  colour: 3,
  sunlit: 1,
  mask: 1,
} as const;

/** Lays `width` numbers a row of one plane into another, at a row and a column of it. */
function lay(
  into: Picture["heights"] | Uint8Array,
  part: Picture["heights"] | Uint8Array,
  { width, across, first }: { width: number; across: number; first: number },
) {
  for (let from = 0, to = first; from < part.length; from += width, to += across) {
    into.set(part.subarray(from, from + width), to);
  }
}

/** A picture on which strokes are sketched; it is nobody else's. */
interface Sheet {
  of: Picture;
  picture: Picture;
  count: number;
}

let sheet: Sheet | null = null;

function sheetOf(whole: Picture): Sheet {
  if (sheet?.of === whole) return sheet;
  const { cols, rows, block } = whole.header;
  const copy = <P extends Float32Array | Uint8Array | null>(plane: P) =>
    (plane?.slice() ?? null) as P;
  sheet = {
    of: whole,
    count: 0,
    picture: {
      ...whole,
      heights: copy(whole.heights),
      bounds: copy(whole.bounds),
      slope: copy(whole.slope),
      ground: copy(whole.ground),
      second: copy(whole.second),
      secondShare: copy(whole.secondShare),
      colour: copy(whole.colour),
      sunlit: copy(whole.sunlit),
      mask: copy(whole.mask),
      drawn: new Uint32Array(Math.ceil(cols / block) * Math.ceil(rows / block)),
    },
  };
  return sheet;
}

/** The whole picture with a part of it drawn anew, and with all parts of it before; null when
 * it is not a part of this one. */
export function withPart(whole: Picture, part: Picture): Picture | null {
  const { part: place, cols, rows, block } = part.header;
  if (!place || cols !== whole.header.cols || rows !== whole.header.rows) return null;
  const on = sheetOf(whole);
  const { picture } = on;
  for (const [name, numbers] of Object.entries(PLANES) as [keyof typeof PLANES, number][]) {
    const [into, from] = [picture[name], part[name]];
    const width = numbers * place.cols;
    const first = numbers * (place.row * cols + place.col);
    if (into && from) lay(into, from, { width, across: numbers * cols, first });
  }
  const across = Math.ceil(cols / block);
  const [left, top] = [place.col / block, place.row / block];
  const [wide, high] = [Math.ceil(place.cols / block), Math.ceil(place.rows / block)];
  const first = 2 * (top * across + left);
  lay(picture.bounds, part.bounds, { width: 2 * wide, across: 2 * across, first });
  on.count += 1;
  for (let row = top; row < top + high; row++) {
    picture.drawn?.fill(on.count, row * across + left, row * across + left + wide);
  }
  on.picture = { ...picture, header: part.header };
  return on.picture;
}

/** When some cell in a part of the picture was drawn last; 0 when not since it came. */
export function lastDrawn(
  { drawn, header }: Picture,
  [left, top]: [number, number],
  [right, bottom]: [number, number],
): number {
  if (!drawn) return 0;
  const { cols, rows, block } = header;
  const [across, down] = [Math.ceil(cols / block), Math.ceil(rows / block)];
  const inside = (cell: number, most: number) =>
    Math.min(most - 1, Math.max(0, Math.floor(cell / block)));
  let last = 0;
  for (let row = inside(top, down); row <= inside(bottom, down); row++) {
    for (let col = inside(left, across); col <= inside(right, across); col++) {
      last = Math.max(last, drawn[row * across + col] ?? 0);
    }
  }
  return last;
}
