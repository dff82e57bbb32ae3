import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import type { Picture } from "../../live/picture";
import { changeView, useView } from "../../studio/view";
import { walked } from "../standing";
import { takesDrags } from "../../tools/handlers";

/** Metres of a step, and of one in a hurry. */
const STEP_M = 6;
const HURRY_M = 60;
/** Turn of a key press, radians. */
const TURN = 0.1;

type Move = Parameters<typeof walked>[3];

/** Walking with the arrow keys, and looking around by dragging. */
export function WalkControls({ picture }: { picture: Picture }) {
  const canvas = useThree((state) => state.gl.domElement);
  const camera = useThree((state) => state.camera);
  const invalidate = useThree((state) => state.invalidate);
  const pose = useView((view) => view.camera);
  useEffect(() => {
    const [x = 0, y = 0, z = 0, tx = 0, ty = 0, tz = 0] = pose ?? [];
    camera.position.set(x, y, z);
    camera.lookAt(tx, ty, tz);
    invalidate();
  }, [pose, camera, invalidate]);
  // A finer picture has other ground: the eye stays above it.
  useEffect(() => {
    const { camera: from, exaggeration } = useView.getState();
    if (from) changeView({ camera: walked(picture, from, exaggeration, {}) });
  }, [picture]);
  useEffect(() => {
    const move = (by: Move) => {
      const { camera: from, exaggeration } = useView.getState();
      if (from) changeView({ camera: walked(picture, from, exaggeration, by) });
    };
    const onKey = (event: KeyboardEvent) => {
      const { target } = event;
      if (target instanceof HTMLElement && target.closest("input, select, textarea")) return;
      const step = event.shiftKey ? HURRY_M : STEP_M;
      const by: Record<string, Move> = {
        ArrowUp: { ahead: step },
        ArrowDown: { ahead: -step },
        ArrowLeft: { turn: -TURN },
        ArrowRight: { turn: TURN },
      };
      const wanted = by[event.key];
      if (!wanted) return;
      event.preventDefault();
      move(wanted);
    };
    const onDrag = (event: PointerEvent) => {
      if (event.buttons !== 1 || takesDrags()) return;
      const perPixel = 1.2 / canvas.clientHeight;
      move({ turn: -event.movementX * perPixel, raise: event.movementY * perPixel });
    };
    window.addEventListener("keydown", onKey);
    canvas.addEventListener("pointermove", onDrag);
    return () => {
      window.removeEventListener("keydown", onKey);
      canvas.removeEventListener("pointermove", onDrag);
    };
  }, [picture, canvas]);
  return null;
}
