import { OrbitControls } from "@react-three/drei";
import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import type { OrbitControls as Controls } from "three-stdlib";
import type { Picture } from "../../live/picture";
import { changeView, useView } from "../../studio/view";
import { useTakesDrags } from "../../tools/handlers";
import { nearPlace, wholeLand } from "../framing";

/** A camera above the land that all views of it share, and that is kept. */
export function FlyControls({ picture }: { picture: Picture }) {
  const controls = useRef<Controls>(null);
  // What is framed when it is asked for is the land as it is shown then.
  const shown = useRef({ picture, aspect: 1 });
  const aspect = useThree((state) => state.size.width / state.size.height);
  useEffect(() => {
    shown.current = { picture, aspect };
  }, [picture, aspect]);
  const held = useTakesDrags();
  const invalidate = useThree((state) => state.invalidate);
  // Another camera has controls of its own, which know nothing yet.
  const lens = useThree((state) => state.camera);
  useEffect(() => {
    const framed = (wanted: "land" | "place") => {
      const { exaggeration, lens_mm, pointer, core, camera } = useView.getState();
      const { picture, aspect } = shown.current;
      const place = wanted === "place" ? (pointer ?? core) : null;
      return place
        ? nearPlace(picture, exaggeration, place, camera)
        : wholeLand(picture, exaggeration, aspect, lens_mm);
    };
    const apply = (pose: number[]) => {
      const mine = controls.current;
      if (!mine) return;
      const [x, y, z, tx, ty, tz] = pose;
      mine.object.position.set(x ?? 0, y ?? 0, z ?? 0);
      mine.target.set(tx ?? 0, ty ?? 0, tz ?? 0);
      mine.update();
      invalidate();
    };
    const frame = (wanted: "land" | "place") => {
      // First, for moving the camera is heard below.
      changeView({ framing: null });
      apply(framed(wanted));
    };
    const { camera, framing } = useView.getState();
    if (framing || !camera) frame(framing ?? "land");
    else apply(camera);
    return useView.subscribe((state, before) => {
      if (state.framing) frame(state.framing);
      else if (state.camera !== before.camera && !same(poseOf(controls.current), state.camera)) {
        if (state.camera) apply(state.camera);
        else frame("land");
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
      maxDistance={6}
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
