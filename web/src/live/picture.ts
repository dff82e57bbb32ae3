import type { PictureHeader } from "../api/types";

/** One look at the land, as the service painted it. */
export interface Picture {
  header: PictureHeader;
  heights: Float32Array;
  /** The lowest and the highest height of each block of cells. */
  bounds: Float32Array;
  slope: Uint8Array;
  /** The strongest cover, the next one, and what that has of both. */
  ground: Uint8Array;
  second: Uint8Array;
  secondShare: Uint8Array;
  colour: Uint8Array;
  /** Light of the sun: 255 is straight on. */
  sunlit: Uint8Array;
  mask: Uint8Array | null;
  /** Colours of the change since this moment, if it is one to compare with. */
  difference: Uint8Array | null;
  /** While strokes are sketched on it: when each block of cells was drawn last, counted
   * from the first sketch. The planes are then drawn over, and not made anew. */
  drawn: Uint32Array | null;
}

/** A picture in words, for those who do not see it. */
export function described(picture: Picture): string {
  const { low_m, high_m, sea_level_m } = picture.header;
  const { width, depth } = sizeOf(picture);
  const km = (metres: number) => `${Number((metres / 1000).toPrecision(3))} km`;
  const round = (metres: number) => `${Math.round(metres)} m`;
  const sea = low_m < sea_level_m ? ` and a sea at ${round(sea_level_m)}` : "";
  return `Land of ${km(width)} by ${km(depth)}, from ${round(low_m)} to ${round(high_m)} high${sea}`;
}

/** Reads a binary message: length, JSON header, planes. */
export function decodePicture(message: ArrayBuffer): Picture {
  const length = new DataView(message).getUint32(0, true);
  const text = new TextDecoder().decode(new Uint8Array(message, 4, length));
  const header = JSON.parse(text) as PictureHeader;
  const start = Math.ceil((4 + length) / 4) * 4;
  const plane = (name: string) => {
    const place = header.planes.find((plane) => plane.name === name);
    return place ? new Uint8Array(message, start + place.offset, place.bytes) : null;
  };
  const bytes = (name: string) => plane(name) ?? new Uint8Array(0);
  const metres = (name: string) => {
    const { byteOffset, byteLength } = bytes(name);
    return new Float32Array(message, byteOffset, byteLength / 4);
  };
  return {
    header,
    heights: metres("heights"),
    bounds: metres("bounds"),
    slope: bytes("slope"),
    ground: bytes("ground"),
    second: bytes("second"),
    secondShare: bytes("second_share"),
    colour: bytes("colour"),
    sunlit: bytes("sunlit"),
    mask: plane("mask"),
    difference: plane("difference"),
    drawn: null,
  };
}

/** Size of the land that a picture shows, metres. */
export function sizeOf({ header }: Picture) {
  return { width: header.cols * header.cell_m, depth: header.rows * header.cell_m };
}

/** What a picture shows at a place, or null beyond its edge. */
export function readAt(picture: Picture, x: number, y: number) {
  const { cols, rows, cell_m, north_m, covers } = picture.header;
  const col = Math.floor(x / cell_m);
  const row = Math.floor((north_m - y) / cell_m);
  if (col < 0 || row < 0 || col >= cols || row >= rows) return null;
  const cell = row * cols + col;
  return {
    height: picture.heights[cell] ?? 0,
    slope: (picture.slope[cell] ?? 0) / 2,
    cover: covers[picture.ground[cell] ?? 0]?.id ?? null,
    mask: picture.mask ? (picture.mask[cell] ?? 0) / 255 : null,
  };
}
