import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import type { Camera } from "three";
import {
  FULL,
  pixelsFor,
  qualityFor,
  REST_MS,
  SETTLED_MS,
  tookFrame,
  type Quality,
} from "./quality";
import { drawInPieces, type Piece } from "./pieces";
import { whenDrawn } from "./whenDrawn";

interface Props {
  /** Readies the scene for a frame of a quality, so many pixels high, or for a
   * piece of it. */
  ready: (quality: Quality, camera: Camera, height: number, piece?: Piece) => void;
}

/**
 * Draws the frames: coarsely while they follow each other if fine ones take too
 * long, once more finely when nothing has changed for a while, and where even
 * that is not everything, the rest of the quality piece by piece.
 */
export function QualityKeeper({ ready }: Props) {
  const invalidate = useThree((state) => state.invalidate);
  const setDpr = useThree((state) => state.setDpr);
  const resting = useRef(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const stopPieces = useRef<() => void>(undefined);
  useEffect(
    () => () => {
      clearTimeout(timer.current);
      stopPieces.current?.();
    },
    [],
  );
  useFrame(({ gl, scene, camera, viewport, size }) => {
    clearTimeout(timer.current);
    stopPieces.current?.();
    const start = performance.now();
    const atRest = resting.current;
    const pixels = pixelsFor(atRest);
    if (viewport.dpr !== pixels) {
      // The frame comes again in its new size.
      setDpr(pixels);
      return;
    }
    resting.current = false;
    const quality = qualityFor(atRest);
    ready(quality, camera, size.height);
    gl.render(scene, camera);
    let newer = false;
    stopPieces.current = () => {
      newer = true;
    };
    whenDrawn(gl.getContext() as WebGL2RenderingContext, () => {
      const ms = performance.now() - start;
      if (pixels === 1) tookFrame(quality, ms);
      gl.domElement.dataset.frame = `${quality} ${ms.toFixed(0)}`;
      if (newer || (quality === FULL && pixels === 1)) return;
      if (qualityFor(true) > quality || pixels !== 1) {
        timer.current = setTimeout(() => {
          resting.current = true;
          invalidate();
        }, REST_MS);
        return;
      }
      timer.current = setTimeout(() => {
        stopPieces.current = drawInPieces(gl, scene, camera, {
          begin: (piece) => ready(FULL, camera, size.height, piece),
          done: (took) => {
            tookFrame(FULL, took);
            gl.domElement.dataset.frame = `${FULL} ${took.toFixed(0)}`;
          },
        });
      }, SETTLED_MS);
    });
  }, 1);
  return null;
}
