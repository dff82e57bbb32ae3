import type { Picture } from "../live/picture";

/** Cells along the longer side over which lines are drawn as they are
 * measured; over more cells they are as many times as large. */
const MEASURED = 512;

/** How many times as large lines are drawn. */
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
