import { Matrix4, type Camera, type Scene, type WebGLRenderer } from "three";
import { whenDrawn } from "./whenDrawn";

/** Size of a piece, pixels: small enough that whoever drags the land does not wait
 * long for one. */
const WIDE = 256;
const HIGH = 128;

/** A piece of the screen, from its left and upper edge as shares of both. */
export interface Piece {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

export const WHOLE: Piece = { left: 0, right: 1, top: 0, bottom: 1 };

/** Takes a projection to that of a piece alone: what it does not see needs not be
 * drawn. */
export function within({ left, right, top, bottom }: Piece): Matrix4 {
  const [across, down] = [1 / (right - left), 1 / (bottom - top)];
  // The screen goes from −1 at its left to 1, and from 1 at its top to −1.
  const east = -across * (left + right - 1);
  const up = -down * (1 - top - bottom);
  return new Matrix4().set(across, 0, 0, east, 0, down, 0, up, 0, 0, 1, 0, 0, 0, 0, 1);
}

/** All pieces of a screen, row by row from its top. */
function piecesOf(width: number, height: number): Piece[] {
  const [cols, rows] = [Math.ceil(width / WIDE), Math.ceil(height / HIGH)];
  return Array.from({ length: cols * rows }, (_, i) => {
    const [c, r] = [i % cols, Math.floor(i / cols)];
    return { left: c / cols, right: (c + 1) / cols, top: r / rows, bottom: (r + 1) / rows };
  });
}

/**
 * Draws a frame over the one that is there, piece by piece, so that one which
 * takes seconds never holds up the page. `begin` is called before each piece,
 * `done` with the milliseconds that all of them took. Returns how to stop it.
 */
export function drawInPieces(
  gl: WebGLRenderer,
  scene: Scene,
  camera: Camera,
  { begin, done }: { begin: (piece: Piece) => void; done: (ms: number) => void },
): () => void {
  let stopped = false;
  const started = performance.now();
  const context = gl.getContext() as WebGL2RenderingContext;
  const height = gl.domElement.height / gl.getPixelRatio();
  const width = gl.domElement.width / gl.getPixelRatio();
  const pieces = piecesOf(width, height);
  const next = () => {
    if (stopped) return;
    const piece = pieces.shift();
    if (!piece) {
      done(performance.now() - started);
      return;
    }
    begin(piece);
    // Whole pixels, counted from the lower edge.
    const [x, right] = [Math.floor(piece.left * width), Math.ceil(piece.right * width)];
    const [top, bottom] = [Math.floor(piece.top * height), Math.ceil(piece.bottom * height)];
    gl.setScissor(x, height - bottom, right - x, bottom - top);
    gl.setScissorTest(true);
    gl.render(scene, camera);
    gl.setScissorTest(false);
    whenDrawn(context, next);
  };
  next();
  return () => {
    stopped = true;
  };
}
