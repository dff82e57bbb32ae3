import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import { pixelsFor, qualityFor, REST_MS, tookFrame, type Quality } from "./quality";

/** How often it is looked whether a frame is drawn, milliseconds. */
const POLL_MS = 8;

/**
 * Draws the frames: coarsely while they follow each other if fine ones take too
 * long, and once more in full when nothing has changed for a while.
 */
export function QualityKeeper({ onQuality }: { onQuality: (quality: Quality) => void }) {
  const invalidate = useThree((state) => state.invalidate);
  const setDpr = useThree((state) => state.setDpr);
  const resting = useRef(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);
  useFrame(({ gl, scene, camera, viewport }) => {
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
    onQuality(quality);
    gl.render(scene, camera);
    const context = gl.getContext() as WebGL2RenderingContext;
    clearTimeout(timer.current);
    whenDrawn(context, () => {
      const ms = performance.now() - start;
      if (pixels === 1) tookFrame(quality, ms);
      gl.domElement.dataset.frame = `${quality} ${ms.toFixed(0)}`;
      // A finer one when nothing has changed for a while.
      if (qualityFor(true) <= quality && pixels === 1) return;
      clearTimeout(timer.current);
      timer.current = setTimeout(() => {
        resting.current = true;
        invalidate();
      }, REST_MS);
    });
  }, 1);
  return null;
}

/** Calls `then` once all that was ordered so far is drawn, without waiting. */
function whenDrawn(context: WebGL2RenderingContext, then: () => void) {
  const fence = context.fenceSync(context.SYNC_GPU_COMMANDS_COMPLETE, 0);
  if (!fence) return;
  context.flush();
  const look = () => {
    if (context.getSyncParameter(fence, context.SYNC_STATUS) !== context.SIGNALED) {
      setTimeout(look, POLL_MS);
      return;
    }
    context.deleteSync(fence);
    then();
  };
  setTimeout(look, POLL_MS);
}
