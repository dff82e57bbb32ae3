import type { Picture } from "../live/picture";

/** Stripes of the hatch: their distance and width, in cells. */
const PITCH = 10;
const WIDTH = 3.5;

/** Cells along the longer side over which lines and stripes are drawn as they are
 * measured; over more cells they are as many times as large. */
const MEASURED = 512;

/** How many times as large lines and stripes are drawn. */
export function markSize({ header: { cols, rows } }: Picture): number {
  return Math.max(1, Math.max(cols, rows) / MEASURED);
}

/** Draws a picture's colours, `scale` by `scale` pixels a cell. */
export function paintLand(canvas: HTMLCanvasElement, picture: Picture, scale = 1) {
  const { cols, rows } = picture.header;
  canvas.width = cols * scale;
  canvas.height = rows * scale;
  const context = canvas.getContext("2d");
  if (!context) return;
  const image = context.createImageData(cols, rows);
  const { colour } = picture;
  for (let cell = 0, i = 0, j = 0; cell < cols * rows; cell++) {
    image.data[i++] = colour[j++] ?? 0;
    image.data[i++] = colour[j++] ?? 0;
    image.data[i++] = colour[j++] ?? 0;
    image.data[i++] = 255;
  }
  put(context, image, scale);
}

/** Puts an image of cells on a canvas whose pixels are `scale` to a cell. */
function put(context: CanvasRenderingContext2D, image: ImageData, scale: number) {
  if (scale === 1) {
    context.putImageData(image, 0, 0);
    return;
  }
  const cells = document.createElement("canvas");
  cells.width = image.width;
  cells.height = image.height;
  cells.getContext("2d")?.putImageData(image, 0, 0);
  context.drawImage(cells, 0, 0, image.width * scale, image.height * scale);
}

/**
 * Draws the watched mask as diagonal stripes over a painted land. Stripes and
 * not a tint: they cannot be taken for ground, whatever one's eyes.
 */
export function hatchMask(canvas: HTMLCanvasElement, picture: Picture, phase: number, scale = 1) {
  const context = canvas.getContext("2d");
  const { mask } = picture;
  if (!context || !mask) return;
  const { cols, rows } = picture.header;
  const accent = accentColour();
  const size = markSize(picture);
  const image = context.createImageData(cols, rows);
  for (let row = 0; row < rows; row++) {
    for (let col = 0; col < cols; col++) {
      const cell = row * cols + col;
      const share = mask[cell] ?? 0;
      if (share <= 5 || ((col + row) / size + phase) % PITCH >= WIDTH) continue;
      for (let channel = 0; channel < 3; channel++) {
        image.data[4 * cell + channel] = accent[channel] ?? 0;
      }
      image.data[4 * cell + 3] = share;
    }
  }
  const stripes = document.createElement("canvas");
  stripes.width = cols;
  stripes.height = rows;
  stripes.getContext("2d")?.putImageData(image, 0, 0);
  context.drawImage(stripes, 0, 0, cols * scale, rows * scale);
}

/** The theme's accent colour as sRGB bytes. */
function accentColour(): number[] {
  const probe = document.createElement("canvas").getContext("2d", { willReadFrequently: true });
  if (!probe) return [200, 60, 30];
  const style = getComputedStyle(document.documentElement);
  probe.fillStyle = style.getPropertyValue("--color-accent").trim() || "#b23a1c";
  probe.fillRect(0, 0, 1, 1);
  return [...probe.getImageData(0, 0, 1, 1).data];
}
