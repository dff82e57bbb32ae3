import {
  CanvasTexture,
  ClampToEdgeWrapping,
  DataTexture,
  FloatType,
  LinearFilter,
  LinearMipmapNearestFilter,
  NearestFilter,
  NoColorSpace,
  RedFormat,
  RGBAIntegerFormat,
  UnsignedByteType,
} from "three";
import type { Picture } from "../../live/picture";

/** What a picture says of each cell, for the shaders. */
export function pictureTextures(picture: Picture) {
  const { cols, rows } = picture.header;
  const heights = new DataTexture(picture.heights, cols, rows, RedFormat, FloatType);
  heights.magFilter = heights.minFilter = NearestFilter;
  const covers = new Uint8Array(4 * cols * rows);
  for (let i = 0; i < cols * rows; i++) {
    covers[4 * i] = picture.ground[i] ?? 0;
    covers[4 * i + 1] = picture.second[i] ?? 0;
    covers[4 * i + 2] = picture.secondShare[i] ?? 0;
  }
  const ground = new DataTexture(covers, cols, rows, RGBAIntegerFormat, UnsignedByteType);
  ground.internalFormat = "RGBA8UI";
  ground.magFilter = ground.minFilter = NearestFilter;
  const sunlit = new DataTexture(picture.sunlit, cols, rows, RedFormat, UnsignedByteType);
  sunlit.magFilter = sunlit.minFilter = LinearFilter;
  // One cell of nothing where no mask is watched.
  const mask = picture.mask
    ? new DataTexture(picture.mask, cols, rows, RedFormat, UnsignedByteType)
    : new DataTexture(new Uint8Array(1), 1, 1, RedFormat, UnsignedByteType);
  mask.magFilter = mask.minFilter = NearestFilter;
  for (const texture of [heights, ground, sunlit, mask]) {
    texture.wrapS = texture.wrapT = ClampToEdgeWrapping;
    // Rows of bytes are not padded.
    texture.unpackAlignment = texture === heights ? 4 : 1;
    texture.needsUpdate = true;
  }
  return { heights, ground, sunlit, mask };
}

/** What is painted of a picture, for the shaders; named for its size, which a
 * texture cannot change. */
export function colourMap(canvas: HTMLCanvasElement, name: string) {
  const texture = new CanvasTexture(canvas);
  texture.name = name;
  // The shader decodes it, and not where it is in a hurry.
  texture.colorSpace = NoColorSpace;
  texture.minFilter = LinearMipmapNearestFilter;
  // Land that one looks along stays sharp.
  texture.anisotropy = 8;
  texture.generateMipmaps = true;
  return texture;
}
