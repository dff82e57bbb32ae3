import { OrbitControls } from "@react-three/drei";
import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import type { OrbitControls as Controls } from "three-stdlib";
import { changeView, useView } from "../../studio/view";
import { useTakesDrags } from "../../tools/handlers";
import { FIRST_POSE } from "../pose";

/** A camera above the land that all views of it share, and that is kept. */
export function FlyControls() {
  const controls = useRef<Controls>(null);
  const held = useTakesDrags();
  const invalidate = useThree((state) => state.invalidate);
  // Another camera has controls of its own, which know nothing yet.
  const lens = useThree((state) => state.camera);
  useEffect(() => {
    const apply = (pose: number[] | null) => {
      const mine = controls.current;
      if (!mine) return;
      const [x, y, z, tx, ty, tz] = pose ?? FIRST_POSE;
      mine.object.position.set(x ?? 0, y ?? 0, z ?? 0);
      mine.target.set(tx ?? 0, ty ?? 0, tz ?? 0);
      mine.update();
      invalidate();
    };
    apply(useView.getState().camera);
    return useView.subscribe((state, before) => {
      if (state.camera !== before.camera && !same(poseOf(controls.current), state.camera)) {
        apply(state.camera);
      }
    });
  }, [lens, invalidate]);
  return (
    <OrbitControls
      ref={controls}
      makeDefault
      enableDamping={false}
      enabled={!held}
      minDistance={0.02}
      maxDistance={2.5}
      maxPolarAngle={Math.PI / 2 - 0.02}
      onChange={() => {
        const pose = poseOf(controls.current);
        if (pose && !same(pose, useView.getState().camera)) changeView({ camera: pose });
      }}
    />
  );
}

function poseOf(controls: Controls | null): number[] | null {
  return controls && [...controls.object.position.toArray(), ...controls.target.toArray()];
}

function same(a: number[] | null, b: number[] | null) {
  return a?.length === b?.length && (a ?? []).every((v, i) => Math.abs(v - (b?.[i] ?? 0)) < 1e-6);
}
